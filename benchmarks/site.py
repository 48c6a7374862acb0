"""A Sulvet of its own in a folder that is thrown away."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager

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
