"""Pages of lessons: the band by ladder, one student's ladder, all drills and routines."""

from __future__ import annotations

import datetime
from collections import defaultdict
from collections.abc import Iterable

from django.contrib.auth.models import User

from sulvet.accounts import local_time
from sulvet.band.models import Student
from sulvet.band.selectors import shown_students
from sulvet.core.exercises.drill import beats_of
from sulvet.core.judgement.common import common, observations
from sulvet.core.judgement.drill_schema import Drill, Stage
from sulvet.core.judgement.intended_note import STAGES, stage_label
from sulvet.core.judgement.results import IN_BAND
from sulvet.core.judgement.standards import Standard, shipped_standard, shipped_standards
from sulvet.core.judgement.triage import triage
from sulvet.core.language import inside, listed, on_day, said
from sulvet.core.lessons import ladder
from sulvet.core.lessons.schema import Routine, Step
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.sound import notes
from sulvet.lessons import standing
from sulvet.lessons.given import may_rise
from sulvet.lessons.models import GivenDrill, LadderMove
from sulvet.plans.lessons import shapes
from sulvet.takes.models import Reading, TakeSound

#: The measure that tells how long a tone was held.
HELD = "hold_time"
#: What stages are called in a class of several instruments.
MIXED = {"mouthpiece": "mouthpiece, head joint or reed", "instrument": "instrument"}
#: What the levels of a drill are called, easiest first.
LEVELS = ("Beginner", "Intermediate", "Advanced", "Mastery")
PASSES_BY_TICK = "You see and hear it: one tap."


def drill_card(drill: Drill, stage: Stage | None = None, without: str = "") -> shapes.DrillCard:
    """A drill in the words of a stage, the hardest it is done at unless told.

    without  what is left out while it is too much at once: without rhythm nothing is counted,
             without loudness no level changes it
    """
    at = stage if stage in drill.stages else drill.stages[-1]
    told = drill.for_stage(at)
    quiet = drill.loud_levels if without == "loudness" else 0
    counting = None
    if told.counting is not None and without != "rhythm":
        beats = [shapes.BeatRow(beat.do, beat.counts) for beat in beats_of(told.counting)]
        counting = shapes.CountedRow(told.counting.tempo, beats)
    return shapes.DrillCard(
        id=drill.id,
        name=drill.name,
        steps=list(told.steps),
        counts=drill.counts,
        minutes=drill.minutes,
        pass_mark=told.pass_mark,
        caution=drill.caution,
        stage=at,
        stages=list(drill.stages),
        families=list(drill.families),
        levels=list(drill.levels[: len(drill.levels) - quiet]),
        breathing=drill.breathing,
        counting=counting,
    )


def target_rows(standard: Standard, *stages: str) -> list[shapes.TargetNote]:
    """The notes to aim at on some stages."""
    return [
        shapes.TargetNote(
            t.stage, stage_label(standard, t.stage), t.pitch, round(notes.hz_of(t.pitch), 2),
            t.words,
        )
        for t in standard.targets
        if t.stage in stages
    ]  # fmt: skip


def _evidence(students: list[Student]) -> dict[int, list[Reading]]:
    """Student → readings that may pass a step, of the newest takes first."""
    steps = {standing.step_at(student) for student in students}
    wanted = {m for step in steps if step for m in step.passes.measures} | {HELD}
    found: dict[int, list[Reading]] = defaultdict(list)
    rows = (
        Reading.objects.filter(take__student__in=students, measure__in=wanted, value__isnull=False)
        .select_related("take")
        .only("measure", "verdict", "value", "take__student", "take__filmed_on")
    )
    for row in rows.order_by("-take__filmed_on", "-take_id"):
        found[row.take.student_id].append(row)
    return found


