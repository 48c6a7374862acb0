"""Addresses of the session."""

from django.urls import path

from sulvet.accounts import api

urlpatterns = [
    path("session/", api.SessionView.as_view(), name="session"),
    path("access-log.csv", api.AccessLogView.as_view(), name="access-log"),
    path("password/", api.PasswordView.as_view(), name="password"),
    path("preferences/", api.PreferencesView.as_view(), name="preferences"),
    path("sessions/", api.SessionsView.as_view(), name="sessions"),
    path("first-account/", api.FirstAccountView.as_view(), name="first-account"),
]
