"""What is said when something fails that no view has an answer to: a sentence, and what to do."""

from __future__ import annotations

import errno
import sqlite3
import sys
from collections.abc import Iterator

from django.db import Error as DatabaseError
from django.http import HttpRequest, HttpResponse, JsonResponse

from sulvet.core.language import gettext_noop, said
from sulvet.takes.storage import StorageAway
from sulvet.takes.waiting import is_away, is_locked

#: How long a page waits before it asks again, s.
RETRY_AFTER = 2
BUSY = gettext_noop(
    "Sulvet is busy saving something larger, so this was not done yet. Nothing is lost: "
    "the page tries again automatically."
)
DATABASE_AWAY = gettext_noop(
    "Sulvet's database can't be reached just now. Nothing is lost: the page tries again "
    "automatically."
)
AWAY = gettext_noop(
    "The storage that holds the clips can't be reached just now. Nothing is lost: try again in a "
    "minute."
)
FULL = (
    "The disk of the computer Sulvet runs on is full, so this was not saved. Free some "
    "space, or delete takes you no longer need, and try again."
)
WRONG = (
    "Something went wrong inside Sulvet. Your saved data is unchanged. Try again; if it "
    "happens again, send the last lines Sulvet printed to whoever looks after it."
)


def disk_full(error: BaseException | None) -> bool:
    """Whether an error, or what it came from, says that a disk is full."""
    return any(
        (isinstance(one, OSError) and one.errno in (errno.ENOSPC, errno.EDQUOT))
        or (isinstance(one, DatabaseError | sqlite3.Error) and "is full" in str(one))
        for one in _causes(error)
    )


def locked(error: BaseException | None) -> bool:
    """Whether an error, or what it came from, is a database that another writer holds."""
    return any(is_locked(one) for one in _causes(error))


def _causes(error: BaseException | None) -> Iterator[BaseException]:
    """An error and what it came from."""
    while error is not None:
        yield error
        error = error.__cause__ or error.__context__


def server_error(request: HttpRequest) -> HttpResponse:
    """Django's handler for what no view has caught."""
    error = sys.exc_info()[1]
    if disk_full(error):
        return _answer(request, said(FULL), 507)
    for sentence, is_so in (
        (BUSY, locked(error)),
        (DATABASE_AWAY, any(is_away(one) for one in _causes(error))),
        (AWAY, isinstance(error, StorageAway)),
    ):
        if is_so:
            answer = _answer(request, said(sentence), 503)
            answer.headers["Retry-After"] = str(RETRY_AFTER)
            return answer
    return _answer(request, said(WRONG), 500)


def locked_out(request: HttpRequest, *args: object, **kwargs: object) -> HttpResponse:
    """After too many wrong passwords."""
    del args, kwargs
    return _answer(
        request,
        said(
            "Ten wrong passwords in a row: this name is locked for 15 minutes. If the "
            "password is lost, whoever looks after Sulvet can set a new one (run.py "
            "password)."
        ),
        429,
    )


def _answer(request: HttpRequest, sentence: str, status: int) -> HttpResponse:
    if request.path.startswith("/api/"):
        return JsonResponse({"detail": sentence}, status=status)
    return HttpResponse(f"{sentence}\n", status=status, content_type="text/plain; charset=utf-8")
