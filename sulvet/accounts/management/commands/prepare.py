"""Bring a data folder up to date before it is served."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from sulvet.core import clock

#: Copies of a database as it was before it was changed; older ones go.
KEPT = 3
NEWER = (
    "The data in {folder} were last used by a newer Sulvet (it knows {names}). Start that one, or "
    "bring this one up to date. Nothing was changed."
)
#: Printed where nobody has an account yet: who starts Sulvet shows the code then.
NEW = "new"


class Command(BaseCommand):
    """Refuse a newer database, copy this one before it changes, change it."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Do all that."""
        executor = MigrationExecutor(connection)
        ours = {app.label for app in apps.get_app_configs()}
        unknown = sorted(
            ".".join(key)
            for key in executor.loader.applied_migrations
            if key[0] in ours and key not in executor.loader.disk_migrations
        )
        if unknown:
            names = ", ".join(unknown[:3])
            raise CommandError(NEWER.format(folder=settings.DATA_DIR, names=names))
        pending = executor.migration_plan(executor.loader.graph.leaf_nodes())
        if pending and executor.loader.applied_migrations and connection.vendor == "sqlite":
            copied = copy_database(Path(settings.DATA_DIR) / "copies")
            self.stderr.write(f"A copy of the database as it was is in {copied}")
        call_command("migrate", verbosity=0)
        if not get_user_model().objects.exists():
            self.stdout.write(NEW)


def copy_database(folder: Path) -> Path:
    """A whole copy of the database, whatever else is writing; the newest few are kept."""
    folder.mkdir(parents=True, exist_ok=True)
    to = folder / f"{clock.now():%Y-%m-%d-%H%M%S-%f}.sqlite3"
    half = to.with_suffix(".part")
    with closing(sqlite3.connect(half)) as copy:
        connection.ensure_connection()
        connection.connection.backup(copy)
        (said,) = copy.execute("PRAGMA integrity_check").fetchone()
    if said != "ok":
        half.unlink()
        raise CommandError(f"The database is damaged ({said}). Go back to a backup.")
    half.rename(to)
    for old in sorted(folder.glob("*.sqlite3"))[:-KEPT]:
        old.unlink()
    return to
