"""How rough the skin of the chin looks: dimples of a bunched chin, against the cheeks' skin.

The contrast of structures of one to four millimetres, as the spread of a difference of
Gaussians of the logarithm of brightness: light that gets dimmer drops out, and what focus
and noise do shows on the cheeks as well and is divided off.
"""

from __future__ import annotations

import cv2
import numpy as np

from sulvet.core.anatomy.marks import Floats, Marks
from sulvet.core.video.stabilised_clip import MOUTH, StabilisedClip

#: Fine and coarse scale, stabilised pixels (a mouth of some 45 mm is 120 wide).
FINE, COARSE = 1.6, 6.0
#: Half width and half height of the patch on the chin, and of those on the cheeks.
CHIN, CHEEK = (26, 15), (16, 16)
#: Where the cheeks' patches lie from the mouth's corners, out and up.
CHEEK_AT = (0.10 * MOUTH, 0.42 * MOUTH)


def chin_texture(stabilised: StabilisedClip, marks: Marks) -> Floats:
    """(T,) roughness of the chin's skin over that of the cheeks; NaN where it can't be seen.

    marks  with the chin's front ``pg`` and both corners followed
    """
    count = len(stabilised.pictures)
    out = np.full(count, np.nan)
    if not {"pg", "ch_r", "ch_l"} <= set(marks.ids):
        return out
    columns = [marks.column(name) for name in ("pg", "ch_r", "ch_l")]
    places = np.einsum("tij,tlj->tli", stabilised.to_stabilised[:, :, :2], marks.xy[:, columns])
    places += stabilised.to_stabilised[:, None, :, 2]
    anchor = places[stabilised.anchor]
    if not np.isfinite(anchor).all():
        return out
    (out_by, up_by) = CHEEK_AT
    cheeks = [anchor[1] + (-out_by, -up_by), anchor[2] + (out_by, -up_by)]
    for row in np.flatnonzero(stabilised.head_found & ~marks.hidden[:, columns[0]]):
        if not np.isfinite(places[row, 0]).all():
            continue
        rough = [_rough(stabilised.pictures[row], at, CHEEK) for at in cheeks]
        chin = _rough(stabilised.pictures[row], places[row, 0], CHIN)
        fine = [value for value in rough if value is not None]
        if chin is not None and fine:
            out[row] = chin / max(float(np.mean(fine)), 1e-3)
    return out


def _rough(picture: Floats, at: Floats, half: tuple[int, int]) -> float | None:
    """Spread of the band-passed logarithm of brightness in a patch; None outside the picture."""
    x, y = round(float(at[0])), round(float(at[1]))
    margin = int(2 * COARSE)
    low = (x - half[0] - margin, y - half[1] - margin)
    high = (x + half[0] + margin + 1, y + half[1] + margin + 1)
    if min(low) < 0 or high[0] > picture.shape[1] or high[1] > picture.shape[0]:
        return None
    patch = np.log(picture[low[1] : high[1], low[0] : high[0]].astype(np.float32) + 8.0)
    band = cv2.GaussianBlur(patch, (0, 0), FINE) - cv2.GaussianBlur(patch, (0, 0), COARSE)
    inside = band[margin:-margin, margin:-margin]
    # Robust: a highlight or the shadow's edge is no dimple.
    return float(np.percentile(inside, 90) - np.percentile(inside, 10))
