"""Writes to plans: beginning, practising, rechecking, ending."""

from __future__ import annotations

import datetime
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core.judgement import plan as core
from sulvet.core.judgement.common import common
from sulvet.core.judgement.focus import CAUTION, SET_UP
from sulvet.plans import heard, selectors
from sulvet.plans.models import FreeDays, Plan, Practice, Recheck, SchoolDays
from sulvet.plans.verdicts import began_at
from sulvet.takes.focus import focus_of
from sulvet.takes.models import Take

ANSWERED = "This recheck is answered already."


@dataclass(frozen=True)
class PlanFacts:
    """What a teacher says when a plan begins."""

    stage: core.Stage = "lips"
    minutes: int = 8
    started_on: datetime.date | None = None


@transaction.atomic
def start_plan(teacher: User, take: Take, facts: PlanFacts) -> Plan:
    """Two weeks on the focus of a take. A plan that runs is stopped: one thing at a time."""
    focus = focus_of(take)
    if focus.reason in (CAUTION, SET_UP):
        raise Refused(focus.why)
    if focus.fault is None:
        raise Refused("This take has no focus. Confirm a finding, or add one of your own.")
    started = facts.started_on or local_time.today()
    if started < take.filmed_on:
        raise Refused("A plan can't start before its take was filmed.")
    student = take.student
    student.plans.filter(state=Plan.State.RUNNING).update(state=Plan.State.STOPPED)
    return _begin(teacher, student, take, focus.fault, facts.stage, facts.minutes, started)


def _begin(
    teacher: User,
    student: Student,
    take: Take | None,
    fault: str,
    stage: core.Stage,
    minutes: int,
    started: datetime.date,
    view: str = "",
) -> Plan:
    drills = core.drills_for(common().fault(fault, student.family), stage, minutes)
    try:
        due = core.rechecks(started, selectors.calendar_of(teacher))
    except ValueError as error:
        raise Refused(str(error)) from error
    plan = Plan.objects.create(
        student=student,
        take=take,
        fault=fault,
        view=take.view if take else view,
        began_at=began_at(take, fault) if take else {},
        stage=stage,
        drills=[drill.id for drill in drills],
        minutes=minutes,
        started_on=started,
    )
    Recheck.objects.bulk_create(Recheck(plan=plan, day=n, due_on=day) for n, day in due.items())
    student.focus = fault
    student.save(update_fields=["focus"])
    return plan


def practise(
    plan: Plan, date: datetime.date, done: bool, by: Practice.By = Practice.By.TEACHER
) -> None:
    """Tick a day of the strip, or take one's own tick away."""
    last = plan.started_on + datetime.timedelta(days=core.DAYS)
    if not plan.started_on < date <= last:
        raise Refused("This day is not part of the plan.")
    if date > local_time.today():
        raise Refused("This date is in the future.")
    if done:
        Practice.objects.get_or_create(plan=plan, date=date, by=by)
    else:
        plan.practised.filter(date=date, by=by).delete()


def accept(teacher: User, recheck: Recheck) -> Plan:
    """Take over what a recheck says; the plan that then runs, or the one that has ended."""
    plan = recheck.plan
    take = selectors.take_for(recheck)
    if plan.state != Plan.State.RUNNING or recheck.answer:
        raise Refused(ANSWERED)
    if take is None or take.state != Take.State.READY:
        raise Refused("Film the recheck first, from the same side as the first take.")
    # Worked out before anything is written: a long row of tones takes its time.
    says = heard.rechecked(plan, recheck, take).outcome
    if says.answer == core.FILM_AGAIN:
        raise Refused(says.why)
    with transaction.atomic():
        return _accepted(teacher, recheck, take, says)


def _accepted(teacher: User, recheck: Recheck, take: Take, says: core.Outcome) -> Plan:
    """Write what a recheck says; refused where somebody else was quicker."""
    plan = recheck.plan
    mine = Recheck.objects.filter(pk=recheck.pk, answer="", plan__state=Plan.State.RUNNING)
    if not mine.update(take=take, answer=says.answer):
        raise Refused(ANSWERED)
    if says.answer == core.PASSED:
        _end(plan, Plan.State.PASSED)
        return plan
    if says.answer == core.CARRY_ON:
        return plan
    # Two weeks anew from the recheck on, at the stage it says.
    _end(plan, Plan.State.PASSED if says.answer == core.NEXT_STAGE else Plan.State.STOPPED)
    assert says.stage is not None
    return _begin(teacher, plan.student, take, plan.fault, says.stage, plan.minutes, take.filmed_on)


def _end(plan: Plan, state: Plan.State) -> None:
    plan.state = state
    plan.save(update_fields=["state"])
    student = plan.student
    if student.focus == plan.fault:
        student.focus = ""
        student.save(update_fields=["focus"])


def stop_plan(plan: Plan) -> None:
    """End a plan before its time; what was practised stays on record."""
    if plan.state == Plan.State.RUNNING:
        with transaction.atomic():
            _end(plan, Plan.State.STOPPED)


@transaction.atomic
def resume_plan(plan: Plan) -> None:
    """Go on with a plan that was stopped, unless another has begun since."""
    if plan.state != Plan.State.STOPPED:
        raise Refused("Only a plan that was stopped can go on.")
    student = plan.student
    if student.plans.filter(state=Plan.State.RUNNING).exists():
        raise Refused("Another plan has started since. Stop it first.")
    plan.state = Plan.State.RUNNING
    plan.save(update_fields=["state"])
    student.focus = plan.fault
    student.save(update_fields=["focus"])


@transaction.atomic
def set_school_days(
    teacher: User, weekdays_off: list[int], minutes: int, free: list[dict[str, Any]]
) -> None:
    """Days off and minutes. Rechecks that are open move with them."""
    for stretch in free:
        if stretch["last"] < stretch["first"]:
            raise Refused("Days off must end after they start. Check the dates.")
    said, _ = SchoolDays.objects.get_or_create(teacher=teacher)
    said.weekdays_off, said.minutes = sorted(set(weekdays_off)), minutes
    said.save()
    said.free.all().delete()
    FreeDays.objects.bulk_create(FreeDays(school_days=said, **stretch) for stretch in free)
    calendar = selectors.calendar_of(teacher)
    for plan in selectors.plans_of(teacher).filter(state=Plan.State.RUNNING):
        try:
            due = core.rechecks(plan.started_on, calendar)
        except ValueError as error:
            raise Refused(str(error)) from error
        for recheck in plan.rechecks.filter(answer="", take=None):
            recheck.due_on = due[recheck.day]
            recheck.save(update_fields=["due_on"])
