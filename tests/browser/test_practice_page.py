"""The student's page on a phone: by touch, ticked without a connection, and sent later."""

from __future__ import annotations

import datetime
import re

from django.utils import timezone
from playwright.sync_api import Page

from sulvet.booth import links
from sulvet.demo.scenario import TAKES
from sulvet.plans.models import Practice
from sulvet.plans.services import PlanFacts, start_plan
from sulvet.records.models import Note
from sulvet.takes.decisions import decide, set_read
from sulvet.takes.models import Take
from tests.browser.base import BrowserTestCase, expect

#: Waits until everything is kept and the worker answers. (A promise is no condition that Playwright
#: waits for: it would go on at once.)
IS_KEPT = """async () => {
  const worker = await navigator.serviceWorker.ready;
  const kept = await caches.open("sulvet-practice");
  while (worker.active.state !== "activated" || (await kept.keys()).length < 3)
    await new Promise((later) => setTimeout(later, 50));
}"""

#: The phone says itself whether there is a connection, on every page it opens.
KNOWS_OF_NONE = """Object.defineProperty(navigator, "onLine", {
  get: () => sessionStorage.getItem("lost") === null,
})"""

KNOWS_OF_ONE_AGAIN = """() => {
  sessionStorage.removeItem("lost");
  window.dispatchEvent(new Event("online"));
}"""


class PracticePageTests(BrowserTestCase):
    def open_phone(self) -> Page:
        """A student with a plan since a week, on a phone nobody is logged in on."""
        first = self.add_read("mirela-front-13", "Mirela Stoian", 7)
        newer = self.add_read("mirela-front-6", "Mirela Stoian", 1)
        decide(first, "smile", "hold", "confirmed", "")
        set_read(newer, True)
        week = timezone.localdate() - datetime.timedelta(days=7)
        self.plan = start_plan(
            self.teacher, Take.objects.get(pk=first.pk), PlanFacts("instrument", 8, week)
        )
        self.student = first.student
        link = links.make(self.student, "front", 7, page=True)
        phone = self.new_phone()
        self.open(links.path_of(link), phone)
        expect(phone.get_by_role("heading", name="Hello, Mirela")).to_be_visible()
        return phone

    def test_practised_ticked_and_told_to_the_teacher(self) -> None:
        phone = self.open_phone()
        expect(phone.get_by_text(re.compile("pooh")).first).to_be_visible()
        expect(phone.get_by_role("img", name=re.compile("over a dashed line"))).to_be_visible()
        phone.get_by_role("button", name="Which one is as it should be?").tap()
        phone.get_by_role("button").filter(has=phone.get_by_label("The left one")).tap()
        expect(phone.get_by_text(re.compile("Yes, that one|Look again"))).to_be_visible()
        self.assert_fits(phone)
        self.assert_accessible(phone)
        phone.get_by_role("button", name="I practised today").tap()
        expect(phone.get_by_role("button", name="✓ Practised today")).to_be_visible()
        phone.get_by_label("A word to your teacher").fill("The high notes")
        phone.get_by_role("button", name="Send").tap()
        expect(phone.get_by_text("The high notes")).to_be_visible()
        self.assertEqual(phone.context.cookies(), [])
        page = self.page
        self.open(f"/students/{self.student.pk}")
        ticked = page.get_by_role("button", name=re.compile("ticked by the student"))
        expect(ticked).to_have_count(1)
        expect(page.locator(".note")).to_contain_text("The student: The high notes")

    def show_filming(self, phone: Page) -> None:
        """How to film, open already on the day on which it is time to: a Monday after a weekend."""
        phone.get_by_text("How to film and send").wait_for()
        told = phone.locator("details", has_text="How to film and send")
        if told.get_attribute("open") is None:
            phone.get_by_text("How to film and send").tap()

    def test_what_is_said_without_a_connection_is_sent_when_it_is_back(self) -> None:
        phone = self.open_phone()
        # The phone has kept the page once its worker is there.
        phone.evaluate(IS_KEPT)
        # The browser's stand-in for a lost network is forgotten by the next page; a phone is not.
        phone.add_init_script(KNOWS_OF_NONE)
        phone.context.set_offline(True)
        phone.evaluate("sessionStorage.setItem('lost', 'yes')")
        phone.reload()
        phone.get_by_role("button", name="I practised today").tap()
        waiting = phone.get_by_role("status").filter(has_text="Not sent yet: 1 thing")
        expect(waiting).to_be_visible()
        self.show_filming(phone)
        tried: list[str] = []
        phone.on("request", lambda request: tried.append(request.url))
        with phone.expect_file_chooser() as chooser:
            phone.get_by_text("Film", exact=True).tap()
        chooser.value.set_files(TAKES / "mirela-front-0.mp4")
        expect(phone.get_by_text("The clip is kept on this phone")).to_be_visible()
        self.assertFalse([url for url in tried if "/of/" in url], "said at once")
        phone.reload()
        expect(phone.get_by_role("button", name="✓ Practised today")).to_be_visible()
        expect(waiting).to_be_visible()
        self.show_filming(phone)
        expect(phone.get_by_text("The clip is kept on this phone")).to_be_visible()
        self.assertEqual(Take.objects.count(), 2)
        phone.context.set_offline(False)
        phone.evaluate(KNOWS_OF_ONE_AGAIN)
        expect(waiting).to_have_count(0)
        self.assertEqual([p.by for p in Practice.objects.all()], [Practice.By.STUDENT])
        expect(phone.get_by_text("Everything is in the picture")).to_be_visible()
        take = Take.objects.latest("pk")
        self.assertEqual(take.clip.read_bytes(), (TAKES / "mirela-front-0.mp4").read_bytes())
        self.assertEqual(Note.objects.count(), 0)
