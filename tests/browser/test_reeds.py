"""The reed box filled and played by hand, and the reed looked at before the mouth."""

from __future__ import annotations

from sulvet.reeds.models import Reed
from tests.browser.base import BrowserTestCase, expect


class ReedTests(BrowserTestCase):
    def test_an_airy_tone_leads_to_the_box_and_back(self) -> None:
        page = self.page
        take = self.add_read("aino-front-0", "Aino")
        self.open(f"/takes/{take.pk}")
        expect(page.get_by_role("heading", name="Lips not checked")).to_be_visible()
        page.keyboard.press("t")
        page.get_by_label("air in the tone").check()
        first = page.get_by_role("article", name="Check the equipment first")
        expect(first).to_contain_text("no reed is on record for that day")
        self.assert_accessible()
        first.get_by_role("link", name="Open the reed box").click()
        box = page.get_by_role("region", name="Reeds")
        expect(box).to_contain_text("Add the reeds one by one")
        strength = box.get_by_label("Strength of the new reed")
        strength.fill("2")
        for slot in (1, 2):
            box.get_by_role("button", name="Add reed").click()
            expect(box.get_by_role("listitem")).to_have_count(slot)
        expect(box.get_by_text("Next: the one in slot 1")).to_be_visible()
        tap = box.get_by_role("button", name="Played today: slot 1")
        tap.press("Enter")
        expect(tap).to_have_attribute("aria-pressed", "true")
        expect(box.get_by_text("Next: the one in slot 2")).to_be_visible()
        self.assert_accessible()
        # Known and fresh, the reed is out of question.
        self.open(f"/takes/{take.pk}")
        expect(page.get_by_role("heading", name="Lips not checked")).to_be_visible()
        expect(first).to_have_count(0)
        # Chipped it is in question again, until it was looked at.
        Reed.objects.filter(slot=1).update(condition="chipped")
        page.reload()
        expect(first).to_contain_text("the reed in slot 1 is chipped")
        first.get_by_role("button", name="Checked, fine").click()
        expect(first).to_have_count(0)
        # What the whole band needs.
        page.get_by_role("link", name="Reeds", exact=True).click()
        expect(page.get_by_role("row", name="Aino")).to_contain_text("Retire slot 1")
        bought = page.get_by_role("region", name="To buy")
        expect(bought).to_contain_text("4")
        expect(bought).to_contain_text("Clarinet, strength 2")
        bought.get_by_text("Settings").click()
        bought.get_by_label("reeds in rotation, minimum").fill("3")
        bought.get_by_role("button", name="Save").click()
        expect(bought.locator("dt").first).to_have_text("2")
        self.assert_accessible()
