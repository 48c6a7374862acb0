"""Addresses of the booth."""

from django.urls import path

from sulvet.booth import api

urlpatterns = [
    path("booths/", api.OpenBoothView.as_view(), name="open-booth"),
    path("booth/", api.BoothView.as_view(), name="booth"),
    path("booth/end/", api.EndBoothView.as_view(), name="end-booth"),
    path("booth/takes/", api.BoothTakesView.as_view(), name="booth-takes"),
]
