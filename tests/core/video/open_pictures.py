"""Public-domain pictures of faces, square, as the face mesh is shown them."""

from __future__ import annotations

import cv2
import numpy as np
from skimage import data, transform

from sulvet.core.video.clip import Image


def pictures() -> dict[str, Image]:
    """The portrait that comes with scikit-image, turned and placed in several ways, and no face."""
    portrait = data.astronaut()
    leaning = transform.rotate(portrait, 25, center=(220, 120), preserve_range=True)
    twice = np.zeros_like(portrait)
    small = cv2.resize(portrait[:320, 80:400], (256, 256), interpolation=cv2.INTER_AREA)
    twice[:256, :256], twice[200:456, 256:] = small, small[:, ::-1]
    return {
        "as it is": portrait,
        "mirrored": np.ascontiguousarray(portrait[:, ::-1]),
        "leaning": leaning.round().astype(np.uint8),
        "at the edge": np.ascontiguousarray(np.roll(portrait, -150, axis=1)),
        "twice": twice,
        "a cup": cv2.resize(data.coffee(), (400, 400)),
    }
