"""Django's runner, with one closing line that any machine can read."""

from __future__ import annotations

import logging
from pathlib import Path
from typing import Any
from unittest import TestSuite, TextTestResult

from django.db import connection
from django.test.runner import DiscoverRunner


class CountingRunner(DiscoverRunner):
    """Prints how many tests passed, failed and were skipped."""

    def setup_test_environment(self, **kwargs: Any) -> None:
        super().setup_test_environment(**kwargs)
        # Refusals are what many tests ask for; their log lines hide what matters.
        for name in ("django.request", "django.security", "axes"):
            logging.getLogger(name).setLevel(logging.CRITICAL)

    def setup_databases(self, **kwargs: Any) -> Any:
        if connection.vendor != "sqlite":
            return super().setup_databases(**kwargs)
        # A log that a run left which was cut off is not for the new database of that name.
        name = Path(str(connection.settings_dict["TEST"]["NAME"]))
        for ending in ("wal", "shm"):
            for left in name.parent.glob(f"{name.stem}*-{ending}"):
                left.unlink()
        return super().setup_databases(**kwargs)

    def suite_result(self, suite: TestSuite, result: TextTestResult, **kwargs: Any) -> int:
        failed = super().suite_result(suite, result, **kwargs)
        skipped = len(result.skipped)
        passed = result.testsRun - failed - skipped
        print(f"{passed} passed, {failed} failed, {skipped} skipped", flush=True)
        return failed
