"""Addresses of close-ups."""

from django.urls import path

from sulvet.closeups import api

urlpatterns = [
    path(
        "students/<int:student_id>/close-ups/",
        api.StudentCloseUpsView.as_view(),
        name="student-close-ups",
    ),
    path("close-ups/<int:close_up_id>/", api.CloseUpView.as_view(), name="close-up"),
    path(
        "close-ups/<int:close_up_id>/refresh/",
        api.CloseUpRefreshView.as_view(),
        name="close-up-refresh",
    ),
    path("close-ups/<int:close_up_id>/reed/", api.WhichReedView.as_view(), name="close-up-reed"),
    path("close-ups/<int:close_up_id>/answer/", api.NotSoView.as_view(), name="close-up-answer"),
]
