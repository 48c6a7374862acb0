"""Addresses of students' pages and of takes."""

from django.urls import path, re_path

from sulvet.takes.api import edits, school, takes
from sulvet.takes.api.reviewed import ReviewedView

TAKE = "takes/<int:take_id>/"

urlpatterns = [
    path("school/", school.SchoolView.as_view(), name="school"),
    path("school/retention/", school.SchoolRetentionView.as_view(), name="school-retention"),
    path("school/given-up/<int:take_id>/", school.GivenUpView.as_view(), name="given-up"),
    path("landmarks/", takes.LandmarksView.as_view(), name="landmarks"),
    path("measures/", takes.MeasuresView.as_view(), name="measures"),
    path("students/<int:student_id>/", takes.StudentView.as_view(), name="student"),
    path(
        "students/<int:student_id>/takes/", takes.StudentTakesView.as_view(), name="student-takes"
    ),
    path(
        "students/<int:student_id>/photos/",
        takes.StudentPhotosView.as_view(),
        name="student-photos",
    ),
    path("takes/reviewed/", ReviewedView.as_view(), name="reviewed"),
    path(TAKE, takes.OneTakeView.as_view(), name="take"),
    path(f"{TAKE}refresh/", takes.RefreshView.as_view(), name="refresh"),
    path(f"{TAKE}progress/", takes.TakeProgressView.as_view(), name="take-progress"),
    path(f"{TAKE}facts/", takes.TakeFactsView.as_view(), name="take-facts"),
    path(f"{TAKE}reread/", takes.RereadView.as_view(), name="reread"),
    path(f"{TAKE}preview/", takes.PreviewView.as_view(), name="preview"),
    path(f"{TAKE}said-first/", takes.SaidFirstView.as_view(), name="said-first"),
    path(f"{TAKE}sound/", takes.SoundView.as_view(), name="sound"),
    path(f"{TAKE}marks/", edits.MarksView.as_view(), name="marks"),
    path(f"{TAKE}marks/file/", edits.MarksFileView.as_view(), name="marks-file"),
    path(f"{TAKE}marks/accept/", edits.AcceptView.as_view(), name="accept"),
    path(f"{TAKE}undo/", edits.UndoView.as_view(), name="undo"),
    path(f"{TAKE}focus/", edits.FocusView.as_view(), name="focus"),
    path(f"{TAKE}depth/", edits.DepthView.as_view(), name="depth"),
    path(f"{TAKE}observations/", edits.ObservationsView.as_view(), name="observations"),
    path(f"{TAKE}phases/", edits.PhasesView.as_view(), name="phases"),
    path(f"{TAKE}scale/", edits.KnownLengthView.as_view(), name="scale"),
    path(f"{TAKE}decisions/", edits.DecisionsView.as_view(), name="decisions"),
    re_path(
        r"^takes/(?P<take_id>\d+)/(?P<kind>marks|report)\.json$",
        takes.ExportView.as_view(),
        name="export",
    ),
]
