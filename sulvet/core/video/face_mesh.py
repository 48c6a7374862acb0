"""Finding a face in a picture, behind one small interface.

The finder is a general-purpose face mesh. It is good on a bare face and
invents lips under a mouthpiece, so it is asked on few frames, its answer is
refused where something covers the mouth, and everything else is following.
"""

from __future__ import annotations

import os
from dataclasses import dataclass
from typing import Protocol

import cv2
import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image

#: Mesh vertex of each landmark. The two sides are the subject's own.
MESH: dict[str, int] = {
    "ex_r": 33,
    "en_r": 133,
    "ex_l": 263,
    "en_l": 362,
    "al_r": 129,
    "al_l": 358,
    "sn": 2,
    "ch_r": 61,
    "ch_l": 291,
    "cph_r": 37,
    "cph_l": 267,
    "ls": 0,
    "sto_s": 13,
    "sto_i": 14,
    "li": 17,
    "prn": 4,
    "pg": 199,
    "me": 152,
    "iris_r_out": 471,
    "iris_r_in": 469,
    "iris_l_in": 476,
    "iris_l_out": 474,
}
LIPS_OUTER = (61, 40, 37, 0, 267, 270, 291, 321, 314, 17, 84, 91)
#: The outline of the face from above the mouth's height to below it, right and left.
OVALS = {"ck_r": (93, 132, 58, 172, 136), "ck_l": (323, 361, 288, 397, 365)}
#: Pairs of vertices that lie level and upright in a head that looks straight ahead.
ACROSS, UPRIGHT = (33, 263), (10, 152)
#: How far that upright line leans in a head that looks straight ahead (made-up heads:
#: 12 degrees, 3 between people).
LEVEL = 12.0
CHEEKS = (50, 101, 36, 205, 280, 330, 266, 425)


@dataclass(frozen=True)
class Face:
    """A face as found.

    points   id → (2,) pixels
    width    width of the whole face, pixels
    covered  share of the mouth's area that does not look like lip or skin
    yaw, pitch  how far the head is turned to the picture's right and raised, degrees
    """

    points: dict[str, Floats]
    width: float
    covered: float
    yaw: float = 0.0
    pitch: float = 0.0

    @property
    def shape(self) -> Floats:
        """Mouth width, lip height and corner height over the eyes' distance."""
        p = self.points
        eyes = p["ex_l"] - p["ex_r"]
        size = float(np.linalg.norm(eyes))
        along = eyes / size
        down = np.array([-along[1], along[0]])
        mid = (p["ls"] + p["li"]) / 2
        corners = (p["ch_r"] + p["ch_l"]) / 2
        return np.array(
            [
                np.linalg.norm(p["ch_l"] - p["ch_r"]) / size,
                np.linalg.norm(p["li"] - p["ls"]) / size,
                float((corners - mid) @ down) / size,
            ]
        )


class Finder(Protocol):
    """Anything that finds faces in an RGB picture, the largest first."""

    def find(self, rgb: Image) -> list[Face]:
        """Faces in the picture; an empty list when there is none."""


class MeshFinder:
    """The face mesh that comes with the mediapipe package.

    Works on single pictures, so the same picture gives the same marks.
    """

    def __init__(self) -> None:
        os.environ.setdefault("GLOG_minloglevel", "3")
        os.environ.setdefault("TF_CPP_MIN_LOG_LEVEL", "3")
        from mediapipe.python.solutions.face_mesh import FaceMesh

        self._mesh = FaceMesh(
            static_image_mode=True,
            refine_landmarks=True,
            max_num_faces=2,
            min_detection_confidence=0.5,
        )

    def find(self, rgb: Image) -> list[Face]:
        """Faces in an (H, W, 3) RGB picture, the widest first.

        The picture is padded to a square: on others the mesh is off by up to
        three pixels (measured).
        """
        height, width = rgb.shape[:2]
        side = max(height, width)
        square = np.zeros((side, side, 3), np.uint8)
        top, left = (side - height) // 2, (side - width) // 2
        square[top : top + height, left : left + width] = rgb
        answer = self._mesh.process(square)
        faces = []
        for found in answer.multi_face_landmarks or []:
            deep: Floats = np.array([(p.x, p.y, p.z) for p in found.landmark]) * float(side)
            mesh = deep[:, :2] - np.array([left, top], dtype=float)
            inside = (mesh >= -2).all(1) & (mesh[:, 0] < width + 2) & (mesh[:, 1] < height + 2)
            points = {name: mesh[vertex] for name, vertex in MESH.items() if inside[vertex]}
            if not {"ch_r", "ch_l", "ls", "li", "sn", "ex_r", "ex_l"} <= set(points):
                continue  # without nose and eyes in the picture the mesh guesses
            points |= _outline(mesh, points)
            faces.append(
                Face(
                    points=points,
                    width=float(np.ptp(mesh[:468, 0])),
                    covered=covered_share(rgb, mesh[list(LIPS_OUTER)], mesh[list(CHEEKS)]),
                    yaw=_turned(deep[list(ACROSS)], 0),
                    pitch=LEVEL - _turned(deep[list(UPRIGHT)], 1),
                )
            )
        return sorted(faces, key=lambda face: -face.width)


