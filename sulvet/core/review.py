"""One take, from a clip to marks and phases. What follows from them is ``judgement``."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import IO

import cv2
import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.landmarks import (
    BY_ID,
    CONTOUR_IDS,
    EDGE_IDS,
    OPENING_IDS,
    REQUIRED,
    SIDE_REQUIRED,
    TAKE_IDS,
)
from sulvet.core.anatomy.marks import FOUND, Bools, Floats, Marks
from sulvet.core.phases import Phase, frames_of
from sulvet.core.video import phase_suggestion as suggestion
from sulvet.core.video import store
from sulvet.core.video.clip import MAX_SECONDS, ClipFacts, Image, Reader, Sound, facts, fit
from sulvet.core.video.finder import Face, Finder
from sulvet.core.video.opening import NEEDED, opening
from sulvet.core.video.outline import cheeks
from sulvet.core.video.profile import contour
from sulvet.core.video.proxy import PROXY, ProxyWriter
from sulvet.core.video.stabilise import StabilisedClip, steady
from sulvet.core.video.texture import chin_texture
from sulvet.core.video.track import Keyframe, retrack_landmarks, track_landmarks

WORKING_SIDE = 1280
#: Working pictures of one take may fill this much of the disk, bytes; a longer
#: clip is worked on in a smaller size.
WORKING_BYTES = 2.5e9
#: A face is looked for this often, s: densely where rest is filmed, at the start,
#: then only as often as a rest of more than a second needs to be met.
LOOK_EVERY, LOOK_LATER, EARLY = 0.2, 1.0, 4.0
#: Pictures that may wait for the finder before reading waits for it.
MOST_LOOKING = 4
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

SIDE_MARKS = (
    "A side view is followed from eight marks on one frame at rest. Place them from the nose root "
    "down to the chin; Sulvet finds the edge of the skin between them by itself."
)

#: Called with the stage and the share of the whole work that is done, 0 to 1.
Progress = Callable[[str, float], None]


@dataclass(frozen=True)
class Footage:
    """A clip as read: times, working pictures, sound, and the faces seen on the way.

    size     (width, height) of the upright clip, pixels
    grays    (T, h, w) working pictures; ``scale`` working pixels per clip pixel
    faces    row → faces found there, in clip pixels; empty when not looked for
    """

    size: tuple[int, int]
    seconds: Floats
    grays: NDArray[np.uint8]
    scale: float
    sound: Sound
    has_sound: bool
    faces: dict[int, list[Face]]
    trouble: str


@dataclass
class Reviewed:
    """What the clip gave.

    needs   sentence saying what the teacher has to do first, or empty
    notes   sentences worth knowing
    """

    footage: Footage
    marks: Marks
    phases: list[Phase]
    keys: list[Keyframe]
    steady: StabilisedClip | None
    needs: str = ""
    notes: list[str] = field(default_factory=list)


def read(
    path: Path,
    pictures: IO[bytes],
    finder: Finder | None,
    progress: Progress = lambda stage, share: None,
    proxy: Path | None = None,
    mirrored: bool = False,
) -> Footage:
    """Read a clip once.

    pictures  a temporary file that holds the working pictures
    finder    looks for faces on some frames; None when marks are given
    proxy     where to write the review copy, if wanted
    mirrored  turn a mirror picture back
    """
    known = facts(path)
    reader = Reader(path, selfie=mirrored)
    times: list[float] = []
    faces: dict[int, list[Face]] = {}
    size, shape, scale, looked = (0, 0), (0, 0), 1.0, -1.0
    side = working_side(known)
    writer = ProxyWriter(proxy, known.has_sound) if proxy else None
    if writer is not None:
        reader.on_audio = writer.sound
    # Looking for faces goes on beside decoding; one thread, since a mesh has a state.
    looking: list[tuple[int, Future[list[Face]]]] = []
    beside = ThreadPoolExecutor(1)
    try:
        for frame in reader.frames():
            gray = frame.luma()
            small = fit(gray, side)
            if not times:
                size, shape = (gray.shape[1], gray.shape[0]), (small.shape[0], small.shape[1])
                scale = small.shape[1] / gray.shape[1]
            elif small.shape[:2] != shape:
                small = cv2.resize(small, shape[::-1]).astype(np.uint8)
            times.append(frame.seconds)
            pictures.write(small.tobytes())
            pace = LOOK_EVERY if frame.seconds < EARLY else LOOK_LATER
            look = finder is not None and frame.seconds >= looked + pace - 1e-6
            rgb = frame.picture("rgb24") if look or writer is not None else None
            if writer is not None and rgb is not None:
                writer.picture(rgb, frame.seconds)
            if look and finder is not None and rgb is not None:
                looked = frame.seconds
                if len(looking) > MOST_LOOKING:
                    faces[looking[0][0]] = looking.pop(0)[1].result()
                looking.append((len(times) - 1, beside.submit(_find, finder, rgb)))
            if known.seconds:
                progress("reading", 0.6 * min(frame.seconds / known.seconds, 1.0))
        faces |= {row: found.result() for row, found in looking}
    finally:
        beside.shutdown(cancel_futures=True)
        if writer is not None:
            writer.close()
    pictures.flush()
    grays = np.memmap(pictures.name, np.uint8, "r", shape=(len(times), *shape))
    return Footage(
        size=size,
        seconds=np.array(times),
        grays=grays,
        scale=scale,
        sound=reader.sound,
        has_sound=reader.has_sound,
        faces=faces,
        trouble=reader.trouble,
    )


def working_side(known: ClipFacts) -> int:
    """Long side of the working pictures, pixels."""
    frames = (known.seconds or MAX_SECONDS) * (known.rate or 30.0)
    shape = min(known.width, known.height) / max(known.width, known.height)
    return int(min(WORKING_SIDE, np.sqrt(WORKING_BYTES / (frames * shape))))


def _find(finder: Finder, rgb: Image) -> list[Face]:
    small = fit(rgb, WORKING_SIDE)
    factor = rgb.shape[1] / small.shape[1]
    found = finder.find(small)
    if factor == 1:
        return found
    return [
        Face(
            {name: (p + 0.5) * factor - 0.5 for name, p in face.points.items()},
            face.width * factor,
            face.covered,
        )
        for face in found
    ]


def review(
    path: Path,
    finder: Finder | None,
    keys: list[Keyframe] | None = None,
    phases: list[Phase] | None = None,
    progress: Progress = lambda stage, share: None,
    keep: Path | None = None,
    proxy: bool = False,
    mirrored: bool = False,
    view: str = "front",
) -> Reviewed:
    """Read a clip, find the rest face, follow it, suggest the phases.

    keys      marks already placed by the teacher; with all that a face needs on
              one frame, nothing is looked for
    phases    the teacher's rehearsal marks; None to have them suggested
    keep      folder for the steadied take, to follow moved marks again later
    proxy     write the review copy into that folder as well
    mirrored  the clip is a selfie stored as a mirror shows it
    view      of a side view nothing is looked for: it is followed from the teacher's marks

    Raises ``ClipError`` for a clip that can't be used.
    """
    keys = list(keys or [])
    if view == "side":
        finder = None
    by_hand = anchor_frame(keys, view) is not None
    copy = keep / PROXY if keep is not None and proxy else None
    with tempfile.NamedTemporaryFile(prefix="sulvet-", suffix=".gray") as pictures:
        footage = read(path, pictures, None if by_hand else finder, progress, copy, mirrored)
        keys = [key for key in keys if 0 <= key.frame < len(footage.seconds)]
        if view == "side":
            return track_side(footage, keys, phases, keep, progress)
        return track(footage, keys, phases, keep, progress)


def anchor_frame(keys: list[Keyframe], view: str = "front") -> int | None:
    """The first frame on which the teacher placed all that a face of this view needs."""
    needed = set(SIDE_REQUIRED if view == "side" else REQUIRED)
    by_frame: dict[int, set[str]] = {}
    for key in keys:
        if not key.hidden:
            by_frame.setdefault(key.frame, set()).add(key.landmark)
    return next((f for f in sorted(by_frame) if by_frame[f] >= needed), None)


def _heard(footage: Footage) -> tuple[Bools | None, list[str]]:
    """Where a tone sounds, and what is worth saying about clip and sound."""
    notes = [footage.trouble] if footage.trouble else []
    tone = suggestion.sounding(footage.sound, footage.seconds)
    if not footage.has_sound:
        notes.append("The clip has no sound; the hold was looked for in the picture.")
    elif tone is None:
        notes.append("No tone stands out of the sound; the hold was looked for in the picture.")
    return tone, notes


def track_side(
    footage: Footage,
    placed: list[Keyframe],
    phases: list[Phase] | None,
    keep: Path | None,
    progress: Progress = lambda stage, share: None,
) -> Reviewed:
    """Steady and follow a profile from the teacher's marks, and find the chin's edge."""
    tone, notes = _heard(footage)
    anchor = anchor_frame(placed, "side")
    if anchor is None:
        chosen = phases if phases is not None else suggestion.heard(footage.seconds, tone)
        empty = Marks.empty(TAKE_IDS, footage.seconds)
        return Reviewed(footage, empty, list(chosen), placed, None, SIDE_MARKS, notes)
    points = points_on(placed, anchor)
    progress("steadying", 0.6)
    held = steady(footage.grays, footage.scale, anchor, points)
    if keep is not None:
        held = store.keep(held, keep)
    progress("following", 0.75)
    marks = retrack_side(held, placed, footage.seconds)
    progress("judging", 0.95)
    chosen = (
        phases
        if phases is not None
        else suggestion.suggest(held, footage.seconds, tone, footage.sound)
    )
    return Reviewed(footage, marks, list(chosen), placed, held, "", notes)


def points_on(keys: list[Keyframe], frame: int) -> dict[str, Floats]:
    """Where the visible keys of one frame lie, clip pixels."""
    return {k.landmark: np.array([k.x, k.y]) for k in keys if k.frame == frame and not k.hidden}


def retrack_side(held: StabilisedClip, keys: list[Keyframe], seconds: Floats) -> Marks:
    """All marks of a side take from its keys, the chin's contour among them."""
    # What was drawn along the chin is an edge: it is looked for, not followed as marks are.
    edge = [key for key in keys if key.landmark in CONTOUR_IDS]
    others = [key for key in keys if key.landmark not in CONTOUR_IDS]
    marks = track_landmarks(held, others, TAKE_IDS, seconds)
    drawn = {
        frame: np.array([[key.x, key.y] for key in edge if key.frame == frame])
        for frame in {key.frame for key in edge}
    }
    return contour(held, marks, points_on(others, held.anchor), drawn)


