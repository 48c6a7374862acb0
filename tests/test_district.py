"""Sulvet as a district runs it, with real servers: database, queue, object store, workers."""

from __future__ import annotations

import os
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
import unittest
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import requests
from django.test import SimpleTestCase, tag
from django.utils import timezone
from playwright.sync_api import Page, expect, sync_playwright
from storages.backends.s3 import S3Storage

from launcher.district import District, district
from launcher.servers import free_port
from launcher.shell import ROOT
from sulvet.demo.scenario import TAKES
from sulvet.web.services import clip_storage
from tests.browser.base import CHROMIUM, LONG
from tests.clips import clip
from tests.painted.face import Pose
from tests.painted.take import Script

SERVERS = shutil.which("redis-server") and list(Path("/usr/lib/postgresql").glob("*/bin/initdb"))
PASSWORD, READY = "a-longer-word", 'sulvet_takes{state="ready"}'
#: How long a server is away, s; and the size of a clip.
AWAY, SMALL = 30.0, (640, 360)
BRIEF = Script(Pose(rise=6.0, width=1.1), rest=0.6, move=0.2, hold=0.8, after=0.2)
#: What a store says that refuses (S3's own form).
REFUSAL = b"<Error><Code>AccessDenied</Code><Message>not now</Message></Error>"
TEACHER = f"""
import datetime
from django.contrib.auth.models import User
from sulvet.band.services import StudentFacts, add_student, band_of
teacher = User.objects.create_user("teacher", password={PASSWORD!r})
since = datetime.date(2020, 1, 1)
print(add_student(band_of(teacher), StudentFacts("Edda", "horn", consent_on=since)).pk)
"""

#: An account without students; a take that was read; and what is kept of the takes of an account.
NEWCOMER = f"""
from django.contrib.auth.models import User
User.objects.create_user("NAME", password={PASSWORD!r})
"""
FILMED = """
from sulvet.band.models import Student
from sulvet.demo import readings
from sulvet.demo.scenario import STUDENTS
from sulvet.takes.facts import TakeFacts
from sulvet.takes.uploads import add_read_take
demo = next(t for s in STUDENTS for t in s.takes if t.name == "edda-front-12")
facts = TakeFacts("front", "check", datetime.date(2026, 11, 2))
add_read_take(Student.objects.get(), demo.clip, facts, readings.load(demo.reading))
"""
COUNTED = """
import hashlib
from sulvet.takes.models import Mark, Reading, Take
mine = Take.objects.filter(student__section__band__teacher__username="NAME")
print(Reading.objects.filter(take__in=mine).count(),
      Mark.objects.filter(take__in=mine).count(),
      *[hashlib.sha256(one.clip.read_bytes()).hexdigest() for one in mine] or [0])
"""


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
            self.moved_up_and_back(made)

    def moved_up_and_back(self, made: District) -> None:
        """A laptop's band goes to the district, and comes back into another account there."""
        laptop = made.folder / "laptop"
        laptop.mkdir()
        (laptop / "password").write_text(PASSWORD)

        def run(*words: str) -> str:
            alone = {name: "" for name in made.environment if name.endswith("_URL")}
            return subprocess.run(
                [sys.executable, *words], cwd=ROOT, check=True, text=True, stdout=subprocess.PIPE,
                env={**os.environ, **alone, "SULVET_DATA": str(laptop)},
            ).stdout  # fmt: skip

        run("manage.py", "prepare")
        run("manage.py", "shell", "-v0", "-c", TEACHER + FILMED)
        made.manage("shell", "-v0", "-c", NEWCOMER.replace("NAME", "teacher"))
        common = ("--password-file", str(laptop / "password"))
        run("-m", "sulvet", "move", "--to", made.address, "--account", "teacher", *common)
        run("manage.py", "shell", "-v0", "-c", NEWCOMER.replace("NAME", "back"))
        run("-m", "sulvet", "move", "--from", made.address, "--account", "back", "--login",
            "teacher", *common)  # fmt: skip
        of_teacher, of_back = (COUNTED.replace("NAME", name) for name in ("teacher", "back"))
        first = run("manage.py", "shell", "-v0", "-c", of_teacher)
        self.assertGreater(int(first.split()[0]), 10)
        self.assertEqual(made.manage("shell", "-v0", "-c", of_teacher), first)
        self.assertEqual(run("manage.py", "shell", "-v0", "-c", of_back), first)

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


