"""The rasteriser: triangles into a depth buffer, with what is seen at each pixel."""

from __future__ import annotations

import numba
import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]
I32 = NDArray[np.int32]


@numba.njit(cache=True, fastmath=True)
def rasterise(screen: F32, triangles: I32, height: int, width: int) -> tuple[F32, I32, F32]:
    """Draw triangles nearest first by depth.

    screen     (N, 3) x and y in pixels (centres at integers), depth in mm
    triangles  (M, 3) vertex numbers

    Returns depth (H, W) mm, infinity where nothing is; triangle (H, W), -1 there;
    and (H, W, 2) the perspective-true shares of the second and third vertex.
    """
    depth = np.full((height, width), np.inf, np.float32)
    which = np.full((height, width), -1, np.int32)
    share = np.zeros((height, width, 2), np.float32)
    for m in range(triangles.shape[0]):
        a, b, c = triangles[m, 0], triangles[m, 1], triangles[m, 2]
        ax, ay, az = screen[a, 0], screen[a, 1], screen[a, 2]
        bx, by, bz = screen[b, 0], screen[b, 1], screen[b, 2]
        cx, cy, cz = screen[c, 0], screen[c, 1], screen[c, 2]
        if az < 1 or bz < 1 or cz < 1:
            continue
        area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
        if abs(area) < 1e-9:
            continue
        left = max(0, int(np.ceil(min(ax, bx, cx))))
        right = min(width - 1, int(np.floor(max(ax, bx, cx))))
        top = max(0, int(np.ceil(min(ay, by, cy))))
        bottom = min(height - 1, int(np.floor(max(ay, by, cy))))
        if left > right or top > bottom:
            continue
        inv = 1.0 / area
        ia, ib, ic = 1.0 / az, 1.0 / bz, 1.0 / cz
        for py in range(top, bottom + 1):
            for px in range(left, right + 1):
                wb = ((px - ax) * (cy - ay) - (cx - ax) * (py - ay)) * inv
                wc = ((bx - ax) * (py - ay) - (px - ax) * (by - ay)) * inv
                wa = 1.0 - wb - wc
                if wa < -1e-5 or wb < -1e-5 or wc < -1e-5:
                    continue
                iz = wa * ia + wb * ib + wc * ic
                z = 1.0 / iz
                if z < depth[py, px]:
                    depth[py, px] = z
                    which[py, px] = m
                    share[py, px, 0] = wb * ib * z
                    share[py, px, 1] = wc * ic * z
    return depth, which, share


@numba.njit(cache=True, fastmath=True)
def depth_only(screen: F32, triangles: I32, height: int, width: int) -> F32:
    """The depth buffer alone, for parallel light: (H, W), infinity where nothing is."""
    depth = np.full((height, width), np.inf, np.float32)
    for m in range(triangles.shape[0]):
        a, b, c = triangles[m, 0], triangles[m, 1], triangles[m, 2]
        ax, ay, az = screen[a, 0], screen[a, 1], screen[a, 2]
        bx, by, bz = screen[b, 0], screen[b, 1], screen[b, 2]
        cx, cy, cz = screen[c, 0], screen[c, 1], screen[c, 2]
        area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
        if abs(area) < 1e-9:
            continue
        left = max(0, int(np.ceil(min(ax, bx, cx))))
        right = min(width - 1, int(np.floor(max(ax, bx, cx))))
        top = max(0, int(np.ceil(min(ay, by, cy))))
        bottom = min(height - 1, int(np.floor(max(ay, by, cy))))
        inv = 1.0 / area
        for py in range(top, bottom + 1):
            for px in range(left, right + 1):
                wb = ((px - ax) * (cy - ay) - (cx - ax) * (py - ay)) * inv
                wc = ((bx - ax) * (py - ay) - (px - ax) * (by - ay)) * inv
                wa = 1.0 - wb - wc
                if wa < 0 or wb < 0 or wc < 0:
                    continue
                z = wa * az + wb * bz + wc * cz
                if z < depth[py, px]:
                    depth[py, px] = z
    return depth


