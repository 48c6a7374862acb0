"""The real page in a real browser, with server and worker of the test."""

from __future__ import annotations

import datetime
import multiprocessing.util
import os
import shutil
import threading
from contextlib import suppress
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings
from django.contrib.auth.models import User
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.db import connection, connections, transaction
from django.test import Client
from django.utils import timezone
from playwright import sync_api as playwright
from playwright.sync_api import Browser, Page

from sulvet.band.models import Student
from sulvet.band.services import StudentFacts, add_student, band_of
from sulvet.core.sandbox import Outcome
from sulvet.core.simulate.script import load as load_script
from sulvet.demo import readings
from sulvet.demo.scenario import STUDENTS
from sulvet.takes.facts import TakeFacts
from sulvet.takes.models import Take
from sulvet.takes.uploads import add_read_take
from sulvet.takes.worker import PatientWorker
from tests.base import own_folders
from tests.marked import reading_of

#: The shell without a window of its own starts in half the time and draws the same.
CHROMIUM = shutil.which("chromium-headless-shell") or shutil.which("chromium") or "chromium"
#: As root; nothing is asked of a network that is not there.
SWITCHES = [
    "--no-sandbox", "--disable-gpu", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip
PASSWORD = "a-long-word"
#: Playwright's own loop runs in this thread; Django takes it for async code.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"
#: How long anything expected may take, ms: a test goes on as soon as it is there, and reading
#: a clip takes some seconds, on a busy machine a good many.
LONG = 120_000
playwright.expect.set_options(timeout=LONG)
AXE = Path(settings.ROOT) / "frontend" / "node_modules" / "axe-core" / "axe.min.js"

#: Gives every page ``settled()``: it has a heading and what it asked the server for, or a good
#: second has gone by. It keeps the browser's own frames, which a test's clock replaces.
SETTLING = """(() => {
  const ask = window.fetch, frame = window.requestAnimationFrame.bind(window);
  let open = 0;
  window.fetch = (...given) => {
    open += 1;
    return ask(...given).finally(() => { open -= 1; });
  };
  window.settled = () => new Promise((done) => {
    let frames = 0, quiet = 0;
    const look = () => {
      frames += 1;
      quiet = open || !document.querySelector("h1") ? 0 : quiet + 1;
      if (quiet > 1 || frames > 80) done();
      else frame(look);
    };
    frame(look);
  });
})()"""
#: The Bench fetches 37 stills ahead, each read out of the clip: here, as where data are saved, two.
SAVING = """Object.defineProperty(NetworkInformation.prototype, "saveData", { get: () => true })"""
#: What axe-core has to say, in words: the whole of its result takes a second to hand over.
FAULTS = """async () => {
  const { violations } = await axe.run({ resultTypes: ["violations"] });
  return violations.map(({ id, help, nodes }) =>
    `${id}: ${help} ${nodes[0].html.slice(0, 120)}`);
}"""

#: A small phone to a laptop; 640 is a laptop at 200 % zoom.
WIDTHS = (360, 390, 640, 820, 1280)


def _unfound(outcome: Outcome, names: tuple[str, ...]) -> Outcome:
    """What was read of a clip, had these landmarks not been found after the rest."""
    marks = outcome.marks
    rest = next(phase for phase in outcome.phases if phase.name == "rest")
    played = marks.seconds > rest.end
    for name in names:
        marks.hidden[played, marks.column(name)] = True
        marks.xy[played, marks.column(name)] = np.nan
    keys = [k for k in outcome.keys if k.landmark not in names or not played[k.frame]]
    return replace(outcome, keys=keys)


def settle(page: Page) -> None:
    """Wait until a page has what it asked for."""
    # One that is just left for another will be looked at again.
    with suppress(playwright.Error):
        page.evaluate("window.settled?.()")


def expect(actual: Any, message: str | None = None) -> Any:
    """Playwright's, of a page that has settled: it looks again only after pauses, which for most of
    what a click brings are longer than that takes."""
    settle(actual if isinstance(actual, Page) else actual.page)
    return playwright.expect(actual, message)


@cache
def shared_browser() -> Browser:
    """The one Chromium of this process, started for the first test that asks."""
    driver = playwright.sync_playwright().start()
    browser = driver.chromium.launch(executable_path=CHROMIUM, args=SWITCHES)

    def stop() -> None:
        browser.close()
        driver.stop()

    # Also at the end of a process of a pool, where atexit is not asked.
    multiprocessing.util.Finalize(None, stop, exitpriority=1)
    return browser


class BrowserTestCase(StaticLiveServerTestCase):
    """``self.page`` is a page nothing has been opened on, of a browser in which the teacher is
    logged in; ``self.open(path)`` opens one of Sulvet's on it."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        # As in use: server and worker read while another of them writes.
        if connection.vendor == "sqlite":
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA journal_mode=WAL")

    def setUp(self) -> None:
        own_folders(self)
        self.teacher = User.objects.create_user("teacher", password=PASSWORD)
        self.troubles: list[str] = []
        self.page = self.new_page()
        self.log_in()

    def new_page(self, **context: Any) -> Page:
        """A page of a context of its own, as of somebody else's browser; its errors are counted."""
        # Colours on their way from one to another are neither: no transitions.
        own = shared_browser().new_context(
            **{"viewport": {"width": 1280, "height": 800}, "reduced_motion": "reduce", **context}
        )
        self.addCleanup(own.close)
        own.set_default_timeout(LONG)
        own.add_init_script(SETTLING)
        own.add_init_script(SAVING)
        page = own.new_page()
        page.on("pageerror", lambda error: self.troubles.append(str(error)))
        return page

    def new_phone(self) -> Page:
        """The same on a small screen that is touched."""
        return self.new_page(viewport={"width": 390, "height": 844}, has_touch=True)

    def log_in(self) -> None:
        """By a session in the browser's cookies; the form has a test of its own."""
        client = Client()
        client.force_login(self.teacher)
        cookie = client.cookies[settings.SESSION_COOKIE_NAME]
        self.page.context.add_cookies(
            [{"name": cookie.key, "value": cookie.value, "url": self.live_server_url}]
        )

    def open(self, path: str = "/", page: Page | None = None) -> Page:
        """Open one of Sulvet's pages."""
        page = page or self.page
        page.goto(f"{self.live_server_url}{path}")
        settle(page)
        return page

    def start_worker(self) -> None:
        """Read what is uploaded from here on."""
        worker = PatientWorker(interval=0.05, worker_id="test")

        def work() -> None:
            try:
                worker.run()
            finally:
                connections.close_all()

        thread = threading.Thread(target=work)
        thread.start()

        def stop() -> None:
            worker.running = False
            # A reading that nobody waits for any more is given up, as when its take is deleted.
            Take.objects.all().delete()
            thread.join()

        self.addCleanup(stop)

    def add_read(
        self, name: str, student: str = "Edda Marschall", days_ago: int = 0,
        without: tuple[str, ...] = (),
    ) -> Take:  # fmt: skip
        """A take of the demo as it was read, of a student of the same instrument.

        without  landmarks that count as not found once it is played
        """
        take = next(t for s in STUDENTS for t in s.takes if t.name == name)
        facts = next(s for s in STUDENTS if take in s.takes)
        day = timezone.localdate() - datetime.timedelta(days=days_ago)
        since = timezone.localdate() - datetime.timedelta(days=60)
        consent = StudentFacts(student, facts.instrument, facts.school, since)
        given = TakeFacts(load_script(take.script).view, "check", day)
        with transaction.atomic():
            band = band_of(self.teacher)
            known = Student.objects.filter(section__band=band, name=student).first()
            who = known or add_student(band, consent)
            outcome = _unfound(readings.load(reading_of(take)), without)
            return add_read_take(who, take.clip, given, outcome, readings.heard(take.reading))

    def tearDown(self) -> None:
        self.assertEqual(self.troubles, [])

    def assert_fits(self, page: Page | None = None, about: str = "") -> None:
        """The page scrolls sideways at no width, down to a small phone or 200 % of zoom."""
        page = page or self.page
        before = page.viewport_size
        for width in WIDTHS:
            page.set_viewport_size({"width": width, "height": 800})
            playwright.expect(page.locator("html"), f"{about} at {width} px").to_have_js_property(
                "scrollWidth", width
            )
        assert before is not None
        page.set_viewport_size(before)

    def assert_accessible(self, page: Page | None = None, about: str = "") -> None:
        """No finding of axe-core on the page as it stands; ``about`` says which in a failure."""
        page = page or self.page
        if page.evaluate("typeof axe") == "undefined":
            page.evaluate(AXE.read_text("utf-8"))
        found = page.evaluate(FAULTS)
        self.assertEqual(found, [], about)
