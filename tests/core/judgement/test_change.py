"""Two takes in one face frame, and what is said of the change."""

from __future__ import annotations

import math

import cv2
import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st
from skimage.transform import SimilarityTransform, estimate_transform
from uncertainties import ufloat

from sulvet.core.drawing import stills as core
from sulvet.core.drawing.sheet import Drawing, Shape
from sulvet.core.judgement.change import (
    BETTER,
    CANT_TELL,
    OTHER,
    SAME,
    WORSE,
    Change,
    Value,
    change,
    outside,
)
from sulvet.core.judgement.schema import Band
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.phases import frames_of
from sulvet.core.video.aligned import crop
from tests.core.faces import FACE, PHASES, take, with_corners
from tests.core.judging import drawn, judged

WORDS = catalogue().measure("corner_rise")
BAND = Band(measure="corner_rise", low=-6.0, high=3.0, note="a test's own")
value = st.floats(-30, 30)
spread = st.floats(0.1, 5)


def said(then: float, now: float, u_then: float = 0.9, u_now: float = 0.7) -> Change:
    return change(Value(then, u_then, "deg"), Value(now, u_now, "deg"), WORDS, BAND)


class ChangeTests(SimpleTestCase):
    def test_what_is_said_follows_from_the_band(self) -> None:
        for then, now, answer, words in (
            (9.0, 2.8, BETTER, "Corners lower by 6.2 ± 1.1 degrees: clearly better."),
            (2.8, 9.0, WORSE, "Corners higher by 6.2 ± 1.1 degrees: clearly worse."),
            (-4.0, 2.0, OTHER, "Corners higher by 6.0 ± 1.1 degrees: clearly different."),
            (9.0, 9.5, SAME, "Corners: no clear change (+0.5 ± 1.1 degrees)."),
            # Out by less than it is unsure: better can't be claimed.
            (3.5, 1.0, OTHER, "Corners lower by 2.5 ± 1.1 degrees: clearly different."),
        ):
            told = said(then, now)
            self.assertEqual((told.answer, told.sentence), (answer, words))

    @given(value, value, spread, spread)
    def test_the_uncertainty_is_that_of_a_difference(
        self, then: float, now: float, u_then: float, u_now: float
    ) -> None:
        # Source: the package ``uncertainties``, linear propagation.
        reference = ufloat(now, u_now) - ufloat(then, u_then)
        told = said(then, now, u_then, u_now)
        assert told.delta is not None and told.uncertainty is not None
        self.assertAlmostEqual(told.delta, reference.nominal_value)
        self.assertAlmostEqual(told.uncertainty, reference.std_dev)

    @given(value, value, spread, spread)
    def test_the_other_way_round_better_is_worse_and_nothing_else_changes(
        self, then: float, now: float, u_then: float, u_now: float
    ) -> None:
        there, back = said(then, now, u_then, u_now), said(now, then, u_now, u_then)
        other_way = {BETTER: WORSE, WORSE: BETTER}
        self.assertEqual(back.answer, other_way.get(there.answer, there.answer))
        if there.answer == BETTER:
            self.assertLess(outside(now, BAND), outside(then, BAND))

    def test_what_one_take_does_not_show_is_not_compared(self) -> None:
        nothing = Value(None, None, "deg")
        for then, now, which in (
            (nothing, Value(1, 1, "deg"), "the older"),
            (Value(1, 1, "deg"), nothing, "the newer"),
            (nothing, nothing, "either"),
        ):
            told = change(then, now, WORDS, BAND)
            self.assertEqual(told.answer, CANT_TELL)
            self.assertIn(which, told.sentence)

    def test_every_measure_has_words_for_both_ways(self) -> None:
        for words in catalogue().measures:
            told = change(Value(0, 0.1, "deg"), Value(5, 0.1, "deg"), words, None)
            self.assertTrue(told.sentence.startswith(words.subject or words.name))
            self.assertIn(words.more, told.sentence)
            self.assertNotEqual(words.more, words.less)


def stills(rise: float, width: float, move: SimilarityTransform | None = None) -> tuple[
    core.Stills, Drawing
]:  # fmt: skip
    """Of a take made by hand; ``move`` takes the whole picture somewhere else."""
    marks = take(with_corners(rise, width))
    if move is not None:
        marks = marks.moved(move(marks.xy.reshape(-1, 2)).reshape(marks.xy.shape))
    result = judged(marks)
    found = drawn(result, marks)
    assert found is not None
    return core.stills_of(result, marks, PHASES, *found), found[0]


