"""Faces as Sulvet's own networks see them: bare or playing, whole or close, both views."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from functools import cached_property

import numpy as np

from sulvet.core.anatomy.landmarks import CORNER_IDS, HELD_BY, IRIS_IDS, REQUIRED, SIDE_REQUIRED
from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.face_mesh import MeshFinder
from sulvet.core.video.finder import Face, Finder
from sulvet.core.video.landmark_network import Landmarks, Mouth, find, landmarks
from sulvet.core.video.network_mouthpiece import mouthpiece_from_side
from sulvet.core.video.network_rim import rim_from_front, rim_from_side, under_rim

#: From this yaw on a head is seen from the side, degrees.
PROFILE = 55.0
#: A point is believed to be seen from this probability on; a thing held, from this one.
SEEN, HELD = 0.5, 0.5
#: A mouth whose required points are on the median less sure than this, in widths of the mouth, is
#: none: the network is guessing; less still may be asked of one that the first network is sure of.
#: (Drawn heads 0.04 in the middle, 0.068 for the 95th of 100, and 95 of 100 score 0.45 or more; of
#: 300 walls, clutter and photographs of things the surest had 0.075, and 0.054 at a score of 0.33.)
UNSURE, UNSURE_FAINT, FAINT = 0.072, 0.05, 0.45
#: A mesh and the networks see one face where their marks lie no farther apart than this, in
#: widths of the mouth; the mesh is asked up to this yaw, degrees.
AGREE, MESH_YAW = 0.13, 25.0
#: How far the mesh's landmarks lie from what they should be, standard deviation in widths of the
#: mouth: it sees some of them in its own way (80 pictures of 40 made-up heads by lot that nothing
#: was tuned on). Corners of the mouth it places three times as well as the networks on faces
#: painted another way, though on made-up heads it lies 5 % off and they 1 %: there they are never
#: taken for surer than ``CORNER_OWN``, and how far both lie apart is kept (``Face.aside``). Irises
#: are the mesh's as much as the networks', which are better there on made-up heads but see those
#: of the one real portrait a fourteenth too wide.
MESH_SIGMA_ELSE = 0.04
MESH_SIGMA = {
    "al_r": 0.08, "al_l": 0.08, "cph_r": 0.08, "cph_l": 0.08, "ch_r": 0.02, "ch_l": 0.02,
} | dict.fromkeys(IRIS_IDS, 0.012)  # fmt: skip
CORNER_OWN = 0.08
OUTLINE_IDS = ("ck_r", "ck_l")
#: The mouth at rest over the distance of the outer eye corners (made-up heads).
MOUTH_OF_EYES = 0.53
#: Of a face's width, the mouth's at rest: a third or more.
FACE_WIDTHS = 2.9
FACE_POINTS = (
    "ex_r", "ex_l", "en_r", "en_l", *IRIS_IDS, "al_r", "al_l", "sn", "ch_r", "ch_l", "cph_r",
    "cph_l", "ls", "sto_s", "sto_i", "li", "pg", "me", "ck_r", "ck_l",
)  # fmt: skip
SIDE_POINTS = {name: name for name in SIDE_REQUIRED} | {"sto": "sto_i"}
#: From the side, with something at the mouth, the networks are never surer of lips and chin than
#: they are in the middle of 96 such pictures of people that no training saw, and with the closer
#: look at the lips in 15 takes of further ones, widths of the mouth: of one face all looks are off
#: alike.
PLAYING_SIDE = {"ls": 0.026, "li": 0.065, "sl": 0.04, "pg": 0.034, "sto": 0.045}
#: Of each kind the points that say it is there.
TELLING = {
    "rim": ("ring_0", "ring_2", "ring_6"), "mouthpiece": ("ax_a", "mp_lip", "mp_r", "mp_l"),
    "plate": ("pl_r", "pl_l", "hole_far", "ps_out"),
}  # fmt: skip

#: What of it touches the lips, and how near that is, in widths of the mouth.
TOUCHING = {"rim": ("rim_centre",), "mouthpiece": ("mp_lip", "mp_r"), "plate": ("hole_near",)}
AT_MOUTH = 0.55


class NetworkFinder:
    """Sulvet's own networks; the same picture gives the same marks.

    held  what the student plays has at the mouth (``landmarks.HELD_BY``), or nothing said: nothing
          else is taken for it
    """

    def __init__(self, held: str = "") -> None:
        self._held = held

    def find(self, rgb: Image) -> list[Face]:
        """Faces in an (H, W, 3) RGB picture, the widest first; only those that hold together."""
        return _sorted(face_of(found, rgb, self._held) for found in find(rgb))


class BothFinders:
    """The networks, and the face mesh where they see a whole bare face from the front.

    There both are taken together. What the mesh says counts only where both
    agree; a face that it alone proposes is looked at by the networks first.

    held  as for ``NetworkFinder``
    """

    def __init__(self, held: str = "") -> None:
        self._held = held

    @cached_property
    def _mesh(self) -> MeshFinder:
        """Loaded with the first picture it is asked about: of a profile or close-up it is not."""
        return MeshFinder()

    def find(self, rgb: Image) -> list[Face]:
        """Faces in an (H, W, 3) RGB picture, the widest first; only those that hold together."""
        faces = [face_of(found, rgb, self._held) for found in find(rgb)]
        known = [face for face in faces if face is not None]
        if known and not any(_whole(face) for face in known):
            return _sorted(known)
        out = list(known)
        for mesh in self._mesh.find(rgb):
            own = min(known, key=lambda face: _apart(face, mesh), default=None)
            if own is None or _apart(own, mesh) > 1.0:
                own = face_of(landmarks(rgb, _mouth_of(mesh)), rgb, self._held)
                out += [own] if own is not None and _apart(own, mesh) <= AGREE else []
            if own is not None and _whole(own) and _apart(own, mesh) <= AGREE:
                out = [_merged(own, mesh) if face is own else face for face in out]
        return _sorted(out)


def _sorted(faces: Iterable[Face | None]) -> list[Face]:
    return sorted((f for f in faces if f is not None), key=lambda face: -face.width)


def _whole(face: Face) -> bool:
    """Whether a face is bare, seen from the front, and shows its eyes."""
    return (
        face.view == "front" and not face.equipment and abs(face.yaw) < MESH_YAW
        and {"ex_r", "ex_l"} <= set(face.points)
    )  # fmt: skip


def _apart(face: Face, mesh: Face) -> float:
    """How far the marks of two finders lie apart, median over those both have, in widths of the
    mouth; much where they have hardly one in common."""
    both = [name for name in REQUIRED if name in face.points and name in mesh.points]
    if len(both) < 4:
        return float("inf")
    unit = face.width / FACE_WIDTHS
    return float(np.median([np.linalg.norm(face.points[n] - mesh.points[n]) for n in both]) / unit)


def _mouth_of(mesh: Face) -> Mouth:
    """Where the mesh sees a mouth."""
    p = mesh.points
    along = p["ex_l"] - p["ex_r"]
    unit = float(np.linalg.norm(along)) * MOUTH_OF_EYES
    roll = float(np.degrees(np.arctan2(along[1], along[0])))
    return Mouth((p["ls"] + p["li"]) / 2, unit, mesh.yaw, roll, 1.0)


def _merged(own: Face, mesh: Face) -> Face:
    """A face as both see it: each point by their sigmas, what only one sees as that one does.

    Where they lie farther apart than both claim, half the way between them counts as uncertainty.
    The cheeks' outline, of which the networks know little, is the mesh's.
    """
    unit = own.width / FACE_WIDTHS
    points, sigma = dict(own.points), dict(own.sigma)
    for name, place in mesh.points.items():
        spread = MESH_SIGMA.get(name, MESH_SIGMA_ELSE) * unit
        if name not in points or name in OUTLINE_IDS:
            points[name], sigma[name] = place, spread
            continue
        mine = max(sigma[name], CORNER_OWN * unit) if name in CORNER_IDS else sigma[name]
        share = spread**-2 / (spread**-2 + mine**-2)
        apart = float(np.linalg.norm(place - points[name])) / 2
        points[name] = share * place + (1 - share) * points[name]
        both = float(np.hypot(share * spread, (1 - share) * mine))
        sigma[name] = max(both, apart if apart > np.hypot(spread, mine) else 0.0)
    aside = {name: points[name] - own.points[name] for name in CORNER_IDS if name in own.points}
    return replace(own, points=points, sigma=sigma, yaw=mesh.yaw, pitch=mesh.pitch, aside=aside)


def face_of(found: Landmarks, rgb: Image, held: str = "") -> Face | None:
    """What the landmarks say of an (H, W, 3) picture, or None where they don't hold together.

    held  as for ``NetworkFinder``
    """
    height, width = rgb.shape[:2]
    side = abs(found.yaw) > PROFILE
    thing = _thing(found, held)
    names = SIDE_POINTS if side else dict(zip(FACE_POINTS, FACE_POINTS, strict=True))
    points: dict[str, Floats] = {}
    sigma: dict[str, float] = {}

    def take(name: str, place: Floats, spread: float) -> None:
        if 0 <= place[0] < width and 0 <= place[1] < height:
            points[name], sigma[name] = place, spread

    least = PLAYING_SIDE if side and thing else {}
    for name, own in names.items():
        sure = found.sure(own)
        if name == "sto":
            # Where lips meet is no surface of its own: it shows where both lips do.
            sure = max(sure, min(found.sure("ls"), found.sure("li")))
        # The midline of a bare profile is its outline: turned a little past it, half of it counts
        # as behind the other half, and is found as well as before.
        outline = side and not thing and found.spread(own) < UNSURE * found.mouth.unit
        if sure >= SEEN or outline:
            spread = max(found.spread(own), least.get(name, 0.0) * found.mouth.unit)
            take(name, found.at(own), spread)
    covered = _covered(found, thing) if thing else 0.0
    marks = _held(found, thing, side, rgb)
    for name, place, spread in marks:
        take(name, place, spread)
    # A network that knows there must be a corner puts it at the edge of what covers it.
    for name in {"ch_r", "ch_l"} & set(points) if thing == "rim" and not side else ():
        if under_rim(marks, points[name], sigma[name]):
            del points[name], sigma[name]
    needed = SIDE_REQUIRED if side else REQUIRED
    known = [found.spread(SIDE_POINTS.get(name, name)) for name in needed]
    limit = UNSURE if found.mouth.score >= FAINT else UNSURE_FAINT
    if np.median(known) > limit * found.mouth.unit:
        return None
    if {"ch_r", "ch_l"} <= set(points) and points["ch_r"][0] > points["ch_l"][0] and not side:
        return None  # upside down or mirrored: nothing that holds together
    return Face(
        points, FACE_WIDTHS * found.mouth.unit, covered, found.yaw, found.pitch, sigma,
        "side" if side else "front", _equipment(thing, side),
    )  # fmt: skip


def _thing(found: Landmarks, held: str) -> str:
    """What is held to the mouth, or nothing; what is in the picture elsewhere is not held there."""
    sure = {
        thing: float(np.max([found.sure(name) for name in names]))
        for thing, names in TELLING.items()
        if not held or thing == held
    }
    best = max(sure, key=lambda thing: sure[thing])
    lips = (found.at("ls") + found.at("li")) / 2
    near = min(float(np.linalg.norm(found.at(name) - lips)) for name in TOUCHING[best])
    return best if sure[best] >= HELD and near < AT_MOUTH * found.mouth.unit else ""


def _covered(found: Landmarks, thing: str) -> float:
    """How sure it is that it lies over the lips; a plate lies under them, and they play."""
    sure = max(found.sure(name) for name in TELLING[thing])
    bare = min(found.sure(name) for name in ("ls", "li", "sto_s", "sto_i"))
    return sure if thing == "plate" or bare < SEEN else 0.0


def _equipment(thing: str, side: bool) -> str:
    from_side = {"rim": "rim-side", "mouthpiece": "beak", "plate": "plate-side", "": ""}
    return from_side[thing] if side else thing


def _held(found: Landmarks, thing: str, side: bool, rgb: Image) -> list[tuple[str, Floats, float]]:
    """The marks of what is held, as a teacher would place them.

    Of a lip plate from the side nothing: there the network is wrong by an eighth of the mouth's
    width (docs/finder.md), and the teacher marks it.
    """
    if thing == "rim":
        return rim_from_side(found) if side else rim_from_front(found, rgb)
    if side:
        return mouthpiece_from_side(found, rgb) if thing == "mouthpiece" else []
    names = {
        "mouthpiece": ("mp_r", "mp_l"),
        "plate": ("hole_r", "hole_l", "hole_far", "pl_r", "pl_l"),
    }
    return [(name, found.at(name), found.spread(name)) for name in names.get(thing, ())]


def default_finder(family: str = "") -> Finder:
    """What looks for faces unless somebody asks for another.

    family  of the instrument that is played, or nothing said
    """
    return BothFinders(HELD_BY.get(family, ""))
