"""The rest face among the faces found: where following begins, or why it can't."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.landmarks import (
    BY_ID,
    EDGE_IDS,
    LEAST,
)
from sulvet.core.anatomy.marks import FOUND, Bools, Floats
from sulvet.core.language import gettext_noop
from sulvet.core.phases import Phase, frames_of
from sulvet.core.review.footage import Footage
from sulvet.core.review.looks import bare_rows, middle
from sulvet.core.video import phase_suggestion as suggestion
from sulvet.core.video.keyframes import Keyframe
from sulvet.core.video.opening_check import SEEN
from sulvet.core.video.stabilised_clip import StabilisedClip

#: Rest frames may differ by this much in shape (mouth width, lip height, corner
#: height over the eyes' distance): three times the mesh's own noise.
SAME_FACE = np.array([0.035, 0.035, 0.025])
SHORTEST_REST = 0.35
#: A second face at least this wide against the first is a second student.
SECOND_FACE = 0.45
#: Something is held to the mouth all along where this share of the looks see it; how sure a hold
#: is that nothing else tells.
MOSTLY, GUESSED = 0.6, 0.4

NO_FACE = gettext_noop(
    "No mouth was found. Place the marks on one frame at rest, or film "
    "so that nose, mouth and chin are in the picture and well lit."
)
NO_PROFILE = gettext_noop(
    "No profile was found. Place the marks on one frame at rest, or film exactly from the "
    "side, from the bridge of the nose to the chin."
)
WRONG_VIEW = {
    "front": gettext_noop(
        "This looks like a view from the side. Choose the side view for this clip, or place "
        "the marks on one frame at rest."
    ),
    "side": gettext_noop(
        "This looks like a view from the front. Choose the front view for this clip, or place "
        "the marks on one frame at rest."
    ),
}
TWO_FACES = gettext_noop(
    "Two faces are in the picture. Film one student at a time, or place the marks yourself "
    "on the one you mean."
)
NO_REST_SEEN = gettext_noop(
    "No relaxed face was found: something covers the mouth, or a note sounds, from the "
    "first frame on. Film one or two seconds of a relaxed face first, or place the marks "
    "on a frame at rest."
)


def rest_keys(
    footage: Footage, tone: Bools | None, phases: list[Phase] | None, view: str = "front"
) -> tuple[list[Keyframe], str]:
    """Keyframes on a rest frame, or the reason why there are none."""
    seen = [faces for faces in footage.faces.values() if faces]
    if not seen:
        return [], NO_PROFILE if view == "side" else NO_FACE
    if sum(faces[0].view == view for faces in seen) < 0.5 * len(seen):
        return [], WRONG_VIEW[view]
    two = sum(len(f) > 1 and f[1].width > SECOND_FACE * f[0].width for f in seen)
    if two > 0.3 * len(seen):
        return [], TWO_FACES
    if len(seen) < 0.25 * len(footage.faces):
        return [], NO_PROFILE if view == "side" else NO_FACE
    rows = bare_rows(footage, view)
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
    return _keys_on(footage, run[len(run) // 2]), ""


def held_all_along(footage: Footage) -> list[Phase]:
    """``hold`` from the first to the last look at which something is held to the mouth, where
    most looks see it: for a clip whose tone can't be told from a room that is never heard."""
    looked = sorted(footage.faces)
    held = [row for row in looked if footage.faces[row] and footage.faces[row][0].equipment]
    if len(held) < max(2, MOSTLY * len(looked)):
        return []
    start, end = (float(footage.seconds[row]) for row in (held[0], held[-1]))
    return [Phase("hold", start, end, GUESSED)]


def playing_keys(footage: Footage, hold: Phase | None) -> list[Keyframe]:
    """Keyframes on the frame of the hold that shows most of the face from the front.

    For a clip without a rest that is compared with another one's. Nothing where corners, nose and
    what tells how the head leans are not seen.
    """
    seen = {
        row: set(faces[0].points)
        for row, faces in footage.faces.items()
        if hold is not None
        and hold.holds(footage.seconds[row])
        and faces
        and faces[0].view == "front"
    }
    enough = [
        row
        for row, points in seen.items()
        if set(LEAST["front"]) <= points
        and any({f"{pair}_r", f"{pair}_l"} <= points for pair in ("al", "ex"))
    ]
    best = max(enough, key=lambda row: len(seen[row]), default=None)
    return [] if best is None else _keys_on(footage, best)


def _keys_on(footage: Footage, row: int) -> list[Keyframe]:
    """The found marks of the face itself on one looked-at row."""
    face = footage.faces[row][0]
    return [
        Keyframe(name, row, float(p[0]), float(p[1]), face.spread(name), FOUND)
        for name, p in face.points.items()
        if name in BY_ID and name not in EDGE_IDS and not BY_ID[name].equipment
    ]


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
    footage: Footage,
    stabilised: StabilisedClip,
    found: list[Keyframe],
    tone: Bools | None,
    view: str = "front",
) -> list[Keyframe]:
    """Found marks as the median over all looked-at rest frames, in the stabilised face.

    A finder jitters from frame to frame; the median of several frames does not. What it
    is off by on all of them alike stays: half of its sigma at least.
    """
    anchor = found[0].frame
    against, _ = suggestion.mouth_changes(stabilised)
    rows = [
        row
        for row in bare_rows(footage, view)
        if stabilised.head_found[row]
        and against[row] < suggestion.LIKE_ANCHOR
        and (tone is None or not tone[row])
        and abs(footage.seconds[row] - footage.seconds[anchor]) < 3.0
    ] or [anchor]
    return [middle(footage, stabilised, key.landmark, rows, anchor) or key for key in found]


def outline_guess(footage: Footage, anchor: int) -> dict[str, Floats]:
    """Where to begin looking for the cheeks' outline: as the mesh saw it nearest the anchor."""
    seen = [row for row in bare_rows(footage) if "ck_r" in footage.faces[row][0].points]
    if not seen:
        return {}
    row = min(seen, key=lambda r: abs(r - anchor))
    points = footage.faces[row][0].points
    return {name: points[name] for name in ("ck_r", "ck_l") if name in points}


def head_seen(footage: Footage) -> dict[str, Floats]:
    """The head's turn and nod on the frames where the mesh saw a bare face."""
    out = {name: np.full(len(footage.seconds), np.nan) for name in ("mesh_yaw", "mesh_pitch")}
    for row in bare_rows(footage):
        face = footage.faces[row][0]
        out["mesh_yaw"][row], out["mesh_pitch"][row] = face.yaw, face.pitch
    return out


def inner_edges_seen(footage: Footage, stabilised: StabilisedClip) -> dict[str, Floats]:
    """Where the finder saw the inner edges of the lips (``video.opening_check``)."""
    out = {name: np.full(len(footage.seconds), np.nan) for name in SEEN}
    for row, faces in footage.faces.items():
        if not faces or not {"sto_s", "sto_i"} <= set(faces[0].points):
            continue
        face = faces[0]
        for name, edge in zip(SEEN, ("sto_s", "sto_i"), strict=False):
            out[name][row] = stabilised.to_stabilised_pixels(row, face.points[edge])[1]
        spread = max(face.spread(edge) for edge in ("sto_s", "sto_i"))
        out[SEEN[2]][row] = spread * stabilised.scale(row)
    return out
