"""A district's processes on this machine: how fast workers read, and what a killed one loses."""

from __future__ import annotations

import os
import re
import signal
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from statistics import median, quantiles
from typing import Any

import requests

from launcher.district import District, district, end
from launcher.servers import free_port
from tests.clips import clip
from tests.painted.face import Pose
from tests.painted.take import Script

SMALL, PASSWORD = (640, 360), "four-quiet-words"
#: Clips of one throughput run, and clips while workers are killed; how often one is, s.
CLIPS, KILLED, EVERY = int(os.environ.get("SULVET_BENCH_CLIPS", "200")), 50, 5.0
#: A short clip: rest, a smile, a second of hold.
SHORT = Script(Pose(rise=6.0, width=1.1), rest=0.6, move=0.2, hold=0.8, after=0.2)
#: Jobs that find nothing to do, to see what the queue itself costs.
EMPTY = 200
CLIENTS, SECONDS = 64, 60.0
ACCOUNT = f"""
import datetime
from django.contrib.auth.models import User
from sulvet.band.services import StudentFacts, add_student, band_of
teacher = User.objects.create_user("teacher", password={PASSWORD!r})
since = datetime.date(2020, 1, 1)
print("student", add_student(band_of(teacher), StudentFacts("Edda", "horn", consent_on=since)).pk)
"""
#: What a worker writes when what it has read is stored.
READ = re.compile(r'"take (\d+): read"')
DRAIN = f"""
import time, uuid
from sulvet.takes.tasks import read_take
begun = time.perf_counter()
results = [read_take.enqueue(10**9 + n, str(uuid.uuid4())) for n in range({EMPTY})]
while not results[-1].is_finished:
    time.sleep(0.01)
    results[-1].refresh()
print("drained", time.perf_counter() - begun)
"""


@dataclass
class Site:
    """A district with a teacher who is logged in."""

    made: District
    session: requests.Session
    student: str

    def upload(self, count: int) -> None:
        """So many clips, one after the other."""
        data = clip(SHORT, ".mp4", SMALL).read_bytes()
        form = {"view": "front", "purpose": "check", "filmed_on": time.strftime("%Y-%m-%d")}
        for _ in range(count):
            token = self.session.cookies.get("csrftoken") or ""
            answer = self.session.post(
                f"{self.made.address}/api/students/{self.student}/takes/", data=form, timeout=120,
                files={"clip": ("clip.mp4", data)}, headers={"X-CSRFToken": token},
            )  # fmt: skip
            assert answer.status_code == 201, answer.text[:300]

    def ready(self) -> int:
        """How many takes are read."""
        token = self.made.environment["SULVET_METRICS_TOKEN"]
        text = requests.get(
            f"{self.made.address}/metrics/", timeout=60,
            headers={"Authorization": f"Bearer {token}"},
        ).text  # fmt: skip
        found = re.search(r'sulvet_takes\{state="ready"\} ([\d.]+)', text)
        return int(float(found[1])) if found else 0

    def wait_for(self, count: int, most: float) -> float:
        """Seconds until so many are read; at most so long."""
        begun = time.perf_counter()
        while self.ready() < count and time.perf_counter() - begun < most:
            time.sleep(0.2)
        return time.perf_counter() - begun

    def work(self, number: int) -> None:
        """One more worker."""
        self.made.workers.append(self.made.work(number))


@contextmanager
def site() -> Iterator[Site]:
    """Everything but workers."""
    with district(free_port(), 0) as made:
        student = made.manage("shell", "-c", ACCOUNT).split("student")[-1].strip()
        session = requests.Session()
        session.get(made.address)
        token = session.cookies.get("csrftoken") or ""
        session.post(
            f"{made.address}/api/session/", headers={"X-CSRFToken": token},
            json={"username": "teacher", "password": PASSWORD},
        ).raise_for_status()  # fmt: skip
        yield Site(made, session, student)


def _told(what: str) -> None:
    sys.stderr.write(f"district: {what}\n")
    sys.stderr.flush()


