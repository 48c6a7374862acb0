"""A take as a script: phases with eased movement between them, and faults that begin and end."""

from __future__ import annotations

from dataclasses import fields, replace
from functools import cache
from pathlib import Path
from typing import Any, Literal

import numpy as np
import yaml
from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

from sulvet.core.phases import PHASES, Phase
from sulvet.core.simulate.body import Body, body
from sulvet.core.simulate.camera import Camera
from sulvet.core.simulate.end_on import EndOn
from sulvet.core.simulate.equipment import AnyEquipment, Cup, Reed, equipment, shape_of, sizes
from sulvet.core.simulate.light import LIGHTS, Lens, Light
from sulvet.core.simulate.person import Person, people
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.skull import skull

DATA = Path(__file__).parent / "data"
POSE_WORDS = frozenset(f.name for f in fields(Pose))
#: Phases in which something is held to the mouth, unless the script says otherwise.
HELD = frozenset({"place", "breathe", "start", "hold", "change", "release"})
#: How far off the mouth a thing is that is not held there: out of every picture, mm.
FAR = 260.0
Held = AnyEquipment | EndOn


class ScriptError(ValueError):
    """A script can't be used; the message says what to change."""


@cache
def embouchures() -> dict[str, Any]:
    """What "play" means for each instrument."""
    table: dict[str, Any] = yaml.safe_load((DATA / "embouchures.yaml").read_text("utf-8"))
    return table


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


def _known_pose(value: dict[str, float]) -> dict[str, float]:
    unknown = set(value) - POSE_WORDS
    if unknown:
        raise ValueError(f"unknown in a pose: {', '.join(sorted(unknown))}")
    return value


class Step(_Strict):
    """One phase of the script.

    seconds  its length; ease how long the way to its pose takes, s
    base     "rest" or "play", on which ``pose`` is set
    held     whether the instrument is at the mouth
    holds    placement, on top of the instrument's own
    """

    phase: str
    seconds: float = Field(gt=0, le=60)
    base: Literal["rest", "play"] | None = None
    pose: dict[str, float] = {}
    held: bool | None = None
    holds: dict[str, float] = {}
    ease: float | None = Field(None, ge=0)

    _pose = field_validator("pose")(_known_pose)

    @field_validator("phase")
    @classmethod
    def _known_phase(cls, value: str) -> str:
        if value not in PHASES:
            raise ValueError(f"unknown phase “{value}”; use one of {', '.join(PHASES)}")
        return value


class Fault(_Strict):
    """Something that goes wrong from one moment to another.

    fault   its name
    phase   in every phase of that name, from ``after`` s after its start, for
            ``lasts`` s or to its end
    pose, holds  what it adds
    ease    how long it takes to come and go, s
    """

    fault: str
    phase: str = "hold"
    after: float = 0.0
    lasts: float | None = None
    pose: dict[str, float] = {}
    holds: dict[str, float] = {}
    ease: float = Field(0.25, ge=0.01)

    _pose = field_validator("pose")(_known_pose)


class Move(_Strict):
    """Natural movement: the head's sway (mm) and turning (degrees, RMS: 2 is some three to each
    side, as children do), the lips' unrest (share of the mouth's width, RMS), the hand's tremor
    (mm)."""

    sway: float = 2.5
    turn: float = 2.0
    lips: float = 0.002
    hand: float = 0.3


class SoundScript(_Strict):
    """The sound that goes with it.

    cents, drift, wobble  off the target, cents; slope, cents a second; unrest, cents RMS
    air      share of breath noise in the tone; hiss of escaping air beside it
    lead     breath before the tone, s
    bright   how much slower its partials fall: thin and bright, below 0 dull
    start    tongued, soft or breathy
    cracks   moments where the tone breaks, s after its start
    level    of the tone, and room noise, both relative to full scale
    pitched  whether there is a tone at all, or only its air
    glide    for a siren or steps: seconds after the tone's start and cents there, straight between
    tongue   moments after the tone's start at which the tongue touches, and lets go at once
    """

    hz: float | None = Field(None, gt=20, lt=8000)
    cents: float = 0.0
    drift: float = 0.0
    wobble: float = 4.0
    air: float = 0.04
    hiss: float = 0.0
    lead: float = 0.0
    bright: float = 0.0
    start: Literal["tongued", "soft", "breathy"] = "tongued"
    cracks: list[float] = []
    level: float = 0.16
    room: float = 0.0012
    pitched: bool = True
    glide: list[tuple[float, float]] = []
    tongue: list[float] = []


