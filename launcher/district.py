"""Sulvet as a district runs it, on one machine, to be tried: nothing is kept.

PostgreSQL, a queue, an object store, a server and several workers, each with a folder of its own:
what one has, the others have only through database and store.
"""

from __future__ import annotations

import os
import secrets
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, ExitStack, contextmanager, nullcontext
from dataclasses import dataclass
from pathlib import Path

from launcher.postgres import Database, postgres
from launcher.servers import Server, object_store, queue
from launcher.serving import die_with_parent, wait_until_it_answers
from launcher.shell import PYTHON, ROOT, Trouble, say

HERE = ("--host=127.0.0.1",)


@dataclass(frozen=True)
class District:
    """What runs: its address, what its processes are told, and the servers beneath."""

    address: str
    folder: Path
    environment: dict[str, str]
    workers: list[subprocess.Popen[bytes]]
    database: Database
    queue: Server

    def manage(self, *words: str) -> str:
        """Run a management command as the server would; what it prints."""
        done = subprocess.run(
            [str(PYTHON), "manage.py", *words], cwd=ROOT, text=True, stdout=subprocess.PIPE,
            env={**os.environ, **self.environment, "SULVET_DATA": str(self.folder / "web")},
        )  # fmt: skip
        if done.returncode:
            raise Trouble(f"“{' '.join(words)}” failed.")
        return done.stdout

    def work(self, number: int, own: Path | None = None) -> subprocess.Popen[bytes]:
        """A worker, by its number, with the folder it had before, or with this one."""
        name = f"worker-{number}"
        return begin(self.folder, self.environment, name, "manage.py", "work", own=own)


def begin(
    folder: Path, environment: dict[str, str], name: str, *words: str, own: Path | None = None
) -> subprocess.Popen[bytes]:
    """One process with a data folder of its own; what it prints goes into a file beside that."""
    own = own or folder / name
    own.mkdir(exist_ok=True)
    with (folder / f"{name}.log").open("ab") as log:
        return subprocess.Popen(
            [str(PYTHON), *words], cwd=ROOT, start_new_session=True, stdout=log, stderr=log,
            env={**os.environ, **environment, "SULVET_DATA": str(own)},
            preexec_fn=die_with_parent if sys.platform == "linux" else None,
        )  # fmt: skip


@contextmanager
def district(
    port: int, workers: int,
    before_store: Callable[[str], AbstractContextManager[str]] = nullcontext,
) -> Iterator[District]:  # fmt: skip
    """All of it, for as long as the block runs.

    before_store  what stands between the processes and the object store: its address to another
    """
    folder = Path(tempfile.mkdtemp(prefix="sulvet-district-"))
    with ExitStack() as stack:
        stack.callback(shutil.rmtree, folder, ignore_errors=True)
        jobs, database = stack.enter_context(queue()), stack.enter_context(postgres())
        environment = {
            "DATABASE_URL": database.address,
            "TASKS_URL": jobs.address,
            "CACHE_URL": jobs.address.replace("/0", "/1"),
            "STORAGE_URL": stack.enter_context(before_store(stack.enter_context(object_store()))),
            # One key for all: what one process signs, the others read.
            "SULVET_SECRET_KEY": secrets.token_urlsafe(50),
            "SULVET_METRICS_TOKEN": secrets.token_urlsafe(16),
            "SULVET_LOG": "json",
        }
        made = District(f"http://127.0.0.1:{port}", folder, environment, [], database, jobs)
        (folder / "web").mkdir()
        say("preparing the database")
        made.manage("prepare")
        server = begin(
            folder, environment, "web", "-m", "sulvet.web.server", *HERE, f"--port={port}"
        )
        stack.callback(end, [server])
        wait_until_it_answers("127.0.0.1", port, server, "http")
        stack.callback(end, made.workers)
        for number in range(1, workers + 1):
            made.workers.append(made.work(number))
        yield made


def end(processes: list[subprocess.Popen[bytes]]) -> None:
    """Ask processes to end, and end those that don't."""
    for process in processes:
        process.terminate()
    for process in processes:
        try:
            process.wait(5)
        except subprocess.TimeoutExpired:
            process.kill()


def run(port: int, workers: int) -> None:
    """``run.py district``: until Ctrl-C."""
    signal.signal(signal.SIGTERM, lambda *_: (_ for _ in ()).throw(KeyboardInterrupt()))
    try:
        with district(port, workers) as made:
            made.manage("load_demo")
            token = made.environment["SULVET_METRICS_TOKEN"]
            print("\n".join([
                "", f"Sulvet is at      {made.address}/", "Demo login        demo",
                "Password          sulvet-demo",
                f"Metrics           {made.address}/metrics/",
                f"                  with the header Authorization: Bearer {token}",
                f"Ready?            {made.address}/health/ready/",
                f"{workers} workers, PostgreSQL, a queue and an object store. Nothing is kept.",
                "Ctrl-C ends it.",
            ]), flush=True)  # fmt: skip
            while True:
                for n, worker in enumerate(made.workers):
                    if worker.poll() is not None:
                        say(f"worker {n + 1} stopped; starting it again")
                        made.workers[n] = made.work(n + 1)
                time.sleep(0.5)
    except KeyboardInterrupt:
        print("\nEnding.", flush=True)
