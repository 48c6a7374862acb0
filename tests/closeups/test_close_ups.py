"""Close-ups over HTTP: from a photo to a finding, kept from strangers, told to the reed box."""

from __future__ import annotations

import datetime
import io
import json
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from PIL import Image

from sulvet.band.models import Student
from sulvet.closeups.models import CloseUp, CloseUpPicture
from sulvet.demo.closeups import DemoCloseUp
from sulvet.reeds.models import Reed
from sulvet.takes.uploads import delete_student
from tests.records.base import DAYS, RecordCase


class CloseUpCase(RecordCase):
    def setUp(self) -> None:
        super().setUp()
        self.player = self.add_student("Carla", instrument="clarinet")

    def sent_photo(self, name: str, student: Student | None = None, expect: int = 201) -> Any:
        """A picture of the demo taken in."""
        data = DemoCloseUp(name, 0).picture.read_bytes()
        photo = SimpleUploadedFile("reed.jpg", data, "image/jpeg")
        address = reverse("student-close-ups", args=[(student or self.player).pk])
        answer = self.client.post(address, {"photo": photo})
        self.assertEqual(answer.status_code, expect, answer.content)
        return answer.json()

    def marked(self, page: Any, name: str, expect: int = 200, **more: Any) -> Any:
        """Marked as in the demo."""
        kept = DemoCloseUp(name, 0).marks()
        marks = [{"id": n, "x": x, "y": y} for n, (x, y) in kept["marks"].items()]
        body = {"marks": marks, "hidden": kept["hidden"], **more}
        return self.sent("put", reverse("close-up", args=[page["id"]]), body, expect)


