"""The teacher's own marks, rehearsal marks and lengths: whatever a take is measured from.

Each is an edit of some parts (see ``history``). What follows from it is worked out first,
outside of any transaction; then edit, tracks and analysis are written together, in one short
transaction, if the take still stands as it did.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from django.db import transaction

from sulvet.accounts.errors import Conflict, Refused
from sulvet.core import sandbox
from sulvet.core.analysis import Material
from sulvet.core.anatomy.landmarks import (
    BY_ID,
    CONTOUR_IDS,
    EDGE_IDS,
    OPENING_IDS,
    together,
)
from sulvet.core.anatomy.marks import PLACED, Marks
from sulvet.core.anatomy.scale import known_length
from sulvet.core.formats import coco
from sulvet.core.formats.coco import PLACED_SIGMA
from sulvet.core.language import said
from sulvet.core.phases import Phase
from sulvet.core.review import retrack_front, retrack_side
from sulvet.core.video.clip import ClipError
from sulvet.core.video.keyframes import Keyframe, on_one_point
from sulvet.core.video.proxy import PROXY
from sulvet.core.video.stabilised_clip import StabilisedClip
from sulvet.core.video.store import MATRICES, PICTURES
from sulvet.hand.selectors import hand_error
from sulvet.takes import analysis, files, history, stabilised, storage, tracks
from sulvet.takes.borrowing import borrowed_rest
from sulvet.takes.history import Parts
from sulvet.takes.models import Edit, Mark, Take

#: Parts from which a take is measured, beside its marks.
MEASURED_FROM = ("phases", "known_mm")
#: Of one edit: all landmarks on some 150 frames.
MOST_MARKS = 6000


@dataclass(frozen=True)
class PlacedMark:
    """A landmark as the teacher places it, pixels of the upright picture."""

    landmark: str
    frame: int
    x: float
    y: float
    hidden: bool = False


# -- the edits ---------------------------------------------------------------------


def place_marks(take: Take, marks: Iterable[PlacedMark], revision: int | None = None) -> None:
    """Put landmarks where the teacher says, all or none, and track them again from there."""
    marks = list(marks)
    _settled(take)
    if len(marks) > MOST_MARKS:
        raise Refused(
            "These are {count} marks; at most {most_marks} can be placed at once. Keep "
            "those of every tenth frame: Sulvet tracks them in between.",
            count=len(marks),
            most_marks=MOST_MARKS,
        )
    for mark in marks:
        if mark.landmark not in BY_ID:
            raise Refused("Unknown landmark “{landmark}”.", landmark=mark.landmark)
        if not 0 <= mark.frame < len(take.frame_times):
            raise Refused("The take has no frame {frame}.", frame=mark.frame)
        if not (-0.5 <= mark.x <= take.width - 0.5 and -0.5 <= mark.y <= take.height - 0.5):
            raise Refused("A mark must be inside the picture.")
    landmarks = tuple(dict.fromkeys(mark.landmark for mark in marks))
    parts = history.parts_of(take, (f"marks:{name}" for name in landmarks))
    hands = {name: _hand(take, name) for name in landmarks}
    for mark in marks:
        row = {"frame": mark.frame, "x": mark.x, "y": mark.y, "hidden": mark.hidden,
               "sigma": hands[mark.landmark]}  # fmt: skip
        _put_row(parts, mark.landmark, row)
    gone = len(marks) == 1 and marks[0].hidden
    _edit(take, _placed_label(landmarks, gone), parts, revision)


def remove_mark(take: Take, landmark: str, frame: int, revision: int | None = None) -> None:
    """Take a placed mark back; what was found or placed elsewhere counts again."""
    _settled(take)
    known = BY_ID.get(landmark)
    if known is None:
        raise Refused("Unknown landmark “{landmark}”.", landmark=landmark)
    label = said("{mark} removed", mark=said(known.label))
    parts = history.parts_of(take, [f"marks:{landmark}"])
    for name, rows in parts.items():
        parts[name] = [row for row in rows if row["frame"] != frame]
    _edit(take, label, parts, revision)


def accept_found(take: Take, revision: int | None = None) -> None:
    """The teacher has looked at the found marks and says they are right.

    They count as placed from now on and are as sure as they were found: a glance
    says that none is wrong, not where it is to the pixel.
    """
    _settled(take)
    found = found_left(take)
    if not found:
        raise Refused("There is no found mark left to accept.")
    landmarks = tuple(dict.fromkeys(mark.landmark for mark in found))
    parts = history.parts_of(take, (f"marks:{name}" for name in landmarks))
    for mark in found:
        _put_row(parts, mark.landmark, {name: getattr(mark, name) for name in history.MARK})
    _edit(take, said("found marks accepted"), parts, revision)


def set_phases(take: Take, phases: list[Phase], revision: int | None = None) -> None:
    """The teacher's rehearsal marks in place of those there are."""
    _settled(take)
    end = take.frame_times[-1]
    for phase in phases:
        if phase.start < 0 or phase.end > end + 0.05:
            raise Refused(
                "The phase “{name}” extends beyond the clip. Move it inside.", name=phase.name
            )
    resting = [phase for phase in phases if phase.name == "rest"]
    for phase in phases:
        if phase.name == "hold" and any(
            phase.start < rest.end and rest.start < phase.end for rest in resting
        ):
            raise Refused(
                "“hold” and “rest” overlap. Move “hold” to where the note is held, or end "
                "“rest” before it."
            )
    rows = history.phase_rows(sorted(phases, key=lambda p: p.start), by_teacher=True)
    _edit(take, said("phases moved"), {"phases": rows}, revision)


