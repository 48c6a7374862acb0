"""Plans over HTTP: thin views, each bound to the logged-in teacher."""

from __future__ import annotations

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.downloads import CALENDAR, download
from sulvet.accounts.shapes import answer, shape
from sulvet.accounts.types import teacher_of
from sulvet.band.models import Student
from sulvet.band.selectors import student_of
from sulvet.core.formats import ical
from sulvet.plans import heard, pages, selectors, serializers, services
from sulvet.plans.serializers import SchoolDaysSerializer, StudentPlansSerializer
from sulvet.takes.pages.band import BandPage, band_page
from sulvet.takes.selectors import take_of


class PlansView(APIView):
    """Base of views that answer with a student's plans."""

    def plans(self, request: Request, student: Student, status: int = 200) -> Response:
        """The student's plans as they now stand."""
        page = pages.student_plans(teacher_of(request), student)
        return Response(StudentPlansSerializer(page).data, status=status)


class BandView(APIView):
    """The home screen."""

    @extend_schema(responses=shape(BandPage), operation_id="band")
    def get(self, request: Request) -> Response:
        """Seating plan and *Next for you*."""
        teacher = teacher_of(request)
        return answer(band_page(teacher, selectors.rechecks_due(teacher)))


class StudentPlansView(PlansView):
    """Plans of one student."""

    @extend_schema(responses=StudentPlansSerializer, operation_id="student_plans")
    def get(self, request: Request, student_id: int) -> Response:
        """The running plan, and those before it."""
        return self.plans(request, student_of(teacher_of(request), student_id))


class TakePlanView(PlansView):
    """The plan that a take brings about."""

    @extend_schema(
        request=serializers.PlanInSerializer,
        responses={201: StudentPlansSerializer},
        operation_id="start_plan",
    )
    def post(self, request: Request, take_id: int) -> Response:
        """Begin two weeks on the take's focus."""
        teacher = teacher_of(request)
        take = take_of(teacher, take_id)
        given = serializers.PlanInSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        services.start_plan(teacher, take, services.PlanFacts(**given.validated_data))
        return self.plans(request, take.student, 201)


class ExercisesHeardView(APIView):
    """Exercises as they were played on a take."""

    @extend_schema(responses=shape(heard.HeardExercise, many=True), operation_id="exercises_heard")
    def get(self, request: Request, take_id: int) -> Response:
        """What its plan or teacher asks for, else the likeliest; empty where nobody listened."""
        return answer(heard.exercises_heard(take_of(teacher_of(request), take_id)))


class PlanView(PlansView):
    """One plan."""

    @extend_schema(
        request=serializers.PracticeInSerializer,
        responses=StudentPlansSerializer,
        operation_id="practise",
    )
    def put(self, request: Request, plan_id: int) -> Response:
        """Tick a day, or take the tick away."""
        plan = selectors.plan_of(teacher_of(request), plan_id)
        given = serializers.PracticeInSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        services.practise(plan, **given.validated_data)
        return self.plans(request, plan.student)

    @extend_schema(request=None, responses=StudentPlansSerializer, operation_id="resume_plan")
    def post(self, request: Request, plan_id: int) -> Response:
        """Go on with a plan that was stopped."""
        plan = selectors.plan_of(teacher_of(request), plan_id)
        services.resume_plan(plan)
        return self.plans(request, plan.student)

    @extend_schema(responses={200: StudentPlansSerializer}, operation_id="stop_plan")
    def delete(self, request: Request, plan_id: int) -> Response:
        """End it before its time."""
        plan = selectors.plan_of(teacher_of(request), plan_id)
        services.stop_plan(plan)
        return self.plans(request, plan.student)


class RecheckView(PlansView):
    """One recheck."""

    @extend_schema(request=None, responses=StudentPlansSerializer, operation_id="accept_recheck")
    def post(self, request: Request, recheck_id: int) -> Response:
        """Take over what it says."""
        teacher = teacher_of(request)
        recheck = selectors.recheck_of(teacher, recheck_id)
        return self.plans(request, services.accept(teacher, recheck).student)


class SchoolDaysView(APIView):
    """Days off and minutes a day."""

    @extend_schema(responses=SchoolDaysSerializer, operation_id="school_days")
    def get(self, request: Request) -> Response:
        """As they stand."""
        page = selectors.school_days_page(teacher_of(request))
        return Response(SchoolDaysSerializer(page).data)

    @extend_schema(
        request=SchoolDaysSerializer,
        responses=SchoolDaysSerializer,
        operation_id="set_school_days",
    )
    def put(self, request: Request) -> Response:
        """Set them; open rechecks move along."""
        given = SchoolDaysSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        services.set_school_days(teacher_of(request), **given.validated_data)
        return self.get(request)


class CalendarView(APIView):
    """Rechecks for any calendar program."""

    @extend_schema(exclude=True)
    def get(self, request: Request, plan_id: int) -> HttpResponse:
        """One plan's rechecks as iCalendar (RFC 5545)."""
        plan = selectors.plan_of(teacher_of(request), plan_id)
        data = ical.dump(selectors.events(plan))
        return download(data, CALENDAR, f"plan-{plan.pk}", "ics", plan.started_on)
