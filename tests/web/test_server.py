"""The server: half requests hold nothing, what is refused is not received, half is not whole."""

from __future__ import annotations

import io
import socket
import threading
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from typing import Any
from unittest.mock import patch

import uvicorn
from a2wsgi import WSGIMiddleware
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import SimpleTestCase
from django.test.client import BOUNDARY, MULTIPART_CONTENT, encode_multipart
from django.urls import reverse

from sulvet.takes.files import strays
from sulvet.takes.models import Take
from sulvet.web import server
from sulvet.web.bodies import LIMITS, whole_bodies
from tests.base import BandTestCase

SOON = 10.0


class Heard:
    """What an application was asked."""

    def __init__(self) -> None:
        self.bodies: list[bytes | str] = []
        self.one = threading.Semaphore(0)

    def __call__(self, environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
        refused = environ["PATH_INFO"] == "/no"
        try:
            self.bodies.append("not read" if refused else environ["wsgi.input"].read())
        except OSError as error:
            self.bodies.append(str(error))
        self.one.release()
        start_response("403 Forbidden" if refused else "200 OK", [("Content-Length", "2")])
        return [b"ok"]


@contextmanager
def serving(heard: Heard, silent: float) -> Iterator[int]:
    """Its server, on a port of its own."""
    config = uvicorn.Config(
        WSGIMiddleware(whole_bodies(heard), workers=2),  # type: ignore[arg-type]
        port=0, http=server.Patient, ws="none", lifespan="off", log_level="error",
    )  # fmt: skip
    run = uvicorn.Server(config)
    with patch.object(server, "SILENT", silent), socket.create_server(("127.0.0.1", 0)) as there:
        thread = threading.Thread(target=run.run, args=([there],))
        thread.start()
        try:
            yield there.getsockname()[1]
        finally:
            run.should_exit = True
            thread.join()


def said(port: int, words: bytes, then_closed: bool = False) -> bytes:
    """All that the server answers until it closes."""
    with socket.create_connection(("127.0.0.1", port), timeout=SOON) as line:
        line.sendall(words)
        if then_closed:
            return b""
        return b"".join(iter(lambda: line.recv(4096), b""))


class PatienceTests(SimpleTestCase):
    def test_half_a_head_and_half_a_body_are_closed_after_silence(self) -> None:
        heard = Heard()
        with serving(heard, silent=0.3) as port:
            self.assertEqual(said(port, b"GET / HTTP/1.1\r\nHost: a\r\nX-Slow"), b"")
            said(port, b"POST / HTTP/1.1\r\nHost: a\r\nContent-Length: 9\r\n\r\nhalf")
            self.assertTrue(heard.one.acquire(timeout=SOON))
        self.assertEqual(heard.bodies, ["The connection ended before all of it had come."])

    def test_many_half_requests_stop_nobody(self) -> None:
        heard = Heard()
        with serving(heard, silent=60) as port:
            waiting = [socket.create_connection(("127.0.0.1", port)) for _ in range(100)]
            for one in waiting:
                one.sendall(b"GET / HTTP/1.1\r\nHost: a\r\nX-Slow")
            whole = (
                b"POST / HTTP/1.1\r\nHost: a\r\nConnection: close\r\nContent-Length: 4\r\n\r\nbody"
            )
            self.assertIn(b"200 OK", said(port, whole))
            for one in waiting:
                one.close()
        self.assertEqual(heard.bodies, [b"body"])

    def test_what_is_refused_is_answered_before_it_has_come(self) -> None:
        heard = Heard()
        with serving(heard, silent=60) as port:
            answer = said(
                port, b"POST /no HTTP/1.1\r\nHost: a\r\nContent-Length: 900000000\r\n\r\nx"
            )
        self.assertIn(b"403", answer)
        self.assertEqual(heard.bodies, ["not read"])


class BodyTests(BandTestCase):
    def test_half_a_clip_is_no_clip(self) -> None:
        form = {"clip": SimpleUploadedFile("a.mp4", b"x" * 4_000_000), "view": "front",
                "purpose": "check", "filmed_on": "2026-11-20"}  # fmt: skip
        whole = encode_multipart(BOUNDARY, form)
        before = {one.path for one in strays(0)}

        def asked(environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
            del start_response
            answer = self.client.generic(
                "POST", reverse("student-takes", args=[self.student.pk]), whole,
                MULTIPART_CONTENT, **{"wsgi.input": environ["wsgi.input"]},
            )  # fmt: skip
            self.assertEqual(answer.status_code, 400, answer.content)
            self.assertIn("Send it again", answer.json()["detail"])
            return []

        half = {"CONTENT_LENGTH": str(len(whole)), "wsgi.input": io.BytesIO(whole[:3_000_000])}
        whole_bodies(asked)(half, None)
        self.assertEqual((Take.objects.count(), {one.path for one in strays(0)}), (0, before))

    def test_more_than_an_address_takes_is_refused_by_what_it_announces(self) -> None:
        for path, most in (("/api/students/1/takes/", 500), ("/api/students/", 25)):
            answer = self.client.post(path, CONTENT_LENGTH=str(most * 10**6 + 2_000_000))
            self.assertEqual(answer.status_code, 413)
            self.assertIn(f"the limit is {most} MB", answer.json()["detail"])
        self.assertGreater(LIMITS[0][1], 10**11, "an archive may be as large as a disk")
