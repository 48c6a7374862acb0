"""Addresses of the student's page."""

from django.urls import path

from sulvet.practice_page import api

urlpatterns = [
    path("film/<str:token>/page/", api.PracticePageView.as_view(), name="practice-page"),
    path("film/<str:token>/page/then-now/", api.ThenNowView.as_view(), name="own-then-now"),
    path("film/<str:token>/page/days/", api.TicksView.as_view(), name="own-days"),
    path("film/<str:token>/page/reeds/", api.ReedsPlayedView.as_view(), name="own-reeds"),
    path("film/<str:token>/page/pairs/", api.PairsView.as_view(), name="own-pairs"),
    path(
        "film/<str:token>/page/pairs/<str:loop>/", api.PairFilmView.as_view(), name="own-pair-film"
    ),
    path("film/<str:token>/page/words/", api.WordsView.as_view(), name="own-words"),
    path("film/<str:token>/app.webmanifest", api.ManifestView.as_view(), name="own-manifest"),
]
