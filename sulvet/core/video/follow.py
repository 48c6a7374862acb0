"""Following landmarks through a steadied take, in both directions from keyframes.

Each landmark is a patch of points. On every frame it is looked for directly
from its keyframe (no drift); where the skin has changed too much for that it
is taken on from the frame before (drifts a little, and says so); where neither
check holds, something covers it: it is hidden, stays where it was in the
steadied face, and is taken up again only on a good match.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.landmarks import BY_ID
from sulvet.core.anatomy.marks import FOLLOWED, FOUND, NONE, PLACED, Floats, Marks
from sulvet.core.video.steady import MOUTH, Steady, back

WINDOW = (21, 21)
GRID = np.array([(x, y) for y in range(-6, 7, 3) for x in range(-6, 7, 3)], dtype=float)
PATCH = 31
#: Checks, steadied pixels (mouth = 120) and normalised cross-correlation.
ROUND_TRIP = 0.8
MATCH_KEY = 0.60
MATCH_BEFORE = 0.80
MATCH_AGAIN = 0.82
KEEP_KEY = 0.28
FARTHEST = 0.30 * MOUTH
#: Sigma, steadied pixels: the floor, and what each check adds.
FLOOR = 0.35
PER_MISMATCH = 2.0
PER_STEP = 0.03
HIDDEN_SIGMA = 0.015 * MOUTH


@dataclass(frozen=True)
class Key:
    """A landmark on one frame, found or placed: clip pixels."""

    landmark: str
    frame: int
    x: float
    y: float
    sigma: float
    source: int
    hidden: bool = False


@dataclass
class _Track:
    xy: Floats
    drift: Floats
    hidden: NDArray[np.bool_]


def follow(steady: Steady, keys: list[Key], ids: tuple[str, ...], seconds: Floats) -> Marks:
    """Marks on every frame from keyframes.

    keys  any number a landmark; a landmark without a key stays unknown. A
          person's mark and a found one never mix: with one placed key, found
          keys of that landmark are left out.
    """
    marks = Marks.empty(ids, seconds)
    for landmark in ids:
        own = sorted((k for k in keys if k.landmark == landmark), key=lambda k: k.frame)
        if any(key.source == PLACED for key in own):
            own = [key for key in own if key.source == PLACED]
        visible = [key for key in own if not key.hidden]
        if not visible:
            continue
        column = marks.column(landmark)
        if BY_ID[landmark].rigid:
            track = _rigid(steady, visible)
        else:
            track = _blend(steady, visible)
        scale = np.hypot(steady.to_steady[:, 0, 0], steady.to_steady[:, 1, 0])
        marks.xy[:, column] = back(steady.to_steady, track.xy[:, None])[:, 0]
        marks.drift[:, column] = track.drift / scale
        own_sigma = np.array([key.sigma for key in visible])
        nearest = np.abs(
            marks.frames[:, None] - np.array([key.frame for key in visible])
        ).argmin(1)
        sigma = own_sigma[nearest]
        if len(visible) > 1:
            # Away from the first key the error of another key is its own.
            foreign = nearest != nearest[steady.anchor]
            marks.drift[foreign, column] = np.hypot(marks.drift[foreign, column], sigma[foreign])
        marks.sigma[:, column] = np.hypot(
            marks.drift[:, column], np.where(nearest == nearest[steady.anchor], sigma, 0)
        )
        marks.source[:, column] = FOLLOWED
        marks.hidden[:, column] = track.hidden | ~steady.held
        for key in own:
            marks.hidden[key.frame, column] = key.hidden
            if not key.hidden:
                # A keyframe wins exactly.
                marks.xy[key.frame, column] = (key.x, key.y)
                marks.source[key.frame, column] = key.source
                marks.sigma[key.frame, column] = key.sigma
                marks.drift[key.frame, column] = min(marks.drift[key.frame, column], key.sigma)
        if any(key.hidden for key in own):
            _hide_around(marks, column, own, visible)
    marks.source[~np.isfinite(marks.xy[..., 0])] = NONE
    return marks


def refollow(
    steady: Steady, marks: Marks, landmark: str, keys: list[Key], ids: tuple[str, ...]
) -> Marks:
    """``marks`` with one landmark followed again from its changed keys."""
    fresh = follow(steady, keys, (landmark,), marks.seconds)
    out = Marks(
        marks.ids,
        marks.frames,
        marks.seconds,
        marks.xy.copy(),
        marks.sigma.copy(),
        marks.drift.copy(),
        marks.source.copy(),
        marks.hidden.copy(),
    )
    column = out.column(landmark)
    for name in ("xy", "sigma", "drift", "source", "hidden"):
        getattr(out, name)[:, column] = getattr(fresh, name)[:, 0]
    return out


def _hide_around(marks: Marks, column: int, own: list[Key], visible: list[Key]) -> None:
    """A mark hidden by the teacher stays hidden until the next key on either side."""
    frames = sorted(key.frame for key in own)
    for key in own:
        if not key.hidden:
            continue
        later = [f for f in frames if f > key.frame]
        earlier = [f for f in frames if f < key.frame]
        end = later[0] if later else len(marks)
        # Before the mark the program's own checks decide; from it on the teacher does.
        start = key.frame if earlier else 0
        marks.hidden[start:end, column] = True
    for key in visible:
        marks.hidden[key.frame, column] = False


def _rigid(steady: Steady, keys: list[Key]) -> _Track:
    """A point on the skull: carried with the head, straight between two keys."""
    frames = np.array([key.frame for key in keys])
    places = np.array([steady.steadied(key.frame, np.array([key.x, key.y])) for key in keys])
    rows = np.arange(len(steady.pictures))
    xy = np.stack([np.interp(rows, frames, places[:, axis]) for axis in (0, 1)], axis=1)
    drift = np.hypot(FLOOR / 2, np.nan_to_num(steady.noise, nan=HIDDEN_SIGMA))
    return _Track(xy, drift, np.zeros(len(rows), bool))


def _blend(steady: Steady, keys: list[Key]) -> _Track:
    """Forward from each key and back from the next, weighted by nearness."""
    count = len(steady.pictures)
    out = _Track(np.full((count, 2), np.nan), np.full(count, np.nan), np.ones(count, bool))
    first, last = keys[0], keys[-1]
    _take(out, _run(steady, first, range(first.frame, -1, -1)), range(first.frame, -1, -1))
    _take(out, _run(steady, last, range(last.frame, count)), range(last.frame, count))
    for before, after in zip(keys, keys[1:], strict=False):
        rows = range(before.frame, after.frame + 1)
        there = _run(steady, before, rows)
        here = _run(steady, after, range(after.frame, before.frame - 1, -1))
        here = _Track(here.xy[::-1], here.drift[::-1], here.hidden[::-1])
        share = np.linspace(0, 1, len(rows))
        weight = np.where(
            there.hidden == here.hidden, share, np.where(there.hidden, 1.0, 0.0)
        )
        xy = (1 - weight)[:, None] * there.xy + weight[:, None] * here.xy
        apart = np.linalg.norm(there.xy - here.xy, axis=1) * np.minimum(weight, 1 - weight)
        drift = np.hypot((1 - weight) * there.drift + weight * here.drift, apart / 2)
        _take(out, _Track(xy, drift, there.hidden & here.hidden), rows)
    return out


def _take(out: _Track, part: _Track, rows: range) -> None:
    index = np.array(rows)
    out.xy[index], out.drift[index], out.hidden[index] = part.xy, part.drift, part.hidden


def _patch(picture: NDArray[np.uint8], at: Floats) -> Floats:
    cut = cv2.getRectSubPix(picture, (PATCH, PATCH), (float(at[0]), float(at[1])))
    values = cut.astype(np.float32).ravel()
    values -= values.mean()
    norm = float(np.linalg.norm(values))
    return np.asarray(values / norm if norm > 30 else np.zeros_like(values))


def _shift(
    source: NDArray[np.uint8], target: NDArray[np.uint8], at: Floats, guess: Floats
) -> tuple[Floats, float]:
    """Where the patch at ``at`` in ``source`` went in ``target``; and the round-trip error."""
    start = np.ascontiguousarray(at + GRID, dtype=np.float32).reshape(-1, 1, 2)
    there = np.ascontiguousarray(guess + GRID, dtype=np.float32).reshape(-1, 1, 2)
    options = {
        "winSize": WINDOW,
        "maxLevel": 1,
        "flags": cv2.OPTFLOW_USE_INITIAL_FLOW,
        "criteria": (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 12, 0.02),
    }
    there, ok, _ = cv2.calcOpticalFlowPyrLK(source, target, start, there, **options)
    again, ok2, _ = cv2.calcOpticalFlowPyrLK(target, source, there, start.copy(), **options)
    error = np.linalg.norm(again - start, axis=2)[:, 0]
    good = (ok[:, 0] == 1) & (ok2[:, 0] == 1) & (error < 2.0)
    if good.sum() < len(GRID) // 3:
        return guess, np.inf
    moves = (there - start)[good, 0]
    return at + np.median(moves, axis=0), float(np.median(error[good]) + 2 * (1 - good.mean()))


def _run(steady: Steady, key: Key, rows: range) -> _Track:
    """Follow one landmark from its key over ``rows`` (the key's frame first)."""
    origin = steady.steadied(key.frame, np.array([key.x, key.y]))
    template = _patch(steady.pictures[key.frame], origin)
    at, before, steps, hidden = origin.copy(), rows[0], 0.0, False
    track = _Track(
        np.empty((len(rows), 2)), np.empty(len(rows)), np.zeros(len(rows), bool)
    )
    for place, row in enumerate(rows):
        if place == 0:
            track.xy[0], track.drift[0] = origin, 0.0
            continue
        picture = steady.pictures[row]
        if not steady.held[row]:
            hidden = True
        else:
            found, drift = None, 0.0
            direct, error = _shift(steady.pictures[key.frame], picture, origin, at)
            match = float(template @ _patch(picture, direct))
            limit = MATCH_AGAIN if hidden else MATCH_KEY
            if error < ROUND_TRIP and match > limit and _near(direct, origin):
                if hidden or np.linalg.norm(direct - at) < 0.12 * MOUTH:
                    found, steps = direct, 0.0
                    drift = np.hypot(FLOOR + 0.5 * error, PER_MISMATCH * (1 - match))
            if found is None and not hidden:
                step, error = _shift(steady.pictures[before], picture, at, at)
                last = float(_patch(steady.pictures[before], at) @ _patch(picture, step))
                match = float(template @ _patch(picture, step))
                if (
                    error < ROUND_TRIP
                    and last > MATCH_BEFORE
                    and match > KEEP_KEY
                    and _near(step, origin)
                ):
                    found = step
                    steps += 1
                    drift = np.hypot(
                        FLOOR + 0.5 * error + PER_STEP * steps, PER_MISMATCH * (1 - match)
                    )
            hidden = found is None
            if found is not None:
                at = found
                track.drift[place] = drift
        if hidden:
            # Back to where it was on the keyframe's face: the last places before
            # something swept over it are the ones it was dragged to.
            at = origin.copy()
            track.drift[place] = HIDDEN_SIGMA
        track.xy[place], track.hidden[place] = at, hidden
        before = row
    return track


def _near(at: Floats, origin: Floats) -> bool:
    return float(np.linalg.norm(at - origin)) < FARTHEST


__all__ = ["FOUND", "PLACED", "Key", "follow", "refollow"]
