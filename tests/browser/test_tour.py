"""The tour: offered once, through all pages, to be ended at any stop and taken again."""

from __future__ import annotations

from tests.browser.base import BrowserTestCase, expect


class TourTests(BrowserTestCase):
    def test_it_leads_through_the_pages_and_is_offered_once(self) -> None:
        page, take = self.page, self.add_read("edda-front-12")
        self.open()
        page.get_by_role("button", name="Start the tour").click()
        stop = page.get_by_role("dialog")
        student = f"/students/{take.student_id}"
        for title, address in (
            ("Your band", "/"),
            ("Next for you", "/"),
            ("Clips in, slips out", "/"),
            ("What was filmed", f"/takes/{take.pk}"),
            ("What was found", f"/takes/{take.pk}"),
            ("How it went along", f"/takes/{take.pk}"),
            ("Two weeks with one drill", student),
            ("Then and now", student),
            ("All of it to read", "/help"),
        ):
            expect(stop).to_contain_text(title)
            self.assertEqual(page.url, f"{self.live_server_url}{address}")
            self.assert_accessible()
            stop.get_by_role("button", name="Next").or_(
                stop.get_by_role("button", name="Finish")
            ).click()
        expect(stop).to_have_count(0)
        page.get_by_role("button", name="Take the tour").click()
        expect(stop).to_contain_text("Your band")
        page.keyboard.press("Escape")
        expect(stop).to_have_count(0)
        expect(page.get_by_role("button", name="Start the tour")).to_have_count(0)
