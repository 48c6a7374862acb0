"""The mirror on made-up takes: a smile is seen within a second, and none where there is none."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.lessons.mirror import Shown, cue_for, cues, steady
from sulvet.core.review.mirror import Seen, readings, seen
from sulvet.core.video.clip import Reader, fit
from sulvet.demo.scenario import TAKES

SIDE, EVERY, RESTED = 384, 3, 1.1


class MirrorTests(SimpleTestCase):
    def said(self, name: str, instrument: str) -> list[tuple[float, str]]:
        """When the mirror says something else while a take plays, s, and what."""
        standard = shipped_standard(instrument)
        school = standard.schools[0].id
        rest: list[Seen] = []
        recent: list[Seen] = []
        shown, out = Shown(), []
        for frame in Reader(TAKES / f"{name}.mp4").frames():
            if frame.index % EVERY:
                continue
            found = seen(fit(frame.picture("rgb24"), SIDE), standard.family, "front")
            if found is None:
                continue
            if frame.seconds < RESTED:
                rest.append(found)
                continue
            recent = [*recent, found][-5:]
            values = readings(rest[-8:], recent, "front", instrument)
            words = cue_for(values, standard, "front", school, shown.words)
            before, shown = shown.words, steady(shown, words, EVERY / 25)
            if shown.words != before:
                out.append((frame.seconds, shown.words))
        return out

    def test_a_smile_is_said_within_a_second_and_no_other(self) -> None:
        # The scripts' corners begin to rise at 1.7 and are up at 2.7 s.
        for name, instrument in (("edda-front-16", "horn"), ("anouk-front-1", "flute")):
            told = [when for when, words in self.said(name, instrument)
                    if words == "Corners a little lower."]  # fmt: skip
            self.assertTrue(told, name)
            self.assertLess(told[0], 3.9)
        for name, instrument in (("edda-front-1", "horn"), ("kaya-front-15", "trombone")):
            self.assertEqual({words for _, words in self.said(name, instrument)}, {cues().good})

    def test_without_a_face_nothing_is_measured(self) -> None:
        self.assertEqual(readings([], [], "front", "horn"), {})
        first = next(iter(Reader(TAKES / "edda-front-1.mp4").frames()))
        picture = fit(first.picture("rgb24"), SIDE)
        self.assertIsNone(seen(np.zeros_like(picture), "brass", "front"))
        self.assertIsNone(seen(picture, "brass", "side"))
