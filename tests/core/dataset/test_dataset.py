"""Drawn pictures: their truth is that of the made-up head, the same number gives the same."""

from __future__ import annotations

import tempfile
from functools import cache
from pathlib import Path

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.dataset.draw import corner_sample, draw, lips_sample
from sulvet.core.dataset.people import TONES, random_person, tone_of
from sulvet.core.dataset.samples import Sample, arrays, read
from sulvet.core.dataset.scenes import Scene, random_scene
from sulvet.core.dataset.shards import CLOSER_TEXEL_MM
from sulvet.core.simulate.camera import into_room
from sulvet.core.simulate.equipment import Cup, Reed
from sulvet.core.video.network_points import MIRRORED, POINTS, RIM

PERSON = 7_000_001


@cache
def scenes() -> list[Scene]:
    rng = np.random.default_rng(3)
    person = random_person(np.random.default_rng(PERSON))
    found = [random_scene(rng, person) for _ in range(24)]
    rim = next(s for s in found if isinstance(s.equipment, Cup))
    return [rim, next(s for s in found if s.equipment is None)]


@cache
def drawn(n: int) -> Sample:
    return draw(scenes()[n])


class DrawnTests(SimpleTestCase):
    def test_the_truth_lies_where_the_camera_sees_the_heads_own_surfaces(self) -> None:
        scene, sample = scenes()[0], drawn(0)
        cup = scene.equipment
        assert isinstance(cup, Cup)
        # The rim's top, once by the thing's own axes and once as the network is taught it.
        top = into_room(cup.frame.place(0.0, cup.outer, 1.0)[None], scene.body.pose)
        seen = scene.camera.project(top)[0, :2]
        np.testing.assert_allclose(sample.xy[POINTS.index(RIM[0])], seen, atol=1e-6)
        corners = [sample.xy[POINTS.index(name)] for name in ("ls", "li")]
        middle = np.mean(corners, axis=0)
        self.assertLess(float(np.linalg.norm(middle - sample.mouth)), 0.05 * sample.unit)

    def test_a_bare_mouth_has_no_point_of_any_thing(self) -> None:
        sample = drawn(1)
        things = [POINTS.index(name) for name in (*RIM, "mp_lip", "hole_far")]
        self.assertTrue(np.isnan(sample.xy[things]).all())
        self.assertFalse(sample.seen[things].any())
        self.assertTrue((sample.mask > 0).any() and (sample.mask == 0).any())

    def test_from_beside_everybody_holds_something_and_reeds_more_often_than_rims(self) -> None:
        rng = np.random.default_rng(8)
        person = random_person(np.random.default_rng(PERSON))
        found = [random_scene(rng, person, beside=True) for _ in range(24)]
        self.assertTrue(all(scene.equipment and abs(scene.camera.azimuth) >= 15 for scene in found))
        rims = sum(isinstance(scene.equipment, Cup) for scene in found)
        reeds = sum(isinstance(scene.equipment, Reed) for scene in found)
        self.assertLess(2 * rims, reeds)

    def test_samples_come_back_from_their_file(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "one.npz"
            np.savez(path, allow_pickle=False, **arrays([drawn(0), drawn(1)]))
            again = read(path)
        for kept, made in zip(again, (drawn(0), drawn(1)), strict=True):
            np.testing.assert_allclose(kept.xy, made.xy, atol=1e-3)
            np.testing.assert_array_equal(kept.mask, made.mask)
            self.assertEqual(kept.facts, made.facts)
            off = np.abs(kept.picture.astype(float) - made.picture)
            self.assertLess(float(off.mean()), 3.0)

    def test_a_corner_is_drawn_large_and_named(self) -> None:
        rng = np.random.default_rng(4)
        person = random_person(np.random.default_rng(PERSON))
        for _ in range(3):
            sample = corner_sample(rng, person, CLOSER_TEXEL_MM)
            side = sample.mask.shape[0]
            place = sample.xy[POINTS.index(sample.facts["corner"])]
            self.assertLess(float(np.abs(place - side / 2).max()), 0.25 * side)
            self.assertTrue(0.5 * side < sample.unit < 1.2 * side, sample.unit)

    def test_the_middle_of_the_lips_is_drawn_large_and_half_of_it_from_the_side(self) -> None:
        rng = np.random.default_rng(5)
        person = random_person(np.random.default_rng(PERSON))
        found = [lips_sample(rng, person, 4 * CLOSER_TEXEL_MM) for _ in range(8)]
        for sample in found:
            side = sample.mask.shape[0]
            self.assertLess(float(np.abs(sample.mouth - side / 2).max()), 0.25 * side)
            self.assertTrue(0.4 * side < sample.unit < side, sample.unit)
        self.assertTrue(2 <= sum(abs(sample.turn[0]) > 45 for sample in found) <= 7)


class PeopleTests(SimpleTestCase):
    def test_the_same_number_gives_the_same_person_and_many_give_every_kind(self) -> None:
        people = [random_person(np.random.default_rng(n)) for n in range(120)]
        self.assertEqual(people[5], random_person(np.random.default_rng(5)))
        self.assertEqual({tone_of(p) for p in people}, set(TONES))
        red = [p.upper + p.lower for p in people]
        self.assertTrue(min(red) < 9 and max(red) > 18)
        # Lips both redder and less red than the skin they lie in.
        redder = [np.divide(p.lip[0], p.lip[1]) / np.divide(p.skin[0], p.skin[1]) for p in people]
        self.assertTrue(min(redder) < 0.95 and max(redder) > 1.3)

    def test_a_mirror_swaps_sides_and_twice_is_nothing(self) -> None:
        order = np.array(MIRRORED)
        np.testing.assert_array_equal(order[order], np.arange(len(POINTS)))
        self.assertEqual(POINTS[order[POINTS.index("ch_r")]], "ch_l")
        self.assertEqual(POINTS[order[POINTS.index(RIM[2])]], RIM[6])
        self.assertEqual(POINTS[order[POINTS.index("ls")]], "ls")
