"""What the student's page shows; reads only."""

from __future__ import annotations

import base64

from django.utils import timezone

from sulvet.accounts import local_time
from sulvet.band.consent import closed
from sulvet.band.models import Student
from sulvet.booth.models import CaptureLink
from sulvet.core.drawing.outline import outline
from sulvet.core.drawing.sheet import Shape
from sulvet.core.drawing.stills import Still, brought_shape
from sulvet.core.formats.slip_content import STOP
from sulvet.core.judgement.intended_note import STAGES
from sulvet.core.judgement.plan import strip
from sulvet.core.judgement.reeds import FAMILIES
from sulvet.core.language import said
from sulvet.core.video.clip import ClipError
from sulvet.lessons.models import GivenDrill
from sulvet.plans.lessons.pages import drill_card, given_row, target_rows
from sulvet.plans.models import Plan, Practice
from sulvet.plans.pages import ticked
from sulvet.plans.selectors import calendar_of, drills_of, fault_of, stage_of
from sulvet.practice_page.shapes import (
    PageDay,
    PageExercise,
    PageReed,
    PageWord,
    PracticePage,
    ThenNow,
)
from sulvet.records import compare
from sulvet.records.pictures import picture
from sulvet.records.progress import progress
from sulvet.records.selectors import running_plan
from sulvet.reeds import selectors as reeds
from sulvet.takes.analysis import standard_for_student
from sulvet.takes.models import Take

#: So many of the student's own words are shown, the newest; and so many exercises that are over.
WORDS, EARLIER = 5, 2
#: Width of a picture on a phone, px.
PICTURE = 480


def practice_page(link: CaptureLink) -> PracticePage:
    """All of it, for one link."""
    student = link.student
    standard = standard_for_student(student)
    plan = running_plan(student)
    drills, days, film_on, focus = [], [], None, ""
    stages = tuple(STAGES)
    if plan is not None:
        focus, stages = fault_of(plan).child, (plan.stage,)
        drills = [drill_card(drill, stage_of(plan)) for drill in drills_of(plan)]
        days = _days(plan)
        film_on = min((r.due_on for r in plan.rechecks.all() if not r.answer), default=None)
    return PracticePage(
        name=student.name.split()[0],
        instrument=standard.name,
        focus=focus,
        drills=drills,
        targets=target_rows(standard, *stages),
        days=days,
        film_on=film_on,
        exercises=_exercises(student),
        reeds=_reeds(student),
        said=[
            PageWord(timezone.localtime(note.written_on).date(), note.text)
            for note in student.teacher_notes.filter(by_student=True).order_by("-pk")[:WORDS]
        ],
        caution=said(STOP),
    )  # fmt: skip


def _days(plan: Plan) -> list[PageDay]:
    ticks = ticked(plan)
    return [
        PageDay(
            day.number, day.date, day.off, Practice.By.STUDENT in ticks.get(day.date, ()),
            Practice.By.TEACHER in ticks.get(day.date, ()),
        )
        for day in strip(plan.started_on, calendar_of(plan.student.section.band.teacher))
    ]  # fmt: skip


def _exercises(student: Student) -> list[PageExercise]:
    """Those that run, and the last that are over: they may be done again."""
    rows = [given_row(one) for one in GivenDrill.objects.filter(student=student)[:20]]
    over = [row for row in rows if not row.running][:EARLIER]
    return [
        PageExercise(
            row.id, row.name, row.about, row.until, row.running, row.done_at_home, row.drills
        )
        for row in [*(row for row in rows if row.running), *over]
    ]


def _reeds(student: Student) -> list[PageReed]:
    if student.family not in FAMILIES:
        return []
    by = reeds.habits_of(student.section.band.teacher)
    box = reeds.box(student, by, local_time.today())
    return [
        PageReed(one["id"], one["slot"], one["strength"], one["last_on"], one["turn"] == 1)
        for one in box["reeds"]
    ]


def then_now(link: CaptureLink) -> ThenNow | None:
    """The newest take that the teacher has reviewed over the one before it; None without both.

    By itself: a tick must not wait for two pictures.
    """
    student = link.student
    plan, standard = running_plan(student), standard_for_student(student)
    if plan is None or closed(student):
        return None
    reviewed = Take.objects.filter(
        student=student, state=Take.State.READY, view=plan.view, read_at__isnull=False
    )
    newest = reviewed.first()
    if newest is None:
        return None
    now = compare.whole(student, newest.pk)
    told = progress(student, plan, now, plan.fault, standard, face=False)
    pair = told.pair
    if told.then is None or pair is None:
        return None
    sides = list(zip((pair.then, pair.now), pair.frames, strict=True))
    then_shape, now_shape = (_shape(side, frame) for side, frame in sides)
    return ThenNow(
        then_on=told.then.filmed_on,
        now_on=now.filmed_on,
        drawing=outline(pair.now.drawing, (then_shape, now_shape)),
        then=then_shape,
        now=now_shape,
        words=told.words,
        pictures=_pictures(pair, sides) if link.pictures else [],
    )


def _shape(side: compare.Side, frame: Still) -> Shape:
    return brought_shape(Shape(frame.points, frame.covered), side.onto)


def _pictures(pair: compare.Pair, sides: list[tuple[compare.Side, Still]]) -> list[str]:
    """Both mouths; neither where one can't be read."""
    try:
        jpegs = [picture(pair, side, frame, PICTURE) for side, frame in sides]
    except ClipError:
        return []
    return [f"data:image/jpeg;base64,{base64.b64encode(one).decode()}" for one in jpegs]
