"""One picture's scene drawn by lot: pose, thing at the mouth, camera, light and the rest.

Every range is ours: wide enough to hold every fault of ``trade`` and what a phone
held by hand sees, and a little beyond.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.random import Generator

from sulvet.core.anatomy.marks import Floats
from sulvet.core.dataset import extras
from sulvet.core.simulate.body import Body, body
from sulvet.core.simulate.camera import Camera
from sulvet.core.simulate.equipment import AnyEquipment, Cup, Reed, equipment, shape_of, sizes
from sulvet.core.simulate.light import Light
from sulvet.core.simulate.mesh import CANE, EBONITE, METAL, Mesh
from sulvet.core.simulate.mouth import stomion
from sulvet.core.simulate.person import RGB, Person
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.script import embouchures
from sulvet.core.simulate.skull import skull

#: Side of a drawn picture, pixels.
SIZE = 320
#: Side of a picture from close by, pixels, and how much it shows of a corner and of the middle of
#: the lips, widths of the mouth.
CLOSER_SIZE, CORNER_SPAN, LIPS_SPAN = 160, 1.3, 1.6
VIEWS = ("front", "between", "profile")
#: How often each view is drawn, and most width of what a picture shows, mm: of anybody anyhow,
#: and of players seen from the side.
OFTEN, OFTEN_BESIDE = (0.46, 0.2, 0.34), (0.0, 0.3, 0.7)
SPAN, SPAN_BESIDE = 360.0, 240.0


@dataclass(frozen=True)
class Scene:
    """Everything a picture needs.

    instrument  what is at the mouth, or an empty string
    clear       whether it is of clear plastic
    """

    body: Body
    equipment: AnyEquipment | None
    instrument: str
    camera: Camera
    light: Light
    clear: bool


def random_scene(rng: Generator, person: Person, beside: bool = False) -> Scene:
    """A scene of this person.

    beside  seen from the side or half so, with something at the mouth, more often a reed's
            mouthpiece or a lip plate than a rim: what is hardest to place
    """
    bare = not beside and rng.uniform() < 0.42
    instrument = "" if bare else str(rng.choice(list(sizes()), p=_often() if beside else None))
    pose = random_pose(rng, instrument)
    held = _held(rng, person, instrument) if instrument else None
    shown = body(person, pose, held)
    meshes = list(shown.meshes)
    own = held.meshes() if held else []
    others = meshes[: len(meshes) - len(own)]
    repainted = _repainted(rng, own)
    if rng.uniform() < 0.22:
        others += extras.glasses(rng, person)
    if rng.uniform() < 0.14:
        others += extras.scarf(rng, person)
    if rng.uniform() < (0.30 if held else 0.10):
        others += extras.fingers(rng, person, _finger_place(rng, held))
    shown = replace(shown, meshes=[*others, *repainted])
    camera = random_camera(rng, person, pose, beside)
    return Scene(
        shown, held, instrument, camera, random_light(rng), bool(held) and rng.uniform() < 0.05
    )


def _often() -> Floats:
    """How often each instrument is drawn from beside: those with rims a third as often."""
    share = np.array([1 / 3 if shape_of(one) is Cup else 1.0 for one in sizes()])
    return np.asarray(share / share.sum())


def _finger_place(rng: Generator, held: AnyEquipment | None) -> Floats:
    """At the chin, the cheek, a corner of the mouth, or along the thing."""
    if held is not None and rng.uniform() < 0.7:
        up = rng.uniform(-14, -4)
        return held.frame.place(rng.uniform(-8, 8), up, rng.uniform(22, 70))
    places = [(0.0, -58.0, 8.0), (34.0, -40.0, -14.0), (-34.0, -40.0, -14.0), (26.0, -22.0, 6.0)]
    return np.asarray(np.array(places[int(rng.integers(len(places)))]) + rng.normal(0, 6, 3))


def random_pose(rng: Generator, instrument: str) -> Pose:
    """At rest, as this instrument is played, or with anything that may go wrong."""
    start = embouchures().get(instrument, {"pose": {}})["pose"] if instrument else {}
    pose = Pose(**start)
    wild = rng.uniform()
    if wild < 0.12:
        return replace(pose, **_turned(rng))
    strong = 0.5 if wild < 0.5 else 1.0

    def some(chance: float, low: float, high: float, rest: float = 0.0) -> float:
        return rest + (rng.uniform(low, high) - rest) * strong if rng.uniform() < chance else rest

    rise = some(0.6, -14, 16)
    open_ = rng.uniform() < 0.5
    tall = float(np.exp(rng.uniform(np.log(0.4), np.log(13)))) if open_ else 0.0
    puffed = some(0.3, 0, 14)
    alone = rng.choice(["both", "both", "r", "l"])
    return replace(
        pose,
        rise_r=rise + rng.normal(0, 2),
        rise_l=rise + rng.normal(0, 2),
        width=pose.width * some(0.6, 0.74, 1.22, 1.0),
        upper_red=pose.upper_red * some(0.5, 0.1, 1.5, 1.0),
        lower_red=pose.lower_red * some(0.5, 0.0, 1.7, 1.0),
        aperture_height=pose.aperture_height + tall,
        aperture_width=max(pose.aperture_width, rng.uniform(5, 30) if open_ else 0.0),
        aperture_x=rng.normal(0, 1.5) if open_ else 0.0,
        protrude=pose.protrude + some(0.3, -2, 6),
        press=pose.press + some(0.3, 0, 1.5),
        jaw_drop=pose.jaw_drop + some(0.4, 0, 16) + 0.5 * tall,
        cheek_r=puffed if alone in ("both", "r") else 0.0,
        cheek_l=puffed if alone in ("both", "l") else 0.0,
        chin_raise=some(0.25, 0, 5),
        chin_hollow=pose.chin_hollow + some(0.4, -3.5, 3),
        fold=some(0.15, 0, 2.5),
        flesh=some(0.15, 0, 4),
        pocket_upper=some(0.15, 0, 6),
        pocket_lower=some(0.15, 0, 6),
        squint=some(0.3, 0, 1),
        **_turned(rng),
    )


def _turned(rng: Generator) -> dict[str, float]:
    """The head itself against the body; the camera adds the rest."""
    return {
        "yaw": rng.normal(0, 5), "pitch": rng.normal(0, 6), "roll": rng.normal(0, 5),
    }  # fmt: skip


def _within(value: float, least: float, most: float) -> float:
    return float(np.clip(value, least, most))


def _held(rng: Generator, person: Person, instrument: str) -> AnyEquipment:
    """The thing at the mouth, placed rightly or wrongly, sometimes on its way there."""
    usual = embouchures().get(instrument, {}).get("holds", {})
    away = float(rng.uniform(2, 60)) if rng.uniform() < 0.12 else 0.0
    offset = float(rng.normal(0, 2.2))
    kind = shape_of(instrument)
    if kind is Cup:
        placed = {
            "upper_share": _within(rng.normal(usual.get("upper_share", 0.5), 0.16), 0.1, 0.95),
            "angle": float(rng.uniform(-8, 32)), "gold": bool(rng.uniform() < 0.4),
        }  # fmt: skip
    elif kind is Reed:
        placed = {
            "depth": max(2.0, usual.get("depth", 12.0) * rng.uniform(0.45, 1.6)),
            "angle": _within(rng.normal(usual.get("angle", 50), 13), 12, 115),
            "askew": float(rng.normal(0, 5)),
        }  # fmt: skip
    else:
        placed = {
            "hole_to_lip": float(rng.normal(1.0, 3.5)), "tilt": float(rng.normal(0, 6)),
            "roll": float(rng.normal(0, 12)),
        }  # fmt: skip
    return equipment(instrument, person, skull(person), offset=offset, away=away, **placed)


def _repainted(rng: Generator, meshes: list[Mesh]) -> list[Mesh]:
    """The same thing in silver, brass, black or coloured plastic."""
    if not meshes or rng.uniform() < 0.45:
        return meshes
    which = rng.uniform()
    colour = _rgb(np.exp(rng.uniform(np.log(0.01), np.log(0.8), 3)))
    out = []
    for mesh in meshes:
        if mesh.material == METAL:
            if which < 0.35:
                out.append(replace(mesh, material=EBONITE, tint=colour))
            elif which < 0.7:
                out.append(replace(mesh, tint=_rgb(np.array(mesh.tint) * rng.uniform(0.35, 1.1))))
            else:
                out.append(replace(mesh, tint=(0.86, 0.66, 0.28)))
        elif mesh.material == EBONITE and which < 0.6:
            out.append(replace(mesh, tint=colour))
        elif mesh.material == CANE:
            out.append(replace(mesh, tint=_rgb(np.array(mesh.tint) * rng.uniform(0.5, 1.3))))
        else:
            out.append(mesh)
    return out


def _rgb(values: Floats) -> RGB:
    red, green, blue = (float(v) for v in np.minimum(values, 1.0))
    return red, green, blue


def random_camera(rng: Generator, person: Person, pose: Pose, beside: bool = False) -> Camera:
    """From the whole head to the mouth alone; front, profile, and between; a hand's lean.

    beside  as for ``random_scene``
    """
    view = VIEWS[int(rng.choice(3, p=OFTEN_BESIDE if beside else OFTEN))]
    azimuth = {
        "front": rng.normal(0, 8),
        "between": rng.choice([-1, 1]) * rng.uniform(15, 75),
        "profile": rng.choice([-1, 1]) * rng.normal(90, 9),
    }[view]
    distance = float(np.exp(rng.uniform(np.log(230), np.log(1100))))
    most = SPAN_BESIDE if beside else SPAN
    span = float(np.exp(rng.uniform(np.log(72), np.log(most))))
    camera = Camera(
        (SIZE, SIZE), distance, float(np.degrees(2 * np.arctan(span / 2 / distance))),
        (0.0, 0.0, 0.0), float(azimuth), float(rng.normal(0, 9)), float(rng.normal(0, 9)),
    )  # fmt: skip
    free = 0.5 * span - 26.0
    right = float(np.clip(rng.normal(0, 0.13 * span), -max(free, 6), max(free, 6)))
    up = float(np.clip(rng.normal(0.05 * span, 0.13 * span), -max(free, 6), max(free, 6)))
    mouth = np.array([pose.x, stomion(person) + pose.y, 0.0])
    # In a profile the face takes one side of the picture and the instrument the other.
    ahead = 0.12 * span * np.sin(np.radians(azimuth))
    aim = mouth + camera.turn.T @ np.array([right + ahead, up, 0.0])
    x, y, z = (float(v) for v in aim)
    return replace(camera, aim=(x, y, z))


def closer(rng: Generator, scene: Scene, at: Floats, shown: float) -> Scene:
    """The same scene with its camera aimed nearly at a part of the mouth.

    at     (3,) the part, in the room
    shown  what the picture spans, widths of the mouth
    """
    camera = scene.camera
    span = shown * 2 * scene.body.person.mouth * float(np.exp(rng.normal(0, 0.15)))
    right, up = rng.normal(0, 0.04 * span, 2)
    x, y, z = (float(v) for v in at + camera.turn.T @ np.array([right, up, 0.0]))
    angle = float(np.degrees(2 * np.arctan(span / 2 / camera.distance)))
    return replace(
        scene,
        camera=replace(camera, size=(CLOSER_SIZE, CLOSER_SIZE), fov=angle, aim=(x, y, z)),
    )


def random_light(rng: Generator) -> Light:
    """A key light from anywhere before the face, warm or cold, hard or soft."""

    def colour(strength: float, spread: float) -> tuple[float, float, float]:
        warm = rng.normal(0, spread)
        tint = np.array([1 + warm, 1 + rng.normal(0, 0.03), 1 - warm])
        red, green, blue = (float(v) for v in strength * np.clip(tint, 0.4, 1.6))
        return red, green, blue

    key = np.array([rng.normal(0, 0.6), rng.normal(0.4, 0.4), rng.uniform(0.15, 1.0)])
    fill = np.array([-key[0] + rng.normal(0, 0.3), rng.normal(0.1, 0.2), 0.7])
    return Light(
        key=(float(key[0]), float(key[1]), float(key[2])),
        fill=(float(fill[0]), float(fill[1]), float(fill[2])),
        key_rgb=colour(rng.uniform(0.4, 2.6), 0.12),
        fill_rgb=colour(rng.uniform(0.05, 0.6), 0.12),
        sky=colour(rng.uniform(0.25, 0.9), 0.08),
        floor=colour(rng.uniform(0.1, 0.5), 0.1),
        soft=float(rng.uniform(1.0, 10.0)),
        exposure=float(np.exp(rng.uniform(np.log(0.55), np.log(1.5)))),
    )
