"""Side views: the chin's edge on made-up heads, the hollow's geometry, and its uncertainty."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import cv2
import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from sulvet.core.anatomy.landmarks import (
    BY_ID,
    CONTOUR_IDS,
    LEAST,
    SIDE_HELD,
    SIDE_REQUIRED,
    TAKE_IDS,
)
from sulvet.core.anatomy.marks import FOUND, PLACED, Floats, Marks
from sulvet.core.anatomy.profile import side_view
from sulvet.core.judgement.reasons import PALE
from sulvet.core.judgement.results import CANT_TELL, FAULT
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.measures.frames import TakeContext
from sulvet.core.measures.profile import chin_hollow
from sulvet.core.measures.series import measure
from sulvet.core.phases import frames_of
from sulvet.core.review import Footage, points_on, retrack_side
from sulvet.core.review.pipeline import track_side
from sulvet.core.simulate import clip
from sulvet.core.simulate.script import Script
from sulvet.core.video.clip import Sound
from sulvet.core.video.keyframes import Keyframe
from sulvet.core.video.stabilise import stabilise
from sulvet.core.video.stabilised_clip import StabilisedClip
from tests import rendered
from tests.core.judging import judged

SIDE = TakeContext("side", "clarinet")
BRIGHT = (0.86, 0.85, 0.80)
BULGE = [{"fault": "bulging-chin", "pose": {"chin_hollow": -4.6, "flesh": 2.2}, "ease": 0.1}]


def profile_take(**more: object) -> Script:
    given = {
        "person": "nour", "instrument": "clarinet", "view": "side", "fps": 6, "size": (800, 450),
        "wall": BRIGHT, "seed": 3,
        "camera": {"distance": 560, "fov": 16, "aim": [0, -8, -20], "azimuth": 90},
        "steps": [
            {"phase": "rest", "seconds": 0.8},
            {"phase": "place", "seconds": 0.5},
            {"phase": "hold", "seconds": 1.2},
        ],
    }  # fmt: skip
    return Script.model_validate(given | more)


def followed(take: Script) -> tuple[Marks, list[clip.Moment]]:
    """A made-up take drawn, marked by an unsteady hand as a teacher is asked to, and followed."""
    return _followed(take.model_dump_json())


@cache
def _followed(text: str) -> tuple[Marks, list[clip.Moment]]:
    held, keys, truths = _marked(text)
    return followed_from(held, keys, Script.model_validate_json(text)), truths


def followed_from(held: StabilisedClip, keys: list[Keyframe], take: Script) -> Marks:
    unknown = Marks.empty(TAKE_IDS, np.array(take.times()))
    return retrack_side(held, unknown, TAKE_IDS, keys)[0]


@cache
def _marked(text: str) -> tuple[StabilisedClip, list[Keyframe], list[clip.Moment]]:
    take = Script.model_validate_json(text)
    drawn = rendered.frames(take)
    pictures = np.array([cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY) for picture, _ in drawn])
    truths = [truth for _, truth in drawn]
    rng = np.random.default_rng(take.seed)
    keys = []
    for frame, names in ((2, SIDE_REQUIRED), (11, SIDE_HELD["beak"])):
        for name in names:
            x, y = np.array(truths[frame].places[name]) + rng.normal(0, 0.8, 2)
            keys.append(Keyframe(name, frame, float(x), float(y), 0.8, PLACED))
    return stabilise(pictures, 1.0, 2, points_on(keys, 2)), keys, truths


def true_hollow(take: Script, truths: list[clip.Moment], row: int) -> float:
    """The truth in hundredths of lip to chin at rest."""
    rest = truths[2].places
    span = np.linalg.norm(np.array(rest["li"]) - rest["pg"])
    px_per_mm = take.view_from().focal / (take.camera.distance - 20)
    return truths[row].measures["chin_hollow"] * px_per_mm / float(span) * 100


class FollowedTests(SimpleTestCase):
    """One class, since one process then draws and follows each take once."""

    def test_the_hollow_is_read_as_it_is(self) -> None:
        """The aim is half a millimetre: about 3 hundredths of lip to chin."""
        for take in (profile_take(), profile_take(faults=BULGE), profile_take(person="idris")):
            marks, truths = followed(take)
            measured = measure(marks, frames_of(take.phases, "rest", marks.seconds), SIDE)
            hollow = measured.series["chin_hollow"]
            for row in (1, 3, 10, 13):
                off = abs(hollow.value[row] - true_hollow(take, truths, row))
                self.assertLess(off, 4.0, (take.person, row))
                self.assertLess(off, 1.96 * hollow.sigma[row] + 0.5)
            nod = measured.series["head_nod"].value
            change = truths[12].measures["head_nod"] - truths[2].measures["head_nod"]
            self.assertAlmostEqual(nod[12] - nod[2], change, delta=1.5)

    def test_a_lip_border_that_was_looked_for_inside_the_face_is_brought_onto_its_edge(
        self,
    ) -> None:
        take = profile_take(faults=BULGE)
        held, keys, truths = _marked(take.model_dump_json())
        for aside in (-7.0, 7.0):
            seen = [
                replace(k, x=k.x + aside, sigma=3.0, source=FOUND) if k.landmark == "li" else k
                for k in keys
            ]
            marks = followed_from(held, seen, take)
            off = marks.xy[11, marks.column("li"), 0] - truths[11].places["li"][0]
            self.assertLess(abs(off), 1.5)
            measured = measure(marks, frames_of(take.phases, "rest", marks.seconds), SIDE)
            hollow = measured.series["chin_hollow"]
            self.assertAlmostEqual(hollow.value[11], true_hollow(take, truths, 11), delta=4.0)
            self.assertLess(hollow.sigma[11], 3.0)

    def test_a_bulge_is_called_and_a_good_chin_is_not(self) -> None:
        for take, wanted in (
            (profile_take(), set()),
            (profile_take(faults=BULGE), {"bulging-chin"}),
        ):
            marks, _ = followed(take)
            result = judged(marks, take.phases, "clarinet", "side")
            self.assertEqual({f.fault for f in result.findings if f.verdict == FAULT}, wanted)

    def test_a_chin_before_a_wall_of_its_own_colour_is_not_claimed(self) -> None:
        take = profile_take(wall=(0.46, 0.36, 0.27))
        marks, _ = followed(take)
        self.assertTrue(np.isnan(marks.xy[:, marks.column(CONTOUR_IDS[0])]).all())
        result = judged(marks, take.phases, "clarinet", "side")
        told = next(r for r in result.readings if r.measure == "chin_hollow")
        self.assertEqual((told.verdict, told.reason), (CANT_TELL, PALE))
        chin = [f.verdict for f in result.findings if f.fault == "bulging-chin"]
        self.assertEqual(chin, [CANT_TELL])

    def test_what_lies_outside_the_picture_costs_only_what_needs_it(self) -> None:
        take = profile_take()
        _, keys, truths = _marked(take.model_dump_json())
        grays = np.array(
            [cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY) for picture, _ in rendered.frames(take)]
        )
        footage = Footage(take.size, np.array(take.times()), grays, 1.0, Sound(), False, {}, "")
        for gone in SIDE_REQUIRED:
            placed = [
                replace(k, x=0.0, y=0.0, hidden=True) if (k.landmark, k.frame) == (gone, 2) else k
                for k in keys
            ]
            done = track_side(footage, placed, list(take.phases), None)
            if gone in LEAST["side"]:
                self.assertIn(BY_ID[gone].label, done.needs)
                continue
            self.assertEqual(done.needs, "", gone)
            # With one mark moved it is as if all were followed anew, and back as it was.
            assert done.stabilised is not None
            chin = [replace(k, x=k.x + 3) if k.landmark == "pg" else k for k in done.keys]
            moved, _ = retrack_side(done.stabilised, done.marks, ("pg",), chin)
            anew = followed_from(done.stabilised, chin, take)
            np.testing.assert_array_equal(moved.xy, anew.xy, gone)
            again, _ = retrack_side(done.stabilised, moved, ("pg",), done.keys)
            np.testing.assert_array_equal(again.xy, done.marks.xy, gone)
            self.assertEqual([k for k in done.keys if k.source != PLACED], [], "none is made up")
            result = judged(done.marks, take.phases, "clarinet", "side")
            told = {r.measure: r for r in result.readings if r.phase == "hold"}
            hollow = told["chin_hollow"]
            assert hollow.value is not None and hollow.uncertainty is not None, gone
            off = abs(hollow.value - true_hollow(take, truths, 12))
            self.assertLess(off, max(4.0, hollow.uncertainty), gone)

    def drawn(self, take: Script, edge: Floats, frame: int) -> Marks:
        """A chin's edge that the teacher has drawn along on one frame."""
        held, keys, _ = _marked(take.model_dump_json())
        line = [
            Keyframe(name, frame, float(x), float(y), 0.8, PLACED)
            for name, (x, y) in zip(CONTOUR_IDS, edge, strict=True)
        ]
        return followed_from(held, [*keys, *line], take)

    def test_a_drawn_edge_stands_on_its_frame_and_the_others_keep_to_the_skin(self) -> None:
        take = profile_take()
        columns = [followed(take)[0].column(name) for name in CONTOUR_IDS]
        found = followed(take)[0].xy[:, columns]
        moved = found[12] + (4.0, 0.0)
        again = self.drawn(take, moved, 12)
        np.testing.assert_allclose(again.xy[12, columns], moved, atol=0.6)
        self.assertTrue((again.source[12, columns] == PLACED).all())
        for row in (3, 8, 11, 14):
            np.testing.assert_allclose(again.xy[row, columns], found[row], atol=0.8)

    def test_where_nothing_is_found_a_drawn_edge_alone_is_there(self) -> None:
        take = profile_take(wall=(0.46, 0.36, 0.27))
        seen = followed(profile_take())[0]
        edge = seen.xy[12, [seen.column(name) for name in CONTOUR_IDS]]
        marks = self.drawn(take, edge, 12)
        chin = ~marks.hidden[:, marks.column(CONTOUR_IDS[4])]
        self.assertEqual(np.flatnonzero(chin).tolist(), [12])
        # Taken back, nothing is left of it.
        held, keys, _ = _marked(take.model_dump_json())
        bare, changed = retrack_side(held, marks, CONTOUR_IDS, keys)
        self.assertLessEqual(set(CONTOUR_IDS), set(changed))
        self.assertTrue(np.isnan(bare.xy[:, bare.column(CONTOUR_IDS[4])]).all())


