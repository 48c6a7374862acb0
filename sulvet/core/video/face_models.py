"""Finds whole faces seen from the front, and the 478 points of the face mesh on each.

The models are those of the mediapipe package (Apache-2.0; see ``data/NOTICE``): a detector, the
mesh, and one for lips and each eye, which refine the mesh on a cut from its features. What lies
between them, a few operators of the package's own, is done here; ``training/mesh.py`` made the
files, and the answers are the package's to a tenth of a pixel.
"""

from __future__ import annotations

import csv
from functools import cache
from typing import NamedTuple

import cv2
import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.networks import DATA, answer

#: Sides of the pictures the detector and the mesh are shown, of the mesh's map of features, and of
#: a cut from it, pixels.
DETECTOR_SIDE, MESH_SIDE, MAP_SIDE, CUT_SIDE = 128, 192, 48, 16
#: Cells of the detector's two grids to a side, and anchors a cell.
GRIDS = ((16, 2), (8, 6))
#: Least score of a face found, and of a mesh; from what overlap on two boxes are one face.
LEAST_SCORE, LEAST_FACE, SAME_FACE = 0.5, 0.5, 0.3
#: The mesh is shown this much of the box round a face; a region's model this much of its points.
AROUND_FACE, AROUND_REGION = 1.5, 1.5
#: The two points whose line is level in a region's cut, the picture's left one first, and the rows
#: of the mesh that hold its iris.
LEVEL_POINTS = {"lips": (61, 291), "right_eye": (33, 133), "left_eye": (362, 263)}
IRISES = {"right_eye": slice(468, 473), "left_eye": slice(473, 478)}
VERTICES, REFINED = 468, 478


class _Window(NamedTuple):
    """A turned rectangle of a picture."""

    center: Floats
    size: Floats | float  # width and height, pixels; one number for a square
    turned: Floats  # (2, 2) from the window's own axes to the picture's

    def place(self, shares: Floats) -> Floats:
        """Map (N, 2) shares of the window, 0 to 1, to pixels of the picture."""
        return np.asarray((shares - 0.5) * self.size @ self.turned.T + self.center)


def find_meshes(picture: Image, most: int) -> list[Floats]:
    """Find the mesh of each face in a square RGB picture, the surest first, ``most`` at most.

    (478, 3) pixels each; z grows away from the camera, and is 0 for the irises.
    """
    found = (_mesh(picture, window) for window in _faces(picture)[:most])
    return [mesh for mesh in found if mesh is not None]


def _rotation(first: Floats, second: Floats) -> Floats:
    """Turn what is level onto the line between two points; (2, 2)."""
    across, down = second - first
    angle = np.arctan2(down, across)  # two points in one place are level
    return np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])


def _cut_out(picture: Image, window: _Window, side: int, border: int) -> Image:
    corners = window.place(np.array([[0.0, 0], [1, 0], [1, 1]])).astype(np.float32)
    to = np.array([[0, 0], [side, 0], [side, side]], np.float32)
    turned = cv2.getAffineTransform(corners, to)
    return np.asarray(cv2.warpAffine(picture, turned, (side, side), borderMode=border))


# -- the detector -------------------------------------------------------------------


@cache
def _anchors() -> Floats:
    """(A, 2) middle of each anchor, as shares of the picture."""
    rows = []
    for cells, count in GRIDS:
        middle = (np.arange(cells) + 0.5) / cells
        grid = np.stack(np.meshgrid(middle, middle), -1).reshape(-1, 2)
        rows.append(np.repeat(grid, count, axis=0))
    return np.concatenate(rows)


