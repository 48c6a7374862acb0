"""The rest head without its mouth: rings lofted along a midline profile.

Head coordinates: millimetres, x toward the subject's own left, y up, z forward,
origin at subnasale. A row of the grid is one ring, from the midline in front
round the side to the midline at the back; both sides are one grid, the
subject's right first. Every figure of ``ROWS`` is ours: proportions of a child
of about eleven, after general anthropometry.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np
import scipy
from scipy.ndimage import gaussian_filter1d

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.person import Person

if TYPE_CHECKING:
    # A server, which draws no head, has no time to load it.
    from scipy.interpolate import RectBivariateSpline

#: Key rings: v, front y and z, y at the side, back y and z, half width, z of the
#: widest point, exponent of the front outline (2 is an ellipse).
ROWS = np.array(
    [
        (0.0, 137, -84, 137, 137, -90, 3, -87, 2.0),
        (1.0, 132, -54, 131, 130, -124, 36, -87, 2.0),
        (2.0, 119, -28, 117, 114, -152, 56, -88, 2.1),
        (3.0, 98, -9, 96, 91, -171, 68, -90, 2.2),
        (4.0, 75, -2, 74, 64, -178, 73, -90, 2.3),
        (5.0, 52, -1.6, 52, 38, -179, 72.5, -90, 2.35),
        (6.0, 42, -2.4, 42, 28, -177, 71, -88, 2.3),
        (7.0, 35, -3.0, 35, 18, -173, 69.5, -85, 2.3),
        (8.0, 20, -2.6, 20, 4, -163, 67, -81, 2.2),
        (9.0, 7, -1, 8, -9, -152, 64.5, -78, 2.1),
        (10.0, 0, 0, 1, -15, -147, 62.5, -75, 2.05),
        (11.0, -12.5, 0.5, -8, -22, -142, 59.9, -72.4, 2.0),
        (12.0, -18, -0.2, -11, -25, -139, 59.0, -71.5, 2.0),
        (13.0, -26, -1.7, -16, -29, -136, 57.3, -70.0, 2.0),
        (14.0, -33, -3.4, -20, -33, -133, 55.9, -68.8, 2.0),
        (15.0, -44, -5.6, -26, -39, -131, 53.4, -66.8, 2.0),
        (16.0, -53, -9.5, -31, -44, -129, 50.2, -64.5, 1.95),
        (16.5, -55.8, -15.5, -33, -46, -128, 47.5, -64, 1.95),
        (17.0, -55.6, -23, -35.5, -48, -127, 45.5, -66, 1.95),
        (18.0, -55.0, -37, -40, -52, -126, 42, -74, 1.95),
        (19.0, -62, -48.5, -48, -58, -125, 40.5, -83, 2.0),
        (20.0, -80, -53, -68, -72, -124, 40.5, -87, 2.0),
        (21.0, -100, -52, -94, -92, -124, 42.5, -88, 2.0),
        (22.0, -128, -47, -122, -116, -127, 52, -88, 2.0),
        (23.0, -160, -40, -156, -140, -132, 72, -88, 2.0),
    ]
)
#: The midline with the nose on it: v, y, z, and the half width of the nose there.
NOSE = np.array(
    [
        (5.2, 50.0, -1.8, 7.0),
        (5.6, 46.2, -2.6, 6.0),
        (6.0, 42, -3.6, 5.4),
        (7.0, 34, -0.6, 5.4),
        (8.0, 20, 7.2, 7.0),
        (8.6, 12.6, 13.0, 8.8),
        (9.0, 8.6, 15.9, 9.8),
        (9.3, 5.6, 16.0, 10.4),
        (9.55, 3.4, 13.6, 10.6),
        (9.75, 1.8, 9.0, 10.0),
        (9.9, 0.8, 4.0, 8.5),
        (10.0, 0.0, 0.0, 8.0),
    ]
)
#: Grid lines between the key rings, denser where the face is finer.
DENSITY = (
    (0, 5, 6),
    (5, 8.5, 13),
    (8.5, 10.0, 20),
    (10.0, 16.0, 7),
    (16.0, 19.0, 6),
    (19.0, 23.0, 4),
)
FRONT_COLUMNS, BACK_COLUMNS = 84, 26
#: Resolution of the skin's texture.
TEXEL_MM = 0.2


@dataclass(frozen=True)
class Skull:
    """The rest head as a grid.

    xyz      (R, C, 3) vertices, mm; columns from the right back midline over the
             front midline (column ``mid``) to the left back midline
    rows     (R,) the ring parameter v of each row
    texture  (R, C, 2) place on the skin's own map, mm: along the ring from the
             midline, and down from the crown
    mid      column of the front midline
    skin_z   z of the skin over the front's x, y without lips, mm
    skin_uv  the same for both texture coordinates
    """

    xyz: Floats
    rows: Floats
    texture: Floats
    mid: int
    skin_z: RectBivariateSpline
    skin_uv: tuple[RectBivariateSpline, RectBivariateSpline]

    def row(self, v: float) -> int:
        """The grid row nearest to a ring parameter."""
        return int(np.abs(self.rows - v).argmin())


def gauss(x: Floats, centre: float | Floats, spread: float) -> Floats:
    """exp(-((x - centre) / spread)²)."""
    return np.asarray(np.exp(-(((x - centre) / spread) ** 2)))


def smooth(x: Floats, low: float | Floats, high: float | Floats) -> Floats:
    """0 below ``low``, 1 above ``high``, eased between; either order."""
    t = np.clip((x - low) / (high - low), 0, 1)
    return np.asarray(t * t * (3 - 2 * t))


def face_y(y: Floats | float, person: Person) -> Floats:
    """Heights of the average face for this person: below the nose they scale with ``face``."""
    y = np.asarray(y, dtype=float)
    return np.where(y < 0, np.where(y > -60, y * person.face, y + 60 - 60 * person.face), y)


def _rings(person: Person) -> tuple[Floats, Floats]:
    v = np.concatenate(
        [np.linspace(a, b, int((b - a) * n), endpoint=False) for a, b, n in DENSITY] + [[23.0]]
    )
    keys = ROWS.copy()
    keys[:, 1] = face_y(keys[:, 1], person)
    chin = gauss(keys[:, 0], 15.4, 1.4)
    keys[:, 2] += person.chin * chin
    skull = smooth(keys[:, 0], 8.0, 4.0)
    jaw = smooth(keys[:, 0], 10.5, 16.0) * smooth(keys[:, 0], 21.0, 17.0)
    cheeks = gauss(keys[:, 0], 9.5, 2.6)
    width = 1 + skull * (person.head - 1) + jaw * (person.jaw - 1) + cheeks * (person.cheeks - 1)
    keys[:, 6] *= width
    ring = np.asarray(scipy.interpolate.PchipInterpolator(keys[:, 0], keys[:, 1:], axis=0)(v))
    # The sides are smoother than the profile: a kink from row to row would show as a line.
    even = np.arange(0, 23.01, 0.05)
    rough = scipy.interpolate.PchipInterpolator(keys[:, 0], keys[:, [3, 4, 5, 6, 7]], axis=0)(even)
    soft = gaussian_filter1d(rough, 0.55 / 0.05, axis=0, mode="nearest")
    soft = np.stack([np.interp(v, even, soft[:, k]) for k in range(5)], -1)
    calm = smooth(v, 2.5, 4.5)[:, None] * smooth(v, 22.5, 20.5)[:, None]
    ring[:, 2:7] = ring[:, 2:7] * (1 - calm) + soft * calm
    return v, ring


@lru_cache(maxsize=4)
def skull(person: Person) -> Skull:
    """Build the head of a person."""
    v, ring = _rings(person)
    front = np.linspace(0, 1, FRONT_COLUMNS, endpoint=False) ** 1.12 * (np.pi / 2)
    back = np.linspace(np.pi / 2, np.pi, BACK_COLUMNS)
    angle = np.concatenate([front, back])
    y_f, z_f, y_s, y_b, z_b, w, z_c, n_f = (ring[:, k, None] for k in range(8))
    n = np.where(angle < np.pi / 2, n_f, 2.05)
    sin, cos = np.sin(angle), np.abs(np.cos(angle))
    cos[np.argmin(cos)] = 0
    x = w * np.maximum(sin, 0) ** (2 / n)
    ahead = angle < np.pi / 2
    z = z_c + np.where(ahead, z_f - z_c, z_b - z_c) * cos ** (2 / n)
    lift = np.where(ahead, cos**1.7, cos**1.5)
    y = y_s + np.where(ahead, y_f - y_s, y_b - y_s) * lift
    half = np.stack([np.broadcast_to(x, z.shape), y, z], -1)
    # Arc length is taken before the nose stands out, or the map would shear beside it.
    step = np.linalg.norm(np.diff(half, axis=1), axis=-1)
    along = np.concatenate([np.zeros((len(v), 1)), np.cumsum(step, axis=1)], axis=1)
    half = _features(half, v, person)

    left = half
    right = half[:, :0:-1] * (-1, 1, 1)
    xyz = np.concatenate([right, left], axis=1)
    mid = half.shape[1] - 1
    # The map of the skin: arc length along each ring, and down a column beside the nose.
    guide = half[:, np.argmin(np.abs(half[len(v) // 2, :, 0] - 30))]
    down = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(guide, axis=0), axis=-1))])
    # Under the nose the rows crowd; the map must not fold there.
    down = down + np.arange(len(v)) * 1e-3
    both = np.concatenate([-along[:, :0:-1], along], axis=1)
    texture = np.stack([both, np.broadcast_to(down[:, None], both.shape)], -1)
    return Skull(xyz, v, texture, mid, *_front(xyz, texture, v))


def _features(half: Floats, v: Floats, person: Person) -> Floats:
    """Nose, sockets, cheekbones and chin on the lofted half head."""
    x, y, z = (half[..., k].copy() for k in range(3))
    x0, y0 = x.copy(), y.copy() / np.where(y < 0, person.face, 1.0)
    front = smooth(z, -75, -45) * (v[:, None] > 3.2) * (v[:, None] < 17.6)

    def bump(cx: float, cy: float, sx: float, sy: float) -> Floats:
        return gauss(x0, cx, sx) * gauss(y0, cy, sy) * front

    eye = 30.0 * person.eye_gap
    z -= 9.0 * bump(eye, 33.5, 17, 10.5) + 4.0 * bump(eye - 16, 36, 7, 9)
    z += 2.2 * person.brow * bump(25, 49, 18, 6.5)
    # The ball under the lids.
    z += 5.6 * bump(eye, 33.5, 12.5, 9.5)
    z += 3.2 * bump(41, 10, 17, 13)
    z += 1.6 * person.cheeks * bump(30, -6, 14, 12)
    # The dental arch: the mouth stands before the cheeks.
    arch = gauss(y0, -20, 17) * front
    z -= 4.5 * (1 - gauss(x0, 0, 22)) * arch * gauss(x0, 22, 24)
    # The fold from the nose wing past the corner.
    fold = gauss(x0 - (18.5 + (4 - y0) * 0.55), 0, 4.0) * smooth(y0, 8, 2) * smooth(y0, -24, -12)
    z -= 0.55 * fold * front
    z -= 0.7 * gauss(x0, 0, 2.6) * smooth(y0, -13.5, -10) * smooth(y0, -0.5, -4) * front
    z += 0.35 * gauss(x0, 4.6, 2.0) * smooth(y0, -13.5, -10) * smooth(y0, -0.5, -4) * front
    chin = gauss(x0, 0, 13) * gauss(y0, -46, 9.5) * front
    z += 2.6 * chin
    # The groove between lip and chin.
    z -= 2.6 * gauss(x0, 0, 17) * gauss(y0, -33.5, 5.2) * front
    z -= 1.6 * gauss(x0, 17, 7) * gauss(y0, -44, 9) * front
    z -= person.cleft * gauss(x0, 0, 1.8) * gauss(y0, -46, 5.5) * front

    # The nose: from the base profile out to its own, fading sideways.
    keys = NOSE.copy()
    ridge = gauss(keys[:, 0], 7.3, 1.2) * person.bridge
    base = scipy.interpolate.PchipInterpolator(v, half[:, 0, 1:])(keys[:, 0])
    keys[0, 1:3] = base[0]
    keys[:, 2] = base[:, 1] + (keys[:, 2] - base[:, 1]) * person.nose + ridge
    inside = (v >= keys[0, 0]) & (v <= 10.0)
    profile = scipy.interpolate.PchipInterpolator(keys[:, 0], keys[:, 1:])(v[inside])
    wide = profile[:, 2] * person.nose_width
    across = np.exp(-((x0[inside] / wide[:, None]) ** 2.0))
    out = profile[:, 1] - half[inside, 0, 2]
    up = profile[:, 0] - half[inside, 0, 1]
    z[inside] += across * out[:, None]
    y[inside] += across * up[:, None]
    # Wings: a ball beside the tip, drawn in above the cheek.
    row = v[:, None]
    wing = np.exp(-((np.abs(x0 - 11.0 * person.nose_width) / 4.2) ** 2.2)) * np.exp(
        -((np.abs(row - 9.36) / 0.42) ** 2.2)
    )
    z += 4.6 * wing * person.nose**0.5
    x += 2.2 * wing
    y += 2.4 * wing
    # The bridge between the nostrils hangs lower than the wings.
    y -= 1.5 * gauss(x0, 0, 4.6) * gauss(row, 9.45, 0.25)
    groove = gauss(x0, 16.4 * person.nose_width, 2.0) * gauss(row, 9.35, 0.45)
    z -= 1.3 * groove
    hole = np.exp(-((np.abs(x0 - 6.0 * person.nose_width) / 2.9) ** 2.6)) * gauss(row, 9.66, 0.13)
    y += 4.2 * hole
    z -= 1.2 * hole
    return np.stack([x, y, z], -1)


def _front(
    xyz: Floats, texture: Floats, v: Floats
) -> tuple[RectBivariateSpline, tuple[RectBivariateSpline, RectBivariateSpline]]:
    """Splines over x, y of the lower face: z of the skin and its place on the map."""
    rows = (v > 9.95) & (v < 17.3)
    part = xyz[rows]
    near = part[..., 2] > -62
    points = part[near][:, :2]
    xs, ys = np.arange(-50, 50.5, 1.0), np.arange(-56, 8.5, 1.0)
    gx, gy = np.meshgrid(xs, ys, indexing="ij")
    values = np.column_stack([part[near][:, 2], texture[rows][near]])
    table = scipy.interpolate.LinearNDInterpolator(points, values)(gx, gy)
    # Above subnasale and outside the rings: the nearest row's value.
    for k in range(3):
        column = table[..., k]
        for i in range(len(xs)):
            good = np.isfinite(column[i])
            column[i] = np.interp(ys, ys[good], column[i, good])
    splines = [scipy.interpolate.RectBivariateSpline(xs, ys, table[..., k], s=0) for k in range(3)]
    return splines[0], (splines[1], splines[2])
