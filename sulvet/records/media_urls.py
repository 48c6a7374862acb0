"""Addresses of private pictures on a common sheet."""

from django.urls import path

from sulvet.records import media

urlpatterns = [
    path("takes/<int:take_id>/onto/<int:other_id>/<int:number>.jpg", media.onto, name="onto"),
]
