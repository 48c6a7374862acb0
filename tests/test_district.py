"""Sulvet as a district runs it, with real servers: database, queue, object store, workers."""

from __future__ import annotations

import os
import re
import shutil
import signal
import time
import unittest
import urllib.request
from pathlib import Path

from django.test import SimpleTestCase, tag
from django.utils import timezone
from playwright.sync_api import Page, expect, sync_playwright

from launcher.district import District, district
from launcher.servers import free_port
from sulvet.demo.scenario import TAKES
from tests.browser.base import CHROMIUM, LONG

SERVERS = shutil.which("redis-server") and list(Path("/usr/lib/postgresql").glob("*/bin/initdb"))
PASSWORD, READY = "a-longer-word", 'sulvet_takes{state="ready"}'


@tag("browser", "district")
@unittest.skipUnless(SERVERS, "PostgreSQL and Redis are not installed")
class DistrictTests(SimpleTestCase):
    def test_two_schools_two_workers_and_one_of_them_is_killed(self) -> None:
        with district(free_port(), 2) as made, sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=["--no-sandbox"])
            ada = self.joined(browser.new_context().new_page(), made, "Lindensee", "ada")
            bo = self.joined(browser.new_context().new_page(), made, "Hill", "bo")
            folder = made.folder / "phone"
            folder.mkdir()
            for page, name, clips in (
                (ada, "Edda", ("edda-front-16", "edda-front-12")), (bo, "Ida", ("ida-front-5",)),
            ):  # fmt: skip
                self.enrolled(page, name)
                files = [folder / f"{name} {clip}.mp4" for clip in clips]
                for file, clip in zip(files, clips, strict=True):
                    shutil.copy(TAKES / f"{clip}.mp4", file)
                page.get_by_role("link", name="Upload clips").click()
                page.get_by_label("Choose clips").set_input_files(files)
                page.get_by_role("button", name=re.compile("^Upload")).click()
                expect(page.get_by_text("uploaded ✓")).to_have_count(len(clips))
            os.kill(made.workers[0].pid, signal.SIGKILL)
            until = time.monotonic() + LONG / 1000
            while self.figure(made, READY) < 3 and time.monotonic() < until:
                time.sleep(0.2)
            self.assertEqual(self.figure(made, READY), 3)
            for page in (ada, bo):
                page.goto(made.address)
                expect(page.get_by_text("Takes to review: 1")).to_be_visible()
            self.assertEqual(self.figure(made, "sulvet_given_up"), 0)
            # What one school has, another does not see, its pictures least of all.
            ada.get_by_role("link", name=re.compile("Edda")).first.click()
            ada.wait_for_url("**/takes/*")
            expect(ada.get_by_text(re.compile(r"frame \d+ of"))).to_be_visible()
            number = ada.url.rpartition("/")[2].partition("?")[0]
            for address in (f"/api/takes/{number}/", f"/private/takes/{number}/clip.mp4"):
                self.assertEqual(ada.request.get(made.address + address).status, 200, address)
                self.assertEqual(bo.request.get(made.address + address).status, 404, address)
            browser.close()

    def joined(self, page: Page, made: District, school: str, name: str) -> Page:
        """A school's administrator, by the address that founding it printed."""
        page.set_default_timeout(LONG)
        page.goto(made.address + made.manage("add_school", school).strip())
        expect(page.get_by_role("heading", name=f"You are invited to {school}")).to_be_visible()
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password", exact=True).fill(PASSWORD)
        page.get_by_role("button", name="Create account").click()
        expect(page.get_by_role("button", name="Add first student")).to_be_visible()
        return page

    def enrolled(self, page: Page, name: str) -> None:
        """One horn player who may be filmed."""
        page.get_by_role("button", name="Add first student").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Name").fill(name)
        dialog.get_by_label("Instrument").select_option(label="Horn")
        dialog.get_by_label("Filming consent since").fill(
            timezone.localdate().replace(day=1).isoformat()
        )
        dialog.get_by_role("button", name="Save").click()
        expect(dialog).to_have_count(0)

    def figure(self, made: District, name: str) -> float:
        """A figure as a monitor reads it."""
        token = made.environment["SULVET_METRICS_TOKEN"]
        asked = urllib.request.Request(
            f"{made.address}/metrics/", headers={"Authorization": f"Bearer {token}"}
        )
        with urllib.request.urlopen(asked) as answer:
            text = answer.read().decode()
        lines = [line.split() for line in text.splitlines() if line.startswith(name)]
        return float(lines[0][-1])
