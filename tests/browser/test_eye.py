"""Practising the eye in a browser: three instruments, the gallery, a guest's round."""

from __future__ import annotations

import re
from unittest.mock import patch

from playwright.sync_api import Page

from sulvet.core.eye import rounds
from sulvet.core.eye.schema import figures
from sulvet.core.eye.tones import table
from sulvet.eye.models import EyeAnswer
from tests.browser.base import BrowserTestCase, expect

#: Shorter than a round is, and long enough for each kind of answer.
LENGTH = 4


class EyeTests(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        few = {"right": 1, "alike": 0, "untold": 1, "two": 0}
        levels = {name: mix.model_copy(update=few) for name, mix in figures().levels.items()}
        short = figures().model_copy(update={"length": LENGTH, "levels": levels})
        self.enterContext(patch.object(rounds, "figures", return_value=short))

    def judge(self, page: Page, look: bool = False, ear: bool = False) -> None:
        """A whole round: a fault, nothing and "can't be told" by turns."""
        for place in range(LENGTH):
            expect(page.get_by_text(f"Take {place + 1} of {LENGTH}")).to_be_visible()
            if ear:
                # It is heard without a click, and again by one.
                page.wait_for_function("() => document.querySelector('audio').currentTime > 0.1")
                page.get_by_role("button", name="Listen").click()
            else:
                # It has come and moves.
                expect(page.locator(".film video")).to_have_js_property("videoWidth", 400)
            if place % 3 == 0:
                page.keyboard.press("1")
                page.get_by_role("button", name=re.compile("That is what I")).click()
            elif place % 3 == 1:
                page.get_by_role("button", name="Nothing to correct").click()
            else:
                page.get_by_role("button", name=re.compile("Can't be told")).click()
            told = page.get_by_role("status").filter(has_text="You said")
            expect(told).to_contain_text(re.compile("You (saw|heard) it|Not quite"))
            if look and place < 2:
                self.assert_accessible(page)
            page.get_by_role("button", name="Next").click()
        expect(page.get_by_text(f"of {LENGTH} fully right")).to_be_visible()

    def test_rounds_on_three_instruments_and_the_gallery(self) -> None:
        page = self.open()
        page.get_by_role("link", name="Your eye").click()
        expect(page.get_by_role("heading", name="Practise your eye and ear")).to_be_visible()
        self.assert_accessible()
        for n, instrument in enumerate(("Flute", "Horn", "Clarinet")):
            page.get_by_label("Instrument").select_option(label=instrument)
            page.get_by_label("What is shown").select_option(index=n)
            page.get_by_role("button", name="Begin a round").click()
            expect(page.get_by_role("heading", name=instrument)).to_be_visible()
            if n == 0:
                self.assert_accessible()
            self.judge(page, look=n == 0)
            page.get_by_role("button", name="To your scores").click()
            expect(page.get_by_role("heading", name="How well you see")).to_be_visible()
        self.assertEqual(EyeAnswer.objects.count(), 3 * LENGTH)
        page.get_by_label("What is shown").select_option(label="By ear: made-up tones")
        page.get_by_role("button", name="Begin a round").click()
        self.judge(page, look=True, ear=True)
        page.get_by_role("button", name="To your scores").click()
        heard = re.compile("|".join(one.name for one in table().tones))
        expect(page.get_by_role("rowheader", name=heard).first).to_be_visible()
        self.assert_accessible()
        page.get_by_label("Instrument").select_option(label="Bassoon")
        page.get_by_role("link", name="Gallery of faults").click()
        expect(page.get_by_role("article", name="Too high").get_by_role("button")).to_have_count(3)
        row = page.get_by_role("article", name="Puffed cheeks")
        expect(row.locator("video")).to_have_count(4)
        page.get_by_label("Moving").uncheck()
        expect(row.locator("circle").first).to_be_visible()
        self.assert_accessible()

    def test_a_guest_takes_a_round(self) -> None:
        page = self.page
        self.open("/eye")
        page.get_by_role("button", name="A link to such a round").click()
        address = page.locator(".address a").get_attribute("href") or ""
        guest = self.new_phone()
        guest.goto(address)
        expect(guest.get_by_role("heading", name="Bass clarinet: what")).to_be_visible()
        self.assertLessEqual(guest.evaluate("document.documentElement.scrollWidth"), 390)
        self.judge(guest)
        self.assertEqual(EyeAnswer.objects.count(), 0)

    def test_you_first_on_a_take(self) -> None:
        page = self.page
        take = self.add_read("edda-front-16", "Edda Marschall", 3)
        self.open(f"/takes/{take.pk}")
        finding = page.get_by_role("article", name=re.compile("Finding: "))
        expect(finding.first).to_be_visible()
        page.get_by_label("You first").check()
        # Neither findings nor readings nor the drawing until something was said.
        expect(finding).to_have_count(0)
        expect(page.locator(".score path, [data-drawing]")).to_have_count(0)
        self.assert_accessible()
        page.get_by_label("Pucker").check()
        page.get_by_role("button", name="That is what I see").click()
        expect(page.get_by_text("You saw first: Pucker")).to_be_visible()
        expect(page.get_by_text("Sulvet found as well")).to_contain_text("Smile")
        expect(finding.first).to_be_visible()
