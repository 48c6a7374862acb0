"""Then and now, notes, slips, tables, sectionals: what the teacher gets, and nobody else."""

from __future__ import annotations

import csv
import datetime
import io
import json
from typing import Any

import icalendar
import numpy as np
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from django.utils import timezone
from PIL import Image
from pypdf import PdfReader

from sulvet.band.models import Section, Student
from sulvet.core.formats import coco
from sulvet.demo import readings
from sulvet.demo.scenario import STUDENTS
from sulvet.records.models import Note
from sulvet.takes.analysis import stills_of
from sulvet.takes.models import Mark, Take, TakeAnalysis, Track
from sulvet.takes.tracks import load
from sulvet.takes.uploads import TakeFacts, add_read_take
from tests.web.base import BandTestCase

DAYS = datetime.timedelta(days=1)


class RecordCase(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.today = timezone.localdate()

    def filmed(self, days_ago: int, student: Student | None = None, **told: Any) -> Take:
        take = self.add_ready(student, **told)
        Take.objects.filter(pk=take.pk).update(filmed_on=self.today - days_ago * DAYS)
        take.refresh_from_db()
        return take

    def from_demo(self, name: str, days_ago: int, student: Student, heard: bool = False) -> Take:
        """A take with its pictures, as it was read, and ``heard`` if it was listened to."""
        demo = next(t for s in STUDENTS for t in s.takes if t.name == name)
        facts = TakeFacts("front", "check", self.today - days_ago * DAYS)
        sound = readings.heard(demo.reading) if heard else None
        return add_read_take(student, demo.clip, facts, readings.load(demo.reading), sound)

    def compare(self, **query: Any) -> Any:
        address = reverse("then-and-now", args=[self.student.pk])
        return self.sent("get", f"{address}?" + "&".join(f"{k}={v}" for k, v in query.items()))

    def table(self, address: str) -> list[dict[str, str]]:
        """A CSV answer as the standard library reads it."""
        answer = self.client.get(address)
        self.assertEqual(answer.status_code, 200)
        text = b"".join(answer) if answer.streaming else answer.content
        return list(csv.DictReader(io.StringIO(text.decode("utf-8-sig"), newline="")))


class ThenAndNowTests(RecordCase):
    def test_what_changed_is_told_with_the_focus_first(self) -> None:
        self.filmed(15, rise=9.0, width=1.13)
        self.filmed(1, rise=1.0, width=1.0)
        page = self.compare()
        pair = page["pair"]
        self.assertEqual([t["view"] for t in page["takes"]], ["front", "front"])
        self.assertEqual((pair["phase"], pair["phases"]), ("hold", ["rest", "hold"]))
        # What the older take had and the newer one has not any more.
        self.assertEqual((pair["focus"], pair["slip"]), ("smile", False))
        rise = next(c for c in pair["changes"] if c["measure"] == "corner_rise")
        self.assertEqual(rise["answer"], "clearly better")
        self.assertAlmostEqual(rise["delta"], -8.0, delta=0.2)
        # The other way round there is a focus again, and it leads.
        turned = self.compare(then=pair["now"]["take"], now=pair["then"]["take"])["pair"]
        self.assertEqual(
            (turned["focus"], turned["changes"][0]["measure"]), ("smile", "corner_rise")
        )
        self.assertEqual(turned["changes"][0]["answer"], "clearly worse")
        self.assertTrue(turned["changes"][0]["focus"])

    def test_both_mouths_stand_on_the_sheet_of_the_older(self) -> None:
        self.filmed(15, rise=0.0, width=1.0)
        self.filmed(1, rise=9.0, width=1.13)
        pair = self.compare()["pair"]
        then, now = pair["then"], pair["now"]
        self.assertEqual(then["drawing"]["box"], now["drawing"]["box"])
        for side, width in ((then, 1.0), (now, 1.13)):
            frame = next(f for f in side["frames"] if f["frame"] == side["proposed"])
            corners = [frame["shape"]["points"][name] for name in ("ch_r", "ch_l")]
            self.assertAlmostEqual(corners[1][0] - corners[0][0], width, delta=0.01)

    def test_takes_that_can_not_be_compared_are_said(self) -> None:
        first = self.filmed(15)
        self.assertIsNone(self.compare()["pair"])
        side = self.filmed(1)
        Take.objects.filter(pk=side.pk).update(view="side")
        address = reverse("then-and-now", args=[self.student.pk])
        told = self.sent("get", f"{address}?then={first.pk}&now={side.pk}", expect=400)
        self.assertIn("one take is from the front", told["detail"].lower())
        other = self.filmed(2, self.add_student("Greta"))
        self.sent("get", f"{address}?then={first.pk}&now={other.pk}", expect=404)

    def test_what_an_older_engine_made_is_said_and_made_anew_when_it_is_asked_for(self) -> None:
        old = self.filmed(15)
        self.filmed(1, rise=0.0, width=1.0)
        old.readings.update(value=99.0)
        TakeAnalysis.objects.filter(take=old).update(engine="0", edition=0)
        page = self.compare()
        self.assertEqual((page["stale"], page["pair"]), ([old.pk], None))
        self.sent("post", reverse("refresh", args=[old.pk]))
        page = self.compare()
        self.assertEqual(page["stale"], [])
        rise = next(c for c in page["pair"]["changes"] if c["measure"] == "corner_rise")
        self.assertAlmostEqual(rise["then"], 9.0, delta=0.2)

    def test_the_plans_take_is_what_now_is_laid_over(self) -> None:
        began = self.filmed(15)
        self.sent("put", reverse("decisions", args=[began.pk]),
                  {"fault": "smile", "phase": "hold", "answer": "confirmed"})  # fmt: skip
        self.sent("post", reverse("take-plan", args=[began.pk]),
                  {"started_on": (self.today - 15 * DAYS).isoformat()}, 201)  # fmt: skip
        self.filmed(8)
        newest = self.filmed(0, rise=0.0, width=1.0)
        pair = self.compare()["pair"]
        self.assertEqual((pair["then"]["take"], pair["now"]["take"]), (began.pk, newest.pk))
        self.assertEqual((pair["focus"], pair["seen_from"]), ("smile", ["front"]))
        trend = self.sent("get", reverse("trend", args=[self.student.pk, "focus"]))
        self.assertEqual((trend["measure"], trend["high"]), ("corner_rise", 3.0))
        values = [round(p["value"]) for p in trend["points"]]
        self.assertEqual(values, [9, 9, 0])
        days = [p["filmed_on"] for p in trend["points"]]
        self.assertEqual(days, sorted(days))
        self.assertEqual(trend["plans"][0]["fault"], "Smile")
        self.assertEqual(len(trend["plans"][0]["rechecks"]), 2)

    def test_pictures_are_cut_to_the_mouth_unless_the_face_is_asked_for(self) -> None:
        then = self.from_demo("edda-front-12", 12, self.student)
        self.from_demo("edda-front-1", 1, self.student)
        for face in (False, True):
            pair = self.compare(**({"face": 1} if face else {}))["pair"]
            shown = pair["now"]["drawing"]["box"]
            stills = stills_of(then)
            assert stills is not None
            eyes = max(place[1] for place in stills.anchors.values())
            self.assertEqual(shown[3] > eyes, face)
            address = pair["now"]["frames"][0]["picture"]
            answer = self.client.get(address)
            self.assertEqual(answer["Cache-Control"], "private, no-store")
            picture = Image.open(io.BytesIO(answer.content))
            self.assertAlmostEqual(
                picture.height / picture.width,
                (shown[3] - shown[1]) / (shown[2] - shown[0]), delta=0.01,
            )  # fmt: skip
            # Skin, not paper: the cut lies inside the frame.
            self.assertGreater(np.asarray(picture.convert("L")).std(), 15)
            stranger = Client()
            self.assertEqual(stranger.get(address).status_code, 404)
            stranger.force_login(self.stranger)
            self.assertEqual(stranger.get(address).status_code, 404)


class LargeBandTests(RecordCase):
    def test_the_number_of_queries_does_not_grow(self) -> None:
        counts: list[dict[str, int]] = []
        for more in (2, 3):
            for n in range(more):
                student = self.add_student(f"S{more}-{n}")
                self.filmed(3, student)
                self.filmed(20 + n)
            pages = {
                "band": reverse("band"),
                "sectionals": reverse("sectionals"),
                **{
                    name: reverse(name, args=[self.student.pk])
                    for name in ("student", "plans", "record", "then-and-now")
                },
                "trend": reverse("trend", args=[self.student.pk, "corner_rise"]),
            }
            counts.append({})
            for name, address in pages.items():
                with CaptureQueriesContext(connection) as queries:
                    self.sent("get", address)
                counts[-1][name] = len(queries)
        self.assertEqual(counts[0], counts[1])
        self.assertLess(max(counts[0].values()), 25)


class NextForYouTests(RecordCase):
    def test_by_due_date_then_severity_then_waiting_time(self) -> None:
        for name, days, rise in (("Mild", 9, 8.0), ("Bad", 2, 14.0), ("Late", 5, 8.0)):
            self.filmed(days, self.add_student(name), rise=rise, width=1.13)
        for name, ago in (("Kept", 3), ("Longer", 9)):
            over = self.add_student(name, retain_until=self.today - ago * DAYS)
            self.filmed(40, over)
        due = self.add_student("Due")
        take = self.filmed(20, due)
        self.sent("put", reverse("decisions", args=[take.pk]),
                  {"fault": "smile", "phase": "hold", "answer": "confirmed"})  # fmt: skip
        self.sent("patch", reverse("take", args=[take.pk]), {"read": True})
        self.sent("post", reverse("take-plan", args=[take.pk]),
                  {"started_on": (self.today - 20 * DAYS).isoformat()}, 201)  # fmt: skip
        page = self.sent("get", reverse("band"))
        lines = [(line["name"], line["state"]) for line in page["next"]]
        self.assertEqual(
            lines,
            [("Longer", "keep-over"), ("Kept", "keep-over"), ("Due", "recheck-due"),
             ("Bad", "new-take"), ("Mild", "new-take"), ("Late", "new-take"),
             ("Edda", "nothing-filmed")],
        )  # fmt: skip
        chair = next(c for s in page["sections"] for c in s["chairs"] if c["name"] == "Due")
        self.assertEqual((chair["focus"], chair["focus_name"]), ("smile", "Smile"))


class NotesTests(RecordCase):
    def write(self, expect: int = 201, **note: Any) -> Any:
        return self.sent("post", reverse("record", args=[self.student.pk]), note, expect)

    def test_written_changed_taken_away(self) -> None:
        take = self.filmed(1)
        self.write(text="Braces since May")
        note = self.write(text="Corner lets go", take=take.pk, seconds=2.25)
        notes = self.sent("get", reverse("record", args=[self.student.pk]))["notes"]
        self.assertEqual([n["text"] for n in notes], ["Corner lets go", "Braces since May"])
        changed = self.sent("put", reverse("note", args=[note["id"]]), {"text": "Left corner"})
        self.assertEqual((changed["text"], changed["seconds"]), ("Left corner", 2.25))
        self.sent("delete", reverse("note", args=[note["id"]]), expect=204)
        self.assertEqual(Note.objects.count(), 1)

    def test_what_is_no_note_is_said(self) -> None:
        take = self.filmed(1)
        others = self.filmed(1, self.add_student("Greta"))
        for note, words in (
            ({"text": "  "}, "blank"), ({"text": "x" * 2001}, "at most 2000"),
            ({"text": "x", "seconds": 1.0}, "belongs to a take"),
            ({"text": "x", "take": take.pk, "seconds": 99.0}, "outside the clip"),
            ({"text": "x", "take": others.pk}, "another student"),
        ):  # fmt: skip
            self.assertIn(words, self.write(400, **note)["detail"])
        self.assertEqual(Note.objects.count(), 0)

    def test_timed_notes_go_out_and_come_in_once(self) -> None:
        take = self.filmed(1)
        self.write(text="In & out", take=take.pk, seconds=1.5)
        self.write(text="All of it", take=take.pk)
        text = self.client.get(reverse("notes-vtt", args=[take.pk])).content.decode()
        self.assertTrue(text.startswith("WEBVTT"))
        self.assertIn("00:00:01.500 -->", text)
        self.assertNotIn("All of it", text)
        come_in = reverse("notes-in", args=[take.pk])
        self.assertEqual(self.sent("post", come_in, {"text": text})["added"], 0)
        more = text + "\n00:00:03.000 --> 00:00:04.000\nLater\n"
        self.assertEqual(self.sent("post", come_in, {"text": more})["added"], 1)
        late = (
            text + "\n00:09:00.000 --> 00:09:04.000\nToo late\n\n00:00:00.500 --> 00:00:01.000\nx\n"
        )
        refused = self.sent("post", come_in, {"text": late}, 400)
        self.assertIn("outside the clip", refused["detail"])
        self.assertEqual(take.teacher_notes.count(), 3)


class SlipTests(RecordCase):
    def pages(self, address: str) -> list[str]:
        answer = self.client.get(address)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        self.assertEqual(answer["Content-Type"], "application/pdf")
        reader = PdfReader(io.BytesIO(answer.content))
        return [" ".join(page.extract_text().split()) for page in reader.pages]

    def refused(self, address: str) -> str:
        """The sentence a teacher reads in the window that was to show the page."""
        answer = self.client.get(address)
        self.assertEqual((answer.status_code, answer["Content-Type"]),
                         (400, "text/plain; charset=utf-8"))  # fmt: skip
        return answer.content.decode()

    def test_a_read_take_becomes_a_page_to_take_home(self) -> None:
        self.from_demo("pella-front-4", 9, self.student)
        Student.objects.filter(pk=self.student.pk).update(instrument="flute")
        take = self.from_demo("pella-front-11", 1, Student.objects.get(pk=self.student.pk))
        (text,) = self.pages(reverse("slip", args=[take.pk]))
        for words in ("Edda", "Flute", "lip plate too low", "On ", "Placing, 3 minutes a day",
                      "We film again on", "Then:", "Now:", "Stop and tell"):  # fmt: skip
            self.assertIn(words, text)
        reader = PdfReader(io.BytesIO(self.client.get(reverse("slip", args=[take.pk])).content))
        self.assertEqual(len(reader.pages[0].images), 2)
        self.assertIn("Paper is", self.refused(reverse("slip", args=[take.pk]) + "?paper=a3"))

    def test_a_running_plan_gives_its_strip(self) -> None:
        began = self.filmed(6)
        self.sent("put", reverse("decisions", args=[began.pk]),
                  {"fault": "smile", "phase": "hold", "answer": "confirmed"})  # fmt: skip
        start = {"started_on": (self.today - 6 * DAYS).isoformat()}
        plan = self.sent("post", reverse("take-plan", args=[began.pk]), start, 201)["running"]
        self.sent("put", reverse("plan", args=[plan["id"]]),
                  {"date": (self.today - DAYS).isoformat(), "done": True})  # fmt: skip
        newest = self.filmed(0, rise=0.0, width=1.0)
        (text,) = self.pages(reverse("slip", args=[newest.pk]))
        due = datetime.date.fromisoformat(plan["rechecks"][0]["due_on"])
        self.assertIn(f"{due:%A}, {due.day} {due:%B}", text)
        self.assertIn("✓", text)
        self.assertIn("Clearly better than on", text)

    def test_without_one_thing_there_is_no_slip_and_a_caution_comes_first(self) -> None:
        fine = self.filmed(1, rise=0.0, width=1.0)
        self.assertIn("no focus", self.refused(reverse("slip", args=[fine.pk])))
        hurts = self.filmed(0)
        self.sent("put", reverse("observations", args=[hurts.pk]), {"seen": ["pain"]})
        self.assertIn("First of all: pain", self.refused(reverse("slip", args=[hurts.pk])))

    def test_a_class_set_has_a_page_for_everybody_with_one_thing(self) -> None:
        bad = [self.add_student(name) for name in ("Ada", "Bo")]
        for student in bad:
            self.filmed(1, student)
        self.filmed(1, self.add_student("Cy"), rise=0.0, width=1.0)
        self.assertEqual(len(self.pages(reverse("slips"))), 2)
        (only,) = self.pages(reverse("slips") + f"?students={bad[1].pk}")
        self.assertIn("Bo", only)
        told = self.refused(reverse("slips") + f"?students={self.student.pk}")
        self.assertIn("None of these students", told)
        self.assertIn("by their numbers", self.refused(reverse("slips") + "?students=1;drop"))


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
        self.assertEqual(names, [["Ada", "Bo"], ["Cy"]])
        self.assertEqual([(g["start"], g["end"]) for g in page["groups"]], [(0, 10), (None, None)])
        rows = self.table(reverse("sectionals-csv") + "?most=2&stations=2&days=60")
        self.assertEqual([(r["student"], r["station"]) for r in rows],
                         [("Ada", "1"), ("Bo", "1"), ("Cy", "2"), ("Eve", "2")])  # fmt: skip
        told = self.sent("get", reverse("sectionals") + "?least=5&most=2", expect=400)
        self.assertIn("smallest group", told["detail"])


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
