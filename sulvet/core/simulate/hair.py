"""Hair, ears and clothes: what makes a head pass for a person's."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.mesh import CLOTH, EAR, HAIR, Mesh, grid_mesh, grid_normals
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.skull import Skull, gauss, smooth

#: Thickness of the hair over the skull, mm, and down to where it hangs (y), by style.
STYLES: dict[str, tuple[float, float | None]] = {
    "crop": (4.0, None),
    "short": (10.0, None),
    "curls": (17.0, None),
    "tail": (6.0, None),
    "bob": (12.0, -42.0),
    "long": (10.0, -135.0),
}


#: How far down the forehead the hair comes, y in mm.
FRINGE = {"crop": 95.0, "short": 90.0, "curls": 96.0, "tail": 101.0, "bob": 76.0, "long": 99.0}


def hair_line(x: Floats, y: Floats, z: Floats, person: Person) -> Floats:
    """How far a place lies inside the hair, mm, roughly; negative on the face."""
    jag = np.sin(x / 3.1 + person.seed) + 0.7 * np.sin(x / 1.7 + 2 * person.seed)
    high = (
        FRINGE[person.hair_style] - 0.0035 * x**2 + 1.6 * np.sin(x / 9.0 + person.seed) + 1.1 * jag
    )
    forehead = y - high
    # Beside the face the hair stands behind the temple, then behind the ear.
    edge = -58 - 16 * smooth(y, 60, 30) - 14 * smooth(y, 20, -6)
    temple = (edge - z) * 0.9
    nape = np.minimum(temple, (y + 30) * 1.2)
    return np.asarray(np.where(y > 20, np.maximum(forehead, temple), nape))


def hair(person: Person, skull: Skull) -> list[Mesh]:
    """The hair of a person."""
    thick, hang = STYLES[person.hair_style]
    rows = slice(0, skull.row(14.0))
    xyz = skull.xyz[rows]
    normal = grid_normals(xyz)
    inside = hair_line(xyz[..., 0], xyz[..., 1], xyz[..., 2], person)
    rng = np.random.default_rng(person.seed + 50)
    lift = thick * (0.45 * smooth(inside, 0.0, 9) + 0.55 * smooth(inside, 4, 34)) - 0.8 * smooth(
        inside, 2.0, -1.0
    )
    top = smooth(xyz[..., 1], 60, 120)
    lift = lift * (1 + 0.35 * top)
    if person.hair_style == "curls":
        angle = np.arctan2(xyz[..., 0], xyz[..., 2] + 88)
        bumps = sum(
            np.sin(angle * f + xyz[..., 1] * g + p)
            for f, g, p in zip((17, 23, 31), (0.21, -0.33, 0.47), rng.uniform(0, 6, 3), strict=True)
        )
        lift = lift * (1 + 0.13 * bumps)
    else:
        angle = np.arctan2(xyz[..., 0], xyz[..., 2] + 88)
        locks = np.sin(angle * 26 + 2.5 * np.sin(xyz[..., 1] / 19 + person.seed))
        lift = lift + 0.7 * locks * smooth(inside, 3, 14) * (thick > 5)
    shell = xyz + normal * lift[..., None]
    angle = np.arctan2(xyz[..., 0], xyz[..., 2] + 88) * 75
    places = np.stack([angle, xyz[..., 1]], -1)
    whole = grid_mesh(HAIR, shell, places, tint=person.hair)
    # Where the hair ends the shell dives under the skin; beyond that there is none.
    kept = (inside.ravel()[whole.triangles] > -4).any(axis=1)
    meshes = [replace(whole, triangles=whole.triangles[kept])]
    if hang is not None:
        meshes.append(_curtain(person, hang, thick))
    if person.hair_style == "tail":
        meshes.append(_tail(person))
    return meshes


def _curtain(person: Person, hang: float, thick: float) -> Mesh:
    """Hair that hangs past the ears, open in front."""
    y = np.linspace(62, hang, 44)[:, None]
    front = np.radians(72 + 10 * smooth(y, 40, -20) - 8 * smooth(y, -60, -130))
    t = np.linspace(-1, 1, 121)[None]
    angle = np.pi + t * (np.pi - front)
    wave = 1.6 * np.sin(angle * 22 + y / 17 + person.seed)
    edge = 5.0 * smooth(np.abs(t), 0.93, 1.0)
    close = smooth(y, hang + 26, hang)
    wide = 74 * person.head + thick * 0.8 + wave - edge - 6 * close * (hang > -60)
    deep = 95 + thick * 0.8 + wave - edge
    back = smooth(y, 20, -40) * 14
    x = wide * np.sin(angle)
    z = -90 + back * (np.cos(angle) < 0) + deep * np.cos(angle)
    xyz = np.stack(np.broadcast_arrays(x, y + 0 * x, z), -1)
    places = np.stack([angle * 75 + 0 * y, y + 0 * angle], -1)
    return grid_mesh(HAIR, xyz, places, tint=person.hair)


def _tail(person: Person) -> Mesh:
    """A tail tied at the back of the head."""
    s = np.linspace(0, 1, 40)[:, None]
    angle = np.linspace(0, 2 * np.pi, 33)[None]
    centre_y, centre_z = 62 - 130 * s**1.4, -176 - 46 * np.sin(s * 2.6)
    radius = 4 + 17 * np.sin(np.pi * np.clip(s * 0.92 + 0.05, 0, 1)) ** 0.6
    x = radius * np.cos(angle) * 0.9
    z = centre_z + radius * np.sin(angle)
    y = centre_y + 0 * angle
    places = np.stack([angle * 14 + 0 * s, y], -1)
    return grid_mesh(HAIR, np.stack([x, y, z], -1), places, tint=person.hair)


def ears(person: Person, skull: Skull) -> list[Mesh]:
    """Both ears."""
    row = skull.row(8.0)
    ring = skull.xyz[row, skull.mid :]
    at = ring[np.argmin(np.abs(ring[:, 2] + 84))]
    r = np.linspace(0, 1, 22)[:, None]
    phi = np.linspace(0, 2 * np.pi, 49)[None]
    # The outline: broad above, narrow at the lobe; phi 0 points back, a quarter up.
    up = np.sin(phi)
    tall = np.where(up > 0, 29.0, 27.0)
    broad = np.where(np.cos(phi) > 0, 18.0, 11.0) * (1 + 0.22 * up)
    e_back = r * broad * np.cos(phi)
    e_up = r * tall * up
    helix = gauss(r, 0.88, 0.11) * (0.45 + 0.55 * smooth(np.cos(phi) + 0.8 * up, -1.1, -0.2))
    anti = gauss(r, 0.56, 0.13) * smooth(np.cos(phi), -0.1, 0.5)
    bowl = gauss(np.hypot((e_back + 1) / 8.0, (e_up + 1.5) / 10.0), 0, 0.8)
    tragus = gauss(e_back, -8.5, 2.6) * gauss(e_up, -1, 4.5)
    out = 3.0 * helix + 2.6 * anti - 6.5 * bowl + 4.2 * tragus - 1.5 * gauss(r, 0.72, 0.07)
    lobe = gauss(e_up, -22, 7) * gauss(e_back, 0, 9)
    out = out * (1 - lobe) + 1.0 * lobe
    rim = smooth(r, 0.93, 1.0) * 5.0
    flare = np.radians(24)
    lean = np.radians(9)
    back = e_back * np.cos(lean) + e_up * np.sin(lean) * 0.6
    up_mm = e_up * np.cos(lean) - e_back * 0.12
    meshes = []
    for sign in (-1, 1):
        x = at[0] * 0.985 + np.clip(back + 11, -2, 60) * np.sin(flare) + (out - rim) * np.cos(flare)
        z = at[2] + 6 - back * np.cos(flare) + (out - rim) * np.sin(flare) * 0.5
        y = at[1] + 0 + up_mm
        xyz = np.stack(np.broadcast_arrays(sign * x, y, z), -1)
        places = np.stack(np.broadcast_arrays(e_back, e_up), -1)
        meshes.append(grid_mesh(EAR, xyz, places, flip=sign < 0, tint=person.skin))
    return meshes


def shirt(person: Person) -> list[Mesh]:
    """A round-necked shirt."""
    keys = np.array(
        [
            (-88, 45, 36, 44), (-90, 53.5, 43, 51), (-92.5, 55, 45, 52.5), (-95, 53.5, 44, 51.5),
            (-97, 57, 47, 54), (-102, 74, 54, 58), (-112, 106, 60, 64), (-128, 140, 66, 70),
            (-156, 165, 74, 76), (-211, 172, 84, 82), (-321, 172, 92, 86),
        ],
        dtype=float,
    )  # fmt: skip
    s = np.linspace(0, len(keys) - 1, 90)
    y, wide, ahead, behind = (
        np.interp(s, np.arange(len(keys)), keys[:, k])[:, None] for k in range(4)
    )
    t = np.linspace(0, 2 * np.pi, 181)[None]
    cos = np.cos(t)
    deep = np.where(cos > 0, ahead, behind)
    near = smooth(y, -141, -91)
    fold = 1.3 * np.sin(7 * t + y / 9) * (1 - near)
    x = (wide + fold) * np.sin(t)
    z = -86 + (deep + fold) * cos
    # The neck of the shirt dips in front.
    yy = y - (15 * np.clip(cos, 0, 1) ** 1.5 - 6 * np.clip(-cos, 0, 1)) * near - 4
    xyz = np.stack([x, yy + 0 * x, z], -1)
    places = np.stack([t * 90 + 0 * y, y + 0 * t], -1)
    return [grid_mesh(CLOTH, xyz, places, tint=person.cloth)]