def track(
    footage: Footage,
    placed: list[Keyframe],
    phases: list[Phase] | None,
    keep: Path | None,
    progress: Progress = lambda stage, share: None,
) -> Reviewed:
    """Anchor, steady, follow, suggest: all that comes after reading."""
    tone, notes = _heard(footage)
    found, needs = _found_keys(footage, tone, phases)
    anchor = anchor_frame(placed)
    if anchor is not None:
        found, needs = [], ""
        points = points_on(placed, anchor)
    elif found:
        anchor = found[0].frame
        points = {key.landmark: np.array([key.x, key.y]) for key in found}
    else:
        empty = Marks.empty(TAKE_IDS, footage.seconds)
        return Reviewed(footage, empty, list(phases or []), placed, None, needs, notes)
    progress("steadying", 0.6)
    held = steady(footage.grays, footage.scale, anchor, points)
    if keep is not None:
        held = store.keep(held, keep)
    progress("following", 0.75)
    if found:
        found = _refined(footage, held, found, tone)
    keys = found + placed
    marks = track_landmarks(held, keys, TAKE_IDS, footage.seconds)
    progress("looking for edges", 0.9)
    marks = cheeks(held, footage.grays, footage.scale, _outline_guess(footage, anchor), marks)
    marks = _read_off(held, marks)
    marks.signals.update(_head_seen(footage))
    progress("judging", 0.95)
    chosen = (
        phases
        if phases is not None
        else suggestion.suggest(held, footage.seconds, tone, footage.sound)
    )
    if (~held.held).mean() > 0.2:
        notes.append(
            f"The head was lost on {(~held.held).mean():.0%} of the frames. "
            "Film with the head steady and well lit."
        )
    return Reviewed(footage, marks, list(chosen), keys, held, "", notes)


