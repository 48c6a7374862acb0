"""Addresses of standards."""

from django.urls import path

from sulvet.calibration import api

STANDARD = "standards/<slug:instrument>/"

urlpatterns = [
    path(STANDARD, api.OwnStandardView.as_view(), name="own-standard"),
    path(f"{STANDARD}shared/", api.SharedStandardView.as_view(), name="shared-standard"),
    path(f"{STANDARD}effect/", api.EffectView.as_view(), name="standard-effect"),
    path(f"{STANDARD}zones/", api.ZonesView.as_view(), name="standard-zones"),
]
