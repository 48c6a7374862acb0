"""Air without a tone: how even it is."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from sulvet.core.anatomy.marks import Floats
from sulvet.core.sound.air import Air
from sulvet.core.sound.pitch import RATE, Recording


def blown(level: Floats, seed: int = 0) -> Recording:
    """Air whose strength follows dB values, one each 10 ms, after and before half a second."""
    rng = np.random.default_rng(seed)
    strong = 0.05 * 10 ** (np.repeat(level, RATE // 100) / 20)
    quiet = np.full(RATE // 2, 0.0005)
    strength = np.concatenate([quiet, strong, quiet])
    return Recording((strength * rng.standard_normal(len(strength))).astype(np.float32))


class EvennessTests(SimpleTestCase):
    def even(self, level: Floats, seed: int = 0) -> tuple[list[float], list[float]]:
        air = Air(blown(level, seed))
        ((begin, end),) = air.stretches([], [])
        found = air.evenness(begin, end)
        assert found is not None
        return [round(v, 1) for v in found.dips], [round(v, 1) for v in found.surges]

    def test_dips_and_surges_are_found_where_they_are(self) -> None:
        level = np.zeros(400)
        level[100:120] = -10
        level[250:270] = 10
        self.assertEqual(self.even(level), ([1.6], [3.1]))

    @given(st.integers(0, 10_000), st.floats(-3, 3))
    @settings(max_examples=20, deadline=None)
    def test_even_air_has_neither(self, seed: int, slope: float) -> None:
        """Whatever the noise, and where it grows or falls by a few dB."""
        self.assertEqual(self.even(np.linspace(0, slope, 300), seed), ([], []))

    def test_a_short_breath_says_nothing(self) -> None:
        air = Air(blown(np.zeros(50)))
        ((begin, end),) = air.stretches([], [])
        self.assertIsNone(air.evenness(begin, end))
