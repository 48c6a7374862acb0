"""The nose's edge of a profile, which says where the head is from the side."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image

#: How far up from the nose's tip and round it it is looked at, how far it may have gone right or
#: left and up or down, pixels of the stabilised picture, and how alike it must be.
HIGH, ROUND, REACH, ALIKE = 70, 14, (26, 10), 0.6
#: Grey levels by which the picture of a nose varies at least.
FLAT = 4.0
STEPS = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 30, 1e-4)


@dataclass(frozen=True)
class NoseEdge:
    """The nose's edge in the stabilised picture of a profile.

    What a side view measures lies on the midline, as the nose does; what the head is followed by,
    cheek and temple, lies up to 60 mm before it: a head that turns by 3 degrees moves the one
    3 mm against the other.

    at  (2,) upper left corner of the template, pixels
    """

    template: Image
    at: NDArray[np.int64]

    @classmethod
    def of(cls, picture: Image, points: dict[str, Floats], matrix: Floats) -> NoseEdge | None:
        """None where the nose lies at the edge of the picture, or nothing shows there."""
        there = np.array([points[k] @ matrix[:, :2].T + matrix[:, 2] for k in ("n", "prn", "sn")])
        top = max(there[0, 1], there[1, 1] - HIGH)
        low = np.array([there[:, 0].min() - ROUND, top]).astype(int)
        high = np.array([there[:, 0].max() + ROUND, there[2, 1] + 3]).astype(int)
        reach = np.array(REACH)
        if (low - reach < 0).any() or (high + reach > picture.shape[::-1]).any():
            return None
        template = picture[low[1] : high[1], low[0] : high[0]].copy()
        return cls(template, low) if template.std() > FLAT else None

    def onto(self, picture: Image) -> Floats:
        """(2, 3) the movement that brings the nose to where it was on the anchor frame; none where
        it is not recognised.

        Turned and shifted by enhanced correlation (G. Evangelidis and E. Psarakis, IEEE PAMI 30,
        2008), from the best shift alone.
        """
        (x, y), (right, down) = self.at, REACH
        height, width = self.template.shape
        part = picture[y - down : y + height + down, x - right : x + width + right]
        like = cv2.matchTemplate(part, self.template, cv2.TM_CCOEFF_NORMED)
        row, column = np.unravel_index(int(like.argmax()), like.shape)
        if like[row, column] < ALIKE or row in (0, 2 * down) or column in (0, 2 * right):
            return np.eye(2, 3)
        moved = np.array([[1, 0, column], [0, 1, row]], np.float32)
        # What does not come to an end, or to a worse one, leaves the shift alone.
        with suppress(cv2.error):
            alike, turned = cv2.findTransformECC(
                self.template, part, moved.copy(), cv2.MOTION_EUCLIDEAN, STEPS, None, 5
            )
            moved = turned if alike > ALIKE else moved
        # From the template to the part, then from the anchor's picture to this one, and back.
        there = np.vstack([moved, [0, 0, 1]]).astype(float)
        to_part, from_part = np.eye(3), np.eye(3)
        to_part[:2, 2], from_part[:2, 2] = -self.at, self.at - np.array(REACH)
        return np.asarray(np.linalg.inv(from_part @ there @ to_part)[:2])
