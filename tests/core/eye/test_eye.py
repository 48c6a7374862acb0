"""Practising the eye: the library's truth, rounds by lot, and scores that mean something."""

from __future__ import annotations

from collections import Counter

import numpy as np
from django.test import SimpleTestCase
from scipy.stats import norm

from sulvet.core.anatomy.landmarks import BY_ID
from sulvet.core.dataset.people import tone_of
from sulvet.core.eye import catalogue, library, rounds, score
from sulvet.core.eye.loop import Loop, filmed_on
from sulvet.core.eye.schema import cases, figures
from sulvet.core.eye.score import Answer, Trials
from sulvet.core.judgement.agreement import Counts, kappa
from sulvet.core.judgement.common import common
from sulvet.core.judgement.standards import shipped_standards


def named(number: str) -> Loop:
    return catalogue.by_id()[number]


class LibraryTests(SimpleTestCase):
    def test_every_instrument_has_right_wrong_and_look_alike_in_three_degrees(self) -> None:
        for instrument in shipped_standards():
            mine = [o for o in library.library() if o.instrument == filmed_on(instrument)]
            self.assertEqual({o.view for o in mine}, {"front", "side"}, instrument)
            self.assertLessEqual({"right", "fault", "alike", "untold"}, {o.kind for o in mine})
            for view in ("front", "side"):
                for fault in catalogue.faults_on(instrument, view):
                    common().fault(fault)
                    degrees = {o.degree for o in mine if o.view == view and o.faults == (fault,)}
                    self.assertEqual(degrees, {0, 1, 2}, (instrument, view, fault))

    def test_a_script_draws_what_is_said_of_it(self) -> None:
        smiles = [library.script_of(named(f"horn-front-smile-{n}")) for n in (1, 2, 3)]
        rises = [s.steps[-1].pose["rise_r"] for s in smiles]
        self.assertEqual(rises, [4.0, 7.0, 10.0])
        self.assertEqual(library.script_of(named("horn-front-right-1")).steps[-1].pose, {})
        low = library.script_of(named("trumpet-front-rim-low-3"))
        self.assertEqual(low.steps[-1].holds, {"upper_share": 0.30})
        # What comes and goes is not there from the start.
        loose = library.script_of(named("flute-front-loose-corners-2"))
        self.assertEqual((loose.steps[-1].pose, {f.fault for f in loose.faults}),
                         ({}, {"loose-corners"}))  # fmt: skip
        again = library.script_of(named("horn-front-smile-1"))
        self.assertEqual(again, smiles[0], "the same each time")

    def test_the_people_are_children_of_every_skin_tone(self) -> None:
        tones = Counter(tone_of(person) for person in library.players())
        self.assertEqual(set(tones.values()), {library.PEOPLE // 3})
        right = [o for o in library.library() if o.kind == "right" and o.instrument == "horn"]
        shown = [tone_of(library.script_of(o).who) for o in right]
        self.assertEqual(shown, ["light", "medium", "dark"] * 2)
        self.assertLess(max(person.age for person in library.players()), library.GROWN)

    def test_marks_are_landmarks(self) -> None:
        self.assertEqual([m for c in cases().cases for m in c.marks if m not in BY_ID], [])


class RoundTests(SimpleTestCase):
    def test_twelve_by_lot_none_twice(self) -> None:
        for instrument in shipped_standards():
            for level in rounds.LEVELS:
                chosen = rounds.choose(instrument, level, 7)
                self.assertEqual(len({one.id for one in chosen}), figures().length, instrument)
                self.assertEqual(chosen, rounds.choose(instrument, level, 7))
                self.assertIn("untold", {one.kind for one in chosen})
        slight = rounds.choose("horn", "slight", 1)
        self.assertEqual({o.degree for o in slight if len(o.faults) == 1}, {0})

    def test_where_one_errs_comes_oftener(self) -> None:
        def count(errs: dict[str, float]) -> int:
            return sum(
                "rim-high" in one.faults
                for lot in range(60)
                for one in rounds.choose("horn", "clear", lot, errs)
            )

        self.assertGreater(count({"rim-high": 1.0}), 1.8 * count({}))

    def test_what_was_shown_lately_waits_but_for_one(self) -> None:
        lately = {one.id for one in rounds.choose("horn", "clear", 1)}
        again = rounds.choose("horn", "clear", 2, lately=lately)
        seen = [one for one in again if one.id in lately]
        self.assertGreaterEqual(len([o for o in seen if o.kind == "fault"]), 1)
        self.assertLess(len(seen), figures().length // 2)


class ScoreTests(SimpleTestCase):
    def test_published_values(self) -> None:
        """d' of hits .80 and false alarms .20 is 1.683 (signal detection textbooks). Kappa of
        20, 5, 10, 15 is .4 (a worked example met in textbooks, from memory)."""
        found = score.sensitivity(Trials(80, 100, 20, 100))
        assert found is not None
        self.assertAlmostEqual(found.value, 1.683, 3)
        self.assertAlmostEqual(found.bias, 0.0, 6)
        agreed = kappa(Counts(20, 5, 10, 15))
        assert agreed is not None
        self.assertAlmostEqual(agreed.value, 0.4, 6)

    def test_a_judge_with_known_sensitivity_is_recovered(self) -> None:
        """Evidence is normal, 0 or d' on average, said above a criterion: the interval holds the
        truth in about 95 of 100."""
        rng = np.random.default_rng(4)
        for truth, criterion in ((0.8, 0.4), (1.8, 1.2), (2.6, 0.9)):
            held = 0
            for _ in range(300):
                hits = int((rng.normal(truth, 1, 80) > criterion).sum())
                alarms = int((rng.normal(0, 1, 80) > criterion).sum())
                found = score.sensitivity(Trials(hits, 80, alarms, 80))
                assert found is not None
                held += found.low <= truth <= found.high
            self.assertGreater(held / 300, 0.90, truth)
        self.assertIsNone(score.sensitivity(Trials(3, 3, 0, 50)))

    def test_the_degree_seen_half_of_the_time(self) -> None:
        rng = np.random.default_rng(9)
        loops = [named(f"horn-front-smile-{n}") for n in (1, 2, 3)]
        answers = []
        for one in loops * 60:
            amount = cases().degrees[one.degree or 0]
            sees = rng.uniform() < norm.cdf((amount - 0.55) / 0.15)
            answers.append(Answer(one, frozenset({"smile"} if sees else ())))
        (smile,) = (one for one in score.by_fault(answers) if one.fault == "smile")
        assert smile.seen_at is not None
        self.assertAlmostEqual(smile.seen_at, 0.55, delta=0.08)

    def test_what_counts_as_right(self) -> None:
        wrong, fine = named("horn-front-smile-3"), named("horn-front-right-1")
        alike, untold = named("horn-front-like-smile"), named("horn-front-untold")
        for one, faults, is_untold, right in (
            (wrong, {"smile"}, False, True), (wrong, {"smile", "rim-low"}, False, False),
            (wrong, set(), True, False), (fine, set(), False, True),
            (alike, {"smile"}, False, False), (alike, set(), False, True),
            (untold, set(), True, True), (untold, set(), False, False),
        ):  # fmt: skip
            self.assertEqual(Answer(one, frozenset(faults), is_untold).right, right, one.id)
        # A look-alike that was taken for a smile is a false alarm; what can't be told is no trial.
        told = [Answer(wrong, frozenset({"smile"})), Answer(alike, frozenset({"smile"})),
                Answer(untold, frozenset({"smile"}))]  # fmt: skip
        (smile,) = (one for one in score.by_fault(told) if one.fault == "smile")
        self.assertEqual(smile.trials, Trials(1, 1, 1, 1))

    def test_agreement_with_oneself(self) -> None:
        loops = [one for one in library.library() if one.instrument == "horn"][:20]
        same = [(Answer(o, frozenset(o.faults)), Answer(o, frozenset(o.faults))) for o in loops]
        agreed = score.with_oneself(same)
        assert agreed is not None
        self.assertAlmostEqual(agreed.value, 1.0)