class View(_Strict):
    """Where the camera stands; lengths in mm, angles in degrees (see ``Camera``)."""

    distance: float = Field(520, gt=120, le=4000)
    fov: float = Field(25, gt=3, lt=90)
    aim: tuple[float, float, float] = (0.0, -2.0, -25.0)
    azimuth: float = 0.0
    elevation: float = 0.0
    lean: float = 0.0


class Script(_Strict):
    """A whole take."""

    person: str | Person
    instrument: str
    view: Literal["front", "side", "close-up"] = "front"
    seed: int = 1
    size: tuple[int, int] = (960, 540)
    fps: float = Field(25, gt=1, le=120)
    camera: View = View()
    light: str = "window"
    wall: tuple[float, float, float] | None = None
    blur: float = Field(0.55, ge=0)
    noise: float = Field(1.4, ge=0)
    crf: int = Field(27, ge=0, le=51)
    holds: dict[str, float] = {}
    gold: bool = False
    steps: list[Step] = Field(min_length=1)
    faults: list[Fault] = []
    move: Move = Move()
    sound: SoundScript | None = SoundScript()

    @field_validator("person")
    @classmethod
    def _known_person(cls, value: str | Person) -> str | Person:
        if isinstance(value, str) and value not in people():
            raise ValueError(f"there is no person “{value}”; there are {', '.join(people())}")
        return value

    @field_validator("instrument")
    @classmethod
    def _known_instrument(cls, value: str) -> str:
        if value not in embouchures():
            raise ValueError(f"there is no instrument “{value}”")
        return value

    @field_validator("light")
    @classmethod
    def _known_light(cls, value: str) -> str:
        if value not in LIGHTS:
            raise ValueError(f"there is no light “{value}”; there are {', '.join(LIGHTS)}")
        return value

    @property
    def seconds(self) -> float:
        """Length of the take."""
        return sum(step.seconds for step in self.steps)

    @property
    def phases(self) -> list[Phase]:
        """Where each phase is; settled only after the move into it."""
        found, start = [], 0.0
        for step in self.steps:
            found.append(Phase(step.phase, round(start, 6), round(start + step.seconds, 6)))
            start += step.seconds
        return found

    @property
    def who(self) -> Person:
        """The person filmed: one of the invented people, or one described in the script."""
        return people()[self.person] if isinstance(self.person, str) else self.person

    @property
    def lit(self) -> Light:
        """The light of the room, before a wall of its own colour if the script says so."""
        light = LIGHTS[self.light]
        return light if self.wall is None else replace(light, wall=self.wall)

    @property
    def lens(self) -> Lens:
        """Blur and noise of the phone."""
        return Lens(self.blur, self.noise)

    def view_from(self) -> Camera:
        """The camera."""
        c = self.camera
        return Camera(self.size, c.distance, c.fov, c.aim, c.azimuth, c.elevation, c.lean)

    def times(self) -> list[float]:
        """Seconds of each frame."""
        return [n / self.fps for n in range(round(self.seconds * self.fps))]

    def fault_spans(self) -> list[tuple[Fault, float, float]]:
        """Each fault with the seconds from where it begins to where it has gone."""
        spans = []
        for fault in self.faults:
            for phase in self.phases:
                if phase.name != fault.phase:
                    continue
                start = phase.start + fault.after
                end = phase.end if fault.lasts is None else start + fault.lasts
                spans.append((fault, start, end))
        return spans


def load(path: Path) -> Script:
    """Read a script; ScriptError with a sentence for anything that does not fit."""
    try:
        # The compiled one takes a tenth of the time.
        document = yaml.load(path.read_text(encoding="utf-8"), yaml.CSafeLoader)
    except FileNotFoundError:
        raise ScriptError(f"There is no file “{path}”. Check its name.") from None
    except (OSError, UnicodeDecodeError, yaml.YAMLError) as error:
        raise ScriptError(f"“{path}” can't be read as YAML: {error}") from None
    if not isinstance(document, dict):
        raise ScriptError(f"“{path}” is not a script: it needs a person, an instrument and steps.")
    try:
        return Script.model_validate(document)
    except ValidationError as error:
        first = error.errors()[0]
        where = " → ".join(str(part) for part in first["loc"]) or "the script"
        raise ScriptError(
            f"“{path.name}”, {where}: {first['msg'].removeprefix('Value error, ')}."
        ) from None


def ease(x: float) -> float:
    """0 to 1 with no jerk at either end (minimum-jerk polynomial)."""
    x = min(max(x, 0.0), 1.0)
    return x**3 * (10 - 15 * x + 6 * x * x)