def _ready(
    step: Step, since: datetime.date | None, readings: list[Reading], stages: dict[int, str]
) -> tuple[str, int | None]:
    """What speaks for passing a step, and the take that shows it.

    since   takes filmed before the student came to the step do not count
    stages  take → what its tone was played on
    """
    takes: dict[int, list[Reading]] = defaultdict(list)
    for reading in readings:
        if since is None or reading.take.filmed_on >= since:
            takes[reading.take_id].append(reading)
    for take, rows in takes.items():
        day = rows[0].take.filmed_on
        if step.passes.by == "pitch":
            longest = max((r.value or 0.0 for r in rows if r.measure == HELD), default=0.0)
            long_enough = ladder.is_long_enough(step, longest)
            if long_enough and stages.get(take) == step.passes.stage:
                return said("Held {seconds:.1f} s on {day}", seconds=longest, day=on_day(day)), take
        elif step.passes.by == "reading":
            right = {r.measure for r in rows if r.verdict == IN_BAND}
            if set(step.passes.measures) <= right:
                return said("Within standard on {day}", day=on_day(day)), take
    return "", None


def _row(
    student: Student, today: datetime.date, readings: list[Reading], stages: dict[int, str]
) -> shapes.BoardRow:
    kept, step = standing.standing_of(student), standing.step_at(student)
    since = kept.since if kept.pk else None
    ready, take = _ready(step, since, readings, stages) if step else ("", None)
    labels = {one.id: one.label for one in observations().observations}
    return shapes.BoardRow(
        student=student.pk,
        name=student.name,
        section=student.section.called,
        instrument=shipped_standard(student.instrument).name,
        step=step.id if step else "",
        days=None if since is None else (today - since).days,
        heard=labels.get(kept.heard, ""),
        ready=ready,
        take=take,
        asks=[
            shapes.Symptom(one, labels[one])
            for one in (standing.heard_on(step, student.family) if step else [])
        ],
    )


def _rows(students: list[Student]) -> list[shapes.BoardRow]:
    readings, today = _evidence(students), local_time.today()
    stages = dict(
        TakeSound.objects.filter(take__student__in=students).values_list("take_id", "heard__stage")
    )
    return [_row(one, today, readings.get(one.pk, []), stages) for one in students]


def board(teacher: User) -> shapes.Board:
    """The band by ladder, in a few queries whatever its size."""
    students = list(shown_students(teacher).select_related("standing"))
    names = {step.id: step.name for step in ladder.rows()}
    rows = sorted(_rows(students), key=lambda row: (-(row.days or 0), row.name))
    return shapes.Board([shapes.BoardStep(one, names[one]) for one in ladder.step_ids()], rows)


def _passes(step: Step, standard: Standard) -> str:
    """What passes a step, as a sentence."""
    passes = step.passes
    if passes.by == "reading":
        names = listed([inside(catalogue().measure(m).name) for m in passes.measures])
        return said(
            "On a take {names} lie within the standard; or you see it: one tap.", names=names
        )
    if passes.by == "pitch":
        on = stage_label(standard, passes.stage)
        if passes.counts:
            return said(
                "On a take a tone of {counts} counts at {tempo:g} with {on}; or you hear it: one "
                "tap.",
                counts=passes.counts,
                tempo=ladder.tempo_of(step),
                on=on,
            )
        return said(
            "On a take a tone of {seconds:g} s with {on}; or you hear it: one tap.",
            seconds=passes.seconds,
            on=on,
        )
    return said(PASSES_BY_TICK)


