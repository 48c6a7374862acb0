"""Tones against the counts of a drill."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.judgement.common import common
from sulvet.core.judgement.drill_timing import DrillTiming, beats_of, time_drill
from sulvet.core.sound.tones import SoundAnalysis
from tests.core.judgement.sounds import PLAIN


class DrillTimingTests(SimpleTestCase):
    """A drill as it was played, against how it is counted."""

    def played(self, drill: str, lengths: list[float], tempo: float = 60.0) -> DrillTiming:
        starts = np.cumsum([0.0, *(n + 1.0 for n in lengths)])
        spans = [(float(s), float(s + n)) for s, n in zip(starts, lengths, strict=False)]
        counting = common().drill(drill).counting
        assert counting is not None
        tones = tuple(replace(PLAIN, start=a, end=b) for a, b in spans)
        breathing = drill == "breath-ratio"
        sound = SoundAnalysis((), tuple(spans)) if breathing else SoundAnalysis(tones, ())
        return time_drill(sound, counting, tempo)

    def test_four_times_four(self) -> None:
        whole = self.played("four-by-four", [4.1, 3.8, 2.6, 4.6])
        self.assertEqual([b.even for b in whole.beats], [True, True, False, False])
        self.assertEqual((whole.even, whole.expected), (2, 4))
        self.assertAlmostEqual(whole.beats[2].heard, 2.6)
        # Twice as fast the same seconds are twice the counts.
        self.assertEqual(self.played("four-by-four", [2.0, 2.0], 120.0).even, 2)
        self.assertEqual(self.played("four-by-four", []).beats, ())
        # A tenth of a long tone is no more than half a count of a short one.
        self.assertEqual(self.played("mouthpiece-tone", [10.8, 8.8]).even, 1)

    def test_a_part_of_the_drill_counts_where_it_fits(self) -> None:
        # In 4 out 4 three times, then 2 and 4, 1 and 4, 1 and 8: this is near its end.
        part = self.played("breath-ratio", [1.0, 4.0, 1.1, 7.8, 0.9, 8.2])
        self.assertEqual([b.counts for b in part.beats], [1, 4, 1, 8, 1, 8])
        self.assertEqual((part.even, part.expected), (6, 26))
        self.assertEqual({b.do for b in part.beats}, {"in", "out"})
        # Lengths that are the drill's own are even, whichever stretch of it they are.
        counting = common().drill("breath-ratio").counting
        assert counting is not None
        whole = [b.counts for b in beats_of(counting) if b.do in ("in", "out")]
        for first, last in itertools.combinations(range(len(whole) + 1), 2):
            lengths = [float(n) for n in whole[first:last]]
            self.assertEqual(self.played("breath-ratio", lengths).even, last - first)
        # More than there are beats is not looked at.
        self.assertEqual(len(self.played("four-ones", [1.0] * 20).beats), 16)
