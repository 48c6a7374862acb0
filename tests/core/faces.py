"""Marks made by hand: a face of round figures, moved as told."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from sulvet.core.anatomy.landmarks import FRONT_IDS
from sulvet.core.anatomy.marks import PLACED, Floats, Marks
from sulvet.core.judgement.results import CANT_TELL, Judgement
from sulvet.core.phases import Phase

#: Pixels, y down. Mid-lip is at (300, 410), the corners level with it.
FACE: dict[str, tuple[float, float]] = {
    "ex_r": (214, 280), "en_r": (266, 282), "en_l": (334, 282), "ex_l": (386, 280),
    "al_r": (265, 360), "al_l": (335, 360), "sn": (300, 372),
    "cph_r": (288, 392), "ls": (300, 395), "cph_l": (312, 392),
    "sto_s": (300, 410), "sto_i": (300, 411), "li": (300, 425),
    "ch_r": (250, 410), "ch_l": (350, 410), "me": (300, 500),
    "iris_r_out": (228, 281), "iris_r_in": (252, 281),
    "iris_l_in": (348, 281), "iris_l_out": (372, 281),
}  # fmt: skip
MID_LIP = np.array([300.0, 410.0])
PHASES = [Phase("rest", 0.0, 1.0), Phase("hold", 2.0, 4.0)]
FPS = 20


def with_corners(rise: float, width: float) -> Floats:
    """(L, 2) the face with both corners at an angle above mid-lip and a width over rest."""
    face = dict(FACE)
    half = 50.0 * width
    lift = half * np.tan(np.radians(rise))
    face["ch_r"] = (300 - half, 410 - lift)
    face["ch_l"] = (300 + half, 410 - lift)
    return np.array([face[name] for name in FRONT_IDS], dtype=float)


def take(held: Floats, sigma: float = 0.3, seconds: float = 5.0) -> Marks:
    """Marks of a take: the plain face until 1.5 s, then ``held``."""
    times = np.arange(round(seconds * FPS)) / FPS
    marks = Marks.empty(FRONT_IDS, times)
    marks.xy[:] = with_corners(0.0, 1.0)
    marks.xy[times >= 1.5] = held
    marks.sigma[:], marks.drift[:] = sigma, sigma
    marks.source[:], marks.hidden[:] = PLACED, False
    return marks


def moved(marks: Marks, move: Callable[[Floats, Floats], Floats]) -> Marks:
    """Every frame's points through ``move(seconds, points)``."""
    return marks.moved(
        np.array([move(t, xy) for t, xy in zip(marks.seconds, marks.xy, strict=True)])
    )


def called(result: Judgement) -> list[tuple[str, str]]:
    """Faults and what is to be watched; not what can't be told."""
    return [(f.fault, f.verdict) for f in result.findings if f.verdict != CANT_TELL]
