"""Addresses of private media."""

from django.urls import path

from sulvet.takes.api import media

urlpatterns = [
    path("takes/<int:take_id>/clip.mp4", media.clip, name="clip"),
    path("takes/<int:take_id>/tone.wav", media.tone, name="tone"),
    path("takes/<int:take_id>/frames/<int:number>.jpg", media.frame, name="frame"),
]
