"""Tables out: readings, findings and what was said."""

from __future__ import annotations

import json

import icalendar
from django.test import Client, tag
from django.urls import reverse

from sulvet.band.models import Section
from sulvet.core.formats import coco
from sulvet.records.models import Note
from sulvet.takes.models import Mark, Take, Track
from sulvet.takes.tracks import load
from tests.records.base import RecordCase


@tag("database")
class TablesTests(RecordCase):
    def test_readings_and_findings_as_tables(self) -> None:
        take = self.filmed(1)
        for fault, answer, reason in (
            ("smile", "dismissed", "laughed"), ("tense-face", "added", "=seen"),
        ):  # fmt: skip
            said = {"fault": fault, "phase": "hold", "answer": answer, "reason": reason}
            self.sent("put", reverse("decisions", args=[take.pk]), said)
        self.filmed(1, self.add_student("Greta"))
        rows = self.table(reverse("table", args=["takes", take.pk, "readings"]))
        rise = next(r for r in rows if r["measure"] == "corner_rise" and r["phase"] == "hold")
        stored = take.readings.get(measure="corner_rise", phase="hold")
        self.assertEqual((float(rise["value"]), rise["verdict"]), (stored.value, stored.verdict))
        self.assertEqual(len(rows), take.readings.count())
        found = {r["fault"]: r for r in self.table(reverse("band-table", args=["findings"]))
                 if r["student"] == "Edda"}  # fmt: skip
        self.assertEqual((found["smile"]["answer"], found["smile"]["answer_reason"]),
                         ("dismissed", "laughed"))  # fmt: skip
        self.assertEqual(found["tense-face"]["verdict"], "added")
        self.assertEqual(found["tense-face"]["answer_reason"], "'=seen")
        band = self.table(reverse("band-table", args=["readings"]))
        one = self.table(reverse("table", args=["students", self.student.pk, "readings"]))
        self.assertEqual(len(band), 2 * len(one))

    def test_rechecks_of_the_whole_band_for_a_calendar(self) -> None:
        for name in ("Ada", "Bo"):
            take = self.filmed(1, self.add_student(name))
            self.sent("put", reverse("decisions", args=[take.pk]),
                      {"fault": "smile", "phase": "hold", "answer": "confirmed"})  # fmt: skip
            self.sent("post", reverse("take-plan", args=[take.pk]), {}, 201)
        data = self.client.get(reverse("rechecks-ics")).content
        events = icalendar.Calendar.from_ical(data).walk("VEVENT")
        self.assertEqual(sorted(str(e["SUMMARY"]) for e in events),
                         ["Recheck, day 14: Ada", "Recheck, day 14: Bo",
                          "Recheck, day 7: Ada", "Recheck, day 7: Bo"])  # fmt: skip
        self.assertIn("Focus: Smile", str(events[0]["DESCRIPTION"]))

    def test_marks_that_were_placed_elsewhere_come_in(self) -> None:
        take = self.filmed(1)
        # Not followed yet, so that nothing has to be read anew.
        Take.objects.filter(pk=take.pk).update(state=Take.State.NEEDS_MARKS)
        marks = load(take)
        document = coco.dump(marks, (take.width, take.height), "elsewhere.mp4")
        # Another program says nothing of sources: all its marks are a person's. Two frames of it.
        document["images"] = document["images"][:2]
        document["annotations"] = [
            {k: v for k, v in note.items() if k not in ("sigma", "source")}
            for note in document["annotations"][:2]
        ]
        column = 3 * document["categories"][0]["keypoints"].index("ch_l")
        document["annotations"][1]["keypoints"][column] = 333.25
        address = reverse("marks-file", args=[take.pk])
        document = json.loads(json.dumps(document))
        self.sent("put", address, document)
        placed = take.marks.get(landmark="ch_l", frame=1, source=Mark.Source.PLACED)
        self.assertAlmostEqual(placed.x, 333.25)
        self.sent("post", reverse("undo", args=[take.pk]))
        self.assertFalse(take.marks.filter(source=Mark.Source.PLACED).exists())
        document["images"][0]["width"] = 123
        refused = self.sent("put", address, document, 400)
        self.assertIn("another clip", refused["detail"])
        refused = self.sent(
            "put", address, {"images": [], "annotations": [], "categories": []}, 400
        )
        self.assertIn("category", refused["detail"])


