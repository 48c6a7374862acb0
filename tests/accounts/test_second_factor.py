"""A second factor: RFC 6238's own numbers, and what logging in asks for."""

from __future__ import annotations

from io import StringIO
from typing import Any
from unittest.mock import patch

from django.contrib.auth.models import User
from django.core.management import call_command
from django.test import Client
from django_otp.oath import TOTP
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from tests.base import BandTestCase


class SecondFactorTests(BandTestCase):
    def code(self, later: int = 0) -> str:
        """What an app shows now, or so many half minutes later."""
        device = TOTPDevice.objects.get(user=self.teacher)
        totp = TOTP(device.bin_key, device.step, device.t0, device.digits)
        totp.drift = later
        return f"{totp.token():06d}"

    def turned_on(self) -> list[str]:
        self.sent("post", "/api/second-factor/", expect=201)
        codes = self.sent("put", "/api/second-factor/", {"code": self.code()})["codes"]
        return list(codes)

    def waited(self) -> None:
        """As if nobody had tried a wrong code lately."""
        for kind in (TOTPDevice, StaticDevice):
            kind.objects.update(throttling_failure_count=0)

    def log_in(self, **code: str) -> Any:
        given = {"username": "teacher", "password": "a-long-word", **code}
        return Client().post("/api/session/", given, content_type="application/json").json()

    def test_codes_are_those_of_the_standard(self) -> None:
        """RFC 6238, appendix B, SHA-1, eight digits."""
        for at, shown in ((59, 94287082), (1111111109, 7081804), (20000000000, 65353130)):
            with patch("django_otp.oath.time", return_value=at):
                self.assertEqual(TOTP(b"12345678901234567890", digits=8).token(), shown)

    def test_on_with_a_first_code_and_asked_for_after_the_password(self) -> None:
        begun = self.sent("post", "/api/second-factor/", expect=201)
        self.assertTrue(begun["qr"].startswith("data:image/svg+xml"))
        self.assertEqual(self.log_in()["username"], "teacher", "not before a first code")
        self.sent("put", "/api/second-factor/", {"code": "000000"}, 400)
        self.waited()
        paper = self.sent("put", "/api/second-factor/", {"code": self.code()})["codes"]
        self.assertEqual(self.sent("get", "/api/second-factor/"), {"on": True, "on_paper": 8})
        self.assertEqual(self.log_in()["code"], "code-wanted")
        self.assertEqual(self.log_in(code=self.code(1))["username"], "teacher")
        # A code is good for once, whichever it is.
        self.assertEqual(self.log_in(code=self.code(1))["code"], "code-wanted")
        self.waited()
        self.assertEqual(self.log_in(code=paper[0])["username"], "teacher")
        self.assertEqual(self.sent("get", "/api/second-factor/")["on_paper"], 7)

    def test_guessing_waits_longer_and_longer(self) -> None:
        self.turned_on()
        self.log_in(code="123456")
        # Not even the right one is looked at in the second after it.
        self.assertEqual(self.log_in(code=self.code(1))["code"], "code-wanted")
        self.waited()
        self.assertEqual(self.log_in(code=self.code(1))["username"], "teacher")

    def test_off_with_the_password_or_from_the_shell(self) -> None:
        self.turned_on()
        self.sent("post", "/api/second-factor/off/", {"password": "wrong"}, 400)
        self.assertFalse(
            self.sent("post", "/api/second-factor/off/", {"password": "a-long-word"})["on"]
        )
        self.turned_on()
        said = StringIO()
        call_command("second_factor_off", "teacher", stdout=said)
        self.assertIn("“teacher” logs in with the password alone now.", said.getvalue())
        self.assertEqual(self.log_in()["username"], "teacher")
        self.assertFalse(TOTPDevice.objects.filter(user=User.objects.get(pk=self.teacher.pk)))
