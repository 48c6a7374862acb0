"""Notes, and what is next for the teacher."""

from __future__ import annotations

from typing import Any

from django.test import tag
from django.urls import reverse

from sulvet.records.models import Note
from tests.records.base import DAYS, RecordCase


@tag("database")
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


@tag("database")
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
            ({"text": "  "}, "blank"), ({"text": "x" * 2001}, "the limit is 2000"),
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
