"""The library of short loops: what is in it, and the script that each is filmed by.

Every loop is one made-up person who relaxes, forms, places and holds. What is true of it is known
exactly, since it was drawn.
"""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import asdict, replace
from functools import cache
from itertools import combinations
from pathlib import Path
from typing import Any

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.dataset.people import DARKEST, LIGHTEST, TONES, random_person, tone_of
from sulvet.core.eye.loop import ALIKE, FAULT, RIGHT, UNTOLD, Loop, filmed_on
from sulvet.core.eye.schema import Alike, Case, SeenFrom, Untold, cases
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.language import per_language
from sulvet.core.simulate.light import LIGHTS
from sulvet.core.simulate.person import RGB, Person
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.script import Fault, Move, Script, Step, View, embouchures

FOLDER = Path(__file__).parent / "data" / "loops"
#: Beside the loops: what is drawn into them, loop → landmark → place.
MARKS = "marks.json"
#: Side of a loop, px; pictures a second; as many invented people play them all.
SIDE, FPS, PEOPLE = 400, 10.0, 24
#: Where the lot for the people begins; children alone, as many of each skin tone.
FIRST_PERSON, GROWN = 71_000, 15


@per_language
def library() -> tuple[Loop, ...]:
    """All loops, in a fixed order."""
    return tuple(loop for instrument in embouchures() for loop in _of(instrument))


def film_of(one: Loop) -> Path:
    """Where its film lies."""
    return FOLDER / f"{one.id}.mp4"


def faults_on(instrument: str, view: SeenFrom) -> tuple[str, ...]:
    """What may be wrong on an instrument, seen from a side, in the order of ``cases.toml``."""
    return tuple(one.fault for one in _cases(filmed_on(instrument), view))


def _cases(instrument: str, view: SeenFrom) -> list[Case]:
    family = shipped_standard(instrument).family
    return [c for c in cases().cases if view in c.views and c.suits(instrument, family)]


def _of(instrument: str) -> list[Loop]:
    found: list[Loop] = []
    views: tuple[SeenFrom, ...] = ("front", "side")
    for view in views:
        of_view = _cases(instrument, view)
        base = f"{instrument}-{view}"
        found += [Loop(f"{base}-right-{n + 1}", instrument, view, RIGHT) for n in range(len(TONES))]
        found += [
            Loop(f"{base}-{case.fault}-{degree + 1}", instrument, view, FAULT, (case.fault,),
                 degree)
            for case in of_view
            for degree in range(len(cases().degrees))
        ]  # fmt: skip
        named = {case.fault for case in of_view}
        found += [
            Loop(f"{base}-like-{one.like}", instrument, view, ALIKE, like=one.like,
                 because=one.because)
            for one in cases().alikes
            if view in one.views and one.like in named
        ]  # fmt: skip
        found += [
            Loop(f"{base}-two-{n + 1}", instrument, view, FAULT, pair, 1)
            for n, pair in enumerate(_pairs(of_view))
        ]
        found += [
            Loop(f"{base}-untold", instrument, view, UNTOLD, because=one.because)
            for one in cases().untold
            if view in one.views
        ]
    return found