@numba.njit(cache=True, fastmath=True)
def gather(which: I32, share: F32, triangles: I32, values: F32) -> F32:
    """Vertex values (N, K) carried to the pixels: (H, W, K), zero where nothing is."""
    height, width = which.shape
    count = values.shape[1]
    out = np.zeros((height, width, count), np.float32)
    for y in range(height):
        for x in range(width):
            m = which[y, x]
            if m < 0:
                continue
            a, b, c = triangles[m, 0], triangles[m, 1], triangles[m, 2]
            sb, sc = share[y, x, 0], share[y, x, 1]
            sa = 1.0 - sb - sc
            for k in range(count):
                out[y, x, k] = sa * values[a, k] + sb * values[b, k] + sc * values[c, k]
    return out


@numba.njit(cache=True, fastmath=True)
def lit(
    place: F32,
    seen: NDArray[np.bool_],
    light_depth: F32,
    mm: float,
    taps: F32,
    reach: float,
    bias: float,
) -> F32:
    """Share of a soft light that reaches each pixel: (H, W), 0..1.

    place        (H, W, 3) where the pixel's surface lies in the light's picture: pixels, depth mm
    light_depth  depth buffer seen from the light
    mm           millimetres a pixel of it
    taps         (T, 2) a disc of sample offsets, radius 1
    reach, bias  radius of the disc and depth tolerance, mm
    """
    height, width = seen.shape
    rows, columns = light_depth.shape
    out = np.ones((height, width), np.float32)
    count = taps.shape[0]
    for y in range(height):
        for x in range(width):
            if not seen[y, x]:
                continue
            free = 0
            # Turn the disc from pixel to pixel: grain instead of bands.
            turn = ((x * 73 + y * 151) % 64) * (2 * np.pi / 64)
            cos, sin = np.cos(turn), np.sin(turn)
            for t in range(count):
                dx = (taps[t, 0] * cos - taps[t, 1] * sin) * reach / mm
                dy = (taps[t, 0] * sin + taps[t, 1] * cos) * reach / mm
                cx = int(place[y, x, 0] + dx + 0.5)
                cy = int(place[y, x, 1] + dy + 0.5)
                out_of_it = cx < 0 or cy < 0 or cx >= columns or cy >= rows
                if out_of_it or light_depth[cy, cx] > place[y, x, 2] - bias:
                    free += 1
            out[y, x] = free / count
    return out


@numba.njit(cache=True, fastmath=True)
def open_sky(depth: F32, normal: F32, taps: F32, px_per_mm: float, reach: float) -> F32:
    """Ambient occlusion from the depth buffer: (H, W), 1 where nothing stands around.

    reach  radius looked at, mm; what stands higher than that does not count
    """
    height, width = depth.shape
    out = np.ones((height, width), np.float32)
    count = taps.shape[0]
    for y in range(height):
        for x in range(width):
            here = depth[y, x]
            if not np.isfinite(here):
                continue
            shut = 0.0
            turn = ((x * 97 + y * 57) % 32) * (2 * np.pi / 32)
            cos, sin = np.cos(turn), np.sin(turn)
            for t in range(count):
                ox = (taps[t, 0] * cos - taps[t, 1] * sin) * reach
                oy = (taps[t, 0] * sin + taps[t, 1] * cos) * reach
                px = int(x + ox * px_per_mm + 0.5)
                py = int(y + oy * px_per_mm + 0.5)
                if px < 0 or py < 0 or px >= width or py >= height:
                    continue
                toward = here - depth[py, px]
                if not np.isfinite(toward):
                    continue
                # Height over the pixel's own tangent plane.
                over = ox * normal[y, x, 0] - oy * normal[y, x, 1] + toward * normal[y, x, 2]
                far = np.sqrt(ox * ox + oy * oy + toward * toward) + 1e-6
                if over > 0.05 * far + 0.05:
                    near = max(0.0, 1.0 - far / (2.2 * reach))
                    shut += (over / far) * near
            out[y, x] = max(0.0, 1.0 - 1.9 * shut / count)
    return out


