"""Addresses of students' pages and of takes."""

from django.urls import path, re_path

from sulvet.takes import api, standards_api

urlpatterns = [
    path("landmarks/", api.LandmarksView.as_view(), name="landmarks"),
    path("students/<int:student_id>/", api.StudentView.as_view(), name="student"),
    path("students/<int:student_id>/takes/", api.StudentTakesView.as_view(), name="student-takes"),
    path(
        "standards/<slug:instrument>/", standards_api.OwnStandardView.as_view(), name="own-standard"
    ),
    path(
        "standards/<slug:instrument>/effect/",
        standards_api.EffectView.as_view(),
        name="standard-effect",
    ),
    path(
        "standards/<slug:instrument>/zones/",
        standards_api.ZonesView.as_view(),
        name="standard-zones",
    ),
    path("takes/<int:take_id>/", api.TakeView.as_view(), name="take"),
    path("takes/<int:take_id>/progress/", api.TakeProgressView.as_view(), name="take-progress"),
    path("takes/<int:take_id>/marks/", api.MarksView.as_view(), name="marks"),
    path("takes/<int:take_id>/marks/file/", api.MarksFileView.as_view(), name="marks-file"),
    path("takes/<int:take_id>/marks/accept/", api.AcceptView.as_view(), name="accept"),
    path("takes/<int:take_id>/preview/", api.PreviewView.as_view(), name="preview"),
    path("takes/<int:take_id>/undo/", api.UndoView.as_view(), name="undo"),
    path("takes/<int:take_id>/focus/", api.FocusView.as_view(), name="focus"),
    path("takes/<int:take_id>/depth/", api.DepthView.as_view(), name="depth"),
    path("takes/<int:take_id>/observations/", api.ObservationsView.as_view(), name="observations"),
    path("takes/<int:take_id>/ear/", api.EarView.as_view(), name="ear"),
    path("takes/<int:take_id>/phases/", api.PhasesView.as_view(), name="phases"),
    path("takes/<int:take_id>/scale/", api.KnownLengthView.as_view(), name="scale"),
    path("takes/<int:take_id>/look-again/", api.LookAgainView.as_view(), name="look-again"),
    path("takes/<int:take_id>/decisions/", api.DecisionsView.as_view(), name="decisions"),
    re_path(
        r"^takes/(?P<take_id>\d+)/(?P<kind>marks|report)\.json$",
        api.ExportView.as_view(),
        name="export",
    ),
]
