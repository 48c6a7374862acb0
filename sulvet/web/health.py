"""What those who run Sulvet on servers ask it: whether it can work, and how much it has to do."""

from __future__ import annotations

import hmac
from collections.abc import Callable

from django.conf import settings
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.db.models import Count, Min
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.views.decorators.cache import never_cache
from prometheus_client import CONTENT_TYPE_LATEST, Counter, Gauge, Histogram, generate_latest

from sulvet.core import clock
from sulvet.takes import jobs, storage
from sulvet.takes.models import Take

OK, AWAY = "ok", "does not answer"
METHODS = {"GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"}
ANSWERS = Counter("sulvet_answers", "Requests answered", ["method", "address", "status"])
SECONDS = Histogram("sulvet_answer_seconds", "Time to an answer", ["address"])
TAKES = Gauge("sulvet_takes", "Takes by what has become of them", ["state"])
OLDEST = Gauge("sulvet_oldest_waiting_seconds", "How long the take that waits longest has waited")
GIVEN_UP = Gauge("sulvet_given_up", "Takes whose analysis was tried until it was given up")


#: Filled once this process has seen that the database is of its version.
_current: list[bool] = []


class Measured:
    """Counts answers and how long they took, by the name of the address and never by who asks."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer."""
        begun = clock.monotonic()
        response = self.get_response(request)
        match = request.resolver_match
        name = (match.url_name if match else None) or "none"
        # Whoever asks may say any method: only those there are get a row of their own.
        method = request.method if request.method in METHODS else "other"
        ANSWERS.labels(method, name, response.status_code).inc()
        SECONDS.labels(name).observe(clock.monotonic() - begun)
        return response


@never_cache
def ready(request: HttpRequest) -> JsonResponse:
    """Whether all that Sulvet needs answers; 503 with what does not."""
    del request
    checks = {
        name: _tried(check)
        for name, check in (("database", _database), ("storage", _storage), ("queue", _queue))
    }
    good = set(checks.values()) == {OK}
    return JsonResponse({"ready": good, **checks}, status=200 if good else 503)


def _tried(check: Callable[[], str]) -> str:
    try:
        return check()
    except Exception:
        # Whatever it is: who asks wants to know which of the servers it is.
        return AWAY


def _database() -> str:
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
    if not _current:
        # Reading all migrations takes a moment; once they are done, they are for this process.
        executor = MigrationExecutor(connection)
        if executor.migration_plan(executor.loader.graph.leaf_nodes()):
            return "is of another version: run manage.py prepare"
        _current.append(True)
    return OK


def _storage() -> str:
    far = storage.shared()
    if far is not None:
        far.exists("ready")
        if storage.keeps_versions():
            return "keeps what is deleted as an older version: switch versions off"
    return OK


def _queue() -> str:
    if settings.RQ_QUEUES:
        import django_rq

        django_rq.get_connection("upload").ping()
    return OK


@never_cache
def metrics(request: HttpRequest) -> HttpResponse:
    """Figures in Prometheus' text form, to who has the token; 404 for anybody else."""
    token = settings.METRICS_TOKEN
    said = request.headers.get("Authorization", "").removeprefix("Bearer ")
    if not token or not hmac.compare_digest(said.encode(), token.encode()):
        raise Http404
    counts = dict(Take.objects.values_list("state").annotate(Count("pk")))
    for state in Take.State.values:
        TAKES.labels(state).set(counts.get(state, 0))
    since = Take.objects.filter(state=Take.State.WAITING).aggregate(at=Min("heartbeat"))["at"]
    OLDEST.set(max((clock.now() - since).total_seconds(), 0.0) if since else 0.0)
    GIVEN_UP.set(jobs.given_up().count())
    return HttpResponse(generate_latest(), content_type=CONTENT_TYPE_LATEST)
