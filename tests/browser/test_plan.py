"""One student followed on screen: first take, focus, drills, day 7, day 14, passed."""

from __future__ import annotations

import datetime
import re

from django.utils import timezone

from sulvet.plans.models import Plan
from sulvet.plans.services import PlanFacts, start_plan
from sulvet.takes.decisions import decide
from tests.browser.base import BrowserTestCase, expect


class PlanTests(BrowserTestCase):
    def test_from_the_first_take_to_passed(self) -> None:
        page, name = self.page, "Aino Vesterlund"
        first = self.add_read("aino-side-14", name, 14)
        began = timezone.localdate() - datetime.timedelta(days=14)
        self.open(f"/takes/{first.pk}")
        finding = page.get_by_role("article", name="Finding: Bulging chin")
        expect(finding).to_contain_text("To the student: “Draw your chin down")
        expect(finding).to_contain_text("No other fault")
        finding.get_by_role("button", name="Confirm").click()
        finding.get_by_role("button", name="Start a two-week plan").click()
        self.assert_accessible()
        page.get_by_label("Minutes per day").fill("5")
        page.get_by_label("Start from").fill(began.isoformat())
        page.get_by_role("button", name="Start plan", exact=True).click()
        expect(finding.get_by_role("link", name="The two-week plan")).to_be_visible()
        page.get_by_role("button", name="Mark as reviewed").click()
        expect(page.get_by_role("button", name="Reviewed ✓")).to_be_visible()
        # Nobody has filmed the recheck: it is due, at home and on the student's page.
        page.get_by_role("link", name="Band").click()
        expect(page.get_by_role("link", name=re.compile("Film the recheck"))).to_be_visible()
        page.get_by_role("link", name=re.compile(f"{name} Film the recheck")).click()
        expect(page.get_by_role("heading", name="Bulging chin")).to_be_visible()
        week = page.get_by_role("listitem", name="Recheck of day 7")
        expect(week).to_contain_text("due: film from the same side")
        self.assert_accessible()
        # Five minutes leave room for one drill, with its steps.
        drills = page.locator(".plan details")
        expect(drills).to_have_count(1)
        drills.first.locator("summary").click()
        expect(drills.first).to_contain_text("finger on your chin")
        # The strip takes a tick and gives it back.
        day = page.get_by_role("button", name=re.compile("^Day 4,"))
        day.click()
        expect(day).to_have_attribute("aria-pressed", "true")
        day.click()
        expect(day).to_have_attribute("aria-pressed", "false")
        self.add_read("aino-side-7", name, 7)
        page.reload()
        week.get_by_role("button", name="Accept: carry on").click()
        expect(week).to_contain_text("carry on")
        self.add_read("aino-side-0", name, 0)
        page.reload()
        last = page.get_by_role("listitem", name="Recheck of day 14")
        expect(last).to_contain_text("It holds after two weeks")
        last.get_by_role("link", name="review the take").click()
        expect(page.get_by_role("heading", name="Nothing to correct")).to_be_visible()
        page.go_back()
        last.get_by_role("button", name="Passed").click()
        expect(page.get_by_text(re.compile("Bulging chin, .*: passed"))).to_be_visible()
        self.assertEqual(Plan.objects.get().state, "passed")
        self.assert_accessible()

    def test_days_off_are_set_by_keyboard(self) -> None:
        page = self.page
        self.open("/school-days")
        page.get_by_label("Wednesday").focus()
        page.keyboard.press("Space")
        page.get_by_role("button", name="Add days off").click()
        page.get_by_label("Name").fill("lake festival")
        page.get_by_label("Drill minutes per day").fill("6")
        page.keyboard.press("Enter")
        expect(page.get_by_role("status")).to_have_text("Saved.")
        page.reload()
        expect(page.get_by_label("Wednesday")).to_be_checked()
        expect(page.get_by_label("Name")).to_have_value("lake festival")
        page.get_by_label("Until").fill("2020-01-01")
        page.get_by_role("button", name="Save").click()
        self.assertEqual(page.get_by_label("Until").evaluate("e => e.validity.valid"), False)
        self.assert_accessible()

    def test_a_drill_is_counted_and_paused(self) -> None:
        page, name = self.page, "Aino Vesterlund"
        take = self.add_read("aino-side-14", name, 14)
        decide(take, "bulging-chin", "hold", "confirmed", "")
        take.refresh_from_db()
        start_plan(self.teacher, take, PlanFacts("instrument", 8, take.filmed_on))
        Plan.objects.update(drills=["four-by-four"])
        self.open(f"/students/{take.student_id}")
        page.get_by_text("Four by four").click()
        player = page.get_by_role("group", name="Four by four, counted")
        # Four times two, four and four counts: forty seconds.
        expect(player).to_contain_text("0:40 minutes")
        player.get_by_label("beats per minute").fill("160")
        expect(player).to_contain_text("0:15 minutes")
        player.get_by_role("button", name="Start counting").press("Enter")
        expect(player).to_contain_text("Ready")
        expect(player).to_contain_text("Breathe in")
        expect(player).to_contain_text("Play")
        self.assert_accessible()
        player.get_by_role("button", name="Pause").press("Enter")
        standing = player.locator(".now").inner_text()
        # So long that two more counts would have come.
        page.wait_for_timeout(900)
        self.assertEqual(player.locator(".now").inner_text(), standing)
        player.get_by_role("button", name="Go on").click()
        expect(player).to_contain_text("Rest")
        player.get_by_role("button", name="Stop").click()
        expect(player).to_contain_text("0:15 minutes")
