"""Following landmarks through a stabilised take, in both directions from keyframes.

Each landmark is a patch of points. On every frame it is looked for directly
from its keyframe (no drift); where the skin has changed too much for that it
is taken on from the frame before (drifts a little, and says so); where neither
check holds, something covers it: it is hidden, stays where it was in the
stabilised face, and is taken up again only on a good match.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.landmarks import ALL_EQUIPMENT, BY_ID, CORNER_IDS
from sulvet.core.anatomy.marks import FOLLOWED, NONE, PLACED, Floats, Marks
from sulvet.core.video.equipment_track import equipment_tracks
from sulvet.core.video.keyframes import (
    CLOSE_BY,
    FARTHEST,
    FLOOR,
    ROUND_TRIP,
    Keyframe,
    Track,
    apart,
)
from sulvet.core.video.patches import best_match, patches, shift
from sulvet.core.video.stabilised_clip import MOUTH, StabilisedClip, back

#: Least normalised cross-correlation with the keyframe's own patch, looked for from it.
MATCH_KEY = 0.60
#: Least correlation with the frame before, where the skin has changed too much for that.
MATCH_BEFORE = 0.80
#: Least correlation with the keyframe to take up again what was hidden.
MATCH_AGAIN = 0.82
#: Least correlation with the keyframe to go on from frame to frame.
KEEP_KEY = 0.28
#: Least correlation with the keyframe of a corner that is looked for all around (made-up heads:
#: lips that twitch by a tenth of their width 0.65 to 0.87, corners under a rim at most 0.4), and
#: the standard deviation of where it is, stabilised pixels.
MATCH_SEARCHED, SEARCHED_SIGMA = 0.65, 1.0
#: A visible landmark does not jump farther from one frame to the next.
JUMP = 0.12 * MOUTH
#: What a match of zero would add to it, stabilised pixels.
PER_MISMATCH = 2.0
#: What each step from frame to frame adds to it, stabilised pixels.
PER_STEP = 0.03
#: A patch of deforming skin is followed short of its middle: by 5 to 9 % of the way on
#: painted faces, 13 to 20 % on a warped photograph, up to 29 % on a made-up head that smiles
#: (measured). As a standard deviation, so that twice as much is covered.
PER_MOVE = 0.16
#: Sigma of a hidden landmark, stabilised pixels.
HIDDEN_SIGMA = 0.015 * MOUTH
#: A found and a placed mark of one landmark differ by this much even where both are
#: right: the mesh sees lips in its own way, by 1 to 2 % of mouth width (measured).
MIXED_SIGMA = 0.015 * MOUTH


#: Tracks by (landmark, key frame, direction).
_Runs = dict[tuple[str, int, int], Track]


def track_landmarks(
    stabilised: StabilisedClip, keys: list[Keyframe], ids: tuple[str, ...], seconds: Floats
) -> Marks:
    """Marks on every frame from keyframes.

    keys  any number a landmark; a landmark without a key stays unknown. A
          placed key pushes out a found one close by. Where the two remain, far
          apart in time, the found one's own way of seeing the landmark counts
          as uncertainty of the difference.
    """
    marks = Marks.empty(ids, seconds)
    owned = {landmark: _own_keys(keys, landmark) for landmark in ids}
    runs = _all_runs(
        stabilised,
        [
            [key for key in own if not key.hidden]
            for landmark, own in owned.items()
            if not BY_ID[landmark].rigid and not BY_ID[landmark].equipment
        ],
    )
    held: dict[str, Track] = {}
    for equipment in ALL_EQUIPMENT.values():
        names = {mark.id for mark in equipment} & set(ids)
        held |= equipment_tracks(stabilised, [key for key in keys if key.landmark in names])
    for landmark, own in owned.items():
        visible = [key for key in own if not key.hidden]
        if not visible:
            continue
        column = marks.column(landmark)
        if landmark in held:
            track = held[landmark]
        elif BY_ID[landmark].rigid:
            track = _rigid(stabilised, visible)
        else:
            track = _blend(runs, visible, len(stabilised.pictures))
        scale = np.hypot(stabilised.to_stabilised[:, 0, 0], stabilised.to_stabilised[:, 1, 0])
        marks.xy[:, column] = back(stabilised.to_stabilised, track.xy[:, None])[:, 0]
        marks.drift[:, column] = track.drift / scale
        own_sigma = np.array([key.sigma for key in visible])
        nearest = np.abs(marks.frames[:, None] - np.array([key.frame for key in visible])).argmin(1)
        sigma = own_sigma[nearest]
        if len(visible) > 1:
            # Away from the first key the error of another key is its own.
            foreign = nearest != nearest[stabilised.anchor]
            mixed = len({key.source for key in visible}) > 1
            error = np.hypot(sigma, MIXED_SIGMA / scale if mixed else 0.0)
            marks.drift[foreign, column] = np.hypot(marks.drift[foreign, column], error[foreign])
        marks.sigma[:, column] = np.hypot(
            marks.drift[:, column], np.where(nearest == nearest[stabilised.anchor], sigma, 0)
        )
        marks.source[:, column] = FOLLOWED
        marks.hidden[:, column] = track.hidden | ~stabilised.head_found
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


def retrack_landmarks(
    stabilised: StabilisedClip, marks: Marks, landmarks: tuple[str, ...], keys: list[Keyframe]
) -> Marks:
    """``marks`` with some landmarks followed again from their changed keys.

    Landmarks of one piece of equipment must come together (``anatomy.landmarks.together``).
    """
    fresh = track_landmarks(stabilised, keys, landmarks, marks.seconds)
    out = marks.copied()
    for place, landmark in enumerate(landmarks):
        column = out.column(landmark)
        for name in ("xy", "sigma", "drift", "source", "hidden"):
            getattr(out, name)[:, column] = getattr(fresh, name)[:, place]
    return out


def _hide_around(marks: Marks, column: int, own: list[Keyframe], visible: list[Keyframe]) -> None:
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


def _rigid(stabilised: StabilisedClip, keys: list[Keyframe]) -> Track:
    """A point on the skull: carried with the head, straight between two keys."""
    frames = np.array([key.frame for key in keys])
    places = np.array(
        [stabilised.to_stabilised_pixels(key.frame, np.array([key.x, key.y])) for key in keys]
    )
    rows = np.arange(len(stabilised.pictures))
    # What lies before or behind the plane of the mouth goes its own way when the head turns.
    moved = stabilised.parallax(keys[0].landmark)
    places -= moved[frames]
    xy = np.stack([np.interp(rows, frames, places[:, axis]) for axis in (0, 1)], axis=1) + moved
    drift = np.hypot(FLOOR / 2, np.nan_to_num(stabilised.noise, nan=HIDDEN_SIGMA))
    return Track(xy, drift, np.zeros(len(rows), bool))


def _own_keys(keys: list[Keyframe], landmark: str) -> list[Keyframe]:
    """One landmark's keys by frame, without found ones that a placed one stands for.

    On the skull nothing moves, so there any placed key stands for all found ones.
    """
    own = sorted((k for k in keys if k.landmark == landmark), key=lambda k: k.frame)
    placed = [key.frame for key in own if key.source == PLACED and not key.hidden]
    reach = np.inf if BY_ID[landmark].rigid else CLOSE_BY
    return [
        key
        for key in own
        if key.source == PLACED or all(abs(key.frame - frame) > reach for frame in placed)
    ]


def _all_runs(stabilised: StabilisedClip, keys: list[list[Keyframe]]) -> _Runs:
    """Follow from every key as far as the next one, landmarks of one frame together."""
    count = len(stabilised.pictures)
    batches: dict[tuple[int, int, int], list[Keyframe]] = {}
    for own in keys:
        for place, key in enumerate(own):
            first = own[place - 1].frame if place else 0
            last = own[place + 1].frame if place + 1 < len(own) else count - 1
            batches.setdefault((key.frame, first, -1), []).append(key)
            batches.setdefault((key.frame, last, 1), []).append(key)
    runs: _Runs = {}
    for (frame, end, way), batch in batches.items():
        tracks = _run(stabilised, batch, range(frame, end + way, way))
        for key, track in zip(batch, tracks, strict=True):
            runs[key.landmark, frame, way] = track
    return runs


def _blend(runs: _Runs, keys: list[Keyframe], count: int) -> Track:
    """Forward from each key and back from the next, weighted by nearness."""
    out = Track(np.full((count, 2), np.nan), np.full(count, np.nan), np.ones(count, bool))
    name, first, last = keys[0].landmark, keys[0].frame, keys[-1].frame
    _take(out, runs[name, first, -1], range(first, -1, -1))
    _take(out, runs[name, last, 1], range(last, count))
    for before, after in pairwise(keys):
        rows = range(before.frame, after.frame + 1)
        there, back_run = runs[name, before.frame, 1], runs[name, after.frame, -1]
        here = Track(back_run.xy[::-1], back_run.drift[::-1], back_run.hidden[::-1])
        share = np.linspace(0, 1, len(rows))
        weight = np.where(there.hidden == here.hidden, share, np.where(there.hidden, 1.0, 0.0))
        xy = (1 - weight)[:, None] * there.xy + weight[:, None] * here.xy
        apart = np.linalg.norm(there.xy - here.xy, axis=1) * np.minimum(weight, 1 - weight)
        drift = np.hypot((1 - weight) * there.drift + weight * here.drift, apart / 2)
        _take(out, Track(xy, drift, there.hidden & here.hidden), rows)
    return out


def _take(out: Track, part: Track, rows: range) -> None:
    index = np.array(rows)
    out.xy[index], out.drift[index], out.hidden[index] = part.xy, part.drift, part.hidden


class _Group:
    """Landmarks of one keyframe on their way through the take."""

    def __init__(self, stabilised: StabilisedClip, keys: list[Keyframe]) -> None:
        self.stabilised = stabilised
        self.row = self.start = keys[0].frame
        self.source = stabilised.pictures[self.row]
        self.origin = np.array(
            [stabilised.to_stabilised_pixels(k.frame, np.array([k.x, k.y])) for k in keys]
        )
        self.origin = self.origin + stabilised.inward
        self.templates = patches(self.source, self.origin)
        self.at = self.origin.copy()
        self.steps = np.zeros(len(keys))
        self.hidden = np.zeros(len(keys), bool)
        self.carried = np.stack([stabilised.parallax(k.landmark) for k in keys], axis=1)
        self.drift = np.zeros(len(keys))
        self.corners = np.array([k.landmark in CORNER_IDS for k in keys])

    def go_to(self, row: int) -> None:
        """Look for all on one more frame, a neighbour of the last."""
        before, self.row = self.row, row
        found = np.zeros(len(self.at), bool)
        if self.stabilised.head_found[row]:
            picture = self.stabilised.pictures[row]
            found = self._from_key(picture)
            lost = np.flatnonzero(~found & ~self.hidden)
            if len(lost):
                found[lost] = self._from_before(self.stabilised.pictures[before], picture, lost)
            lost = np.flatnonzero(~found & self.corners)
            if len(lost):
                found[lost] = self._searched(picture, lost)
        self.hidden = ~found
        # Back to where it was on the keyframe's face: the last places before
        # something swept over it are the ones it was dragged to.
        moved = self.carried[row] - self.carried[self.start]
        self.at[self.hidden] = (self.origin + moved)[self.hidden]
        short = PER_MOVE * apart(self.at, self.origin + moved)
        self.drift = np.where(self.hidden, HIDDEN_SIGMA, np.hypot(self.drift, short))

    def _from_key(self, picture: NDArray[np.uint8]) -> NDArray[np.bool_]:
        """Straight from the keyframe: nothing adds up."""
        places, error = shift(self.source, picture, self.origin, self.at)
        match = (self.templates * patches(picture, places)).sum(1)
        good = (
            (error < ROUND_TRIP)
            & (match > np.where(self.hidden, MATCH_AGAIN, MATCH_KEY))
            & (apart(places, self.origin) < FARTHEST)
            & (self.hidden | (apart(places, self.at) < JUMP))
        )
        self.at[good], self.steps[good] = places[good], 0
        self.drift[good] = np.hypot(FLOOR + 0.5 * error, PER_MISMATCH * (1 - match))[good]
        return np.asarray(good)

    def _from_before(
        self, earlier: NDArray[np.uint8], picture: NDArray[np.uint8], lost: NDArray[np.int64]
    ) -> NDArray[np.bool_]:
        """From the frame before, where the skin has changed too much: errors add up."""
        here = self.at[lost]
        places, error = shift(earlier, picture, here, here)
        there = patches(picture, places)
        match = (self.templates[lost] * there).sum(1)
        good = (
            (error < ROUND_TRIP)
            & ((patches(earlier, here) * there).sum(1) > MATCH_BEFORE)
            & (match > KEEP_KEY)
            & (apart(places, self.origin[lost]) < FARTHEST)
        )
        kept = lost[good]
        self.at[kept] = places[good]
        self.steps[kept] += 1
        self.drift[kept] = np.hypot(
            FLOOR + 0.5 * error[good] + PER_STEP * self.steps[kept],
            PER_MISMATCH * (1 - match[good]),
        )
        return np.asarray(good)

    def _searched(self, picture: NDArray[np.uint8], lost: NDArray[np.int64]) -> NDArray[np.bool_]:
        """Wherever it looks most like on the keyframe: a corner that jumps within a frame.

        Nothing where it looks like that nowhere, or as much in two places.
        """
        good = np.zeros(len(lost), bool)
        for n, one in enumerate(lost):
            moved = self.carried[self.row] - self.carried[self.start]
            place, match = best_match(self.source, picture, self.origin[one], moved[one])
            if match < MATCH_SEARCHED:
                continue
            self.at[one], self.steps[one], good[n] = place, 0, True
            self.drift[one] = np.hypot(SEARCHED_SIGMA, PER_MISMATCH * (1 - match))
        return good


def _run(stabilised: StabilisedClip, keys: list[Keyframe], rows: range) -> list[Track]:
    """Follow landmarks from their common key frame over ``rows`` (that frame first)."""
    group = _Group(stabilised, keys)
    shape = (len(keys), len(rows))
    xy, drift, hidden = np.empty((*shape, 2)), np.zeros(shape), np.zeros(shape, bool)
    for place, row in enumerate(rows):
        if place > 0:
            group.go_to(row)
        xy[:, place] = group.at - stabilised.inward
        drift[:, place], hidden[:, place] = group.drift, group.hidden
    return [Track(*parts) for parts in zip(xy, drift, hidden, strict=True)]
