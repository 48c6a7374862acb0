"""A substitute is let in, works, and is let out; a second factor is set up and asked for."""

from __future__ import annotations

import datetime
import re

from django.utils import timezone
from django_otp.oath import totp
from django_otp.plugins.otp_totp.models import TOTPDevice
from playwright.sync_api import Page

from tests.browser.base import BrowserTestCase, expect


class PeopleTests(BrowserTestCase):
    def another(self, address: str) -> Page:
        """Somebody else's browser."""
        page = self.new_page()
        page.goto(address)
        return page

    def test_a_substitute_from_invitation_to_the_end(self) -> None:
        take = self.add_read("edda-front-16", "Edda Marschall", 3)
        page = self.page
        self.open("/settings")
        last = timezone.localdate() + datetime.timedelta(days=4)
        page.get_by_label("Last day").fill(last.isoformat())
        page.get_by_role("button", name="Invite a substitute").click()
        invited = page.get_by_role("list", name="Invitations")
        address = invited.get_by_role("link").get_attribute("href") or ""
        self.assert_accessible()
        guest = self.another(address)
        expect(guest.get_by_role("heading", name="teacher invites you")).to_be_visible()
        self.assert_accessible(guest)
        self.assert_fits(guest)
        guest.get_by_label("Name").fill("sub")
        guest.get_by_label("Password").fill("another-long-word")
        guest.get_by_role("button", name="Create account").click()
        expect(guest.get_by_role("button", name="sub for teacher")).to_be_visible()
        expect(guest.get_by_text("Edda").first).to_be_visible()
        self.open(f"/takes/{take.pk}", guest)
        expect(guest.get_by_role("article", name=re.compile("Finding: ")).first).to_be_visible()
        answer = guest.request.get(f"{self.live_server_url}/api/archive.zip")
        self.assertEqual(answer.status, 403)
        page.reload()
        expect(invited).to_contain_text("sub")
        page.get_by_role("button", name="End now").click()
        expect(invited).to_contain_text("over")
        self.open(page=guest)
        expect(guest.get_by_role("button", name="sub", exact=True)).to_be_visible()
        expect(guest.get_by_text("Edda")).to_have_count(0)
        self.assertEqual(self.troubles, [])

    def test_a_second_factor(self) -> None:
        page = self.page
        self.open("/settings")
        page.get_by_role("button", name="Set up a second factor").click()
        expect(page.get_by_role("img", name="QR code")).to_be_visible()
        self.assert_accessible()
        key = TOTPDevice.objects.get().bin_key
        page.get_by_label("The code it shows").fill(f"{totp(key):06d}")
        page.get_by_role("button", name="Turn on").click()
        paper = page.locator(".paper-codes code")
        expect(paper).to_have_count(8)
        self.assert_accessible()
        code = paper.first.inner_text()
        later = self.another(self.live_server_url)
        expect(later.get_by_label("Password")).to_be_visible()
        self.assert_accessible(later)
        self.assert_fits(later)
        later.get_by_label("Name").fill("teacher")
        later.get_by_label("Password").fill("a-long-word")
        later.get_by_role("button", name="Log in").click()
        later.get_by_label("Code").fill(code)
        later.get_by_role("button", name="Log in").click()
        expect(later.get_by_role("button", name="teacher")).to_be_visible()
        self.assertEqual(self.troubles, [])
