"""Judging 500 stored takes again by a changed band."""

from __future__ import annotations

import datetime
from statistics import median
from time import perf_counter
from typing import Any

from benchmarks import site

TAKES = 500


def run() -> list[tuple[str, str, str]]:
    """Rows of (what, ratio to reading the same rows, seconds)."""
    with site.fresh():
        return _measured()


def _measured() -> list[tuple[str, str, str]]:
    import uuid

    from django.contrib.auth.models import User

    from sulvet.band.services import StudentFacts, add_student, band_of
    from sulvet.calibration.standard_effect import effect, rejudge_all
    from sulvet.demo import readings
    from sulvet.demo.scenario import STUDENTS
    from sulvet.standards.services import Figures, wanted
    from sulvet.takes.facts import TakeFacts
    from sulvet.takes.models import Finding, Reading, Take, TakePhase
    from sulvet.takes.uploads import add_read_take

    teacher, _ = User.objects.get_or_create(username="rejudge")
    day = datetime.date(2026, 11, 1)
    student = add_student(band_of(teacher), StudentFacts("Bench", "horn", consent_on=day))
    demo = next(t for s in STUDENTS for t in s.takes if t.name == "edda-front-12")
    first = add_read_take(
        student, demo.clip, TakeFacts("front", "check", day), readings.load(demo.reading)
    )
    rows: list[tuple[Any, list[Any]]] = [
        (model, list(model.objects.filter(take=first))) for model in (Reading, Finding, TakePhase)
    ]
    for _ in range(TAKES - 1):
        copy = Take.objects.get(pk=first.pk)
        copy.pk, copy.folder = None, uuid.uuid4()
        copy.save()
        for model, some in rows:
            for row in some:
                row.pk, row.take = None, copy
            model.objects.bulk_create(some)
    band = {"low": 0.3, "high": 0.55, "watch_low": 0.04, "watch_high": 0.04}
    keys: Figures = {"rim_upper_share|front|hold|two-thirds": dict(band)}
    changed, _ = wanted(teacher, "horn", keys)
    shipped, _ = wanted(teacher, "horn", {})
    times: dict[str, list[float]] = {"bare": [], "effect": [], "write": []}
    for old, new in ((shipped, changed), (changed, shipped), (shipped, changed)):
        at = perf_counter()
        list(Reading.objects.all()), list(Finding.objects.all())
        times["bare"].append(perf_counter() - at)
        at = perf_counter()
        effect(teacher, old, new)
        times["effect"].append(perf_counter() - at)
        at = perf_counter()
        told = rejudge_all(teacher, old, new)
        times["write"].append(perf_counter() - at)
        assert told.takes == TAKES, told
    bare = median(times["bare"])
    return [
        (what, f"{median(times[name]) / bare:.2f}", f"{median(times[name]):.2f} s")
        for what, name in (
            (f"reading the readings and findings of {TAKES} takes (baseline)", "bare"),
            ("what a changed band would do to them, counted", "effect"),
            ("the same, and every changed row written", "write"),
        )
    ]


if __name__ == "__main__":
    for row in run():
        print(*row, sep="   ")