class CloseUpTests(CloseUpCase):
    def test_of_somebody_who_has_gone_to_an_instrument_without_a_reed(self) -> None:
        page = self.marked(self.sent_photo("carla-reed"), "carla-reed")
        Student.objects.filter(pk=self.player.pk).update(instrument="horn")
        (row,) = self.sent("get", reverse("student-close-ups", args=[self.player.pk]))
        self.assertEqual(row["shows"], [])
        said = self.sent("get", reverse("close-up", args=[page["id"]]), expect=409)
        self.assertIn("plays the horn now", said["detail"])

    def test_from_a_photo_to_a_finding(self) -> None:
        page = self.sent_photo("carla-reed")
        self.assertEqual((page["width"], page["height"]), (1080, 1440))
        self.assertEqual(len(page["asked"]), 8)
        self.assertIsNone(page["drawing"])
        self.assertEqual((page["readings"], page["findings"]), ([], []))
        self.assertIn("Place the marks that are asked for", page["told"])
        page = self.marked(page, "carla-reed")
        (found,) = page["findings"]
        self.assertEqual((found["fault"], found["verdict"]), ("reed-high", "fault"))
        self.assertIn("the reed covers it", found["reason"])
        self.assertEqual(page["told"], "")
        self.assertTrue(page["drawing"]["strokes"])
        readings = {r["measure"]: r for r in page["readings"]}
        self.assertEqual(readings["reed_tip"]["verdict"], "can't tell")
        self.assertIn("Can't be seen", readings["reed_tip"]["reason"])
        self.assertEqual(readings["reed_skew"]["verdict"], "in band")
        rows = self.sent("get", reverse("student-close-ups", args=[self.player.pk]))
        self.assertEqual([r["shows"] for r in rows], [["Reed too high"]])
        # Sent away and taken back.
        address = reverse("close-up-answer", args=[page["id"]])
        page = self.sent("put", address, {"fault": "reed-high", "dismissed": True})
        self.assertTrue(page["findings"][0]["dismissed"])
        self.assertIn("as they should be", page["told"])
        page = self.sent("put", address, {"fault": "reed-high", "dismissed": False})
        self.assertEqual(page["told"], "")
        self.sent("put", address, {"fault": "no-such", "dismissed": True}, 400)

    def test_the_standard_of_the_teacher_judges_it(self) -> None:
        page = self.marked(self.sent_photo("aino-reed"), "aino-reed")
        self.assertEqual(page["findings"], [])
        self.assertIn("as they should be", page["told"])
        key = "ligature_gap|close-up|hold|"
        edges = {key: {"low": 30.0, "high": None, "watch_low": 1.0, "watch_high": 0.0}}
        self.sent("put", reverse("own-standard", args=["clarinet"]),
                  {"bands": edges, "school": "gathered", "words": "strict"})  # fmt: skip
        page = self.sent("get", reverse("close-up", args=[page["id"]]))
        self.assertEqual([f["fault"] for f in page["findings"]], ["ligature-over-cut"])

    def test_what_the_eye_sees_goes_into_the_box(self) -> None:
        reed = Reed.objects.create(student=self.player, slot=2, opened_on=self.today)
        page = self.sent_photo("aino-reed")
        which = reverse("close-up-reed", args=[page["id"]])
        self.assertEqual(self.sent("put", which, {"reed": reed.pk})["reed"], reed.pk)
        page = self.marked(page, "aino-reed", ticks=["reed-chipped"])
        self.assertIn("reed-chipped", [f["fault"] for f in page["findings"]])
        reed.refresh_from_db()
        self.assertEqual(reed.condition, "chipped")
        # What the box knows of it counts as well: played out, and too few beside it.
        Reed.objects.filter(pk=reed.pk).update(condition="good", minutes=2000)
        found = self.sent("get", reverse("close-up", args=[page["id"]]))["findings"]
        self.assertEqual({(f["fault"], f["verdict"]) for f in found},
                         {("reed-chipped", "fault"), ("reed-worn", "fault"),
                          ("too-few-reeds", "watch")})  # fmt: skip
        others = self.add_student("Yusra", instrument="clarinet")
        strange = Reed.objects.create(student=others, slot=1, opened_on=self.today)
        told = self.sent("put", which, {"reed": strange.pk}, 400)
        self.assertIn("another student's box", told["detail"])
        # A retired reed frees its slot, the close-up stays.
        reed.delete()
        self.assertIsNone(self.sent("get", reverse("close-up", args=[page["id"]]))["reed"])

    def test_wrong_input_gets_a_sentence_and_nothing_is_lost(self) -> None:
        told = self.sent_photo("aino-reed", self.student, 400)
        self.assertIn("horn has no reed", told["detail"])
        address = reverse("student-close-ups", args=[self.player.pk])
        for data, words in ((b"no picture at all" * 50, "neither a photo nor a clip"),
                            (_tiny(), "only 90 by 60")):  # fmt: skip
            photo = SimpleUploadedFile("x.jpg", data)
            answer = self.client.post(address, {"photo": photo})
            self.assertEqual(answer.status_code, 400)
            self.assertIn(words, answer.json()["detail"])
        self.assertEqual(CloseUp.objects.count(), 0)
        page = self.marked(self.sent_photo("aino-reed"), "aino-reed")
        put = reverse("close-up", args=[page["id"]])
        good = page["marks"]
        for body, words in (
            ({"marks": [{"id": "nose", "x": 1, "y": 1}]}, "no mark “nose”"),
            ({"marks": [{"id": "cut", "x": 5000, "y": 1}]}, "outside the picture"),
            ({"marks": good, "hidden": ["reed_tip"]}, "can't be covered"),
            ({"marks": good, "ticks": ["smile"]}, "can be ticked"),
        ):
            self.assertIn(words, self.sent("put", put, body, 400)["detail"])
        again = self.sent("get", put)
        self.assertEqual((again["marks"], again["readings"]), (good, page["readings"]))

    def test_nobody_else_sees_or_changes_anything_of_it(self) -> None:
        page = self.marked(self.sent_photo("aino-reed"), "aino-reed")
        mine = reverse("close-up-picture", args=[page["id"]])
        shown = self.client.get(mine)
        self.assertEqual(shown["Cache-Control"], "private, no-store")
        self.assertEqual(Image.open(io.BytesIO(shown.content)).size, (1080, 1440))
        stranger = Client()
        self.assertEqual(stranger.get(mine).status_code, 404)
        stranger.force_login(self.stranger)
        one = reverse("close-up", args=[page["id"]])
        for method, address, body in (
            ("GET", mine, None),
            ("GET", one, None),
            ("PUT", one, {"marks": []}),
            ("DELETE", one, None),
            ("PUT", reverse("close-up-reed", args=[page["id"]]), {"reed": None}),
            (
                "put",
                reverse("close-up-answer", args=[page["id"]]),
                {"fault": "a", "dismissed": True},
            ),
            ("GET", reverse("student-close-ups", args=[self.player.pk]), None),
        ):
            answer = stranger.generic(method, address, json.dumps(body), "application/json")
            self.assertEqual(answer.status_code, 404, address)
        self.assertEqual(CloseUp.objects.count(), 1)
        delete_student(self.player)
        self.assertEqual((CloseUp.objects.count(), CloseUpPicture.objects.count()), (0, 0))


class SetUpTests(CloseUpCase):
    def test_a_close_up_answers_for_the_reed_of_a_take(self) -> None:
        take = self.from_demo("aino-front-0", 0, self.player)
        self.sent("put", reverse("observations", args=[take.pk]), {"seen": ["airy"]})
        bench = reverse("take", args=[take.pk])
        self.assertIn("no reed is on record", self.sent("get", bench)["set_up"]["why"])
        page = self.marked(self.sent_photo("carla-reed"), "carla-reed")
        told = self.sent("get", bench)
        self.assertIn("the close-up shows: reed too high", told["set_up"]["why"])
        # Mended and looked at again, the reed is out of question.
        self.marked(self.sent_photo("aino-reed"), "aino-reed")
        self.assertIsNone(self.sent("get", bench)["set_up"])
        # One from long ago says nothing.
        long_ago = self.today - datetime.timedelta(days=20)
        CloseUp.objects.all().update(taken_on=long_ago)
        self.assertIn("no reed is on record", self.sent("get", bench)["set_up"]["why"])
        self.assertEqual(page["taken_on"], self.today.isoformat())
        self.assertLess(long_ago, self.today - DAYS)


def _tiny() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (90, 60)).save(out, "PNG")
    return out.getvalue()
