"""Django's runner: the longest tests first, the slowest named, one closing line to count by."""

from __future__ import annotations

import hashlib
import json
import logging
import os
import re
import shutil
import time
import unittest
from itertools import groupby
from pathlib import Path
from typing import Any

from django.db import connection
from django.test.runner import (
    DiscoverRunner,
    ParallelTestSuite,
    RemoteTestResult,
    RemoteTestRunner,
)
from django.test.testcases import LiveServerTestCase
from django.test.utils import iter_test_cases  # type: ignore[attr-defined]  # its stubs lack it

from tests import stored_readings
from tests.seconds import SECONDS, SLOWEST, seconds_by_part

ROOT = Path(__file__).resolve().parents[1]
#: What one that has not run yet is taken for, s, before a browser and elsewhere.
GUESS_BROWSER, GUESS = 8.0, 0.6
#: The line of a traceback that names the error.
ERROR = re.compile(r"[A-Za-z_][\w.]*(Error|Exception|Failure)\b")


class _Timed:
    """Tells ``addSeconds`` how long each test took, with what prepares and clears up."""

    def startTest(self, test: unittest.TestCase) -> None:
        super().startTest(test)  # type: ignore[misc]
        self._began = time.monotonic()

    def stopTest(self, test: unittest.TestCase) -> None:
        self.addSeconds(test, time.monotonic() - self._began)
        super().stopTest(test)  # type: ignore[misc]

    def addSeconds(self, test: unittest.TestCase, seconds: float) -> None:
        raise NotImplementedError


class _RemoteResult(_Timed, RemoteTestResult):
    def addSeconds(self, test: unittest.TestCase, seconds: float) -> None:
        self.events.append(("addSeconds", self.test_index, seconds))


class _RemoteRunner(RemoteTestRunner):
    resultclass = _RemoteResult


class _ParallelSuite(ParallelTestSuite):
    runner_class = _RemoteRunner


class _Result(_Timed, unittest.TextTestResult):
    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.seconds: dict[str, float] = {}
        self._began = 0.0

    def addSeconds(self, test: unittest.TestCase, seconds: float) -> None:
        # A test that ran in another process is ended here once more, at once.
        self.seconds[test.id()] = max(seconds, self.seconds.get(test.id(), 0.0))


class CountingRunner(DiscoverRunner):
    """Prints the slowest tests, and how many passed, failed and were skipped."""

    parallel_test_suite = _ParallelSuite

    def setup_test_environment(self, **kwargs: Any) -> None:
        super().setup_test_environment(**kwargs)
        stored_readings.install()
        # Refusals are what many tests ask for; their log lines hide what matters.
        for name in ("django.request", "django.security", "django.server", "axes"):
            logging.getLogger(name).setLevel(logging.CRITICAL)

    def setup_databases(self, **kwargs: Any) -> Any:
        """From a copy of an empty one that has all migrations, made anew when one changes."""
        if self.verbosity == 1:
            # That databases are made and thrown away is nothing to be told.
            self.verbosity = 0
        if connection.vendor != "sqlite":
            return super().setup_databases(**kwargs)
        name, template = Path(str(connection.settings_dict["TEST"]["NAME"])), empty_database()
        _remove(name)
        if template.exists():
            shutil.copyfile(template, name)
        self.keepdb = True
        made = super().setup_databases(**kwargs)
        if name.exists() and not template.exists():
            template.parent.mkdir(parents=True, exist_ok=True)
            half = template.with_suffix(f".{os.getpid()}")
            shutil.copyfile(name, half)
            half.replace(template)
        return made

    def teardown_databases(self, old_config: Any, **kwargs: Any) -> None:
        super().teardown_databases(old_config, **kwargs)
        if connection.vendor == "sqlite":
            _remove(Path(str(connection.settings_dict["TEST"]["NAME"])))

    def build_suite(self, *args: Any, **kwargs: Any) -> unittest.TestSuite:
        suite = super().build_suite(*args, **kwargs)
        if isinstance(suite, ParallelTestSuite):
            suite.subsuites = _longest_first(list(iter_test_cases(suite)))
        return suite

    def get_resultclass(self) -> Any:
        return super().get_resultclass() or _Result

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        failed = super().suite_result(suite, result, **kwargs)
        skipped = len(result.skipped)
        passed = result.testsRun - failed - skipped
        _note(getattr(result, "seconds", {}))
        # Named once more at the end, where whoever sees the last lines alone finds them.
        for test, trace in [*result.errors, *result.failures]:
            lines = trace.strip().splitlines()
            # What follows the error's own line is a difference, or more.
            error = next((line for line in reversed(lines) if ERROR.match(line)), lines[-1])
            print(f"failed: {test.id()}: {error[:300]}")
        print(f"{passed} passed, {failed} failed, {skipped} skipped", flush=True)
        return failed


def empty_database() -> Path:
    """Where the empty database is kept that these migrations make."""
    total = hashlib.sha256((ROOT / "requirements.txt").read_bytes())
    for file in sorted((ROOT / "sulvet").glob("*/migrations/*.py")):
        total.update(file.read_bytes())
    return ROOT / ".cache" / "test-databases" / f"{total.hexdigest()[:20]}.sqlite3"


def _remove(database: Path) -> None:
    """A database of tests, with those of the other processes and their logs."""
    for file in database.parent.glob(f"{database.stem}*{database.suffix}*"):
        file.unlink()


def _longest_first(tests: list[unittest.TestCase]) -> list[unittest.TestSuite]:
    """Handed out whole classes at a time, tests before a browser one by one: what takes long is
    begun first, so that all processes end together."""
    took = _took()

    def guess(test: unittest.TestCase) -> float:
        known = GUESS_BROWSER if isinstance(test, LiveServerTestCase) else GUESS
        return took.get(test.id(), known)

    suites: list[list[unittest.TestCase]] = []
    for kind, group in groupby(tests, type):
        own = list(group)
        alone = issubclass(kind, LiveServerTestCase)
        suites += [[test] for test in own] if alone else [own]
    suites.sort(key=lambda own: -sum(map(guess, own)))
    return [unittest.TestSuite(own) for own in suites]


def _took() -> dict[str, float]:
    try:
        known: dict[str, float] = json.loads(SECONDS.read_text("utf-8"))
    except (OSError, ValueError):
        return {}
    return known


def _note(seconds: dict[str, float]) -> None:
    """Keep how long each test took, and print what is worth knowing of it."""
    SECONDS.parent.mkdir(exist_ok=True)
    half = SECONDS.with_suffix(".part")
    half.write_text(json.dumps(_took() | seconds, indent=0), "utf-8")
    half.replace(SECONDS)
    if len(seconds) < SLOWEST:
        return
    print(f"the slowest {SLOWEST} of {len(seconds)} tests, s:")
    for name, took in sorted(seconds.items(), key=lambda one: -one[1])[:SLOWEST]:
        print(f"{took:7.1f}  {name.removeprefix('tests.')}")
    parts = seconds_by_part(seconds)
    print("seconds of tests: " + ", ".join(f"{name} {took:.0f}" for name, took in parts.items()))
