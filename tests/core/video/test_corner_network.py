"""Corners of the mouth by a look of their own: how far they move, and the same in a mirror."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

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
from sulvet.core.video.corner_network import fine_corner
from sulvet.core.video.landmark_network import find
from sulvet.core.video.network_points import POINTS

#: Somebody of whom no training drew anything.
PERSON = random_person(np.random.default_rng(5_900_004))
CORNERS = ("ch_r", "ch_l")


def pictured(person: Person, pose: Pose, instrument: str) -> tuple[Image, Floats]:
    """A close-up from the front, and (2, 2) where its corners truly are, pixels."""
    held = equipment(instrument, person, skull(person)) if instrument else None
    shown = body(person, pose, held)
    camera = Camera((480, 480), 500, 14.0, (0.0, float(stomion(person)), 0.0), 4.0)
    points = true_points(shown, held)
    room = into_room(np.array([points[name] for name in CORNERS]), pose)
    return render(shown, camera), camera.project(room)[:, :2]


class CornerTests(SimpleTestCase):
    def test_corners_are_seen_to_move_as_far_as_they_do(self) -> None:
        for instrument in ("", "clarinet"):
            now = Pose(jaw_drop=2.0)
            seen, truth = [], []
            for pose in (now, replace(now, rise_r=7.0, rise_l=7.0, width=1.08)):
                picture, corners = pictured(PERSON, pose, instrument)
                found = find(picture)[0]
                seen.append([found.xy[POINTS.index(name)] for name in CORNERS])
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
        place, sigma, seen = fine_corner(picture, "ch_r", at, unit, 3.0)
        again = fine_corner(mirrored, "ch_l", at * (-1, 1) + (width - 1, 0), unit, -3.0)
        np.testing.assert_allclose(again[0] * (-1, 1) + (width - 1, 0), place, atol=0.02 * unit)
        np.testing.assert_allclose(again[1:], (sigma, seen), rtol=0.1)
