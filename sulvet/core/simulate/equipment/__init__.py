"""What is held to the mouth: cup mouthpieces, reed mouthpieces, double reeds, the flute's plate.

Placement is said in the words of the measures (share of upper lip, depth,
angle …). Sizes are common ones, from memory; they stand in ``data/equipment.yaml``,
as does which shape and which source of sound an instrument has.
"""

from __future__ import annotations

from typing import Any

from sulvet.core.simulate.equipment.common import Frame, Points, sizes
from sulvet.core.simulate.equipment.cup import Cup
from sulvet.core.simulate.equipment.plate import Plate
from sulvet.core.simulate.equipment.reed import Reed
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.skull import Skull

AnyEquipment = Cup | Reed | Plate
SHAPES: dict[str, type[AnyEquipment]] = {"cup": Cup, "reed": Reed, "plate": Plate}

__all__ = ["AnyEquipment", "Cup", "Frame", "Plate", "Points", "Reed", "equipment", "shape_of",
           "sizes"]  # fmt: skip


def shape_of(instrument: str) -> type[AnyEquipment]:
    """The class of what an instrument puts to the mouth; ValueError for an unknown one."""
    if instrument not in sizes():
        raise ValueError(f"Unknown instrument “{instrument}”.")
    return SHAPES[sizes()[instrument]["shape"]]


def equipment(instrument: str, person: Person, skull: Skull, **placed: Any) -> AnyEquipment:
    """What this instrument puts to the mouth; ValueError for an unknown instrument."""
    return shape_of(instrument)(person, skull, instrument, **placed)
