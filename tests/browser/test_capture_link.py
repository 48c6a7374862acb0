"""A phone with a capture link: by touch, over a connection that is cut on the way."""

from __future__ import annotations

import re

from playwright.sync_api import Route

from sulvet.demo.scenario import TAKES
from sulvet.takes.models import Take
from tests.browser.base import BrowserTestCase, expect


class CaptureLinkTests(BrowserTestCase):
    def test_filmed_at_home_over_a_bad_connection(self) -> None:
        page = self.page
        self.start_worker()
        self.add_read("ida-front-5", "Ida Karimi", 9)
        student = Take.objects.get().student_id
        self.open(f"/students/{student}")
        page.get_by_text("At home: film and practise").click()
        page.get_by_role("button", name="Make a link").click()
        address = page.locator(".address").text_content() or ""
        self.assertIn("/film/", address)
        expect(page.get_by_alt_text(re.compile("QR code"))).to_be_visible()
        self.assert_accessible()
        # Somebody else's browser: nobody is logged in there.
        phone = self.new_phone()
        lost = {"pieces": 1}

        def cut(route: Route) -> None:
            # The first piece never arrives.
            if route.request.method == "PUT" and lost["pieces"]:
                lost["pieces"] -= 1
                route.abort("connectionreset")
            else:
                route.continue_()

        phone.route("**/api/film/**", cut)
        phone.goto(address)
        expect(phone.get_by_role("heading", name="Hello, Ida")).to_be_visible()
        self.assert_fits(phone)
        self.assert_accessible(phone)
        with phone.expect_file_chooser() as chooser:
            phone.get_by_text("Film", exact=True).tap()
        chooser.value.set_files(TAKES / "ida-front-3.mp4")
        expect(phone.get_by_role("status")).to_contain_text("Everything is in the picture")
        self.assertEqual(lost["pieces"], 0)
        take = Take.objects.latest("pk")
        self.assertEqual((take.student_id, take.view), (student, "front"))
        # Nothing else is open to it, and once it is revoked not even this.
        self.open(f"/takes/{take.pk}", phone)
        expect(phone.get_by_label("Password")).to_be_visible()
        page.get_by_role("button", name="Revoke").click()
        expect(page.locator(".address")).to_have_count(0)
        phone.goto(address)
        expect(phone.get_by_role("heading", name="This link does not work")).to_be_visible()
        self.open(f"/takes/{take.pk}")
        expect(page.locator(".score [data-phase=hold]")).to_have_count(1)
