"""Several holds of a take: read together, the worst named, each fault once."""

from __future__ import annotations

from django.test import SimpleTestCase

from sulvet.core.judgement.judge import judge
from sulvet.core.judgement.results import CANT_TELL, FAULT, IN_BAND, Finding, Reading
from sulvet.core.judgement.schema import Band
from sulvet.core.judgement.several_holds import one_each, over_holds
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.phases import Phase
from tests.base import outcome

BAND = Band(measure="corner_rise", high=3.0, watch_high=2.0, note="")


def reading(value: float | None, phase: str = "hold") -> Reading:
    sure = None if value is None else 1.0
    return Reading("corner_rise", phase, value, sure, "°", CANT_TELL if value is None else IN_BAND)


class OverHoldsTests(SimpleTestCase):
    """One reading over all holds."""

    def test_the_median_with_the_worst_named(self) -> None:
        rows = [(1, reading(1.0)), (2, reading(5.0, "start")), (3, reading(None)),
                (4, reading(7.0)), (6, reading(2.0))]  # fmt: skip
        found = over_holds(rows, lambda _: BAND)
        self.assertEqual([r.phase for r in found], ["hold", "start"])
        one = found[0]
        self.assertEqual((one.value, one.verdict), (2.0, IN_BAND))
        assert one.worst is not None
        self.assertEqual((one.worst.nth, one.worst.of, one.worst.value), (3, 4, 7.0))
        # One hold stays as it is, and what is told of none stays untold.
        self.assertEqual(over_holds(rows[:2], lambda _: BAND), [rows[0][1], rows[1][1]])
        nowhere = over_holds([(0, reading(None)), (1, reading(None))], lambda _: BAND)
        self.assertEqual([r.verdict for r in nowhere], [CANT_TELL])

    def test_a_fault_of_one_tone_is_found_and_where(self) -> None:
        def found(verdict: str, start: float) -> Finding:
            return Finding("smile", verdict, "hold", start, start + 1, 3, ())

        (one,) = one_each([(1, found(CANT_TELL, 0)), (2, found(FAULT, 2)), (4, found(FAULT, 6))], 4)
        self.assertEqual((one.verdict, one.holds, one.start), (FAULT, (2, 4), 2))
        # Not told of one hold while others are right: nothing to say. Of none: that.
        self.assertEqual(one_each([(1, found(CANT_TELL, 0))], 2), [])
        untold = one_each([(1, found(CANT_TELL, 0)), (2, found(CANT_TELL, 2))], 2)
        self.assertEqual([f.verdict for f in untold], [CANT_TELL])

    def test_two_holds_of_one_smile_are_one_finding(self) -> None:
        """A take cut into two holds has the faults it has with one."""
        made = outcome()
        (hold,) = [p for p in made.phases if p.name == "hold"]
        middle = (hold.start + hold.end) / 2
        halves = [Phase("hold", hold.start, middle - 0.05), Phase("hold", middle + 0.05, hold.end)]
        others = [p for p in made.phases if p.name != "hold"]
        standard = shipped_standard("clarinet")
        whole, parted = (
            judge(made.marks, phases, standard, "front", standard.schools[0].id)
            for phases in (made.phases, [*others, *halves])
        )
        self.assertEqual([f.fault for f in parted.findings], [f.fault for f in whole.findings])
        smile = next(f for f in parted.findings if f.verdict == FAULT)
        self.assertEqual(smile.holds, (1, 2))
        for a, b in zip(whole.readings, parted.readings, strict=True):
            self.assertEqual((a.measure, a.phase), (b.measure, b.phase))
