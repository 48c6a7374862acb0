"""Scripts, heads and cameras that tests of the made-up head share."""

from __future__ import annotations

from typing import Any

import numpy as np

from sulvet.core.simulate import clip
from sulvet.core.simulate.body import Body, body, joined
from sulvet.core.simulate.camera import Camera, into_room
from sulvet.core.simulate.equipment import AnyEquipment, equipment
from sulvet.core.simulate.person import people
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.raster import gather, rasterise
from sulvet.core.simulate.script import Script, embouchures
from sulvet.core.simulate.skull import skull

#: A telephoto view of the mouth from the front: 10 pixels a millimetre.
CLOSE = Camera((900, 700), 2000, 2.006, (0, -18, 0))


STEPS: list[dict[str, Any]] = [
    {"phase": "rest", "seconds": 0.6},
    {"phase": "place", "seconds": 0.6},
    {"phase": "hold", "seconds": 1.2},
    {"phase": "release", "seconds": 0.4, "held": False, "base": "rest"},
]


def script(**more: Any) -> Script:
    return Script(**{"person": "ada", "instrument": "horn", "fps": 10, "steps": STEPS, **more})


def drawn(shown_body: Body, camera: Camera) -> tuple[Any, Any]:
    """Colour-coded renders: material and lips' ring coordinate at each pixel."""
    xyz, _, triangles, _, attributes = joined(shown_body)
    screen = camera.project(into_room(xyz, shown_body.pose)).astype(np.float32)
    _, which, share = rasterise(screen, triangles, camera.size[1], camera.size[0])
    ring = gather(which, share, triangles, attributes[:, 2:3].astype(np.float32))[..., 0]
    return clip.material_picture(shown_body, camera), np.where(which >= 0, ring, -1)


def held(instrument: str, person: str = "ada", **more: Any) -> tuple[Body, AnyEquipment]:
    """A person who plays as the instrument wants it."""
    right = embouchures()[instrument]
    who = people()[person]
    it = equipment(instrument, who, skull(who), **(right["holds"] | more))
    return body(who, Pose(**right["pose"]), it), it
