"""Reads of plans, each bound to its teacher."""

from __future__ import annotations

import datetime
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any, Protocol, TypeVar

from django.contrib.auth.models import User
from django.db.models import Q, QuerySet
from django.shortcuts import get_object_or_404

from sulvet.accounts import local_time
from sulvet.core.formats import ical
from sulvet.core.judgement.common import common, worded
from sulvet.core.judgement.drill_schema import Drill
from sulvet.core.judgement.plan import STAGES, Calendar, Stage
from sulvet.core.judgement.schema import Fault
from sulvet.core.language import said
from sulvet.plans.models import Plan, Recheck, SchoolDays
from sulvet.takes.models import Take, TakeSound

#: A take counts for a recheck when it was filmed so many days before it is due, or later.
EARLY = datetime.timedelta(days=3)


def plans_of(teacher: User) -> QuerySet[Plan]:
    """All plans of a teacher's students."""
    return (
        Plan.objects.filter(student__section__band__teacher=teacher)
        .select_related("student__section__band")
        .prefetch_related("practised", "rechecks")
    )


def plan_of(teacher: User, plan_id: int) -> Plan:
    """One of the teacher's own plans; 404 for anybody else's."""
    return get_object_or_404(plans_of(teacher), pk=plan_id)


def recheck_of(teacher: User, recheck_id: int) -> Recheck:
    """A recheck of one of the teacher's own plans; 404 for anybody else's."""
    mine = Recheck.objects.filter(plan__student__section__band__teacher=teacher)
    return get_object_or_404(mine.select_related("plan__student"), pk=recheck_id)


def calendar_of(teacher: User) -> Calendar:
    """The teacher's days off; weekends while nothing else is said."""
    said = SchoolDays.objects.filter(teacher=teacher).prefetch_related("free").first()
    if said is None:
        return Calendar()
    return Calendar(tuple(said.weekdays_off), tuple((f.first, f.last) for f in said.free.all()))


def school_days_page(teacher: User) -> dict[str, Any]:
    """Days off and minutes as they can be edited."""
    said = SchoolDays.objects.filter(teacher=teacher).prefetch_related("free").first()
    if said is None:
        return {"weekdays_off": list(Calendar().weekdays), "minutes": minutes_of(teacher),
                "free": []}  # fmt: skip
    return {
        "weekdays_off": said.weekdays_off,
        "minutes": said.minutes,
        "free": list(said.free.values("first", "last", "words")),
    }


def minutes_of(teacher: User) -> int:
    """How many minutes a day the teacher's students practise drills."""
    said = SchoolDays.objects.filter(teacher=teacher).first()
    return said.minutes if said else int(SchoolDays._meta.get_field("minutes").default)


class Filmed(Protocol):
    """As much of a take as says whether it answers a recheck."""

    @property
    def pk(self) -> int:
        """Its number."""

    @property
    def view(self) -> str:
        """The side it is seen from."""

    @property
    def filmed_on(self) -> datetime.date:
        """The day it was filmed."""


F = TypeVar("F", bound=Filmed)


@dataclass(frozen=True)
class Day:
    """The same by itself: a whole row costs many times as much to fetch."""

    pk: int
    view: str
    filmed_on: datetime.date


def _at_stage(played_on: str | None, stage: str) -> bool:
    """Whether a take may answer a plan's recheck by what it was played on."""
    return not played_on or stage == ("mouthpiece" if played_on == "neck" else played_on)


def matching(plan: Plan, takes: Iterable[F], stages: Mapping[int, str]) -> dict[int, F]:
    """Recheck → the take that answers it: the accepted one, else the first that fits.

    takes   the student's, oldest first
    stages  take → what the teacher says it was played on

    A take fits that is of the plan's view and, where that is said, stage, was filmed after the
    plan began and not earlier than some days ahead of the due date, and answers no other recheck.
    """
    rechecks = list(plan.rechecks.all())
    by_id = {take.pk: take for take in takes}
    found = {r.pk: by_id[r.take_id] for r in rechecks if r.take_id in by_id}
    used = {take.pk for take in found.values()}
    for recheck in rechecks:
        if recheck.pk in found or recheck.answer:
            continue
        later = [r.due_on - EARLY for r in rechecks if r.day > recheck.day]
        for take in by_id.values():
            if (
                take.pk not in used
                and take.view == plan.view
                and _at_stage(stages.get(take.pk), plan.stage)
                and take.filmed_on > plan.started_on
                and take.filmed_on >= recheck.due_on - EARLY
                and all(take.filmed_on < end for end in later)
            ):
                found[recheck.pk] = take
                used.add(take.pk)
                break
    return found


