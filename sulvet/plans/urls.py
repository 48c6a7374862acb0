"""Addresses of plans, and of the home screen that shows what is due."""

from django.urls import path

from sulvet.plans import api

urlpatterns = [
    path("band/", api.BandView.as_view(), name="band"),
    path("students/<int:student_id>/plans/", api.StudentPlansView.as_view(), name="plans"),
    path("takes/<int:take_id>/plan/", api.TakePlanView.as_view(), name="take-plan"),
    path("takes/<int:take_id>/exercises/", api.ExercisesHeardView.as_view(), name="exercises"),
    path("plans/<int:plan_id>/", api.PlanView.as_view(), name="plan"),
    path("plans/<int:plan_id>.ics", api.CalendarView.as_view(), name="plan-calendar"),
    path("rechecks/<int:recheck_id>/", api.RecheckView.as_view(), name="recheck"),
    path("school-days/", api.SchoolDaysView.as_view(), name="school-days"),
]