def drawn_profile(
    depth: float, turn: float = 0.0, mirror: bool = False, zoom: float = 3.0
) -> Marks:
    """Marks of one profile whose skin lies ``depth`` mm behind the line from lip to chin."""
    down = np.linspace(0, 22, len(CONTOUR_IDS))
    # A parabola through lip and chin, 16 mm apart, then straight on and back under the chin.
    skin = np.where(
        down <= 16, -4 * depth * (down / 16) * (1 - down / 16), -0.25 * (down - 16) ** 2
    )
    points = {
        "n": (-4.0, -42.0), "prn": (16.0, -6.0), "sn": (0.0, 0.0), "ls": (2.0, 13.0),
        "sto": (-1.0, 18.0), "li": (0.0, 26.0), "sl": (-depth, 34.0), "pg": (0.0, 42.0),
    }  # fmt: skip
    points |= {
        name: (float(x), 26.0 + float(y))
        for name, x, y in zip(CONTOUR_IDS, skin, down, strict=True)
    }
    xy = np.array([points.get(name, (np.nan, np.nan)) for name in TAKE_IDS], dtype=float) * zoom
    if mirror:
        xy[:, 0] *= -1
    angle = np.radians(turn)
    xy = xy @ np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    marks = Marks.empty(TAKE_IDS, [0.0, 0.1, 0.2, 0.3])
    marks.xy[:] = xy + 300
    known = np.isfinite(xy[:, 0])
    marks.sigma[:, known] = marks.drift[:, known] = 0.5
    marks.hidden[:, known] = False
    return marks


