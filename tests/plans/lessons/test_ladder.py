"""What speaks for passing a step, and what is ticked on a take."""

from __future__ import annotations

from typing import Any

from django.test import tag
from django.urls import reverse
from django.utils import timezone

from sulvet.takes.models import Take, TakeSound
from tests.lessons.base import DAY, LadderCase


@tag("database")
class EvidenceTests(LadderCase):
    def held(self, seconds: float, stage: str, days: int = 0) -> Take:
        """A take on which a tone was heard so long."""
        take = self.add_ready()
        Take.objects.filter(pk=take.pk).update(filmed_on=timezone.localdate() - days * DAY)
        take.readings.create(measure="hold_time", phase="hold", value=seconds, uncertainty=0.1,
                             unit="s", verdict="no band")  # fmt: skip
        TakeSound.objects.create(take=take, heard={"stage": stage})
        return take

    def test_a_tone_that_was_held_speaks_for_passing_on_its_own_stage(self) -> None:
        self.stand_at("hold-10")
        self.held(9.0, "instrument")
        self.held(8.6, "mouthpiece")
        self.held(12.0, "mouthpiece", days=30)
        self.assertEqual(self.row()["ready"], "", "another stage, too short, or before")
        take = self.held(9.2, "mouthpiece")
        self.assertIn("Held 9.2 s", self.row()["ready"])
        self.assertEqual(self.row()["take"], take.pk)

    def test_readings_within_the_standard_speak_for_the_shape(self) -> None:
        self.stand_at("shape", days=400)
        take = self.add_ready(rise=0.5, width=1.0)
        self.assertIn("Within standard", self.row()["ready"])
        take.readings.filter(measure="mouth_width").update(verdict="fault")
        self.assertEqual(self.row()["ready"], "")

    def test_a_larger_band_costs_no_more_queries(self) -> None:
        self.held(9.0, "mouthpiece")
        with self.assertNumQueries(6):
            self.client.get(reverse("lessons"))
        for name in ("Aad", "Bea", "Cem"):
            self.add_ready(self.add_student(name))
        with self.assertNumQueries(6):
            self.client.get(reverse("lessons"))


@tag("database")
class TickTests(LadderCase):
    def ticked(self, take: Take, *seen: str) -> Any:
        return self.sent("put", reverse("observations", args=[take.pk]), {"seen": list(seen)})

    def test_a_tick_is_a_finding_with_a_drill_in_the_order_of_fixing(self) -> None:
        take = self.add_ready(rise=0.5, width=1.0)
        page = self.ticked(take, "throat-closed", "presses")
        own = [(f["fault"], f["verdict"]) for f in page["findings"]]
        self.assertEqual(own, [("presses", "added"), ("throat-closed", "added")])
        self.assertEqual(page["focus"]["fault"], "presses")
        self.assertIn("Light hand", page["findings"][0]["drill"])
        page = self.ticked(take, "throat-closed")
        self.assertEqual([f["fault"] for f in page["findings"]], ["throat-closed"])
        # The finding taken back takes the tick with it.
        answer = {"fault": "throat-closed", "phase": "hold", "answer": "", "reason": ""}
        page = self.sent("put", reverse("decisions", args=[take.pk]), answer)
        self.assertFalse(any(one["seen"] for one in page["observations"]))
        page = self.sent("post", reverse("undo", args=[take.pk]))
        self.assertEqual([f["fault"] for f in page["findings"]], ["throat-closed"])

    def test_no_tongue_is_a_fault_only_where_it_was_taught(self) -> None:
        take = self.add_ready(rise=0.5, width=1.0)
        self.stand_at("hold-4")
        self.assertEqual(self.ticked(take, "no-tongue")["findings"], [])
        self.ticked(take)
        self.stand_at("instrument")
        self.assertEqual(len(self.ticked(take, "no-tongue")["findings"]), 1)
