"""Addresses of records."""

from django.urls import path, re_path

from sulvet.records import api, moving_api

urlpatterns = [
    path(
        "students/<int:student_id>/then-and-now/", api.ThenAndNowView.as_view(), name="then-and-now"
    ),
    path("students/<int:student_id>/trend/<slug:measure>/", api.TrendView.as_view(), name="trend"),
    path("students/<int:student_id>/record/", api.RecordView.as_view(), name="record"),
    path("notes/<int:note_id>/", api.NoteView.as_view(), name="note"),
    path("takes/<int:take_id>/notes.vtt", api.TimedNotesView.as_view(), name="notes-vtt"),
    path("takes/<int:take_id>/notes/", api.TimedNotesInView.as_view(), name="notes-in"),
    path("takes/<int:take_id>/slip.pdf", api.SlipView.as_view(), name="slip"),
    path("slips.pdf", api.SlipsView.as_view(), name="slips"),
    path("sectionals/", api.SectionalsView.as_view(), name="sectionals"),
    path("sectionals.csv", api.SectionalsTableView.as_view(), name="sectionals-csv"),
    re_path(r"^(?P<kind>readings|findings)\.csv$", api.TableView.as_view(), name="band-table"),
    re_path(
        r"^(?P<of>students|takes)/(?P<number>\d+)/(?P<kind>readings|findings)\.csv$",
        api.TableView.as_view(),
        name="table",
    ),
    path("rechecks.ics", api.RechecksView.as_view(), name="rechecks-ics"),
    path("students/<int:student_id>/data.zip", api.StudentDataView.as_view(), name="student-data"),
    path("archive/encrypted.zip", api.EncryptedArchiveView.as_view(), name="encrypted-archive"),
    path(
        "archive/coming/<uuid:upload>/of/<int:count>/",
        moving_api.ComingArchiveView.as_view(),
        name="coming-archive",
    ),
    path(
        "archive/coming/<uuid:upload>/<int:number>/",
        moving_api.ArchivePieceView.as_view(),
        name="archive-piece",
    ),
    path(
        "archive/coming/<uuid:upload>/",
        moving_api.ArchiveWholeView.as_view(),
        name="archive-whole",
    ),
    path("archive/out/", moving_api.ArchivesOutView.as_view(), name="archives-out"),
    path("archive/out/<uuid:number>.zip", moving_api.ArchiveOutView.as_view(), name="archive-out"),
    path("archive.zip", api.ArchiveView.as_view(), name="archive"),
]
