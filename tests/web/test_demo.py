"""The demo band: made up, consistent, loaded once."""

from __future__ import annotations

import io
import re
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from unittest import mock

from django.contrib.auth.models import User
from django.core.management import call_command

from sulvet.band.models import Student
from sulvet.core.judgement.standards import standard
from sulvet.demo.management.commands import load_demo
from sulvet.demo.scenario import STUDENTS
from sulvet.takes.models import Take
from tests.clips import NEUTRAL, clip
from tests.web.base import BandTestCase


class ScenarioTests(BandTestCase):
    def test_names_are_told_apart_and_instruments_and_schools_exist(self) -> None:
        names = [student.name for student in STUDENTS]
        self.assertEqual(len({name.split()[0] for name in names}), len(names))
        for student in STUDENTS:
            standard(student.instrument).school(student.school or None)
            self.assertTrue(student.consent or not student.takes, student.name)

    def test_it_shows_what_a_teacher_has_to_see(self) -> None:
        takes = [take.script.held for student in STUDENTS for take in student.takes]
        self.assertTrue(any(t.rise >= 8 and t.width >= 1.12 for t in takes), "a smile")
        self.assertTrue(any(t.rim > 0 for t in takes), "a mouthpiece")
        self.assertTrue(any(t.zoom > 2 for t in takes), "a close-up")
        self.assertTrue(any(not student.consent for student in STUDENTS), "no consent")

    def test_it_is_loaded_once_and_can_be_logged_in_to(self) -> None:
        def paint(job: tuple[object, Path]) -> None:
            job[1].write_bytes(clip(NEUTRAL).read_bytes())

        def read(take_id: int, job: str) -> None:
            Take.objects.filter(pk=take_id, job=job).update(state=Take.State.READY)

        said = io.StringIO()
        with (
            mock.patch.object(load_demo, "_paint", paint),
            mock.patch.object(load_demo, "ProcessPoolExecutor", ThreadPoolExecutor),
            mock.patch(f"{load_demo.__name__}.read_take", mock.Mock(call=read)),
        ):
            call_command("load_demo", stdout=said)
            call_command("load_demo", stdout=said)
        demo = User.objects.get(username="demo")
        students = Student.objects.filter(section__band__teacher=demo)
        self.assertEqual(students.count(), len(STUDENTS))
        takes = Take.objects.filter(student__in=students)
        self.assertEqual(takes.count(), sum(len(s.takes) for s in STUDENTS))
        self.assertEqual({t.state for t in takes}, {Take.State.READY})
        self.assertTrue(demo.check_password("sulvet-demo"))
        # What run.py prints is what lets one in.
        printed = (Path(load_demo.__file__).parents[4] / "run.py").read_text()
        self.assertRegex(printed, rf"Demo login +{re.escape(load_demo.NAME)}")
        self.assertIn(load_demo.PASSWORD, printed)
