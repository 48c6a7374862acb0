"""Films and tones of practising eye and ear."""

from django.urls import path

from sulvet.eye import api

urlpatterns = [
    path("eye/rounds/<int:round_id>/<int:place>/", api.RoundFilmView.as_view(), name="eye-film"),
    path("eye/gallery/<str:loop>/", api.GalleryFilmView.as_view(), name="eye-gallery-film"),
    path("eye/open/<str:token>/<int:place>/", api.OpenFilmView.as_view(), name="eye-open-film"),
]