#: All that tells whether a take answers a recheck.
MATCHED_BY = ("student_id", "view", "filmed_on", "state", "read_at", "chosen_focus")


def _may_answer(plans: list[Plan]) -> QuerySet[Take]:
    """The takes that may answer a recheck of some plans, oldest first."""
    # Of plans that have ended only what was accepted counts.
    running = [plan for plan in plans if plan.state == Plan.State.RUNNING]
    since = min((plan.started_on for plan in running), default=datetime.date.max)
    accepted = [r.take_id for plan in plans for r in plan.rechecks.all() if r.take_id]
    students = [plan.student_id for plan in running]
    takes = Take.objects.filter(Q(pk__in=accepted) | Q(student__in=students, filmed_on__gt=since))
    return takes.order_by("filmed_on", "pk")


def said_stages(plans: list[Plan]) -> dict[int, str]:
    """Take → what the teacher says it was played on, of the students of some plans."""
    said = TakeSound.objects.filter(
        take__student__in=[plan.student_id for plan in plans if plan.state == Plan.State.RUNNING]
    )
    return {take: stage for take, stage in said.values_list("take_id", "intended__stage") if stage}


def takes_for(plans: list[Plan], *with_: str) -> list[Take]:
    """The takes that may answer a recheck of one student's plans; ``with_`` what hangs on them."""
    return list(_may_answer(plans).prefetch_related(*with_).only(*MATCHED_BY))


def take_for(recheck: Recheck) -> Take | None:
    """The take that answers a recheck, if there is one."""
    plan = recheck.plan
    return matching(plan, takes_for([plan]), said_stages([plan])).get(recheck.pk)


def stage_of(plan: Plan) -> Stage:
    """The stage of a plan as the core names it."""
    return next(stage for stage in STAGES if stage == plan.stage)


def fault_of(plan: Plan) -> Fault:
    """The focus of a plan, in the words for its student."""
    return worded(plan.fault, plan.student.family, plan.began_at)


def drills_of(plan: Plan) -> list[Drill]:
    """The drills of a plan, in the words of its stage."""
    return [common().drill(name).for_stage(plan.stage) for name in plan.drills]


def events(plan: Plan, only_open: bool = False) -> list[ical.Event]:
    """A plan's rechecks for a calendar.

    only_open  without those that are answered
    """
    return [
        ical.Event(
            uid=f"recheck-{r.pk}@sulvet",
            day=r.due_on,
            summary=said("Recheck, day {day}: {name}", day=r.day, name=plan.student.name),
            about=said(
                "Film again from the side. Focus: {focus}."
                if plan.view == "side"
                else "Film again from the front. Focus: {focus}.",
                focus=fault_of(plan).name,
            ),
        )
        for r in plan.rechecks.all()
        if not (only_open and r.answer)
    ]


def rechecks_due(teacher: User) -> dict[int, datetime.date]:
    """Student → since when a recheck is due that no take answers yet."""
    today = local_time.today()
    mine = Plan.objects.filter(student__section__band__teacher=teacher)
    plans = list(
        mine.filter(state=Plan.State.RUNNING, rechecks__answer="", rechecks__due_on__lte=today)
        .distinct()
        .prefetch_related("rechecks")
    )
    days: dict[int, list[Day]] = {plan.student_id: [] for plan in plans}
    rows = _may_answer(plans).values_list("student_id", "pk", "view", "filmed_on")
    for student_id, pk, view, filmed_on in rows:
        days[student_id].append(Day(pk, view, filmed_on))
    due: dict[int, datetime.date] = {}
    stages = said_stages(plans)
    for plan in plans:
        answers = matching(plan, days[plan.student_id], stages)
        open_ = [
            r.due_on
            for r in plan.rechecks.all()
            if not r.answer and r.due_on <= today and r.pk not in answers
        ]
        if open_:
            due[plan.student_id] = min(open_)
    return due
