"""A frame brought onto a drawing's sheet: upright, at the sheet's scale, cut to a part of it."""

from __future__ import annotations

import cv2
import numpy as np

#: No aligned picture is wider than this, pixels.
WIDEST = 1400


def crop(
    jpeg: bytes,
    move: tuple[float, ...],
    box: tuple[float, float, float, float],
    facing: int,
    width: int,
) -> bytes:
    """Cut a part of the sheet out of a frame.

    jpeg    the frame
    move    (6,) from its pixels to the sheet, as in ``Drawing.moves``
    box     x and y of the lower left and the upper right corner of the part, on the sheet
    facing  -1 mirrors the sheet left to right
    width   of the answer, pixels; its height follows from the box

    Returns a JPEG. What lies outside the frame is paper grey. ValueError if the frame can't
    be read or the box is empty.
    """
    data = np.frombuffer(jpeg, np.uint8)
    picture = cv2.imdecode(data, cv2.IMREAD_COLOR) if len(data) else None
    x0, y0, x1, y1 = box
    if picture is None or x1 - x0 < 1e-6 or y1 - y0 < 1e-6:
        raise ValueError("The frame or the part of it can't be read.")
    width = max(16, min(width, WIDEST))
    scale = width / (x1 - x0)
    height = max(16, min(round((y1 - y0) * scale), 2 * WIDEST))
    left = -x1 if facing < 0 else x0
    m = np.array([[move[0], move[2], move[4]], [move[1], move[3], move[5]]])
    onto = scale * np.vstack([facing * m[0], -m[1]])
    onto[0, 2] -= scale * left
    onto[1, 2] += scale * y1
    # Shrinking needs an average over what falls into one pixel, or fine skin flickers.
    much = float(np.sqrt(abs(np.linalg.det(onto[:, :2]))))
    if much < 0.75:
        picture = cv2.GaussianBlur(picture, (0, 0), 0.45 / much)
    out = cv2.warpAffine(
        picture, onto, (width, height), flags=cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_CONSTANT, borderValue=(205, 212, 216),
    )  # fmt: skip
    ok, packed = cv2.imencode(".jpg", out, [cv2.IMWRITE_JPEG_QUALITY, 88])
    assert ok
    return packed.tobytes()
