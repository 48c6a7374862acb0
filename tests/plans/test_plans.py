"""Two weeks after a focus: begun, practised, rechecked, passed; and whose they are."""

from __future__ import annotations

import datetime
from typing import Any

import icalendar
from django.db import connection
from django.test import Client, tag
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from django.utils import timezone

from sulvet.band.models import Student
from sulvet.plans.models import Plan, Recheck
from sulvet.plans.verdicts import is_worse
from sulvet.takes.models import Take, TakeSound
from tests.base import BandTestCase

DAYS = datetime.timedelta(days=1)


class PlanCase(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.today = timezone.localdate()
        self.first = self.filmed(15)

    def filmed(self, days_ago: int, **told: Any) -> Take:
        take = self.add_ready(**told)
        Take.objects.filter(pk=take.pk).update(filmed_on=self.today - days_ago * DAYS)
        return take

    def decide(self, take: Take, answer: str = "confirmed", fault: str = "smile") -> Any:
        body = {"fault": fault, "phase": "hold", "answer": answer, "reason": "seen"}
        return self.sent("put", reverse("decisions", args=[take.pk]), body)

    def begin(self, days_ago: int = 15, expect: int = 201, **more: Any) -> Any:
        body = {"stage": "instrument", "minutes": 8, **more,
                "started_on": (self.today - days_ago * DAYS).isoformat()}  # fmt: skip
        return self.sent("post", reverse("take-plan", args=[self.first.pk]), body, expect)

    def accept(self, recheck: dict[str, Any], expect: int = 200) -> Any:
        return self.sent("post", reverse("recheck", args=[recheck["id"]]), None, expect)


@tag("database")
class RunTests(PlanCase):
    def test_from_the_focus_over_day_7_and_14_to_passed(self) -> None:
        self.decide(self.first)
        self.student.refresh_from_db()
        self.assertEqual(self.student.focus, "smile")
        plan = self.begin()["running"]
        self.assertEqual([d["id"] for d in plan["drills"]], ["hold-out"])
        self.assertIn("mmm", plan["child"], "in the words for brass")
        self.assertEqual(len(plan["days"]), 14)
        self.assertEqual([r["day"] for r in plan["rechecks"]], [7, 14])
        # Nothing filmed yet: the older recheck is due and says so at home.
        self.sent("patch", reverse("take", args=[self.first.pk]), {"read": True})
        chair = self.sent("get", reverse("band"))["sections"][0]["chairs"][0]
        self.assertEqual(
            (chair["state"], chair["due"]), ("recheck-due", plan["rechecks"][0]["due_on"])
        )
        self.assertEqual(self.sent("get", reverse("band"))["next"][0]["what"], "Film the recheck")
        self.assertIn("Film the recheck first", self.accept(plan["rechecks"][0], 400)["detail"])
        week = datetime.date.fromisoformat(plan["rechecks"][0]["due_on"])
        self.filmed((self.today - week).days, rise=8.0, width=1.12)
        plan = self.sent("get", reverse("plans", args=[self.student.pk]))["running"]
        self.assertEqual(plan["rechecks"][0]["says"]["answer"], "carry on")
        plan = self.accept(plan["rechecks"][0])["running"]
        self.assertEqual(plan["rechecks"][0]["answer"], "carry on")
        self.assertIn("answered already", self.accept(plan["rechecks"][0], 400)["detail"])
        self.filmed(0, rise=0.0, width=1.0)
        plan = self.sent("get", reverse("plans", args=[self.student.pk]))["running"]
        self.assertEqual(plan["rechecks"][1]["says"],
                         {"answer": "passed", "why": "It holds after two weeks."})  # fmt: skip
        page = self.accept(plan["rechecks"][1])
        self.assertIsNone(page["running"])
        self.assertEqual(page["before"][0]["state"], "passed")
        self.student.refresh_from_db()
        self.assertEqual(self.student.focus, "")

    def test_what_does_not_hold_goes_one_stage_back_for_two_more_weeks(self) -> None:
        self.decide(self.first)
        plan = self.begin()["running"]
        self.filmed(0, rise=9.0, width=1.13)
        last = plan["rechecks"][1]
        page = self.accept(last)
        self.assertEqual(page["before"][0]["rechecks"][1]["answer"], "step back")
        self.assertEqual((page["running"]["stage"], page["running"]["started_on"]),
                         ("mouthpiece", self.today.isoformat()))  # fmt: skip

    def test_what_holds_with_the_lips_goes_on_with_the_mouthpiece(self) -> None:
        self.decide(self.first)
        plan = self.begin(stage="lips")["running"]
        self.assertNotIn("tone", plan["drills"][0]["steps"][0], "in the words of the stage")
        # Played on the instrument by then: no answer to a recheck of the lips.
        other = self.filmed(0, rise=0.0, width=1.0)
        TakeSound.objects.create(take=other, intended={"stage": "instrument"})
        plan = self.sent("get", reverse("plans", args=[self.student.pk]))["running"]
        self.assertIsNone(plan["rechecks"][1]["take"])
        TakeSound.objects.update(intended={"stage": "lips"})
        plan = self.sent("get", reverse("plans", args=[self.student.pk]))["running"]
        self.assertEqual(plan["rechecks"][1]["says"]["answer"], "next stage")
        page = self.accept(plan["rechecks"][1])
        self.assertEqual((page["running"]["stage"], page["before"][0]["state"]),
                         ("mouthpiece", "passed"))  # fmt: skip

    def test_worse_is_what_then_and_now_calls_clearly_worse(self) -> None:
        self.decide(self.first)
        self.begin()
        plan = Plan.objects.get()
        later = [self.filmed(0, rise=9.0 + tenths / 10) for tenths in range(0, 30, 3)]
        then_and_now = reverse("then-and-now", args=[self.student.pk])
        answers = []
        for take in later:
            page = self.sent("get", f"{then_and_now}?then={self.first.pk}&now={take.pk}")
            rise = next(c for c in page["pair"]["changes"] if c["measure"] == "corner_rise")
            answers.append(rise["answer"])
        self.assertEqual(set(answers), {"no clear change", "clearly worse"})
        worse = [is_worse(plan, take) for take in later]
        self.assertEqual(worse, [answer == "clearly worse" for answer in answers])

    def test_a_take_that_does_not_show_it_asks_for_another(self) -> None:
        self.decide(self.first)
        self.begin()
        dark = self.filmed(0)
        dark.phases.all().delete()
        self.sent("put", reverse("phases", args=[dark.pk]),
                  {"phases": [{"name": "rest", "start": 0, "end": 1}]})  # fmt: skip
        plan = self.sent("get", reverse("plans", args=[self.student.pk]))["running"]
        self.assertEqual(plan["rechecks"][1]["says"]["answer"], "film again")
        self.assertIn("Film again", self.accept(plan["rechecks"][1], 400)["detail"])

    def test_a_finding_of_the_teachers_own_is_gone_when_it_is_not_added_again(self) -> None:
        self.decide(self.first, "added", "tense-face")
        self.sent("put", reverse("focus", args=[self.first.pk]), {"fault": "tense-face"})
        self.begin()
        later = self.filmed(0, rise=0.0, width=1.0)
        plans = reverse("plans", args=[self.student.pk])
        says = self.sent("get", plans)["running"]["rechecks"][1]["says"]
        self.assertEqual(says["answer"], "film again")
        self.sent("patch", reverse("take", args=[later.pk]), {"read": True})
        says = self.sent("get", plans)["running"]["rechecks"][1]["says"]
        self.assertEqual(says["answer"], "passed")

    def test_a_new_plan_stops_the_old_one_and_the_strip_takes_ticks(self) -> None:
        self.decide(self.first)
        old = self.begin()["running"]
        new = self.begin(3)["running"]
        self.assertEqual(Plan.objects.get(pk=old["id"]).state, "stopped")
        address = reverse("plan", args=[new["id"]])
        for ahead, told in (
            (-3, "not part of the plan"),
            (2, "in the future"),
            (40, "not part of"),
        ):
            day = (self.today + ahead * DAYS).isoformat()
            refused = self.sent("put", address, {"date": day, "done": True}, 400)
            self.assertIn(told, refused["detail"])
        tick = {"date": self.today.isoformat(), "done": True}
        for _ in range(2):
            days = self.sent("put", address, tick)["running"]["days"]
        self.assertEqual([d["number"] for d in days if d["done"]], [3])
        days = self.sent("put", address, {**tick, "done": False})["running"]["days"]
        self.assertFalse(any(d["done"] for d in days))
        self.assertIsNone(self.sent("delete", address)["running"])
        # Stopped by mistake: it goes on, unless another runs by then.
        self.assertEqual(self.sent("post", address)["running"]["id"], new["id"])
        self.assertEqual(Student.objects.get(pk=self.student.pk).focus, new["fault"])
        older = reverse("plan", args=[old["id"]])
        self.assertIn("Another plan", self.sent("post", older, expect=400)["detail"])

    def test_pain_stops_everything_and_nothing_found_needs_no_plan(self) -> None:
        self.sent("put", reverse("observations", args=[self.first.pk]), {"seen": ["pain"]})
        self.assertIn("pain", self.begin(expect=400)["detail"])
        self.sent("put", reverse("observations", args=[self.first.pk]), {"seen": []})
        self.decide(self.first, "dismissed")
        self.assertIn("no focus", self.begin(expect=400)["detail"])
        self.decide(self.first, "")
        self.assertIn("before its take", self.begin(20, expect=400)["detail"])


@tag("database")
class QueryTests(PlanCase):
    def test_a_band_full_of_plans_costs_no_more_queries(self) -> None:
        def plan_for(name: str) -> None:
            student = self.add_student(name)
            take = self.add_ready(student)
            Take.objects.filter(pk=take.pk).update(filmed_on=self.today - 15 * DAYS)
            self.first = take
            self.begin()

        plan_for("A")
        with CaptureQueriesContext(connection) as few:
            self.client.get(reverse("band"))
            count = len(few)
        for name in "BCDEF":
            plan_for(name)
        with self.assertNumQueries(count):
            self.client.get(reverse("band"))


@tag("database")
class CalendarTests(PlanCase):
    def test_days_off_move_open_rechecks_and_the_calendar_file_has_them(self) -> None:
        self.decide(self.first)
        plan = self.begin()["running"]
        address = reverse("school-days")
        self.assertEqual(self.sent("get", address),
                         {"weekdays_off": [5, 6], "minutes": 8, "free": []})  # fmt: skip
        # Whatever day of the week it is today, no weekend moves it.
        self.sent("put", address, {"weekdays_off": [], "minutes": 8, "free": []})
        due = Recheck.objects.get(day=14).due_on
        free = {"first": due.isoformat(), "last": (due + 3 * DAYS).isoformat(), "words": "fair"}
        self.sent("put", address, {"weekdays_off": [], "minutes": 10, "free": [free]})
        moved = Recheck.objects.get(day=14).due_on
        self.assertEqual(moved, due + 4 * DAYS)
        text = self.client.get(reverse("plan-calendar", args=[plan["id"]])).content
        events = icalendar.Calendar.from_ical(text).walk("VEVENT")
        self.assertEqual([e.decoded("dtstart") for e in events][1], moved)
        self.assertIn("Edda", str(events[0]["summary"]))
        for odd, told in (({"free": [{**free, "last": "2020-01-01"}]}, "end after they start"),
                          ({"weekdays_off": list(range(7))}, "no school day")):  # fmt: skip
            body = {"weekdays_off": [5], "minutes": 8, "free": [], **odd}
            self.assertIn(told, self.sent("put", address, body, 400)["detail"])
        self.assertEqual(self.sent("get", address)["free"], [free])


@tag("database")
class OwnershipTests(PlanCase):
    def test_plans_of_another_teacher_are_not_found(self) -> None:
        self.decide(self.first)
        plan = self.begin()["running"]
        stranger = Client()
        stranger.force_login(self.stranger)
        for method, address in (
            ("get", reverse("plans", args=[self.student.pk])),
            ("post", reverse("take-plan", args=[self.first.pk])),
            ("put", reverse("plan", args=[plan["id"]])),
            ("delete", reverse("plan", args=[plan["id"]])),
            ("get", reverse("plan-calendar", args=[plan["id"]])),
            ("post", reverse("recheck", args=[plan["rechecks"][0]["id"]])),
        ):
            self.assertEqual(getattr(stranger, method)(address).status_code, 404, address)
            self.assertIn(getattr(Client(), method)(address).status_code, (401, 403))
        self.assertEqual(Plan.objects.get().state, "running")
