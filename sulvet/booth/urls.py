"""Addresses of the booth."""

from django.urls import path

from sulvet.booth import api, link_api

urlpatterns = [
    path("booths/", api.OpenBoothView.as_view(), name="open-booth"),
    path("booth/", api.BoothView.as_view(), name="booth"),
    path("booth/end/", api.EndBoothView.as_view(), name="end-booth"),
    path("booth/mirror/", api.MirrorView.as_view(), name="mirror"),
    path("booth/takes/", api.BoothTakesView.as_view(), name="booth-takes"),
    path("students/<int:student_id>/links/", link_api.StudentLinksView.as_view(), name="links"),
    path("links/<int:link_id>/", link_api.LinkView.as_view(), name="link"),
    path("film/<str:token>/", link_api.PhoneView.as_view(), name="phone"),
    path(
        "film/<str:token>/<uuid:upload>/of/<int:count>/",
        link_api.PhoneUploadView.as_view(),
        name="phone-upload",
    ),
    path(
        "film/<str:token>/<uuid:upload>/<int:number>/",
        link_api.PhonePieceView.as_view(),
        name="phone-piece",
    ),
    path("film/<str:token>/<uuid:upload>/", link_api.PhoneWholeView.as_view(), name="phone-whole"),
]