@numba.njit(cache=True, fastmath=True)
def bumped(place: F32, normal: F32, height: F32, mask: NDArray[np.bool_]) -> F32:
    """Normals tilted by a relief (surface gradient of M. Mikkelsen, 2010).

    place, normal  (H, W, 3) surface in the camera's frame, mm
    height         (H, W) relief, mm
    mask           (H, W) pixels that have the relief; the others keep their normal
    """
    rows, columns = height.shape
    out = normal.copy()
    for y in range(1, rows - 1):
        for x in range(1, columns - 1):
            if not (
                mask[y, x]
                and mask[y, x - 1]
                and mask[y, x + 1]
                and mask[y - 1, x]
                and mask[y + 1, x]
            ):
                continue
            ax = (place[y, x + 1, 0] - place[y, x - 1, 0]) * 0.5
            ay = (place[y, x + 1, 1] - place[y, x - 1, 1]) * 0.5
            az = (place[y, x + 1, 2] - place[y, x - 1, 2]) * 0.5
            bx = (place[y + 1, x, 0] - place[y - 1, x, 0]) * 0.5
            by = (place[y + 1, x, 1] - place[y - 1, x, 1]) * 0.5
            bz = (place[y + 1, x, 2] - place[y - 1, x, 2]) * 0.5
            nx, ny, nz = normal[y, x, 0], normal[y, x, 1], normal[y, x, 2]
            # r1 = b x n, r2 = n x a
            r1x, r1y, r1z = by * nz - bz * ny, bz * nx - bx * nz, bx * ny - by * nx
            r2x, r2y, r2z = ny * az - nz * ay, nz * ax - nx * az, nx * ay - ny * ax
            det = ax * r1x + ay * r1y + az * r1z
            size = abs(det)
            # A step between two surfaces is no slope of one.
            if size < 1e-7 or abs(az) > 2.0 or abs(bz) > 2.0:
                continue
            sign = 1.0 if det > 0 else -1.0
            hx = (height[y, x + 1] - height[y, x - 1]) * 0.5 * sign
            hy = (height[y + 1, x] - height[y - 1, x]) * 0.5 * sign
            vx = size * nx - hx * r1x - hy * r2x
            vy = size * ny - hx * r1y - hy * r2y
            vz = size * nz - hx * r1z - hy * r2z
            inv = 1.0 / np.sqrt(vx * vx + vy * vy + vz * vz + 1e-20)
            out[y, x, 0], out[y, x, 1], out[y, x, 2] = vx * inv, vy * inv, vz * inv
    return out


@numba.njit(cache=True, fastmath=True)
def facing(pixels: F32, eye: float) -> tuple[F32, F32]:
    """Unit normals turned toward the eye, and unit directions to it: two (H, W, 3).

    pixels  (H, W, 6+) normal and place in the camera's frame
    eye     distance of the eye on the third axis, mm
    """
    rows, columns = pixels.shape[:2]
    normal = np.zeros((rows, columns, 3), np.float32)
    view = np.zeros((rows, columns, 3), np.float32)
    for y in range(rows):
        for x in range(columns):
            nx, ny, nz = pixels[y, x, 0], pixels[y, x, 1], pixels[y, x, 2]
            vx, vy, vz = -pixels[y, x, 3], -pixels[y, x, 4], eye - pixels[y, x, 5]
            n = 1.0 / np.sqrt(nx * nx + ny * ny + nz * nz + 1e-12)
            v = 1.0 / np.sqrt(vx * vx + vy * vy + vz * vz + 1e-12)
            if nx * vx + ny * vy + nz * vz < 0:
                n = -n
            normal[y, x, 0], normal[y, x, 1], normal[y, x, 2] = nx * n, ny * n, nz * n
            view[y, x, 0], view[y, x, 1], view[y, x, 2] = vx * v, vy * v, vz * v
    return normal, view


