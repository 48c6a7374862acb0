"""What was said of a clip, put right after it has come in."""

from __future__ import annotations

import datetime
from typing import Any

from django.urls import reverse

from sulvet.records.models import Note
from sulvet.takes.models import Mark, Take
from tests.base import TODAY, BandTestCase


class CorrectionTests(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.take = self.add_ready()
        self.take.directory.mkdir(parents=True)
        self.take.proxy.write_bytes(b"as it was")
        self.address = reverse("take-facts", args=[self.take.pk])

    def said(self, **other: Any) -> dict[str, Any]:
        """All that is said of the take, some of it otherwise."""
        facts = {"student": self.student.pk, "view": "front", "purpose": "check",
                 "filmed_on": TODAY.isoformat(), "mirrored": False}  # fmt: skip
        return {**facts, **other}

    def place(self, landmark: str, x: float) -> None:
        self.take.marks.create(landmark=landmark, frame=0, x=x, y=40, sigma=1, source="placed")

    def placed(self) -> dict[str, float]:
        rows = self.take.marks.filter(source=Mark.Source.PLACED)
        return {mark.landmark: mark.x for mark in rows}

    def test_another_day_changes_nothing_that_was_measured(self) -> None:
        before = TODAY - datetime.timedelta(days=3)
        page = self.sent("put", self.address, self.said(filmed_on=before.isoformat()))
        self.assertEqual((page["filmed_on"], page["state"]), (before.isoformat(), "ready"))

    def test_a_mirrored_picture_takes_the_marks_to_its_other_side(self) -> None:
        self.take.edits.create(label="a mark", before={}, after={})
        self.place("ch_r", 100.0)
        self.place("ls", 310.0)
        page = self.sent("put", self.address, self.said(mirrored=True))
        self.assertEqual((page["mirrored"], page["state"]), (True, "waiting"))
        # The picture of 600 px runs from 0 to 599.
        self.assertEqual(self.placed(), {"ch_l": 499.0, "ls": 289.0})
        self.assertFalse(self.take.edits.exists())
        self.assertFalse(self.take.proxy.exists(), "a copy that shows it as it was")

    def test_another_view_lets_its_marks_go_and_is_analysed_again(self) -> None:
        self.place("ch_r", 100.0)
        page = self.sent("put", self.address, self.said(view="side"))
        self.assertEqual((page["view"], page["state"]), ("side", "waiting"))
        self.assertEqual(self.placed(), {})
        self.assertTrue(self.take.proxy.exists())

    def test_a_clip_goes_to_the_student_it_shows_with_its_notes(self) -> None:
        other = self.add_student("Nils", instrument="clarinet")
        note = Note.objects.create(
            student=self.student, take=self.take, text="soft", written_on=self.take.created_at
        )
        page = self.sent("put", self.address, self.said(student=other.pk))
        note.refresh_from_db()
        self.assertEqual((page["student"], page["state"]), (other.pk, "waiting"))
        self.assertEqual(note.student, other)

    def test_what_can_not_be_is_refused_and_nothing_changes(self) -> None:
        shy = self.add_student("Shy", consent_on=None)
        far = (TODAY + datetime.timedelta(days=900)).isoformat()
        theirs = self.add_student("Not mine", self.stranger)
        for said, status, words in (
            (self.said(student=shy.pk), 400, "no filming consent"),
            (self.said(filmed_on=far), 400, "in the future"),
            (self.said(student=theirs.pk), 404, ""),
        ):
            answer = self.sent("put", self.address, said, status)
            self.assertIn(words, answer["detail"])
        self.assertEqual(Take.objects.get(pk=self.take.pk).student, self.student)


class LipTests(BandTestCase):
    def test_the_newest_take_from_the_front_says_which_lips_and_moves_the_limits(self) -> None:
        newest = self.add_ready()
        self.student.refresh_from_db()
        self.assertAlmostEqual(self.student.lip_share or 0.0, 0.3, places=2)
        page = self.sent("get", reverse("take", args=[newest.pk]))
        self.assertEqual((page["lips"], page["stale"]), ("", False))
        # As a later take would have told it: what was made before is out of date, and says why.
        self.student.lip_share = 0.4
        self.student.save()
        Take.objects.filter(pk=newest.pk).update(view="side")
        page = self.sent("get", reverse("take", args=[newest.pk]))
        self.assertTrue(page["stale"])
        Take.objects.filter(pk=newest.pk).update(view="front")
        older = self.add_take(state=Take.State.READY)
        Take.objects.filter(pk=older.pk).update(filmed_on=TODAY - datetime.timedelta(days=9))
        page = self.sent("post", reverse("refresh", args=[newest.pk]))
        self.assertFalse(page["stale"])
        self.student.refresh_from_db()
        self.assertAlmostEqual(self.student.lip_share or 0.0, 0.3, places=2)
