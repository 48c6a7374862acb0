"""A student's plans as they are shown; reads only."""

from __future__ import annotations

import datetime
from typing import Any

from django.contrib.auth.models import User

from sulvet.accounts import local_time
from sulvet.band.models import Student
from sulvet.core.exercises.drill import beats_of
from sulvet.core.judgement.drill_schema import Counting, Drill
from sulvet.core.judgement.plan import Calendar, strip
from sulvet.plans.heard import rechecked
from sulvet.plans.models import Plan, Practice, Recheck
from sulvet.plans.selectors import (
    calendar_of,
    drills_of,
    fault_of,
    matching,
    plans_of,
    said_stages,
    takes_for,
)
from sulvet.takes.models import Take


def _counting(counting: Counting) -> dict[str, Any]:
    """All beats in a row."""
    beats = [beat.model_dump() for beat in beats_of(counting)]
    return {"tempo": counting.tempo, "beats": beats}


def drill_row(drill: Drill) -> dict[str, Any]:
    """A drill as it is shown."""
    return {
        "id": drill.id,
        "name": drill.name,
        "steps": drill.steps,
        "counts": drill.counts,
        "minutes": drill.minutes,
        "pass_mark": drill.pass_mark,
        "caution": drill.caution,
        "counting": None if drill.counting is None else _counting(drill.counting),
    }


def _recheck(recheck: Recheck, plan: Plan, take: Take | None) -> dict[str, Any]:
    open_ = not recheck.answer and plan.state == Plan.State.RUNNING
    # Of what is answered nothing is worked out again.
    told = rechecked(plan, recheck, take) if open_ and take is not None else None
    suggestion = None
    if told is not None and take is not None and take.state == Take.State.READY:
        suggestion = {"answer": told.outcome.answer, "why": told.outcome.why}
    return {
        "id": recheck.pk,
        "day": recheck.day,
        "due_on": recheck.due_on,
        "take": take.pk if take else None,
        "read": take is not None and take.read_at is not None,
        "says": suggestion,
        "heard": told.heard if told is not None else "",
        "answer": recheck.answer,
        "due": open_ and take is None and recheck.due_on <= local_time.today(),
    }


def ticked(plan: Plan) -> dict[datetime.date, set[str]]:
    """Day of the strip → who says that it was practised."""
    days: dict[datetime.date, set[str]] = {}
    for practice in plan.practised.all():
        days.setdefault(practice.date, set()).add(practice.by)
    return days


def plan_row(plan: Plan, calendar: Calendar, takes: list[Take]) -> dict[str, Any]:
    """One plan with its strip and rechecks; ``takes`` are the student's, oldest first."""
    fault, answers = fault_of(plan), matching(plan, takes, said_stages([plan]))
    ticks = ticked(plan)
    today = local_time.today()
    return {
        "id": plan.pk,
        "fault": plan.fault,
        "name": fault.name,
        "child": fault.child,
        "stage": plan.stage,
        "state": plan.state,
        "started_on": plan.started_on,
        "take": plan.take_id,
        "minutes": plan.minutes,
        "drills": [drill_row(drill) for drill in drills_of(plan)],
        "days": [
            {"number": d.number, "date": d.date, "off": d.off,
             "done": Practice.By.TEACHER in ticks.get(d.date, ()),
             "student": Practice.By.STUDENT in ticks.get(d.date, ()),
             "today": d.date == today, "ahead": d.date > today}
            for d in strip(plan.started_on, calendar)
        ],
        "rechecks": [_recheck(r, plan, answers.get(r.pk)) for r in plan.rechecks.all()],
    }  # fmt: skip


def student_plans(teacher: User, student: Student) -> dict[str, Any]:
    """The running plan of a student, and those before it."""
    calendar = calendar_of(teacher)
    plans = list(plans_of(teacher).filter(student=student))
    takes = takes_for(plans, "findings", "decisions", "readings")
    rows = [plan_row(plan, calendar, takes) for plan in plans]
    running = next((row for row in rows if row["state"] == Plan.State.RUNNING), None)
    return {"running": running, "before": [row for row in rows if row is not running]}
