"""What stands on a student's slip; reads only."""

from __future__ import annotations

import datetime

from django.contrib.auth.models import User

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.consent import closed
from sulvet.band.models import Student
from sulvet.booth import links
from sulvet.core.drawing.sheet import Drawing
from sulvet.core.formats.slip_content import Picture, Slip, Steps, StripDay
from sulvet.core.judgement import plan as core
from sulvet.core.judgement.common import observations, worded
from sulvet.core.judgement.drill_schema import Drill
from sulvet.core.judgement.focus import CAUTION, SET_UP
from sulvet.core.judgement.intended_note import stage_label
from sulvet.core.judgement.results import FAULT, WATCH
from sulvet.core.judgement.schema import Fault
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import figures, inside, on_day, said
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.measures.units import sign_of
from sulvet.core.video.clip import ClipError
from sulvet.plans.models import Plan
from sulvet.plans.selectors import calendar_of, drills_of, minutes_of
from sulvet.records import compare
from sulvet.records.pictures import picture
from sulvet.records.progress import progress
from sulvet.records.selectors import running_plan
from sulvet.takes.analysis import coverage_of, drawing_of, standard_for_student
from sulvet.takes.focus import fault_on, findings_on, focus_of
from sulvet.takes.models import Take

NO_FOCUS = (
    "This take has no focus, so there is nothing to put on a slip. Confirm a finding, or add one "
    "of your own."
)


def slip_of(teacher: User, take: Take, face: bool = False, site: str = "") -> Slip:
    """The page for one take: its student's plan if one runs, else what a plan would be.

    face  the whole face on the pictures, not the mouth alone
    site  where phones reach Sulvet, for the student's link; empty where they don't

    Refused when nothing is worked on, or when the student should not play at all.
    """
    student, plan = take.student, running_plan(take.student)
    focus = focus_of(take)
    if focus.reason in (CAUTION, SET_UP):
        raise Refused(focus.why)
    fault_id = compare.focus_for(student, plan, take)
    if not fault_id:
        raise Refused(NO_FOCUS)
    standard = standard_for_student(student)
    shown = next((f for f in findings_on(take).findings if f.fault == fault_id), None)
    fault = (
        fault_on(shown)
        if shown
        else worded(fault_id, student.family, plan.began_at if plan else None)
    )
    school = standard.school(student.school or None)
    told = progress(student, plan, take, fault_id, standard, face)
    pair, then, figures = told.pair, told.then, told.figures
    pictures = []
    if pair is not None and not closed(student):
        wanted = [
            (pair.then, pair.frames[0], said("Then")),
            (pair.now, pair.frames[1], said("Now")),
        ]
        for side, frame, word in wanted if then is not None else wanted[1:]:
            try:
                jpeg = picture(pair, side, frame, compare.PAPER)
            except ClipError:
                # A slip without its picture is better than none.
                continue
            day = side.take.filmed_on
            pictures.append(Picture(jpeg, f"{word}: {on_day(day)}"))
    tone = None if then is None else compare.same_tone_of(then, take)
    if tone is not None:
        heard = said("The tone {note}: {words}", note=tone.now.note, words=" ".join(tone.sentences))
        figures = f"{figures} {heard}".strip()
    covered = coverage_of(take)
    if covered is not None and covered.unchecked:
        areas = ", ".join(inside(said(one.area)) for one in covered.unchecked)
        left = said("Not checked in this clip: {areas}.", areas=areas)
        figures = f"{figures} {left}".strip()
    drawing = drawing_of(take)
    days, rechecks, drills = _weeks(teacher, plan, fault)
    return Slip(
        student=student.name,
        about=f"{standard.name}, {inside(school.name)}" if len(standard.schools) > 1
        else standard.name,
        made_on=local_time.today(),
        focus=fault.name,
        child=fault.child,
        pictures=tuple(pictures),
        drawing=drawing,
        values={} if drawing is None else _told(take, drawing, told.measures, told.phase),
        change=told.words,
        figures=figures,
        drills=tuple(
            _steps(drill, standard, plan.stage if plan else "instrument") for drill in drills
        ),
        days=days,
        rechecks=rechecks,
        cautions=tuple(dict.fromkeys(
            [drill.caution for drill in drills if drill.caution]
            + [o.caution for o in observations().observations
               if o.caution and o.id in take.observations]
        )),
        address=_address(student, site),
    )  # fmt: skip


