"""What is heard of a take over HTTP: listened to once, aimed by the teacher, kept from others."""

from __future__ import annotations

import json
from statistics import median
from typing import Any
from unittest import mock

from django.test import Client
from django.urls import reverse

from sulvet.core import sandbox
from sulvet.core.judgement.results import CANT_TELL, IN_BAND, WATCH
from sulvet.core.video.clip import ClipError
from sulvet.lessons.models import GivenDrill
from sulvet.plans.models import Plan, Recheck
from sulvet.plans.verdicts import began_at, verdict_on
from sulvet.takes import analysis, listening
from sulvet.takes.intended import NoteDefaults, note_defaults
from sulvet.takes.models import Take, TakeAnalysis, TakeSound
from tests.records.base import DAYS, RecordCase


class EarTests(RecordCase):
    def setUp(self) -> None:
        super().setUp()
        self.player = self.add_student("Aino", instrument="clarinet")
        self.take = self.from_demo("aino-front-0", 0, self.player)
        self.address = reverse("sound", args=[self.take.pk])

    def reading(self, page: Any, measure: str) -> Any:
        return next(r for r in page["readings"] if r["measure"] == measure)

    def test_a_note_set_while_marks_are_measured_leaves_no_old_judgement_unsaid(self) -> None:
        self.sent("post", self.address)
        self.assertFalse(self.sent("get", reverse("take", args=[self.take.pk]))["stale"])
        make = analysis.make

        def make_while_a_note_is_set(take: Take, material: Any = None) -> analysis.Made:
            made = make(take, material)
            with mock.patch.object(analysis, "make", make):
                self.sent("put", self.address, {"stage": "mouthpiece", "pitch": "F6", "a4": 440.0})
            return made

        mark = {"landmark": "ch_r", "frame": 0, "x": 300.0, "y": 300.0}
        with mock.patch.object(analysis, "make", make_while_a_note_is_set):
            self.sent("put", reverse("marks", args=[self.take.pk]), {"marks": [mark]})
        self.assertTrue(self.sent("get", reverse("take", args=[self.take.pk]))["stale"])
        self.assertFalse(self.sent("post", reverse("refresh", args=[self.take.pk]))["stale"])
        heard = self.sent("get", self.address)
        self.assertAlmostEqual(self.reading(heard, "pitch")["value"], 103.0, delta=4.0)

    def test_marks_moved_while_it_is_listened_to_leave_no_old_judgement_unsaid(self) -> None:
        take = Take.objects.get(pk=self.take.pk)
        Take.objects.filter(pk=take.pk).update(revision=take.revision + 1)
        listening.listen(take)
        self.assertTrue(self.sent("get", reverse("take", args=[take.pk]))["stale"])

    def test_a_full_disk_is_not_kept_as_a_clip_without_sound(self) -> None:
        full = ClipError(sandbox.NO_ROOM)
        with mock.patch.object(sandbox, "hear", side_effect=full), self.assertRaises(OSError):
            listening.listen(self.take)
        self.assertFalse(TakeSound.objects.exists())
        listening.listen(self.take)
        self.assertTrue(TakeSound.objects.get().heard["has_sound"])

    def test_a_take_is_listened_to_once_and_anew_for_another_note(self) -> None:
        with mock.patch.object(sandbox, "hear", wraps=sandbox.hear) as hear:
            page = self.sent("post", self.address)
            self.assertEqual(self.sent("post", self.address), page)
            self.assertEqual(hear.call_count, 1)
        # The script of this take: F#6 on the mouthpiece, 3 cents high, tongued.
        self.assertEqual((page["pitch"], page["stage"], page["chosen"]),
                         ("F#6", "mouthpiece", False))  # fmt: skip
        self.assertEqual(page["written"], "G#6")
        self.assertEqual([s["label"] for s in page["stages"]],
                         ["mouthpiece and barrel", "the instrument"])  # fmt: skip
        self.assertAlmostEqual(page["tone"]["cents"], 3.0, delta=4.0)
        self.assertEqual(page["tone"]["begins"], "tongued")
        self.assertEqual(self.reading(page, "pitch")["verdict"], "in band")
        self.check_staves(page["tone"])
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
        with mock.patch.object(sandbox, "hear", side_effect=AssertionError("heard again")):
            faster = self.sent("put", self.address, {"tempo": 120.0})
        lasts = free["tone"]["end"] - free["tone"]["start"]
        self.assertEqual(faster["tone"]["counts"], int(2 * lasts + 0.1))

    def check_staves(self, tone: Any) -> None:
        """Pitch and loudness stand on the score, and tell where the tone sounds."""
        pitch, loud = self.sent("get", reverse("take", args=[self.take.pk]))["tone"]
        times = Take.objects.get(pk=self.take.pk).frame_times
        self.assertEqual({len(s[k]) for s in (pitch, loud) for k in ("value", "sounding")},
                         {len(times)})  # fmt: skip
        sounding = [t for t, v in zip(times, pitch["value"], strict=True) if v is not None]
        self.assertAlmostEqual(sounding[0], tone["start"], delta=0.1)
        self.assertAlmostEqual(sounding[-1], tone["end"], delta=0.1)
        levels: dict[bool, list[float]] = {True: [], False: []}
        for level, sounds in zip(loud["value"], loud["sounding"], strict=True):
            levels[sounds].append(level)
        # Loudness counts from the room, and a tone stands well over it.
        self.assertLess(abs(median(levels[False])), 8)
        self.assertGreater(median(levels[True]), 20)

    def bench(self, take: Take) -> Any:
        return self.sent("get", reverse("take", args=[take.pk]))

    def called(self, bench: Any) -> list[Any]:
        """What is found to be wrong, beside what the picture can't tell."""
        return [found for found in bench["findings"] if found["verdict"] != CANT_TELL]

    def test_what_is_heard_is_judged_with_what_is_seen(self) -> None:
        player = self.add_student("Noor", instrument="saxophone")
        take = self.from_demo("noor-front-1", 0, player)
        bench = self.bench(take)
        self.assertEqual((bench["tone"], self.called(bench)), ([], []))
        page = self.sent("post", reverse("sound", args=[take.pk]))
        bench = self.bench(take)
        # 160 cents over the target, under a mouthpiece that covers the jaw's sight.
        (biting,) = self.called(bench)
        self.assertEqual((biting["fault"], biting["verdict"]), ("biting", "watch"))
        self.assertIn("Heard alone", biting["reason"])
        self.assertAlmostEqual(biting["start"], page["tone"]["start"], places=3)
        self.assertEqual([e["measure"] for e in biting["evidence"]], ["pitch"])
        self.assertIn("hold_time", {r["measure"] for r in bench["readings"]})
        self.assertEqual([s["shown"] for s in bench["tone"]], [True, False])
        self.assertEqual(page["suspected"], [])
        # Played for the note it was, nothing is bitten.
        self.sent("put", reverse("sound", args=[take.pk]), {"pitch": "B5", "stage": "mouthpiece"})
        self.assertEqual(self.called(self.bench(take)), [])
        # What another ear has heard counts no more, and is listened to when that is asked for.
        TakeSound.objects.update(heard={"ear": "0"})
        TakeAnalysis.objects.update(ear="0")
        bench = self.bench(take)
        self.assertEqual((bench["stale"], bench["tone"]), (True, []))
        bench = self.sent("post", reverse("refresh", args=[take.pk]))
        self.assertEqual(len(bench["tone"]), 2)
        self.assertEqual(TakeSound.objects.get(take=take).heard["pitch"], "B5")

    def test_a_plan_on_what_is_heard_is_answered_by_the_ear(self) -> None:
        player = self.add_student("Noor", instrument="saxophone")
        bitten = self.from_demo("noor-front-1", 14, player, heard=True)
        plan = Plan.objects.create(
            student=player, fault="biting", view="front", stage="mouthpiece", minutes=8,
            take=bitten, began_at=began_at(bitten, "biting"), started_on=bitten.filmed_on,
        )  # fmt: skip
        self.assertEqual((plan.began_at["measure"], plan.began_at["edge"]), ("pitch", 50.0))
        self.assertEqual(verdict_on(plan, bitten), WATCH)
        # In tune two weeks later; nobody can tell of a take that was not listened to.
        unheard = self.from_demo("bram-front-5", 0, player)
        self.assertEqual(verdict_on(plan, unheard), CANT_TELL)
        tuned = self.from_demo("bram-front-5", 0, player, heard=True)
        self.assertEqual(verdict_on(plan, tuned), IN_BAND)
        pair = self.sent(
            "get",
            reverse("then-and-now", args=[player.pk]) + f"?then={bitten.pk}&now={tuned.pk}",
        )["pair"]
        self.assertEqual(pair["measures"][0], "pitch")
        lower = next(c for c in pair["changes"] if c["measure"] == "pitch")
        self.assertEqual((lower["answer"], lower["focus"]), ("clearly better", True))
        self.assertIn("lower by", lower["sentence"])

    def test_the_plan_s_drill_is_held_against_the_tones(self) -> None:
        drills = reverse("exercises", args=[self.take.pk])
        self.sent("post", self.address)
        self.assertEqual(self.sent("get", drills), [])
        plan = Plan.objects.create(
            student=self.player, fault="loose-corners", view="front", stage="mouthpiece", minutes=8,
            drills=["four-by-four", "mirror-form"], started_on=self.today,
        )  # fmt: skip
        (drill,) = self.sent("get", drills)
        self.assertEqual((drill["name"], drill["why"]), ("Four by four", "plan"))
        (beat,) = drill["places"]
        # The script's tone lasts some 2.6 s: no four counts at 60, but at 92 it is.
        told = beat["counts"], beat["words"], drill["right"], drill["expected"], drill["passed"]
        self.assertEqual(told, (4, "short", 0, 4, False))
        self.sent("put", self.address, {"tempo": 92.0})
        (drill,) = self.sent("get", drills)
        self.assertEqual((drill["tempo"], drill["right"], drill["passed"]), (92.0, 1, True))
        self.assertAlmostEqual(drill["places"][0]["heard"], beat["heard"] * 92 / 60, delta=0.01)
        # Where the take answers a recheck, the recheck says how the drill was played.
        Take.objects.filter(pk=self.take.pk).update(filmed_on=self.today + DAYS)
        recheck = Recheck.objects.create(plan=plan, day=7, due_on=self.today + DAYS)
        running = self.sent("get", reverse("plans", args=[self.player.pk]))["running"]
        self.assertEqual(running["rechecks"][0]["heard"],
                         "Four by four: 1 of 1 right.")  # fmt: skip
        # A face that is right has not passed while the exercise is not: the mark is over the row.
        self.assertEqual(running["rechecks"][0]["says"]["answer"], "carry on")
        self.sent("put", self.address, {"tempo": 60.0})
        running = self.sent("get", reverse("plans", args=[self.player.pk]))["running"]
        self.assertIn("Four by four: 0 of 1 right. Number 1: short.",
                      running["rechecks"][0]["says"]["why"])  # fmt: skip
        recheck.delete()
        # A plan that is over counts only for the takes it was rechecked with.
        plan.state = Plan.State.PASSED
        plan.save()
        self.assertEqual(self.sent("get", drills), [])
        Recheck.objects.create(plan=plan, day=7, due_on=self.today, take=self.take)
        self.assertEqual(len(self.sent("get", drills)), 1)
        # What was given as an exercise is asked for as well.
        GivenDrill.objects.create(
            student=self.player, drill="hold-out", stage="mouthpiece", given_on=self.today,
            until=self.today + DAYS,
        )  # fmt: skip
        whys = [one["why"] for one in self.sent("get", drills)]
        self.assertEqual(whys, ["plan", "given"])

    def test_tuning_and_notes_that_were_said_hold_for_the_next_take(self) -> None:
        first = self.sent("post", self.address)
        self.assertEqual((first["a4"], first["stage_label"]), (440.0, "mouthpiece and barrel"))
        self.sent("put", self.address, {"stage": "mouthpiece", "pitch": "F6", "a4": 443.0})
        again = self.from_demo("aino-front-0", 0, self.player)
        page = self.sent("post", reverse("sound", args=[again.pk]))
        # F6 was said, but F#6 lies nearer to what is played.
        self.assertEqual((page["pitch"], page["a4"], page["chosen"]), ("F#6", 443.0, False))
        # 443 for 440 Hz lies 11.8 cents higher.
        self.assertAlmostEqual(page["tone"]["cents"], 3.0 - 11.8, delta=4.0)
        self.assertEqual(note_defaults(again), NoteDefaults(443.0, (("mouthpiece", "F6"),)))
        # The tuning is the whole band's, the note this student's alone.
        other = self.from_demo("aino-front-0", 0, self.add_student("Oskar", instrument="clarinet"))
        self.assertEqual(note_defaults(other), NoteDefaults(443.0, ()))

    def test_wrong_notes_get_a_sentence_and_change_nothing(self) -> None:
        before = self.sent("post", self.address)
        for body, words in (
            ({"pitch": "H4"}, "no note"),
            ({"pitch": "C1"}, "not a note a clarinet plays"),
            ({"stage": "lips"}, "no tone on “lips”"),
            ({"a4": 300.0}, "A4 must be between"),
            ({"tempo": 500.0}, "tempo must be between"),
        ):
            self.assertIn(words, self.sent("put", self.address, body, 400)["detail"])
        self.assertEqual(self.sent("post", self.address), before)

    def test_no_sound_is_said(self) -> None:
        with mock.patch.object(sandbox, "hear", return_value=False):
            page = self.sent("post", self.address)
        self.assertFalse(page["has_sound"])
        self.assertIn("no sound", page["sentences"][0])
        self.assertIsNone(page["tone"])
        self.assertEqual(self.bench(self.take)["tone"], [])

    def test_nobody_else_hears_it(self) -> None:
        stranger = Client()
        stranger.force_login(self.stranger)
        for method, body in (("GET", None), ("PUT", {"pitch": "F6"})):
            answer = stranger.generic(method, self.address, json.dumps(body), "application/json")
            self.assertEqual(answer.status_code, 404)
        drills = reverse("exercises", args=[self.take.pk])
        self.assertEqual(stranger.get(drills).status_code, 404)
        for address in (self.address, drills):
            self.assertEqual(Client().get(address).status_code, 403)
