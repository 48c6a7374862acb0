"""How long pages take when several teachers open them at once, over HTTP, one server."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path
from statistics import median, quantiles

import requests

ROOT = Path(__file__).resolve().parents[1]
PORT, CLIENTS, SECONDS = 8978, (1, 8, 32), 12.0
ADDRESS = f"http://127.0.0.1:{PORT}"
#: What is asked for in turn: three pages of a lesson's evening, and what of it is a baseline.
PAGES = {
    "health (baseline)": "/health/",
    "Bench": "/api/takes/{take}/",
    "Band": "/api/band/",
    "a still of the Bench": "/private/takes/{take}/frames/{frame}.jpg",
}
FIND = """
from django.contrib.auth.models import User
from django.test import Client
from sulvet.takes.models import Take
client = Client(); client.force_login(User.objects.get(username="demo"))
take = Take.objects.filter(state="ready").first()
print("found", client.cookies["sessionid"].value, take.pk, len(take.frame_times))
"""


def section() -> str:
    """The table, and what it was measured on."""
    head = (
        "| page | clients | median | 95th percentile | ratio to one client |\n|---|---|---|---|---|"
    )
    return "\n".join([head, *(f"| {' | '.join(row)} |" for row in run())])


def run() -> list[tuple[str, str, str, str, str]]:
    """Rows of (page, clients, median, 95th percentile, ratio of the median to one client's)."""
    with tempfile.TemporaryDirectory() as folder:
        environment = {**os.environ, "SULVET_DATA": folder}

        def manage(*words: str) -> str:
            return subprocess.run(
                [sys.executable, "manage.py", *words], cwd=ROOT, env=environment, text=True,
                check=True, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
            ).stdout  # fmt: skip

        manage("prepare")
        manage("load_demo")
        found = next(line for line in manage("shell", "-c", FIND).splitlines() if "found" in line)
        _, session, take, frames = found.split()
        server = subprocess.Popen(
            [sys.executable, "-m", "sulvet.web.server", "--host=127.0.0.1", f"--port={PORT}"],
            cwd=ROOT, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        try:
            _wait()
            return _rows(session, take, int(frames))
        finally:
            server.terminate()
            server.wait()


def _wait() -> None:
    for _ in range(300):
        try:
            requests.get(f"{ADDRESS}/health/", timeout=2)
        except requests.RequestException:
            time.sleep(0.1)
        else:
            return


def _rows(session: str, take: str, frames: int) -> list[tuple[str, str, str, str, str]]:
    rows = []
    for name, path in PAGES.items():
        alone = 0.0
        for clients in CLIENTS:
            times = _under_load(session, path.replace("{take}", take), frames, clients)
            middle, high = median(times), quantiles(times, n=20)[-1]
            alone = alone or middle
            ratio = f"{middle / alone:.1f}"
            rows.append((name, str(clients), f"{middle:.2f} s", f"{high:.2f} s", ratio))
    return rows


def _under_load(session: str, path: str, frames: int, clients: int) -> list[float]:
    """Seconds of each answer while so many clients ask again and again."""
    times: list[float] = []
    end = time.perf_counter() + SECONDS

    def ask(who: int) -> None:
        browser = requests.Session()
        browser.cookies.set("sessionid", session)
        turn = 0
        while time.perf_counter() < end:
            address = ADDRESS + path.replace("{frame}", str((who * 7 + turn) % frames))
            start = time.perf_counter()
            answer = browser.get(address, timeout=120)
            times.append(time.perf_counter() - start)
            assert answer.status_code == 200, (address, answer.status_code)
            turn += 1

    threads = [threading.Thread(target=ask, args=(who,)) for who in range(clients)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return times
