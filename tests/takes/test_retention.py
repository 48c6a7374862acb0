"""Consent and the time for which all is kept act by themselves."""

from __future__ import annotations

import datetime
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import tag
from django.utils import timezone

from sulvet.band.models import Student
from sulvet.closeups.models import CloseUp
from sulvet.core import sandbox
from sulvet.takes import jobs, retention, tasks
from sulvet.takes.models import Take
from tests.base import BandTestCase

DAY = datetime.timedelta(days=1)


@tag("database")
class RetentionTests(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.take, self.today = self.add_ready(), timezone.localdate()
        self.take.directory.mkdir(parents=True)
        self.take.proxy.write_bytes(b"film")

    def tell(self, **facts: object) -> None:
        Student.objects.filter(pk=self.student.pk).update(**facts)

    def end_consent(self) -> None:
        self.tell(consent_until=self.today - DAY)

    def test_withdrawn_and_expired_consent_closes_every_picture_and_stops_every_reading(
        self,
    ) -> None:
        other = self.add_ready()
        pictures = [
            f"/private/takes/{self.take.pk}/clip.mp4",
            f"/private/takes/{self.take.pk}/frames/0.jpg",
            f"/private/takes/{self.take.pk}/onto/{other.pk}/0.jpg",
        ]  # fmt: skip
        edit = {"phases": [{"name": "rest", "start": 0, "end": 1}]}
        for facts in ({"consent_until": self.today - DAY}, {"consent_on": None}):
            self.tell(consent_on=self.today - 9 * DAY, consent_until=None)
            self.assertEqual(self.client.get(pictures[0]).status_code, 200)
            self.tell(**facts)
            for address in pictures:
                answer = self.client.get(address)
                self.assertEqual(answer.status_code, 403, address)
                self.assertIn("Consent to film Edda has ended", answer.content.decode())
            bench = self.sent("get", f"/api/takes/{self.take.pk}/")
            self.assertEqual(bench["has_frames"], False)
            self.assertIn("has ended", bench["closed"])
            for method, path, body in (
                ("put", f"/api/takes/{self.take.pk}/phases/", edit),
                ("post", f"/api/takes/{self.take.pk}/reread/", None),
                ("post", f"/api/takes/{self.take.pk}/sound/", None),
                ("get", f"/api/students/{self.student.pk}/then-and-now/", None),
            ):
                said = self.sent(method, path, body, expect=403)
                self.assertIn("Ask the parents again", said["detail"])
        waiting = self.add_take(state=Take.State.WAITING)
        with patch.object(sandbox, "review") as read:
            tasks.read_take.func(waiting.pk, str(waiting.job))
        read.assert_not_called()
        waiting.refresh_from_db()
        self.assertIn("has ended", waiting.message)

    def test_clips_without_consent_go_after_the_warning_agreed_to_and_not_before(self) -> None:
        self.end_consent()
        for day in (self.today, self.today + 900 * DAY):
            self.assertEqual(retention.delete_what_is_over(day), (0, 0))
        line = self.sent("get", "/api/band/")["next"][0]
        self.assertEqual(line["state"], "consent-ended")
        self.assertNotIn("Sulvet deletes", line["what"])
        self.sent("put", "/api/retention/", {"days": 30})
        goes = self.today + 30 * DAY
        line = self.sent("get", "/api/band/")["next"][0]
        self.assertIn(f"Sulvet will delete on {goes.day} {goes:%B}", line["what"])
        self.assertEqual(retention.delete_what_is_over(goes - DAY), (0, 0))
        with self.assertLogs("sulvet.takes.retention"):
            self.assertEqual(retention.delete_what_is_over(goes), (1, 0))
        self.assertFalse(self.take.directory.exists())
        self.assertTrue(Student.objects.filter(pk=self.student.pk).exists())

    def test_a_computer_that_was_off_for_weeks_warns_all_the_same(self) -> None:
        self.sent("put", "/api/retention/", {"days": 30})
        self.end_consent()
        late = self.today + 200 * DAY
        self.assertEqual(retention.delete_what_is_over(late), (0, 0))
        self.assertEqual(retention.delete_what_is_over(late + 29 * DAY), (0, 0))
        with self.assertLogs("sulvet.takes.retention"):
            self.assertEqual(retention.delete_what_is_over(late + 30 * DAY), (1, 0))

    def test_a_withdrawal_counts_from_the_day_it_was_seen_and_consent_given_again_ends_it(
        self,
    ) -> None:
        self.sent("put", "/api/retention/", {"days": 7})
        self.tell(consent_on=None)
        retention.delete_what_is_over(self.today)
        self.student.refresh_from_db()
        self.assertEqual(self.student.consent_missing_since, self.today)
        facts = {"name": "Edda", "instrument": "horn", "consent_on": str(self.today)}
        self.sent("put", f"/api/students/{self.student.pk}/facts/", facts)
        self.assertEqual(retention.delete_what_is_over(self.today + 99 * DAY), (0, 0))
        self.tell(consent_on=None)
        retention.delete_what_is_over(self.today + 100 * DAY)
        self.assertEqual(retention.delete_what_is_over(self.today + 106 * DAY), (0, 0))
        with self.assertLogs("sulvet.takes.retention"):
            self.assertEqual(retention.delete_what_is_over(self.today + 107 * DAY), (1, 0))

    def test_all_of_a_student_goes_when_the_time_to_keep_is_over(self) -> None:
        self.tell(retain_until=self.today - DAY)
        self.sent("put", "/api/retention/", {"days": 10})
        self.sent("delete", "/api/retention/")
        # Seen by a clock that was ahead: it counts from when that was put right.
        self.assertEqual(retention.delete_what_is_over(self.today + 50 * DAY), (0, 0))
        self.sent("put", "/api/retention/", {"days": 10})
        self.assertEqual(retention.delete_what_is_over(self.today), (0, 0))
        with self.assertLogs("sulvet.takes.retention"):
            self.assertEqual(retention.delete_what_is_over(self.today + 10 * DAY), (0, 1))
        self.assertFalse(Student.objects.filter(pk=self.student.pk).exists())
        self.assertFalse(self.take.directory.exists())

    def test_nobody_agrees_for_another_teacher(self) -> None:
        self.client.force_login(self.stranger)
        self.sent("put", "/api/retention/", {"days": 7})
        self.end_consent()
        self.assertEqual(retention.delete_what_is_over(self.today + 90 * DAY), (0, 0))
        self.sent("put", "/api/retention/", {"days": 1}, expect=400)

    def test_a_photo_with_a_face_in_it_needs_consent_and_is_closed_without(self) -> None:
        self.tell(instrument="clarinet")
        address = f"/api/students/{self.student.pk}/close-ups/"

        def send(face: bool, expect: int) -> dict[str, object]:
            def photo(source: object, out: object) -> sandbox.Photo:
                out.write_bytes(b"jpeg")  # type: ignore[attr-defined]
                return sandbox.Photo(600, 800, face)

            with patch.object(sandbox, "photo", photo):
                answer = self.client.post(address, {"photo": SimpleUploadedFile("a.jpg", b"x")})
            self.assertEqual(answer.status_code, expect, answer.content)
            return dict(answer.json())

        shown = send(True, 201)["id"]
        self.end_consent()
        self.assertIn("This photo shows a face", str(send(True, 400)["detail"]))
        reed = send(False, 201)["id"]
        for number, status in ((shown, 403), (reed, 200)):
            answer = self.client.get(f"/private/close-ups/{number}.jpg")
            self.assertEqual(answer.status_code, status)
        self.assertEqual(CloseUp.objects.count(), 2)


@tag("database")
class LateReadingTests(BandTestCase):
    def test_what_is_read_while_consent_is_withdrawn_is_closed_all_the_same(self) -> None:
        take = self.add_take(state=Take.State.WAITING)
        claimed = jobs.claim(take.pk, str(take.job))
        assert claimed is not None
        Student.objects.filter(pk=self.student.pk).update(consent_on=None)
        page = self.sent("get", f"/api/students/{self.student.pk}/")
        self.assertIn("has ended", page["closed"])
