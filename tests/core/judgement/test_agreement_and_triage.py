"""Agreement beyond chance, what it suggests, and what to look for when the sound is not right."""

from __future__ import annotations

import doctest

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.judgement import agreement, triage
from sulvet.core.judgement.agreement import Counts, Suggestion, kappa, suggest
from sulvet.core.judgement.common import observations, triage_causes


class KappaTests(SimpleTestCase):
    def test_worked_examples(self) -> None:
        """Two readers of 50 grant proposals: .40; 100 cases 45, 15, 25, 15: .1304 and 25, 35,
        5, 35: .2593 (textbook examples, from memory)."""
        for counts, value in (((20, 5, 10, 15), 0.40), ((45, 15, 25, 15), 0.1304),
                              ((25, 35, 5, 35), 0.2593)):  # fmt: skip
            told = kappa(Counts(*counts))
            assert told is not None
            self.assertAlmostEqual(told.value, value, places=3)

    def test_the_interval_is_that_of_many_samples(self) -> None:
        """The asymptotic error against drawing the table anew 4000 times."""
        shares, n = np.array([0.3, 0.1, 0.1, 0.5]), 200
        rng = np.random.default_rng(7)
        values = [kappa(Counts(*map(int, rng.multinomial(n, shares)))) for _ in range(4000)]
        spread = float(np.std([v.value for v in values if v is not None]))
        told = kappa(Counts(*(int(v) for v in shares * n)))
        assert told is not None
        self.assertAlmostEqual((told.high - told.low) / 3.92, spread, delta=0.05 * spread)

    @given(st.lists(st.integers(0, 60), min_size=4, max_size=4))
    def test_it_lies_in_its_interval_and_says_nothing_of_little(self, cells: list[int]) -> None:
        told = kappa(Counts(*cells))
        if sum(cells) < agreement.ENOUGH:
            self.assertIsNone(told)
        if told is not None:
            self.assertTrue(-1 <= told.low <= told.value <= told.high <= 1)
            swapped = kappa(Counts(cells[0], cells[2], cells[1], cells[3]))
            assert swapped is not None
            self.assertAlmostEqual(swapped.value, told.value)

    def test_a_band_is_questioned_only_when_confirmed_lies_farther_out(self) -> None:
        self.assertEqual(suggest([1.2], [1.06, 1.08, 1.07], 0.8, 1.04), Suggestion("high", 1.08))
        self.assertEqual(suggest([], [0.5, 0.55, 0.52], 0.6, 0.75), Suggestion("low", 0.5))
        self.assertIsNone(suggest([1.07], [1.06, 1.08, 1.07], 0.8, 1.04))
        self.assertIsNone(suggest([1.2] * 4, [1.06, 1.08, 1.07], 0.8, 1.04))
        self.assertIsNone(suggest([], [1.06, 1.08], 0.8, 1.04))
        self.assertIsNone(suggest([], [1.06, 0.7, 1.07], 0.8, 1.04))


class TriageTests(SimpleTestCase):
    def test_equipment_first_then_what_the_film_shows(self) -> None:
        """Squeaks are mostly leaking fingers; a hard reed invites biting: common practice, no
        source."""
        told = triage.triage({"thin-sharp"}, "single-reed", {"bunched-chin"})
        self.assertEqual([a.cause.equipment for a in told], [True, False, False])
        self.assertEqual(told[1].seen, "bunched-chin")
        squeak = triage.triage({"squeaks"}, "single-reed", {"too-much-mouthpiece"})
        self.assertIn("Fingers leak", squeak[0].cause.look)
        brass = triage.triage({"air-only"}, "brass", {"pucker"})
        self.assertEqual([a.seen for a in brass], ["pucker", ""])
        self.assertFalse(any(a.cause.equipment for a in brass))

    def test_everything_heard_has_something_to_look_for_on_every_family(self) -> None:
        heard = {cause.heard for cause in triage_causes()}
        for one in observations().observations:
            if one.id in heard:
                for family in one.families or ("brass", "flute", "single-reed", "double-reed"):
                    self.assertTrue(triage.triage({one.id}, family, set()), (one.id, family))
        self.assertEqual(triage.triage(set(), "brass", {"smile"}), ())

    def test_examples_in_the_docstrings_hold(self) -> None:
        for module in (agreement, triage):
            self.assertEqual(doctest.testmod(module).failed, 0)