@numba.njit(cache=True, fastmath=True)
def skin_shine(
    normal: F32,
    view: F32,
    key: F32,
    shadow: F32,
    sky: F32,
    red: F32,
    wet: F32,
    mask: NDArray[np.bool_],
) -> tuple[F32, F32, F32]:
    """The skin's gloss: oil on skin, two lobes of wet on lips, a tear film on eyes.

    Returns three (H, W): the key light's gloss, the sky's at a grazing angle, and how
    much of the room is mirrored. Blinn lobes, Schlick's Fresnel term.
    """
    rows, columns = shadow.shape
    gloss = np.zeros((rows, columns), np.float32)
    graze = np.zeros((rows, columns), np.float32)
    mirror = np.zeros((rows, columns), np.float32)
    for y in range(rows):
        for x in range(columns):
            if not mask[y, x]:
                continue
            nx, ny, nz = normal[y, x, 0], normal[y, x, 1], normal[y, x, 2]
            vx, vy, vz = view[y, x, 0], view[y, x, 1], view[y, x, 2]
            hx, hy, hz = vx + key[0], vy + key[1], vz + key[2]
            inv = 1.0 / np.sqrt(hx * hx + hy * hy + hz * hz + 1e-12)
            cos_half = max(0.0, (nx * hx + ny * hy + nz * hz) * inv)
            cos_view = max(0.0, nx * vx + ny * vy + nz * vz)
            falls = max(0.0, nx * key[0] + ny * key[1] + nz * key[2]) * shadow[y, x]
            fresnel = 0.028 + 0.972 * (1 - cos_view) ** 5
            r, w = red[y, x], wet[y, x]
            lobes = 0.0
            if w < 1.0:
                oil = 0.55 * 17 * cos_half**9 + 0.45 * 42 * cos_half**34
                moist = 0.0
                if r > 0:
                    moist = 0.5 * 36 * cos_half**28 + 0.5 * 158 * cos_half**150
                lobes = (oil * (1 - r) * 0.9 + moist * r * 0.75) * (1 - w)
            if w > 0:
                lobes += w * 608 * cos_half**600
            gloss[y, x] = lobes * falls * 0.072 * (1 + 0.25 * r) / (8 * np.pi)
            graze[y, x] = fresnel * 0.045 * sky[y, x] * (1 - 0.5 * r)
            mirror[y, x] = fresnel * (0.44 * r + 0.64 * w) * sky[y, x]
    return gloss, graze, mirror


@numba.njit(cache=True, fastmath=True)
def irradiance(
    normal: F32, shadow: F32, sky: F32, key: F32, fill: F32, colours: F32, wrap: float
) -> F32:
    """Light that falls on each pixel: (H, W, 3).

    colours  (4, 3) of key, fill, sky and floor
    wrap     how far the key's light reaches round the edge
    """
    rows, columns = shadow.shape
    out = np.empty((rows, columns, 3), np.float32)
    for y in range(rows):
        for x in range(columns):
            nx, ny, nz = normal[y, x, 0], normal[y, x, 1], normal[y, x, 2]
            k = (
                max(0.0, (nx * key[0] + ny * key[1] + nz * key[2] + wrap) / (1 + wrap))
                * shadow[y, x]
            )
            f = max(0.0, (nx * fill[0] + ny * fill[1] + nz * fill[2] + 0.2) / 1.2) * sky[y, x]
            up = (ny * 0.5 + 0.5) * sky[y, x]
            down = (0.5 - ny * 0.5) * sky[y, x]
            for c in range(3):
                out[y, x, c] = (
                    k * colours[0, c]
                    + f * colours[1, c]
                    + up * colours[2, c]
                    + down * colours[3, c]
                )
    return out


@numba.njit(cache=True, fastmath=True)
def skin_colour(
    colour: F32, ring: F32, lines: F32, face: NDArray[np.bool_], lip: F32, wet: F32
) -> tuple[F32, F32]:
    """Albedo of skin and lips, and how much of it is lip: (H, W, 3) and (H, W).

    colour  (H, W, 3) the skin's own map
    ring    (H, W) ring coordinate: 0 where the red begins, 1 where the lips meet
    lines   (H, W) brightness of the lip lines
    lip     colour of the red; wet that of the inside
    """
    rows, columns = ring.shape
    out = colour.copy()
    red = np.zeros((rows, columns), np.float32)
    for y in range(rows):
        for x in range(columns):
            if not face[y, x]:
                continue
            r, line = ring[y, x], lines[y, x]
            # The red's edge is never a clean cut.
            t = min(1.0, max(0.0, (r + 0.12 * (line - 1) + 0.09) / 0.18))
            t = t * t * (3 - 2 * t)
            if t == 0:
                continue
            red[y, x] = t
            inner = min(1.0, max(0.0, r))
            shade = line * (0.88 + 0.22 * inner)
            moist = min(1.0, max(0.0, (r - 0.9) / 0.5))
            deep = 1 - 0.9 * min(1.0, max(0.0, (r - 1.15)))
            for c in range(3):
                own = (lip[c] * shade * (1 - moist) + wet[c] * moist) * deep
                out[y, x, c] = out[y, x, c] * (1 - t) + own * t
    return out, red
