"""Addresses of reed boxes."""

from django.urls import path

from sulvet.reeds import api

urlpatterns = [
    path("students/<int:student_id>/reeds/", api.BoxView.as_view(), name="reed-box"),
    path("reeds/", api.BoxesView.as_view(), name="reed-boxes"),
    path("reeds/<int:reed_id>/", api.ReedView.as_view(), name="reed"),
    path("reeds.csv", api.ShoppingView.as_view(), name="reeds-csv"),
]
