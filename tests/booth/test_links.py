"""Capture links: what may be sent with one, and that nothing else may."""

from __future__ import annotations

import datetime
import hashlib
import uuid
from typing import Any
from unittest import mock

import cv2
import numpy as np
from django.conf import settings
from django.test import Client, SimpleTestCase, tag
from django.urls import reverse
from django.utils import timezone

from sulvet.booth import links
from sulvet.booth.models import CaptureLink
from sulvet.core import sandbox
from sulvet.core.formats import qr
from sulvet.demo.scenario import TAKES
from sulvet.takes import pieces
from sulvet.takes.models import Take
from tests.base import BandTestCase

CLIP = (TAKES / "ida-front-5.mp4").read_bytes()
SIZE = 100_000


def sha(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


@tag("database")
class LinkTests(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        made = self.sent("post", reverse("links", args=[self.student.pk]),
                         {"view": "front", "days": 7}, 201)  # fmt: skip
        self.link = CaptureLink.objects.get(pk=made["id"])
        self.address, self.code = made["address"], made["qr"]
        self.token = self.address.rsplit("/", 1)[1]
        self.phone, self.upload = Client(), uuid.uuid4()

    def piece(self, number: int, data: bytes, digest: str | None = None) -> int:
        answer = self.phone.put(
            reverse("phone-piece", args=[self.token, self.upload, number]), data,
            content_type="application/octet-stream", headers={"X-Digest": digest or sha(data)},
        )  # fmt: skip
        return int(answer.status_code)

    def missing(self, count: int) -> list[int]:
        address = reverse("phone-upload", args=[self.token, self.upload, count])
        return list(self.phone.get(address).json()["missing"])

    def whole(self, count: int, expect: int = 201, digest: str = sha(CLIP)) -> dict[str, Any]:
        answer = self.phone.post(
            reverse("phone-whole", args=[self.token, self.upload]),
            {"pieces": count, "digest": digest, "name": "IMG_1.MOV"},
            content_type="application/json",
        )
        self.assertEqual(answer.status_code, expect, answer.content)
        return dict(answer.json())

    def send(self) -> int:
        parts = [CLIP[k : k + SIZE] for k in range(0, len(CLIP), SIZE)]
        for n, part in enumerate(parts):
            self.assertEqual(self.piece(n, part), 204)
        return len(parts)

    def test_a_clip_comes_in_pieces_and_goes_on_where_it_was(self) -> None:
        asked = self.phone.get(reverse("phone", args=[self.token])).json()
        self.assertEqual((asked["name"], asked["view"]), ("Edda", "front"))
        count = self.send()
        # One was lost on its way and one came damaged: only these are asked for again.
        lost = pieces._piece(self.upload, 1)
        lost.unlink()
        self.assertEqual(self.piece(1, b"other", sha(CLIP[SIZE : 2 * SIZE])), 409)
        self.assertEqual(self.missing(count), [1])
        self.assertIn("missing", self.whole(count, 400)["detail"])
        self.assertEqual(self.piece(1, CLIP[SIZE : 2 * SIZE]), 204)
        sent = self.whole(count)
        self.assertEqual((sent["readable"], sent["take"]), (True, 0))
        take = Take.objects.get()
        self.assertEqual((take.student, take.view, take.state), (self.student, "front", "waiting"))
        self.assertEqual(take.clip.read_bytes(), CLIP)
        self.assertEqual(list(settings.CLIPS_DIR.glob("*.incoming"))
                         if hasattr(settings.CLIPS_DIR, "glob") else [], [])  # fmt: skip

    def test_what_was_sent_is_what_arrives(self) -> None:
        count = self.send()
        self.assertIn("damaged", self.whole(count, 409, sha(b"another clip"))["detail"])
        self.assertEqual(Take.objects.count(), 0)
        self.assertEqual(self.missing(count), list(range(count)))

    def test_no_other_address_answers_it(self) -> None:
        take = self.add_take()
        for path in ("/api/band/", f"/api/takes/{take.pk}/", f"/private/takes/{take.pk}/clip.mp4",
                     f"/api/students/{self.student.pk}/links/", "/api/booth/"):  # fmt: skip
            self.assertIn(self.phone.get(path, {"token": self.token}).status_code, (403, 404))
        # Nobody gets in by another number, nor by one that is not signed.
        other = f"{self.link.pk + 1}:{self.token.split(':', 1)[1]}"
        for token in (other, str(self.link.pk), "x", f"{self.token}x"):
            answer = self.phone.get(reverse("phone", args=[token]))
            self.assertEqual((answer.status_code, answer.json()["detail"]), (400, links.OVER))

    def test_revoked_expired_or_without_consent(self) -> None:
        self.sent("delete", reverse("link", args=[self.link.pk]), expect=204)
        self.assertEqual(self.piece(0, b"x"), 400)
        self.assertEqual(self.sent("get", reverse("links", args=[self.student.pk])), [])
        CaptureLink.objects.update(revoked=False, until=timezone.now())
        self.assertEqual(self.piece(0, b"x"), 400)
        CaptureLink.objects.update(until=timezone.now() + datetime.timedelta(days=1))
        count = self.send()
        # The consent was taken back meanwhile.
        self.student.consent_on = None
        self.student.save()
        self.assertIn("consent", self.whole(count, 400)["detail"])
        self.assertIn("consent", self.sent("post", reverse("links", args=[self.student.pk]),
                                           {"view": "side", "days": 7}, 400)["detail"])  # fmt: skip
        self.assertEqual(Take.objects.count(), 0)

    def test_how_long_it_is_good_and_what_it_opens(self) -> None:
        address = reverse("links", args=[self.student.pk])
        for days, status in ((0, 400), (1, 201), (60, 201), (61, 400)):
            self.sent("post", address, {"view": "front", "days": days}, status)
        for page, pictures, opened in ((False, False, False), (False, True, False),
                                       (True, False, False), (True, True, True)):  # fmt: skip
            made = links.make(self.student, "front", 7, page, pictures)
            self.assertEqual((made.page, made.pictures), (page, opened))
        self.assertFalse(links.make(self.student, "front", 7).page)

    def test_so_much_a_day(self) -> None:
        CaptureLink.objects.update(day_of=timezone.localdate(), sent=links.A_DAY)
        count = self.send()
        self.assertIn("tomorrow", self.whole(count, 400)["detail"])
        CaptureLink.objects.update(day_of=timezone.localdate() - datetime.timedelta(days=1))
        with mock.patch.object(sandbox, "first_look", return_value=""):
            self.whole(count)
        CaptureLink.objects.update(received=links.MOST_BYTES)
        self.assertEqual(self.piece(0, b"x"), 400)
        large = b"0" * (pieces.LARGEST + 1)
        CaptureLink.objects.update(received=0)
        self.assertEqual(self.piece(0, large), 400)

    def test_only_of_the_teachers_own_students(self) -> None:
        self.client.force_login(self.stranger)
        address = reverse("links", args=[self.student.pk])
        self.sent("get", address, expect=404)
        self.sent("post", address, {"view": "front", "days": 7}, 404)
        self.sent("delete", reverse("link", args=[self.link.pk]), expect=404)
        self.client.force_login(self.teacher)
        self.sent("post", address, {"view": "front", "days": 61}, 400)


@tag("database")
class QrTests(SimpleTestCase):
    def test_a_reader_reads_what_was_written(self) -> None:
        """OpenCV's own reader as a second opinion."""
        for text in ("http://192.168.1.20:8000/film/12:AbC-_dEf0123456789", "x" * 150):
            drawn = qr.svg(text)
            side = int(drawn.split('viewBox="0 0 ')[1].split()[0])
            picture = np.full((side, side), 255, np.uint8)
            for spot in drawn.split('d="')[1].split('"')[0].split("M")[1:]:
                x, y = (int(v) for v in spot.split("h")[0].split())
                picture[y, x] = 0
            large = cv2.resize(picture, None, fx=8, fy=8, interpolation=cv2.INTER_NEAREST)
            self.assertEqual(cv2.QRCodeDetectorAruco().detectAndDecode(large)[0], text)
