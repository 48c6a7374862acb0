"""One take, from a clip to marks and phases. What follows from them is ``judgement``."""

from __future__ import annotations

import tempfile
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from sulvet.core.anatomy.landmarks import (
    BY_ID,
    CONTOUR_IDS,
    LEAST,
    OPENING_IDS,
    REQUIRED,
    SIDE_REQUIRED,
    TAKE_IDS,
    together,
)
from sulvet.core.anatomy.marks import FOUND, PLACED, Bools, Floats, Marks
from sulvet.core.anatomy.profile import nose_root
from sulvet.core.language import listed, said
from sulvet.core.phases import Phase
from sulvet.core.review.covered_corners import without_covered_corners
from sulvet.core.review.footage import Footage, Progress, read
from sulvet.core.review.held_marks import held_keys
from sulvet.core.review.rest_face import (
    NO_REST_SEEN,
    head_seen,
    held_all_along,
    inner_edges_seen,
    outline_guess,
    playing_keys,
    refined,
    rest_keys,
)
from sulvet.core.video import phase_suggestion as suggestion
from sulvet.core.video import store
from sulvet.core.video.finder import Finder
from sulvet.core.video.keyframes import Keyframe
from sulvet.core.video.opening import NEEDED, opening
from sulvet.core.video.opening_check import agreed
from sulvet.core.video.outline import cheeks
from sulvet.core.video.profile import contour
from sulvet.core.video.proxy import PROXY
from sulvet.core.video.stabilise import stabilise
from sulvet.core.video.stabilised_clip import StabilisedClip
from sulvet.core.video.texture import chin_texture
from sulvet.core.video.track import retrack_landmarks, track_landmarks


@dataclass
class Reviewed:
    """What the clip gave.

    needs   sentence saying what the teacher has to do first, or empty
    notes   sentences worth knowing
    no_rest whether no rest was found, and it needs another take's
    """

    footage: Footage
    marks: Marks
    phases: list[Phase]
    keys: list[Keyframe]
    stabilised: StabilisedClip | None
    needs: str = ""
    notes: list[str] = field(default_factory=list)
    no_rest: bool = False


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
    rest_known: bool = False,
) -> Reviewed:
    """Read a clip, find the rest face, follow it, suggest the phases.

    keys      marks already placed by the teacher: nothing is looked for in their place
    phases    the teacher's rehearsal marks; None to have them suggested
    keep      folder for the stabilised take, to follow moved marks again later; the pictures read
              are there as well until the end, so that one folder holds all there is of the clip
    proxy     write the review copy into that folder as well
    mirrored  the clip is a selfie stored as a mirror shows it
    view      front or side
    rest_known  another take tells what this face is like at rest: a clip from the front is read
              without one

    Raises ``ClipError`` for a clip that can't be used.
    """
    keys = list(keys or [])
    copy = keep / PROXY if keep is not None and proxy else None
    if not _left_to_find(keys, view):
        finder = None
    with tempfile.NamedTemporaryFile(prefix="sulvet-", suffix=".gray", dir=keep) as pictures:
        footage = read(path, pictures, finder, progress, copy, mirrored)
        keys = [key for key in keys if 0 <= key.frame < len(footage.seconds)]
        if view == "side":
            return track_side(footage, keys, phases, keep, progress)
        return track(footage, keys, phases, keep, progress, rest_known)


def anchor_frame(keys: list[Keyframe], view: str = "front") -> int | None:
    """The first frame on which the teacher said of all that is asked where it is.

    What does not show is said as well; but not of what no reading can do without.
    """
    return next((f for f, seen in _answered(keys, view) if seen >= set(LEAST[view])), None)


def out_of_picture(keys: list[Keyframe], view: str) -> str:
    """What to do where all that is asked was answered on a frame, but what every reading needs
    does not show there; else empty."""
    answered = [seen for _, seen in _answered(keys, view)]
    missing = [name for name in LEAST[view] if answered and name not in answered[0]]
    if not missing:
        return ""
    names = listed([said(BY_ID[name].label) for name in missing])
    return said(
        "Nothing can be measured in this view without: {names}. Place it if it is "
        "visible, or film again with it in the picture.",
        names=names,
    )


def _answered(keys: list[Keyframe], view: str) -> list[tuple[int, set[str]]]:
    """Frames on which all that is asked was answered, in order, with the landmarks that show."""
    needed = set(SIDE_REQUIRED if view == "side" else REQUIRED)
    said: dict[int, set[str]] = {}
    for key in keys:
        said.setdefault(key.frame, set()).add(key.landmark)
    return [(f, set(points_on(keys, f))) for f in sorted(said) if said[f] >= needed]


def _left_to_find(keys: list[Keyframe], view: str) -> bool:
    """Whether the teacher's marks leave anything to be looked for: the face, or what is held."""
    held = any(BY_ID[key.landmark].equipment for key in keys if key.source == PLACED)
    return anchor_frame(keys, view) is None or not held