def ladder_page(student: Student) -> shapes.LadderPage:
    """One student's ladder with its cards."""
    standard, kept = shipped_standard(student.instrument), standing.standing_of(student)
    (row,) = _rows([student])
    passed: dict[str, datetime.date] = {}
    for one in student.ladder_moves.filter(what=LadderMove.What.PASSED):
        passed.setdefault(one.step, one.on)
    order = ladder.step_ids()
    at = order.index(row.step) if row.step else len(order)
    states: tuple[shapes.StepState, ...] = ("passed", "now", "ahead")
    steps = []
    for step in standing.steps_for(student):
        place = order.index(step.id)
        stages = (step.stage,) if step.stage != "mouthpiece" else ("mouthpiece", "neck")
        steps.append(
            shapes.StepCard(
                id=step.id,
                name=step.name,
                state=states[(place > at) - (place < at) + 1],
                passed_on=passed.get(step.id) if place < at else None,
                do=step.do,
                say=step.say,
                look=step.look,
                caution=step.caution,
                mistake=step.mistake,
                remedy=step.remedy,
                passes=_passes(step, standard),
                drill=drill_card(common().drill(step.drill), step.stage, kept.without),
                targets=target_rows(standard, *stages),
            )
        )
    heard = {kept.heard} if kept.heard else set()
    return shapes.LadderPage(
        row=row,
        without=kept.without,
        steps=steps,
        set_up=[
            shapes.SetUpRow(line.id, line.words, line.id in kept.set_up)
            for line in ladder.set_up_card(standard)
        ],
        remedies=[
            shapes.Remedy(
                one.cause.look,
                one.cause.help,
                one.cause.equipment,
                drill_card(common().drill(one.cause.drill), "mouthpiece"),
            )
            for one in triage(heard, student.family, set())
        ],
        given=[given_row(one) for one in student.given_drills.all()[:20]],
    )


def given_row(one: GivenDrill) -> shapes.GivenRow:
    """An exercise as it is shown."""
    if one.routine:
        kind = ladder.routine(one.routine)
        name, about = kind.name, kind.about
        drills = [drill_card(common().drill(p.drill), p.stage) for p in kind.parts]
    else:
        drill = common().drill(one.drill)
        drills = [drill_card(drill, one.stage)]  # type: ignore[arg-type]
        about = f"{said(LEVELS[one.level - 1])}: {drill.levels[one.level - 1]}" if one.level else ""
        standard = shipped_standard(one.student.instrument)
        name = said("{name}, with {on}", name=drill.name, on=stage_label(standard, one.stage))
    told = [name]
    if one.rounds:
        told.append(said("{rounds} times", rounds=one.rounds))
    if one.tempo:
        told.append(said("at {tempo}", tempo=one.tempo))
    return shapes.GivenRow(
        id=one.pk,
        name=", ".join(told),
        about=about,
        given_on=one.given_on,
        until=one.until,
        done=[datetime.date.fromisoformat(day) for day in one.done],
        done_at_home=[datetime.date.fromisoformat(day) for day in one.done_at_home],
        running=one.until >= local_time.today(),
        again=one.again,
        rises=may_rise(one),
        drills=drills,
    )


def _done_on(stage: Stage, standards: list[Standard]) -> str:
    """What a class does a drill on: by its name where all call it the same."""
    if stage == "lips":
        return said("without anything")
    called = {stage_label(standard, stage).removeprefix("the ") for standard in standards}
    return called.pop() if len(called) == 1 else said(MIXED[stage])


def _routine(one: Routine, standards: Iterable[Standard]) -> shapes.RoutineRow:
    meant = [standard for standard in standards if one.suits(standard)]
    every = len(meant) == len(shipped_standards())
    return shapes.RoutineRow(
        id=one.id,
        name=one.name,
        about=one.about,
        tempo=one.tempo,
        instruments=[] if every else [standard.instrument for standard in meant],
        parts=[
            shapes.PartRow(
                drill_card(common().drill(p.drill), p.stage),
                _done_on(p.stage, meant),
                p.echo,
                p.hum,
                p.silent,
            )
            for p in one.parts
        ],
        targets=_class_notes(meant),
    )


def _class_notes(standards: list[Standard]) -> list[shapes.TargetNote]:
    """The notes of several instruments, each note once with all who aim at it."""
    players: dict[tuple[str, str, float, str], list[str]] = {}
    for standard in standards:
        for row in target_rows(standard, *STAGES):
            named = players.setdefault((row.stage, row.pitch, row.hz, row.words), [])
            named.append(standard.name)
    return [
        shapes.TargetNote(stage, ", ".join(names), pitch, hz, words)
        for (stage, pitch, hz, words), names in players.items()
    ]


def library() -> shapes.Library:
    """All drills and routines."""
    standards = shipped_standards().values()
    return shapes.Library(
        [drill_card(drill) for drill in common().drills],
        [_routine(one, standards) for one in ladder.routines()],
    )
