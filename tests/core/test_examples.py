"""The examples in the docstrings of the core run."""

from __future__ import annotations

import doctest
import importlib
import pkgutil

from django.test import SimpleTestCase

from sulvet import core


class ExampleTests(SimpleTestCase):
    def test_examples(self) -> None:
        tried = 0
        for found in pkgutil.walk_packages(core.__path__, "sulvet.core."):
            outcome = doctest.testmod(importlib.import_module(found.name))
            self.assertEqual(outcome.failed, 0, found.name)
            tried += outcome.attempted
        self.assertGreater(tried, 10)
