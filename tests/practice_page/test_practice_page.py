"""The student's page: what it shows, what a student may say there, and what it keeps from them."""

from __future__ import annotations

import datetime
from typing import Any

from django.test import Client
from django.urls import reverse
from django.utils import timezone

from sulvet.booth import links
from sulvet.booth.models import CaptureLink
from sulvet.lessons.given import Given, give, may_rise
from sulvet.lessons.models import GivenDrill
from sulvet.plans.models import Plan, Practice
from sulvet.plans.services import PlanFacts, practise, start_plan
from sulvet.practice_page import services
from sulvet.records.models import Note
from sulvet.reeds.services import ReedFacts, add_reed
from sulvet.takes.decisions import decide, set_read
from tests.operations import operations
from tests.records.base import DAYS, RecordCase


class PracticePageCase(RecordCase):
    def setUp(self) -> None:
        super().setUp()
        self.student = self.add_student("Mirela Stoian", instrument="flute")
        self.link = links.make(self.student, "front", 7, page=True)
        self.phone = Client()

    def page(self, expect: int = 200, name: str = "practice-page") -> Any:
        answer = self.phone.get(self.at(name))
        self.assertEqual(answer.status_code, expect, answer.content[:300])
        return answer.json()

    def compared(self) -> Any:
        return self.page(name="own-then-now")["shown"]

    def at(self, name: str) -> str:
        return reverse(name, args=[links.token_of(self.link)])

    def says(self, name: str, expect: int = 200, **body: Any) -> Any:
        answer = self.phone.post(self.at(name), body, content_type="application/json")
        self.assertEqual(answer.status_code, expect, answer.content[:300])
        return answer.json()

    def begin(self) -> Plan:
        """Two weeks on a smile, begun five days ago, and a reviewed take of yesterday."""
        first = self.from_demo("mirela-front-13", 5, self.student)
        decide(first, "smile", "hold", "confirmed", "")
        first.refresh_from_db()
        plan = start_plan(self.teacher, first, PlanFacts("instrument", 8, self.today - 5 * DAYS))
        self.newer = self.from_demo("mirela-front-6", 1, self.student)
        return plan


class ShownTests(PracticePageCase):
    def test_one_thing_its_drill_the_strip_and_the_notes(self) -> None:
        plan = self.begin()
        practise(plan, self.today - 2 * DAYS, True)
        page = self.page()
        self.assertEqual((page["name"], page["instrument"]), ("Mirela", "Flute"))
        self.assertIn("pooh", page["focus"], "in the words for a flute")
        self.assertEqual([d["id"] for d in page["drills"]], plan.drills)
        self.assertTrue(page["drills"][0]["steps"])
        self.assertEqual({t["stage"] for t in page["targets"]}, {"instrument"})
        self.assertEqual(len(page["days"]), 14)
        ticked = [d["date"] for d in page["days"] if d["teachers"] and not d["mine"]]
        self.assertEqual(ticked, [(self.today - 2 * DAYS).isoformat()])
        week = plan.rechecks.get(day=7)
        self.assertEqual(page["film_on"], week.due_on.isoformat())
        self.assertIn("Stop and tell your teacher", page["caution"])

    def test_then_and_now_of_what_the_teacher_has_reviewed(self) -> None:
        self.begin()
        self.assertIsNone(self.compared(), "nobody has looked at the newer take")
        set_read(self.newer, True)
        shown = self.compared()
        self.assertEqual(
            (shown["then_on"], shown["now_on"], shown["pictures"]),
            ((self.today - 5 * DAYS).isoformat(), (self.today - DAYS).isoformat(), []),
        )
        self.assertNotEqual(shown["then"]["points"], shown["now"]["points"])
        CaptureLink.objects.update(pictures=True)
        pictures = self.compared()["pictures"]
        self.assertEqual([one[:22] for one in pictures], ["data:image/jpeg;base64"] * 2)
        # The consent was taken back meanwhile: neither picture nor drawing.
        self.student.consent_on = None
        self.student.save()
        self.assertIsNone(self.compared())

    def test_nothing_to_practise_is_said(self) -> None:
        page = self.page()
        self.assertEqual((page["focus"], page["drills"], page["days"]), ("", [], []))
        self.assertIsNone(page["film_on"])

    def test_pairs_of_made_up_players_to_be_told_apart(self) -> None:
        rows = self.phone.get(self.at("own-pairs")).json()
        self.assertLessEqual({"As it should be", "Smile"}, {one["name"] for one in rows})
        film = self.phone.get(rows[0]["loops"][0]["film"])
        self.assertEqual((film.status_code, film["Content-Type"]), (200, "video/mp4"))
        self.assertEqual(self.phone.get(self.at("own-pairs") + "nothing/").status_code, 404)

    def test_only_where_the_teacher_opened_it(self) -> None:
        CaptureLink.objects.update(page=False)
        for name in (
            "practice-page",
            "own-then-now",
            "own-pairs",
            "own-days",
            "own-reeds",
            "own-words",
        ):
            read = name in ("practice-page", "own-then-now", "own-pairs")
            send = self.phone.get if read else self.phone.post
            answer = send(self.at(name))
            self.assertEqual((answer.status_code, "teacher" in answer.json()["detail"]),
                             (400, True), name)  # fmt: skip
        CaptureLink.objects.update(page=True, until=timezone.now())
        self.assertEqual(self.page(400)["detail"], links.OVER)

    def test_nothing_else_answers_a_link(self) -> None:
        """Every address and method of the schema, with the link's token for a pass."""
        self.from_demo("mirela-front-6", 1, self.student)
        token, tried = links.token_of(self.link), 0
        other = self.add_student("Ove")
        for number in (self.student.pk, other.pk):
            for method, address, path in operations(number):
                if path.startswith(("/api/session/", "/api/first-account")):
                    continue
                send = getattr(self.phone, method)
                answer = send(f"{address}?token={token}", {}, content_type="application/json",
                              headers={"Authorization": f"Token {token}"})  # fmt: skip
                # A number is no link either: it wants the signature.
                signed = path.startswith(("/api/film/", "/api/eye/open/{", "/api/join/"))
                wanted = (400, 404) if signed else (403, 404, 405)
                self.assertIn(answer.status_code, wanted, (method, address, answer.content[:80]))
                tried += 1
        self.assertGreater(tried, 200)

    def test_no_cookie_and_a_manifest_that_begins_here(self) -> None:
        answer = self.phone.get(self.at("practice-page"))
        self.assertEqual((dict(answer.cookies), "no-store" in answer["Cache-Control"]), ({}, True))
        told = self.phone.get(self.at("own-manifest")).json()
        self.assertEqual(told["start_url"], links.path_of(self.link))
        self.assertEqual(dict(self.phone.get(links.path_of(self.link)).cookies), {})