def set_known_length(take: Take, known_mm: float | None, revision: int | None = None) -> None:
    """How long the teacher says the marked length is; None takes that back."""
    _settled(take)
    shortest, longest = known_length()
    if known_mm is not None and not shortest <= known_mm <= longest:
        raise Refused(
            "A known length must be between {shortest:.0f} and {longest:.0f} mm. Ten "
            "millimetres of a ruler beside the mouth work well.",
            shortest=shortest,
            longest=longest,
        )
    _edit(take, said("known length"), {"known_mm": known_mm}, revision)


def import_marks(take: Take, document: object, revision: int | None = None) -> None:
    """Take over the marks of a COCO keypoints file that somebody placed; all or none.

    Of a file of Sulvet's own only what a person placed counts: the rest follows from it. In
    a file made elsewhere every mark does.
    """
    try:
        marks, (width, height) = coco.load(document)
    except coco.MarksFileError as error:
        raise Refused(str(error)) from error
    if (width, height) != (take.width, take.height):
        raise Refused(
            "The file's pictures have {width} by {height} pixels, this take has {own_width} "
            "by {own_height}. It belongs to another clip.",
            width=width,
            height=height,
            own_width=take.width,
            own_height=take.height,
        )
    placed = coco.placed(marks)
    if not placed:
        raise Refused("No mark in this file was placed by a person. There is nothing to import.")
    place_marks(
        take,
        [PlacedMark(key.landmark, key.frame, key.x, key.y, key.hidden) for key in placed],
        revision,
    )


def undo(take: Take, revision: int | None = None) -> None:
    """Undo the teacher's last edit."""
    _restore(take, history.last(take), True, said("Nothing to undo."), revision)


def redo(take: Take, revision: int | None = None) -> None:
    """Redo the edit that was taken back last."""
    _restore(take, history.next_undone(take), False, said("Nothing to redo."), revision)


def _put_row(parts: Parts, landmark: str, row: dict[str, Any]) -> None:
    """A placed mark in the place of one on the same frame."""
    rows = [one for one in parts[f"marks:{landmark}"] if one["frame"] != row["frame"]]
    parts[f"marks:{landmark}"] = sorted([*rows, row], key=lambda one: one["frame"])


def _placed_label(landmarks: tuple[str, ...], gone: bool) -> str:
    if len(landmarks) == 1:
        words = "{mark} marked as not visible" if gone else "{mark} placed"
        return said(words, mark=said(BY_ID[landmarks[0]].label))
    if set(landmarks) <= set(CONTOUR_IDS):
        return said("chin line drawn")
    return said("{count} marks placed", count=len(landmarks))


def _hand(take: Take, landmark: str) -> float:
    """How sure this teacher's hand is of a landmark, pixels of the take."""
    teacher = take.student.section.band.teacher
    return hand_error(teacher, landmark, take.width) or PLACED_SIGMA


def found_left(take: Take) -> list[Mark]:
    """The found marks that the teacher has neither moved nor accepted.

    Without those that are looked for on every frame by their edges: one of them that
    is placed would pin what is read off the picture.
    """
    rows = list(take.marks.all())
    placed = {(m.landmark, m.frame) for m in rows if m.source == Mark.Source.PLACED}
    return [
        m
        for m in rows
        if m.source == Mark.Source.FOUND
        and (m.landmark, m.frame) not in placed
        and m.landmark not in (*EDGE_IDS, *OPENING_IDS)
    ]


def with_moved_marks(take: Take, frame: int, moved: list[PlacedMark]) -> Marks:
    """The take's marks with some of them elsewhere on one frame; nothing is stored."""
    _settled(take)
    marks = tracks.load(take)
    if not 0 <= frame < len(marks):
        raise Refused("The take has no frame {frame}.", frame=frame)
    for mark in moved:
        if mark.landmark not in BY_ID:
            raise Refused("Unknown landmark “{landmark}”.", landmark=mark.landmark)
        column = marks.column(mark.landmark)
        marks.xy[frame, column], marks.hidden[frame, column] = (mark.x, mark.y), mark.hidden
        sure = np.isfinite(marks.sigma[frame, column])
        marks.sigma[frame, column] = marks.sigma[frame, column] if sure else PLACED_SIGMA
        marks.drift[frame, column] = marks.drift[frame, column] if sure else PLACED_SIGMA
    return marks


def _settled(take: Take) -> None:
    if take.state not in analysis.ANALYSED:
        raise Conflict("Sulvet is still analysing this take. Wait until it is done.")


# -- what follows, and writing it ----------------------------------------------------


