"""The camera and the head's place before it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial.transform import Rotation

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.pose import Pose

#: The head turns about the top of the neck, mm in head coordinates.
PIVOT = np.array([0.0, -62.0, -92.0])


@dataclass(frozen=True)
class Camera:
    """A pinhole camera looking at the mouth.

    size       width and height, pixels
    distance   from the lens to the point aimed at, mm
    fov        vertical field of view, degrees
    aim        the point of the resting head it looks at, mm
    azimuth    degrees round the head: 0 front, 90 the subject's left side
    elevation  degrees above the horizontal
    lean       the phone held askew, degrees clockwise as seen
    """

    size: tuple[int, int] = (960, 540)
    distance: float = 420.0
    fov: float = 24.0
    aim: tuple[float, float, float] = (0.0, -12.0, -20.0)
    azimuth: float = 0.0
    elevation: float = 0.0
    lean: float = 0.0

    @property
    def focal(self) -> float:
        """Focal length, pixels."""
        return self.size[1] / 2 / float(np.tan(np.radians(self.fov) / 2))

    @property
    def turn(self) -> Floats:
        """(3, 3) from the room to the camera's right, up and toward."""
        turn = Rotation.from_euler("y", -self.azimuth, degrees=True)
        turn = Rotation.from_euler("x", self.elevation, degrees=True) * turn
        turn = Rotation.from_euler("z", self.lean, degrees=True) * turn
        return np.asarray(turn.as_matrix())

    def see(self, room: Floats) -> Floats:
        """(..., 3) in the camera's frame: right, up, toward the lens from the aim, mm."""
        return np.asarray((room - np.array(self.aim)) @ self.turn.T)

    def project(self, room: Floats) -> Floats:
        """(..., 3): x and y in pixels, centres at integers, and depth in mm."""
        seen = self.see(room)
        depth = self.distance - seen[..., 2]
        x = self.size[0] / 2 - 0.5 + self.focal * seen[..., 0] / depth
        y = self.size[1] / 2 - 0.5 - self.focal * seen[..., 1] / depth
        return np.stack([x, y, depth], -1)

    def scaled(self, factor: float) -> Camera:
        """The same view with more pixels."""
        return Camera(
            (round(self.size[0] * factor), round(self.size[1] * factor)),
            self.distance, self.fov, self.aim, self.azimuth, self.elevation, self.lean,
        )  # fmt: skip


def head_turn(pose: Pose) -> Floats:
    """(3, 3) rotation of the head: turned, then raised, then leant."""
    return np.asarray(
        Rotation.from_euler("ZXY", [-pose.roll, -pose.pitch, pose.yaw], degrees=True).as_matrix()
    )


def into_room(points: Floats, pose: Pose) -> Floats:
    """Points of the head, mm, where the head really is."""
    moved = (points - PIVOT) @ head_turn(pose).T + PIVOT
    return np.asarray(moved + np.array([pose.x, pose.y, pose.z]))
