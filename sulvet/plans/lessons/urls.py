"""Addresses of lessons."""

from django.urls import path

from sulvet.plans.lessons import api

urlpatterns = [
    path("lessons/", api.BoardView.as_view(), name="lessons"),
    path("students/<int:student_id>/ladder/", api.LadderView.as_view(), name="ladder"),
    path("drills/", api.LibraryView.as_view(), name="drills"),
    path("given/", api.GivenView.as_view(), name="given"),
    path("given/<int:given_id>/", api.OneGivenView.as_view(), name="one-given"),
]