@dataclass(frozen=True)
class _Prepared:
    """What is to be written beside an edit: tracks of some landmarks, and the analysis."""

    marks: Marks
    tracked: tuple[str, ...]
    signals: bool
    made: analysis.Made

    def save(self, take: Take) -> None:
        if self.tracked:
            tracks.save(take, self.marks, self.tracked)
        if self.signals:
            tracks.save_signals(take, self.marks)
        analysis.save(take, self.made)


def _edit(take: Take, label: str, parts: Parts, revision: int | None) -> None:
    """One edit: the parts as they are to be."""
    history.check(take, revision)
    before = history.parts_of(take, parts)
    prepared = _prepared(take, parts) if parts != before else None
    with transaction.atomic():
        history.claim(take)
        history.write(take, parts)
        history.record(take, label, before, parts)
        if prepared is not None:
            prepared.save(take)


def _restore(
    take: Take, edit: Edit | None, undone: bool, nothing: str, revision: int | None
) -> None:
    """Put the parts of an edit back as they were before it, or as they were after."""
    _settled(take)
    history.check(take, revision)
    if edit is None:
        raise Refused(nothing)
    parts: Parts = edit.before if undone else edit.after
    prepared = _prepared(take, parts)
    with transaction.atomic():
        history.claim(take)
        history.write(take, parts)
        edit.undone = undone
        edit.save(update_fields=["undone"])
        if prepared is not None:
            prepared.save(take)


def _prepared(take: Take, parts: Parts) -> _Prepared | None:
    """What follows from other parts; None where nothing is measured from them."""
    landmarks = history.landmarks_in(parts)
    if not take.frame_times or not (landmarks or any(name in parts for name in MEASURED_FROM)):
        return None
    marks, signals = tracks.load(take), False
    tracked: tuple[str, ...] = ()
    keyframes = _keyframes_with(take, parts)
    if slip := on_one_point(keyframes):
        raise Refused(slip)
    # The first marks of a take that is not tracked yet wait for all of them.
    if landmarks and take.state == Take.State.READY:
        marks, tracked, signals = _retracked(take, marks, landmarks, keyframes)
    phases = tracks.phases_of(take)
    if "phases" in parts:
        phases = [Phase(p["name"], p["start"], p["end"], p["confidence"]) for p in parts["phases"]]
    known_mm = parts.get("known_mm", take.known_mm)
    heard, rest = analysis.heard_on(take), borrowed_rest(take)
    material = Material(marks, phases, take.view, known_mm, heard, rest, take.still)
    return _Prepared(marks, tracked, signals, analysis.make(take, material))


def _keyframes_with(take: Take, parts: Parts) -> list[Keyframe]:
    """The keyframes as they will be."""
    changed = history.landmarks_in(parts)
    kept = [
        key for key in tracks.keyframes(take) if key.source != PLACED or key.landmark not in changed
    ]
    placed = [
        Keyframe(name, row["frame"], row["x"], row["y"], row["sigma"], PLACED, row["hidden"])
        for name in changed
        for row in parts[f"marks:{name}"]
    ]
    # As the rows come back from the database.
    return sorted([*kept, *placed], key=lambda key: (key.landmark, key.frame))


def _retracked(
    take: Take, marks: Marks, landmarks: tuple[str, ...], keyframes: list[Keyframe]
) -> tuple[Marks, tuple[str, ...], bool]:
    """Marks tracked again from their keyframes, which of them, and whether the picture was read."""
    clip = _stabilised(take, keyframes)
    group = tuple(dict.fromkeys(one for name in landmarks for one in together(name)))
    if take.view == Take.View.SIDE:
        again, group = retrack_side(clip, marks, group, keyframes)
        return tracks.as_stored(again), group, False
    own = [key for key in keyframes if key.landmark in group]
    again, group = retrack_front(clip, marks, group, own)
    return tracks.as_stored(again), group, True


def _stabilised(take: Take, keyframes: list[Keyframe]) -> StabilisedClip:
    """The stabilised take. What can be made again may be missing: then it is made again."""
    try:
        return stabilised.of(take)
    except FileNotFoundError:
        if not take.clip.exists():
            raise Conflict(files.LOST) from None
        with files.making(take) as making:
            try:
                sandbox.review(
                    take.clip,
                    Path(making),
                    keys=keyframes,
                    phases=tracks.phases_of(take),
                    mirrored=take.mirrored,
                    proxy=False,
                    seconds=take.clip_seconds or 180.0,
                    progress=lambda stage, share: None,
                    view=take.view,
                    family=take.student.family,
                )
            except ClipError as error:
                raise Refused(str(error)) from error
            move_in(Path(making), take)
        return stabilised.of(take)


def move_in(making: Path, take: Take) -> None:
    """Move what a review made into the take's folder; a reader never sees half a file."""
    made = [name for name in (PROXY, PICTURES, MATRICES) if (making / name).exists()]
    # What others can't have yet is not taken for made here either.
    storage.put(take.folder, [making / name for name in made])
    for name in made:
        (making / name).replace(take.directory / name)