def _address(student: Student, site: str) -> str:
    link = links.to_print(student) if site else None
    return "" if link is None else f"{site}{links.path_of(link)}"


def _told(take: Take, drawing: Drawing, measures: tuple[str, ...], phase: str) -> dict[str, str]:
    """The values of the focus's dimensions, as they are written into the drawing."""
    readings = compare.readings_of(take, phase)
    texts = {}
    for dimension in drawing.dimensions:
        reading = readings.get(dimension.measure)
        if reading is None or reading.value is None:
            continue
        # The first is what the focus rests on; of the others what is out of band.
        first = measures[:1] and measures[0] in (dimension.measure, dimension.band)
        out = dimension.measure in measures and reading.verdict in (FAULT, WATCH)
        if first or out:
            decimals = catalogue().measure(dimension.measure).decimals
            figure = figures(f"{reading.value:.{decimals}f}").replace("-", "−")
            texts[dimension.measure] = figure + sign_of(reading.unit)
    return texts


def _weeks(
    teacher: User, plan: Plan | None, fault: Fault
) -> tuple[tuple[StripDay, ...], tuple[datetime.date, ...], tuple[Drill, ...]]:
    """The strip, the days of filming again, and the drills."""
    calendar = calendar_of(teacher)
    if plan is None:
        start, done = local_time.today(), set[datetime.date]()
        try:
            due = tuple(core.rechecks(start, calendar).values())
        except ValueError as error:
            raise Refused(str(error)) from error
        drills = core.drills_for(fault, "instrument", minutes_of(teacher))
    else:
        start, done = plan.started_on, {p.date for p in plan.practised.all()}
        due = tuple(r.due_on for r in plan.rechecks.all() if not r.answer)
        drills = tuple(drills_of(plan))
    days = tuple(
        StripDay(d.number, d.date, d.off, d.date in done, d.date in due)
        for d in core.strip(start, calendar)
    )
    return days, due, drills


def _steps(drill: Drill, standard: Standard, stage: str) -> Steps:
    at = stage if stage in drill.stages else drill.stages[-1]
    how = [said("With {on}", on=stage_label(standard, at)), drill.counts]
    if drill.counting is not None:
        how.append(said("{tempo} beats per minute", tempo=drill.counting.tempo))
    return Steps(drill.name, drill.minutes, "; ".join(how), drill.steps, drill.pass_mark)


def class_set(
    teacher: User, students: list[Student], face: bool = False, site: str = ""
) -> list[Slip]:
    """A slip for each student who has one thing to work on, in the order given.

    Refused when that is nobody.
    """
    newest: dict[int, Take] = {}
    takes = (
        Take.objects.filter(student__in=students, state=Take.State.READY)
        .select_related("student__section__band__teacher", "analysis")
        .prefetch_related("findings", "decisions", "readings", "student__reeds")
    )
    for take in takes:
        newest.setdefault(take.student_id, take)
    slips = []
    for student in students:
        if student.pk not in newest:
            continue
        try:
            slips.append(slip_of(teacher, _of_plan(student, newest[student.pk]), face, site))
        except Refused:
            continue
    if not slips:
        raise Refused("None of these students has a focus. Review their takes first.")
    return slips


def _of_plan(student: Student, newest: Take) -> Take:
    """The newest take from the side of the running plan, else the newest of all."""
    plan = running_plan(student)
    if plan is None or plan.view == newest.view:
        return newest
    same = Take.objects.filter(student=student, state=Take.State.READY, view=plan.view)
    ready = same.select_related("student__section__band__teacher", "analysis")
    return (
        ready.prefetch_related("findings", "decisions", "readings", "student__reeds").first()
        or newest
    )
