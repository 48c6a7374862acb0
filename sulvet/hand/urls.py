"""Addresses of the exercise."""

from django.urls import path

from sulvet.hand import api

urlpatterns = [
    path("hand/", api.HandView.as_view(), name="hand"),
    path("hand/faces/<int:face>.jpg", api.FaceView.as_view(), name="hand-face"),
]