def retrack_front(
    held: StabilisedClip, marks: Marks, landmarks: tuple[str, ...], keys: list[Keyframe]
) -> tuple[Marks, tuple[str, ...]]:
    """A front take with some landmarks followed again, and all landmarks that changed."""
    marks = retrack_landmarks(held, marks, landmarks, keys)
    if set(landmarks) & {*NEEDED, "pg"}:
        return _read_off(held, marks), tuple(dict.fromkeys((*landmarks, *OPENING_IDS)))
    return marks, landmarks


def _read_off(held: StabilisedClip, marks: Marks) -> Marks:
    """What is read off the steadied pictures with the marks' help: opening and chin."""
    marks = opening(held, marks, suggestion.like_anchor(held))
    marks.signals["chin_texture"] = chin_texture(held, marks)
    return marks


def _outline_guess(footage: Footage, anchor: int) -> dict[str, Floats]:
    """Where to begin looking for the cheeks' outline: as the mesh saw it nearest the anchor."""
    seen = [row for row in _usable(footage) if "ck_r" in footage.faces[row][0].points]
    if not seen:
        return {}
    row = min(seen, key=lambda r: abs(r - anchor))
    points = footage.faces[row][0].points
    return {name: points[name] for name in ("ck_r", "ck_l") if name in points}


