"""Photos as takes: found, measured and judged as far as a still can tell, and printed."""

from __future__ import annotations

import datetime
import io
from typing import Any

import pi_heif
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import tag
from django.urls import reverse
from django.utils import timezone
from PIL import Image

from sulvet.core.video.clip import Reader
from sulvet.core.video.stills import CAMERA, TAKEN
from sulvet.demo.scenario import TAKES
from sulvet.takes.models import Take
from sulvet.takes.tasks import read_take
from tests.base import BandTestCase

pi_heif.register_heif_opener()
REST, PLAYING = 0.7, 3.6


def photo(name: str, seconds: float, kind: str = "JPEG", turned: bool = False) -> Any:
    """A frame of a made-up take as a phone's photo: with its day and its place, perhaps lying."""
    frames = Reader(TAKES / f"{name}.mp4").frames()
    frame = min(frames, key=lambda one: abs(one.seconds - seconds))
    picture = Image.fromarray(frame.picture("rgb24"))
    exif = Image.Exif()
    exif.get_ifd(CAMERA)[TAKEN] = "2026:11:18 15:04:00"
    exif.get_ifd(0x8825)[1] = "N"
    if turned:
        # The phone was upright: the picture lies, and says so.
        picture, exif[0x0112] = picture.transpose(Image.Transpose.ROTATE_90), 6
    out = io.BytesIO()
    picture.save(out, kind, quality=93, exif=exif)
    return SimpleUploadedFile(f"photo.{kind.lower()}", out.getvalue())


@tag("database")
class PhotoTests(BandTestCase):
    def send(self, expect: int = 201, **given: Any) -> Any:
        answer = self.client.post(
            reverse("student-photos", args=[self.student.pk]), {"view": "front", **given}
        )
        self.assertEqual(answer.status_code, expect, answer.content[:300])
        return answer.json()

    def read(self, rows: list[dict[str, Any]]) -> list[Take]:
        made = [Take.objects.get(pk=row["id"]) for row in rows]
        for take in made:
            read_take.call(take.pk, str(take.job))
            take.refresh_from_db()
        return made

    def test_now_and_then_go_through_to_the_slip(self) -> None:
        """Two weeks apart, each with a relaxed face: the rim was low and is not any more."""
        (then,) = self.read(self.send(photos=[photo("edda-front-12", PLAYING)],
                                      rest=photo("edda-front-12", REST),
                                      filmed_on="2026-11-04"))  # fmt: skip
        (now,) = self.read(self.send(photos=[photo("edda-front-1", PLAYING, turned=True)],
                                     rest=photo("edda-front-1", REST)))  # fmt: skip
        self.assertEqual([t.state for t in (then, now)], ["ready", "ready"])
        # The day stands in the photo where nobody says another.
        self.assertEqual([t.filmed_on for t in (then, now)],
                         [datetime.date(2026, 11, 4), datetime.date(2026, 11, 18)])  # fmt: skip
        self.assertEqual((now.width, now.height), (960, 540), "upright")
        page = self.sent("get", reverse("take", args=[then.pk]))
        self.assertIn("rim-low", {f["fault"] for f in page["findings"] if f["verdict"] == "fault"})
        self.assertIn("Stillness", {one["area"] for one in page["unchecked"]})
        self.assertIn("From a photo", page["notes"][-1])
        # Nothing moves on a photo: nothing is said of what moves.
        moving = {r["measure"] for r in page["readings"] if r["value"] is not None}
        self.assertFalse({m for m in moving if m.startswith(("stillness", "release"))})
        compared = self.sent("get", reverse("then-and-now", args=[self.student.pk]))
        share = next(c for c in compared["pair"]["changes"] if c["measure"] == "rim_upper_share")
        # One picture each leaves a margin about as wide as what is left to the band.
        self.assertEqual(share["answer"], "clearly better")
        self.assertGreater(share["delta"], share["uncertainty"])
        body = {"fault": "rim-low", "phase": "hold", "answer": "confirmed"}
        self.sent("put", reverse("decisions", args=[then.pk]), body)
        slip = self.client.get(reverse("slip", args=[then.pk]))
        self.assertEqual((slip.status_code, slip["Content-Type"]), (200, "application/pdf"))

    def test_every_kind_a_phone_writes_and_several_at_once(self) -> None:
        kinds = ("JPEG", "PNG", "WEBP", "AVIF")
        made = self.send(photos=[photo("edda-front-1", PLAYING, kind) for kind in kinds],
                         rest=photo("edda-front-1", REST))  # fmt: skip
        self.assertEqual([row["view"] for row in made], ["front"] * len(kinds))
        clip = Take.objects.get(pk=made[-1]["id"])
        self.assertEqual([(p["name"], p["start"]) for p in clip.prompts],
                         [("rest", 0.0), ("hold", 1.0)])  # fmt: skip
        # Neither where nor with what it was taken is kept.
        self.assertNotIn(b"2026:11:18", clip.clip.read_bytes())

    def test_without_a_relaxed_face_the_students_own_is_used(self) -> None:
        first = self.read(self.send(photos=[photo("edda-front-12", PLAYING)],
                                    rest=photo("edda-front-12", REST)))  # fmt: skip
        (second,) = self.read(self.send(photos=[photo("edda-front-12", PLAYING + 0.3)]))
        self.assertEqual([t.state for t in (*first, second)], ["ready", "ready"])
        self.assertIsNotNone(second.borrowed_rest)

    def test_what_is_no_photo_leaves_nothing(self) -> None:
        bad = SimpleUploadedFile("notes.jpg", b"not a photo")
        told = self.send(400, photos=[photo("edda-front-1", PLAYING), bad])
        self.assertIn("notes.jpg", told["detail"])
        small = io.BytesIO()
        Image.new("RGB", (200, 200)).save(small, "JPEG")
        self.send(400, photos=[SimpleUploadedFile("small.jpg", small.getvalue())])
        late = (timezone.localdate() + datetime.timedelta(days=3)).isoformat()
        self.send(400, photos=[photo("edda-front-1", PLAYING)], filmed_on=late)
        self.student.consent_on = None
        self.student.save()
        self.assertIn("consent", self.send(400, photos=[photo("edda-front-1", PLAYING)])["detail"])
        self.assertEqual(Take.objects.count(), 0)
        self.client.force_login(self.stranger)
        self.send(404, photos=[photo("edda-front-1", PLAYING)])
