"""Cues of the mirror: one at a time, from the standard's own limits, and none that flickers."""

from __future__ import annotations

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.judgement.common import measures_of
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.lessons.mirror import Shown, cue_for, cues, steady

HORN = shipped_standard("horn")
SCHOOL = HORN.schools[0].id
GOOD, LOWER = cues().good, "Corners a little lower."


def cue(shown: str = "", **values: float) -> str:
    return cue_for(values, HORN, "front", SCHOOL, shown)


class CueTests(SimpleTestCase):
    def test_causes_before_what_they_bring_and_nothing_of_nothing(self) -> None:
        self.assertEqual(cue(), "")
        # Of what the standard has no limit for nothing is said.
        self.assertEqual(cue(depth=40.0), "")
        self.assertEqual(cue(corner_rise=0.0, mouth_width=1.0), GOOD)
        self.assertEqual(cue(corner_rise=9.0, mouth_width=1.0), LOWER)
        self.assertEqual(cue(corner_rise=9.0, rim_upper_share=0.1), "Mouthpiece a little higher.")

    def test_what_is_worked_on_is_said_first(self) -> None:
        values = {"corner_rise": 9.0, "rim_upper_share": 0.1}
        said = cue_for(values, HORN, "front", SCHOOL, first=measures_of("smile", "front"))
        self.assertEqual(said, LOWER)
        # While that can't be seen, nothing else makes it good.
        unseen = cue_for({"rim_upper_share": 0.65}, HORN, "front", SCHOOL,
                         first=measures_of("smile", "front"))  # fmt: skip
        self.assertEqual((unseen, cue(rim_upper_share=0.65)), ("", GOOD))

    def test_a_cue_stays_until_the_measure_is_well_back(self) -> None:
        band = HORN.band("corner_rise", "front", SCHOOL)
        assert band is not None and band.high is not None
        just = band.high + 0.5 * band.watch_high
        self.assertEqual((cue(corner_rise=just), cue(LOWER, corner_rise=just)), (GOOD, LOWER))
        self.assertEqual(cue(LOWER, corner_rise=band.high - 0.5 * band.watch_high), GOOD)

    def test_every_cue_is_of_a_measure_some_instrument_has_a_limit_for(self) -> None:
        for one in cues().cues:
            found = [n for n in ("horn", "flute", "clarinet", "oboe") for s in [shipped_standard(n)]
                     for view in ("front", "side")
                     if s.band(one.measure, view, s.schools[0].id)]  # fmt: skip
            self.assertTrue(found, one.measure)


class SteadyTests(SimpleTestCase):
    def test_a_change_counts_once_it_stood_for_half_a_second(self) -> None:
        shown = Shown(GOOD, GOOD)
        said = []
        for now in [LOWER] * 8:
            shown = steady(shown, now, 0.1)
            said.append(shown.words)
        self.assertEqual(said, [GOOD] * 5 + [LOWER] * 3)
        # What was good so far counts, and from then on nothing.
        self.assertEqual(shown.held, 0.0)

    @given(st.lists(st.sampled_from([GOOD, LOWER, ""]), max_size=60))
    def test_it_never_flickers(self, moments: list[str]) -> None:
        """Two changes are never less than half a second apart."""
        shown, last = Shown(GOOD, GOOD), None
        for n, now in enumerate(moments):
            before = shown
            shown = steady(before, now, 0.1)
            if shown.words != before.words and before.words:
                if last is not None:
                    self.assertGreaterEqual((n - last) * 0.1, cues().steady - 1e-6)
                last = n