REST = np.array([True, True, False, False])


class GeometryTests(SimpleTestCase):
    @settings(max_examples=40)
    @given(st.floats(0.4, 6), st.floats(-40, 40), st.booleans(), st.floats(1, 8))
    def test_it_is_the_depth_behind_the_line_however_the_picture_lies(
        self, depth: float, turn: float, mirror: bool, zoom: float
    ) -> None:
        """The definition of Legan and Burstone, J Oral Surg 1980 (from memory): 4 ± 2 mm at
        rest in adults is 25 hundredths of a lip to chin of 16 mm."""
        view = side_view(drawn_profile(depth, turn, mirror, zoom), REST)
        assert view is not None
        value = float(chin_hollow(view)[2]) / view.unit * 100
        self.assertAlmostEqual(value, depth / 16 * 100, delta=1.5)

    def test_a_bulge_is_negative(self) -> None:
        view = side_view(drawn_profile(-3.0), REST)
        assert view is not None
        self.assertLess(float(chin_hollow(view)[2]) / view.unit * 100, -10)

    def test_the_nod_is_how_far_the_head_is_raised(self) -> None:
        for mirror, sign in ((False, 1), (True, -1)):
            level, raised = (drawn_profile(3, turn, mirror) for turn in (0.0, -8.0 * sign))
            both = replace(level, xy=np.where(REST[:, None, None], level.xy, raised.xy))
            value = measure(both, REST, SIDE).series["head_nod"].value
            self.assertAlmostEqual(float(value[3]), 8.0, delta=0.05)
            self.assertAlmostEqual(float(value[0]), 0.0, delta=0.05)

    def test_without_a_rest_or_a_nose_nothing_is_told(self) -> None:
        marks = drawn_profile(3.0)
        self.assertIsNone(side_view(marks, np.zeros(4, bool)))
        marks.hidden[:, marks.column("prn")] = True
        self.assertIsNone(side_view(marks, REST))

    def test_the_interval_is_what_many_shaken_marks_give(self) -> None:
        """Propagated uncertainty against a Monte Carlo run."""
        marks = drawn_profile(3.5)
        rng = np.random.default_rng(1)
        values: list[Floats] = []
        for _ in range(150):
            shaken = marks.moved(marks.xy + rng.normal(0, 0.5, marks.xy.shape))
            view = side_view(shaken, REST)
            plain = side_view(marks, REST)
            assert view is not None and plain is not None
            same = replace(view, rest=plain.rest, memo={})
            values.append(chin_hollow(same)[2:] / plain.unit * 100)
        spread = float(np.std(values))
        told = float(measure(marks, REST, SIDE).series["chin_hollow"].sigma[2])
        told = float(np.sqrt(told**2 - catalogue().measure("chin_hollow").error.floor ** 2))
        self.assertTrue(0.6 < told / spread < 1.8, (told, spread))