def _pairs(of_view: list[Case]) -> list[tuple[str, str]]:
    """Two pairs of faults that don't get into each other's way."""
    free = [
        (a.fault, b.fault)
        for a, b in combinations(of_view, 2)
        if not (set(a.pose) & set(b.pose)) and not (_held(a) & _held(b)) and not a.moving | b.moving
    ]
    return free[:: max(len(free) // 2, 1)][:2]


def _held(case: Case) -> set[str]:
    return set(case.holds) | {name for own in case.of.values() for name in own}


# -- how it is filmed -------------------------------------------------------------


@cache
def players() -> tuple[Person, ...]:
    """The invented children who play them: as many of light, medium and dark skin."""
    found: dict[str, list[Person]] = {name: [] for name in TONES}
    seed = FIRST_PERSON
    while any(len(those) < PEOPLE // len(TONES) for those in found.values()):
        rng = np.random.default_rng(seed)
        person = _natural(random_person(rng), rng)
        those = found[tone_of(person)]
        if person.age < GROWN and len(those) < PEOPLE // len(TONES):
            those.append(person)
        seed += 1
    return tuple(person for those in found.values() for person in those)


def _natural(person: Person, rng: np.random.Generator) -> Person:
    """The same with colours of skin, lips, hair and eyes as they go together: what trains a
    network has wider ones, and an eye would look at nothing else."""
    share = float(rng.uniform())
    skin = np.exp(np.log(LIGHTEST) * (1 - share) + np.log(DARKEST) * share)
    fair = 0.12 * (1 - share) * float(rng.uniform(0, 1.6)) + 0.006
    eyes = (0.10, 0.16, 0.20) if share < 0.4 and rng.uniform() < 0.5 else (0.07, 0.04, 0.02)
    return replace(
        person, skin=_rgb(skin), lip=_rgb(skin * np.array([0.82, 0.60, 0.62]) + 0.015),
        hair=_rgb(fair * np.array([1.9, 1.15, 0.6])), iris=_rgb(np.array(eyes)), braces=False,
    )  # fmt: skip


def _rgb(values: Floats) -> RGB:
    red, green, blue = (round(float(v), 4) for v in np.clip(values, 0.002, 0.95))
    return red, green, blue


def script_of(one: Loop) -> Script:
    """The script of a loop; the same each time."""
    seed = int.from_bytes(hashlib.sha256(one.id.encode()).digest()[:4], "big")
    rng = np.random.default_rng(seed)
    person = players()[_player(one, seed)]
    pose, holds, camera, person = _drawn(one, person)
    side = one.view == "side"
    view = View(**{
        "distance": float(rng.uniform(480, 600)),
        "fov": 15.0,
        "aim": (0.0, -22.0, -10.0) if side else (0.0, -16.0, -22.0),
        "azimuth": float(rng.uniform(88, 92)) if side else float(rng.uniform(-3, 3)),
        "elevation": float(rng.uniform(-2, 2)),
        "lean": float(rng.uniform(-2, 2)),
    } | camera)  # fmt: skip
    moving = any(cases().case(fault).moving for fault in one.faults)
    steps = [
        Step(phase="rest", seconds=0.3, pose=_head(pose)),
        Step(phase="form", seconds=0.4, base="play", pose={} if moving else pose),
        Step(phase="hold", seconds=1.1, pose={} if moving else pose, holds=holds, held=True),
    ]
    faults = _wandering(one.faults[0], pose) if moving else []
    wall = (0.86, 0.85, 0.80) if person.skin[0] < 0.45 else (0.10, 0.13, 0.16)
    return Script(
        person=person, instrument=one.instrument, view=one.view, seed=seed % 100_000,
        size=(SIDE, SIDE), fps=FPS, crf=29, light=str(rng.choice(_lights())),
        wall=wall if side else None, camera=view, steps=steps, faults=faults,
        move=Move(sway=1.4, turn=0.7, hand=0.15), sound=None,
    )  # fmt: skip


def _player(one: Loop, seed: int) -> int:
    """By lot; what is right is shown by one of each skin tone."""
    each = PEOPLE // len(TONES)
    return seed % PEOPLE if one.kind != RIGHT else (int(one.id[-1]) - 1) * each + seed % each


def _lights() -> list[str]:
    return [name for name in LIGHTS if name != "dim"]


def _drawn(
    one: Loop, person: Person
) -> tuple[dict[str, float], dict[str, float], dict[str, Any], Person]:
    """Pose, placement, camera and person of a loop."""
    if one.kind in (ALIKE, UNTOLD):
        shown: Alike | Untold
        if one.kind == ALIKE:
            shown = next(a for a in cases().alikes if a.like == one.like)
            person = replace(person, **shown.person)  # type: ignore[arg-type]
        else:
            shown = next(u for u in cases().untold if one.view in u.views)
        return dict(shown.pose), {}, dict(shown.camera), person
    pose: dict[str, float] = {}
    holds: dict[str, float] = {}
    much = cases().degrees[one.degree or 0]
    own = embouchures()[one.instrument]
    rest = asdict(Pose())
    for fault in one.faults:
        case = cases().case(fault)
        pose |= _toward(rest | own["pose"], case.pose, much)
        holds |= _toward(own["holds"], case.holds | case.of.get(one.instrument, {}), much)
    return pose, holds, {}, person


def _toward(own: Mapping[str, float], there: Mapping[str, float], much: float) -> dict[str, float]:
    """Part of the way from an instrument's own amounts to others; 0 where it says none."""
    return {name: own.get(name, 0.0) + much * (value - own.get(name, 0.0))
            for name, value in there.items()}  # fmt: skip


def _head(pose: Mapping[str, float]) -> dict[str, float]:
    """How the head is held: so from the start."""
    return {name: pose[name] for name in ("yaw", "pitch", "roll") if name in pose}


def _wandering(fault: str, pose: Mapping[str, float]) -> list[Fault]:
    """Amounts that come and go, each in its own time."""
    return [
        Fault(fault=fault, phase="hold", after=0.1 + 0.12 * n + 0.5 * k, lasts=0.25, ease=0.15,
              pose={name: value if k % 2 == 0 else -value})
        for n, (name, value) in enumerate(pose.items())
        for k in range(2)
    ]  # fmt: skip
