"""Faces in a picture, as whatever finds them says it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Protocol

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image

#: Standard deviation of a mark whose finder says none, share of the face's width: the
#: mesh's own noise of 0.6 to 1.0 % of the mouth (measured), before several are taken together.
FOUND_SIGMA = 0.0035


#: What a finder is off by on all frames alike, share of its sigma.
SHARED = 0.7


def of_looks(sigma: float, looks: int) -> float:
    """Standard deviation of the median of several looks, each of this one: what they are off by
    alike stays, however many there are."""
    return float(sigma * max(1.25 / np.sqrt(looks), SHARED))


@dataclass(frozen=True)
class Face:
    """A face as found.

    points   id → (2,) pixels
    width    width of the whole face, pixels
    covered  how sure it is that something lies over the lips, 0..1
    yaw, pitch  how far the head is turned to the picture's right and raised, degrees
    sigma    id → standard deviation of each coordinate, pixels, where the finder says it
    view     front or side
    equipment  what is held to the mouth, as in ``ALL_EQUIPMENT``, or an empty string
    aside    id → (2,) pixels from where it would be seen on a face that is not bare, where
             something else was asked as well
    """

    points: dict[str, Floats]
    width: float
    covered: float
    yaw: float = 0.0
    pitch: float = 0.0
    sigma: dict[str, float] = field(default_factory=dict)
    view: str = "front"
    equipment: str = ""
    aside: dict[str, Floats] = field(default_factory=dict)

    def spread(self, name: str) -> float:
        """Standard deviation of a point, pixels."""
        return self.sigma.get(name, FOUND_SIGMA * self.width)

    @property
    def shape(self) -> Floats:
        """Mouth width, lip height and corner height over the eyes' distance.

        From the side: where the lips lie between the nose's tip and the chin.
        """
        p = self.points
        if self.view == "side":
            down = p["pg"] - p["prn"]
            size = float(np.linalg.norm(down))
            return np.array([
                np.linalg.norm(p[name] - p["prn"]) / size for name in ("ls", "sto", "li")
            ])  # fmt: skip
        pair = ("ex_r", "ex_l") if {"ex_r", "ex_l"} <= set(p) else ("al_r", "al_l")
        eyes = p[pair[1]] - p[pair[0]]
        # Nose wings are some 0.4 as far apart as the outer corners of the eyes.
        size = float(np.linalg.norm(eyes)) / (1.0 if pair[0] == "ex_r" else 0.4)
        along = eyes / max(size, 1e-6)
        along = along / max(float(np.linalg.norm(along)), 1e-6)
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
