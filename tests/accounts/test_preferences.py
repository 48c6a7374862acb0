"""The school's own time zone and paper; what a page is told when its session has ended."""

from __future__ import annotations

import datetime
from unittest.mock import patch

from django.test import Client, tag
from django.urls import reverse

from sulvet.accounts.preferences import COOKIE
from sulvet.band.models import Retention, Student
from sulvet.takes import retention
from tests.base import BandTestCase
from tests.fake_clock import fake_clock

#: Half past eleven in the evening in London is the next morning in Tokyo.
LATE = datetime.datetime(2026, 11, 20, 23, 30, tzinfo=datetime.UTC)
HERE, THERE = "2026-11-20", "2026-11-21"


@tag("database")
class PreferencesTests(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.enterContext(fake_clock(LATE))

    def today(self, client: Client) -> str:
        return str(client.get(reverse("preferences")).json()["today"])

    def test_days_are_counted_as_they_are_at_the_school(self) -> None:
        self.assertEqual(self.today(self.client), HERE)
        self.client.cookies[COOKIE] = "Asia/Tokyo"
        self.assertEqual(self.today(self.client), THERE)
        # What is set goes before what the browser says, and counts in other sessions as well.
        page = self.sent("put", reverse("preferences"),
                         {"time_zone": "America/Chicago", "paper": "letter"})  # fmt: skip
        self.assertEqual((page["today"], page["paper"]), (HERE, "letter"))
        other = Client()
        other.force_login(self.teacher)
        other.cookies[COOKIE] = "Asia/Tokyo"
        self.assertEqual(self.today(other), HERE)

    def test_what_can_not_be_is_refused_and_odd_cookies_count_for_nothing(self) -> None:
        for odd in ({"time_zone": "Mars/Olympus", "paper": ""}, {"time_zone": "", "paper": "A5"}):
            self.assertIn("detail", self.sent("put", reverse("preferences"), odd, expect=400))
        for zone in ("Mars/Olympus", "../../etc/passwd", "x" * 5000):
            self.client.cookies[COOKIE] = zone
            self.assertEqual(self.today(self.client), HERE)

    def test_what_is_over_goes_when_it_is_over_there(self) -> None:
        day = datetime.date.fromisoformat(HERE)
        Retention.objects.create(teacher=self.teacher, days=0, agreed_on=day)
        Student.objects.filter(pk=self.student.pk).update(
            retain_until=day - datetime.timedelta(1), over_since=day + datetime.timedelta(1)
        )
        with patch.object(retention, "note_what_is_over"):
            self.assertEqual(retention.delete_what_is_over(), (0, 0))
            self.sent("put", reverse("preferences"), {"time_zone": "Asia/Tokyo", "paper": ""})
            self.assertEqual(retention.delete_what_is_over(), (0, 1))


@tag("database")
class EndedTests(BandTestCase):
    def test_a_page_whose_session_has_ended_is_told_so(self) -> None:
        answer = Client().get(reverse("band"))
        self.assertEqual((answer.status_code, answer.json()["code"]), (403, "logged-out"))
        self.assertIn("Log in again", answer.json()["detail"])
