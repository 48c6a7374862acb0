"""Tracks between the database and the engine's arrays."""

from __future__ import annotations

import zlib

import numpy as np

from sulvet.core import ENGINE_VERSION
from sulvet.core.anatomy.landmarks import TAKE_IDS
from sulvet.core.anatomy.marks import SIGNALS, SOURCES, Marks
from sulvet.core.phases import LIKELY, Phase
from sulvet.core.video.keyframes import Keyframe
from sulvet.takes.models import Mark, Take, Track

#: How sure a phase is that was asked for: told by neither ear nor eye.
PROMPTED = LIKELY


def pack(marks: Marks, column: int) -> bytes:
    """One landmark's track: x, y, sigma, drift as float32, then source and hidden as bytes.

    Frame after frame within each, little-endian, zlib-compressed.
    """
    floats = np.stack(
        [
            marks.xy[:, column, 0],
            marks.xy[:, column, 1],
            marks.sigma[:, column],
            marks.drift[:, column],
        ]
    ).astype("<f4")
    flags = np.stack([marks.source[:, column], marks.hidden[:, column]]).astype(np.uint8)
    return zlib.compress(floats.tobytes() + flags.tobytes())


def unpack(marks: Marks, column: int, data: bytes) -> None:
    """Fill one landmark of ``marks`` from a packed track."""
    raw, count = zlib.decompress(data), len(marks)
    floats = np.frombuffer(raw, "<f4", 4 * count).reshape(4, count).astype(float)
    flags = np.frombuffer(raw, np.uint8, 2 * count, offset=16 * count).reshape(2, count)
    marks.xy[:, column] = floats[:2].T
    marks.sigma[:, column], marks.drift[:, column] = floats[2], floats[3]
    marks.source[:, column], marks.hidden[:, column] = flags[0], flags[1].astype(bool)


def load(take: Take) -> Marks:
    """All marks of a take as arrays."""
    marks = Marks.empty(TAKE_IDS, take.frame_times)
    for track in take.tracks.all():
        if track.landmark in TAKE_IDS:
            unpack(marks, marks.column(track.landmark), bytes(track.data))
        elif track.landmark in SIGNALS:
            raw = zlib.decompress(bytes(track.data))
            marks.signals[track.landmark] = np.frombuffer(raw, "<f4").astype(float)
    return marks


def as_stored(marks: Marks) -> Marks:
    """Marks with the precision, and of the landmarks, with which they come back from ``load``."""
    stored = Marks.empty(TAKE_IDS, [round(float(t), 6) for t in marks.seconds])
    for name in TAKE_IDS:
        if name in marks.ids and np.isfinite(marks.xy[:, marks.column(name), 0]).any():
            unpack(stored, stored.column(name), pack(marks, marks.column(name)))
    for name, values in marks.signals.items():
        stored.signals[name] = values.astype("<f4").astype(float)
    return stored


def save_signals(take: Take, marks: Marks) -> None:
    """Write what is read off the picture itself: little-endian float32, zlib-compressed."""
    take.tracks.filter(landmark__in=SIGNALS).delete()
    Track.objects.bulk_create(
        Track(
            take=take,
            landmark=name,
            data=zlib.compress(values.astype("<f4").tobytes()),
            engine=ENGINE_VERSION,
        )
        for name, values in marks.signals.items()
    )


def save(take: Take, marks: Marks, landmarks: tuple[str, ...]) -> None:
    """Write the tracks of some landmarks in place of the old ones."""
    take.tracks.filter(landmark__in=landmarks).delete()
    Track.objects.bulk_create(
        Track(take=take, landmark=name, data=pack(marks, marks.column(name)), engine=ENGINE_VERSION)
        for name in landmarks
        if name in marks.ids and np.isfinite(marks.xy[:, marks.column(name), 0]).any()
    )


def keyframes(take: Take, landmarks: tuple[str, ...] | None = None) -> list[Keyframe]:
    """The keyframes following starts from."""
    rows = take.marks.all()
    if landmarks is not None:
        rows = rows.filter(landmark__in=landmarks)
    return [
        Keyframe(m.landmark, m.frame, m.x, m.y, m.sigma, SOURCES.index(m.source), m.hidden)
        for m in rows
    ]


def phases_of(take: Take) -> list[Phase]:
    """The take's rehearsal marks."""
    return [Phase(p.name, p.start, p.end, p.confidence) for p in take.phases.all()]


def prompted(take: Take) -> list[Phase] | None:
    """The phases a take was filmed under; None where nobody asked for any."""
    found = [Phase(p["name"], p["start"], p["end"], PROMPTED) for p in take.prompts]
    return found or None


def mark_rows(take: Take, found: list[Keyframe]) -> list[Mark]:
    """Rows for keyframes."""
    return [
        Mark(
            take=take,
            landmark=key.landmark,
            frame=key.frame,
            x=key.x,
            y=key.y,
            sigma=key.sigma,
            hidden=key.hidden,
            source=SOURCES[key.source],
        )
        for key in found
    ]
