"""The table of all measures: what each is, what it takes, and in which unit it is told."""

from __future__ import annotations

import tomllib
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache, partial
from pathlib import Path
from typing import Any, Literal

import numpy as np

from sulvet.core.anatomy.landmarks import BY_ID, CONTOUR_IDS
from sulvet.core.anatomy.marks import Floats
from sulvet.core.anatomy.scale import sizes
from sulvet.core.measures import (
    aperture,
    beak,
    cheeks,
    chin,
    corners,
    lips,
    placement,
    posture,
    profile,
)

MODEL = Path(__file__).parent / "data" / "model.toml"
AnyView = Any  # FaceView of a front measure, SideView of a side measure


@cache
def model() -> dict[str, dict[str, float]]:
    """What no mark's own error accounts for, by measure; see the file's own notes."""
    rows: dict[str, dict[str, float]] = tomllib.loads(MODEL.read_text(encoding="utf-8"))["measures"]
    return rows


@dataclass(frozen=True)
class Measure:
    """One thing measured on every frame.

    id, unit  its name and the unit of its values
    view      from which side it shows
    value     view → (T,) in degrees, ratios, or pixels of the rest scale
    uses      landmarks that go into the value
    needs     those of them without which it can't be told when hidden; default: all
    against   how it is compared with rest: ``difference``, ``ratio``, or ``nothing``
    told      what a value in pixels becomes: ``mm`` or ``mm2`` in ``plane``, ``MW``
              (rest mouth widths) or ``%`` (hundredths of lip to chin at rest)
    known     a length it starts from, mm with its standard deviation: the value told
              is that length less the measured one
    more      view → (T,) standard deviation that no mark's own accounts for
    """

    id: str
    unit: str
    view: Literal["front", "side"]
    value: Callable[[AnyView], Floats]
    uses: tuple[str, ...]
    needs: tuple[str, ...] | None = None
    against: Literal["difference", "ratio", "nothing"] = "nothing"
    told: Literal["", "mm", "mm2", "MW", "%"] = ""
    plane: str = ""
    known: tuple[float, float] | None = None
    more: Callable[[AnyView], Floats] | None = None

    @property
    def must_see(self) -> tuple[str, ...]:
        """Landmarks that must be visible."""
        return self.uses if self.needs is None else self.needs

    @property
    def thing(self) -> str:
        """What has to be held to the mouth for it, or an empty string."""
        return next((BY_ID[name].thing for name in self.must_see if BY_ID[name].thing), "")


BOTH, LIPS = ("ch_r", "ch_l"), ("ls", "li")
RIM, HOLE = placement.RIM, ("hole_r", "hole_l", "hole_far")
OPENING, WINGS = ("ap_r", "ap_l"), ("al_r", "al_l")
CHIN = (*CONTOUR_IDS, "li")
BEAK, RIM_SIDE, PLATE_SIDE = ("ax_a", "ax_b"), ("rs_top", "rs_low"), ("ps_in", "ps_out")


def _front(name: str, unit: str, value: Callable[[Any], Floats], uses: Any, **rest: Any) -> Measure:
    return Measure(name, unit, "front", value, uses, **rest)


def _side(name: str, unit: str, value: Callable[[Any], Floats], uses: Any, **rest: Any) -> Measure:
    return Measure(name, unit, "side", value, uses, **rest)


def _rise(name: str, value: Callable[[Any], Floats], seen: tuple[str, ...]) -> Measure:
    return _front(
        name, "deg", value, (*BOTH, *LIPS), needs=seen, against="difference",
        more=corners.carried_rise,
    )  # fmt: skip


