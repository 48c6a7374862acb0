"""Sulvet's own landmark networks: where a mouth is in a picture, and its landmarks.

Trained on made-up heads alone (``docs/finder.md``), after the idea that landmark networks
learnt from drawn faces hold on real ones if the variety is wide and each point says how
sure it is (E. Wood and others, "Fake it till you make it", 2021, and "3D face
reconstruction with dense landmarks", 2022, from memory).
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.ndimage import maximum_filter, uniform_filter

from sulvet.core.anatomy.landmarks import CORNER_IDS
from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.closer_look import Spot, fine_corner, fine_lips
from sulvet.core.video.crops import (
    CLOSE,
    LOCATE_SIDE,
    LOCATE_STRIDE,
    MARK_SIDE,
    MARK_STRIDE,
    WIDE,
    crop_matrix,
    cut,
    inverse,
    through,
    whole_matrix,
)
from sulvet.core.video.network_points import LIPS, MIRRORED, POINTS
from sulvet.core.video.networks import answer, read_maps

#: Cells of the first network are a mouth from this share on: two faces share what one would have.
MOUTH = 0.15
#: Mouths nearer to one another than this many widths are one.
APART = 1.2
#: How likely a corner of the mouth must be seen to be looked at by itself.
LOOKED_FOR = 0.3
#: No more mouths than this are looked at.
MOST = 3


@dataclass(frozen=True)
class Mouth:
    """Where a mouth is.

    at     (2,) the middle between the borders of the lips, pixels
    unit   what its width at rest would take from the front, pixels
    yaw, roll  of the head, degrees: toward the picture's right, clockwise
    score  0..1
    """

    at: Floats
    unit: float
    yaw: float
    roll: float
    score: float


@dataclass(frozen=True)
class Landmarks:
    """What the second network says of a mouth.

    xy     (P, 2) pixels, in the order of ``POINTS``
    sigma  (P,) standard deviation of each coordinate, pixels
    seen   (P,) how likely the point is there and not covered, 0..1
    yaw, pitch, roll  of the head, degrees: toward the picture's right, raised, clockwise
    mouth  where it was looked for
    """

    xy: Floats
    sigma: Floats
    seen: Floats
    yaw: float
    pitch: float
    roll: float
    mouth: Mouth

    def at(self, name: str) -> Floats:
        """(2,) pixels of one point."""
        return np.asarray(self.xy[POINTS.index(name)])

    def spread(self, name: str) -> float:
        """Its standard deviation, pixels."""
        return float(self.sigma[POINTS.index(name)])

    def sure(self, name: str) -> float:
        """How likely it is that a point is seen."""
        return float(self.seen[POINTS.index(name)])


def mouths(rgb: Image) -> list[Mouth]:
    """Mouths in an (H, W, 3) RGB picture, the surest first."""
    matrix = whole_matrix(rgb.shape[1], rgb.shape[0])
    said = answer("place", cut(rgb, matrix, LOCATE_SIDE))
    cells, none = said["cells"], float(said["none"][0])
    highest = max(float(cells[..., 0].max()), none)
    share = np.exp(cells[..., 0] - highest)
    share /= share.sum() + np.exp(none - highest)
    # A mouth between cells is shared among them.
    score = uniform_filter(share, 3, mode="constant") * 9
    peaks = (share >= maximum_filter(share, 3)) & (score > MOUTH)
    back = inverse(matrix)
    found: list[Mouth] = []
    for row, column in np.argwhere(peaks):
        cell = cells[row, column]
        place = (np.array([column, row]) + 0.5 + cell[1:3]) * LOCATE_STRIDE - 0.5
        found.append(
            Mouth(
                through(back, place),
                float(np.exp(np.clip(cell[3], -5, 1)) * LOCATE_SIDE / matrix[0, 0]),
                float(np.degrees(np.arctan2(cell[4], cell[5]))),
                float(np.degrees(np.arctan2(cell[6], cell[7]))),
                float(score[row, column]),
            )
        )
    kept: list[Mouth] = []
    for mouth in sorted(found, key=lambda m: -m.score):
        if all(
            np.linalg.norm(mouth.at - other.at) > APART * max(mouth.unit, other.unit)
            for other in kept
        ):
            kept.append(mouth)
    return kept[:MOST]


@dataclass(frozen=True)
class _Look:
    xy: Floats
    sigma: Floats
    seen: Floats
    turn: Floats


def _look(rgb: Image, mouth: Mouth, wide: float, flipped: bool) -> _Look:
    """One look at a crop, as it is or mirrored; places in picture pixels."""
    matrix = crop_matrix(mouth.at, mouth.unit, wide, mouth.roll)
    crop = cut(rgb, matrix, MARK_SIDE)
    said = answer("marks", np.ascontiguousarray(crop[:, ::-1]) if flipped else crop)
    (xy, sigma, seen), turn = read_maps(said, MARK_STRIDE), said["turn"]
    if flipped:
        order = list(MIRRORED)
        xy = xy[order] * (-1, 1) + (MARK_SIDE - 1, 0)
        sigma, seen, turn = sigma[order], seen[order], turn * (-1, 1, 1, -1, 1)
    scale = float(np.hypot(matrix[0, 0], matrix[1, 0]))
    return _Look(through(inverse(matrix), xy), sigma / scale, seen, turn)


def _fused(looks: list[_Look]) -> _Look:
    """Several looks at one mouth: the mean by their sigmas.

    All come from one network, so agreement proves little and their sigmas do not shrink
    one another; where they disagree by more than they claim, the disagreement counts.
    """
    sigma = np.array([look.sigma for look in looks])
    weight = 1 / sigma**2
    weight /= weight.sum(axis=0)
    xy = (np.array([look.xy for look in looks]) * weight[..., None]).sum(axis=0)
    apart = np.array([((look.xy - xy) ** 2).sum(-1) / 2 for look in looks])
    spread = np.sqrt((weight * apart).sum(axis=0))
    own = np.sqrt((weight * sigma**2).sum(axis=0))
    seen = (np.array([look.seen for look in looks]) * weight).sum(axis=0)
    turn = np.mean([look.turn for look in looks], axis=0)
    return _Look(xy, np.maximum(own, spread), seen, turn)


def landmarks(rgb: Image, mouth: Mouth) -> Landmarks:
    """Landmarks round a mouth: a wide look to centre on it, wide and close ones, its corners."""
    first = _look(rgb, mouth, WIDE, False)
    better = _centred(mouth, first)
    wide = [_look(rgb, better, WIDE, flipped) for flipped in (False, True)]
    close = [_look(rgb, better, CLOSE, flipped) for flipped in (False, True)]
    whole = _fused(wide)
    near = _fused([*wide, *close])
    # What lies at the edge of the close crop is known from the wide one alone.
    far = np.abs(whole.xy - better.at).max(axis=1) > 0.42 * CLOSE * better.unit
    xy = np.where(far[:, None], whole.xy, near.xy)
    sigma = np.where(far, whole.sigma, near.sigma)
    seen = np.where(far, whole.seen, near.seen)
    turn = whole.turn
    roll = float(np.degrees(turn[3])) + better.roll
    second = {
        name: Spot(xy[k].copy(), float(sigma[k]), float(seen[k]))
        for name in (*CORNER_IDS, *LIPS)
        for k in [POINTS.index(name)]
    }
    fine = fine_lips(rgb, second, better.unit, roll)
    for name in CORNER_IDS:
        if second[name].seen >= LOOKED_FOR:
            fine[name] = fine_corner(rgb, name, second[name], better.unit, roll)
    for name, spot in fine.items():
        k = POINTS.index(name)
        xy[k], sigma[k], seen[k] = spot.at, spot.sigma, spot.seen
    return Landmarks(
        xy, sigma, seen, float(np.degrees(np.arctan2(turn[0], turn[1]))),
        float(np.degrees(turn[2])), roll, better,
    )  # fmt: skip


def _centred(mouth: Mouth, look: _Look) -> Mouth:
    """The mouth again, with its middle, width and lean from its landmarks."""
    lips = [POINTS.index(name) for name in ("ls", "li")]
    at = look.xy[lips].mean(axis=0)
    if np.linalg.norm(at - mouth.at) > mouth.unit:
        at = mouth.at
    unit = mouth.unit * float(np.exp(np.clip(look.turn[4], -0.7, 0.7)))
    return replace(mouth, at=at, unit=unit, roll=mouth.roll + float(np.degrees(look.turn[3])))


def find(rgb: Image) -> list[Landmarks]:
    """All mouths of a picture with their landmarks, the surest first."""
    return [landmarks(rgb, mouth) for mouth in mouths(rgb)]
