"""Corners and middle of the mouth by looks of their own: how far they move, also in a mirror."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy.landmarks import CORNER_IDS
from sulvet.core.anatomy.marks import Floats
from sulvet.core.dataset.people import random_person
from sulvet.core.dataset.points import true_points
from sulvet.core.simulate.body import body
from sulvet.core.simulate.camera import Camera, into_room
from sulvet.core.simulate.equipment import equipment
from sulvet.core.simulate.mouth import stomion
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.shade import render
from sulvet.core.simulate.skull import skull
from sulvet.core.video.clip import Image
from sulvet.core.video.closer_look import Spot, fine_corner, fine_lips
from sulvet.core.video.landmark_network import find
from sulvet.core.video.network_points import LIPS, POINTS

#: Somebody of whom no training drew anything.
PERSON = random_person(np.random.default_rng(5_900_004))


def pictured(person: Person, pose: Pose, instrument: str) -> tuple[Image, Floats]:
    """A close-up from the front, and (2, 2) where its corners truly are, pixels."""
    held = equipment(instrument, person, skull(person)) if instrument else None
    shown = body(person, pose, held)
    camera = Camera((480, 480), 500, 14.0, (0.0, float(stomion(person)), 0.0), 4.0)
    points = true_points(shown, held)
    room = into_room(np.array([points[name] for name in CORNER_IDS]), pose)
    return render(shown, camera), camera.project(room)[:, :2]


def lips_from_side(pose: Pose, instrument: str) -> tuple[Image, dict[str, Spot], float]:
    """A close-up from the side, where the middle of its lips truly is, and the mouth's width."""
    held = equipment(instrument, PERSON, skull(PERSON)) if instrument else None
    shown = body(PERSON, pose, held)
    camera = Camera((480, 480), 500, 14.0, (0.0, float(stomion(PERSON)), 10.0), 88.0)
    points = true_points(shown, held)
    names = [name for name in LIPS if name in points]
    xy = camera.project(into_room(np.array([points[name] for name in names]), pose))[:, :2]
    unit = camera.focal / camera.distance * 2 * PERSON.mouth
    spots = {name: Spot(at, 0.0, 1.0) for name, at in zip(names, xy, strict=True)}
    return render(shown, camera), spots, unit


class CornerTests(SimpleTestCase):
    def test_corners_are_seen_to_move_as_far_as_they_do(self) -> None:
        for instrument in ("", "clarinet"):
            now = Pose(jaw_drop=2.0)
            seen, truth = [], []
            for pose in (now, replace(now, rise_r=7.0, rise_l=7.0, width=1.08)):
                picture, corners = pictured(PERSON, pose, instrument)
                found = find(picture)[0]
                seen.append([found.xy[POINTS.index(name)] for name in CORNER_IDS])
                truth.append(corners)
            moved, really = np.diff(seen, axis=0), np.diff(truth, axis=0)
            share = float((moved * really).sum() / (really**2).sum())
            self.assertTrue(0.75 < share < 1.25, f"{instrument or 'bare'}: {share:.2f}")

    def test_in_a_mirror_it_is_the_other_corner(self) -> None:
        picture, corners = pictured(PERSON, Pose(), "")
        width = picture.shape[1]
        unit = float(np.linalg.norm(corners[1] - corners[0]))
        at = corners[0] + 0.04 * unit
        mirrored = np.ascontiguousarray(picture[:, ::-1])
        second = Spot(at, 0.05 * unit, 0.9)
        found = fine_corner(picture, "ch_r", second, unit, 3.0)
        turned = replace(second, at=at * (-1, 1) + (width - 1, 0))
        again = fine_corner(mirrored, "ch_l", turned, unit, -3.0)
        np.testing.assert_allclose(again.at * (-1, 1) + (width - 1, 0), found.at, atol=0.01 * unit)
        self.assertAlmostEqual(again.sigma / found.sigma, 1.0, delta=0.1)

    def test_a_look_that_disagrees_is_not_believed_and_makes_the_other_less_sure(self) -> None:
        picture, corners = pictured(PERSON, Pose(), "")
        unit = float(np.linalg.norm(corners[1] - corners[0]))
        aside = Spot(corners[0] - (0.2 * unit, 0.0), 0.02 * unit, 0.9)
        found = fine_corner(picture, "ch_r", aside, unit, 0.0)
        np.testing.assert_array_equal(found.at, aside.at)
        self.assertGreater(found.sigma, 0.08 * unit)

    def test_a_look_that_knows_nothing_there_does_not_count(self) -> None:
        grey = np.full((200, 200, 3), 128, np.uint8)
        second = Spot(np.array([100.0, 100.0]), 6.0, 0.9)
        self.assertIs(fine_corner(grey, "ch_r", second, 100.0, 0.0), second)


class LipsTests(SimpleTestCase):
    def looks(self, instrument: str) -> list[tuple[dict[str, Spot], dict[str, Spot]]]:
        """What is found of a lower lip rolled in and out, and the truth; the second network sees
        no difference between the two."""
        _, same, unit = lips_from_side(Pose(jaw_drop=2.0), instrument)
        second = {
            name: Spot(same.get(name, same["ls"]).at + 0.02 * unit, 0.06 * unit, 0.9)
            for name in LIPS
        }
        out = []
        for red in (0.5, 1.5):
            picture, lips, _ = lips_from_side(Pose(jaw_drop=2.0, lower_red=red), instrument)
            out.append((fine_lips(picture, second, unit, 0.0), lips))
        return out

    def test_a_bare_lower_lip_from_the_side_is_seen_to_move_as_far_as_it_does(self) -> None:
        red = [
            [float(np.linalg.norm(lip["li"].at - lip["sto_i"].at)) for lip in pair]
            for pair in self.looks("")
        ]
        moved, really = np.diff(red, axis=0)[0]
        self.assertTrue(0.6 < moved / really < 1.4, f"{moved:.1f}, {really:.1f}")

    def test_beside_a_mouthpiece_it_is_where_it_is_claimed_to_be(self) -> None:
        for found, lips in self.looks("clarinet"):
            for name in ("li", "sto_i"):
                off = float(np.linalg.norm(found[name].at - lips[name].at))
                self.assertLess(off, 3 * found[name].sigma, name)