def _head_seen(footage: Footage) -> dict[str, Floats]:
    """The head's turn and nod on the frames where the mesh saw a bare face."""
    out = {name: np.full(len(footage.seconds), np.nan) for name in ("mesh_yaw", "mesh_pitch")}
    for row in _usable(footage):
        face = footage.faces[row][0]
        out["mesh_yaw"][row], out["mesh_pitch"][row] = face.yaw, face.pitch
    return out


def _usable(footage: Footage) -> list[int]:
    return [
        row
        for row, faces in sorted(footage.faces.items())
        if faces and faces[0].covered <= MAX_COVERED
    ]


def _found_keys(
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
    run = _steady_run(footage, rows)
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


def _steady_run(footage: Footage, rows: list[int]) -> list[int]:
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


def _refined(
    footage: Footage, held: StabilisedClip, found: list[Keyframe], tone: Bools | None
) -> list[Keyframe]:
    """Found marks as the median over all looked-at rest frames, in the steadied face.

    The mesh jitters by up to 1 % of mouth width; the median of several frames
    does not.
    """
    anchor = found[0].frame
    against, _ = suggestion.mouth_changes(held)
    rows = [
        row
        for row in _usable(footage)
        if held.held[row]
        and against[row] < suggestion.SAME_SHAPE
        and (tone is None or not tone[row])
        and abs(footage.seconds[row] - footage.seconds[anchor]) < 3.0
    ] or [anchor]
    inverse = np.linalg.inv(np.vstack([held.to_steady[anchor], [0, 0, 1]]))[:2]
    out = []
    for key in found:
        there = [
            held.steadied(row, footage.faces[row][0].points[key.landmark])
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
