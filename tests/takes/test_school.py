"""What an administrator sets for all bands of a school, and sees of them."""

from __future__ import annotations

import datetime
from typing import Any

from django.contrib.auth.models import User
from django.test import Client, tag
from django.urls import reverse
from django.utils import timezone

from sulvet.accounts.models import School
from sulvet.accounts.schools import join
from sulvet.takes import jobs, retention, worker
from sulvet.takes.models import Take
from tests.base import BandTestCase, make_teacher

DAY = datetime.timedelta(days=1)
WIDTH = "mouth_width|front|hold|"
WIDE = {"low": 0.5, "high": 0.99, "watch_low": 0.0, "watch_high": 0.0}


@tag("database")
class SchoolTests(BandTestCase):
    """``self.teacher`` runs Lindensee, where ``self.colleague`` teaches; ``away`` does not."""

    def setUp(self) -> None:
        super().setUp()
        lake, hill = (School.objects.create(name=name) for name in ("Lindensee", "Hill"))
        self.colleague, self.away = make_teacher("colleague"), make_teacher("away")
        for account, school in (
            (self.teacher, lake), (self.colleague, lake), (self.away, hill),
        ):  # fmt: skip
            join(account, school)
        User.objects.filter(pk__in=(self.teacher.pk, self.away.pk)).update(is_staff=True)
        self.teacher.refresh_from_db()
        self.theirs = self.add_student("Ida", self.colleague)

    def sees(self, account: User, address: str) -> Any:
        client = Client()
        client.force_login(account)
        answer = client.get(address)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def test_limits_count_for_all_teachers_who_have_changed_none(self) -> None:
        own, shared = (reverse(name, args=["horn"]) for name in ("own-standard", "shared-standard"))
        take = self.add_ready(self.theirs, rise=0.0, width=1.02)
        self.assertIn("Only an administrator", self.refused(self.colleague, shared))
        self.sent("put", own, {"bands": {WIDTH: WIDE}, "words": "", "school": "seven-eighths"})
        page = self.sent("put", shared, {"words": "agreed in May"})
        self.assertEqual((page["shared"]["bands"], page["shared"]["words"]), (1, "agreed in May"))
        self.assertFalse(any(band["changed"] for band in page["bands"]))
        self.assertEqual(page["version"], "horn 1-1.2")
        seen = self.sees(self.colleague, own)
        band = next(one for one in seen["bands"] if one["key"] == WIDTH)
        self.assertEqual(
            (band["high"], band["base"]["high"], seen["may_share"]), (0.99, 0.99, False)
        )
        self.assertEqual(seen["schools"][0]["id"], "seven-eighths")
        self.assertIsNone(self.sees(self.away, own)["shared"])
        # Their takes are judged anew by the worker.
        worker.refresh()
        reading = take.readings.get(measure="mouth_width", phase="hold")
        self.assertNotEqual(reading.verdict, "in band")
        # Taken back, the shipped limits count again, for the administrator too.
        page = self.sent("delete", shared)
        self.assertEqual((page["shared"]["bands"], page["version"]), (0, "horn 1-2.2"))
        worker.refresh()
        reading = take.readings.get(measure="mouth_width", phase="hold")
        self.assertEqual(reading.verdict, "in band")

    def refused(self, account: User, address: str) -> str:
        client = Client()
        client.force_login(account)
        answer = client.put(address, {"words": ""}, content_type="application/json")
        self.assertEqual(answer.status_code, 400, answer.content[:300])
        return str(answer.json()["detail"])

    def test_what_is_over_is_deleted_in_all_bands_of_the_school_and_in_no_other(self) -> None:
        today = timezone.localdate()
        others = self.add_student("Otto", self.away)
        for student in (self.theirs, others):
            self.add_ready(student)
            student.consent_until = today - DAY
            student.save()
        page = self.sent("put", reverse("school-retention"), {"days": 20})
        self.assertEqual((page["name"], page["agreed_on"], page["days"]),
                         ("Lindensee", str(today), 20))  # fmt: skip
        rule = self.sees(self.colleague, reverse("retention"))
        self.assertEqual((rule["agreed_on"], rule["school_days"]), (None, 20))
        for day in (today, today + 19 * DAY):
            self.assertEqual(retention.delete_what_is_over(day), (0, 0))
        # A teacher may have a shorter warning, not a longer one.
        client = Client()
        client.force_login(self.colleague)
        for days, gone in ((60, (0, 0)), (10, (1, 0))):
            client.put(reverse("retention"), {"days": days}, content_type="application/json")
            if gone[0]:
                with self.assertLogs("sulvet.takes.retention"):
                    self.assertEqual(retention.delete_what_is_over(today + 12 * DAY), gone)
            else:
                self.assertEqual(retention.delete_what_is_over(today + 12 * DAY), gone)
        self.assertEqual(retention.delete_what_is_over(today + 400 * DAY), (0, 0))
        self.assertIsNone(self.sent("delete", reverse("school-retention"))["agreed_on"])

    def test_a_clip_given_up_is_listed_by_its_number_and_tried_again(self) -> None:
        take, other = self.add_take(self.theirs), self.add_take(self.add_student("Otto", self.away))
        for one in (take, other):
            one.state, one.tries, one.message = Take.State.FAILED, jobs.MAX_TRIES, jobs.GIVEN_UP
            one.heartbeat = timezone.now()
            one.save()
        page = self.sent("get", reverse("school"))
        self.assertEqual([(row["take"], row["teacher"]) for row in page["given_up"]],
                         [(take.pk, "colleague")])  # fmt: skip
        self.assertNotIn("Ida", str(page))
        self.sent("post", reverse("given-up", args=[other.pk]), expect=404)
        page = self.sent("post", reverse("given-up", args=[take.pk]))
        self.assertEqual(page["given_up"], [])
        take.refresh_from_db()
        self.assertEqual((take.state, take.tries), (Take.State.WAITING, 0))
        self.client.force_login(self.colleague)
        for method, name, args in (
            ("get", "school", []), ("put", "school-retention", []), ("post", "given-up", [take.pk]),
        ):  # fmt: skip
            self.sent(method, reverse(name, args=args), {"days": 30}, 400)
