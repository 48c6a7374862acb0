"""The exercise that tells how sure a teacher's hand is, and a length the teacher knows."""

from __future__ import annotations

from typing import Any

from django.urls import reverse

from sulvet.core.formats.coco import PLACED_SIGMA
from sulvet.hand.faces import FACES, LANDMARKS, WIDTH
from sulvet.hand.models import HandMark
from sulvet.hand.selectors import hand_error
from sulvet.takes import marking
from sulvet.takes.models import Mark, Take
from tests.base import BandTestCase


class HandTests(BandTestCase):
    def ask(self, method: str, **body: Any) -> Any:
        send = getattr(self.client, method)
        return send(reverse("hand"), body, content_type="application/json")

    def do_all(self, off: float) -> Any:
        """Both rounds; the second lies ``off`` pixels to the right and below."""
        answer = self.client.get(reverse("hand")).json()
        while answer["next"]:
            asked = answer["next"]
            shift = off if asked["round"] == 2 else 0.0
            answer = self.ask("put", **asked, x=300 + shift, y=200 + shift).json()
        return answer

    def test_two_rounds_give_the_technical_error_and_it_goes_into_the_next_mark(self) -> None:
        take = self.add_take(state=Take.State.READY, width=1920, height=1080,
                             frame_times=[0.0, 0.04])  # fmt: skip
        self.assertEqual(marking._hand(take, "ch_r"), PLACED_SIGMA)
        answer = self.do_all(off=2.0)
        self.assertEqual((answer["done"], answer["next"]), (2 * FACES * len(LANDMARKS), None))
        # d is 2 in every pair: sqrt(sum d² / 2 n) = sqrt(2), on pictures of 960 pixels.
        for error in answer["hand_errors"]:
            self.assertAlmostEqual(error["pixels"], 2**0.5, places=2)
        # The take is twice as wide; a mark the exercise does not hold gets the mean.
        for landmark in ("ch_r", "rim_1"):
            self.assertAlmostEqual(marking._hand(take, landmark), 2 * 2**0.5, places=6)
        self.assertIsNone(hand_error(self.stranger, "ch_r", WIDTH))

    def test_half_an_exercise_says_nothing_and_can_be_gone_on_with(self) -> None:
        first = self.client.get(reverse("hand")).json()["next"]
        self.ask("put", **first, x=1, y=2)
        stands = self.client.get(reverse("hand")).json()
        self.assertEqual((stands["done"], stands["hand_errors"]), (1, []))
        self.assertNotEqual(stands["next"], first)
        self.assertIsNone(hand_error(self.teacher, "ch_r", WIDTH))

    def test_a_wrong_mark_gets_a_sentence_and_nothing_is_kept(self) -> None:
        for wrong in ({"face": 11}, {"landmark": "pg"}, {"x": 2000.0}, {"round": 3}):
            body = {"round": 1, "face": 1, "landmark": "ch_r", "x": 10.0, "y": 10.0} | wrong
            self.assertEqual(self.ask("put", **body).status_code, 400, wrong)
        self.assertEqual(HandMark.objects.count(), 0)

    def test_it_is_the_teachers_own_and_can_be_begun_anew(self) -> None:
        self.do_all(off=1.0)
        self.client.force_login(self.stranger)
        self.assertEqual(self.client.get(reverse("hand")).json()["done"], 0)
        self.client.force_login(self.teacher)
        self.assertEqual(self.ask("delete").json()["done"], 0)
        self.client.logout()
        self.assertEqual(self.client.get(reverse("hand")).status_code, 403)
        self.assertEqual(self.client.get(reverse("hand-face", args=[1])).status_code, 403)

    def test_all_faces_are_there(self) -> None:
        for face in range(1, FACES + 1):
            answer = self.client.get(reverse("hand-face", args=[face]))
            self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "image/jpeg"))
            self.assertGreater(len(b"".join(answer)), 10_000)
        self.assertEqual(self.client.get(reverse("hand-face", args=[11])).status_code, 404)


class KnownLengthTests(BandTestCase):
    def put(self, take: Take, known_mm: float | None) -> Any:
        where = reverse("scale", args=[take.pk])
        return self.client.put(where, {"known_mm": known_mm}, content_type="application/json")

    def test_a_length_is_kept_and_used_and_taken_back(self) -> None:
        take = self.add_ready()
        page = self.put(take, 10.0).json()
        self.assertEqual(page["known_length"]["mm"], 10.0)
        # The made-up marks of this test have irises, and no marked length yet.
        self.assertEqual(page["scale"]["taken_from"], "iris")
        self.assertIsNone(self.put(take, None).json()["known_length"]["mm"])

    def test_no_length_is_longer_than_a_ruler_beside_a_mouth(self) -> None:
        take = self.add_ready()
        answer = self.put(take, 2000.0)
        self.assertEqual(answer.status_code, 400)
        self.assertIn("between 3 and 300 mm", answer.json()["detail"])

    def test_nobody_else_sets_it(self) -> None:
        take = self.add_ready()
        self.client.force_login(self.stranger)
        self.assertEqual(self.put(take, 10.0).status_code, 404)
        take.refresh_from_db()
        self.assertIsNone(take.known_mm)
        self.assertEqual(Mark.objects.filter(source=Mark.Source.PLACED).count(), 0)
