"""All addresses: the API, private media, and the page for the rest."""

from django.urls import include, path, re_path
from drf_spectacular.views import SpectacularAPIView

from sulvet.web.health import metrics, ready
from sulvet.web.views import authority, health, page, page_of_link, practice_worker

handler500 = "sulvet.web.failures.server_error"
urlpatterns = [
    path("health/", health, name="health"),
    path("health/ready/", ready, name="ready"),
    path("metrics/", metrics, name="metrics"),
    path("authority.crt", authority, name="authority"),
    path("api/schema/", SpectacularAPIView.as_view(), name="schema"),
    path("api/", include("sulvet.accounts.urls")),
    path("api/", include("sulvet.hand.urls")),
    path("api/", include("sulvet.band.urls")),
    path("api/", include("sulvet.reeds.urls")),
    path("api/", include("sulvet.closeups.urls")),
    path("api/", include("sulvet.takes.urls")),
    path("api/", include("sulvet.booth.urls")),
    path("api/", include("sulvet.eye.urls")),
    path("api/", include("sulvet.calibration.urls")),
    path("api/", include("sulvet.plans.urls")),
    path("api/", include("sulvet.plans.lessons.urls")),
    path("api/", include("sulvet.records.urls")),
    path("api/", include("sulvet.practice_page.urls")),
    path("private/", include("sulvet.closeups.media_urls")),
    path("private/", include("sulvet.takes.media_urls")),
    path("private/", include("sulvet.eye.media_urls")),
    path("private/", include("sulvet.demo.stand_in")),
    path("private/", include("sulvet.records.media_urls")),
    path("film/practice-worker.js", practice_worker, name="practice-worker"),
    path("film/<path:token>", page_of_link, name="page-of-link"),
    re_path(r"^(?!api/|private/|static/|health/|metrics/).*$", page, name="page"),
]