def throughput() -> tuple[list[str], float]:
    """A row for each number of workers, and seconds a clip costs one of them."""
    rows, one = [], 0.0
    for workers in (1, 2, 4):
        with site() as there:
            there.upload(CLIPS)
            for number in range(1, workers + 1):
                there.work(number)
            # What starting costs is not reading.
            while there.ready() == 0:
                time.sleep(0.05)
            first = there.ready()
            seconds = there.wait_for(CLIPS, 3600) / (CLIPS - first)
        one = one or seconds
        rows.append(f"| {workers} | {60 / seconds:.0f} | {one / seconds:.2f} |")
        _told(rows[-1])
    return rows, one


def overhead() -> float:
    """Seconds that a job costs before and after what it does: from queue to claim and back."""
    with site() as there:
        there.work(1)
        drained = there.made.manage("shell", "-c", DRAIN)
        return float(drained.split("drained")[-1]) / EMPTY


def killing() -> str:
    """Workers killed again and again while clips are read."""
    with site() as there:
        there.upload(KILLED)
        for number in (1, 2):
            there.work(number)
        begun, kills = time.perf_counter(), 0
        while there.ready() < KILLED and time.perf_counter() - begun < 120:
            time.sleep(EVERY)
            at = kills % 2
            there.made.workers[at].send_signal(signal.SIGKILL)
            there.made.workers[at].wait()
            there.made.workers[at] = there.made.work(at + 1)
            kills += 1
        there.wait_for(KILLED, 600)
        took = time.perf_counter() - begun
        ready = there.ready()
        logs = "".join(path.read_text() for path in there.made.folder.glob("worker-*.log"))
        twice = sum(count > 1 for count in Counter(READ.findall(logs)).values())
    return (
        f"Of two workers one was killed (kill -9) every {EVERY:.0f} s for two minutes, {kills} "
        f"times, while {KILLED} clips were read: {ready} of {KILLED} were, after {took:.0f} s; "
        f"judged twice: {twice}."
    )


def crowd() -> str:
    """Many clients at once."""
    with site() as there:
        there.upload(2)
        there.work(1)
        there.wait_for(2, 300)
        end(there.made.workers)
        times, wrong, until = list[float](), list[str](), time.monotonic() + SECONDS
        cookies = there.session.cookies

        def ask() -> None:
            own = requests.Session()
            own.cookies.update(cookies)
            while time.monotonic() < until:
                for path in ("/api/band/", f"/api/students/{there.student}/", "/api/takes/1/"):
                    at = time.perf_counter()
                    try:
                        status: Any = own.get(there.made.address + path, timeout=60).status_code
                    except requests.RequestException as error:
                        status = type(error).__name__
                    times.append(time.perf_counter() - at)
                    if status != 200:
                        wrong.append(f"{path} {status}")

        threads = [threading.Thread(target=ask) for _ in range(CLIENTS)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    high = quantiles(times, n=20)[-1]
    return (
        f"{CLIENTS} clients for {SECONDS:.0f} s on one web process: {len(times)} answers, "
        f"{len(wrong)} errors{': ' + wrong[0] if wrong else ''}, median {median(times):.2f} s, "
        f"95th percentile {high:.2f} s."
    )


def section() -> str:
    """All of it."""
    with tempfile.TemporaryDirectory() as folder:
        os.environ.setdefault("SULVET_DATA", str(Path(folder)))
        rows, one = throughput()
        each = overhead()
        table = "\n".join(["| workers | clips a minute | ratio to one |", "|---|---|---|", *rows])
        return "\n\n".join([
            f"{CLIPS} clips of {SHORT.seconds:.1f} s at {SMALL[0]}x{SMALL[1]}; PostgreSQL, Redis, "
            "the stand-in of an object store and a web process on the same two cores:",
            table,
            f"The queue itself costs {1000 * each:.0f} ms a job (out, claimed, noted), "
            f"{each / one:.1%} of a clip.",
            killing(), crowd(),
        ])  # fmt: skip
