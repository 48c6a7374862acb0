"""The landmarks the network is taught, and where they truly lie on a made-up head."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.body import Body
from sulvet.core.simulate.equipment import AnyEquipment, Cup
from sulvet.core.simulate.truth import landmarks
from sulvet.core.video.network_points import POINTS, RIM


def true_points(body: Body, equipment: AnyEquipment | None) -> dict[str, Floats]:
    """Every taught landmark that this moment has: id → (3,) mm in head coordinates."""
    found = landmarks(body, equipment)
    if isinstance(equipment, Cup):
        turn = np.radians(90.0 - np.arange(len(RIM)) * 360.0 / len(RIM))
        r = equipment.outer
        ring = equipment.frame.place(r * np.cos(turn), r * np.sin(turn), 1.0)
        found |= dict(zip(RIM, ring, strict=True))
    return {name: found[name] for name in POINTS if name in found}
