"""Films of practising the eye."""

from django.urls import path

from sulvet.eye import api

urlpatterns = [
    path("eye/rounds/<int:round_id>/<int:place>.mp4", api.RoundFilmView.as_view(), name="eye-film"),
    path("eye/gallery/<str:loop>.mp4", api.GalleryFilmView.as_view(), name="eye-gallery-film"),
    path("eye/open/<str:token>/<int:place>.mp4", api.OpenFilmView.as_view(), name="eye-open-film"),
]
