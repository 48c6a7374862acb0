"""What ``run.py test`` does beside running tests: it times parts and keeps the machine busy."""

from __future__ import annotations

import json
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager

from launcher.shell import ROOT, say

#: How long each part of the last run took, s.
RUN_SECONDS = ROOT / ".cache" / "run-seconds.json"
#: Processes that do nothing but use a processor, while tests must pass all the same.
BUSY_LOOPS = 8


class Parts:
    """How long each part of a run took, s."""

    def __init__(self) -> None:
        self._seconds: dict[str, float] = {}

    @contextmanager
    def timed(self, name: str) -> Iterator[None]:
        """Time a part, whether or not it succeeds."""
        began = time.monotonic()
        try:
            yield
        finally:
            self._seconds[name] = time.monotonic() - began

    def tell(self) -> None:
        """Print them, and keep them."""
        RUN_SECONDS.parent.mkdir(exist_ok=True)
        RUN_SECONDS.write_text(json.dumps(self._seconds), "utf-8")
        parts = ", ".join(f"{name} {took:.0f}" for name, took in self._seconds.items())
        say(f"seconds: {parts}, in all {sum(self._seconds.values()):.0f}")


@contextmanager
def one_at_a_time(name: str) -> Iterator[None]:
    """Keep other runs on this checkout waiting while the block runs."""
    if sys.platform == "win32":
        yield
        return
    import fcntl

    lock = ROOT / ".cache" / f"{name}.lock"
    lock.parent.mkdir(exist_ok=True)
    with lock.open("w") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield


@contextmanager
def busy_machine(loops: int) -> Iterator[None]:
    """Run so many busy loops beside what the block does."""
    command = [sys.executable, "-c", "while True: pass"]
    started = [subprocess.Popen(command) for _ in range(loops)]
    try:
        yield
    finally:
        for one in started:
            one.kill()
            one.wait()


@contextmanager
def throwaway(database: str) -> Iterator[str]:
    """The address of a database for one run; empty is SQLite in the data folder."""
    if database != "postgres":
        yield ""
        return
    # What it needs only Unix has.
    from launcher.postgres import postgres

    with postgres() as server:
        yield server.address
