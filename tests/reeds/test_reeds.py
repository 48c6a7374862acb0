"""The reed box: filled, played, retired, and asked for before the mouth is blamed."""

from __future__ import annotations

import csv
import io
from typing import Any

from django.db import connection
from django.test import Client, tag
from django.test.utils import CaptureQueriesContext
from django.urls import reverse

from sulvet.demo import readings
from sulvet.demo.scenario import STUDENTS
from sulvet.reeds.models import Reed, ReedHabits
from sulvet.takes.facts import TakeFacts
from sulvet.takes.uploads import add_read_take
from tests.marked import reading_of
from tests.records.base import DAYS, RecordCase


class ReedCase(RecordCase):
    def setUp(self) -> None:
        super().setUp()
        self.player = self.add_student("Aino", instrument="clarinet")
        self.box = reverse("reed-box", args=[self.player.pk])

    def put_in(self, ago: int = 0, expect: int = 201, **facts: Any) -> Any:
        body = {"opened_on": (self.today - ago * DAYS).isoformat(), "strength": "2", **facts}
        return self.sent("post", self.box, body, expect)

    def play(self, reed: int, minutes: int | None = None, ago: int = 0, expect: int = 200) -> Any:
        body = {"date": (self.today - ago * DAYS).isoformat(), "minutes": minutes}
        return self.sent("post", reverse("reed", args=[reed]), body, expect)


@tag("database")
class BoxTests(ReedCase):
    def test_from_the_first_reed_to_the_shop(self) -> None:
        empty = self.sent("get", self.box)
        self.assertEqual((empty["reeds"], empty["buy"]), ([], 0))
        self.assertIn("Add the reeds one by one", empty["notes"][0])
        for _ in range(5):
            box = self.put_in(30)
        self.assertEqual([r["slot"] for r in box["reeds"]], [1, 2, 3, 4, 5])
        self.assertEqual((box["buy"], box["strength"]), (0, "2"))
        self.assertIn("Play a new reed 10 minutes a day", box["notes"][0])
        first, second = box["reeds"][0]["id"], box["reeds"][1]["id"]
        self.assertEqual(box["reeds"][0]["turn"], 1)
        box = self.play(first)
        self.assertEqual((box["reeds"][0]["minutes"], box["reeds"][0]["today"]), (30, True))
        self.assertEqual([r["turn"] for r in box["reeds"]], [5, 1, 2, 3, 4])
        # Said again it counts once; said otherwise it counts as said; taken away it is gone.
        self.assertEqual(self.play(first)["reeds"][0]["minutes"], 30)
        self.assertEqual(self.play(first, 45)["reeds"][0]["minutes"], 45)
        gone = self.play(first, 0)["reeds"][0]
        self.assertEqual((gone["minutes"], gone["days"], gone["last_on"]), (0, 0, None))
        for ago in range(7):
            box = self.play(second, 120, ago)
        self.assertEqual((box["reeds"][1]["status"], box["reeds"][1]["turn"]), ("worn", None))
        self.assertEqual(box["buy"], 1)
        self.assertIn("Buy 1.", box["notes"][0])
        page = self.sent("get", reverse("reed-boxes"))
        self.assertEqual([b["name"] for b in page["boxes"]], ["Aino"])
        self.assertEqual(page["buy"], [{"instrument": "Clarinet", "strength": "2", "count": 1}])
        text = self.client.get(reverse("reeds-csv")).content.decode("utf-8-sig")
        self.assertEqual(list(csv.reader(io.StringIO(text)))[1], ["Clarinet", "2", "1"])
        # Retired it frees its slot for the next.
        body = {"strength": "2", "condition": "retired"}
        box = self.sent("put", reverse("reed", args=[second]), body)
        self.assertEqual([r["slot"] for r in box["reeds"]], [1, 3, 4, 5])
        box = self.put_in(strength="2.5")
        self.assertEqual([r["slot"] for r in box["reeds"]], [1, 2, 3, 4, 5])
        self.assertEqual(box["strength"], "2.5")
        refused = self.sent("put", reverse("reed", args=[second]), {"condition": "good"}, 400)
        self.assertIn("Another reed is in slot 2", refused["detail"])

    def test_what_can_not_be_is_said(self) -> None:
        horn = reverse("reed-box", args=[self.student.pk])
        self.assertIn("has no reed", self.sent("post", horn, {}, 400)["detail"])
        reed = self.put_in(2)["reeds"][0]["id"]
        self.assertIn("in the future", self.play(reed, ago=-1, expect=400)["detail"])
        self.assertIn("opened later", self.play(reed, ago=3, expect=400)["detail"])
        self.play(reed, 601, expect=400)
        self.sent("put", reverse("reed", args=[reed]), {"condition": "retired"})
        self.assertIn("is retired", self.play(reed, expect=400)["detail"])
        for _ in range(20):
            self.put_in()
        self.assertIn("box is full", self.put_in(expect=400)["detail"])

    def test_a_teacher_s_own_figures_count(self) -> None:
        page = self.sent("get", reverse("reed-boxes"))
        own = {**page["habits"], "least": 3, "life_minutes": 600}
        self.put_in(expect=201)
        self.assertEqual(self.sent("put", reverse("reed-boxes"), own)["buy"][0]["count"], 2)
        self.assertEqual(ReedHabits.objects.get().figures, {"least": 3, "life_minutes": 600})
        refused = self.sent("put", reverse("reed-boxes"), {**own, "least": 0}, 400)
        self.assertIn("least", refused["detail"])

    def test_boxes_are_their_teacher_s_and_cost_the_same_for_many(self) -> None:
        reed = self.put_in()["reeds"][0]["id"]
        other = Client()
        other.force_login(self.stranger)
        for method, address in (
            ("get", self.box), ("post", self.box), ("put", reverse("reed", args=[reed])),
            ("post", reverse("reed", args=[reed])),
        ):  # fmt: skip
            answer = getattr(other, method)(address, {}, content_type="application/json")
            self.assertEqual(answer.status_code, 404, address)
            self.assertEqual(getattr(Client(), method)(address).status_code, 403)
        self.assertEqual(other.get(reverse("reed-boxes")).json()["boxes"], [])
        counts = []
        for n in range(2):
            with CaptureQueriesContext(connection) as queries:
                self.sent("get", reverse("reed-boxes"))
            counts.append(len(queries))
            for k in range(4):
                more = self.add_student(f"S{n}{k}", instrument="saxophone")
                Reed.objects.create(student=more, slot=1, opened_on=self.today)
        self.assertEqual(counts[0], counts[1])


