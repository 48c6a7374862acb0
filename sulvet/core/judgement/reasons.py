"""Why nothing can be told, in a sentence that says what to film or to mark."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.landmarks import ALL_EQUIPMENT, CONTOUR_IDS
from sulvet.core.anatomy.marks import Bools, Marks
from sulvet.core.judgement.common import common
from sulvet.core.language import said
from sulvet.core.measures.catalogue import Measure
from sulvet.core.measures.series import Measured
from sulvet.core.measures.units import sign_of
from sulvet.core.phases import Phase, frames_of

NO_REST = (
    "There is no rest phase to compare with. Go to where the face is relaxed and press Set "
    "rest, or film one or two seconds of a relaxed face first."
)
NO_PHASE = "The phase “{phase}” is not set. Go to where the note is held and press Set {phase}."
SHORT = "The phase “{phase}” is too short to measure. Drag its edges wider."
TURNED = (
    "The head is turned about {yaw:.0f} degrees to the side. Film again straight from the front."
)
HIDDEN = (
    "The {what} can't be seen in “{phase}”. Film again so that they are visible, or place "
    "the marks yourself."
)
NO_SCALE = (
    "Nothing of known size is visible. Mark both ends of a length you know, such as a ruler's "
    "centimetre held beside the mouth."
)
NODDED = (
    "The head is raised or lowered by about {pitch:.0f} degrees. Film again at the height of the "
    "mouth."
)
NOT_FORMED = (
    "This compares the shape before the tone with the shape during it. Set the phase "
    "“form” or “place”, or start filming before the instrument is at the mouth."
)
PALE = (
    "The chin does not stand out from the background. Film the side in front of a plain "
    "wall that is clearly lighter or darker than the skin."
)
NO_FACE_AXIS = (
    "Neither the eyes nor the nose wings are marked at rest, so the tilt of the head can't "
    "be removed. Mark the nose wings on a rest frame."
)


def why_nothing(marks: Marks, measured: Measured, phases: list[Phase], view: str) -> str:
    """Why nothing at all can be told of a take; empty where something can."""
    at_rest = frames_of(phases, "rest", marks.seconds)
    if not at_rest.any():
        return said(NO_REST)
    if view == "front":
        return _front(marks, measured, phases, at_rest)
    if not np.isfinite(measured.series["head_nod"].value).any():
        return said(HIDDEN, what=said("profile"), phase=said("rest"))
    return ""


def _front(marks: Marks, measured: Measured, phases: list[Phase], at_rest: Bools) -> str:
    if measured.rest is None:
        axis_seen = any(
            name in marks.ids and not marks.hidden[at_rest, marks.column(name)].all()
            for name in ("ex_r", "en_r", "al_r")
        )
        return (
            said(HIDDEN, what=said("mouth corners"), phase=said("rest"))
            if axis_seen
            else said(NO_FACE_AXIS)
        )
    limits = common().limits
    for mask in (at_rest, frames_of(phases, "hold", marks.seconds)):
        turned = measured.yaw[mask]
        turned = np.abs(turned[np.isfinite(turned)])
        if len(turned) and np.median(turned) > limits.max_yaw:
            return said(TURNED, yaw=np.median(turned))
    raised = marks.signals.get("mesh_pitch", np.full(len(marks), np.nan))[at_rest]
    if np.isfinite(raised).any():
        pitch = abs(float(np.nanmedian(raised)))
        if pitch > limits.max_pitch:
            return said(NODDED, pitch=pitch)
    return ""


def why_unseen(measure: Measure, phase: Phase, marks: Marks, measured: Measured) -> str:
    """Why a measure has no value in a phase."""
    if measure.source == "motion" and (measure.compares or not measure.uses):
        return said(NOT_FORMED)
    if measure.scaled_to in ("mm", "mm2") and measured.scales.at(measure.plane) is None:
        return said(NO_SCALE)
    contour = [name for name in CONTOUR_IDS if name in measure.must_see]
    if measure.source == "marks" and contour and not _is_known(marks, contour[0]):
        return said(PALE)
    return said(HIDDEN, what=measure.unseen, phase=said(phase.name))


def impossible(measure: Measure, value: float) -> str:
    """Why a value that no body allows is questioned rather than kept; empty for any other."""
    if measure.possible is None or measure.possible[0] <= value <= measure.possible[1]:
        return ""
    told = f"{value:.{measure.decimals}f}{sign_of(measure.unit)}"
    return said(
        "{name}: {told} can't be right. {doubt}", name=measure.name, told=told, doubt=measure.doubt
    )


def _is_known(marks: Marks, landmark: str) -> bool:
    return bool(np.isfinite(marks.xy[:, marks.column(landmark), 0]).any())


def has_equipment(marks: Marks, equipment: str) -> bool:
    """Whether all marks of something held to the mouth are known somewhere in the take."""
    return all(
        mark.id in marks.ids and np.isfinite(marks.xy[:, marks.column(mark.id), 0]).any()
        for mark in ALL_EQUIPMENT[equipment]
    )