def _outline(mesh: Floats, points: dict[str, Floats]) -> dict[str, Floats]:
    """Where the mesh's outline crosses the line through both mouth corners, pixels."""
    right, left = points["ch_r"], points["ch_l"]
    along = (left - right) / np.linalg.norm(left - right)
    down = np.array([-along[1], along[0]])
    out = {}
    for name, vertices in OVALS.items():
        off = mesh[list(vertices)] - (right + left) / 2
        depth, across = off @ down, off @ along
        if depth[0] < 0 < depth[-1]:
            at = float(np.interp(0.0, depth, across))
            out[name] = (right + left) / 2 + at * along
    return out


def _turned(pair: Floats, axis: int) -> float:
    """How far the line between two vertices leans into the picture, degrees."""
    way = pair[1] - pair[0]
    return float(np.degrees(np.arctan2(way[2], way[axis])))


def covered_share(rgb: Image, lips: Floats, cheeks: Floats) -> float:
    """Share of the mouth's area that is neither lip nor skin in colour.

    lips    (N, 2) outline of the red, pixels
    cheeks  (M, 2) points on bare skin, pixels

    Colours are compared in CIE L*a*b* with the cheeks of the same picture, so
    that any skin tone and any light is its own standard. Lips may be redder
    (more a*) and darker than skin; brass is yellower, silver greyer, and black
    rubber darker and greyer than any lip.
    """
    size = float(np.ptp(lips[:, 0]))
    low = np.floor(np.minimum(lips.min(0), cheeks.min(0)) - 0.2 * size).astype(int)
    high = np.ceil(np.maximum(lips.max(0), cheeks.max(0)) + 0.2 * size).astype(int)
    low = np.maximum(low, 0)
    high = np.minimum(high, (rgb.shape[1], rgb.shape[0]))
    part = rgb[low[1] : high[1], low[0] : high[0]]
    if part.size == 0 or size < 8:
        return 1.0
    part = cv2.GaussianBlur(part, (0, 0), max(size / 60, 0.6))
    lab = cv2.cvtColor(part.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    skin = np.zeros(part.shape[:2], np.uint8)
    for x, y in cheeks - low:
        cv2.circle(skin, (int(x), int(y)), max(int(size * 0.08), 2), 1, -1)
    reference = lab[skin > 0]
    if len(reference) < 10:
        return 1.0
    middle = np.median(reference, axis=0)
    spread = np.maximum(np.median(np.abs(reference - middle), axis=0) * 1.5, (4.0, 1.5, 1.5))
    mouth = np.zeros(part.shape[:2], np.uint8)
    centre = lips.mean(0)
    outline = centre + (lips - centre) * (0.9, 1.15)
    cv2.fillPoly(mouth, [np.round(outline - low).astype(np.int32)], 1)
    # Hue and saturation relative to the skin: what counts is where a colour
    # lies off the line from grey through skin to lip red.
    away = lab[mouth > 0] - middle
    redder = np.clip(away[:, 1], 0, 40.0)
    greyer = np.maximum(-away[:, 1] - 2 * spread[1], 0)
    yellower = np.maximum(away[:, 2] - 2 * spread[2] - 0.5 * redder, 0)
    bluer = np.maximum(-away[:, 2] - 3 * spread[2] - 0.6 * redder - 4.0, 0)
    score = np.hypot(np.hypot(greyer, yellower), bluer)
    return float((score > 5.0).mean())