class SheetTests(SimpleTestCase):
    def test_a_still_lies_where_the_drawing_does(self) -> None:
        of_take, drawing = stills(9.0, 1.13)
        self.assertEqual(of_take.phases(), ("rest", "hold"))
        self.assertTrue(0 < len(of_take.of_phase("hold")) <= core.PER_PHASE)
        for still in of_take.of_phase("hold"):
            for name in ("ch_r", "ch_l", "ls", "li"):
                np.testing.assert_allclose(still.points[name], drawing.hold.points[name], atol=2e-3)

    def test_plain_lists_come_back_as_they_were(self) -> None:
        of_take, drawing = stills(9.0, 1.13)
        self.assertEqual(core.Stills.of(of_take.plain()), of_take)
        back = Drawing.of(drawing.plain())
        self.assertEqual(back.plain(), drawing.plain())

    def test_a_camera_that_stands_elsewhere_changes_nothing(self) -> None:
        then, drawing = stills(0.0, 1.0)
        move = SimilarityTransform(scale=1.4, rotation=0.2, translation=(-60, 35))
        now, _ = stills(9.0, 1.13, move)
        by = core.onto(now, then)
        # Bone lies on bone; the corners show how far they went, in the older take's unit.
        for name, place in then.anchors.items():
            np.testing.assert_allclose(core.placed(by, now.anchors[name]), place, atol=3e-3)
        held = core.brought_shape(Shape(now.of_phase("hold")[0].points), by).points
        wide = held["ch_l"][0] - held["ch_r"][0]
        self.assertAlmostEqual(wide, 1.13, delta=0.01)
        lift = held["ch_l"][1] - drawing.rest.points["ch_l"][1]
        self.assertAlmostEqual(lift, 0.5 * 1.13 * math.tan(math.radians(9.0)), delta=0.01)

    def test_the_common_sheet_agrees_with_a_reference_library(self) -> None:
        # Source: scikit-image, ``estimate_transform("similarity")``; all weights alike.
        rng = np.random.default_rng(7)
        names = ("ex_r", "ex_l", "en_r", "en_l")
        places = {name: tuple(rng.normal(size=2)) for name in names}
        then = core.Stills(places, ())
        moved = {n: (0.9 * x - 0.1 * y + 0.4, 0.1 * x + 0.9 * y - 0.2 + 0.01 * x * x)
                 for n, (x, y) in places.items()}  # fmt: skip
        by = core.onto(core.Stills(moved, ()), then)
        reference = estimate_transform(
            "similarity", np.array(list(moved.values())), np.array(list(places.values()))
        )
        a, b, tx, ty = by
        np.testing.assert_allclose(reference.params[:2], [[a, -b, tx], [b, a, ty]], atol=1e-5)

    def test_with_one_anchor_each_mouth_is_its_own_measure(self) -> None:
        one = core.Stills({"ex_r": (0.1, 0.2)}, ())
        self.assertEqual(core.onto(one, one), core.SAME)

    def test_frames_with_the_head_held_alike_are_proposed(self) -> None:
        def still(frame: int, pose: tuple[float, float]) -> core.Still:
            return core.Still(frame, "hold", pose, (1, 0, 0, 1, 0, 0), {})

        then = core.Stills({}, (still(1, (0, 0)), still(2, (8, 1)), still(3, (4, -6))))
        now = core.Stills({}, (still(10, (-9, 0)), still(11, (7.5, 1)), still(12, (12, 4))))
        pair = core.nearest(then, now, "hold")
        assert pair is not None
        self.assertEqual((pair[0].frame, pair[1].frame), (2, 11))
        self.assertIsNone(core.nearest(then, now, "rest"))

    def test_both_mouths_are_in_the_picture(self) -> None:
        then, first = stills(0.0, 1.0)
        now, second = stills(9.0, 1.13)
        by = core.onto(now, then)
        for faces in ((), (then,)):
            x0, y0, x1, y1 = core.shown(first, second, by, faces)
            self.assertGreaterEqual((x1 - x0) / (y1 - y0), core.LEAST_WIDE - 1e-9)
            places = [*first.hold.points.values(),
                      *(core.placed(by, p) for p in second.hold.points.values())]  # fmt: skip
            if faces:
                places += [*then.anchors.values()]
            seen = [p for n, p in zip([*first.hold.points] * 2, places, strict=False)
                    if not n.startswith("ck")]  # fmt: skip
            self.assertTrue(all(x0 <= x <= x1 and y0 <= y <= y1 for x, y in seen))


class CropTests(SimpleTestCase):
    def test_a_dot_of_the_picture_lands_where_its_place_on_the_sheet_is(self) -> None:
        marks = take(with_corners(0.0, 1.0))
        of_take, drawing = stills(0.0, 1.0)
        frame = of_take.of_phase("hold")[0]
        self.assertTrue(frames_of(PHASES, "hold", marks.seconds)[frame.frame])
        picture = np.full((600, 600, 3), 90, np.uint8)
        x, y = FACE["ch_l"]
        cv2.circle(picture, (round(x), round(y)), 5, (255, 255, 255), -1)
        ok, jpeg = cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, 98])
        self.assertTrue(ok)
        x0, y0, x1, y1 = drawing.box
        place = frame.points["ch_l"]
        for facing in (1, -1):
            out = crop(jpeg.tobytes(), frame.move, drawing.box, facing, 500)
            cut = cv2.imdecode(np.frombuffer(out, np.uint8), cv2.IMREAD_GRAYSCALE)
            assert cut is not None
            self.assertEqual(cut.shape, (round(500 * (y1 - y0) / (x1 - x0)), 500))
            rows, columns = np.nonzero(cut > 200)
            scale = 500 / (x1 - x0)
            left = -x1 if facing < 0 else x0
            self.assertAlmostEqual(columns.mean(), (facing * place[0] - left) * scale, delta=0.8)
            self.assertAlmostEqual(rows.mean(), (y1 - place[1]) * scale, delta=0.8)

    def test_what_can_not_be_cut_is_said(self) -> None:
        for jpeg, box in ((b"no picture", (0.0, 0.0, 1.0, 1.0)), (b"", (0.0, 0.0, 0.0, 1.0))):
            with self.assertRaisesRegex(ValueError, "can't be read"):
                crop(jpeg, (1, 0, 0, 1, 0, 0), box, 1, 200)
