"""Addresses of private pictures."""

from django.urls import path

from sulvet.closeups import api

urlpatterns = [path("close-ups/<int:close_up_id>.jpg", api.picture, name="close-up-picture")]
