"""Odd numbers and methods get a sentence or nothing found, never an error of ours."""

from __future__ import annotations

from functools import partial

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.test import RequestFactory

from sulvet.web.middleware import HeadWithoutBody
from tests.base import BandTestCase

#: A digit that is no number to a program, and a number that no database holds.
ODD = ("²", "9" * 30, "9" * 5000)


def given(answer: HttpResponseBase, request: HttpRequest) -> HttpResponseBase:
    """What a view would answer."""
    return answer


class OddNumberTests(BandTestCase):
    def test_as_an_identity_they_name_nobody(self) -> None:
        for odd in ODD:
            for path in (
                f"/api/takes/{odd}/",
                f"/api/students/{odd}/",
                f"/private/takes/{odd}/clip.mp4",
            ):
                self.assertEqual(self.client.get(path).status_code, 404, path[:40])

    def test_in_headers_and_questions_they_are_refused(self) -> None:
        take = self.add_ready()
        for odd in ODD:
            told = [
                self.client.patch(
                    f"/api/takes/{take.pk}/", {"read": True}, "application/json",
                    headers={"If-Match": odd},
                ),
                self.client.get("/api/slips.pdf", {"students": odd}),
            ]  # fmt: skip
            self.assertEqual([answer.status_code for answer in told], [400, 400], odd[:5])
        answer = self.client.delete(f"/api/takes/{take.pk}/marks/?landmark=no-such&frame=0")
        self.assertEqual(answer.status_code, 400)

    def test_a_range_of_no_number_is_no_range(self) -> None:
        take = self.add_ready()
        take.directory.mkdir(parents=True)
        take.proxy.write_bytes(b"0123456789")
        path = f"/private/takes/{take.pk}/clip.mp4"
        for odd, status in ((ODD[0], 200), (ODD[1], 200), ("99", 416)):
            answer = self.client.get(path, headers={"Range": f"bytes={odd}-"})
            self.assertEqual(answer.status_code, status, odd[:5])
            if answer.streaming:
                b"".join(answer)

    def test_the_head_of_an_answer_has_no_body(self) -> None:
        whole = HttpResponse("twelve bytes")
        stream = StreamingHttpResponse(iter([b"piece"]))
        answers: tuple[HttpResponseBase, ...] = (whole, stream)
        for answer in answers:
            head = HeadWithoutBody(partial(given, answer))(RequestFactory().head("/"))
            self.assertEqual(b"".join(head), b"")
        self.assertEqual(whole["Content-Length"], "12")
        kept = HttpResponse("x")
        HeadWithoutBody(partial(given, kept))(RequestFactory().get("/"))
        self.assertEqual(kept.content, b"x")

    def test_the_schema_is_for_those_who_are_known(self) -> None:
        self.assertEqual(self.client_class().get("/api/schema/").status_code, 403)
        self.assertEqual(self.client.get("/api/schema/").status_code, 200)
