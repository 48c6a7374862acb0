"""The booth: what it can do, and that nothing else is open to it."""

from __future__ import annotations

import datetime
import json
from typing import Any
from unittest import mock

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from django.utils import timezone

from sulvet.band.models import Student
from sulvet.booth.models import Booth, BoothTake
from sulvet.booth.pages import first_names
from sulvet.core import sandbox
from sulvet.core.lessons.booth import booth, stretches
from sulvet.core.phases import PHASES
from sulvet.core.sound.notes import hz_of
from sulvet.core.video.clip import Reader, fit
from sulvet.demo.scenario import TAKES
from sulvet.takes import tracks
from sulvet.takes.models import Take
from tests.base import BandTestCase
from tests.operations import operations

CLIP = TAKES / "ida-front-5.mp4"


class BoothTests(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.booth = self.opened()

    def opened(self, **given: Any) -> dict[str, Any]:
        """A booth for the student's section, opened by the teacher."""
        body = {"section": self.student.section_id, "counts": 4, **given}
        return dict(self.sent("post", reverse("open-booth"), body, 201))

    def film(self, expect: int = 201, **given: Any) -> dict[str, Any]:
        clip = SimpleUploadedFile("booth.mp4", CLIP.read_bytes(), "video/mp4")
        body = {"student": self.student.pk, "view": "front", "clip": clip, **given}
        answer = self.client.post(reverse("booth-takes"), body)
        self.assertEqual(answer.status_code, expect, answer.content)
        return dict(answer.json())

    def test_it_knows_first_names_and_prompts_alone(self) -> None:
        (one,) = self.booth["students"]
        self.assertEqual((one["name"], one["front"], one["why_not"]), ("Edda", None, ""))
        self.assertEqual([p["id"] for p in self.booth["prompts"]][:2], ["rest", "form"])
        self.assertEqual(sum(p["seconds"] for p in self.booth["prompts"]), 17.0)
        self.assertFalse(self.booth["stand_in"])
        self.assertEqual(self.sent("get", reverse("booth")), self.booth)
        session = self.sent("get", "/api/session/")
        self.assertEqual((session["username"], session["booth"]), (None, True))

    def test_nothing_else_answers_it(self) -> None:
        """Every address and method of the schema: only the booth's own say anything."""
        tried = 0
        for method, address, path in operations(self.student.pk):
            # What anybody may ask under a signed address wants that, and none is signed here.
            if path.startswith(
                ("/api/booth/", "/api/session/", "/api/film/", "/api/eye/open/{", "/api/join/")
            ):
                continue
            answer = getattr(self.client, method)(address, {}, content_type="application/json")
            known = path.startswith("/api/first-account")
            self.assertIn(answer.status_code, (403, 404, 405) if not known else (400, 403),
                          (method, address, answer.content[:80]))  # fmt: skip
            tried += 1
        self.assertGreater(tried, 100)
        take = self.add_take()
        for address in (f"/private/takes/{take.pk}/clip.mp4", f"/private/takes/{take.pk}/tone.wav",
                        f"/private/stand-in/{self.student.pk}-front.mp4"):  # fmt: skip
            self.assertEqual(self.client.get(address).status_code, 404)

    def test_a_take_waits_under_the_right_student_with_its_prompts(self) -> None:
        with mock.patch.object(sandbox, "first_look", return_value="") as looked:
            filmed = self.film()
        self.assertEqual((filmed["readable"], filmed["advice"]), (True, ""))
        self.assertEqual(looked.call_args.args[3:5], ((0.0, 3.0), (11.0, 15.0)))
        take = Take.objects.get()
        self.assertEqual((take.student, take.view, take.state), (self.student, "front", "waiting"))
        phases = tracks.prompted(take)
        assert phases is not None
        self.assertEqual((phases[0].name, phases[0].end), ("rest", 3.0))
        self.assertTrue({p.name for p in phases} <= set(PHASES))
        # Seen here again after a reload, and never as more than that it is there.
        (one,) = self.sent("get", reverse("booth"))["students"]
        self.assertEqual(one["front"], take.pk)

    def test_what_cannot_be_read_is_filmed_again(self) -> None:
        first = self.film()
        # The prompts ask for the tone after this clip has ended.
        self.assertEqual(first["readable"], False)
        self.assertIn("No tone was heard", first["advice"])
        # To the student it is as if nothing had been filmed.
        self.assertIsNone(self.sent("get", reverse("booth"))["students"][0]["front"])
        with mock.patch.object(sandbox, "first_look", return_value=""):
            second = self.film(again=first["take"])
        self.assertEqual([take.pk for take in Take.objects.all()], [second["take"]])
        # Nobody's take but one of this booth goes, nor one that the teacher has looked at.
        other = self.add_take()
        Take.objects.filter(pk=second["take"]).update(read_at=timezone.now())
        with mock.patch.object(sandbox, "first_look", return_value=""):
            for number in (other.pk, second["take"]):
                self.film(again=number)
        self.assertEqual(Take.objects.count(), 4)

    def mirror(self, expect: int = 200, **given: Any) -> dict[str, Any]:
        state = {
            "rest": [],
            "recent": [],
            "words": "",
            "next": "",
            "since": 0,
            "held": 0,
            "held_on": "",
        }
        pixels = SimpleUploadedFile("pixels", given.pop("pixels", bytes(64 * 48 * 3)))
        body = {
            "student": self.student.pk,
            "view": "front",
            "width": 64,
            "height": 48,
            "resting": True,
            "passed": 0.1,
            "state": json.dumps(state),
            "pixels": pixels,
        }
        answer = self.client.post(reverse("mirror"), {**body, **given})  # fmt: skip
        self.assertEqual(answer.status_code, expect, answer.content)
        return dict(answer.json())

    def test_the_mirror_keeps_nothing(self) -> None:
        with CaptureQueriesContext(connection) as queries:
            said = self.mirror()
        self.assertEqual((said["found"], said["state"]["rest"]), (False, []))
        self.assertFalse([q for q in queries if not q["sql"].startswith(("SELECT", "SAVE", "REL"))])
        frame = next(iter(Reader(CLIP).frames()))
        picture = fit(frame.picture("rgb24"), 384)
        height, width = picture.shape[:2]
        said = self.mirror(pixels=picture.tobytes(), width=width, height=height)
        self.assertTrue(said["found"])
        (seen,) = said["state"]["rest"]
        self.assertLessEqual({"ch_r", "ch_l", "ls", "li", "cph_r", "cph_l"}, set(seen))
        # Few pictures a second are no reason to be late: the last moments are as long.
        five = {**said["state"], "recent": [seen] * 5}
        for passed, kept in ((0.1, 5), (0.7, 2)):
            later = self.mirror(
                pixels=picture.tobytes(), width=width, height=height, resting=False,
                passed=passed, state=json.dumps(five),
            )  # fmt: skip
            self.assertEqual(len(later["state"]["recent"]), kept)

    def test_the_mirror_names_the_note_that_sounds(self) -> None:
        wave = np.sin(2 * np.pi * hz_of("F4") * np.arange(16384) / 48000) * 8000
        sound = SimpleUploadedFile("sound", wave.astype("<i2").tobytes())
        said = self.mirror(sound=sound)
        self.assertEqual((said["note"], said["cents"]), ("F4", 0))
        # Held on a note only while the shape is good; there is no face here.
        self.assertEqual((said["state"]["held_on"], said["lines"]), ("", []))
        self.assertEqual((self.mirror()["note"], self.mirror()["cents"]), ("", None))

    def test_the_one_thing_is_shown_where_the_teacher_allows_it(self) -> None:
        Student.objects.filter(pk=self.student.pk).update(focus="smile")
        self.assertEqual(self.sent("get", reverse("booth"))["students"][0]["focus"], "")
        Booth.objects.update(focus=True)
        self.assertIn("mmm", self.sent("get", reverse("booth"))["students"][0]["focus"])

    def test_what_the_mirror_cannot_use_is_refused(self) -> None:
        for odd in (
            {"sound": SimpleUploadedFile("sound", bytes(48002))}, {"width": 65},
            {"width": 4000, "height": 4000}, {"state": "x"}, {"state": "[]"},
            {"state": json.dumps({"rest": [{"ch_r": [1, 2]}], "recent": [], "words": "",
                                  "next": "", "since": 0, "held": 0, "held_on": ""})},
            {"state": json.dumps({"rest": [{"nose": [1, 2, 3]}], "recent": [], "words": "",
                                  "next": "", "since": 0, "held": 0, "held_on": ""})},
            {"state": json.dumps({"rest": [], "recent": [], "words": "", "next": "",
                                  "since": float("nan"), "held": 0, "held_on": ""})},
            {"state": json.dumps({"rest": [{}] * 9, "recent": [], "words": "", "next": "",
                                  "since": 0, "held": 0, "held_on": ""})},
        ):  # fmt: skip
            self.assertIn("detail", self.mirror(400, **odd))

    def test_who_may_not_film(self) -> None:
        elsewhere = self.add_student("Nils", instrument="flute")
        self.assertIn("not on this screen", self.film(400, student=elsewhere.pk)["detail"])
        self.student.consent_on = None
        self.student.save()
        (one,) = self.sent("get", reverse("booth"))["students"]
        self.assertIn("consent", one["why_not"])
        self.assertIn("consent", self.film(400)["detail"])
        self.assertEqual((Take.objects.count(), BoothTake.objects.count()), (0, 0))

    def test_only_the_teacher_ends_it(self) -> None:
        self.sent("post", reverse("end-booth"), {"password": "guess"}, 400)
        self.assertEqual(self.sent("get", reverse("booth"))["section"], self.booth["section"])
        self.teacher.set_password("a-long-word")
        self.teacher.save()
        self.sent("post", reverse("end-booth"), {"password": "a-long-word"}, 204)
        self.assertEqual(self.sent("get", "/api/session/")["username"], "teacher")
        self.sent("get", reverse("booth"), expect=403)
        self.sent("get", "/api/band/")

    def test_it_ends_by_itself_and_wants_a_token(self) -> None:
        strict = Client(enforce_csrf_checks=True)
        strict.cookies = self.client.cookies
        self.assertEqual(strict.post(reverse("booth-takes"), {}).status_code, 403)
        Booth.objects.update(until=timezone.now() - datetime.timedelta(minutes=1))
        self.assertIn("closed", self.sent("get", reverse("booth"), expect=403)["detail"])
        self.film(403)

    def test_another_teachers_section_and_strange_counts(self) -> None:
        self.client.force_login(self.stranger)
        body = {"section": self.student.section_id, "counts": 4}
        self.sent("post", reverse("open-booth"), body, 404)
        self.client.force_login(self.teacher)
        self.sent("post", reverse("open-booth"), {**body, "counts": 5}, 400)

    def test_two_of_one_name_are_told_apart(self) -> None:
        rows = [self.add_student(n) for n in ("Ada Lund", "Ada Berg", "Edo", "Mia Ott", "Mia Oss")]
        self.assertEqual(list(first_names(rows).values()),
                         ["Ada L.", "Ada B.", "Edo", "Mia Ott", "Mia Oss"])  # fmt: skip

    def test_prompts_lie_one_after_the_other(self) -> None:
        for counts in booth().counts:
            spans = list(stretches(counts).values())
            self.assertEqual([a for a, _ in spans], [0.0, *(b for _, b in spans[:-1])])
            self.assertEqual(stretches(counts)["hold"][1] - stretches(counts)["hold"][0], counts)
