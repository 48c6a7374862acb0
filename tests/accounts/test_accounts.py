"""Who gets in, from where, and how all sessions end."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.test import Client, TestCase, override_settings, tag

from sulvet.accounts.idle import COOKIE
from tests.base import BandTestCase
from tests.fake_clock import fake_clock

COUNTING = {"default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"}}
SAID = {"username": "hanna", "password": "four quiet words"}


@tag("database")
class FirstAccountTests(TestCase):
    def make(self, address: str, **also: str) -> Any:
        return self.client.post(
            "/api/first-account/", {**SAID, **also}, "application/json", REMOTE_ADDR=address
        )

    @override_settings(FIRST_CODE="1a2b3c4d")
    def test_from_another_computer_only_with_the_code_that_was_printed(self) -> None:
        session = self.client.get("/api/session/", REMOTE_ADDR="192.0.2.7").json()
        self.assertEqual((session["new"], session["code_needed"]), (True, True))
        for code in ("", "1a2b3c4e"):
            answer = self.make("192.0.2.7", code=code)
            self.assertEqual(answer.status_code, 400)
            self.assertIn("the code Sulvet printed", answer.json()["detail"])
        self.assertFalse(User.objects.exists())
        self.assertEqual(self.make("192.0.2.7", code=" 1a2b3c4d").status_code, 200)

    def test_without_a_code_nobody_from_elsewhere_and_anybody_from_here(self) -> None:
        self.assertEqual(self.make("192.0.2.7", code="").status_code, 400)
        self.assertEqual(self.make("::1").status_code, 200)

    @override_settings(SHARE="https://band.school.example", FIRST_CODE="1a2b3c4d")
    def test_behind_another_server_here_is_everywhere(self) -> None:
        self.assertEqual(self.make("127.0.0.1").status_code, 400)

    def test_the_name_is_no_password(self) -> None:
        answer = self.make("127.0.0.1", password="hanna-hanna")
        self.assertEqual(answer.status_code, 200)
        User.objects.all().delete()
        answer = self.make("127.0.0.1", username="trombones", password="trombones")
        self.assertIn("too similar to the username", answer.json()["detail"])


@tag("database")
class LoginTests(BandTestCase):
    def log_in(self, name: str = "teacher", password: str = "") -> Any:
        said = {"username": name, "password": password or "wrong"}
        return Client().post("/api/session/", said, "application/json")

    def test_ten_wrong_passwords_lock_the_name_and_say_for_how_long(self) -> None:
        for _ in range(9):
            self.assertEqual(self.log_in().status_code, 400)
        answer = self.log_in()
        self.assertEqual(answer.status_code, 429)
        self.assertIn("for 15 minutes", answer.json()["detail"])

    @override_settings(CACHES=COUNTING)
    def test_ever_new_names_are_refused_before_a_password_is_hashed(self) -> None:
        answers = [
            Client().post(
                "/api/session/", {"username": f"name-{n}", "password": "x"}, "application/json",
                headers={"X-Forwarded-For": f"192.0.2.{n}"},
            ).status_code
            for n in range(24)
        ]  # fmt: skip
        self.assertEqual(answers, [400] * 20 + [429] * 4)

    def test_another_password_ends_every_other_session(self) -> None:
        other = Client()
        other.force_login(self.teacher)
        body = {"old": "wrong", "new": "four quiet words"}
        self.sent("put", "/api/password/", body, 400)
        self.sent("put", "/api/password/", {"old": "a-long-word", "new": "short"}, 400)
        self.sent("put", "/api/password/", {"old": "a-long-word", "new": body["new"]})
        self.assertEqual(self.client.get("/api/band/").status_code, 200)
        self.assertEqual(other.get("/api/band/").status_code, 403)
        self.assertEqual(self.log_in(password="four quiet words").status_code, 200)

    def test_logging_out_everywhere_leaves_other_accounts_in(self) -> None:
        other, stranger = Client(), Client()
        other.force_login(self.teacher)
        stranger.force_login(self.stranger)
        self.sent("delete", "/api/sessions/")
        self.assertEqual(
            [one.get("/api/band/").status_code for one in (self.client, other, stranger)],
            [403, 403, 200],
        )

    @override_settings(IDLE_MINUTES=30)
    def test_a_session_that_nobody_uses_ends(self) -> None:
        with fake_clock() as clock:
            left = Client()
            left.force_login(self.teacher)
            # Used all along, for longer than it would last alone; then left.
            for minutes, status in ((0, 200), (20, 200), (25, 200), (25, 200), (31, 403)):
                clock.advance(minutes=minutes)
                self.assertEqual(self.client.get("/api/band/").status_code, status, minutes)
            # Nor does the same teacher's login on another computer revive one that was left.
            Client().force_login(self.teacher)
            self.assertEqual(left.get("/api/band/").status_code, 403)
            stolen = self.client.cookies[COOKIE].value
            self.client.force_login(self.teacher)
            self.client.cookies[COOKIE] = stolen
            clock.advance(minutes=90)
            self.assertEqual(self.client.get("/api/band/").status_code, 403)
