"""A Sulvet of its own in a folder that is thrown away."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

_open: list[str] = []


@contextmanager
def fresh() -> Iterator[None]:
    """Django set up over an empty database; inside another one it is the same.

    Settings are read once a process: all that wants a site must be inside one.
    """
    if _open:
        yield
        return
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as folder:
        _open.append(folder)
        os.environ["SULVET_DATA"] = folder
        os.environ["DJANGO_SETTINGS_MODULE"] = "sulvet.web.settings"
        import django

        django.setup()
        from django.core.management import call_command

        call_command("migrate", verbosity=0)
        yield


class Served:
    """A server over the site of this process; it can be killed and started again."""

    def __init__(self, worker: bool) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.address = f"http://127.0.0.1:{self.port}/"
        self.worker = self._begin("manage.py", "work") if worker else None
        self.start()

    def start(self) -> None:
        """Begin, and wait until it answers."""
        self.server = self._begin(
            "-m", "sulvet.web.server", "--host=127.0.0.1", f"--port={self.port}"
        )  # fmt: skip
        for _ in range(200):
            try:
                urllib.request.urlopen(f"{self.address}health/", timeout=2)
                return
            except OSError:
                time.sleep(0.2)
        raise TimeoutError("the server does not answer")

    def kill(self) -> None:
        """End the server without a word."""
        self.server.kill()
        self.server.wait()

    def end(self) -> None:
        """End all of it."""
        for one in (self.server, self.worker):
            if one is not None:
                one.terminate()
                one.wait(20)

    def _begin(self, *command: str) -> subprocess.Popen[bytes]:
        root = Path(__file__).resolve().parents[1]
        return subprocess.Popen([sys.executable, *command], cwd=root, stdout=subprocess.DEVNULL)


@contextmanager
def served(worker: bool = False) -> Iterator[Served]:
    """The site of this process, served; inside ``fresh`` alone.

    worker  whether clips are analysed as well
    """
    running = Served(worker)
    try:
        yield running
    finally:
        running.end()


@contextmanager
def chromium() -> Iterator[Browser]:
    """A browser without a screen."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path=shutil.which("chromium") or "/usr/bin/chromium",
            args=["--no-sandbox"],
        )
        yield browser
        browser.close()
