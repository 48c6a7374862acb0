"""Sulvet killed at random moments of its work, started again, and looked at: what is lost?"""

from __future__ import annotations

import os
import random
import re
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from contextlib import closing, suppress
from pathlib import Path
from typing import Any

import requests

from tests.clips import clip, short
from tests.painted.face import Pose

ROOT = Path(__file__).resolve().parents[1]
PAGE = ROOT / "docs" / "security.md"
TRIALS, SEED, PORT = 40, 19, 8977
WORK = ("upload", "reading", "edit", "import", "delete", "export")
NAME, SECOND, PASSWORD = "teacher", "second", "four-quiet-words"
SMALL = (640, 360)
#: What ``audit-files`` says of a whole folder without a take.
UNOWNED = "of a take that is not in the band"


class Sulvet:
    """Server and worker on a data folder of their own."""

    def __init__(self, data: Path) -> None:
        self.data = data
        self.environment = {**os.environ, "SULVET_DATA": str(data)}
        self.running: list[subprocess.Popen[bytes]] = []

    def manage(self, *words: str) -> str:
        """The output of a management command."""
        return subprocess.run(
            [sys.executable, "manage.py", *words], cwd=ROOT, env=self.environment, text=True,
            check=True, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
        ).stdout  # fmt: skip

    def start(self) -> None:
        """Start both and wait until the server answers."""
        for command in (
            ("-m", "sulvet.web.server", "--host=127.0.0.1", f"--port={PORT}"),
            ("manage.py", "work"),
        ):
            self.running.append(
                subprocess.Popen(
                    [sys.executable, *command], cwd=ROOT, env=self.environment,
                    stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
                )
            )  # fmt: skip
        for _ in range(300):
            with suppress(requests.RequestException):
                if requests.get(f"{ADDRESS}/health/", timeout=2).ok:
                    return
            time.sleep(0.1)
        raise RuntimeError("the server does not answer")

    def kill(self) -> None:
        """End both at once, as a power cut does."""
        for process in self.running:
            process.send_signal(signal.SIGKILL)
        for process in self.running:
            process.wait()
        self.running = []

    def rows(self, question: str) -> list[tuple[Any, ...]]:
        """What the database says."""
        with closing(sqlite3.connect(self.data / "sulvet.sqlite3", timeout=60)) as known:
            return known.execute(question).fetchall()


ADDRESS = f"http://127.0.0.1:{PORT}"


class Teacher:
    """A logged-in browser, as far as it matters."""

    def __init__(self, name: str) -> None:
        self.session = requests.Session()
        self.session.get(ADDRESS)
        self.send("POST", "/api/session/", json={"username": name, "password": PASSWORD})

    def send(self, method: str, path: str, **what: Any) -> requests.Response | None:
        """The answer, or None where the server was killed before it came."""
        headers = {"X-CSRFToken": self.session.cookies.get("csrftoken") or ""}
        with suppress(requests.RequestException):
            answer = self.session.request(
                method, ADDRESS + path, headers=headers, timeout=120, **what
            )
            answer.content  # noqa: B018  read to its end
            return answer
        return None

    def upload(self, student: int) -> requests.Response | None:
        """Upload clip."""
        form = {"view": "front", "purpose": "check", "filmed_on": time.strftime("%Y-%m-%d")}
        path = clip(short(Pose(rise=9.0, width=1.13)), ".mp4", SMALL)
        return self.send(
            "POST", f"/api/students/{student}/takes/", data=form,
            files={"clip": (path.name, path.read_bytes())},
        )  # fmt: skip


def run() -> str:
    """All trials; what came of them as a paragraph."""
    rng, counts, wrong = random.Random(SEED), Counter[str](), Counter[str]()
    with tempfile.TemporaryDirectory() as folder:
        sulvet = Sulvet(Path(folder) / "data")
        sulvet.data.mkdir()
        sulvet.manage("prepare")
        sulvet.manage("shell", "-c", ACCOUNTS)
        sulvet.start()
        try:
            teacher, second = Teacher(NAME), Teacher(SECOND)
            _settle(sulvet, teacher, 2)
            archive = teacher.send("GET", "/api/archive.zip")
            assert archive is not None
            for trial in range(TRIALS):
                work = WORK[trial % len(WORK)]
                counts[work] += 1
                for fault in _trial(sulvet, rng, work, archive.content, teacher, second):
                    wrong[f"{work}: {fault}"] += 1
                sys.stderr.write(f"\rkilling: {trial + 1} of {TRIALS}, wrong so far {dict(wrong)}")
                sys.stderr.flush()
        finally:
            sulvet.kill()
    of = ", ".join(f"{work} {count}" for work, count in counts.items())
    found = "; ".join(f"{what} {count}" for what, count in wrong.items()) or "nothing"
    return (
        f"Server and worker were killed (kill -9) at {TRIALS} random moments ({of}), started again "
        "and left to finish; then the database was checked, every take held against its files, "
        f"every answer against what stands, and every reading counted. Lost, orphaned or judged "
        f"twice: {found}."
    )


ACCOUNTS = f"""
import datetime
from django.contrib.auth.models import User
from sulvet.band.services import StudentFacts, add_student, band_of
for name in ({NAME!r}, {SECOND!r}):
    User.objects.create_user(name, password={PASSWORD!r})
teacher = User.objects.get(username={NAME!r})
add_student(band_of(teacher), StudentFacts("Edda", "horn", consent_on=datetime.date(2020, 1, 1)))
"""


