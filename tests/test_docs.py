"""What the handbook names is there."""

from __future__ import annotations

import re

from django.conf import settings
from django.test import SimpleTestCase

#: A file by a part of its path, as documents write it; a name alone may be one of an export.
FILE = re.compile(r"`((?:[\w.-]+/)+[\w-]+\.(?:toml|yaml|json|py|tsx?|scss|sh))`")
SOURCES = ("sulvet", "frontend/src", "tests", "benchmarks", "launcher", "training", "translation")


class DocumentTests(SimpleTestCase):
    def test_every_file_that_is_named_exists(self) -> None:
        root = settings.ROOT
        there = [f"/{path.relative_to(root)}" for folder in SOURCES
                 for path in (root / folder).rglob("*.*")]  # fmt: skip
        named = {(page.name, name) for page in [*root.glob("*.md"), *(root / "docs").glob("*.md")]
                 for name in FILE.findall(page.read_text("utf-8"))}  # fmt: skip
        self.assertGreater(len(named), 20)
        for page, name in sorted(named):
            found = any(path.endswith(f"/{name}") for path in there)
            self.assertTrue(found, f"{page} names {name}")
