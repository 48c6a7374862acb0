"""Server time of the pages a teacher opens most, with 90 students of 40 takes each."""

from __future__ import annotations

import datetime
from statistics import median, quantiles
from time import perf_counter
from typing import Any

from benchmarks import site

STUDENTS, TAKES, TIMES = 90, 40, 40
BASELINE = "one row by its key (baseline)"


def run() -> list[tuple[str, str, str]]:
    """Rows of (what, ratio of the medians to reading one row, 95th percentile)."""
    with site.fresh():
        return _measured()


def _measured() -> list[tuple[str, str, str]]:
    from django.contrib.auth.models import User
    from django.test import Client

    from sulvet.takes.models import Take
    from sulvet.web.memory import settle

    teacher = User.objects.create_user("pages")
    students = fill(teacher)
    client = Client(HTTP_HOST="localhost")
    client.force_login(teacher)
    one = Take.objects.values_list("pk", flat=True)[0]
    times: dict[str, list[float]] = {}

    def timed(what: str, call: Any) -> None:
        at = perf_counter()
        answer = call()
        times.setdefault(what, []).append(perf_counter() - at)
        assert getattr(answer, "status_code", 200) == 200, answer.content[:300]

    for turn in range(TIMES + 3):
        if turn == 3:
            # The first calls load what every later one has at hand, and what filling has left
            # in memory is no server's burden.
            times.clear()
            settle()
        student = students[turn * 7 % len(students)]
        timed(BASELINE, lambda: list(Take.objects.filter(pk=one).values("pk")))
        timed("Band", lambda: client.get("/api/band/"))
        for what, path in (
            ("Student: facts and takes", ""),
            ("Student: plans", "plans/"),
            ("Student: findings over time and notes", "record/"),
            ("Then and now", "then-and-now/"),
            ("Trend of the focus", "trend/focus/"),
        ):
            timed(what, lambda path=path, s=student: client.get(f"/api/students/{s}/{path}"))
        timed("Sectionals", lambda: client.get("/api/sectionals/"))
    base = median(times[BASELINE])
    rows = []
    for what, taken in times.items():
        worst = quantiles(taken, n=20)[-1]
        rows.append((what, f"{median(taken) / base:.0f}",
                     f"{1000 * worst:.0f} ms (median {1000 * median(taken):.0f})"))  # fmt: skip
    return rows


def fill(teacher: Any, students: int = STUDENTS, takes: int = TAKES) -> list[int]:
    """A band of so many students with so many takes each; their numbers.

    All takes are copies of two that were read in demo clips, on one day after the other; each
    student has a running plan.
    """
    import uuid

    from sulvet.band.services import StudentFacts, add_student, band_of
    from sulvet.demo import readings
    from sulvet.demo.scenario import STUDENTS as DEMO
    from sulvet.plans.models import Plan, Recheck
    from sulvet.takes.facts import TakeFacts
    from sulvet.takes.models import Finding, Reading, Take, TakeAnalysis, TakePhase
    from sulvet.takes.uploads import add_read_take

    today = datetime.date.today()
    since = today - datetime.timedelta(days=400)
    band = band_of(teacher)
    first = add_student(band, StudentFacts("Student 0", "horn", consent_on=since))
    originals, tables = [], (Reading, Finding, TakePhase, TakeAnalysis)
    for name in ("edda-front-12", "edda-front-1"):
        demo = next(t for s in DEMO for t in s.takes if t.name == name)
        facts = TakeFacts("front", "check", today)
        take = add_read_take(first, demo.clip, facts, readings.load(demo.reading))
        originals.append((take.pk, [(m, list(m.objects.filter(take=take))) for m in tables]))
    others = [
        add_student(band, StudentFacts(f"Student {n}", "horn", consent_on=since))
        for n in range(1, students)
    ]
    for student in (first, *others):
        copies, below = [], []
        for n in range(takes):
            key, rows = originals[n % 2]
            copy = Take.objects.get(pk=key)
            copy.pk, copy.folder, copy.student = None, uuid.uuid4(), student
            copy.filmed_on = today - datetime.timedelta(days=8 * (takes - n))
            copies.append(copy)
            below.append(rows)
        Take.objects.bulk_create(copies)
        made: dict[Any, list[Any]] = {}
        for copy, rows in zip(copies, below, strict=True):
            for model, some in rows:
                for row in some:
                    fields = {f.attname: getattr(row, f.attname) for f in model._meta.fields}
                    fields |= {"id": None, "take_id": copy.pk}
                    made.setdefault(model, []).append(model(**fields))
        for model, all_rows in made.items():
            model.objects.bulk_create(all_rows, batch_size=2000)
        plan = Plan.objects.create(
            student=student, take=copies[-2], fault="rim-low", view="front", stage="instrument",
            drills=["placing"], minutes=8, started_on=copies[-2].filmed_on,
        )  # fmt: skip
        Recheck.objects.bulk_create(
            Recheck(plan=plan, day=day, due_on=plan.started_on + datetime.timedelta(days=day))
            for day in (7, 14)
        )
    return [student.pk for student in (first, *others)]


if __name__ == "__main__":
    for row in run():
        print(*row, sep="   ")