@unittest.skipUnless(SERVERS, "PostgreSQL and Redis are not installed")
@tag("district")
class FaultTests(SimpleTestCase):
    """What is taken away comes back, and nothing is lost meanwhile."""

    def test_servers_that_refuse_are_full_or_away_for_half_a_minute_lose_nothing(self) -> None:
        with small_disk() as full, district(free_port(), 0, refusing) as made:
            site = Site(made)
            takes = [site.uploaded() for _ in range(2)]
            if full is not None:
                made.workers.append(made.work(1, full))
                # It looks, finds no room, and leaves them to another one.
                self.wait_for(lambda: "disk is full" in site.told_by(1))
                self.assertEqual(set(site.states(takes)), {"waiting"})
            made.workers.append(made.work(2))
            self.wait_for(lambda: "working" in site.states(takes))
            made.database.stop()
            for _ in self.seconds(AWAY):
                answer = site.get("/api/band/")
                self.assertEqual(answer.status_code, 503, answer.text)
                self.assertIn("database can't be reached", answer.json()["detail"])
                self.assertIn("Retry-After", answer.headers)
                ready = requests.get(f"{made.address}/health/ready/", timeout=60)
                self.assertEqual((ready.status_code, ready.json()["database"]),
                                 (503, "does not answer"))  # fmt: skip
            made.database.start()
            self.wait_for(lambda: site.get("/api/band/").status_code == 200)
            # All that was written until now passed a store that refuses every second time.
            self.wait_for(lambda: set(site.states(takes)) == {"ready"})
            made.queue.stop()
            # A clip is taken in and pages are shown; what was in the queue is lost with it.
            takes.append(site.uploaded())
            for _ in self.seconds(AWAY):
                self.assertEqual(site.get("/api/band/").status_code, 200)
            self.assertEqual(site.states(takes[2:]), ["waiting"])
            made.queue.start()
            self.wait_for(lambda: set(site.states(takes)) == {"ready"})
            self.rehearsed(site, takes)

    def rehearsed(self, site: Site, takes: list[int]) -> None:
        """A backup of a district, restored into another one."""
        dump = site.made.folder / "dump"
        with dump.open("wb") as out:
            site.made.database.run("pg_dump", "--format=custom", out=out)
        store = site.made.environment["STORAGE_URL"]
        with district(free_port(), 0) as other:
            with dump.open("rb") as source:
                other.database.run("pg_restore", "--clean", "--if-exists", given=source)
            copied(store, other.environment["STORAGE_URL"])
            there = Site(other, new=False)
            for take in takes:
                for path in (f"/api/takes/{take}/", f"/private/takes/{take}/clip.mp4"):
                    first, second = site.get(path), there.get(path)
                    self.assertEqual((first.status_code, second.status_code), (200, 200), path)
                    self.assertEqual(first.content, second.content, path)

    def wait_for(self, there: Callable[[], bool]) -> None:
        until = time.monotonic() + LONG / 1000
        while not there():
            self.assertLess(time.monotonic(), until)
            time.sleep(0.2)

    def seconds(self, count: float) -> Iterator[None]:
        until = time.monotonic() + count
        while time.monotonic() < until:
            yield
            time.sleep(1)


class Site:
    """A teacher of a district, asking as a browser does."""

    def __init__(self, made: District, new: bool = True) -> None:
        self.made, self.session = made, requests.Session()
        self.student = made.manage("shell", "-c", TEACHER).split()[-1] if new else ""
        self.session.get(made.address)
        self.posted("/api/session/", json={"username": "teacher", "password": PASSWORD})

    def posted(self, path: str, **what: Any) -> Any:
        token = self.session.cookies.get("csrftoken") or ""
        answer = self.session.post(
            self.made.address + path, headers={"X-CSRFToken": token}, timeout=60, **what
        )
        answer.raise_for_status()
        return answer.json()

    def get(self, path: str) -> requests.Response:
        return self.session.get(self.made.address + path, timeout=60)

    def uploaded(self) -> int:
        data = clip(BRIEF, ".mp4", SMALL).read_bytes()
        form = {"view": "front", "purpose": "check", "filmed_on": f"{timezone.localdate()}"}
        made = self.posted(
            f"/api/students/{self.student}/takes/", data=form, files={"clip": ("a.mp4", data)}
        )
        return int(made["id"])

    def states(self, takes: list[int]) -> list[str]:
        return [self.get(f"/api/takes/{take}/progress/").json()["state"] for take in takes]

    def told_by(self, worker: int) -> str:
        return (self.made.folder / f"worker-{worker}.log").read_text()


def copied(source: str, to: str) -> None:
    """All objects of one bucket into another."""
    first, second = (S3Storage(**clip_storage(url)["clips"]["OPTIONS"]) for url in (source, to))
    for one in first.bucket.objects.all():
        second.bucket.put_object(Key=one.key, Body=one.get()["Body"].read())


@contextmanager
def small_disk() -> Iterator[Path | None]:
    """A folder on a disk of 50 MB; None where none can be mounted."""
    with tempfile.TemporaryDirectory(prefix="sulvet-small-") as folder:
        words = ["mount", "-t", "tmpfs", "-o", "size=50m", "sulvet", folder]
        if subprocess.run(words, capture_output=True).returncode:
            yield None
            return
        try:
            yield Path(folder)
        finally:
            subprocess.run(["umount", "-l", folder], check=True)


@contextmanager
def refusing(store: str) -> Iterator[str]:
    """A store that answers every second write with a refusal, before another one."""
    parts = urlsplit(store)

    class Refusing(BaseHTTPRequestHandler):
        """Passes on what it does not refuse."""

        protocol_version = "HTTP/1.1"
        writes = 0

        def passed(self) -> None:
            body = self.rfile.read(int(self.headers.get("Content-Length") or 0))
            if self.command == "PUT":
                Refusing.writes += 1
                if Refusing.writes % 2 == 0:
                    self.answered(403, {}, REFUSAL)
                    return
            answer = requests.request(
                self.command, f"http://{parts.hostname}:{parts.port}{self.path}", data=body,
                headers=dict(self.headers), timeout=60, stream=True,
            )  # fmt: skip
            self.answered(answer.status_code, dict(answer.headers), answer.raw.read())

        do_GET = do_PUT = do_POST = do_DELETE = do_HEAD = passed

        def answered(self, status: int, headers: dict[str, str], body: bytes) -> None:
            self.send_response_only(status)
            length = headers.pop("Content-Length", str(len(body)))
            for name, value in headers.items():
                if name.lower() not in ("connection", "transfer-encoding"):
                    self.send_header(name, value)
            self.send_header("Content-Length", length if self.command == "HEAD" else str(len(body)))
            self.end_headers()
            self.wfile.write(b"" if self.command == "HEAD" else body)

        def log_message(self, *given: Any) -> None:
            pass

    server = ThreadingHTTPServer(("127.0.0.1", 0), Refusing)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield store.replace(f":{parts.port}/", f":{server.server_port}/")
    finally:
        server.shutdown()
        server.server_close()
