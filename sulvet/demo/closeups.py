"""The demo band's close-ups: a script, its picture, and what a teacher marked on it."""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from sulvet.core.equipment.kinds import Point, errors, kind
from sulvet.core.judgement.standards import shipped_standard

if TYPE_CHECKING:
    # What draws takes long to load, and a server never draws.
    from sulvet.core.simulate.clip import Moment

CLOSE_UPS = Path(__file__).parent / "reeds"


@dataclass(frozen=True)
class DemoCloseUp:
    """One close-up by the name of its script, taken so many days ago."""

    name: str
    days: int

    @property
    def script(self) -> Path:
        """What was filmed."""
        return CLOSE_UPS / f"{self.name}.yaml"

    @property
    def picture(self) -> Path:
        """The picture made from the script."""
        return CLOSE_UPS / f"{self.name}.jpg"

    def marks(self) -> dict[str, Any]:
        """What was marked: size, marks and what is hidden."""
        kept: dict[str, Any] = json.loads(self.script.with_suffix(".json").read_text("utf-8"))
        return kept


def covered(mark: str, truth: Moment) -> bool:
    """What a teacher sees covered: the mouthpiece's tip by a high reed, its side by one that is
    shifted, the cut by the ligature; and what is not there at all."""
    if mark not in truth.places:
        return True
    if mark == "mouth_tip":
        return truth.measures["reed_tip"] > 0
    if mark == "cut":
        return truth.measures["ligature_gap"] < 0
    if not mark.startswith("rail"):
        return False
    way = 1 if mark == "rail_r" else -1
    over = truth.places[mark][0] - truth.places[mark.replace("rail", "reed")][0]
    return over * way < errors().click_px / 2


def marked(
    instrument: str, truth: Moment, rng: np.random.Generator
) -> tuple[dict[str, Point], frozenset[str]]:
    """Marks by an unsteady hand, and what it could not mark."""
    marks: dict[str, Point] = {}
    hidden = set()
    for mark in kind(shipped_standard(instrument).family).marks:
        if covered(mark.id, truth):
            hidden.add(mark.id)
            continue
        x, y = np.array(truth.places[mark.id]) + rng.normal(0, errors().click_px, 2)
        marks[mark.id] = (round(float(x), 2), round(float(y), 2))
    return marks, frozenset(hidden)


def film(one: DemoCloseUp) -> int:
    """Make the picture and mark it; returns the picture's size in bytes."""
    from sulvet.core.simulate import clip, script
    from sulvet.core.video.photo import write_jpeg

    filmed = script.load(one.script)
    write_jpeg(clip.picture(filmed, 0), one.picture)
    rng = np.random.default_rng(filmed.seed)
    marks, hidden = marked(filmed.instrument, clip.moment_truth(filmed, 0), rng)
    kept = {"size": filmed.size, "marks": marks, "hidden": sorted(hidden)}
    text = json.dumps(kept, indent=1)
    one.script.with_suffix(".json").write_text(text + "\n", "utf-8")
    return one.picture.stat().st_size
