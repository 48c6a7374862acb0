"""What is heard of a take over HTTP: listened to once, aimed by the teacher, kept from others."""

from __future__ import annotations

import json
from typing import Any
from unittest import mock

from django.test import Client
from django.urls import reverse

from sulvet.core import sandbox
from sulvet.takes.models import Take
from tests.web.test_records import RecordCase


class EarTests(RecordCase):
    def setUp(self) -> None:
        super().setUp()
        self.player = self.add_student("Aino", instrument="clarinet")
        self.take = self.from_demo("aino-front-0", 0, self.player)
        self.address = reverse("ear", args=[self.take.pk])

    def reading(self, page: Any, measure: str) -> Any:
        return next(r for r in page["readings"] if r["measure"] == measure)

    def test_a_take_is_listened_to_once_and_anew_for_another_note(self) -> None:
        with mock.patch.object(sandbox, "hear", wraps=sandbox.hear) as hear:
            page = self.sent("get", self.address)
            self.assertEqual(self.sent("get", self.address), page)
            self.assertEqual(hear.call_count, 1)
        # The script of this take: F#6 on the mouthpiece, 3 cents high, tongued.
        self.assertEqual((page["pitch"], page["stage"], page["chosen"]),
                         ("F#6", "mouthpiece", False))  # fmt: skip
        self.assertEqual(page["written"], "G#6")
        self.assertAlmostEqual(page["tone"]["cents"], 3.0, delta=4.0)
        self.assertEqual(page["tone"]["begins"], "tongued")
        self.assertEqual(self.reading(page, "pitch")["verdict"], "in band")
        (stave,) = page["series"]
        take = Take.objects.get(pk=self.take.pk)
        self.assertEqual(len(stave["value"]), len(take.frame_times))
        sounding = [t for t, v in zip(take.frame_times, stave["value"], strict=True)
                    if v is not None]  # fmt: skip
        self.assertAlmostEqual(sounding[0], page["tone"]["start"], delta=0.1)
        self.assertAlmostEqual(sounding[-1], page["tone"]["end"], delta=0.1)
        # Played for a note a half step lower it is a half step too high.
        aimed = {"stage": "mouthpiece", "pitch": "F6", "a4": 440.0}
        page = self.sent("put", self.address, aimed)
        self.assertTrue(page["chosen"])
        self.assertAlmostEqual(page["tone"]["cents"], 103.0, delta=4.0)
        self.assertIn(self.reading(page, "pitch")["verdict"], ("watch", "fault"))
        higher = self.sent("put", self.address, {**aimed, "pitch": "F#6", "a4": 446.0})
        # 446 for 440 Hz lies 23.4 cents higher (1200 times the binary logarithm of their ratio).
        self.assertAlmostEqual(higher["tone"]["cents"], 3.0 - 23.4, delta=4.0)
        free = self.sent("put", self.address, {})
        self.assertEqual((free["pitch"], free["chosen"]), ("F#6", False))

    def test_wrong_notes_get_a_sentence_and_change_nothing(self) -> None:
        before = self.sent("get", self.address)
        for body, words in (
            ({"pitch": "H4"}, "no note"),
            ({"pitch": "C1"}, "nothing that a clarinet plays"),
            ({"stage": "lips"}, "no tone on “lips”"),
            ({"a4": 300.0}, "A4 lies between"),
        ):
            self.assertIn(words, self.sent("put", self.address, body, 400)["detail"])
        self.assertEqual(self.sent("get", self.address), before)

    def test_no_sound_is_said(self) -> None:
        with mock.patch.object(sandbox, "hear", return_value=False):
            page = self.sent("get", self.address)
        self.assertFalse(page["has_sound"])
        self.assertIn("no sound", page["says"][0])
        self.assertEqual((page["series"], page["tone"]), ([], None))

    def test_nobody_else_hears_it(self) -> None:
        stranger = Client()
        stranger.force_login(self.stranger)
        for method, body in (("GET", None), ("PUT", {"pitch": "F6"})):
            answer = stranger.generic(method, self.address, json.dumps(body), "application/json")
            self.assertEqual(answer.status_code, 404)
        self.assertEqual(Client().get(self.address).status_code, 403)
