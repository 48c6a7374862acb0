"""Load the demo band once; a second call changes nothing."""

from __future__ import annotations

import datetime
import tempfile
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management.base import BaseCommand
from django.utils import timezone

from sulvet.band.services import StudentFacts, add_student, band_of
from sulvet.core.simulate.take import write
from sulvet.demo.scenario import BAND, STUDENTS, DemoTake
from sulvet.takes.models import Take
from sulvet.takes.services import TakeFacts, add_take
from sulvet.takes.tasks import read_take

NAME, PASSWORD = "demo", "sulvet-demo"


def _paint(job: tuple[DemoTake, Path]) -> None:
    take, path = job
    write(take.script, path, take.size)


class Command(BaseCommand):
    """``manage.py load_demo``."""

    help = "Load the demo band, if it is not there yet."

    def handle(self, *args: Any, **options: Any) -> None:
        """Paint the clips, take them in, read them."""
        if User.objects.filter(username=NAME).exists():
            return
        self.stdout.write("== painting the demo takes (once, about a minute)")
        today = timezone.localdate()
        with tempfile.TemporaryDirectory() as folder:
            clips = {
                (student.name, n): Path(folder) / f"{student.name.split()[0]}-{n}.mp4".lower()
                for student in STUDENTS
                for n in range(len(student.takes))
            }
            jobs = [(s.takes[n], clips[s.name, n]) for s in STUDENTS for n in range(len(s.takes))]
            with ProcessPoolExecutor(2) as pool:
                list(pool.map(_paint, jobs))
            teacher = User.objects.create_user(NAME, password=PASSWORD)
            band = band_of(teacher)
            band.name = BAND
            band.save()
            consent = today - datetime.timedelta(days=60)
            for chair in STUDENTS:
                student = add_student(
                    band,
                    StudentFacts(
                        chair.name,
                        chair.instrument,
                        chair.school,
                        consent_on=consent if chair.consent else None,
                    ),
                )
                for n, take in enumerate(chair.takes):
                    path = clips[chair.name, n]
                    add_take(
                        student,
                        SimpleUploadedFile(path.name, path.read_bytes(), "video/mp4"),
                        TakeFacts("front", "check", today - datetime.timedelta(days=take.days)),
                    )
        self.stdout.write("== reading them")
        for waiting in Take.objects.filter(state=Take.State.WAITING):
            read_take.call(waiting.pk, str(waiting.job))