def _heard(footage: Footage) -> tuple[Bools | None, list[str]]:
    """Where a tone sounds, and what is worth saying about clip and sound."""
    notes = [footage.trouble] if footage.trouble else []
    tone = suggestion.sounding(footage.sound, footage.seconds)
    if not footage.has_sound:
        notes.append(said("The clip has no sound; the held note was found from the picture."))
    elif tone is None:
        notes.append(
            said("No tone stands out from the noise; the held note was found from the picture.")
        )
    return tone, notes


def _held_still(
    footage: Footage,
    anchor: int,
    points: dict[str, Floats],
    keep: Path | None,
    progress: Progress,
) -> StabilisedClip:
    """The take stabilised; as it will be read back where it is kept."""
    progress("steadying", 0.6)
    stabilised = stabilise(footage.grays, footage.scale, anchor, points)
    if keep is not None:
        stabilised = store.keep(stabilised, keep)
    progress("following", 0.75)
    return stabilised


def track_side(
    footage: Footage,
    placed: list[Keyframe],
    phases: list[Phase] | None,
    keep: Path | None,
    progress: Progress = lambda stage, share: None,
) -> Reviewed:
    """Stabilise and follow a profile, and find the chin's edge."""
    tone, notes = _heard(footage)
    anchor = anchor_frame(placed, "side")
    found: list[Keyframe] = []
    if anchor is None:
        found, needs = rest_keys(footage, tone, phases, "side")
        if not found:
            needs = out_of_picture(placed, "side") or needs
            chosen = phases if phases is not None else suggestion.heard(footage.seconds, tone)
            empty = Marks.empty(TAKE_IDS, footage.seconds)
            return Reviewed(footage, empty, list(chosen), placed, None, needs, notes)
        anchor = found[0].frame
    points = points_on(_with_nose_root(found or placed, anchor), anchor)
    stabilised = _held_still(footage, anchor, points, keep, progress)
    if phases is None:
        phases = suggestion.suggest(stabilised, footage.seconds, tone, footage.sound)
    if found:
        found = refined(footage, stabilised, found, tone, "side")
    keys = found + placed
    followable = _followable(keys, anchor)
    marks = track_landmarks(stabilised, followable, TAKE_IDS, footage.seconds)
    held = _held_beside(footage, stabilised, keys, marks, phases, "side")
    keys += held
    marks = _with_chin(stabilised, keys, _followed_again(stabilised, marks, keys, held))
    progress("judging", 0.95)
    return Reviewed(footage, marks, list(phases), keys, stabilised, "", notes)


def _with_nose_root(keys: list[Keyframe], anchor: int) -> list[Keyframe]:
    """The keys, and the nose root where it is likely to be, if it lies outside the picture.

    It is never kept: where nose or chin are moved it is worked out anew.
    """
    points = points_on(keys, anchor)
    if "n" in points:
        return keys
    (x, y), sigma = nose_root(points["prn"], points["sn"], points["pg"])
    own = [key for key in keys if (key.landmark, key.frame) != ("n", anchor)]
    return [*own, Keyframe("n", anchor, float(x), float(y), sigma, FOUND)]


def _held_beside(
    footage: Footage,
    stabilised: StabilisedClip,
    keys: list[Keyframe],
    marks: Marks,
    phases: list[Phase],
    view: str,
) -> list[Keyframe]:
    """What the finder sees in the hold and the teacher has not placed."""
    hold = _hold(phases)
    placed = {
        one for key in keys if key.source == PLACED
        and (BY_ID[key.landmark].equipment or (hold and hold.holds(marks.seconds[key.frame])))
        for one in together(key.landmark)
    }  # fmt: skip
    found = held_keys(footage, stabilised, hold, view, marks)
    # Without a rest in the clip its anchor lies in the hold: one frame has one key of a landmark.
    there = {(key.landmark, key.frame) for key in keys}
    return [
        key for key in found
        if key.landmark not in placed and (key.landmark, key.frame) not in there
    ]  # fmt: skip


def _hold(phases: list[Phase]) -> Phase | None:
    """The longest hold."""
    holds = [phase for phase in phases if phase.name == "hold"]
    return max(holds, key=lambda phase: phase.end - phase.start, default=None)


def points_on(keys: list[Keyframe], frame: int) -> dict[str, Floats]:
    """Where the visible keys of one frame lie, clip pixels."""
    return {k.landmark: np.array([k.x, k.y]) for k in keys if k.frame == frame and not k.hidden}


def retrack_side(
    stabilised: StabilisedClip, marks: Marks, landmarks: tuple[str, ...], keys: list[Keyframe]
) -> tuple[Marks, tuple[str, ...]]:
    """A side take with some landmarks followed again, and all landmarks that changed.

    keys  all there are: the chin's edge hangs on lip and chin, the nose root on nose and chin
    """
    # The lip's border was brought onto the edge: it is followed anew, then brought there again.
    again = tuple(dict.fromkeys((*landmarks, "li", "n", *CONTOUR_IDS)))
    own = [key for key in _followable(keys, stabilised.anchor) if key.landmark in again]
    marks = retrack_landmarks(stabilised, marks, again, own)
    return _with_chin(stabilised, keys, marks), again


