"""An opening that the finder sees elsewhere is where the finder sees it."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy.landmarks import TAKE_IDS
from sulvet.core.anatomy.marks import FOUND, PLACED, Marks
from sulvet.core.video.opening_check import SEEN, agreed
from sulvet.core.video.stabilised_clip import StabilisedClip

COUNT = 20


class OpeningCheckTests(SimpleTestCase):
    """One pixel of the clip is two of the stabilised picture."""

    def setUp(self) -> None:
        double = np.tile([[2.0, 0, 0], [0, 2.0, 0]], (COUNT, 1, 1))
        self.still = StabilisedClip(
            np.zeros((COUNT, 4, 4), np.uint8), double, np.ones(COUNT, bool), np.zeros(COUNT), 0,
            np.zeros((COUNT, 2)),
        )  # fmt: skip

    def marks(self, upper: float, lower: float, looks: int = COUNT) -> Marks:
        """Lips of the clip at 100 and 120, an opening found dark from 106 to 114; the finder's
        edges, clip pixels, on the first ``looks`` frames."""
        marks = Marks.empty(TAKE_IDS, np.arange(COUNT) / 10)
        for name, at in {
            "ls": (50, 100), "li": (50, 120), "sto_s": (50, 106), "sto_i": (50, 114),
            "ap_r": (40, 110), "ap_l": (60, 110),
        }.items():  # fmt: skip
            column = marks.column(name)
            marks.xy[:, column], marks.hidden[:, column] = at, False
            marks.sigma[:, column], marks.source[:, column] = 0.5, FOUND
        for name, value in zip(SEEN, (2 * upper, 2 * lower, 3.0), strict=True):
            marks.signals[name] = np.where(np.arange(COUNT) < looks, value, np.nan)
        return marks

    def test_where_both_agree_the_darkness_is_exact(self) -> None:
        before = self.marks(107, 113)
        after = agreed(self.still, before)
        np.testing.assert_array_equal(after.xy, before.xy)
        np.testing.assert_array_equal(after.hidden, before.hidden)

    def test_a_shade_is_no_opening(self) -> None:
        after = agreed(self.still, self.marks(111.5, 113))
        for name, height in (("sto_s", 111.5), ("sto_i", 113.0)):
            np.testing.assert_allclose(after.xy[:, after.column(name), 1], height)
        self.assertGreater(after.sigma[5, after.column("sto_s")], 0.9)
        self.assertTrue(after.hidden[:, [after.column("ap_r"), after.column("ap_l")]].all())

    def test_one_look_overrules_nothing_and_no_look_what_the_teacher_placed(self) -> None:
        after = agreed(self.still, self.marks(111.5, 113, looks=1))
        self.assertEqual(after.xy[0, after.column("sto_s"), 1], 106)
        placed = self.marks(111.5, 113)
        placed.source[3, placed.column("sto_s")] = PLACED
        after = agreed(self.still, placed)
        self.assertTrue((after.xy[:, after.column("sto_s"), 1] == 106).all())
        self.assertTrue((after.xy[:, after.column("sto_i"), 1] == 113).all())

    def test_shut_lips_meet_below_the_shade_of_the_upper_one(self) -> None:
        shaded = self.marks(111.5, 111.5)
        lips = [shaded.column("sto_s"), shaded.column("sto_i")]
        shaded.xy[:, lips, 1] = 110
        shaded.signals[SEEN[2]][:] = 1.0
        after = agreed(self.still, shaded)
        self.assertTrue((after.xy[:, lips, 1] > 111).all())
        self.assertTrue((after.xy[:, lips, 1] < 111.5).all())
        self.assertTrue((after.xy[:, lips, 0] == 50).all())
        # The less sure the look, the less it says; one look says nothing, an open mouth is exact.
        shaded.signals[SEEN[2]][:] = 12.0
        self.assertTrue((agreed(self.still, shaded).xy[:, lips, 1] < 110.2).all())
        one = self.marks(111.5, 111.5, looks=1)
        one.xy[:, lips, 1] = 110
        self.assertTrue((agreed(self.still, one).xy[:, lips, 1] == 110).all())

    def test_an_open_middle_lies_between_the_ends(self) -> None:
        shaded = self.marks(107, 113)
        ends = [shaded.column("ap_r"), shaded.column("ap_l")]
        shaded.xy[4:8, ends[1], 0] = 45
        after = agreed(self.still, shaded)
        self.assertTrue(after.hidden[4:8, ends].all())
        self.assertFalse(after.hidden[8:, ends].any())
        self.assertTrue((after.xy[:, after.column("sto_i"), 1] == 114).all())
        # Closed in the middle, it may well open on one side.
        shaded.xy[:, shaded.column("sto_s"), 1] = shaded.xy[:, shaded.column("sto_i"), 1] = 110
        for name in SEEN[:2]:
            shaded.signals[name][:] = 220
        self.assertFalse(agreed(self.still, shaded).hidden[:, ends].any())
