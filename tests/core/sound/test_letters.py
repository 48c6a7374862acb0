"""Syllables and letters read off the start of tones."""

from __future__ import annotations

import itertools
from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.phases import Phase
from sulvet.core.sound.letters import phases_from_sound
from sulvet.core.sound.movement import Slide
from sulvet.core.sound.tones import SoundAnalysis
from tests.core.judgement.sounds import PLAIN, told


class LettersTests(SimpleTestCase):
    """Letters as the picture suggests them, put where the tone is heard."""

    SEEN = [Phase("rest", 0.0, 0.9, 0.9), Phase("form", 0.9, 1.4, 0.6), Phase("place", 1.4, 2.3),
            Phase("start", 2.3, 2.45), Phase("hold", 2.45, 4.0, 0.9),
            Phase("release", 4.0, 4.3)]  # fmt: skip

    def letters(self, sound: SoundAnalysis, last: float = 6.0) -> dict[str, tuple[float, float]]:
        found = phases_from_sound(self.SEEN, sound, last)
        for one, after in itertools.pairwise(found):
            self.assertLessEqual(one.end, after.start + 1e-9)
        return {p.name: (round(p.start, 2), round(p.end, 2)) for p in found}

    def test_a_tone_brings_start_hold_and_release(self) -> None:
        # So much of a tone's beginning and end is no hold: see core.phases.
        now = self.letters(
            SoundAnalysis((replace(PLAIN, start=2.0, end=5.0),), ((0.2, 0.6), (1.5, 1.85)))
        )
        self.assertEqual(now["breathe"], (1.5, 1.85))
        self.assertEqual((now["place"], now["start"]), ((1.4, 1.5), (2.0, 2.15)))
        self.assertEqual((now["hold"], now["release"]), ((2.15, 4.9), (4.9, 5.25)))
        # A breathy start begins with its air.
        now = self.letters(SoundAnalysis((replace(PLAIN, start=2.0, end=5.0, lead=0.4),), ()))
        self.assertEqual((now["place"], now["start"]), ((1.4, 1.6), (1.6, 2.15)))
        # A clip that begins with the tone.
        found = phases_from_sound([Phase("hold", 2.45, 4.0)], told(start=2.0, end=5.0), 6.0)
        self.assertEqual([p.name for p in found], ["start", "hold", "release"])
        # Nothing beyond the clip's end.
        now = self.letters(SoundAnalysis((replace(PLAIN, start=2.0, end=5.0),), ()), last=4.85)
        self.assertEqual(now["hold"], (2.15, 4.85))

    @given(
        st.floats(0.0, 5.0), st.floats(0.2, 4.0), st.floats(0.0, 1.5), st.floats(0.0, 4.0),
        st.floats(0.15, 1.0), st.floats(0.0, 1.0),
    )  # fmt: skip
    def test_letters_lie_one_after_the_other_within_the_clip(
        self, start: float, lasts: float, lead: float, breath: float, breathed: float, turn: float
    ) -> None:
        end = start + lasts
        slide = Slide(300.0, 400.0, 5.0, 4.0, 0.0, start + turn * lasts, end)
        for one in (None, slide):
            tone = replace(PLAIN, start=start, end=end, lead=min(lead, start), slide=one)
            found = phases_from_sound(
                self.SEEN, SoundAnalysis((tone,), ((breath, breath + breathed),)), 10.0
            )
            self.assertGreaterEqual(found[0].start, 0.0)
            self.assertLessEqual(found[-1].end, 10.0)
            self.assertTrue(all(p.end > p.start for p in found))
            for before, after in itertools.pairwise(found):
                self.assertLessEqual(before.end, after.start + 1e-9)
            # The face at rest is what all is measured against: no breath takes it away.
            if start >= 0.9 + lead:
                self.assertEqual(found[0], self.SEEN[0])

    def test_a_slide_is_a_change(self) -> None:
        slide = Slide(300.0, 400.0, 5.0, 4.0, 0.0, 3.0, 4.6)
        late = replace(PLAIN, start=2.0, end=5.0, slide=slide)
        now = self.letters(SoundAnalysis((late,), ()))
        self.assertEqual((now["hold"], now["change"]), ((2.15, 3.0), (3.0, 4.9)))
        at_once = replace(late, slide=replace(slide, begins=2.1))
        now = self.letters(SoundAnalysis((at_once,), ()))
        self.assertEqual((now["hold"], now["change"]), ((2.15, 2.75), (2.75, 4.9)))

    def test_what_tells_nothing_changes_nothing(self) -> None:
        for sound in (
            SoundAnalysis((), ((0.1, 0.8),)),
            SoundAnalysis((replace(PLAIN, start=2.4, end=2.9),), ()),
        ):
            self.assertIs(phases_from_sound(self.SEEN, sound, 6.0), self.SEEN)
        self.assertEqual(phases_from_sound([], told(), 6.0), [])
        # What sounds while the face is at rest is somebody else's, as is what is far softer.
        early = replace(PLAIN, start=0.1, end=0.85)
        later = replace(PLAIN, start=2.3, end=4.0)
        soft = replace(PLAIN, start=4.4, end=5.9, over=12.0)
        self.assertEqual(self.letters(SoundAnalysis((early, later, soft), ()))["hold"], (2.45, 3.9))

    def test_each_of_several_tones_has_its_letters(self) -> None:
        four = [replace(PLAIN, start=1.5 + n, end=2.3 + n) for n in range(4)]
        found = phases_from_sound(self.SEEN, SoundAnalysis(tuple(four), ((3.32, 3.48),)), 6.0)
        names = [p.name for p in found]
        self.assertEqual(names[:3], ["rest", "form", "place"])
        own = ["start", "hold", "release"]
        self.assertEqual(names[3:], [*own, *own, "breathe", *own, *own])
        holds = [(round(p.start, 2), round(p.end, 2)) for p in found if p.name == "hold"]
        self.assertEqual(holds, [(1.65 + n, 2.2 + n) for n in range(4)])
        # Notes slurred together have one start and one release; tongued ones a start each.
        slurred = [
            replace(four[0], start=2.0, end=2.7, ends="slurred"),
            replace(four[0], start=2.7, end=3.4, begins="slurred", ends="tongued"),
            replace(four[0], start=3.45, end=4.2),
        ]
        found = phases_from_sound(self.SEEN, SoundAnalysis(tuple(slurred), ()), 6.0)
        self.assertEqual([p.name for p in found][3:],
                         ["start", "hold", "hold", "start", "hold", "release"])  # fmt: skip
