"""Addresses of practising the eye."""

from django.urls import path

from sulvet.eye import api

urlpatterns = [
    path("eye/", api.EyeView.as_view(), name="eye"),
    path("eye/rounds/", api.RoundsView.as_view(), name="eye-rounds"),
    path("eye/rounds/<int:round_id>/", api.RoundView.as_view(), name="eye-round"),
    path("eye/gallery/<str:instrument>/", api.GalleryView.as_view(), name="eye-gallery"),
    path("eye/open/", api.OpenLinksView.as_view(), name="eye-open-links"),
    path("eye/open/<str:token>/", api.OpenRoundView.as_view(), name="eye-open"),
]
