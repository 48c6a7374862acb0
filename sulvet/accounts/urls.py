"""Addresses of the session."""

from django.urls import path

from sulvet.accounts import api, people_api

urlpatterns = [
    path("session/", api.SessionView.as_view(), name="session"),
    path("access-log.csv", api.AccessLogView.as_view(), name="access-log"),
    path("password/", api.PasswordView.as_view(), name="password"),
    path("preferences/", api.PreferencesView.as_view(), name="preferences"),
    path("sessions/", api.SessionsView.as_view(), name="sessions"),
    path("people/", people_api.PeopleView.as_view(), name="people"),
    path("people/<int:number>/", people_api.AccountView.as_view(), name="account"),
    path("invitations/", people_api.InvitationsView.as_view(), name="invitations"),
    path("invitations/<int:number>/", people_api.InvitationView.as_view(), name="invitation"),
    path("join/<str:token>/", people_api.JoinView.as_view(), name="join"),
    path("standing-in/", people_api.ActingView.as_view(), name="standing-in"),
    path("second-factor/", people_api.SecondFactorView.as_view(), name="second-factor"),
    path("second-factor/off/", people_api.SecondFactorOffView.as_view(), name="second-factor-off"),
    path("first-account/", api.FirstAccountView.as_view(), name="first-account"),
]
