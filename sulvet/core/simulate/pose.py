"""What a face does at one moment, in physical units."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace


@dataclass(frozen=True)
class Pose:
    """The moving part of a head. Everything is a change from the person's rest face.

    rise_r, rise_l    corner rise, degrees, seen from the middle of the lips
    width             mouth width over rest
    upper_red, lower_red  visible red over rest; below 1 the lip is rolled in
    aperture_height, aperture_width, aperture_x   opening between the lips and
                      its centre toward the subject's left, mm
    protrude          how far the lips are pushed forward, mm
    press             how far the lips are pressed into one another, mm
    jaw_drop          how far the chin goes down, mm
    cheek_r, cheek_l  puff at its peak, mm
    chin_raise        how far the chin is pushed up, mm; it dimples as it rises
    chin_hollow       the groove under the lip against rest, mm, positive deeper
    fold, flesh       height of a fold just under the lip, and of the soft bulge
                      pushed forward there, mm
    pocket_upper, pocket_lower  air under the skin above and below the lips, mm
    squint            0..1
    yaw, pitch, roll  the whole head, degrees: turned to the subject's left,
                      raised, leant to the subject's left
    x, y, z           the whole head, mm
    """

    rise_r: float = 0.0
    rise_l: float = 0.0
    width: float = 1.0
    upper_red: float = 1.0
    lower_red: float = 1.0
    aperture_height: float = 0.0
    aperture_width: float = 0.0
    aperture_x: float = 0.0
    protrude: float = 0.0
    press: float = 0.0
    jaw_drop: float = 0.0
    cheek_r: float = 0.0
    cheek_l: float = 0.0
    chin_raise: float = 0.0
    chin_hollow: float = 0.0
    fold: float = 0.0
    flesh: float = 0.0
    pocket_upper: float = 0.0
    pocket_lower: float = 0.0
    squint: float = 0.0
    yaw: float = 0.0
    pitch: float = 0.0
    roll: float = 0.0
    x: float = 0.0
    y: float = 0.0
    z: float = 0.0

    def toward(self, other: Pose, share: float) -> Pose:
        """The pose ``share`` (0..1) of the way to another."""
        return Pose(
            **{
                f.name: getattr(self, f.name) * (1 - share) + getattr(other, f.name) * share
                for f in fields(self)
            }
        )

    def plus(self, **changes: float) -> Pose:
        """The same pose with amounts added."""
        return replace(self, **{k: getattr(self, k) + v for k, v in changes.items()})