def _settle(sulvet: Sulvet, teacher: Teacher, takes: int) -> None:
    """So many takes, all read."""
    for _ in range(takes - len(sulvet.rows("SELECT id FROM takes_take"))):
        teacher.upload(1)
    for _ in range(1200):
        states = {state for (state,) in sulvet.rows("SELECT state FROM takes_take")}
        if not states & {"waiting", "working"}:
            return
        time.sleep(0.25)


def _trial(
    sulvet: Sulvet, rng: random.Random, work: str, archive: bytes, teacher: Teacher,
    second: Teacher,
) -> list[str]:  # fmt: skip
    """One piece of work cut off; what is wrong afterwards."""
    takes = [number for (number,) in sulvet.rows(MINE)]
    before, answers = set(takes), list[requests.Response | None]()

    def do() -> None:
        if work in ("upload", "reading"):
            answers.append(teacher.upload(1))
        elif work == "edit":
            hold = {"name": "hold", "start": 2.0 + rng.random() / 2, "end": 3.6}
            body = {"phases": [{"name": "rest", "start": 0.1, "end": 1.1}, hold]}
            answers.append(teacher.send("PUT", f"/api/takes/{takes[0]}/phases/", json=body))
        elif work == "import":
            answers.append(
                second.send("POST", "/api/archive.zip", files={"archive": ("a.zip", archive)})
            )
        elif work == "delete":
            answers.append(teacher.send("DELETE", f"/api/takes/{takes[-1]}/"))
        else:
            answers.append(teacher.send("GET", "/api/archive.zip"))

    thread = threading.Thread(target=do)
    thread.start()
    time.sleep(rng.random() * {"reading": 9.0, "import": 2.5, "upload": 1.2}.get(work, 0.6))
    sulvet.kill()
    thread.join()
    sulvet.start()
    time.sleep(1.0)
    _wake(sulvet)
    _settle(sulvet, teacher, 0)
    wrong = _wrong(sulvet)
    answer = answers[0] if answers else None
    after = {number for (number,) in sulvet.rows(MINE)}
    if work in ("upload", "reading") and answer is not None and answer.status_code == 201:
        wrong += [] if answer.json()["id"] in after else ["an upload that was answered is lost"]
    if work == "delete" and answer is not None and answer.status_code == 204:
        wrong += ["what was deleted is there"] if takes[-1] in after else []
    if work not in ("upload", "reading", "delete") and before - after:
        wrong.append("a take is lost")
    # As it was, for the next: one take to be deleted, none in the second account.
    for number in sorted(after)[2:]:
        teacher.send("DELETE", f"/api/takes/{number}/")
    for (student,) in sulvet.rows(f"SELECT id FROM band_student WHERE NOT {OF_TEACHER}"):
        second.send("DELETE", f"/api/students/{student}/")
    _settle(sulvet, teacher, 2)
    return wrong


OF_TEACHER = (
    "section_id IN (SELECT s.id FROM band_section s JOIN band_band b ON s.band_id = b.id "
    "WHERE b.teacher_id = 1)"
)
MINE = (
    "SELECT t.id FROM takes_take t JOIN band_student u ON t.student_id = u.id WHERE "
    f"u.{OF_TEACHER} ORDER BY t.id"
)


def _wake(sulvet: Sulvet) -> None:
    """What a killed worker had in hand counts as left at once, not after some seconds."""
    with closing(sqlite3.connect(sulvet.data / "sulvet.sqlite3", timeout=60)) as known:
        known.execute(
            "UPDATE takes_take SET heartbeat = '2020-01-01 00:00:00' WHERE state = 'working'"
        )
        known.commit()


def _wrong(sulvet: Sulvet) -> list[str]:
    """What does not fit together in database and files."""
    wrong = []
    if sulvet.rows("PRAGMA integrity_check") != [("ok",)] or sulvet.rows(
        "PRAGMA foreign_key_check"
    ):
        wrong.append("the database is damaged")
    for folder, name in sulvet.rows("SELECT folder, clip_name FROM takes_take"):
        there = (
            sulvet.data
            / "clips"
            / re.sub(r"(.{8})(.{4})(.{4})(.{4})(.{12})", r"\1-\2-\3-\4-\5", folder)
        )
        wrong += [] if (there / name).exists() else ["a clip is lost"]
    stuck = sulvet.rows("SELECT id FROM takes_take WHERE state NOT IN ('ready', 'needs-marks')")
    wrong += ["a take is not read"] if stuck else []
    twice = sulvet.rows(
        "SELECT take_id FROM takes_reading GROUP BY take_id, measure, phase, nth "
        "HAVING count(*) > 1"
    )
    wrong += ["a reading is there twice"] if twice else []
    # What belongs to nobody is swept an hour later, but for a whole folder without a take.
    listed = sulvet.manage("audit_files", "--now")
    wrong += ["a whole folder belongs to nobody"] if UNOWNED in listed else []
    sulvet.manage("audit_files", "--remove", "--now")
    return wrong


def rewrite() -> str:
    """Write what came of the trials into docs/security.md; returns it."""
    said = run()
    text = PAGE.read_text("utf-8")
    text = re.sub(
        r"(?<=<!-- killed -->\n).*?(?=\n<!-- end of killed -->)", lambda _: said, text,
        flags=re.DOTALL,
    )  # fmt: skip
    PAGE.write_text(text, "utf-8")
    return said
