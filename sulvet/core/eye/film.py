"""``python -m sulvet.core.eye.film``: film the library, what is missing of it."""

from __future__ import annotations

import json
import os
import sys
from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor, as_completed
from multiprocessing import get_context
from pathlib import Path

from sulvet.core.eye.library import FOLDER, MARKS, film_of, library, script_of
from sulvet.core.eye.loop import Loop
from sulvet.core.eye.schema import cases
from sulvet.core.simulate import clip

#: When the mouth is as it stays, s: what is drawn in lies as it lies then.
SHAPED = 1.4


def film(numbers: list[str]) -> dict[str, dict[str, tuple[float, float]]]:
    """Film some loops; loop → landmark → where it lies at ``SHAPED``, shares of the picture."""
    told, there = {}, {one.id: one for one in library()}
    for number in numbers:
        one = there[number]
        script = script_of(one)
        file = film_of(one)
        half = file.with_suffix(".half.mp4")
        clip.write(script, half, workers=1)
        half.rename(file)
        told[number] = _marks(one)
    return told


def _marks(one: Loop) -> dict[str, tuple[float, float]]:
    wanted = {m for fault in (*one.faults, one.like) if fault for m in cases().case(fault).marks}
    script = script_of(one)
    truth = clip.moment_truth(script, round(SHAPED * script.fps))
    width, height = script.size
    return {
        name: (round(float(x) / width, 4), round(float(y) / height, 4))
        for name, (x, y) in truth.places.items()
        if name in wanted
    }


def main() -> None:
    """All that is missing, with progress; it can be stopped and goes on."""
    FOLDER.mkdir(exist_ok=True)
    by_person: dict[int, list[str]] = defaultdict(list)
    for one in library():
        if not film_of(one).exists():
            by_person[script_of(one).who.seed].append(one.id)
    kept = FOLDER / MARKS
    marks = json.loads(kept.read_text()) if kept.exists() else {}
    count, done = sum(map(len, by_person.values())), 0
    with ProcessPoolExecutor(os.cpu_count(), get_context("spawn")) as pool:
        jobs = [pool.submit(film, those[k : k + 4]) for those in by_person.values()
                for k in range(0, len(those), 4)]  # fmt: skip
        for job in as_completed(jobs):
            marks |= job.result()
            done += len(job.result())
            _keep(kept, marks)
            sys.stdout.write(f"{done} of {count} loops\n")
            sys.stdout.flush()


def _keep(file: Path, marks: dict[str, dict[str, tuple[float, float]]]) -> None:
    half = file.with_suffix(".half")
    half.write_text(json.dumps(marks, sort_keys=True, separators=(",", ":")) + "\n")
    half.replace(file)


if __name__ == "__main__":
    main()
