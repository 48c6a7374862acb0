"""Marks in and out as COCO keypoints JSON.

One category whose ``keypoints`` are our landmark ids; one image per frame,
with two fields of our own, ``frame`` and ``seconds``. Visibility as the format
defines it: 0 not labelled, 1 labelled but hidden, 2 labelled and visible. Two
more fields of our own in each annotation, ``sigma`` and ``source``, and the
list ``phases`` beside ``images`` may be missing in files made elsewhere.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from sulvet.core.anatomy.landmarks import TAKE_IDS
from sulvet.core.anatomy.marks import PLACED, SOURCES, Marks
from sulvet.core.language import said
from sulvet.core.phases import Phase

#: Standard deviation of a mark a person placed at 1:1, pixels (Sulvet default).
PLACED_SIGMA = 0.8


class MarksFileError(ValueError):
    """A marks file can't be used; the message says what to change."""


def dump(
    marks: Marks, size: tuple[int, int], clip: str = "", phases: Sequence[Phase] = ()
) -> dict[str, Any]:
    """COCO keypoints of a take; ``size`` is (width, height) of the upright picture."""
    images, annotations = [], []
    for row, (frame, seconds) in enumerate(zip(marks.frames, marks.seconds, strict=True)):
        known = np.isfinite(marks.xy[row, :, 0])
        flags = np.where(known, np.where(marks.hidden[row], 1, 2), 0)
        points = np.where(known[:, None], marks.xy[row], 0.0)
        images.append(
            {
                "id": row + 1,
                "file_name": f"{clip or 'take'}#{int(frame)}",
                "width": size[0],
                "height": size[1],
                "frame": int(frame),
                "seconds": round(float(seconds), 6),
            }
        )
        seen = points[known]
        low, high = (seen.min(0), seen.max(0)) if len(seen) else (np.zeros(2), np.zeros(2))
        annotations.append(
            {
                "id": row + 1,
                "image_id": row + 1,
                "category_id": 1,
                "iscrowd": 0,
                "bbox": [round(float(v), 3) for v in (*low, *(high - low))],
                "area": round(float(np.prod(high - low)), 3),
                "num_keypoints": int((flags > 0).sum()),
                "keypoints": [
                    value
                    for (x, y), flag in zip(points, flags, strict=True)
                    for value in (round(float(x), 3), round(float(y), 3), int(flag))
                ],
                "sigma": [None if np.isnan(s) else round(float(s), 3) for s in marks.sigma[row]],
                "source": [SOURCES[s] for s in marks.source[row]],
            }
        )
    return {
        "info": {"description": "Sulvet marks"},
        "categories": [
            {
                "id": 1,
                "name": "face",
                "supercategory": "person",
                "keypoints": list(marks.ids),
                "skeleton": [],
            }
        ],
        "images": images,
        "annotations": annotations,
        "phases": [asdict(phase) for phase in phases],
    }


def load(document: Any) -> tuple[Marks, tuple[int, int]]:
    """Marks and (width, height) from a COCO keypoints document.

    Marks of files made elsewhere have no ``sigma``: they count as placed by a
    person. Raises MarksFileError with a sentence for anything that does not fit.
    """
    if not isinstance(document, dict) or not {"images", "annotations", "categories"} <= set(
        document
    ):
        raise MarksFileError(
            said(
                "This is not a COCO keypoints file: it needs “images”, “annotations” and "
                "“categories”."
            )
        )
    try:
        return _load(document)
    except (KeyError, TypeError, IndexError, ValueError) as error:
        if isinstance(error, MarksFileError):
            raise
        raise MarksFileError(
            said(
                "The marks file is damaged near {error}. Export it again from the program it "
                "came from.",
                error=error,
            )
        ) from error


def _load(document: dict[str, Any]) -> tuple[Marks, tuple[int, int]]:
    if len(document["categories"]) != 1:
        raise MarksFileError(said("The marks file must have exactly one category, the face."))
    names = list(document["categories"][0]["keypoints"])
    known = [name for name in names if name in TAKE_IDS]
    if not known:
        raise MarksFileError(
            said(
                "None of the keypoint names is a Sulvet landmark. Use the ids {ids}.",
                ids=", ".join(TAKE_IDS),
            )
        )
    images = sorted(document["images"], key=lambda image: image["frame"])
    if not images:
        raise MarksFileError(said("The marks file has no images, so there is nothing to measure."))
    by_image = {note["image_id"]: note for note in document["annotations"]}
    marks = Marks.empty(TAKE_IDS, [float(image["seconds"]) for image in images])
    marks.frames[:] = [int(image["frame"]) for image in images]
    if (np.diff(marks.frames) <= 0).any() or (np.diff(marks.seconds) <= 0).any():
        raise MarksFileError(
            said("Frame numbers and seconds must both increase from image to image.")
        )
    for row, image in enumerate(images):
        note = by_image.get(image["id"])
        if note is None:
            continue
        values = np.asarray(note["keypoints"], dtype=float).reshape(len(names), 3)
        sigmas = note.get("sigma") or [None] * len(names)
        sources = note.get("source") or ["placed"] * len(names)
        for index, name in enumerate(names):
            if name not in TAKE_IDS or values[index, 2] == 0:
                continue
            column = marks.column(name)
            marks.xy[row, column] = values[index, :2]
            marks.hidden[row, column] = values[index, 2] == 1
            sigma = PLACED_SIGMA if sigmas[index] is None else float(sigmas[index])
            marks.sigma[row, column] = marks.drift[row, column] = sigma
            source = sources[index]
            marks.source[row, column] = SOURCES.index(source) if source in SOURCES else PLACED
    first = images[0]
    return marks, (int(first["width"]), int(first["height"]))


def load_phases(document: Any) -> list[Phase]:
    """Rehearsal marks that came with the file; an empty list when there are none."""
    try:
        return [
            Phase(str(p["name"]), float(p["start"]), float(p["end"]))
            for p in document.get("phases") or []
        ]
    except (KeyError, TypeError, ValueError) as error:
        raise MarksFileError(
            said(
                "The phases of the marks file can't be used: {error}. Each needs a name, a "
                "start and a later end in seconds.",
                error=error,
            )
        ) from error


@dataclass(frozen=True)
class PlacedMark:
    """A mark that a person placed, pixels of the upright picture."""

    landmark: str
    frame: int
    x: float
    y: float
    hidden: bool


def placed(marks: Marks) -> list[PlacedMark]:
    """The marks of a file that a person placed, frame by frame."""
    return [
        PlacedMark(
            name, int(marks.frames[row]), float(marks.xy[row, column, 0]),
            float(marks.xy[row, column, 1]), bool(marks.hidden[row, column]),
        )
        for row in range(len(marks))
        for column, name in enumerate(marks.ids)
        if marks.source[row, column] == PLACED and np.isfinite(marks.xy[row, column, 0])
    ]  # fmt: skip
