"""Schools of a district: who sees whom, and a student who goes to another teacher."""

from __future__ import annotations

import datetime
from io import StringIO

from django.contrib.auth.models import User
from django.core.management import call_command
from django.core.management.base import CommandError
from django.test import Client, tag
from django.urls import reverse
from django.utils import timezone

from sulvet.accounts.models import Membership, School
from sulvet.accounts.schools import join, school_of
from sulvet.band.models import Section, Student
from sulvet.booth.models import CaptureLink
from tests.base import BandTestCase, make_teacher


@tag("database")
class SchoolTests(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.lake, self.hill = (School.objects.create(name=n) for n in ("Lindensee", "Hill"))
        self.colleague, self.away = make_teacher("colleague"), make_teacher("away")
        for account, school in (
            (self.teacher, self.lake), (self.colleague, self.lake), (self.away, self.hill),
        ):  # fmt: skip
            join(account, school)

    def test_an_administrator_sees_and_closes_accounts_of_the_own_school_alone(self) -> None:
        User.objects.filter(pk=self.teacher.pk).update(is_staff=True)
        page = self.sent("get", reverse("people"))
        self.assertEqual(page["school"], "Lindensee")
        self.assertEqual([one["name"] for one in page["accounts"]], ["colleague", "teacher"])
        closed = {"active": False, "administrator": False}
        self.sent("put", reverse("account", args=[self.away.pk]), closed, 404)
        self.sent("put", reverse("account", args=[self.stranger.pk]), closed, 404)
        self.sent("put", reverse("account", args=[self.colleague.pk]), closed)
        self.assertTrue(User.objects.get(pk=self.away.pk).is_active)
        # Whoever they invite comes to this school, a substitute too, without a say in it.
        until = (timezone.localdate() + datetime.timedelta(days=5)).isoformat()
        for name, role in (("newcomer", {"role": "teacher"}),
                           ("for-a-week", {"role": "substitute", "until": until})):  # fmt: skip
            made = self.sent("post", reverse("invitations"), role, 201)
            token = made["invitations"][0]["address"].rpartition("/join/")[2]
            given = {"username": name, "password": "a-longer-word"}
            Client().post(reverse("join", args=[token]), given, content_type="application/json")
            account = User.objects.get(username=name)
            self.assertEqual((school_of(account), account.is_staff), (self.lake, False))

    def test_a_school_is_founded_from_the_shell_and_run_by_whoever_accepts(self) -> None:
        out = StringIO()
        call_command("add_school", "Harbour", stdout=out)
        token = out.getvalue().strip().rpartition("/join/")[2]
        somebody = Client()
        asked = somebody.get(reverse("join", args=[token])).json()
        self.assertEqual((asked["school"], asked["host"]), ("Harbour", ""))
        given = {"username": "head", "password": "a-longer-word"}
        answer = somebody.post(
            reverse("join", args=[token]), given, content_type="application/json"
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        head = User.objects.get(username="head")
        self.assertTrue(head.is_staff)
        self.assertEqual(Membership.objects.get(account=head).school.name, "Harbour")
        with self.assertRaisesMessage(CommandError, "There is a school “Harbour” already."):
            call_command("add_school", "Harbour")

    def test_a_student_goes_to_a_colleague_with_everything(self) -> None:
        take = self.add_ready()
        link = CaptureLink.objects.create(
            student=self.student, until=timezone.now() + datetime.timedelta(days=3)
        )
        names = [one["name"] for one in self.sent("get", reverse("colleagues"))]
        self.assertEqual(names, ["colleague"])
        address = reverse("transfer", args=[self.student.pk])
        self.sent("post", address, {"to": self.away.pk}, 404)
        Student.objects.filter(pk=self.student.pk).update(consent_on=None)
        said = self.sent("post", address, {"to": self.colleague.pk}, 400)["detail"]
        self.assertIn("whether colleague may see them", said)
        since = datetime.date(2026, 9, 1)
        Student.objects.filter(pk=self.student.pk).update(consent_on=since)
        self.sent("post", address, {"to": self.colleague.pk}, 204)
        self.sent("get", reverse("take", args=[take.pk]), expect=404)
        self.client.force_login(self.colleague)
        self.sent("get", reverse("take", args=[take.pk]))
        moved = self.student.transfers.get()
        self.assertEqual((moved.left, moved.joined, moved.consent_on),
                         (self.teacher, self.colleague, since))  # fmt: skip
        link.refresh_from_db()
        self.assertTrue(link.revoked)
        self.assertEqual([s.band.teacher for s in Section.objects.all()], [self.colleague])
