"""A student films in the booth, front and side, on a clock that the test drives."""

from __future__ import annotations

import re
from unittest import mock

import av
import numpy as np
from django.test import override_settings

from sulvet.band.models import Student
from sulvet.core import sandbox
from sulvet.core.lessons.booth import booth
from sulvet.takes.models import Take
from tests.browser.base import PASSWORD, BrowserTestCase, expect

#: Nobody lets the page use a camera.
REFUSED = """navigator.mediaDevices.getUserMedia = () =>
  Promise.reject(new DOMException("", "NotAllowedError"))"""
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
  new MutationObserver(() => {
    const number = document.querySelector("[data-prompt=play]")?.textContent;
    if (number && number !== window.counts.at(-1)) window.counts.push(number);
  }).observe(document.body, { subtree: true, childList: true, characterData: true });
}"""
#: The picture before the screen has come anew.
SHOWN = """() => new Promise((done) =>
  document.querySelector("video").requestVideoFrameCallback(() => done()))"""


@override_settings(STAND_IN_ACCOUNTS=("teacher",))
class BoothTests(BrowserTestCase):
    def film(self) -> None:
        """All prompts, second by second, in a moment: what is filmed lasts no longer."""
        page = self.page
        page.get_by_role("button", name="Start filming").click()
        expect(page.locator("[data-prompt=rest]")).to_be_visible()
        for _ in range(60):
            page.clock.run_for(1000)
            if not page.locator("[data-prompt]").count():
                return
            page.evaluate(SHOWN)
        self.fail("the prompts never end")

    def assert_filmed(self, take: Take) -> None:
        """What the browser recorded can be decoded, has sound, and shows the player."""
        with av.open(str(take.clip)) as container:
            self.assertEqual(len(container.streams.audio), 1)
            pictures = [f.to_ndarray(format="gray") for f in container.decode(video=0)]
        self.assertGreater(len(pictures), 3)
        self.assertGreater(float(np.std(pictures[-1])), 20.0)

    def test_filmed_alone_front_and_side(self) -> None:
        """A made-up student plays: no page may use the camera here."""
        page = self.page
        self.add_read("aino-front-0", "Aino Vesterlund", 9)
        page.context.add_init_script(REFUSED)
        page.clock.install()
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
        expect(page.get_by_role("alert")).to_contain_text("Allow camera and microphone")
        self.assert_accessible()
        self.assert_fits()
        page.get_by_role("button", name="Let a made-up student play").click()
        page.evaluate(COUNT_CLICKS)
        page.evaluate(WATCH_COUNTS)
        page.get_by_label("The counts before playing").select_option("clicks")
        played = next(one.counts for one in booth().prompts if one.id == "play")
        self.enterContext(mock.patch.object(sandbox, "first_look", return_value=""))
        for view in ("front", "side"):
            self.film()
            done = page.get_by_role("status")
            expect(done).to_contain_text("Everything is in the picture")
            take = Take.objects.get(view=view, original_name__startswith="booth")
            self.assertEqual(take.student, Student.objects.get())
            self.assert_filmed(take)
            counted = [str(n + 1) for n in range(played or 4)]
            self.assertEqual(page.evaluate("window.counts.splice(0)"), counted)
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
        password.fill(PASSWORD)
        password.press("Enter")
        expect(page.get_by_role("link", name="Lessons")).to_be_visible()
