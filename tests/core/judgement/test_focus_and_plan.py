"""One focus and why, and the two weeks that follow."""

from __future__ import annotations

import datetime
import doctest
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.data_files import DataFileError, read_table
from sulvet.core.judgement import focus, plan, standards
from sulvet.core.judgement.common import common
from sulvet.core.judgement.focus import Candidate, choose
from sulvet.core.judgement.plan import Calendar, drills_for, outcome, rechecks, strip
from sulvet.core.judgement.schema import Faults


@contextmanager
def _file(text: str) -> Iterator[Path]:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "faults.toml"
        path.write_text(text, "utf-8")
        yield path


FAULTS = [fault.id for fault in common().faults]


def stand(*faults: str) -> list[Candidate]:
    return [Candidate(fault, "hold") for fault in faults]


class FocusTests(SimpleTestCase):
    def test_the_order_of_fixing_is_that_of_the_trade(self) -> None:
        """Equipment, placement, lips, corners, chin, cheeks, aperture, stillness, sound:
        common practice, no source."""
        for first, later, group in (
            ("rim-low", "smile", "placement"), ("rolled-out-lip", "smile", "lips"),
            ("smile", "bulging-chin", "corners"), ("bunched-chin", "puffed-cheeks", "chin"),
            ("puffed-cheeks", "wide-aperture", "cheeks"), ("wide-aperture", "biting", "aperture"),
        ):  # fmt: skip
            for both in (stand(first, later), stand(later, first)):
                told = choose(both)
                self.assertEqual((told.fault, told.reason), (first, focus.ORDER))
                self.assertIn(group, told.why)
                self.assertEqual([w.fault for w in told.waits], [later])

    def test_what_causes_another_comes_first_and_says_so(self) -> None:
        """Bunched chin from swallowed lip, escaping air from loose corners: common practice,
        no source."""
        for cause, caused in (("swallowed-lip", "bunched-chin"), ("loose-corners", "escaping-air")):
            told = choose(stand(caused, cause))
            self.assertEqual((told.fault, told.reason), (cause, focus.CAUSE))
            self.assertIn(common().fault(caused).name.lower(), told.why)
            self.assertIn("may disappear", told.waits[0].why)

    def test_it_does_not_jump_about_but_the_teacher_may(self) -> None:
        kept = choose(stand("rim-low", "smile"), before="smile")
        self.assertEqual((kept.fault, kept.reason), ("smile", focus.KEPT))
        gone = choose(stand("rim-low"), before="smile")
        self.assertEqual(gone.fault, "rim-low")
        caused = choose(stand("bunched-chin", "swallowed-lip"), before="bunched-chin")
        self.assertEqual((caused.fault, caused.reason), ("swallowed-lip", focus.CAUSE))
        chosen = choose(stand("rim-low", "smile"), chosen="smile", before="rim-low")
        self.assertEqual((chosen.fault, chosen.reason), ("smile", focus.CHOSEN))
        self.assertEqual(choose(stand("rim-low"), chosen="smile").fault, "rim-low")

    def test_a_caution_comes_before_any_fault(self) -> None:
        told = choose(stand("smile"), cautions=("pain, numbness or dizziness",))
        self.assertIsNone(told.fault)
        self.assertIn("pain", told.why)
        self.assertEqual(len(told.waits), 1)

    @given(st.lists(st.sampled_from(FAULTS), unique=True), st.sampled_from(["", *FAULTS]))
    def test_one_of_what_stands_and_all_others_wait(self, faults: list[str], before: str) -> None:
        told = choose(stand(*faults), before=before)
        self.assertEqual({told.fault, *(w.fault for w in told.waits)} - {None}, set(faults))
        self.assertEqual(len(told.waits), max(len(faults) - 1, 0))
        again = choose(stand(*reversed(faults)), before=before)
        self.assertEqual(told, again)

    def test_examples_in_the_docstrings_hold(self) -> None:
        for module in (focus, plan, standards):
            self.assertEqual(doctest.testmod(module).failed, 0)


class WordsTests(SimpleTestCase):
    def test_a_child_is_spoken_to_kindly_and_shortly(self) -> None:
        for fault in common().faults:
            with self.subTest(fault.id):
                self.assertLess(len(fault.child), 110)
                for word in ("wrong", "bad", "ugly", "fat", "never", "fault", "don't"):
                    self.assertNotIn(word, fault.child.lower().split())
                self.assertTrue(fault.shows and fault.why and fault.confused_with)

    def test_data_that_can_not_be_is_refused_with_file_and_line(self) -> None:
        text = 'version = 1\ngroups = ["lips"]\n\n[[faults]]\nid = "x"\ngroup = 3\n'
        path = self.enterContext(_file(text))
        with self.assertRaises(DataFileError) as told:
            read_table(path, Faults)
        self.assertRegex(str(told.exception), r"faults\.toml, line 6: faults\.0\.group")
        one = {"id": "a", "group": "lips", "name": "", "shows": "", "why": "", "first_help": "",
               "child": "", "drills": ["placing"], "causes": ["b"]}  # fmt: skip
        table = {
            "version": 1,
            "groups": ["lips"],
            "faults": [one, {**one, "id": "b", "causes": []}],
        }
        with self.assertRaisesRegex(ValueError, "it stands later"):
            Faults.model_validate(table)


