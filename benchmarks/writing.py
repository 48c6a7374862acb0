"""How long the database is held for writing: every transaction of a day with the demo band."""

from __future__ import annotations

import io
import json
from collections.abc import Iterator
from contextlib import contextmanager
from time import perf_counter
from typing import Any
from unittest.mock import patch

from benchmarks import site

PAGES = ("band", "lessons", "reeds", "eye", "sectionals", "standards")
CLASS_LIST = "name,instrument,consent\n" + "".join(
    f"Student {n},horn,2026-09-01\n" for n in range(90)
)


def section() -> str:
    """The table: what is done, its transactions, and the longest of them."""
    with site.fresh():
        rows = _rows()
    lines = ["| what | transactions | longest |", "|---|---|---|"]
    return "\n".join(lines + [f"| {what} | {n} | {1000 * most:.0f} ms |" for what, n, most in rows])


@contextmanager
def _watched(held: list[float]) -> Iterator[None]:
    """Notes how long each outermost transaction is open."""
    from django.db.transaction import Atomic

    enter, leave = Atomic.__enter__, Atomic.__exit__

    def begin(self: Any) -> Any:
        from django.db import connection

        outermost = not connection.in_atomic_block
        answer = enter(self)
        self.since = perf_counter() if outermost else None
        return answer

    def end(self: Any, *error: Any) -> Any:
        answer = leave(self, *error)
        if self.since is not None:
            held.append(perf_counter() - self.since)
        return answer

    with patch.object(Atomic, "__enter__", begin), patch.object(Atomic, "__exit__", end):
        yield


def _rows() -> list[tuple[str, int, float]]:
    from django.contrib.auth.models import User
    from django.core.files.uploadedfile import SimpleUploadedFile
    from django.core.management import call_command
    from django.test import Client

    from sulvet.takes.models import Take

    call_command("load_demo", verbosity=0, stdout=io.StringIO())
    client = Client(HTTP_HOST="localhost")
    client.force_login(User.objects.get(username="demo"))
    fronts = list(Take.objects.filter(state="ready", view="front").order_by("pk"))
    rows = []

    def done(what: str, *calls: tuple[str, str, Any], form: bool = False) -> None:
        held: list[float] = []
        with _watched(held):
            for method, path, body in calls:
                how = {} if form or method == "get" else {"content_type": "application/json"}
                answer = getattr(client, method)(path, body, **how)
                assert answer.status_code < 400, (path, answer.content[:300])
        rows.append((what, len(held), max(held, default=0.0)))

    one, two, three = (f"/api/takes/{take.pk}/" for take in fronts[:3])
    marks = [
        {"landmark": name, "frame": frame, "x": x, "y": 200.0}
        for name, x in (("ch_r", 290.0), ("ch_l", 350.0))
        for frame in range(0, 40, 4)
    ]
    phases = [
        {key: phase[key] for key in ("name", "start", "end")}
        for phase in client.get(one).json()["phases"]
    ]
    done("all pages opened", *(("get", f"/api/{page}/", None) for page in PAGES))
    done("the hold of a take set again", ("put", f"{one}phases/", {"phases": phases}))
    done(f"{len(marks)} marks set", ("put", f"{two}marks/", {"marks": marks}))
    coco = json.loads(b"".join(client.get(f"{two}marks.json")))
    done("and taken back", ("post", f"{two}undo/", None))
    done("its own file of marks read in", ("put", f"{two}marks/file/", coco))
    done("a take measured anew", ("post", f"{three}refresh/", None))
    done(
        "every take from the front reviewed",
        ("post", "/api/takes/reviewed/", {"takes": [one.pk for one in fronts]}),
    )
    listed = SimpleUploadedFile("class.csv", CLASS_LIST.encode())
    done("a class list of 90", ("post", "/api/roster/", {"table": listed, "keep": "1"}), form=True)
    whole = client.get("/api/archive.zip")
    packed = SimpleUploadedFile("band.zip", b"".join(whole))
    done("a student deleted", ("delete", f"/api/students/{fronts[0].student_id}/", None))
    client.force_login(User.objects.create_user("other"))
    done("the whole band restored", ("post", "/api/archive.zip", {"archive": packed}), form=True)
    return rows
