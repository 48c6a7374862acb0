"""Every drill, tick, step, routine and note to aim at is reached from somewhere, and fits there."""

from __future__ import annotations

from django.test import SimpleTestCase

from sulvet.core.judgement.common import common, observations, triage_causes
from sulvet.core.judgement.intended_note import stages_of
from sulvet.core.judgement.plan import drills_for
from sulvet.core.judgement.standards import shipped_standards
from sulvet.core.judgement.triage import triage
from sulvet.core.lessons import ladder

STANDARDS = tuple(shipped_standards().values())
FAMILIES = ("brass", "flute", "single-reed", "double-reed")


class ReachTests(SimpleTestCase):
    def test_every_drill_is_led_to_by_a_fault_a_symptom_a_step_or_a_routine(self) -> None:
        """Beside the list of all drills, from which any can be given."""
        by_faults = {d for f in common().faults for fa in FAMILIES for d in f.worded(fa).drills}
        by_symptoms = {cause.drill for cause in triage_causes()}
        by_steps = {step.drill for one in STANDARDS for step in ladder.ladder_of(one)}
        by_routines = {part.drill for one in ladder.routines() for part in one.parts}
        led_to = by_faults | by_symptoms | by_steps | by_routines
        self.assertEqual({drill.id for drill in common().drills} - led_to, set())

    def test_every_drill_that_is_named_to_a_family_is_for_it(self) -> None:
        for fault in common().faults:
            for family in fault.families or FAMILIES:
                for name in fault.worded(family).drills:
                    self.assertTrue(common().drill(name).suits(family), f"{fault.id} {family}")
        for cause in triage_causes():
            for family in cause.families or FAMILIES:
                self.assertTrue(common().drill(cause.drill).suits(family), cause.look)
        for standard in STANDARDS:
            for step in ladder.ladder_of(standard):
                self.assertTrue(common().drill(step.drill).suits(standard.family), step.id)
            for one in ladder.routines():
                if one.suits(standard):
                    for part in one.parts:
                        suits = common().drill(part.drill).suits(standard.family)
                        self.assertTrue(suits, f"{one.id} {standard.instrument}")

    def test_every_tick_leads_to_a_finding_a_cause_a_caution_or_a_check(self) -> None:
        checked = {one.id for one in observations().observations if one.id.endswith("-fine")}
        for one in observations().observations:
            for family in one.families or FAMILIES:
                if one.fault:
                    self.assertTrue(common().fault(one.fault).suits(family), one.id)
                elif not (one.caution or one.id in checked):
                    self.assertTrue(triage({one.id}, family, set()), f"{one.id} {family}")

    def test_every_instrument_has_a_whole_ladder_a_card_notes_and_routines(self) -> None:
        for standard in STANDARDS:
            with self.subTest(standard.instrument):
                steps = ladder.ladder_of(standard)
                self.assertEqual(tuple(step.id for step in steps), ladder.step_ids())
                self.assertGreaterEqual(len(ladder.set_up_card(standard)), 5)
                self.assertGreaterEqual(sum(one.suits(standard) for one in ladder.routines()), 4)
                notes = {target.stage for target in standard.targets}
                self.assertLessEqual({"mouthpiece", "instrument"}, notes)
                self.assertLessEqual(notes, set(stages_of(standard)))
                for step in steps:
                    for measure in step.passes.measures:
                        judged = any(standard.has_band(measure, v) for v in ("front", "side"))
                        self.assertTrue(judged, f"{step.id}: {measure} is never judged")
                    self.assertNotIn("{", step.do + step.say + step.look + step.remedy)


class LadderTests(SimpleTestCase):
    def test_the_tone_that_passes_a_step_is_the_one_its_drill_counts(self) -> None:
        held = [step for step in ladder.rows() if step.passes.by == "pitch" and not step.remedial]
        for step in held:
            counting = common().drill(step.drill).counting
            assert counting is not None, step.id
            tones = {b.counts for r in counting.rounds for b in r.beats if b.do == "tone"}
            asked = step.passes.counts or step.passes.seconds * counting.tempo / 60
            # The first note on the instrument comes before its long tones, half as long.
            times = 2 if step.id == "instrument" else 1
            self.assertEqual({times * asked}, tones, step.id)
        four = next(step for step in held if step.id == "hold-4")
        self.assertEqual(ladder.tone_of(four), 4.0)
        self.assertTrue(ladder.is_long_enough(four, 3.5))
        self.assertFalse(ladder.is_long_enough(four, 3.4))

    def test_what_is_too_much_is_left_out_and_the_rest_stays_in_order(self) -> None:
        horn = shipped_standards()["horn"]
        whole, without = ladder.ladder_of(horn), ladder.ladder_of(horn, "tongue")
        self.assertEqual([s for s in whole if s.id != "tongue"], list(without))
        self.assertEqual(ladder.step_after(without, "hold-10"), "instrument")
        self.assertEqual(ladder.step_before(without, "instrument"), "hold-10")
        self.assertIsNone(ladder.step_after(whole, "change"))
        self.assertIsNone(ladder.step_before(whole, "set-up"))

    def test_a_drill_speaks_the_words_of_its_stage(self) -> None:
        smile = common().fault("smile", "brass")
        (_, hold_out) = drills_for(smile, "lips", 10)
        self.assertNotIn("tone", " ".join(hold_out.steps[:2]))
        self.assertIn("“mmm”", smile.child)
        self.assertIn("pooh", common().fault("smile", "flute").child)
        self.assertEqual(common().fault("angle-out", "brass", "below").name,
                         "Instrument held too low")  # fmt: skip