class PlanTests(SimpleTestCase):
    THURSDAY = datetime.date(2026, 11, 26)

    def test_two_weeks_with_rechecks_shifted_over_days_off(self) -> None:
        """A fortnight of doing it at every set-up, looked at after one week and two: common
        practice, no source."""
        free = ((datetime.date(2026, 12, 3), datetime.date(2026, 12, 4)),)
        calendar = Calendar(free=free)
        days = strip(self.THURSDAY, calendar)
        self.assertEqual((len(days), days[0].date), (14, datetime.date(2026, 11, 27)))
        self.assertEqual([d.number for d in days if d.off], [2, 3, 7, 8, 9, 10])
        due = rechecks(self.THURSDAY, calendar)
        # Day 7 is a free Thursday, then Friday free, then the weekend: Monday.
        self.assertEqual(due[7], datetime.date(2026, 12, 7))
        self.assertEqual(due[14], datetime.date(2026, 12, 10))

    @given(
        st.dates(datetime.date(2020, 1, 1), datetime.date(2035, 1, 1)),
        st.sets(st.integers(0, 6), max_size=6),
        st.lists(st.tuples(st.integers(-5, 20), st.integers(0, 9)), max_size=3),
    )
    def test_rechecks_are_never_early_never_off_and_in_order(
        self, start: datetime.date, weekdays: set[int], free: list[tuple[int, int]]
    ) -> None:
        days = datetime.timedelta(days=1)
        calendar = Calendar(
            tuple(weekdays), tuple((start + a * days, start + (a + n) * days) for a, n in free)
        )
        due = rechecks(start, calendar)
        for number, day in due.items():
            self.assertGreaterEqual(day, start + number * days)
            self.assertFalse(calendar.is_off(day))
        self.assertLessEqual(due[7], due[14])

    def test_a_year_without_school_is_said(self) -> None:
        with self.assertRaisesRegex(ValueError, "no school day"):
            Calendar(weekdays=tuple(range(7))).next_on(self.THURSDAY)

    def test_drills_are_counted_as_they_are_told(self) -> None:
        """Common practice, no source: the numbers of the drills' own names."""
        counted = {d.id: d.counting for d in common().drills if d.counting is not None}
        rounds = {
            name: [(r.times, [(b.do, b.counts) for b in r.beats]) for r in one.rounds]
            for name, one in counted.items()
        }
        ((times, beats),) = rounds["four-by-four"]
        self.assertEqual((times, ("tone", 4) in beats), (4, True))
        ((times, beats),) = rounds["four-ones"]
        self.assertEqual((times, beats.count(("tone", 1))), (4, 4))
        ratios = [(dict(b)["in"], dict(b)["out"]) for _, b in rounds["breath-ratio"]
                  if len(b) == 2]  # fmt: skip
        self.assertEqual(ratios, [(4, 4), (2, 4), (1, 4), (1, 8), (1, 16)])
        ((times, beats),) = rounds["mouthpiece-tone"]
        self.assertEqual((times, dict(beats)["tone"]), (4, 10))
        # As much rest as was played.
        self.assertEqual(dict(beats)["rest"], dict(beats)["tone"])
        for name, one in counted.items():
            seconds = sum(r.times * b.counts for r in one.rounds for b in r.beats)
            self.assertLessEqual(seconds * 60 / one.tempo, 60 * common().drill(name).minutes)

    def test_one_or_two_drills_within_the_minutes_and_the_stage(self) -> None:
        smile = common().fault("smile")
        self.assertEqual([d.id for d in drills_for(smile, "lips", 10)], ["mirror-form", "hold-out"])
        self.assertEqual([d.id for d in drills_for(smile, "lips", 5)], ["mirror-form"])
        self.assertEqual([d.id for d in drills_for(smile, "instrument", 10)], ["hold-out"])
        for fault in common().faults:
            for stage in plan.STAGES:
                self.assertIn(len(drills_for(fault, stage, 8)), (1, 2))

    def test_how_it_goes_on(self) -> None:
        cases: tuple[tuple[int, str, plan.Stage, bool, str, plan.Stage | None], ...] = (
            (7, "in band", "instrument", False, plan.CARRY_ON, "instrument"),
            (14, "in band", "instrument", False, plan.PASSED, None),
            (14, "in band", "lips", False, plan.NEXT_STAGE, "mouthpiece"),
            (7, "fault", "instrument", False, plan.CARRY_ON, "instrument"),
            (7, "fault", "instrument", True, plan.STEP_BACK, "mouthpiece"),
            (14, "fault", "mouthpiece", False, plan.STEP_BACK, "lips"),
            (14, "fault", "lips", True, plan.REPEAT, "lips"),
            (14, "watch", "instrument", False, plan.REPEAT, "instrument"),
            (14, "can't tell", "instrument", False, plan.FILM_AGAIN, "instrument"),
        )  # fmt: skip
        for day, verdict, stage, worse, answer, then in cases:
            told = outcome(day, verdict, stage, worse)
            self.assertEqual((told.answer, told.stage), (answer, then), (day, verdict, stage))
