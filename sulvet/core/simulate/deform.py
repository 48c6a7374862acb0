"""How the skin of the face moves: the same field for the head's grid and the mouth's rings."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.skull import face_y, gauss, smooth

#: The jaw's hinge, y and z, mm.
HINGE = (22.0, -80.0)
#: The lower ends of the face on which the weights below are laid out, before ``face``.
LIP_Y, CHIN_Y = -18.0, -44.0


def move_skin(rest: Floats, now: Floats, person: Person, pose: Pose) -> Floats:
    """Carry points of the skin along with the face.

    rest  (..., 3) where the points lie on the rest face, mm: says what they are
    now   (..., 3) where the mouth has already put them

    Returns the points moved by jaw, cheeks, chin and air.
    """
    x, y = rest[..., 0], rest[..., 1] / np.where(rest[..., 1] < 0, person.face, 1.0)
    z = rest[..., 2]
    out = now.copy()
    front = smooth(z, -70, -50)
    # Outward in the horizontal: the round of the face as seen from above.
    turn = np.arctan2(x / 58, np.maximum(z + 70, 1) / 70)
    out_x, out_z = np.sin(turn), np.cos(turn)

    for sign, puff, rise in ((-1, pose.cheek_r, pose.rise_r), (1, pose.cheek_l, pose.rise_l)):
        beside = np.sign(x) == sign
        air = gauss(np.abs(x), 43, 19) * gauss(y, -17, 19) * smooth(z, -68, -52) * beside
        out[..., 0] += puff * air * out_x
        out[..., 2] += puff * air * out_z
        # A corner that rises pushes the cheek up and out before it.
        push = max(0.0, rise) * 0.22 + max(0.0, pose.width - 1) * 8
        ball = gauss(np.abs(x), 37, 14) * gauss(y, 3, 12) * front * beside
        out[..., 1] += 0.8 * push * ball
        out[..., 2] += 0.7 * push * ball
        line = np.abs(x) - (18.5 + (4 - y) * 0.62)
        crease = gauss(line, 0, 3.6) * smooth(y, 7, 0) * smooth(y, -24, -14) * front * beside
        out[..., 2] -= 0.30 * push * crease
        out[..., 1] += 0.5 * pose.squint * gauss(np.abs(x), 32, 14) * gauss(y, 22, 8) * front

    chin_x = gauss(x, 0, 13)
    chin = chin_x * gauss(y, -43, 9.5) * front
    out[..., 1] += pose.chin_raise * chin
    out[..., 2] += 0.55 * pose.chin_raise * chin
    out[..., 2] -= pose.chin_hollow * gauss(x, 0, 14) * gauss(y, -33.5, 6.0) * front
    out[..., 2] += pose.flesh * gauss(x, 0, 12) * gauss(y, -30.5, 4.6) * front
    ridge = gauss(y, -29.3, 1.7) - 0.7 * gauss(y, -32.6, 1.8)
    out[..., 2] += pose.fold * gauss(x, 0, 13) * ridge * front
    out[..., 2] += pose.pocket_upper * gauss(x, 0, 20) * gauss(y, -6.5, 5.0) * front
    out[..., 2] += pose.pocket_lower * gauss(x, 0, 18) * gauss(y, -32.5, 6.5) * front

    if pose.jaw_drop:
        weight = jaw_weight(rest, person)
        low = float(face_y(-53.0, person))
        angle = weight * pose.jaw_drop / np.hypot(HINGE[0] - low, HINGE[1] + 9.5)
        dy, dz = out[..., 1] - HINGE[0], out[..., 2] - HINGE[1]
        cos, sin = np.cos(angle), np.sin(angle)
        out[..., 1] = HINGE[0] + dy * cos - dz * sin
        out[..., 2] = HINGE[1] + dy * sin + dz * cos
    return out


def jaw_weight(rest: Floats, person: Person) -> Floats:
    """0 where the skull holds the skin, 1 where the jaw does; the throat fades out again."""
    x, y = rest[..., 0], rest[..., 1] / np.where(rest[..., 1] < 0, person.face, 1.0)
    z = rest[..., 2]
    down = smooth(y, LIP_Y - 2, CHIN_Y + 4)
    # Toward the ear the jaw begins higher.
    side = smooth(y, 4, -24) * smooth(np.abs(x), 26, 46)
    body = np.maximum(down, side) * smooth(z, -78, -45)
    throat = smooth(y, -84, -60)
    return np.asarray(body * throat)
