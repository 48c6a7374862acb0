"""Marks of one take as arrays: where each landmark is on each frame."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]

#: How a mark came about. The order is that of trust.
SOURCES: tuple[str, ...] = ("none", "followed", "found", "placed")
ARRAYS: tuple[str, ...] = ("frames", "seconds", "xy", "sigma", "drift", "source", "hidden")
NONE, FOLLOWED, FOUND, PLACED = range(4)

#: What a picture tells beside places: small-scale contrast of the chin's skin over that
#: of the cheeks; the head's turn and nod as the finder sees it at rest, degrees; how far the
#: head has turned since the anchor frame, to the picture's right and downward, as a sine; and where
#: the finder sees the inner edges of the lips (``video.opening_check``).
SIGNALS: tuple[str, ...] = (
    "chin_texture", "mesh_yaw", "mesh_pitch", "turn_x", "turn_y",
    "inner_upper", "inner_lower", "inner_sigma",
)  # fmt: skip


@dataclass(frozen=True)
class Marks:
    """Landmarks of a take over time.

    ids      L landmark ids
    frames   (T,) frame numbers of the clip
    seconds  (T,) time from the first frame, s
    xy       (T, L, 2) pixels of the upright picture, y down; NaN where unknown
    sigma    (T, L) standard deviation of each coordinate, pixels
    drift    (T, L) the part of ``sigma`` that is *not* shared with the other
             frames followed from the same keyframe, pixels. A landmark put two
             pixels beside its true place is two pixels beside it on every
             frame that was followed from there, so the shared part all but
             drops out of a change from rest; the drift does not.
    source   (T, L) index into SOURCES
    hidden   (T, L) covered by something, or out of the picture
    signals  what is read off the picture itself and is no place: name → (T,), NaN
             where unknown; see ``SIGNALS``
    """

    ids: tuple[str, ...]
    frames: NDArray[np.int64]
    seconds: Floats
    xy: Floats
    sigma: Floats
    drift: Floats
    source: NDArray[np.int8]
    hidden: Bools
    signals: dict[str, Floats] = field(default_factory=dict)

    def __post_init__(self) -> None:
        frames, count = len(self.frames), len(self.ids)
        if self.xy.shape != (frames, count, 2):
            raise ValueError(f"xy must be ({frames}, {count}, 2), not {self.xy.shape}")
        for name in ("sigma", "drift", "source", "hidden"):
            if getattr(self, name).shape != (frames, count):
                raise ValueError(f"{name} must be ({frames}, {count})")

    @staticmethod
    def empty(ids: Sequence[str], seconds: Sequence[float] | Floats) -> Marks:
        """Marks of which nothing is known yet: every point missing and hidden."""
        shape = (len(seconds), len(ids))
        return Marks(
            ids=tuple(ids),
            frames=np.arange(shape[0], dtype=np.int64),
            seconds=np.asarray(seconds, dtype=float),
            xy=np.full((*shape, 2), np.nan),
            sigma=np.full(shape, np.nan),
            drift=np.full(shape, np.nan),
            source=np.zeros(shape, dtype=np.int8),
            hidden=np.ones(shape, dtype=bool),
        )

    def __len__(self) -> int:
        return len(self.frames)

    def column(self, landmark: str) -> int:
        """Index of a landmark in the arrays; KeyError when the take has none such."""
        try:
            return self.ids.index(landmark)
        except ValueError:
            raise KeyError(landmark) from None

    def arrays(self) -> dict[str, NDArray[Any]]:
        """All arrays by name, for keeping; signals under ``signal_`` and their name."""
        named = {name: getattr(self, name) for name in ARRAYS}
        return named | {f"signal_{name}": values for name, values in self.signals.items()}

    @staticmethod
    def of(ids: Sequence[str], arrays: Mapping[str, NDArray[Any]]) -> Marks:
        """Marks from kept arrays."""
        signals = {
            name: np.asarray(arrays[f"signal_{name}"], dtype=float)
            for name in SIGNALS
            if f"signal_{name}" in arrays
        }
        return Marks(tuple(ids), **{name: arrays[name] for name in ARRAYS}, signals=signals)

    def moved(self, xy: Floats) -> Marks:
        """The same marks at other places."""
        return replace(self, xy=xy)

    def rows(self, rows: NDArray[np.int64]) -> Marks:
        """The marks of some frames."""
        return Marks(
            self.ids, self.frames[rows], self.seconds[rows], self.xy[rows], self.sigma[rows],
            self.drift[rows], self.source[rows], self.hidden[rows],
            {name: values[rows] for name, values in self.signals.items()},
        )  # fmt: skip

    def copied(self) -> Marks:
        """The same marks in arrays of their own."""
        return Marks(
            self.ids, self.frames, self.seconds, self.xy.copy(), self.sigma.copy(),
            self.drift.copy(), self.source.copy(), self.hidden.copy(), dict(self.signals),
        )  # fmt: skip
