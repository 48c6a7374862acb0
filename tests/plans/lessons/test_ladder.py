"""The ladder over HTTP: who stands where, what passes a step, what is given without a fault."""

from __future__ import annotations

import datetime
from typing import Any

from django.test import tag
from django.urls import reverse
from django.utils import timezone

from sulvet.lessons.models import GivenDrill, LadderMove, Standing
from sulvet.takes.models import Take, TakeSound
from tests.base import BandTestCase

DAY = datetime.timedelta(days=1)


class LadderCase(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.ladder = reverse("ladder", args=[self.student.pk])

    def moved(self, do: str, heard: str = "", expect: int = 200, *students: int) -> Any:
        body = {"students": list(students) or [self.student.pk], "do": do, "heard": heard}
        return self.sent("post", reverse("lessons"), body, expect)

    def row(self) -> Any:
        rows = self.sent("get", reverse("lessons"))["rows"]
        return next(row for row in rows if row["student"] == self.student.pk)

    def stand_at(self, step: str, days: int = 3) -> None:
        since = timezone.localdate() - days * DAY
        Standing.objects.update_or_create(
            student=self.student, defaults={"step": step, "since": since, "heard": ""}
        )


@tag("database")
class MoveTests(LadderCase):
    def test_reading_stores_nothing_and_a_tap_passes_for_several_at_once(self) -> None:
        other = self.add_student("Nils", instrument="clarinet")
        self.assertEqual((self.row()["step"], self.row()["days"]), ("set-up", None))
        self.sent("get", self.ladder)
        self.assertFalse(Standing.objects.exists())
        rows = self.moved("pass", "", 200, self.student.pk, other.pk)["rows"]
        self.assertEqual({row["step"] for row in rows}, {"breath"})
        self.assertEqual(LadderMove.objects.filter(what="passed", step="set-up").count(), 2)

    def test_a_step_that_does_not_hold_goes_one_back_and_the_end_is_the_end(self) -> None:
        self.stand_at("hold-10")
        self.moved("back")
        self.assertEqual(self.row()["step"], "hold-4")
        self.stand_at("change")
        self.moved("pass")
        self.assertEqual(self.row()["step"], "")
        page = self.sent("get", self.ladder)
        self.assertEqual({step["state"] for step in page["steps"]}, {"passed"})
        self.moved("back")
        self.assertEqual(self.row()["step"], "change")

    def test_who_has_no_sound_gets_the_remedy_for_what_is_heard(self) -> None:
        self.stand_at("shape")
        self.assertIn("no sound", self.moved("no-sound", "air-only", 400)["detail"])
        self.stand_at("sound")
        self.assertIn("air-only", [one["id"] for one in self.row()["asks"]])
        self.moved("no-sound", "air-only")
        page = self.sent("get", self.ladder)
        self.assertEqual(page["row"]["step"], "sound")
        self.assertIn("Lips too open", page["remedies"][0]["look"])
        self.moved("pass")
        self.assertEqual(self.sent("get", self.ladder)["remedies"], [])

    def test_who_is_stuck_longest_comes_first(self) -> None:
        self.stand_at("sound", days=9)
        other = self.add_student("Aad")
        Standing.objects.create(student=other, step="sound", since=timezone.localdate())
        rows = self.sent("get", reverse("lessons"))["rows"]
        self.assertEqual([(r["name"], r["days"]) for r in rows], [("Edda", 9), ("Aad", 0)])

    def test_too_much_at_once_leaves_the_tongue_out(self) -> None:
        self.stand_at("tongue")
        page = self.sent("put", self.ladder, {"without": "tongue"})
        self.assertNotIn("tongue", [step["id"] for step in page["steps"]])
        self.assertEqual(page["row"]["step"], "instrument")
        self.sent("put", self.ladder, {"set_up": ["nonsense"]}, 400)
        page = self.sent("put", self.ladder, {"set_up": ["shank-fingers"]})
        self.assertTrue(next(r for r in page["set_up"] if r["id"] == "shank-fingers")["ticked"])

    def test_ladders_of_another_teacher_are_not_found(self) -> None:
        self.client.force_login(self.stranger)
        self.sent("get", self.ladder, expect=404)
        self.sent("put", self.ladder, {"without": "tongue"}, 404)
        self.assertIn("no longer there", self.moved("pass", expect=400)["detail"])
        self.assertEqual(self.sent("get", reverse("lessons"))["rows"], [])


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
        self.held(4.0, "mouthpiece")
        self.held(12.0, "mouthpiece", days=30)
        self.assertEqual(self.row()["ready"], "", "another stage, too short, or before")
        take = self.held(8.6, "mouthpiece")
        self.assertIn("Held 8.6 s", self.row()["ready"])
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


@tag("database")
class GivenTests(LadderCase):
    def give(self, expect: int = 201, **what: Any) -> Any:
        body = {"students": [self.student.pk], "days": 5, **what}
        return self.sent("post", reverse("given"), body, expect)

    def test_any_drill_is_given_ticked_and_handed_in_again(self) -> None:
        (row,) = self.give(drill="siren", stage="lips", level=2, rounds=3, tempo=60)
        self.assertEqual(row["name"], "Siren, with the lips alone, 3 times, at 60")
        self.assertEqual(row["about"], "Intermediate: a third")
        address = reverse("one-given", args=[row["id"]])
        today = timezone.localdate().isoformat()
        self.assertEqual(self.sent("put", address, {"date": today, "done": True})["done"], [today])
        # Done on three days it may rise, and no sooner.
        self.assertIn("once the exercise", self.sent("patch", address, expect=400)["detail"])
        one = GivenDrill.objects.get()
        one.given_on -= 2 * DAY
        one.done = [(one.given_on + n * DAY).isoformat() for n in range(3)]
        one.save()
        higher = self.sent("patch", address, expect=201)
        self.assertEqual(higher["about"], "Advanced: a fifth")
        GivenDrill.objects.filter(pk=higher["id"]).delete()
        later = (timezone.localdate() + DAY).isoformat()
        self.assertIn("future", self.sent("put", address, {"date": later, "done": True}, 400)[
            "detail"])  # fmt: skip
        self.sent("post", address, {"why": " "}, 400)
        again = self.sent("post", address, {"why": "My lips were sore."}, 201)
        self.assertEqual((again["again"], again["done"]), ("My lips were sore.", []))
        given = self.sent("get", self.ladder)["given"]
        self.assertEqual([one["id"] for one in given], [again["id"], row["id"]])
        self.client.force_login(self.stranger)
        self.sent("delete", address, expect=404)

    def test_what_an_instrument_can_not_do_is_refused_by_name(self) -> None:
        self.assertIn("for other instruments", self.give(400, drill="crow", stage="mouthpiece")[
            "detail"])  # fmt: skip
        self.assertIn("another stage", self.give(400, drill="siren", stage="instrument")["detail"])
        self.assertIn("levels", self.give(400, drill="siren", stage="lips", level=7)["detail"])
        self.assertIn("a drill or a routine", self.give(400)["detail"])
        self.assertIn("other instruments", self.give(400, routine="head-joint")["detail"])
        (row,) = self.give(routine="buzz-day")
        self.assertEqual(len(row["drills"]), 9)
        library = self.sent("get", reverse("drills"))
        self.assertIn("horn-buzz", [one["id"] for one in library["routines"]])
