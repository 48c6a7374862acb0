"""A head that moves, leans and turns is found as one body."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.anatomy.solid import Solid, solid_fit


class SolidTests(SimpleTestCase):
    @given(
        st.floats(0.5, 2.0), st.floats(-0.6, 0.6), st.floats(-0.2, 0.2), st.floats(-0.2, 0.2),
        st.integers(0, 9999),
    )  # fmt: skip
    def test_the_movement_that_was_made_is_found(
        self, scale: float, lean: float, right: float, down: float, seed: int
    ) -> None:
        rng = np.random.default_rng(seed)
        points, depth = rng.uniform(-60, 60, (9, 2)), rng.uniform(-30, 60, 9)
        c, s = scale * np.cos(lean), scale * np.sin(lean)
        made = Solid(np.array([[c, -s], [s, c]]), np.array([7.0, -3.0]), np.array([right, down]))
        found = solid_fit(points, made.moved(points, depth), depth, np.ones(9), 1e-6)
        np.testing.assert_allclose(found.turned, made.turned, atol=1e-5)
        np.testing.assert_allclose(found.turn, made.turn, atol=1e-5)
        np.testing.assert_allclose(found.shift, made.shift, atol=1e-3)
        # A turn that is dear is taken for none.
        still = solid_fit(points, made.moved(points, depth), depth, np.ones(9), 1e9)
        np.testing.assert_allclose(still.turn, 0, atol=1e-6)
