"""Takes of the demo in which a teacher has marked what the program does not find by itself.

The demo band is read without a mark. What needs the mouthpiece from the side is tested on the
same clips with marks placed by an unsteady hand.
"""

from __future__ import annotations

from pathlib import Path

from sulvet.demo.scenario import DemoTake

MARKED = Path(__file__).parent / "fixtures" / "marked"


def reading_of(take: DemoTake) -> Path:
    """The reading with a teacher's marks where there is one, else the demo's own."""
    own = MARKED / f"{take.name}.npz"
    return own if own.exists() else take.reading
