"""The mirror on made-up takes: a smile is seen within a second, and none where there is none."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.lessons.mirror import Shown, cue_for, cues, steady
from sulvet.core.review.mirror import Seen, last_moments, seen
from sulvet.core.video.clip import Reader, fit
from sulvet.demo.scenario import TAKES

#: Every fifth picture is looked at, five a second, up to here.
SIDE, EVERY, RESTED, OVER = 384, 5, 1.1, 4.3


class MirrorTests(SimpleTestCase):
    def said(self, name: str, instrument: str) -> list[tuple[float, str]]:
        """When the mirror says something else while a take plays, s, and what."""
        standard = shipped_standard(instrument)
        school = standard.schools[0].id
        rest: list[Seen] = []
        recent: list[Seen] = []
        shown, out = Shown(), []
        for frame in Reader(TAKES / f"{name}.mp4").frames():
            if frame.seconds > OVER:
                break
            if frame.index % EVERY:
                continue
            found = seen(fit(frame.picture("rgb24"), SIDE), standard.family, "front")
            if found is None:
                continue
            if frame.seconds < RESTED:
                rest.append(found)
                continue
            recent = [*recent, found][-5:]
            last = last_moments(rest[-8:], recent, "front", instrument)
            assert last is not None
            words = cue_for(last.readings(), standard, "front", school, shown.words)
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
        for name, instrument in (("edda-front-1", "horn"), ("hugo-front-4", "trumpet")):
            self.assertEqual({words for _, words in self.said(name, instrument)}, {cues().good})

    def test_puffed_cheeks_are_said(self) -> None:
        self.assertIn("Cheeks in.", {words for _, words in self.said("kaya-front-15", "trombone")})

    def test_the_face_at_rest_lies_over_the_picture(self) -> None:
        """A head that moves takes it along: the rest line's corners lie where the corners of the
        same still mouth are."""
        frames = Reader(TAKES / "edda-front-1.mp4").frames()
        still = [fit(f.picture("rgb24"), SIDE) for f in frames if f.seconds < RESTED][::EVERY]
        rest = [one for p in still if (one := seen(p, "brass", "front")) is not None]
        moved = {name: (x + 12, y - 7, s) for name, (x, y, s) in rest[-1].points.items()}
        last = last_moments(rest, [Seen(moved)], "front", "horn")
        assert last is not None
        standard = shipped_standard("horn")
        lines = last.lines(standard, standard.schools[0].id)
        self.assertEqual({line.pen for line in lines}, {"rest", "zone"})
        starts = [[float(v) for v in line.path[1:].split(" C")[0].split()] for line in lines
                  if line.pen == "rest"]  # fmt: skip
        x, y, _ = moved["ch_r"]
        self.assertLess(min(np.hypot(a - x, b - y) for a, b in starts), 4.0)

    def test_without_a_face_nothing_is_measured(self) -> None:
        self.assertIsNone(last_moments([], [], "front", "horn"))
        first = next(iter(Reader(TAKES / "edda-front-1.mp4").frames()))
        picture = fit(first.picture("rgb24"), SIDE)
        self.assertIsNone(seen(np.zeros_like(picture), "brass", "front"))
        self.assertIsNone(seen(picture, "brass", "side"))
