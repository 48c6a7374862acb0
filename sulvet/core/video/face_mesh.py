"""The general-purpose face mesh, for a whole bare face seen from the front.

It is good there, sees nothing of a close-up or a profile, and invents lips under a
mouthpiece: what it says is taken only where Sulvet's own network sees the same mouth bare.
"""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.face_models import find_meshes
from sulvet.core.video.finder import Face

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
#: The outline of the face from above the mouth's height to below it, right and left.
OVALS = {"ck_r": (93, 132, 58, 172, 136), "ck_l": (323, 361, 288, 397, 365)}
#: Pairs of vertices that lie level and upright in a head that looks straight ahead.
ACROSS, UPRIGHT = (33, 263), (10, 152)
#: How far that upright line leans in a head that looks straight ahead (made-up heads:
#: 12 degrees, 3 between people).
LEVEL = 12.0
#: More faces than these are of no use: a teacher is asked whose clip it is.
MOST_FACES = 2


class MeshFinder:
    """Takes Sulvet's marks from the face mesh.

    Works on single pictures, so the same picture gives the same marks.
    """

    def find(self, rgb: Image) -> list[Face]:
        """Faces in an (H, W, 3) RGB picture, the widest first.

        The picture is padded to a square, which is what the models take.
        """
        height, width = rgb.shape[:2]
        side = max(height, width)
        square = np.zeros((side, side, 3), np.uint8)
        top, left = (side - height) // 2, (side - width) // 2
        square[top : top + height, left : left + width] = rgb
        faces = []
        for deep in find_meshes(square, MOST_FACES):
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
                    covered=0.0,
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