def _followable(keys: list[Keyframe], anchor: int) -> list[Keyframe]:
    """The keys of what is followed on a side take, the nose root's among them.

    What was drawn along the chin is an edge: it is looked for, not followed as marks are.
    """
    return [key for key in _with_nose_root(keys, anchor) if key.landmark not in CONTOUR_IDS]


def _with_chin(stabilised: StabilisedClip, keys: list[Keyframe], marks: Marks) -> Marks:
    """The same with the chin's contour, as it is found or was drawn."""
    edge = [key for key in keys if key.landmark in CONTOUR_IDS]
    drawn = {
        frame: np.array([[key.x, key.y] for key in edge if key.frame == frame])
        for frame in {key.frame for key in edge}
    }
    return contour(stabilised, marks, points_on(keys, stabilised.anchor), drawn)


def _followed_again(
    stabilised: StabilisedClip, marks: Marks, keys: list[Keyframe], held: list[Keyframe]
) -> Marks:
    """The marks with those followed anew that have further keys.

    keys  all there are, ``held`` among them
    """
    again = tuple(dict.fromkeys(key.landmark for key in held))
    if not again:
        return marks
    return retrack_landmarks(stabilised, marks, again, [k for k in keys if k.landmark in again])


def track(
    footage: Footage,
    placed: list[Keyframe],
    phases: list[Phase] | None,
    keep: Path | None,
    progress: Progress = lambda stage, share: None,
    rest_known: bool = False,
) -> Reviewed:
    """Anchor, stabilise, follow, suggest: all that comes after reading."""
    tone, notes = _heard(footage)
    found, needs = rest_keys(footage, tone, phases)
    anchor = anchor_frame(placed)
    playing = anchor is None and needs == NO_REST_SEEN and rest_known
    if playing:
        phases = phases or suggestion.heard(footage.seconds, tone) or held_all_along(footage)
        found = playing_keys(footage, _hold(phases))
        playing = bool(found)
    if anchor is not None:
        found, needs = [], ""
        points = points_on(placed, anchor)
    elif found:
        anchor = found[0].frame
        points = {key.landmark: np.array([key.x, key.y]) for key in found}
    else:
        needs = out_of_picture(placed, "front") or needs
        empty = Marks.empty(TAKE_IDS, footage.seconds)
        return Reviewed(footage, empty, list(phases or []), placed, None, needs, notes)
    stabilised = _held_still(footage, anchor, points, keep, progress)
    if phases is None:
        phases = suggestion.suggest(stabilised, footage.seconds, tone, footage.sound)
    if found and not playing:
        found = refined(footage, stabilised, found, tone)
    keys = found + placed
    marks = track_landmarks(stabilised, keys, TAKE_IDS, footage.seconds)
    held = _held_beside(footage, stabilised, keys, marks, phases, "front")
    keys += held
    marks = _followed_again(stabilised, marks, keys, held)
    marks = without_covered_corners(marks, footage, stabilised, _hold(phases))
    progress("looking for edges", 0.9)
    marks = cheeks(stabilised, footage.grays, footage.scale, outline_guess(footage, anchor), marks)
    marks.signals.update(inner_edges_seen(footage, stabilised))
    marks = _read_off(stabilised, marks)
    marks.signals.update(head_seen(footage))
    marks.signals["turn_x"], marks.signals["turn_y"] = stabilised.turn.T.copy()
    progress("judging", 0.95)
    if (~stabilised.head_found).mean() > 0.2:
        notes.append(
            said(
                "The head was lost on {lost:.0%} of the frames. Film with the head steady and "
                "well lit.",
                lost=(~stabilised.head_found).mean(),
            )
        )
    return Reviewed(footage, marks, list(phases), keys, stabilised, "", notes, playing)


def retrack_front(
    stabilised: StabilisedClip, marks: Marks, landmarks: tuple[str, ...], keys: list[Keyframe]
) -> tuple[Marks, tuple[str, ...]]:
    """A front take with some landmarks followed again, and all landmarks that changed."""
    marks = retrack_landmarks(stabilised, marks, landmarks, keys)
    if set(landmarks) & {*NEEDED, "pg"}:
        return _read_off(stabilised, marks), tuple(dict.fromkeys((*landmarks, *OPENING_IDS)))
    return marks, landmarks


def _read_off(stabilised: StabilisedClip, marks: Marks) -> Marks:
    """What is read off the stabilised pictures with the marks' help: opening and chin."""
    marks = opening(stabilised, marks, suggestion.like_anchor(stabilised))
    marks = agreed(stabilised, marks)
    marks.signals["chin_texture"] = chin_texture(stabilised, marks)
    return marks
