"""A scene as a picture with its truth."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.random import Generator

from sulvet.core.anatomy.landmarks import CORNER_IDS
from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.dataset.people import tone_of
from sulvet.core.dataset.points import true_points
from sulvet.core.dataset.samples import Sample
from sulvet.core.dataset.scenes import CORNER_SPAN, LIPS_SPAN, Scene, closer, random_scene
from sulvet.core.simulate.camera import head_turn, into_room
from sulvet.core.simulate.clip import COVERED_MM, EDGE_MM, OUTLINE, visible
from sulvet.core.simulate.equipment import Cup
from sulvet.core.simulate.light import Lens
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.shade import finish, radiance
from sulvet.core.simulate.skull import TEXEL_MM
from sulvet.core.video.network_points import POINTS

#: So many of the scenes with a rim are not drawn where lips are to be seen.
LEFT_OUT = 0.7
#: How far behind the surface a point may lie and still be shown by it, mm: what is half way up
#: or in the middle of a thing, where lips meet, and the middle of a face seen from the side.
BEHIND_MM: dict[str, float] = {
    "ax_a": 20.0, "ax_b": 20.0, "mp_lip": 12.0, "mp_r": 5.0, "mp_l": 5.0, "ps_in": 40.0,
    "ps_out": 40.0, "sto_s": 6.0, "sto_i": 6.0,
} | dict.fromkeys(("n", "prn", "sn", "ls", "li", "cph_r", "cph_l", "sl", "pg"), 5.0)  # fmt: skip


def draw(scene: Scene, texel: float = TEXEL_MM) -> Sample:
    """Take the picture; the skin is painted as finely as ``texel``, mm."""
    shown, camera = scene.body, scene.camera
    linear, there = radiance(shown, camera, scene.light, texel)
    if scene.clear and scene.equipment is not None:
        # Half of what clear plastic shows is behind it.
        own = len(scene.equipment.meshes())
        bare, behind = radiance(
            replace(shown, meshes=shown.meshes[:-own]), camera, scene.light, texel
        )
        linear = np.where((there & behind)[..., None], 0.45 * linear + 0.55 * bare, linear)
    picture = finish(linear * scene.light.exposure, Lens(0.0, 0.0), 0)
    points = true_points(shown, scene.equipment)
    names = list(points)
    xyz = np.array([points[name] for name in names])
    screen = camera.project(into_room(xyz, shown.pose))
    xy, seen = np.full((len(POINTS), 2), np.nan), np.zeros(len(POINTS), bool)
    for name, place, is_seen in zip(
        names, screen[:, :2], seen_of(scene, names, screen), strict=True
    ):
        xy[POINTS.index(name)], seen[POINTS.index(name)] = place, is_seen
    middle = (points["ls"] + points["li"]) / 2
    at = camera.project(into_room(middle[None], shown.pose))[0]
    unit = camera.focal / at[2] * 2 * shown.person.mouth
    mask = np.where(there, 255, 0).astype(np.uint8)
    return Sample(
        picture, mask, xy, seen, at[:2], float(unit), _turn(scene),
        facts_of(shown.person, scene.instrument),
    )  # fmt: skip


def seen_of(scene: Scene, names: list[str], screen: Floats) -> Bools:
    """(N,) whether points lie in the picture and nothing covers them.

    screen  (N, 3) where they lie: pixels, and depth in mm
    """
    usual = dict.fromkeys(OUTLINE, EDGE_MM) | BEHIND_MM
    slack = np.array([usual.get(name, COVERED_MM) for name in names])
    return np.asarray(visible(scene.body, scene.camera, screen, slack), bool)


def facts_of(person: Person, instrument: str) -> dict[str, str]:
    """What figures are broken down by."""
    red = person.upper + person.lower
    return {
        "instrument": instrument or "none",
        "tone": tone_of(person),
        "lips": "thin" if red < 11.5 else "full" if red > 15.5 else "medium",
        "age": "9 to 11" if person.age < 12 else "12 to 15" if person.age < 16 else "16 and over",
    }


def _turn(scene: Scene) -> Floats:
    """How the camera sees the head: yaw toward the picture's right, pitch up, roll clockwise."""
    axes = scene.camera.turn @ head_turn(scene.body.pose)
    ahead, up = axes[:, 2], axes[:, 1]
    return np.degrees([
        np.arctan2(ahead[0], ahead[2]), np.arcsin(np.clip(ahead[1], -1, 1)),
        np.arctan2(up[0], up[1]),
    ])  # fmt: skip


def sample(rng: Generator, person: Person, beside: bool = False) -> Sample:
    """One picture of a person; scenes whose mouth lies outside are drawn again.

    beside  as for ``scenes.random_scene``
    """
    while True:
        found = draw(random_scene(rng, person, beside))
        height, width = found.mask.shape
        if 0 < found.mouth[0] < width and 0 < found.mouth[1] < height:
            return found


def corner_sample(rng: Generator, person: Person, texel: float) -> Sample:
    """One picture of a corner of the mouth, large; which one is said in its facts.

    A corner that is covered is drawn as well, one that is turned away is not.
    """
    while True:
        scene = random_scene(rng, person)
        corners = true_points(scene.body, scene.equipment)
        room = into_room(np.array([corners[name] for name in CORNER_IDS]), scene.body.pose)
        # From the side the nearer one, from the front either.
        nearer = scene.camera.see(room)[:, 2]
        apart = float(nearer[0] - nearer[1])
        k = int(rng.integers(2)) if abs(apart) < 0.4 * person.mouth else int(apart < 0)
        found = draw(closer(rng, scene, room[k], CORNER_SPAN), texel)
        place = found.xy[POINTS.index(CORNER_IDS[k])]
        size = found.mask.shape[0]
        if ((place > 0) & (place < size - 1)).all():
            return replace(found, facts=found.facts | {"corner": CORNER_IDS[k]})


def lips_sample(rng: Generator, person: Person, texel: float) -> Sample:
    """One picture of the middle of the lips, large; half of them from the side.

    A rim before the lips leaves little to be seen of them: most such scenes are left out.
    """
    while True:
        scene = random_scene(rng, person, bool(rng.uniform() < 0.5))
        if isinstance(scene.equipment, Cup) and rng.uniform() < LEFT_OUT:
            continue
        points = true_points(scene.body, scene.equipment)
        middle = into_room((points["ls"] + points["li"])[None] / 2, scene.body.pose)[0]
        found = draw(closer(rng, scene, middle, LIPS_SPAN), texel)
        size = found.mask.shape[0]
        if ((found.mouth > 0) & (found.mouth < size - 1)).all():
            return found
