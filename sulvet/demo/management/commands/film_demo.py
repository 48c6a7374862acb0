"""Film the demo band's takes from their scripts and read them: for whoever changes either."""

from __future__ import annotations

import os
import tempfile
from argparse import ArgumentParser
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path
from typing import Any

import numpy as np
from django.core.management.base import BaseCommand

from sulvet.core import sandbox
from sulvet.core.anatomy.landmarks import asked
from sulvet.core.anatomy.marks import PLACED
from sulvet.core.formats.coco import PLACED_SIGMA
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.simulate.script import Script
from sulvet.core.simulate.script import load as load_script
from sulvet.core.video.keyframes import Keyframe
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


def placed(take: DemoTake, filmed: Script) -> list[Keyframe]:
    """What the teacher marked, by an unsteady hand: a profile, or what is held to the mouth."""
    from sulvet.core.simulate import clip

    def middle(name: str) -> int:
        phase = next(phase for phase in filmed.phases if phase.name == name)
        return round((phase.start + phase.end) / 2 * filmed.fps)

    wanted = asked(filmed.view, shipped_standard(filmed.instrument).family)
    if filmed.view == "side":
        rounds = [(middle("rest"), wanted.rest), (middle("hold"), wanted.hold)]
    elif take.marked:
        rounds = [(middle("rest"), wanted.pair), (middle("hold"), wanted.hold)]
    else:
        return []
    rng = np.random.default_rng(filmed.seed)
    keys = []
    for frame, names in rounds:
        truth = clip.moment_truth(filmed, frame)
        for name in names:
            x, y = np.array(truth.places[name]) + rng.normal(0, PLACED_SIGMA, 2)
            at = round(float(x), 2), round(float(y), 2)
            keys.append(Keyframe(name, frame, *at, PLACED_SIGMA, PLACED))
    return keys


def read(take: DemoTake) -> str:
    """Read one clip and keep what came out; returns what the teacher would have to do first."""
    filmed = load_script(take.script)
    with tempfile.TemporaryDirectory() as keep:
        outcome = sandbox.review(
            take.clip,
            Path(keep),
            keys=placed(take, filmed),
            phases=None,
            mirrored=False,
            proxy=False,
            seconds=filmed.seconds,
            progress=lambda stage, share: None,
            view=filmed.view,
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
        """Film on all cores, a clip a process; then read one after the other."""
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
        with ProcessPoolExecutor(os.cpu_count(), get_context("spawn")) as pool:
            for take, size in zip(wanted, pool.map(film, wanted), strict=True):
                self.stdout.write(f"filmed {take.name}, {size // 1024} KB")
        close_ups = [s.close_up for s in STUDENTS if s.close_up is not None]
        for one in close_ups:
            if one.name in options["names"] or not one.picture.exists():
                self.stdout.write(f"filmed {one.name}, {closeups.film(one) // 1024} KB")
        for take in takes:
            if take in wanted or options["read"] or not take.reading.exists():
                self.stdout.write(f"read {take.name}. {read(take)}")