class SaidTests(PracticePageCase):
    def test_ticks_of_child_and_teacher_are_told_apart(self) -> None:
        plan = self.begin()
        day = self.today - DAYS
        practise(plan, day, True)
        page = self.says("own-days", date=day.isoformat(), done=True)
        mine = next(d for d in page["days"] if d["date"] == day.isoformat())
        self.assertEqual((mine["mine"], mine["teachers"]), (True, True))
        self.says("own-days", date=day.isoformat(), done=False)
        self.assertEqual([p.by for p in plan.practised.filter(date=day)], [Practice.By.TEACHER])
        # Sent twice, as after a lost answer, it is one tick; of tomorrow or last year none.
        for _ in range(2):
            self.says("own-days", date=self.today.isoformat(), done=True)
        self.assertEqual(plan.practised.filter(date=self.today).count(), 1)
        self.assertIn("future", self.says(
            "own-days", 400, date=str(self.today + DAYS), done=True)["detail"])  # fmt: skip
        shown = self.sent("get", reverse("plans", args=[self.student.pk]))["running"]["days"]
        now = next(d for d in shown if d["today"])
        self.assertEqual((now["student"], now["done"]), (True, False))

    def test_an_exercise_ticked_at_home_counts_for_its_level(self) -> None:
        (one,) = give([self.student], Given("hold-out", stage="instrument", level=1))
        other = give([self.add_student("Ove")], Given("hold-out", stage="instrument", level=1))[0]
        GivenDrill.objects.filter(pk=one.pk).update(
            given_on=self.today - 3 * DAYS,
            done=[(self.today - 3 * DAYS).isoformat(), (self.today - 2 * DAYS).isoformat()],
        )
        page = self.says("own-days", date=self.today.isoformat(), done=True, exercise=one.pk)
        self.assertEqual(page["exercises"][0]["mine"], [self.today.isoformat()])
        one.refresh_from_db()
        self.assertEqual(len(one.done), 2)
        self.assertTrue(may_rise(one), "three days, whoever ticked them")
        self.says("own-days", 404, date=self.today.isoformat(), done=True, exercise=other.pk)
        # Last week's again, with a sentence.
        GivenDrill.objects.filter(pk=one.pk).update(until=self.today - DAYS)
        page = self.says("own-words", text="The high ones broke", exercise=one.pk)
        self.assertEqual([e["running"] for e in page["exercises"]], [True, False])
        self.assertEqual(GivenDrill.objects.first().again, "The high ones broke")  # type: ignore[union-attr]

    def test_a_word_on_what_was_hard_stands_among_the_notes(self) -> None:
        for _ in range(2):
            page = self.says("own-words", text=" My chin gets tired. ")
        self.assertEqual([w["text"] for w in page["said"]], ["My chin gets tired."])
        record = self.sent("get", reverse("record", args=[self.student.pk]))
        self.assertEqual([(n["text"], n["by_student"]) for n in record["notes"]],
                         [("My chin gets tired.", True)])  # fmt: skip
        for n in range(services.WORDS_A_DAY - 1):
            self.says("own-words", text=f"word {n}")
        self.assertIn("today", self.says("own-words", 400, text="one more")["detail"])
        self.says("own-words", 400, text="x" * 301)
        self.says("own-words", 400, text="  ")
        self.assertEqual(Note.objects.count(), services.WORDS_A_DAY)

    def test_the_reed_of_the_day(self) -> None:
        player = self.add_student("Ida", instrument="clarinet")
        self.link = links.make(player, "side", 7, page=True)
        reed = add_reed(player, ReedFacts("2", self.today - 20 * DAYS))
        theirs = add_reed(
            self.add_student("Ove", instrument="clarinet"), ReedFacts("2", self.today)
        )
        for _ in range(2):
            page = self.says("own-reeds", reed=reed.pk, date=self.today.isoformat())
        self.assertEqual((page["reeds"][0]["slot"], page["reeds"][0]["last_on"]),
                         (1, self.today.isoformat()))  # fmt: skip
        self.assertEqual(reed.plays.count(), 1)
        self.says("own-reeds", 404, reed=theirs.pk, date=self.today.isoformat())
        old = (self.today - datetime.timedelta(days=15)).isoformat()
        self.says("own-reeds", 400, reed=reed.pk, date=old)
