"""What measures are, for whoever asks what a name means."""

from __future__ import annotations

from dataclasses import dataclass

from sulvet.core.measures.catalogue import Measure


@dataclass(frozen=True)
class MeasureRow:
    """A measure in words; ``drawing`` names the handbook's drawing of it, if there is one."""

    id: str
    name: str
    view: str
    unit: str
    explains: str
    drawing: str


def measure_row(measure: Measure) -> MeasureRow:
    """A measure of the catalogue in words."""
    return MeasureRow(
        measure.id, measure.name, measure.view, measure.unit, measure.explains, measure.drawing
    )
