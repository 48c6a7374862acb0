"""A school over HTTP, for its administrator: what is deleted, and what could not be analysed.

Of other teachers' bands no name and no picture is shown: a take is its number.
"""

from __future__ import annotations

import datetime
from dataclasses import dataclass, field
from typing import Any

from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.roles import demand_administrator
from sulvet.accounts.schools import colleagues_of, school_of
from sulvet.accounts.shapes import answer, checked, shape
from sulvet.accounts.types import account_of
from sulvet.band import services
from sulvet.band.selectors import school_retention_of
from sulvet.core.consent import WARNING_DAYS
from sulvet.takes import jobs
from sulvet.takes.models import Take

#: So many are listed; whoever runs Sulvet has the count among the metrics.
LISTED = 50


@dataclass(frozen=True)
class GivenUp:
    """A take whose analysis failed too often.

    teacher  whose student it is of;  seconds  of its clip;  on  when it was tried last
    """

    take: int
    teacher: str
    view: str
    seconds: float | None
    on: datetime.date | None


@dataclass(frozen=True)
class SchoolPage:
    """What an administrator sees of a school.

    name       empty where there is only one
    agreed_on  since when what is over is deleted in all of its bands; None: each teacher decides
    days       of warning before
    """

    name: str
    agreed_on: datetime.date | None
    days: int
    given_up: list[GivenUp]


@dataclass(frozen=True)
class WarningIn:
    """Days of warning before what is over is deleted."""

    days: int = field(metadata={"serializer_kwargs": {"min_value": 7, "max_value": 365}})


def _given_up(by: User) -> QuerySet[Take]:
    mine = colleagues_of(by)
    return jobs.given_up().filter(student__section__band__teacher__in=mine)


def _page(by: User) -> SchoolPage:
    school, rule = school_of(by), school_retention_of(by)
    takes = _given_up(by).select_related("student__section__band__teacher")[:LISTED]
    return SchoolPage(
        school.name if school else "",
        rule.agreed_on if rule else None,
        rule.days if rule else WARNING_DAYS,
        [
            GivenUp(
                one.pk, one.student.section.band.teacher.get_username(), one.view,
                one.clip_seconds, one.heartbeat and timezone.localtime(one.heartbeat).date(),
            )
            for one in takes
        ],
    )  # fmt: skip


class _View(APIView):
    """Base of views for an administrator alone."""

    def initial(self, request: Request, *given: Any, **named: Any) -> None:
        """Refused for anybody else."""
        super().initial(request, *given, **named)
        demand_administrator(account_of(request))


class SchoolView(_View):
    """The administrator's school."""

    @extend_schema(responses=shape(SchoolPage), operation_id="school")
    def get(self, request: Request) -> Response:
        """What is deleted when, and which clips could not be analysed."""
        return answer(_page(account_of(request)))


class SchoolRetentionView(_View):
    """Deleting what is over, in all bands of the school."""

    @extend_schema(
        request=shape(WarningIn), responses=shape(SchoolPage), operation_id="delete_for_school"
    )
    def put(self, request: Request) -> Response:
        """From today on, after so many days of warning, whatever its teachers chose."""
        by = account_of(request)
        given: WarningIn = checked(shape(WarningIn), request.data)
        services.agree_for_school(by, given.days)
        return answer(_page(by))

    @extend_schema(responses={200: shape(SchoolPage)}, operation_id="leave_to_teachers")
    def delete(self, request: Request) -> Response:
        """Each teacher decides again."""
        by = account_of(request)
        services.leave_to_teachers(by)
        return answer(_page(by))


class GivenUpView(_View):
    """A clip whose analysis was given up."""

    @extend_schema(request=None, responses=shape(SchoolPage), operation_id="try_again")
    def post(self, request: Request, take_id: int) -> Response:
        """Try again, as often as a new clip is tried."""
        by = account_of(request)
        jobs.reread(get_object_or_404(_given_up(by), pk=take_id))
        return answer(_page(by))
