"""A tone then and now: only what has surely changed is said, and which way."""

from __future__ import annotations

from django.test import SimpleTestCase

from sulvet.core.judgement.then_now_sound import same_tone
from tests.core.judgement.sounds import HOLD, told

SAME = ("Pitch, steadiness and length are as they were.",)


class SameToneTests(SimpleTestCase):
    def said(self, **now: object) -> tuple[str, ...]:
        before = told(steadiness=8.0, cents_sd=4.0)
        after = told(**{"steadiness": 8.0, "cents_sd": 4.0, **now})
        found = same_tone(before, after, (HOLD, HOLD))
        assert found is not None
        return found.sentences

    def test_length(self) -> None:
        self.assertEqual(self.said(end=4.2), ("1.2 s longer.",))
        self.assertEqual(self.said(end=2.4), ("0.6 s shorter.",))
        self.assertEqual(self.said(end=3.07), SAME)

    def test_pitch(self) -> None:
        self.assertEqual(self.said(hz=880 * 2 ** (30 / 1200)), ("30 cents higher than then.",))
        self.assertEqual(self.said(hz=880 / 2 ** (30 / 1200)), ("30 cents lower than then.",))
        self.assertEqual(self.said(hz=880 * 2 ** (3 / 1200)), SAME)

    def test_steadiness(self) -> None:
        self.assertEqual(self.said(steadiness=2.0)[0][:9], "Steadier:")
        self.assertEqual(self.said(steadiness=30.0)[0][:12], "Less steady:")
        self.assertEqual(self.said(steadiness=9.0), SAME)
        self.assertEqual(self.said(steadiness=None), SAME)

    def test_another_note_is_no_then_and_now(self) -> None:
        self.assertIsNone(same_tone(told(), told(hz=990.0), (HOLD, HOLD)))
        self.assertIsNone(same_tone(told(), told(start=5.0, end=6.0, hz=990.0), (HOLD, HOLD)))
