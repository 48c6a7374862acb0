"""A student films in the booth, front and side, and the teacher finds what was filmed."""

from __future__ import annotations

import re

from django.test import override_settings

from sulvet.band.models import Student
from sulvet.takes.models import Take
from tests.browser.base import BrowserTestCase, expect

#: Every click of the page is an oscillator.
COUNT_CLICKS = """() => {
  const made = AudioContext.prototype.createOscillator;
  window.clicks = 0;
  AudioContext.prototype.createOscillator = function () {
    window.clicks += 1;
    return made.call(this);
  };
}"""

#: What was counted while the tone was to be played; each number stands for a second alone.
WATCH_COUNTS = """() => {
  window.counts = [];
  const look = () => {
    const number = document.querySelector("[data-prompt=play]")?.textContent;
    if (number && number !== window.counts.at(-1)) window.counts.push(number);
    requestAnimationFrame(look);
  };
  look();
}"""


@override_settings(STAND_IN_ACCOUNTS=("teacher",))
class BoothTests(BrowserTestCase):
    def test_filmed_alone_front_and_side_to_findings(self) -> None:
        """A made-up student plays before the booth: this machine has no camera."""
        page = self.page
        self.add_read("aino-front-0", "Aino Vesterlund", 9)
        self.open()
        page.get_by_role("button", name="Open the booth").click()
        self.assert_accessible()
        page.get_by_role("dialog").get_by_role("button", name="Open the booth").click()
        names = page.get_by_role("heading", name="Tap your name")
        expect(names).to_be_visible()
        self.assert_accessible()
        self.assert_fits()
        # Nothing but the booth, whatever is asked for and after a reload.
        self.open("/records")
        expect(names).to_be_visible()
        page.get_by_role("button", name=re.compile("^Aino")).click()
        expect(page.get_by_role("alert")).to_contain_text(re.compile("camera"))
        self.assert_accessible()
        self.assert_fits()
        page.get_by_role("button", name="Let a made-up student play").click()
        page.evaluate(COUNT_CLICKS)
        page.evaluate(WATCH_COUNTS)
        page.get_by_label("The counts before playing").select_option("clicks")
        for view in ("front", "side"):
            page.get_by_role("button", name="Start filming").click()
            expect(page.locator("[data-prompt=rest]")).to_be_visible()
            done = page.get_by_role("status")
            expect(done).to_contain_text("Everything is in the picture")
            take = Take.objects.get(view=view, original_name__startswith="booth")
            self.assertEqual(take.student, Student.objects.get())
            self.assertEqual(page.evaluate("window.counts.splice(0)"), ["1", "2", "3", "4"])
            if view == "front":
                # Breathe in on four, and not a click while the tone sounds.
                self.assertEqual(page.evaluate("window.clicks"), 4)
                self.assert_accessible()
                done.get_by_role("button", name="Now from the side").click()
        done.get_by_role("button", name="Next student").click()
        expect(page.get_by_role("button", name=re.compile("^Aino"))).to_contain_text(
            "front and side filmed"
        )
        page.get_by_role("button", name="Teacher", exact=True).click()
        password = page.get_by_label("Your password")
        password.fill("wrong")
        password.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("not the password")
        password.fill("a-long-word")
        password.press("Enter")
        expect(page.get_by_role("link", name="Lessons")).to_be_visible()
        # Read by the worker meanwhile, without a mark or a letter by hand.
        self.open(f"/takes/{take.pk}")
        # A busy machine drops pictures of the stream; then it may only say what can't be told.
        told = page.get_by_role("complementary", name="Findings").get_by_role("article")
        expect(told.first).to_contain_text(re.compile("fault|watch|can't tell"))
        expect(page.locator('.score [data-phase="hold"]')).to_have_count(1)
        self.assertEqual(self.troubles, [])

    def test_the_mirror_says_what_to_change(self) -> None:
        """A made-up flutist smiles as the note begins: the mirror sees it."""
        page = self.page
        self.add_read("mirela-front-0", "Mirela Stoian", 9)
        self.open()
        page.get_by_role("button", name="Open the booth").click()
        page.get_by_role("dialog").get_by_role("button", name="Open the booth").click()
        page.get_by_role("button", name=re.compile("^Mirela")).click()
        page.get_by_role("button", name="Let a made-up student play").click()
        page.get_by_role("button", name="Mirror").click()
        words = page.locator(".asks .words")
        expect(words).to_contain_text("face relaxed")
        expect(words).to_have_text("Corners a little lower.")
        self.assert_accessible()
        page.get_by_role("button", name="Close the mirror").click()
        expect(page.get_by_role("button", name="Start filming")).to_be_enabled()
        self.assertEqual((Take.objects.count(), self.troubles), (1, []))