@tag("database")
class SectionalsTests(RecordCase):
    def test_who_shares_a_focus_comes_together(self) -> None:
        for name in ("Ada", "Bo", "Cy"):
            self.filmed(3, self.add_student(name))
        healed = self.add_student("Dee")
        self.filmed(9, healed)
        self.filmed(2, healed, rise=0.0, width=1.0)
        self.filmed(30, self.add_student("Eve"))
        page = self.sent("get", reverse("sectionals") + "?most=2&minutes=10&total=10")
        names = [[m["name"] for m in g["members"]] for g in page["groups"]]
        self.assertEqual(names, [["Ada", "Bo"]])
        self.assertEqual([(g["start"], g["end"]) for g in page["groups"]], [(0, 10)])
        self.assertIn("mmm", page["groups"][0]["child"], "in the words for horns")
        self.assertEqual([m["name"] for m in page["singles"]], ["Cy"])
        rows = self.table(reverse("sectionals-csv") + "?most=2&stations=2&days=60")
        self.assertEqual([(r["student"], r["station"]) for r in rows],
                         [("Ada", "1"), ("Bo", "1"), ("Cy", "2"), ("Eve", "2")])  # fmt: skip
        told = self.sent("get", reverse("sectionals") + "?least=5&most=2", expect=400)
        self.assertIn("minimum can't be larger", told["detail"])


@tag("database")
class DeletionTests(RecordCase):
    def test_deleting_a_student_deletes_rows_and_files(self) -> None:
        take = self.from_demo("edda-front-12", 3, self.student)
        self.sent("post", reverse("record", args=[self.student.pk]), {"text": "x"}, 201)
        kept = self.from_demo("edda-front-1", 3, self.add_student("Greta"))
        self.assertTrue(take.clip.exists())
        with self.captureOnCommitCallbacks(execute=True):
            self.sent("delete", reverse("student", args=[self.student.pk]), expect=204)
        self.assertFalse(take.directory.exists())
        self.assertTrue(kept.clip.exists())
        self.assertFalse(Track.objects.filter(take_id=take.pk).exists())
        self.assertEqual(list(Take.objects.all()), [kept])
        self.assertEqual((Note.objects.count(), Section.objects.count()), (0, 1))
        with self.captureOnCommitCallbacks(execute=True):
            self.sent("delete", reverse("student", args=[kept.student_id]), expect=204)
        self.assertEqual(Section.objects.count(), 0)


@tag("database")
class PermissionTests(RecordCase):
    def test_nothing_of_one_teacher_is_another_s(self) -> None:
        take = self.filmed(1)
        note = self.sent("post", reverse("record", args=[self.student.pk]), {"text": "x"}, 201)
        mine = [
            ("get", reverse("then-and-now", args=[self.student.pk])),
            ("get", reverse("trend", args=[self.student.pk, "focus"])),
            ("get", reverse("record", args=[self.student.pk])),
            ("post", reverse("record", args=[self.student.pk])),
            ("put", reverse("note", args=[note["id"]])),
            ("delete", reverse("note", args=[note["id"]])),
            ("get", reverse("notes-vtt", args=[take.pk])),
            ("post", reverse("notes-in", args=[take.pk])),
            ("put", reverse("marks-file", args=[take.pk])),
            ("get", reverse("slip", args=[take.pk])),
            ("get", reverse("table", args=["takes", take.pk, "readings"])),
            ("get", reverse("table", args=["students", self.student.pk, "findings"])),
            ("delete", reverse("student", args=[self.student.pk])),
            ("get", reverse("onto", args=[take.pk, take.pk, 0])),
        ]
        nobody, other = Client(), Client()
        other.force_login(self.stranger)
        for method, address in mine:
            for client, wanted in ((nobody, (403, 404)), (other, (404,))):
                answer = getattr(client, method)(address, {}, content_type="application/json")
                self.assertIn(answer.status_code, wanted, address)
        for name in ("sectionals", "slips", "archive", "rechecks-ics", "sectionals-csv"):
            self.assertEqual(nobody.get(reverse(name)).status_code, 403, name)
        self.assertEqual(other.get(reverse("sectionals")).json()["groups"], [])
        self.assertEqual(other.get(reverse("slips")).status_code, 400)
        rows = other.get(reverse("band-table", args=["readings"])).content.decode("utf-8-sig")
        self.assertEqual(len(rows.splitlines()), 1)
        self.assertTrue(Note.objects.filter(pk=note["id"], text="x").exists())
        self.assertTrue(Take.objects.filter(pk=take.pk, student=self.student).exists())