#: Measures of every take of a view.
GENERAL: tuple[Measure, ...] = (
    _rise("corner_rise", corners.corner_rise, BOTH),
    _rise("corner_rise_r", corners.corner_rise_r, ("ch_r",)),
    _rise("corner_rise_l", corners.corner_rise_l, ("ch_l",)),
    _front(
        "corner_asymmetry", "deg", corners.corner_asymmetry, (*BOTH, *LIPS), needs=BOTH,
        against="difference",
    ),
    _front("mouth_width", "ratio", corners.mouth_width, BOTH, against="ratio"),
    _front("upper_red", "ratio", lips.upper_red, ("ls", "sto_s"), against="ratio"),
    _front("lower_red", "ratio", lips.lower_red, ("sto_i", "li"), against="ratio"),
    _front(
        "aperture_height", "mm", aperture.aperture_height, ("sto_s", "sto_i", *OPENING),
        told="mm", plane="lips",
    ),
    _front("aperture_width", "mm", aperture.aperture_width, OPENING, told="mm", plane="lips"),
    _front(
        "aperture_area", "mm²", aperture.aperture_area, ("sto_s", "sto_i", *OPENING),
        told="mm2", plane="lips",
    ),
    _front("aperture_offset", "mm", aperture.aperture_offset, OPENING, told="mm", plane="lips"),
    _front(
        "cheek_out_r", "mm", cheeks.cheek_out_r, ("ck_r", *WINGS), needs=("ck_r",),
        against="difference", told="mm", plane="cheeks",
    ),
    _front(
        "cheek_out_l", "mm", cheeks.cheek_out_l, ("ck_l", *WINGS), needs=("ck_l",),
        against="difference", told="mm", plane="cheeks",
    ),
    _front("chin_length", "ratio", chin.chin_length, ("li", "pg"), against="ratio"),
    _front("jaw_drop", "ratio", chin.jaw_drop, ("me",), against="ratio"),
    _front(
        "rim_upper_share", "share", placement.rim_upper_share, (*RIM, "sto_s", "sto_i", *LIPS),
        needs=RIM,
    ),
    _front("rim_offset", "MW", placement.rim_offset, RIM, told="MW"),
    _front("rim_below_lip", "mm", placement.rim_below_lip, (*RIM, "li"), needs=RIM, told="mm",
           plane="rim"),
    _front("red_above_rim", "mm", placement.red_above_rim, (*RIM, "ls"), needs=RIM, told="mm",
           plane="rim"),
    _front("mouthpiece_offset", "MW", placement.mouthpiece_offset, ("mp_r", "mp_l"), told="MW"),
    _front("plate_tilt", "deg", placement.plate_tilt, ("pl_r", "pl_l", *BOTH),
           needs=("pl_r", "pl_l")),
    _front("hole_to_lip", "mm", placement.hole_to_lip, (*HOLE, "li"), told="mm", plane="hole"),
    _front("hole_cover", "share", placement.hole_cover, (*HOLE, "li")),
    _front("hole_offset", "mm", placement.hole_offset, (*HOLE, *OPENING), needs=HOLE, told="mm",
           plane="hole"),
    _front("head_roll", "deg", posture.head_roll, ()),
    _front("head_yaw", "deg", posture.yaw, ()),
    _side("chin_hollow", "%", profile.chin_hollow, (*CHIN, "pg"), needs=CHIN,
          told="%"),
    _side("chin_hollow_change", "%", profile.chin_hollow, (*CONTOUR_IDS, "pg"),
          needs=CONTOUR_IDS, against="difference", told="%"),
    _side("chin_hollow_mm", "mm", profile.chin_hollow, (*CHIN, "pg"), needs=CHIN,
          told="mm", plane="profile"),
    _side("fold_count", "count", profile.fold_count, CHIN),
    _side("flesh_forward", "%", profile.flesh_forward, CHIN, told="%"),
    _side("chin_length_side", "ratio", profile.chin_length_side, ("li", "pg"), against="ratio"),
    _side("lower_red_side", "ratio", profile.lower_red_side, ("sto", "li"), against="ratio"),
    _side("upper_red_side", "ratio", profile.upper_red_side, ("ls", "sto", "mp_lip"),
          needs=("ls", "sto"), against="ratio"),
    _side("lip_line_order", "%", profile.lip_line_order, LIPS, told="%"),
    _side("head_nod", "deg", profile.head_nod, ()),
    _side("instrument_angle", "deg", beak.instrument_angle, BEAK),
    _side("instrument_level", "deg", beak.axis_level, BEAK),
    _side("shank_angle", "deg", beak.shank_angle, RIM_SIDE),
    _side("shank_level", "deg", beak.shank_level, RIM_SIDE),
    _side("rim_forward", "mm", beak.rim_forward, (*RIM_SIDE, "ls"), told="mm", plane="profile"),
)  # fmt: skip


@cache
def measures(view: str, instrument: str = "") -> tuple[Measure, ...]:
    """The measures of a view, and those that need the instrument's own sizes."""
    table, found = sizes(), [m for m in GENERAL if m.view == view]
    if view == "front" and instrument in table["rim"]:
        rim = table["rim"][instrument]
        found.append(
            _front(
                "cup_upper_share", "share",
                partial(placement.cup_upper_share, cup=rim["cup"] / rim["mm"]),
                (*RIM, "sto_s", "sto_i", *LIPS), needs=RIM,
            )
        )  # fmt: skip
    if view == "side" and instrument in table["beak"]:
        size = table["beak"][instrument]
        found.append(
            _side("depth", "mm", beak.lip_to_mark, ("mp_lip", *BEAK), told="mm", plane="profile",
                  known=(size["mark"], size["sigma"]))
        )  # fmt: skip
    if view == "side" and instrument == "flute":
        # The plate lies over the skin that the contour would run along.
        found = [m for m in found if CONTOUR_IDS[0] not in m.uses]
        level = table["plate"]["level"]
        found.append(
            _side("plate_roll", "deg", lambda v: np.asarray(level - beak.plate_down(v)), PLATE_SIDE)
        )
    return tuple(found)


def every() -> dict[str, Measure]:
    """All measures of all instruments by id."""
    instruments = ("", *sizes()["rim"], *sizes()["beak"], "flute")
    return {m.id: m for v in ("front", "side") for i in instruments for m in measures(v, i)}
