"""Measuring and judging marks again: what a moved mark costs beside following."""

from __future__ import annotations

import statistics
from collections.abc import Callable

import numpy as np

from benchmarks.reviewing import TEN_SECONDS, decode, seconds
from sulvet.core.anatomy.landmarks import TAKE_IDS
from sulvet.core.anatomy.marks import Marks
from sulvet.core.judgement.judge import judge
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.measures.frames import TakeContext
from sulvet.core.measures.series import measure
from sulvet.core.phases import Phase, frames_of
from sulvet.core.simulate.clip import moment_truth
from sulvet.core.simulate.script import Script
from tests.clips import clip

FPS, SECONDS, ROUNDS = 30, 5, 9
SCRIPT = {
    "person": "ada",
    "instrument": "horn",
    "fps": 10,
    "steps": [{"phase": "rest", "seconds": 1}, {"phase": "hold", "seconds": 1.5}],
}


def _marks() -> Marks:
    """Marks of a whole take: a made-up face at rest and in the hold, frame after frame."""
    filmed = Script.model_validate(SCRIPT)
    rest, held = moment_truth(filmed, 3).places, moment_truth(filmed, 20).places
    marks = Marks.empty(TAKE_IDS, np.arange(FPS * SECONDS) / FPS)
    rng = np.random.default_rng(1)
    for column, name in enumerate(TAKE_IDS):
        for rows, places in ((marks.seconds < 1.5, rest), (marks.seconds >= 1.5, held)):
            if name in places:
                noise = rng.normal(0, 0.3, (int(rows.sum()), 2))
                marks.xy[rows, column] = np.array(places[name]) + noise
                marks.hidden[rows, column] = False
    known = np.isfinite(marks.xy[..., 0])
    marks.sigma[known] = marks.drift[known] = 0.8
    return marks


def run() -> list[tuple[str, str, str]]:
    """Rows of (what, ratio, time)."""
    marks = _marks()
    phases = [Phase("rest", 0.0, 1.4), Phase("hold", 1.8, 4.8)]
    at_rest = frames_of(phases, "rest", marks.seconds)
    # One frame: its own marks beside those of rest.
    rows = np.unique(np.concatenate([np.flatnonzero(at_rest)[::6], [100]]))
    one, resting = marks.rows(rows), at_rest[rows]
    facts = TakeContext("front", "horn")
    path = clip(TEN_SECONDS, ".mp4", (1280, 720))
    decoding = statistics.median(seconds(lambda: decode(path)) for _ in range(3))
    timed = (
        ("one frame measured", _time(lambda: measure(one, resting, facts))),
        ("a whole take measured", _time(lambda: measure(marks, at_rest, facts))),
        (
            "a whole take measured and judged",
            _time(lambda: judge(marks, phases, shipped_standard("horn"), "front", "two-thirds")),
        ),
    )
    return [(what, f"{took / decoding:.3f}", f"{took * 1000:.0f} ms") for what, took in timed]


def _time(what: Callable[[], object]) -> float:
    """Median time of a call, s; the first fills caches."""
    what()
    return statistics.median(seconds(what) for _ in range(ROUNDS))
