"""Every page of a band opened once: what came in from elsewhere must not break one later."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from django.contrib.auth.models import User

from sulvet.accounts import local_time
from sulvet.accounts.shapes import DataRenderer
from sulvet.band.selectors import students_of
from sulvet.closeups import selectors as closeups
from sulvet.closeups.serializers import CloseUpRowSerializer, CloseUpSerializer
from sulvet.core.judgement.reeds import FAMILIES
from sulvet.hand.selectors import exercise
from sulvet.plans import pages as plan_pages
from sulvet.plans import selectors as plans
from sulvet.records import selectors as records
from sulvet.records.compare import takes_to_compare
from sulvet.reeds.selectors import band_boxes
from sulvet.standards.selectors import standard_of
from sulvet.takes import analysis
from sulvet.takes.pages.band import band_page, student_page
from sulvet.takes.pages.bench import bench_page
from sulvet.takes.pages.sound import sound_page
from sulvet.takes.selectors import bench_take_of, takes_of


def look_through(teacher: User) -> None:
    """Open all pages, as they would be answered; raises whatever one of them raises."""
    renderer = DataRenderer()
    for page in _pages(teacher):
        renderer.render(page)


def _pages(teacher: User) -> Iterator[Any]:
    yield band_page(teacher, plans.rechecks_due(teacher))
    yield plans.school_days_page(teacher)
    yield band_boxes(teacher, local_time.today())
    yield exercise(teacher)
    for student in students_of(teacher):
        standard_of(teacher, student.instrument)
        yield student_page(student)
        yield plan_pages.student_plans(teacher, student)
        yield records.record(student)
        list(takes_to_compare(student))
        yield CloseUpRowSerializer(closeups.rows(student), many=True).data
        for row in student.close_ups.all() if student.family in FAMILIES else ():
            yield CloseUpSerializer(closeups.page(row)).data
    for number in takes_of(teacher).values_list("pk", flat=True):
        take = bench_take_of(teacher, number)
        yield bench_page(take)
        yield (analysis.drawing_of(take), analysis.stills_of(take), analysis.coverage_of(take))
        yield sound_page(take)
    yield list(records.finding_rows(teacher))
