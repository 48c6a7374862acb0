"""The real page in a real browser, with server and worker of the test."""

from __future__ import annotations

import datetime
import os
import shutil
import tempfile
import threading
from dataclasses import replace
from pathlib import Path
from typing import Any, ClassVar

import numpy as np
from django.conf import settings
from django.contrib.auth.models import User
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.db import connection, connections, transaction
from django.test import override_settings
from django.utils import timezone
from playwright.sync_api import Browser, Page, Playwright, expect, sync_playwright

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
from tests.marked import reading_of

CHROMIUM = shutil.which("chromium") or "/usr/bin/chromium"
#: Playwright's own loop runs in this thread; Django takes it for async code.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"
#: How long anything expected may take, ms: a test goes on as soon as it is there, and reading
#: a clip takes some seconds, on a busy machine a good many.
LONG = 120_000
expect.set_options(timeout=LONG)
AXE = Path(settings.ROOT) / "frontend" / "node_modules" / "axe-core" / "axe.min.js"

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


class BrowserTestCase(StaticLiveServerTestCase):
    """``self.page`` is logged in as the teacher."""

    playwright: ClassVar[Playwright]
    browser: ClassVar[Browser]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        # As in use: server and worker read while another of them writes.
        if connection.vendor == "sqlite":
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA journal_mode=WAL")
        cls.playwright = sync_playwright().start()
        cls.browser = cls.playwright.chromium.launch(
            executable_path=CHROMIUM, args=["--no-sandbox"]
        )

    @classmethod
    def tearDownClass(cls) -> None:
        cls.browser.close()
        cls.playwright.stop()
        super().tearDownClass()

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory(prefix="sulvet-clips-", ignore_cleanup_errors=True)
        self.addCleanup(folder.cleanup)
        own = override_settings(CLIPS_DIR=folder.name)
        own.enable()
        self.addCleanup(own.disable)
        self.teacher = User.objects.create_user("teacher", password="a-long-word")
        self.start_worker()
        # Colours on their way from one to another are neither: no transitions.
        context = self.browser.new_context(
            viewport={"width": 1280, "height": 800}, reduced_motion="reduce"
        )
        self.addCleanup(context.close)
        context.set_default_timeout(LONG)
        self.page = context.new_page()
        self.troubles: list[str] = []
        self.page.on("pageerror", lambda error: self.troubles.append(str(error)))
        self.log_in()

    def start_worker(self) -> None:
        worker = PatientWorker(interval=0.1, worker_id="test")

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

    def log_in(self) -> None:
        self.page.goto(self.live_server_url)
        self.page.get_by_label("Name").fill("teacher")
        self.page.get_by_label("Password").fill("a-long-word")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("heading", name="Beginning band").or_(
            self.page.get_by_role("heading", name="Your band"))).to_be_visible()  # fmt: skip

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
            expect(page.locator("html"), f"{about} at {width} px").to_have_js_property(
                "scrollWidth", width
            )
        assert before is not None
        page.set_viewport_size(before)

    def assert_accessible(self, page: Page | None = None, about: str = "") -> None:
        """No finding of axe-core on the page as it stands; ``about`` says which in a failure."""
        page = page or self.page
        page.evaluate(AXE.read_text("utf-8"))
        result: dict[str, Any] = page.evaluate("axe.run()")
        found = [
            f"{v['id']}: {v['help']} {v['nodes'][0]['html'][:120]}" for v in result["violations"]
        ]
        self.assertEqual(found, [], about)
