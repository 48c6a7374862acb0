"""Django's runner, with one closing line that any machine can read."""

from __future__ import annotations

from typing import Any
from unittest import TestSuite, TextTestResult

from django.test.runner import DiscoverRunner


class CountingRunner(DiscoverRunner):
    """Prints how many tests passed, failed and were skipped."""

    def suite_result(self, suite: TestSuite, result: TextTestResult, **kwargs: Any) -> int:
        failed = super().suite_result(suite, result, **kwargs)
        skipped = len(result.skipped)
        passed = result.testsRun - failed - skipped
        print(f"{passed} passed, {failed} failed, {skipped} skipped", flush=True)
        return failed
