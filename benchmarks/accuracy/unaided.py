"""Takes read without a mark or a letter by hand: close-ups, profiles, heads that sway."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from benchmarks.accuracy.film import path
from benchmarks.accuracy.reading import Read, judged, true_values
from benchmarks.accuracy.takes import CASES, STILL, Case, script_of
from sulvet.core.dataset.draw import facts_of
from sulvet.core.dataset.people import random_person
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.review.pipeline import review
from sulvet.core.simulate.clip import moments
from sulvet.core.simulate.light import LIGHTS
from sulvet.core.simulate.mouth import stomion
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.script import Move, Script, View
from sulvet.core.video.network_finder import default_finder

SIZE = (640, 480)
FIRST_SEED = 6_000_000
#: From the front with and without eyes in the picture, and from the side.
Framing = Literal["face", "close-up", "side"]
#: How far heads turn to each side, degrees, against the spread of their wandering.
SWAYS: dict[str, Move] = {
    "still": STILL,
    "3 degrees": Move(sway=2.5, turn=2.0, hand=0.3),
    "6 degrees": Move(sway=3.5, turn=4.0, hand=0.3),
}


@dataclass(frozen=True)
class Unaided:
    """One take: what is played, how near the phone stands, and how the head sways."""

    case: Case
    framing: Framing
    sway: str


def _takes() -> list[Unaided]:
    """Forty of each framing; of each three thirds by sway; every fault, and clean players."""
    cases = [c for c in CASES if not c.turned]
    front = [c for c in cases if c.view == "front"]
    side = [c for c in cases if c.view == "side"]
    out = []
    framings: tuple[tuple[Framing, list[Case]], ...] = (
        ("face", front), ("close-up", front), ("side", side),
    )  # fmt: skip
    for framing, own in framings:
        # Every other case first, so that forty of them hold all faults and instruments.
        order = [*own[::2], *own[1::2], *own[::2]]
        start = 20 if framing == "close-up" else 0
        chosen = (order[start:] + order)[:40]
        for n, case in enumerate(chosen):
            out.append(Unaided(case, framing, list(SWAYS)[n % 3]))
    return out


TAKES = _takes()


def person_of(number: int) -> Person:
    """Who plays: people by lot, whom no training saw."""
    return random_person(np.random.default_rng(FIRST_SEED + number))


def script(number: int) -> Script:
    """The script of a take."""
    take, person = TAKES[number], person_of(number)
    rng = np.random.default_rng(FIRST_SEED + 500_000 + number)
    mouth, distance = stomion(person), float(rng.uniform(380, 640))
    low, high = {"face": (170, 230), "close-up": (66, 84), "side": (110, 190)}[take.framing]
    span = float(rng.uniform(low, high))
    aim = {
        "face": (0.0, mouth + 0.10 * span, -25.0),
        "close-up": (float(rng.uniform(-5, 5)), mouth - 0.02 * span, 0.0),
        "side": (0.0, mouth + 0.05 * span, 6.0),
    }[take.framing]
    camera = View(
        distance=distance,
        fov=float(np.degrees(2 * np.arctan(span / 2 / distance))),
        aim=aim,
        azimuth=float(rng.uniform(85, 95) if take.framing == "side" else rng.uniform(-5, 5)),
        elevation=float(rng.uniform(-5, 5)),
        lean=float(rng.uniform(-5, 5)),
    )
    light = str(rng.choice(list(LIGHTS)))
    seed = FIRST_SEED + number
    return script_of(take.case, person, seed, camera, light, SWAYS[take.sway], SIZE)


def read(number: int) -> Read:
    """One take read by Sulvet alone."""
    take, filmed = TAKES[number], script(number)
    family = shipped_standard(take.case.instrument).family
    done = review(path(filmed), default_finder(family), view=take.case.view)
    lost = 0.0 if done.stabilised is None else float((~done.stabilised.head_found).mean())
    facts = facts_of(person_of(number), take.case.instrument) | {
        "framing": take.framing, "sway": take.sway, "lost": f"{lost:.3f}",
    }  # fmt: skip
    truth = true_values(filmed, moments(filmed))
    return Read(take.case, judged(take.case, done), 0, done.needs, truth, facts)
