"""One take read as a teacher would have it read: a few clicks of an unsteady hand, then Sulvet."""

from __future__ import annotations

import tempfile
from dataclasses import dataclass, field

import numpy as np

from benchmarks.accuracy.film import path
from benchmarks.accuracy.takes import CASES, Case, script
from sulvet.core.anatomy.landmarks import asked
from sulvet.core.anatomy.marks import PLACED
from sulvet.core.formats.coco import PLACED_SIGMA
from sulvet.core.judgement.judge import judge
from sulvet.core.judgement.results import Judgement
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.review import footage as clip_footage
from sulvet.core.review import pipeline
from sulvet.core.simulate.clip import Moment, moments, motion
from sulvet.core.simulate.script import Script
from sulvet.core.video.keyframes import Keyframe
from sulvet.core.video.network_finder import default_finder

HAND_SEED = 777


@dataclass(frozen=True)
class Read:
    """What came of one take.

    clicks  how many marks the teacher placed
    facts   what figures are broken down by
    truth   phase and measure → true value, in the unit of the reading
    """

    case: Case
    judged: Judgement | None
    clicks: int
    needs: str
    truth: dict[tuple[str, str], float]
    facts: dict[str, str] = field(default_factory=dict)


def marks_of(number: int, truths: list[Moment]) -> list[Keyframe]:
    """The teacher's clicks: true places, shaken by what a hand is unsure of."""
    case, filmed = CASES[number], script(number)
    family = shipped_standard(case.instrument).family
    wanted = asked(case.view, family)
    first = wanted.rest if case.view == "side" else wanted.pair
    then = wanted.hold
    rng = np.random.default_rng(HAND_SEED + number)
    keys = []
    for phase, names in (("rest", first), ("hold", then)):
        where = next(p for p in filmed.phases if p.name == phase)
        frame = int((where.start + where.end) / 2 * filmed.fps)
        for name in names:
            x, y = np.array(truths[frame].places[name]) + rng.normal(0, PLACED_SIGMA, 2)
            keys.append(Keyframe(name, frame, float(x), float(y), PLACED_SIGMA, PLACED))
    return keys


def read(number: int) -> Read:
    """Read, measure and judge one take with the true phases."""
    case, filmed = CASES[number], script(number)
    truths = moments(filmed)
    keys = marks_of(number, truths)
    finder = default_finder() if case.view == "front" else None
    with tempfile.NamedTemporaryFile(suffix=".gray") as pictures:
        footage = clip_footage.read(path(filmed), pictures, finder)
        track = pipeline.track_side if case.view == "side" else pipeline.track
        done = track(footage, keys, filmed.phases, None)
    return Read(case, judged(case, done), len(keys), done.needs, true_values(filmed, truths))


def judged(case: Case, done: pipeline.Reviewed) -> Judgement | None:
    """The take judged by its instrument's standard; None where it could not be analysed."""
    if done.needs:
        return None
    standard = shipped_standard(case.instrument)
    school = standard.school(case.school or None).id
    return judge(done.marks, done.phases, standard, case.view, school)


def true_values(filmed: Script, truths: list[Moment]) -> dict[tuple[str, str], float]:
    """What the readings should be: medians over each phase, in the readings' own units."""
    times = np.array(filmed.times())
    head = truths[2].head
    lip_to_chin = float(np.linalg.norm(np.subtract(head["li"], head["pg"])[1:]))
    wide = truths[2].measures["rest_mouth_width_mm"]
    rest = next(p for p in filmed.phases if p.name == "rest")
    resting = [t.measures for t, s in zip(truths, times, strict=True) if rest.holds(s)]
    hollow_at_rest = float(np.median([m["chin_hollow"] for m in resting]))
    out: dict[tuple[str, str], float] = {}
    for phase in filmed.phases:
        part = [t.measures for t, s in zip(truths, times, strict=True) if phase.holds(s)]
        for name in sorted(set.intersection(*(set(m) for m in part))) if part else ():
            value = float(np.median([m[name] for m in part]))
            if name in ("rim_offset", "mouthpiece_offset"):
                value /= wide
            elif name == "head_roll":
                value -= filmed.camera.lean
            elif name == "chin_hollow":
                out[phase.name, "chin_hollow_mm"] = value
                value = value / lip_to_chin * 100
                change = out[phase.name, "chin_hollow_mm"] - hollow_at_rest
                out[phase.name, "chin_hollow_change"] = change / lip_to_chin * 100
            elif name in ("flesh_forward", "lip_line_order"):
                value = value / lip_to_chin * 100
            out[phase.name, name] = value
    for one in motion(filmed, truths):
        out["hold", "stillness"] = one["stillness"]
        for name in ("corner_rise", "lower_red"):
            if f"collapse_{name}" in one:
                out["hold", f"collapse_{name}"] = one[f"collapse_{name}"]
        if "collapse_chin_hollow" in one:
            share = one["collapse_chin_hollow"] / lip_to_chin * 100
            out["hold", "collapse_chin_hollow"] = share
    return out
