"""Lessons over HTTP: thin views, each bound to the logged-in teacher."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.errors import Refused
from sulvet.accounts.numbers import are_numbers
from sulvet.accounts.shapes import answer, checked, shape
from sulvet.accounts.types import teacher_of
from sulvet.band.models import Student
from sulvet.band.selectors import student_of, students_of
from sulvet.lessons import given, standing
from sulvet.lessons.models import GivenDrill
from sulvet.plans.lessons import pages, shapes


def _students(teacher: User, numbers: list[int]) -> list[Student]:
    """These students of the teacher's, all of them; refused where one is not."""
    known = numbers if are_numbers(numbers) else []
    found = list(students_of(teacher).filter(pk__in=known).select_related("standing"))
    if len(found) != len(set(numbers)):
        raise Refused("One of these students is no longer there. Reload the page.")
    return found


class BoardView(APIView):
    """The band by ladder."""

    @extend_schema(responses=shape(shapes.Board), operation_id="ladder_board")
    def get(self, request: Request) -> Response:
        """Who stands where, and who is stuck longest."""
        return answer(pages.board(teacher_of(request)))

    @extend_schema(
        request=shape(shapes.MoveIn),
        responses=shape(shapes.Board),
        operation_id="move_on_ladder",
    )
    def post(self, request: Request) -> Response:
        """Pass a step, go back one, or say what is heard instead of a sound; several at once."""
        told = checked(shape(shapes.MoveIn), request.data)
        standing.move(_students(teacher_of(request), told.students), told.do, told.heard)
        return self.get(request)


class LadderView(APIView):
    """One student's ladder."""

    @extend_schema(responses=shape(shapes.LadderPage), operation_id="student_ladder")
    def get(self, request: Request, student_id: int) -> Response:
        """Its steps, the set-up card, and what was given."""
        return answer(pages.ladder_page(student_of(teacher_of(request), student_id)))

    @extend_schema(
        request=shape(shapes.StandingIn),
        responses=shape(shapes.LadderPage),
        operation_id="set_up_student",
    )
    def put(self, request: Request, student_id: int) -> Response:
        """Tick lines of the set-up card, or leave something out."""
        student = student_of(teacher_of(request), student_id)
        told = checked(shape(shapes.StandingIn), request.data)
        if told.set_up is not None:
            standing.tick(student, told.set_up)
        if told.without is not None:
            standing.leave_out(student, told.without)
        return self.get(request, student_id)


class LibraryView(APIView):
    """Drills and routines."""

    @extend_schema(responses=shape(shapes.Library), operation_id="drill_library")
    def get(self, request: Request) -> Response:
        """All of them."""
        return answer(pages.library())


class GivenView(APIView):
    """Exercises that are given without a fault."""

    @extend_schema(
        request=shape(shapes.GiveIn),
        responses={201: shape(shapes.GivenRow, many=True)},
        operation_id="give_drill",
    )
    def post(self, request: Request) -> Response:
        """Give a drill or a routine to some students."""
        told = checked(shape(shapes.GiveIn), request.data)
        what = given.Given(
            told.drill, told.routine, told.stage, told.tempo, told.rounds, told.level, told.days
        )
        made = given.give(_students(teacher_of(request), told.students), what)
        return answer([pages.given_row(one) for one in made], 201)


class OneGivenView(APIView):
    """One exercise."""

    def given(self, request: Request, given_id: int) -> GivenDrill:
        """The teacher's own; 404 for anybody else's."""
        mine = GivenDrill.objects.filter(student__section__band__teacher=teacher_of(request))
        return get_object_or_404(mine.select_related("student"), pk=given_id)

    @extend_schema(
        request=shape(shapes.DoneIn), responses=shape(shapes.GivenRow), operation_id="mark_done"
    )
    def put(self, request: Request, given_id: int) -> Response:
        """Tick a day, or take the tick away."""
        one = self.given(request, given_id)
        told = checked(shape(shapes.DoneIn), request.data)
        given.mark_done(one, told.date, told.done)
        return answer(pages.given_row(one))

    @extend_schema(
        request=shape(shapes.AgainIn),
        responses={201: shape(shapes.GivenRow)},
        operation_id="hand_in_again",
    )
    def post(self, request: Request, given_id: int) -> Response:
        """The same for as long again, with a sentence why."""
        told = checked(shape(shapes.AgainIn), request.data)
        one = given.hand_in_again(self.given(request, given_id), told.why)
        return answer(pages.given_row(one), 201)

    @extend_schema(
        request=None, responses={201: shape(shapes.GivenRow)}, operation_id="raise_level"
    )
    def patch(self, request: Request, given_id: int) -> Response:
        """The same at the next level."""
        return answer(pages.given_row(given.raise_level(self.given(request, given_id))), 201)

    @extend_schema(responses={204: None}, operation_id="take_drill_back")
    def delete(self, request: Request, given_id: int) -> Response:
        """Take it back."""
        self.given(request, given_id).delete()
        return Response(status=204)
