"""Film the demo band's takes from their scripts and read them: for whoever changes either."""

from __future__ import annotations

import os
import tempfile
from argparse import ArgumentParser
from concurrent.futures import ProcessPoolExecutor, ThreadPoolExecutor
from multiprocessing import get_context
from pathlib import Path
from typing import Any

import django
from django.core.management.base import BaseCommand

from sulvet.core import sandbox
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.simulate.script import load as load_script
from sulvet.demo import closeups, readings
from sulvet.demo.scenario import STUDENTS, DemoTake
from sulvet.takes import sound
from sulvet.takes.intended import IntendedNote
from sulvet.takes.listening import with_phases


def film(take: DemoTake) -> int:
    """Film one take; returns the clip's size in bytes."""
    from sulvet.core.simulate import clip

    making = take.clip.with_name(f"making-{take.clip.name}")
    clip.write(load_script(take.script), making, workers=1)
    making.replace(take.clip)
    return take.clip.stat().st_size


def read(take: DemoTake) -> str:
    """Read one clip, with no mark by hand, and keep what came out.

    Returns what the teacher would have to do first.
    """
    filmed = load_script(take.script)
    with tempfile.TemporaryDirectory() as keep:
        outcome = sandbox.review(
            take.clip,
            Path(keep),
            keys=[],
            phases=None,
            mirrored=False,
            proxy=False,
            seconds=filmed.seconds,
            progress=lambda stage, share: None,
            view=filmed.view,
            family=shipped_standard(filmed.instrument).family,
        )
    heard = sound.listen(take.clip, shipped_standard(filmed.instrument), IntendedNote())
    readings.keep(take.reading, with_phases(outcome, heard), heard)
    return outcome.needs


def hear(take: DemoTake) -> None:
    """Listen to one clip that has been read, and put its letters where the tone is."""
    outcome, filmed = readings.load(take.reading), load_script(take.script)
    heard = sound.listen(take.clip, shipped_standard(filmed.instrument), IntendedNote())
    readings.keep(take.reading, with_phases(outcome, heard), heard)


class Command(BaseCommand):
    """``manage.py film_demo [NAME …]``."""

    help = "Film and read the demo takes that have no clip or no reading yet, or those named."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Names of takes; ``--read`` leaves the clips alone."""
        parser.add_argument("names", nargs="*")
        parser.add_argument("--read", action="store_true", help="read all clips again, film none")
        parser.add_argument("--hear", action="store_true", help="only listen to all clips again")

    def handle(self, *args: Any, **options: Any) -> None:
        """Film on all cores, a clip a process; then read, each clip in a process of its own."""
        takes = [take for student in STUDENTS for take in student.takes]
        if options["names"]:
            takes = [take for take in takes if take.name in options["names"]]
        if options["hear"]:
            for take in takes:
                hear(take)
            return
        wanted = [
            take
            for take in takes
            if not options["read"] and (options["names"] or not take.clip.exists())
        ]
        # A new process must know the apps before it unpickles what it is to do.
        with ProcessPoolExecutor(
            os.cpu_count(), get_context("spawn"), initializer=django.setup
        ) as pool:
            for take, size in zip(wanted, pool.map(film, wanted), strict=True):
                self.stdout.write(f"filmed {take.name}, {size // 1024} KB")
        close_ups = [s.close_up for s in STUDENTS if s.close_up is not None]
        for one in close_ups:
            if one.name in options["names"] or not one.picture.exists():
                self.stdout.write(f"filmed {one.name}, {closeups.film(one) // 1024} KB")
        unread = [
            take for take in takes
            if take in wanted or options["read"] or not take.reading.exists()
        ]  # fmt: skip
        with ThreadPoolExecutor(os.cpu_count()) as threads:
            for take, needs in zip(unread, threads.map(read, unread), strict=True):
                self.stdout.write(f"read {take.name}. {needs}")
