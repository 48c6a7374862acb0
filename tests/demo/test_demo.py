"""The demo band: made up, consistent, loaded once, in seconds, as it was read."""

from __future__ import annotations

import io
import json
import re
from pathlib import Path

import av
import numpy as np
from django.contrib.auth.models import User
from django.core.management import call_command
from django.test import SimpleTestCase

from sulvet.band.models import Student
from sulvet.core import EAR_VERSION
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.simulate import script
from sulvet.core.simulate.sound import tones as sounding
from sulvet.core.sound.notes import cents
from sulvet.demo import readings
from sulvet.demo.management.commands import load_demo
from sulvet.demo.scenario import STUDENTS, TAKES
from sulvet.takes import selectors
from sulvet.takes.intended import IntendedNote
from sulvet.takes.models import Take
from sulvet.takes.pages.summary import summary
from sulvet.takes.sound import listen
from tests import rendered
from tests.base import BandTestCase

FILMED = [take for student in STUDENTS for take in student.takes]


class ScenarioTests(SimpleTestCase):
    def test_names_are_told_apart_and_instruments_and_schools_exist(self) -> None:
        names = [student.name for student in STUDENTS]
        self.assertEqual(len({name.split()[0] for name in names}), len(names))
        for student in STUDENTS:
            shipped_standard(student.instrument).school(student.school or None)
            self.assertTrue(student.consent or not student.takes, student.name)

    def test_it_is_a_band_with_a_story_of_three_weeks(self) -> None:
        self.assertGreaterEqual(len(STUDENTS), 24)
        self.assertEqual(len({s.instrument for s in STUDENTS}), 8)
        self.assertGreaterEqual(len(FILMED), 30)
        self.assertTrue(all(0 <= take.days <= 21 for take in FILMED))
        self.assertTrue(any(not s.consent for s in STUDENTS))
        faults = {f.fault for take in FILMED for f in script.load(take.script).faults}
        self.assertLessEqual(
            {"smile", "puffed-cheeks", "double-lip", "bulging-chin", "loose-corners"}, faults
        )
        # One head is one student's, and a student has one head.
        heads = {
            (student.name, script.load(take.script).person)
            for student in STUDENTS
            for take in student.takes
        }
        self.assertEqual(len(heads), len({h for _, h in heads}))
        self.assertEqual(len(heads), len({n for n, _ in heads}))
        for student in STUDENTS:
            for take in student.takes:
                self.assertEqual(script.load(take.script).instrument, student.instrument)

    def test_every_clip_is_small_and_is_what_its_script_says(self) -> None:
        self.assertEqual(
            {take.name for take in FILMED}, {path.stem for path in TAKES.glob("*.yaml")}
        )
        for take in FILMED:
            filmed = script.load(take.script)
            self.assertLess(take.clip.stat().st_size, 450_000, take.name)
            with av.open(str(take.clip)) as container:
                packets = [p for p in container.demux(video=0) if p.pts is not None]
                times = sorted(float(p.pts * p.time_base) for p in packets)
            np.testing.assert_allclose(times, filmed.times(), atol=2e-3)
            np.testing.assert_allclose(
                readings.load(take.reading).marks.seconds, times, atol=2e-3, err_msg=take.name
            )

    def test_what_was_read_in_them_is_near_the_truth(self) -> None:
        """Corners and nose in rest and hold, in shares of the mouth's width."""
        for name in ("edda-front-16", "kaya-front-15", "carla-front-3"):
            take = next(t for t in FILMED if t.name == name)
            filmed, marks = script.load(take.script), readings.load(take.reading).marks
            for index in (10, len(marks) * 3 // 5):
                truth = rendered.moment_truth(filmed, index)
                corners = [np.array(truth.places[c]) for c in ("ch_r", "ch_l")]
                width = np.linalg.norm(corners[1] - corners[0])
                for mark in ("ch_r", "ch_l", "sn"):
                    if not truth.seen[mark] or marks.hidden[index, marks.column(mark)]:
                        continue
                    off = marks.xy[index, marks.column(mark)] - truth.places[mark]
                    self.assertLess(float(np.linalg.norm(off) / width), 0.13, (name, mark, index))

    def test_what_was_heard_in_them_is_what_their_scripts_sound(self) -> None:
        tones = 0
        for take in FILMED:
            filmed, heard = script.load(take.script), readings.heard(take.reading)
            sound = filmed.sound
            self.assertEqual(heard["ear"], EAR_VERSION)
            if sound is None or not sound.pitched or sound.glide:
                continue
            usual = float(script.embouchures()[filmed.instrument]["hz"])
            true = (sound.hz or usual) * 2 ** (sound.cents / 1200)
            told = heard["told"]["tones"]
            self.assertEqual(len(told), len(sounding(filmed)) + len(sound.tongue), take.name)
            for tone in told:
                # It drifts and wobbles about that by some cents.
                self.assertLess(abs(cents(tone["hz"], true)), 25, take.name)
            tones += 1
        self.assertGreater(tones, 30)
        # A descent by half steps is its seven notes.
        farid = next(take for take in FILMED if take.name == "farid-descent-2")
        steps = [tone["hz"] for tone in readings.heard(farid.reading)["told"]["tones"]]
        self.assertEqual([round(cents(hz, steps[0]), -2) for hz in steps],
                         [-100.0 * n for n in range(7)])  # fmt: skip
        # Stored is what listening gives now; the last digits are the machine's.
        noor = next(take for take in FILMED if take.name == "noor-front-1")
        now = listen(noor.clip, shipped_standard("saxophone"), IntendedNote())
        stored, fresh = (
            json.loads(json.dumps(words), parse_float=lambda digits: f"{float(digits):.9g}")
            for words in (readings.heard(noor.reading), now)
        )
        self.assertEqual(fresh, stored)


class LoadTests(BandTestCase):
    def test_it_is_loaded_once_and_can_be_logged_in_to(self) -> None:
        said = io.StringIO()
        call_command("load_demo", stdout=said)
        call_command("load_demo", stdout=said)
        demo = User.objects.get(username="demo")
        students = Student.objects.filter(section__band__teacher=demo)
        self.assertEqual(students.count(), len(STUDENTS))
        takes = {t.original_name.removesuffix(".mp4"): t for t in selectors.takes_of(demo)}
        self.assertEqual(set(takes), {take.name for take in FILMED})
        self.assertLessEqual(
            {t.state for t in takes.values()}, {Take.State.READY, Take.State.NEEDS_MARKS}
        )
        self.assertTrue(all(t.proxy.exists() and t.clip.exists() for t in takes.values()))
        self.assertEqual(summary(takes["edda-front-16"]).focus, "smile")
        self.assertEqual(summary(takes["edda-front-12"]).focus, "rim-low")
        self.assertEqual(summary(takes["edda-front-1"]).result, "clear")
        # A chin that learns to stay down in two weeks: first while the tone is held, then from its
        # start on.
        chin = [summary(takes[f"aino-side-{days}"]) for days in (14, 7, 0)]
        self.assertEqual([one.focus for one in chin[:2]], ["bulging-chin", "collapse-at-start"])
        self.assertEqual([one.result for one in chin[:2]], ["fault", "fault"])
        # How much red shows beside a mouthpiece is seen, but not surely enough to be a check.
        self.assertEqual((chin[2].focus, chin[2].result), (None, "unchecked"))
        self.assertEqual(takes["jonas-front-2"].state, Take.State.NEEDS_MARKS)
        self.assertEqual(summary(takes["ida-front-5"]).result, "cant-tell")
        self.assertTrue(demo.check_password("sulvet-demo"))
        # What run.py prints is what lets one in.
        printed = (Path(load_demo.__file__).parents[4] / "run.py").read_text()
        self.assertRegex(printed, rf"Demo login +{re.escape(load_demo.NAME)}")
        self.assertIn(load_demo.PASSWORD, printed)
