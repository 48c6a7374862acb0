"""What Sulvet read and heard in a demo clip, kept beside it."""

from __future__ import annotations

import io
import json
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np

from sulvet.core import sandbox
from sulvet.core.anatomy.marks import Marks
from sulvet.core.phases import Phase
from sulvet.core.video.keyframes import Keyframe

ROUNDED = ("xy", "sigma", "drift")


def keep(path: Path, outcome: sandbox.Outcome, heard: dict[str, Any]) -> None:
    """Write an outcome: the marks' arrays, and the rest as JSON in one of them; and what was
    heard, as ``takes.sound.listen`` gives it.

    Places to a hundredth of a pixel are enough and pack well.
    """
    marks = outcome.marks
    arrays = marks.arrays()
    for name in arrays:
        if name in ROUNDED:
            arrays[name] = np.round(arrays[name], 2).astype(np.float32)
        elif name.startswith("signal_"):
            arrays[name] = np.round(arrays[name], 3).astype(np.float32)
    words = {
        "size": list(outcome.size),
        "ids": list(marks.ids),
        "phases": [asdict(phase) for phase in outcome.phases],
        "keys": [asdict(key) for key in outcome.keys],
        "needs": outcome.needs,
        "notes": outcome.notes,
        "heard": heard,
    }
    packed = io.BytesIO()
    np.savez_compressed(packed, allow_pickle=False, words=np.array(json.dumps(words)), **arrays)
    path.write_bytes(packed.getvalue())


def heard(path: Path) -> dict[str, Any]:
    """What was heard."""
    with np.load(path) as saved:
        return dict(json.loads(str(saved["words"]))["heard"])


def load(path: Path) -> sandbox.Outcome:
    """Read an outcome back."""
    with np.load(path) as saved:
        words = json.loads(str(saved["words"]))
        arrays = {name: saved[name] for name in saved.files if name != "words"}
    for name in ROUNDED:
        arrays[name] = arrays[name].astype(float)
    return sandbox.Outcome(
        size=(words["size"][0], words["size"][1]),
        marks=Marks.of(words["ids"], arrays),
        phases=[Phase(**phase) for phase in words["phases"]],
        keys=[Keyframe(**key) for key in words["keys"]],
        needs=words["needs"],
        notes=words["notes"],
    )
