"""The one file that starts everything, as far as it goes without starting anything."""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
import socket
import ssl
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from contextlib import redirect_stderr
from io import StringIO
from pathlib import Path

from django.test import SimpleTestCase

import run
from launcher import environment, serving, shell
from tests.runner import empty_database

ROOT = Path(run.__file__).parent


#: How long a start or an answer may take, s, on a machine however busy.
LONG = 120.0
#: What a test run sets for itself: a Sulvet that is started has its own.
OWN = {"SULVET_DATA", "DATABASE_URL"}


class RunTests(SimpleTestCase):
    def test_a_stamp_holds_until_a_source_changes(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            source, stamp = Path(folder) / "a.txt", Path(folder) / "stamp"
            source.write_text("one")
            self.assertFalse(environment.fresh(stamp, environment.digest([source])))
            stamp.write_text(environment.digest([source]))
            self.assertTrue(environment.fresh(stamp, environment.digest([source])))
            source.write_text("two")
            self.assertFalse(environment.fresh(stamp, environment.digest([source])))

    def test_a_port_in_use_is_seen(self) -> None:
        with socket.socket() as holder:
            holder.bind(("127.0.0.1", 0))
            holder.listen()
            self.assertFalse(serving.port_free("127.0.0.1", holder.getsockname()[1]))
        self.assertTrue(serving.port_free("127.0.0.1", free_port()))

    def test_what_fails_ends_with_a_sentence_and_status_1(self) -> None:
        said = StringIO()
        with redirect_stderr(said), self.assertRaises(SystemExit) as ended:
            shell.run(sys.executable, "-c", "raise SystemExit(3)")
        self.assertEqual(ended.exception.code, 1)
        self.assertIn("failed", said.getvalue())

    def test_it_needs_nothing_but_the_standard_library(self) -> None:
        for file in (ROOT / "run.py", *(ROOT / "launcher").glob("*.py")):
            names = re.findall(r"^(?:import|from) (\w+)", file.read_text(), re.MULTILINE)
            self.assertLessEqual(set(names) - {"launcher"}, sys.stdlib_module_names, file)

    def test_its_help_names_every_command(self) -> None:
        said = subprocess.run(
            [sys.executable, ROOT / "run.py", "--help"], capture_output=True, text=True, check=True
        ).stdout
        for name in ("demo", "serve", "setup", "test", "check", "bench"):
            self.assertIn(f"run.py {name}", said)


class PackageListTests(SimpleTestCase):
    def test_every_package_is_pinned_and_none_names_where_it_comes_from(self) -> None:
        for file in ROOT.glob("requirements*.txt"):
            for line in file.read_text().splitlines():
                if line and not line.startswith("#"):
                    self.assertRegex(line, r"^[A-Za-z0-9_.-]+==[0-9][0-9A-Za-z.]*$")
        lock = (ROOT / "frontend" / "package-lock.json").read_text()
        self.assertNotIn('"resolved"', lock)
        self.assertNotIn("://", lock, "take npm's “funding” lines out again")

    def test_the_packages_installed_are_those_listed(self) -> None:
        from importlib.metadata import version

        for name in ("requirements.txt", "requirements-dev.txt"):
            for line in (ROOT / name).read_text().splitlines():
                if line and not line.startswith("#"):
                    package, wanted = line.split("==")
                    self.assertEqual(version(package), wanted, package)


def answers(host: str, port: int) -> bool:
    """Whether Sulvet answers there, whoever has signed its certificate."""
    anybody = ssl.create_default_context()
    anybody.check_hostname, anybody.verify_mode = False, ssl.CERT_NONE
    try:
        with urllib.request.urlopen(
            f"https://{host}:{port}/health/", timeout=LONG, context=anybody
        ) as page:
            return bool(page.read() == b"ok\n")
    except OSError:
        return False


def children_of(parent: int) -> list[int]:
    """The processes that a process has started."""
    return [
        int(status.parent.name)
        for status in Path("/proc").glob("[0-9]*/status")
        if f"PPid:\t{parent}\n" in _text(status)
    ]


def _text(file: Path) -> str:
    try:
        return file.read_text()
    except OSError:
        return ""


def until(what: Callable[[], bool], seconds: float = LONG) -> bool:
    """Whether something comes true in time."""
    end = time.monotonic() + seconds
    while not what() and time.monotonic() < end:
        time.sleep(0.2)
    return what()


def migrated(data: str) -> None:
    """Put an empty database with all its tables there: making them is tested elsewhere."""
    shutil.copyfile(empty_database(), Path(data) / "sulvet.sqlite3")


def free_port() -> int:
    """A port that nothing listens on."""
    with socket.socket() as finder:
        finder.bind(("127.0.0.1", 0))
        return int(finder.getsockname()[1])


class ServeTests(SimpleTestCase):
    def test_a_room_is_served_over_https_by_what_is_started_again_and_outlives_nobody(self) -> None:
        try:
            address = serving.room_address()
        except SystemExit:
            self.skipTest("this computer is in no network")
        port = free_port()
        with tempfile.TemporaryDirectory() as data, open(f"{data}/said", "w+") as said:
            migrated(data)
            parent = subprocess.Popen(
                [sys.executable, ROOT / "run.py", "serve", "--share", "--port", str(port),
                 "--data", data],
                stdout=said, stderr=said, start_new_session=True,
                env={k: v for k, v in os.environ.items() if k not in OWN},
            )  # fmt: skip
            try:
                told = Path(said.name)
                self.assertTrue(until(lambda: "Ctrl-C" in told.read_text()), told.read_text())
                self.assertIn(f"Sulvet is at      https://{address}:{port}", told.read_text())
                self.assertIn("Code to make the first account", told.read_text())
                self.https(
                    f"https://{address}:{port}", Path(data) / "certificate" / "authority.crt"
                )
                with socket.create_connection((address, port)):
                    # A device that says nothing keeps nobody waiting.
                    self.assertTrue(answers(address, port))
                children = children_of(parent.pid)
                self.assertEqual(len(children), 2)
                for child in children:
                    os.kill(child, signal.SIGKILL)
                self.assertTrue(
                    until(lambda: answers(address, port) and len(children_of(parent.pid)) == 2)
                )
                later = children_of(parent.pid)
                self.assertFalse(set(later) & set(children))
            finally:
                parent.kill()
                parent.wait()
            self.assertTrue(until(lambda: not any(Path(f"/proc/{one}").exists() for one in later)))
            self.assertFalse(answers(address, port))

    def https(self, address: str, authority: Path) -> None:
        """By a certificate of its own; what a device says about itself is not believed."""
        trusting = ssl.create_default_context(cafile=str(authority))

        def asked(path: str, **headers: str) -> bytes:
            request = urllib.request.Request(address + path, headers=headers)
            with urllib.request.urlopen(request, timeout=LONG, context=trusting) as answer:
                return bytes(answer.read())

        self.assertEqual(asked("/authority.crt"), authority.read_bytes())
        # The first account is for who sits at this computer, or knows the code.
        for headers in ({}, {"X-Forwarded-For": "127.0.0.1"}):
            session = json.loads(asked("/api/session/", **headers))
            self.assertEqual((session["new"], session["code_needed"]), (True, True))