def _faces(picture: Image) -> list[_Window]:
    """Find the window of each face to show the mesh, the surest first."""
    side = len(picture)
    whole = _Window(np.full(2, side / 2), side, np.eye(2))
    shown = _cut_out(picture, whole, DETECTOR_SIDE, cv2.BORDER_CONSTANT)
    said = answer("face_detector", shown / 127.5 - 1)
    scores = 1 / (1 + np.exp(-np.clip(said["scores"][:, 0], -80, 80)))
    sure = np.flatnonzero(scores >= LEAST_SCORE)
    scores, anchors = scores[sure], _anchors()[sure, None]
    # Middle, width and height of the box, and six points: the eyes come first.
    read = said["boxes"][sure].reshape(len(sure), 8, 2) / DETECTOR_SIDE
    size = read[:, 1]
    boxes = np.concatenate([read[:, :1], read[:, 2:]], axis=1) + anchors
    low, high = boxes[:, 0] - size / 2, boxes[:, 0] + size / 2
    left = list(np.argsort(-scores, kind="stable"))
    faces = []
    while left:
        shared = np.clip(
            np.minimum(high[left[0]], high[left]) - np.maximum(low[left[0]], low[left]), 0, None
        ).prod(axis=1)
        areas = size[left].prod(axis=1)
        same = shared > SAME_FACE * (areas[0] + areas - shared)
        same[0] = True  # even a box without area
        group = np.array(left)[same]
        weights = scores[group] / scores[group].sum()
        width, height = weights @ size[group]
        middle, right, other = np.tensordot(weights, boxes[group, :3], 1) * side
        faces.append(
            _Window(middle, AROUND_FACE * max(width, height) * side, _rotation(right, other))
        )
        left = [k for k, gone in zip(left, same, strict=True) if not gone]
    return faces


# -- the mesh -----------------------------------------------------------------------


@cache
def _regions() -> dict[str, list[int]]:
    """The points each region's model refines, in its order."""
    with (DATA / "face_regions.csv").open(encoding="utf-8", newline="") as file:
        return {
            row["region"]: [int(k) for k in row["points"].split()] for row in csv.DictReader(file)
        }


def _mesh(picture: Image, window: _Window) -> Floats | None:
    """Find (478, 3) points in a square window; none where there is no face after all."""
    shown = _cut_out(picture, window, MESH_SIDE, cv2.BORDER_REPLICATE)
    said = answer("face_mesh", shown / 255)
    if 1 / (1 + np.exp(-said["face"].item())) < LEAST_FACE:
        return None
    points = np.zeros((REFINED, 3))
    points[:VERTICES] = said["points"].reshape(VERTICES, 3)
    rough = points[:, :2].copy()
    for name, vertices in _regions().items():
        region = _region(rough, name, vertices)
        found = answer(f"face_{name}", _features(said["features"], region))
        points[vertices, :2] = _refined(found["points"], region)
        if name in IRISES:
            points[IRISES[name], :2] = _refined(found["iris"], region)
    return np.column_stack(
        [window.place(points[:, :2] / MESH_SIDE), points[:, 2] / MESH_SIDE * window.size]
    )


def _region(points: Floats, name: str, vertices: list[int]) -> _Window:
    """The part of the mesh's picture in which a region's points lie."""
    first, second = LEVEL_POINTS[name]
    turned = _rotation(points[first], points[second])
    own = points[vertices] @ turned
    low, high = own.min(axis=0), own.max(axis=0)
    return _Window(turned @ (low + high) / 2, (high - low) * AROUND_REGION, turned)


def _features(features: Floats, region: _Window) -> Floats:
    """(16, 16, C) cut from the (48, 48, C) map, bilinear, nothing outside it."""
    middle = (np.arange(CUT_SIDE) + 0.5) / CUT_SIDE
    shares = np.stack(np.meshgrid(middle, middle), -1).reshape(-1, 2)
    at = region.place(shares) * MAP_SIDE / MESH_SIDE - 0.5
    corner = np.floor(at).astype(int)
    part = at - corner
    total = np.zeros((len(at), features.shape[2]))
    for right, below in ((0, 0), (1, 0), (0, 1), (1, 1)):
        column, row = corner[:, 0] + right, corner[:, 1] + below
        inside = (column >= 0) & (column < MAP_SIDE) & (row >= 0) & (row < MAP_SIDE)
        weight = np.abs(1 - right - part[:, 0]) * np.abs(1 - below - part[:, 1]) * inside
        total += weight[:, None] * features[row % MAP_SIDE, column % MAP_SIDE]
    return total.reshape(CUT_SIDE, CUT_SIDE, -1)


def _refined(said: Floats, region: _Window) -> Floats:
    """(N, 2) pixels of the mesh's picture of what a region's model answers."""
    cut = CUT_SIDE * MESH_SIDE / MAP_SIDE
    return region.place(said.reshape(-1, 2) / cut)
