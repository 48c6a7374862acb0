"""The rest face among the faces found: where following begins, or why it can't."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.landmarks import BY_ID, EDGE_IDS
from sulvet.core.anatomy.marks import FOUND, Bools, Floats
from sulvet.core.phases import Phase, frames_of
from sulvet.core.review.footage import Footage
from sulvet.core.video import phase_suggestion as suggestion
from sulvet.core.video.stabilise import StabilisedClip
from sulvet.core.video.track import Keyframe

MAX_COVERED = 0.30
#: Rest frames may differ by this much in shape (mouth width, lip height, corner
#: height over the eyes' distance): three times the mesh's own noise.
SAME_FACE = np.array([0.035, 0.035, 0.025])
SHORTEST_REST = 0.35
#: A second face at least this wide against the first is a second student.
SECOND_FACE = 0.45
#: Standard deviation of a found mark, share of mouth width: the mesh's own
#: noise of 0.6 to 1.0 % (measured), before the median over several frames.
FOUND_SIGMA = 0.01

NO_FACE = (
    "No face was found. Place the marks on one frame at rest, or film so that "
    "eyes, nose and chin are in the picture."
)
TWO_FACES = (
    "Two faces are in the picture. Film one student at a time, or place the marks yourself "
    "on the one you mean."
)
NO_REST_SEEN = (
    "No resting face was found: something covers the mouth, or the tone sounds, from the first "
    "frame on. Film one or two seconds of a relaxed face first, or place the marks on a frame at "
    "rest."
)


def _usable(footage: Footage) -> list[int]:
    return [
        row
        for row, faces in sorted(footage.faces.items())
        if faces and faces[0].covered <= MAX_COVERED
    ]


def rest_keys(
    footage: Footage, tone: Bools | None, phases: list[Phase] | None
) -> tuple[list[Keyframe], str]:
    """Keyframes on a rest frame, or the reason why there are none."""
    seen = [faces for faces in footage.faces.values() if faces]
    if not seen:
        return [], NO_FACE
    two = sum(len(f) > 1 and f[1].width > SECOND_FACE * f[0].width for f in seen)
    if two > 0.3 * len(seen):
        return [], TWO_FACES
    if len(seen) < 0.25 * len(footage.faces):
        return [], NO_FACE
    rows = _usable(footage)
    if phases is not None and any(p.name == "rest" for p in phases):
        inside = frames_of(phases, "rest", footage.seconds)
        rows = [row for row in rows if inside[row]] or rows
    elif tone is not None:
        rows = [row for row in rows if not tone[row]]
    run = _still_run(footage, rows)
    if not run and phases is not None:
        # The teacher says that this is rest, restless as it is.
        run = [row for row in rows if frames_of(phases, "rest", footage.seconds)[row]]
    if not run:
        return [], NO_REST_SEEN
    anchor = run[len(run) // 2]
    face = footage.faces[anchor][0]
    width = float(np.linalg.norm(face.points["ch_l"] - face.points["ch_r"]))
    return [
        Keyframe(name, anchor, float(p[0]), float(p[1]), FOUND_SIGMA * width, FOUND)
        for name, p in face.points.items()
        if name in BY_ID and name not in EDGE_IDS
    ], ""


def _still_run(footage: Footage, rows: list[int]) -> list[int]:
    """The earliest run of looked-at frames that show one and the same mouth."""
    looked = sorted(footage.faces)
    best: list[int] = []
    run: list[int] = []
    for row in rows:
        follows = bool(run) and looked.index(row) - looked.index(run[-1]) <= 2
        same = bool(run) and bool(
            (
                np.abs(
                    footage.faces[row][0].shape
                    - np.median([footage.faces[r][0].shape for r in run], axis=0)
                )
                < SAME_FACE
            ).all()
        )
        run = [*run, row] if follows and same else [row]
        long_enough = footage.seconds[run[-1]] - footage.seconds[run[0]] >= SHORTEST_REST
        if len(run) > 1 and long_enough and (not best or best[0] == run[0]):
            best = list(run)
    return best


def refined(
    footage: Footage, stabilised: StabilisedClip, found: list[Keyframe], tone: Bools | None
) -> list[Keyframe]:
    """Found marks as the median over all looked-at rest frames, in the stabilised face.

    The mesh jitters by up to 1 % of mouth width; the median of several frames
    does not.
    """
    anchor = found[0].frame
    against, _ = suggestion.mouth_changes(stabilised)
    rows = [
        row
        for row in _usable(footage)
        if stabilised.head_found[row]
        and against[row] < suggestion.LIKE_ANCHOR
        and (tone is None or not tone[row])
        and abs(footage.seconds[row] - footage.seconds[anchor]) < 3.0
    ] or [anchor]
    inverse = np.linalg.inv(np.vstack([stabilised.to_stabilised[anchor], [0, 0, 1]]))[:2]
    out = []
    for key in found:
        there = [
            stabilised.to_stabilised_pixels(row, footage.faces[row][0].points[key.landmark])
            for row in rows
            if key.landmark in footage.faces[row][0].points
        ]
        if not there:
            out.append(key)
            continue
        place = inverse[:, :2] @ np.median(there, axis=0) + inverse[:, 2]
        sigma = key.sigma * max(1.25 / np.sqrt(len(there)), 0.5)
        out.append(Keyframe(key.landmark, anchor, float(place[0]), float(place[1]), sigma, FOUND))
    return out


def outline_guess(footage: Footage, anchor: int) -> dict[str, Floats]:
    """Where to begin looking for the cheeks' outline: as the mesh saw it nearest the anchor."""
    seen = [row for row in _usable(footage) if "ck_r" in footage.faces[row][0].points]
    if not seen:
        return {}
    row = min(seen, key=lambda r: abs(r - anchor))
    points = footage.faces[row][0].points
    return {name: points[name] for name in ("ck_r", "ck_l") if name in points}


def head_seen(footage: Footage) -> dict[str, Floats]:
    """The head's turn and nod on the frames where the mesh saw a bare face."""
    out = {name: np.full(len(footage.seconds), np.nan) for name in ("mesh_yaw", "mesh_pitch")}
    for row in _usable(footage):
        face = footage.faces[row][0]
        out["mesh_yaw"][row], out["mesh_pitch"][row] = face.yaw, face.pitch
    return out
