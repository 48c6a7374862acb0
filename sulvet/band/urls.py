"""Addresses of students and standards."""

from django.urls import path

from sulvet.band import api, bands_api

urlpatterns = [
    path("students/", api.StudentsView.as_view(), name="students"),
    path("students/<int:student_id>/facts/", api.StudentFactsView.as_view(), name="student-facts"),
    path("students/<int:student_id>/transfer/", api.TransferView.as_view(), name="transfer"),
    path("colleagues/", api.ColleaguesView.as_view(), name="colleagues"),
    path("roster/", api.RosterView.as_view(), name="roster"),
    path("roster/template.csv", api.RosterTemplateView.as_view(), name="roster-template"),
    path("consent/", api.ConsentView.as_view(), name="consent"),
    path("bands/", bands_api.BandListView.as_view(), name="bands"),
    path("bands/<int:band_id>/", bands_api.OneOfBandsView.as_view(), name="one-of-bands"),
    path("band/names/", api.BandNameView.as_view(), name="band-names"),
    path("clip-names/", api.ClipNamesView.as_view(), name="clip-names"),
    path("retention/", api.RetentionView.as_view(), name="retention"),
    path("standards/", api.StandardsView.as_view(), name="standards"),
]
