"""Administrator, teacher and substitute: what each may, and until when."""

from __future__ import annotations

import datetime
from collections.abc import Iterable, Iterator
from typing import Any

from django.contrib.auth.models import User
from django.test import Client, tag
from django.urls import URLPattern, get_resolver
from django.utils import timezone

from sulvet.accounts import access_log
from sulvet.accounts.invitations import OVER, path_of
from sulvet.accounts.models import Invitation
from sulvet.accounts.roles import TEACHERS_ALONE
from tests.base import BandTestCase
from tests.operations import operations

JSON = "application/json"


class RolesCase(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.guest = Client()

    def invite(self, role: str = "substitute", days: int | None = 5, expect: int = 201) -> Any:
        until = days and (timezone.localdate() + datetime.timedelta(days=days)).isoformat()
        return self.sent("post", "/api/invitations/", {"role": role, "until": until}, expect)

    def address(self) -> str:
        """Of the newest invitation, as the API has it."""
        return f"/api{path_of(Invitation.objects.all()[0])}/"

    def join(self, expect: int = 200, **given: str) -> Any:
        answer = self.guest.post(self.address(), given, content_type=JSON)
        self.assertEqual(answer.status_code, expect, answer.content)
        return answer.json()

    def stand_in(self) -> Any:
        self.invite()
        return self.join(username="sub", password="another-long-word")


@tag("database")
class SubstituteTests(RolesCase):
    def test_sees_the_bands_of_the_teacher_until_the_last_day(self) -> None:
        row = self.invite()["invitations"][0]
        self.assertTrue(row["address"].endswith(path_of(Invitation.objects.get())))
        told = self.guest.get(self.address()).json()
        self.assertEqual((told["role"], told["host"]), ("substitute", "teacher"))
        session = self.join(username="sub", password="another-long-word")
        self.assertEqual((session["username"], session["acting_for"]), ("sub", "teacher"))
        page = f"/api/students/{self.student.pk}/"
        self.assertEqual(self.guest.get(page).json()["name"], self.student.name)
        # The own bands, where there is nothing; and back.
        for host, expect in ((None, 404), (self.teacher.pk, 200)):
            self.guest.put("/api/standing-in/", {"host": host}, content_type=JSON)
            self.assertEqual(self.guest.get(page).status_code, expect)
        # Logged in again, the substitute stands in at once.
        self.guest.delete("/api/session/")
        again = {"username": "sub", "password": "another-long-word"}
        self.assertEqual(
            self.guest.post("/api/session/", again, content_type=JSON).json()["acting_for"],
            "teacher",
        )
        Invitation.objects.update(until=timezone.localdate() - datetime.timedelta(days=1))
        self.assertEqual(self.guest.get(page).status_code, 404)
        self.assertIsNone(self.guest.get("/api/session/").json()["acting_for"])

    def test_does_what_a_lesson_needs_and_nothing_that_is_the_teachers(self) -> None:
        self.stand_in()
        take = self.add_ready()
        for method, path, body in (
            ("get", f"/api/takes/{take.pk}/", None),
            ("put", f"/api/takes/{take.pk}/observations/", {"seen": ["airy"]}),
            ("post", f"/api/students/{self.student.pk}/record/",
             {"text": "Played well.", "take": None, "seconds": None}),
        ):  # fmt: skip
            answer = getattr(self.guest, method)(path, body, content_type=JSON)
            self.assertLess(answer.status_code, 300, (path, answer.content))
        # What a lesson needs may be noted, and its teacher sees by whom it was opened.
        lines = list(access_log.entries("teacher"))
        self.assertEqual(lines[0].what, f"take {take.pk}, by sub")
        refused = set()
        for method, address, _ in operations(self.student.pk):
            if method == "delete" and address.startswith(("/api/session", "/api/takes")):
                continue
            answer = getattr(self.guest, method)(address, {}, content_type=JSON)
            if b"standing in for teacher" in answer.content:
                refused.add(address)
        for word in ("roster", "consent", "facts", "retention", "links", "invitations", "booths"):
            self.assertTrue([a for a in refused if word in a], word)
        for path in ("/api/archive.zip", f"/api/students/{self.student.pk}/data.zip"):
            self.assertEqual(self.guest.get(path).status_code, 403, path)
        self.assertEqual(self.guest.delete(f"/api/takes/{take.pk}/").status_code, 403)

    def test_every_refusal_is_of_an_address_that_there_is(self) -> None:
        names = {one.name for one in _patterns(get_resolver().url_patterns)}
        self.assertEqual(set(TEACHERS_ALONE) - names, set())

    def test_ended_by_the_teacher_alone_and_at_once(self) -> None:
        self.stand_in()
        one = Invitation.objects.get()
        self.assertEqual(self.guest.delete(f"/api/invitations/{one.pk}/").status_code, 403)
        self.guest.put("/api/standing-in/", {"host": None}, content_type=JSON)
        self.assertEqual(self.guest.delete(f"/api/invitations/{one.pk}/").status_code, 404)
        self.guest.put("/api/standing-in/", {"host": self.teacher.pk}, content_type=JSON)
        self.sent("delete", f"/api/invitations/{one.pk}/")
        answer = self.guest.get(f"/api/students/{self.student.pk}/")
        self.assertEqual(answer.status_code, 404)
        back = self.guest.put("/api/standing-in/", {"host": self.teacher.pk}, content_type=JSON)
        self.assertIn("not any more", back.json()["detail"])


@tag("database")
class InvitationTests(RolesCase):
    def test_once_within_a_week_and_by_its_own_address(self) -> None:
        self.stand_in()
        address, self.guest = self.address(), Client()
        self.assertEqual(self.join(400, username="c", password="a-third-word")["detail"], OVER)
        self.assertEqual(self.guest.get(address[:-3] + "x/").json()["detail"], OVER)
        self.invite()
        Invitation.objects.filter(guest=None).update(expires_at=timezone.now())
        self.assertEqual(self.join(400, username="c", password="a-third-word")["detail"], OVER)
        self.assertFalse(User.objects.filter(username="c").exists())

    def test_what_can_not_be(self) -> None:
        self.invite(days=None, expect=400)
        self.invite(days=-1, expect=400)
        self.invite("teacher", expect=400)
        self.invite()
        self.assertIn("already", self.join(400, username="stranger", password="x" * 12)["detail"])
        self.join(400, username="short", password="x")
        self.guest.force_login(self.teacher)
        self.assertIn("your own invitation", self.join(400)["detail"])

    def test_a_teacher_who_has_an_account_stands_in_with_it(self) -> None:
        self.invite()
        self.guest.force_login(self.stranger)
        self.assertEqual(self.join()["acting_for"], "teacher")
        # A login of their own leads to their own bands.
        self.guest.logout()
        again = {"username": "stranger", "password": "a-long-word"}
        session = self.guest.post("/api/session/", again, content_type=JSON).json()
        self.assertIsNone(session["acting_for"])
        self.assertEqual([one["name"] for one in session["hosts"]], ["teacher"])


@tag("database")
class AdministratorTests(RolesCase):
    def setUp(self) -> None:
        super().setUp()
        self.teacher.is_staff = True
        self.teacher.save()

    def test_invites_teachers_closes_accounts_and_sees_no_band(self) -> None:
        self.invite("teacher", days=None)
        self.join(username="new", password="another-long-word")
        page = self.sent("get", "/api/people/")
        self.assertEqual([one["name"] for one in page["accounts"]], ["new", "stranger", "teacher"])
        self.assertEqual(self.guest.get("/api/people/").json()["accounts"], [])
        self.assertEqual(self.guest.get(f"/api/students/{self.student.pk}/").status_code, 404)
        new = User.objects.get(username="new")
        closed = {"active": False, "administrator": False}
        self.sent("put", f"/api/people/{new.pk}/", closed)
        self.assertEqual(self.guest.get("/api/people/").status_code, 403, "logged out by it")
        self.sent("put", f"/api/people/{self.teacher.pk}/", closed, 400)
        self.guest.force_login(self.stranger)
        answer = self.guest.put(f"/api/people/{new.pk}/", closed, content_type=JSON)
        self.assertEqual(answer.status_code, 400)


def _patterns(those: Iterable[Any]) -> Iterator[URLPattern]:
    for one in those:
        if isinstance(one, URLPattern):
            yield one
        else:
            yield from _patterns(one.url_patterns)
