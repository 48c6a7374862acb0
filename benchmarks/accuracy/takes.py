"""Takes with exact truth, of people and seeds that neither demo nor tests use.

Each is a short script: rest, form, place, hold. One thing is wrong in it, drawn
clearly, or nothing. What stands here is the table of what is filmed; who plays,
in which light and how close the phone stands is drawn by lot from the seed.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np

from sulvet.core.simulate.light import LIGHTS
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.script import Fault, Move, Script, SoundScript, Step, View

SIZE = (1280, 720)
#: Enough to follow eased movement; a phone's 25 or 30 would only take longer to draw.
FPS = 12.0
FIRST_SEED = 9000

#: A head that is held as still as a child can.
STILL = Move(sway=1.4, turn=0.7, hand=0.15)


@dataclass(frozen=True)
class Case:
    """One take: what is played, what is wrong, and what makes it so.

    fault   id of the fault drawn, or an empty string for a clean player
    pose    on top of the instrument's own while the instrument is at the mouth
    holds   placement likewise
    loose   how far the corners wander while the tone is held, degrees
    turned  degrees the head is turned to the side: such a take can't tell
    late    right until the air starts
    also    faults that are truly there as well
    gap     how far the rim leaves the lips while breathing, mm
    """

    instrument: str
    view: Literal["front", "side"]
    fault: str = ""
    pose: dict[str, float] = field(default_factory=dict)
    holds: dict[str, float] = field(default_factory=dict)
    school: str = ""
    loose: float = 0.0
    turned: float = 0.0
    late: bool = False
    also: tuple[str, ...] = ()
    gap: float = 0.0


def _front(instrument: str, fault: str = "", **rest: Any) -> Case:
    return Case(instrument, "front", fault, **rest)


def _side(instrument: str, fault: str = "", **rest: Any) -> Case:
    return Case(instrument, "side", fault, **rest)


SMILE = {"rise_r": 10.0, "rise_l": 10.0, "width": 1.15}
CASES: tuple[Case, ...] = (
    _front("horn"),
    _front("horn"),
    _front("horn", "smile", pose=SMILE),
    _front("horn", "rim-low", holds={"upper_share": 0.48}),
    _front("horn", "rim-high", holds={"upper_share": 0.86}),
    _front("horn", "rim-off-centre", holds={"offset": 5.5}),
    _front("trumpet"),
    _front("trumpet"),
    _front("trumpet", "smile", pose=SMILE),
    _front("trumpet", "rim-low", holds={"upper_share": 0.33}),
    _front("trumpet", "rim-high", holds={"upper_share": 0.70}),
    _front("trumpet", "rim-off-centre", holds={"offset": -5.5}),
    _front("trumpet", "pucker", pose={"width": 0.68, "protrude": 2.0}),
    _front("trumpet", turned=24.0),
    _front("trombone"),
    _front("trombone"),
    _front("trombone", "puffed-cheeks", pose={"cheek_r": 13.0, "cheek_l": 13.0}),
    _front("trombone", "puffed-cheeks", pose={"cheek_r": 12.0, "cheek_l": 14.0}),
    _front("trombone", "puffed-cheek-one", pose={"cheek_r": 13.0}),
    _front("trombone", "rim-off-centre", holds={"offset": 6.0}),
    _front("trombone", "rim-high", holds={"upper_share": 0.70}),
    _front("clarinet"),
    _front("clarinet"),
    _front("clarinet", "smile", pose=SMILE),
    _front("clarinet", "swallowed-lip", pose={"lower_red": 0.0}),
    _front("clarinet", "rolled-out-lip", pose={"lower_red": 1.2}),
    _front("clarinet", "bunched-chin", pose={"chin_raise": 5.5, "chin_hollow": -1.0}),
    _front("clarinet", "loose-corners", loose=14.0),
    _front("saxophone"),
    _front("saxophone"),
    _front("saxophone", "smile", pose=SMILE),
    _front("saxophone", "puffed-cheeks", pose={"cheek_r": 13.0, "cheek_l": 13.0}),
    _front("saxophone", "rolled-out-lip", pose={"lower_red": 1.2}),
    _front("horn", "bunched-chin", pose={"chin_raise": 5.5, "chin_hollow": -1.0}),
    _front("oboe"),
    _front("oboe", "smile", pose={"rise_r": 9.0, "rise_l": 9.0, "width": 1.12}),
    _front("bassoon"),
    _front("bassoon", "puffed-cheeks", pose={"cheek_r": 13.0, "cheek_l": 13.0}),
    _front("flute"),
    _front("flute"),
    _front("flute", "smile", pose=SMILE),
    _front("flute", "plate-low", holds={"hole_to_lip": 7.0}),
    _front("flute", "plate-high", holds={"hole_to_lip": -3.5}),
    _front("flute", "plate-tilted", holds={"tilt": 10.0}),
    _front("flute", "wide-aperture", pose={"aperture_height": 5.5, "aperture_width": 15.0}),
    _front("flute", "off-centre-aperture", pose={"aperture_x": 5.0}),
    _front("flute", "puffed-cheeks", pose={"cheek_r": 13.0, "cheek_l": 13.0}),
    _front("flute", "loose-corners", loose=14.0),
    _side("clarinet"),
    _side("clarinet"),
    _side("clarinet"),
    _side("clarinet", "bulging-chin", pose={"chin_hollow": -5.5}),
    _side("clarinet", "bulging-chin", pose={"chin_hollow": -3.0, "flesh": 3.0}),
    _side("clarinet", "lip-fold", pose={"fold": 2.6}),
    _side(
        "clarinet",
        "collapse-at-start",
        pose={"chin_hollow": -5.5},
        late=True,
        also=("bulging-chin",),
    ),
    _side("clarinet", "swallowed-lip", pose={"lower_red": 0.0}),
    _side("clarinet", "too-little-mouthpiece", holds={"depth": 6.0}),
    _side("clarinet", "too-much-mouthpiece", holds={"depth": 20.0}),
    _side("clarinet", "angle-out", holds={"angle": 60.0}),
    _side("saxophone"),
    _side("saxophone"),
    _side("saxophone", "double-lip", pose={"upper_red": 0.05}),
    _side("saxophone", "bulging-chin", pose={"chin_hollow": -5.5}),
    _side("saxophone", "rolled-out-lip", pose={"lower_red": 1.2}),
    _side("saxophone", "too-much-mouthpiece", holds={"depth": 24.0}),
    _side("bassoon"),
    _side("bassoon", "bulging-chin", pose={"chin_hollow": -5.5}),
    _side("bassoon", "too-little-mouthpiece", holds={"depth": 8.0}),
    _side("oboe"),
    _side("horn"),
    _side("trumpet", "head-down", pose={"pitch": -22.0}),
    _side("flute"),
    _side("flute", "rolled-in", holds={"roll": 22.0}),
    _side("trumpet", "lip-leaves-rim", gap=7.0),
)


def somebody(seed: int) -> Person:
    """An invented person drawn by lot, within what nine- to fourteen-year-olds look like."""
    rng = np.random.default_rng(seed)
    between = rng.uniform
    dark = between() ** 1.3
    skin = np.array([0.78, 0.51, 0.39]) * (1 - dark) + np.array([0.13, 0.06, 0.033]) * dark
    lip = skin * np.array([0.82, 0.6, 0.62]) + 0.02
    upper = between(4.4, 8.0)
    hair = np.array([0.24, 0.13, 0.05]) * between(0.03, 1.0)

    def rgb(values: Any) -> tuple[float, float, float]:
        r, g, b = (round(float(v), 4) for v in values)
        return r, g, b

    return Person(
        name=f"lot {seed}",
        age=int(rng.integers(9, 15)),
        head=between(0.98, 1.03),
        cheeks=between(0.98, 1.07),
        jaw=between(0.96, 1.05),
        face=between(0.90, 1.05),
        nose=between(0.74, 1.08),
        nose_width=between(0.94, 1.2),
        bridge=between(-0.8, 1.6),
        brow=between(0.8, 1.4),
        chin=between(-1.2, 1.6),
        mouth=between(20.4, 24.6),
        upper=upper,
        lower=upper + between(1.6, 2.6),
        upper_full=between(1.7, 3.2),
        lower_full=between(2.1, 3.5),
        bow=between(0.8, 1.4),
        droop_r=between(0.2, 1.4),
        droop_l=between(0.2, 1.4),
        eye_size=between(0.96, 1.1),
        skin=rgb(skin * between(0.94, 1.04)),
        lip=rgb(lip),
        hair=rgb(hair),
        iris=rgb(np.array([0.08, 0.07, 0.06]) * between(0.4, 1.8)),
        cloth=rgb(between(0.06, 0.45, 3)),
        freckles=between(0.05, 0.6),
        hair_style=str(rng.choice(["short", "crop", "bob", "long", "tail", "curls"])),
        seed=seed,
    )


def script(number: int) -> Script:
    """The script of take ``number`` of ``CASES``."""
    case, seed = CASES[number], FIRST_SEED + number
    rng = np.random.default_rng(seed + 50_000)
    side = case.view == "side"
    light = str(rng.choice([name for name in LIGHTS if name != "dim"]))
    camera = View(
        distance=float(rng.uniform(480, 640)),
        fov=float(rng.uniform(19, 22)),
        aim=(0.0, -6.0, -14.0) if side else (0.0, 4.0, -25.0),
        azimuth=float(rng.uniform(86, 94)) if side else float(rng.uniform(-4, 4)),
        elevation=float(rng.uniform(-3, 3)),
        lean=float(rng.uniform(-4, 4)),
    )
    return script_of(case, somebody(seed), seed, camera, light, STILL, SIZE)


def script_of(
    case: Case, person: Person, seed: int, camera: View, light: str, move: Move,
    size: tuple[int, int],
) -> Script:  # fmt: skip
    """A case as a take of this person."""
    pose = {"yaw": case.turned} if case.turned else {}
    playing = pose | case.pose
    # What lets go only when the air starts is right while it is formed and placed.
    placed = pose if case.late else playing
    steps = [
        Step(phase="rest", seconds=1.0, pose=pose),
        Step(phase="form", seconds=0.5, base="play", pose=placed),
        Step(phase="place", seconds=0.5, pose=placed, holds=case.holds),
        Step(phase="start", seconds=0.25, pose=placed, holds=case.holds),
        Step(phase="hold", seconds=1.0, pose=placed, holds=case.holds),
    ]
    if case.gap:
        steps.insert(3, Step(phase="breathe", seconds=0.6, holds={"away": case.gap}))
    if case.loose:
        steps[-1] = steps[-1].model_copy(update={"seconds": 3.2})
    faults = []
    if case.late:
        faults = [Fault(fault=case.fault, pose=case.pose, after=-0.1, ease=0.2)]
    # Loose corners rise and sink again and again, each in its own time.
    for corner, late in (("rise_r", 0.0), ("rise_l", 0.25)):
        for nth, after in enumerate(late + 0.55 * np.arange(5) if case.loose else ()):
            way = case.loose if nth % 2 == 0 else -case.loose
            faults.append(
                Fault(
                    fault=case.fault, pose={corner: way}, after=float(after), lasts=0.3, ease=0.18
                )
            )
    # As the teacher is told to film: before a wall that the profile stands out from.
    wall = (0.86, 0.85, 0.80) if person.skin[0] < 0.45 else (0.10, 0.13, 0.16)
    return Script(
        person=person,
        instrument=case.instrument,
        view=case.view,
        seed=seed,
        size=size,
        fps=FPS,
        crf=22,
        light=light,
        wall=wall if case.view == "side" else None,
        camera=camera,
        steps=steps,
        faults=faults,
        move=move,
        sound=SoundScript(),
    )