def _unrest(seed: int, t: float, low: float, high: float) -> float:
    """A slow wandering around 0 with unit spread, the same for the same seed and time."""
    rng = np.random.default_rng(seed)
    rates = rng.uniform(low, high, 4)
    phases = rng.uniform(0, 2 * np.pi, 4)
    return float(np.sin(2 * np.pi * rates * t + phases).sum() / np.sqrt(2))


def _step_pose(script: Script, step: Step) -> Pose:
    base = step.base or ("rest" if step.phase == "rest" else "play")
    start = embouchures()[script.instrument]["pose"] if base == "play" else {}
    return Pose(**(start | step.pose))


def _step_holds(script: Script, step: Step) -> dict[str, float]:
    # By itself before the lens nothing lies at any depth or angle in a mouth.
    usual = {} if script.view == "close-up" else embouchures()[script.instrument]["holds"]
    own = usual | script.holds | step.holds
    held = step.held if step.held is not None else step.phase in HELD
    found: dict[str, float] = {"away": 0.0} | own if held else own | {"away": FAR}
    return found


def _blend(a: dict[str, float], b: dict[str, float], share: float) -> dict[str, float]:
    return {k: a.get(k, b[k]) * (1 - share) + b[k] * share for k in b}


def moment(script: Script, t: float) -> tuple[Pose, Held | None]:
    """Pose and thing at a time."""
    start, previous = 0.0, script.steps[0]
    for step in script.steps:
        if t < start + step.seconds or step is script.steps[-1]:
            break
        start, previous = start + step.seconds, step
    way = step.ease if step.ease is not None else min(0.5, step.seconds)
    share = ease((t - start) / way) if way > 0 else 1.0
    pose = _step_pose(script, previous).toward(_step_pose(script, step), share)
    holds = _blend(_step_holds(script, previous), _step_holds(script, step), share)
    for fault, begin, end in script.fault_spans():
        grown = ease((t - begin) / fault.ease) * ease((end - t) / fault.ease + 1e-9)
        pose = pose.plus(**{k: v * grown for k, v in fault.pose.items()})
        for name, value in fault.holds.items():
            holds[name] = holds.get(name, 0.0) + value * grown
    return _alive(script, pose, t), _equipment(script, holds, t)


def _alive(script: Script, pose: Pose, t: float) -> Pose:
    """Sway, breath and the small unrest of any face."""
    move, s = script.move, script.seed * 101
    wide = move.lips * _unrest(s + 6, t, 0.3, 1.4)
    lift = 60 * move.lips * _unrest(s + 7, t, 0.3, 1.4)
    return pose.plus(
        yaw=move.turn * _unrest(s, t, 0.05, 0.32),
        pitch=0.7 * move.turn * _unrest(s + 1, t, 0.05, 0.3),
        roll=0.7 * move.turn * _unrest(s + 2, t, 0.05, 0.3),
        x=move.sway * _unrest(s + 3, t, 0.05, 0.3),
        y=0.8 * move.sway * float(np.sin(2 * np.pi * 0.27 * t + s)),
        z=move.sway * _unrest(s + 5, t, 0.05, 0.25),
        width=wide,
        rise_r=lift,
        rise_l=0.6 * lift + 24 * move.lips * _unrest(s + 8, t, 0.3, 1.4),
    )


def _equipment(script: Script, holds: dict[str, float], t: float) -> Held | None:
    if holds.get("away", 0.0) > FAR * 0.6:
        return None
    person = script.who
    placed: dict[str, Any] = dict(holds)
    if script.view != "close-up":
        placed["offset"] = placed.get("offset", 0.0) + script.move.hand * _unrest(
            script.seed * 101 + 9, t, 0.5, 3.0
        )
    if shape_of(script.instrument) is Cup:
        placed["gold"] = script.gold
    if script.view == "close-up":
        if shape_of(script.instrument) is not Reed:
            raise ScriptError("Only instruments with a reed have close-ups.")
        if "reed" not in sizes()[script.instrument]:
            return EndOn(person, skull(person), script.instrument, **placed)
        placed["close_up"] = True
    return equipment(script.instrument, person, skull(person), **placed)


def shown(script: Script, t: float) -> tuple[Body, Held | None]:
    """Everything there is at a time."""
    pose, held = moment(script, t)
    person = script.who
    if script.view == "close-up":
        if not isinstance(held, Reed | EndOn):
            raise ScriptError("A close-up needs a reed held before the camera.")
        base = skull(person)
        still = Pose(x=pose.x, y=pose.y, roll=pose.roll, yaw=pose.yaw)
        return Body(person, still, base, base.xyz, base.xyz[:1], held.meshes()), held
    assert not isinstance(held, EndOn)
    return body(person, pose, held), held
