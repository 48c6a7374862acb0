"""Advice fits whom it is given to: words, drills and examples against the faults and families."""

from __future__ import annotations

from collections.abc import Iterator

from django.test import SimpleTestCase

from sulvet.core.eye.schema import cases
from sulvet.core.judgement.common import common, measures_of, triage_causes, worded
from sulvet.core.judgement.corroboration import measures_needed
from sulvet.core.judgement.standards import shipped_standards
from sulvet.core.lessons.ladder import ladder_of

DOUBLE = "double-reed"


def to_double_reeds() -> Iterator[tuple[str, str]]:
    """Where, and what players of double reeds are told of reeds."""
    for fault in common().faults:
        if DOUBLE in fault.families:
            told = fault.worded(DOUBLE)
            for words in (told.name, told.shows, told.first_help, told.confused_with, told.child):
                yield f"fault {fault.id}", words
            for drill in map(common().drill, told.drills):
                if drill.families:
                    yield from ((f"drill {drill.id}", words) for words in drill.steps)
    for cause in triage_causes():
        if DOUBLE in cause.families:
            yield from ((f"cause of {cause.heard}", words) for words in (cause.look, cause.help))


class AdviceTests(SimpleTestCase):
    def test_double_reeds_are_told_of_reeds_and_not_of_mouthpieces(self) -> None:
        told = list(to_double_reeds())
        self.assertGreater(len(told), 40)
        self.assertEqual([one for one in told if "mouthpiece" in one[1].lower()], [])

    def test_a_fault_is_worded_for_its_family_and_the_side_of_its_limit(self) -> None:
        low = worded("angle-out", "brass", {"value": 10.0, "edge": 20.0})
        high = worded("angle-out", "brass", {"value": 30.0, "edge": 20.0})
        self.assertEqual(low.name, "Instrument held too low")
        self.assertNotEqual(high.name, low.name)
        self.assertEqual(worded("angle-out", "brass"), common().fault("angle-out", "brass"))

    def test_what_must_be_told_for_a_fault_to_be_found(self) -> None:
        smile = frozenset({"corner_rise", "mouth_width"})
        self.assertIn(smile, measures_needed("smile", "front"))
        self.assertNotIn(smile, measures_needed("smile", "side"))
        self.assertNotIn(smile, measures_needed("pucker", "front"))
        self.assertEqual(set(measures_of("smile", "front")), smile)
        self.assertEqual(measures_of("smile", "side"), ())

    def test_help_that_names_a_drill_leads_to_it(self) -> None:
        names = {drill.name.lower(): drill.id for drill in common().drills}
        for cause in triage_causes():
            named = {drill for name, drill in names.items() if name in cause.help.lower()}
            self.assertLessEqual(named, {cause.drill}, cause.help)

    def test_no_example_shows_a_fault_that_its_instrument_can_not_have(self) -> None:
        faults = {fault.id: fault for fault in common().faults}
        for case in cases().cases:
            for family in case.families:
                self.assertTrue(faults[case.fault].suits(family), (case.fault, family))

    def test_the_ladder_of_each_instrument_names_the_share_of_the_blade_its_standard_does(
        self,
    ) -> None:
        for instrument, share in (("oboe", "A quarter to two fifths"),
                                  ("bassoon", "Half to two thirds")):  # fmt: skip
            standard = shipped_standards()[instrument]
            (place,) = [step for step in ladder_of(standard) if step.id == "place"]
            bands = [band for band in standard.bands if band.measure == "depth"]
            self.assertIn(share, place.remedy)
            self.assertTrue(any(share.lower() in band.note.lower() for band in bands), instrument)