@tag("database")
class SetUpTests(ReedCase):
    def observe(self, take: int, *seen: str) -> Any:
        return self.sent("put", reverse("observations", args=[take]), {"seen": list(seen)})

    def test_an_airy_tone_asks_for_the_reed_until_it_is_known_or_looked_at(self) -> None:
        take = self.filmed(0, self.player)
        self.assertIsNone(self.sent("get", reverse("take", args=[take.pk]))["set_up"])
        page = self.observe(take.pk, "airy")
        self.assertEqual(page["focus"]["fault"], None)
        self.assertIn("no reed is on record", page["set_up"]["why"])
        self.assertEqual(page["set_up"]["done"], "reed-fine")
        # No plan and no slip for the mouth while the reed is in doubt.
        refused = self.sent("post", reverse("take-plan", args=[take.pk]), {}, 400)
        self.assertIn("The reed before the mouth", refused["detail"])
        answer = self.client.get(reverse("slip", args=[take.pk]))
        self.assertContains(answer, "The reed before the mouth", status_code=400)
        band = self.sent("get", reverse("band"))
        chair = next(c for s in band["sections"] for c in s["chairs"] if c["name"] == "Aino")
        self.assertEqual(chair["take"]["result"], "fault")
        reed = self.put_in(9, strength="2")["reeds"][0]["id"]
        self.play(reed)
        page = self.sent("get", reverse("take", args=[take.pk]))
        self.assertIsNone(page["set_up"])
        for ago in range(1, 8):
            self.play(reed, 120, ago)
        page = self.sent("get", reverse("take", args=[take.pk]))
        self.assertIn("has played 14 of about 14 hours", page["set_up"]["why"])
        # By the teacher's own figures the same reed is still good.
        own = {**self.sent("get", reverse("reed-boxes"))["habits"], "life_minutes": 2000}
        self.sent("put", reverse("reed-boxes"), own)
        self.assertIsNone(self.sent("get", reverse("take", args=[take.pk]))["set_up"])
        self.sent("put", reverse("reed-boxes"), {**own, "life_minutes": 840})
        page = self.observe(take.pk, "airy", "reed-fine")
        self.assertIsNone(page["set_up"])
        # Once the take is read the box of another day says nothing of it.
        self.observe(take.pk, "airy")
        read = self.sent("patch", reverse("take", args=[take.pk]), {"read": True})
        self.assertIsNone(read["set_up"])

    def test_squeaks_are_fingers_first_and_the_teacher_may_overrule(self) -> None:
        take = self.filmed(0, self.player)
        page = self.observe(take.pk, "squeaks")
        self.assertEqual(page["set_up"]["done"], "fingers-fine")
        page = self.observe(take.pk, "squeaks", "fingers-fine")
        self.assertEqual(page["set_up"]["done"], "reed-fine")
        said = {"fault": "tense-face", "phase": "hold", "answer": "added", "reason": "seen"}
        self.sent("put", reverse("decisions", args=[take.pk]), said)
        page = self.sent("put", reverse("focus", args=[take.pk]), {"fault": "tense-face"})
        self.assertIsNone(page["set_up"])
        self.assertEqual(page["focus"]["fault"], "tense-face")


@tag("database")
class DepthTests(ReedCase):
    def test_a_depth_marked_on_film_says_where_the_tape_goes(self) -> None:
        demo = next(t for s in STUDENTS for t in s.takes if t.name == "aino-side-0")
        facts = TakeFacts("side", "check", self.today)
        take = add_read_take(self.player, demo.clip, facts, readings.load(reading_of(demo)))
        reading = take.readings.get(measure="depth", phase="hold")
        # The script of the take puts the mouthpiece 12.7 mm in.
        assert reading.value is not None and reading.uncertainty is not None
        self.assertAlmostEqual(reading.value, 12.7, delta=reading.uncertainty)
        address = reverse("depth", args=[take.pk])
        self.assertIsNone(self.sent("get", reverse("take", args=[take.pk]))["depth"]["kept"])
        page = self.sent("put", address, {"keep": True})
        self.assertEqual((page["depth"]["kept"], page["depth"]["here"]), (reading.value, True))
        student = self.sent("get", reverse("student", args=[self.player.pk]))
        self.assertEqual(
            (student["tape_mm"], student["tape_on"]), (reading.value, self.today.isoformat())
        )
        self.sent("put", address, {"keep": False})
        student = self.sent("get", reverse("student", args=[self.player.pk]))
        self.assertIsNone(student["tape_mm"])
        front = self.filmed(0, self.player)
        refused = self.sent("put", reverse("depth", args=[front.pk]), {"keep": True}, 400)
        self.assertIn("does not show how deep", refused["detail"])
