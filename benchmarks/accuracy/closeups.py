"""Close-ups of reeds with known truth, read as a teacher would have them read."""

from __future__ import annotations

from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from multiprocessing import get_context

import numpy as np

from sulvet.core.equipment.measure import measure
from sulvet.core.equipment.results import Measured
from sulvet.core.judgement.closeups import judge_close_up
from sulvet.core.judgement.results import FAULT
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.simulate import clip
from sulvet.core.simulate.person import people
from sulvet.core.simulate.script import Script
from sulvet.demo.closeups import marked

#: A picture as a phone's is once it is made smaller: the whole thing fills its height.
SIZE = (1080, 1440)
FIRST_SEED = 13100
#: What is wrong with each, in so many close-ups of each instrument; drawn at random within.
SINGLE = ("right",) * 6 + (
    "high",
    "low",
    "low",
    "skewed",
    "skewed",
    "shifted",
    "ligature",
    "covered",
)
DOUBLE = ("right",) * 3 + ("open", "open", "closed", "closed")
CASES: tuple[tuple[str, str], ...] = (
    *((instrument, what) for instrument in ("clarinet", "saxophone") for what in SINGLE),
    *((instrument, what) for instrument in ("bassoon", "oboe") for what in DOUBLE),
    ("bassoon", "rolled"), ("bassoon", "rolled"),
)  # fmt: skip
#: Which finding each must give; none for what is right.
MEANT = {
    "high": "reed-high", "low": "reed-low", "skewed": "reed-crooked", "shifted": "reed-crooked",
    "ligature": "ligature-over-cut", "covered": "ligature-over-cut", "open": "reed-open",
    "closed": "reed-closed", "rolled": "reed-rolled",
}  # fmt: skip


def _holds(instrument: str, what: str, rng: np.random.Generator) -> dict[str, float]:
    """What the thing truly is."""

    def between(low: float, high: float) -> float:
        return float(rng.uniform(low, high))

    def either(low: float, high: float) -> float:
        return between(low, high) * float(rng.choice([-1.0, 1.0]))

    if instrument in ("clarinet", "saxophone"):
        holds = {"tip": between(-0.5, -0.3), "skew": either(0, 0.8), "shift": either(0, 0.15),
                 "ligature": between(-2, 6)}  # fmt: skip
        wrong = {
            "high": {"tip": between(0.3, 1.0)}, "low": {"tip": between(-2.4, -1.5)},
            "skewed": {"skew": either(4.5, 7.0)}, "shifted": {"shift": either(1.3, 1.8)},
            "ligature": {"ligature": between(14.5, 16.5) + (0 if instrument == "clarinet" else -2)},
            "covered": {"ligature": between(18, 20)},
        }  # fmt: skip
        return holds | wrong.get(what, {})
    half = {"bassoon": 7.25, "oboe": 3.5}[instrument] * 0.92
    ratio = {"open": between(0.21, 0.27), "closed": between(0.02, 0.035)}.get(
        what, between(0.085, 0.12)
    )
    holds = {"gap": ratio * 2 * half}
    if instrument == "bassoon":
        holds["roll"] = either(16, 24) if what == "rolled" else either(0, 3)
    return holds


def script(number: int) -> Script:
    """Close-up ``number``."""
    instrument, what = CASES[number]
    rng = np.random.default_rng(FIRST_SEED + number)
    single = instrument in ("clarinet", "saxophone")
    # How tall a piece of the thing the picture shows, mm, and what it looks at.
    tall, middle = (rng.uniform(82, 105), -36.0) if single else (rng.uniform(75, 95), -24.0)
    if instrument == "oboe":
        tall, middle = rng.uniform(26, 34), 0.0
    far = float(rng.uniform(220, 380))
    return Script(
        person=next(iter(people())),
        instrument=instrument,
        view="close-up",
        seed=FIRST_SEED + number,
        size=SIZE,
        camera={
            "distance": far,
            "fov": float(np.degrees(2 * np.arctan(tall / 2 / far))),
            "aim": (float(rng.uniform(-4, 4)), middle, 0.0),
            "azimuth": float(rng.normal(0, 2.0)),
            "elevation": float(rng.normal(0, 2.5)),
            "lean": float(rng.normal(0, 6.0)),
        },
        light=str(rng.choice(["window", "lamp", "hall", "dim"])),
        blur=float(rng.uniform(0.5, 1.2)),
        noise=float(rng.uniform(1.0, 3.0)),
        holds=_holds(instrument, what, rng),
        steps=[{"phase": "hold", "seconds": 0.1}],
        move={"sway": 0, "turn": 0},
        sound=None,
    )


@dataclass(frozen=True)
class Read:
    """One close-up read."""

    number: int
    measured: Measured
    truth: dict[str, float]
    found: tuple[str, ...]


def read(number: int) -> Read:
    """Film a close-up, mark it with an unsteady hand, measure it."""
    take = script(number)
    truth = clip.moment_truth(take, 0)
    rng = np.random.default_rng(FIRST_SEED * 3 + number)
    marks, there = marked(take.instrument, truth, rng)
    family = shipped_standard(take.instrument).family
    image = clip.picture(take, 0)
    measured = measure(image, marks, there, take.instrument, family)
    judged = judge_close_up(measured, there, frozenset(), shipped_standard(take.instrument))
    faults = tuple(f.fault for f in judged.findings if f.verdict == FAULT)
    return Read(number, measured, truth.measures, faults)


def read_all() -> list[Read]:
    """All close-ups."""
    with ProcessPoolExecutor(2, get_context("spawn")) as pool:
        return list(pool.map(read, range(len(CASES))))
