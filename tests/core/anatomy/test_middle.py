"""The middle of values, against numpy's."""

import warnings

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from sulvet.core.anatomy.marks import Floats
from sulvet.core.anatomy.middle import middle

NUMBERS = st.floats(-1e6, 1e6) | st.just(np.nan)


class MiddleTests(SimpleTestCase):
    @given(st.integers(1, 7).flatmap(lambda rows: arrays(float, (rows, 3, 2), elements=NUMBERS)))
    def test_it_is_numpys_median_of_what_is_there(self, values: Floats) -> None:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", RuntimeWarning)
            wanted = np.nanmedian(values, axis=0)
        np.testing.assert_allclose(middle(values), wanted, rtol=1e-12)
