"""A district's database on PostgreSQL: 960,000 takes as rows, and what its pages take then.

One teacher's band is filled as a band is; the others are its copies, made by the server itself.
"""

from __future__ import annotations

import os
import random
import subprocess
import sys
import tempfile
from pathlib import Path
from statistics import median, quantiles
from time import perf_counter
from typing import Any

from launcher.postgres import postgres
from launcher.shell import PYTHON, ROOT

SCHOOLS = int(os.environ.get("SULVET_BENCH_SCHOOLS", "40"))
TEACHERS, STUDENTS, TAKES = 20, 60, 20
#: Copies keep the numbers of their original, plus so much a copy.
STEP = 1_000_000
#: So many teachers open their pages.
ASKED = 120
#: What is read only where one take is opened is not copied; it would be 60 GB. What is drawn of
#: the band and of then and now is, of each student's two newest takes.
HEAVY, DRAWN = {"frames": "''"}, {"drawing", "stills"}


def section() -> str:
    """What it took and how the pages answer."""
    with postgres() as server, tempfile.TemporaryDirectory() as folder:
        environment = {**os.environ, "DATABASE_URL": server.address, "SULVET_DATA": folder}
        for words in (["manage.py", "prepare"], ["-m", "benchmarks.rows"]):
            done = subprocess.run(
                [str(PYTHON), *words], cwd=ROOT, env=environment, text=True, check=True,
                stdout=subprocess.PIPE,
            )  # fmt: skip
        size = folder_size(server.run, Path(folder))
    return (
        f"{done.stdout.strip()}\n\nThe database holds {size:.1f} GB then; what is drawn is kept "
        "of each student's two newest takes alone."
    )


def folder_size(run: Any, folder: Path) -> float:
    """Gigabytes of the database."""
    with (folder / "size").open("w+b") as out:
        run("psql", "-At", "-c", "select pg_database_size(current_database())", out=out)
        out.seek(0)
        return int(out.read()) / 1e9


def _filled() -> Any:
    """The one band that the others copy; its teacher."""
    from django.contrib.auth.models import User

    from benchmarks.pages import fill

    teacher = User.objects.create_user("teacher")
    fill(teacher, STUDENTS, TAKES)
    return teacher


def _newest(teacher: Any) -> str:
    """Numbers of each student's two newest takes, for a statement."""
    from sulvet.band.models import Student

    found: list[int] = []
    for student in Student.objects.filter(section__band__teacher=teacher):
        found += student.takes.order_by("-filmed_on", "-pk").values_list("pk", flat=True)[:2]
    return ", ".join(str(pk) for pk in found)


def _copied(teacher: Any) -> None:
    """All other teachers and their bands, in as many statements as there are tables."""
    from django.contrib.auth.models import User
    from django.db import connection, models

    from sulvet.accounts.models import Membership, School
    from sulvet.records.archive_format import TABLES

    copies = SCHOOLS * TEACHERS
    others = [User(pk=teacher.pk + n, username=f"teacher-{n}") for n in range(1, copies)]
    User.objects.bulk_create(others)
    schools = School.objects.bulk_create(School(name=f"School {n}") for n in range(SCHOOLS))
    Membership.objects.bulk_create(
        Membership(account=one, school=schools[n // TEACHERS])
        for n, one in enumerate((teacher, *others))
    )

    newest = _newest(teacher)

    def copy(column: models.Field[Any, Any]) -> str:
        name = connection.ops.quote_name(str(column.column))
        if isinstance(column, models.ForeignKey):
            step = 1 if column.remote_field.model is User else STEP
            return f"t.{name} + k * {step}"
        if column.column in DRAWN:
            return f"CASE WHEN t.take_id IN ({newest}) THEN t.{name} END"
        if column.primary_key:
            return f"t.{name} + k * {STEP}"
        if isinstance(column, models.UUIDField):
            return "gen_random_uuid()"
        return HEAVY.get(str(column.column), f"t.{name}")

    with connection.cursor() as cursor:
        # Rows that are copies of right ones need not be looked at one by one.
        cursor.execute("SET session_replication_role = replica")
        for model, _ in TABLES:
            columns = [c for c in model._meta.concrete_fields if c.column]
            names = ", ".join(connection.ops.quote_name(str(c.column)) for c in columns)
            table = connection.ops.quote_name(model._meta.db_table)
            values = ", ".join(copy(c) for c in columns)
            # Names and numbers of this program's own.
            cursor.execute(
                f"INSERT INTO {table} ({names}) SELECT {values} FROM {table} t, "
                f"generate_series(1, {copies - 1}) k"
            )
        cursor.execute("SET session_replication_role = DEFAULT")
        cursor.execute("VACUUM ANALYZE")


def _asked(teachers: list[Any]) -> dict[str, tuple[list[float], set[int]]]:
    """For each page the seconds it took, and how many queries it asked."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from sulvet.band.models import Student

    found: dict[str, tuple[list[float], set[int]]] = {}
    for teacher in teachers:
        client = Client(HTTP_HOST="localhost")
        client.force_login(teacher)
        mine = Student.objects.filter(section__band__teacher=teacher).order_by("pk")
        student = mine.values_list("pk", flat=True)[STUDENTS // 2]
        for what, path in (
            ("Band with *Next for you*", "/api/band/"),
            ("Student: facts and takes", f"/api/students/{student}/"),
            ("Student: findings over time and notes", f"/api/students/{student}/record/"),
            ("Then and now", f"/api/students/{student}/then-and-now/"),
        ):
            times, queries = found.setdefault(what, ([], set()))
            with CaptureQueriesContext(connection) as asked:
                at = perf_counter()
                answer = client.get(path)
                times.append(perf_counter() - at)
            queries.add(len(asked))
            assert answer.status_code == 200, answer.content[:300]
    return found


def _measured() -> str:
    from django.contrib.auth.models import User

    from sulvet.takes.models import Reading, Take
    from sulvet.web.memory import settle

    teacher = _filled()
    before = _asked([teacher] * 8)
    begun = perf_counter()
    _copied(teacher)
    took = perf_counter() - begun
    settle()
    everybody = list(User.objects.filter(username__startswith="teacher-"))
    after = _asked(random.Random(1).sample(everybody, min(ASKED, len(everybody))))
    rows = []
    for what, (times, queries) in after.items():
        alone, asked = before[what]
        worst = quantiles(times, n=20)[-1]
        # The first answer of all loads what every later one has at hand.
        rows.append(
            f"| {what} | {median(times) / median(alone[1:]):.2f} | {1000 * median(times):.0f} ms | "
            f"{1000 * worst:.0f} ms | {min(asked)} | {_span(queries)} |"
        )
    return "\n".join([
        f"{SCHOOLS} schools × {TEACHERS} teachers × {STUDENTS} students × {TAKES} takes: "
        f"{Take.objects.count():,} takes with {Reading.objects.count():,} readings (copied in "
        f"{took:.0f} s). {ASKED} teachers by lot open their pages, each for the first time; the "
        "ratio is to the same pages of the first band alone in the database.", "",
        "| page | ratio | median | 95th percentile | queries, one band | queries, all |",
        "|---|---|---|---|---|---|", *rows,
    ])  # fmt: skip


def _span(counts: set[int]) -> str:
    return f"{min(counts)}" if len(counts) == 1 else f"{min(counts)} to {max(counts)}"


if __name__ == "__main__":
    import django

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "sulvet.web.settings")
    django.setup()
    sys.stdout.write(_measured())
