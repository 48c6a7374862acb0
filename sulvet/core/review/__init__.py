"""From a clip to marks and phases: footage, rest face, and the steps between them."""

from sulvet.core.review.footage import Footage, Progress, read, working_side
from sulvet.core.review.pipeline import (
    Reviewed,
    anchor_frame,
    out_of_picture,
    points_on,
    retrack_front,
    retrack_side,
    review,
)
from sulvet.core.review.rest_face import NO_FACE, NO_REST_SEEN, TWO_FACES

__all__ = [
    "NO_FACE",
    "NO_REST_SEEN",
    "TWO_FACES",
    "Footage",
    "Progress",
    "Reviewed",
    "anchor_frame",
    "out_of_picture",
    "points_on",
    "read",
    "retrack_front",
    "retrack_side",
    "review",
    "working_side",
]
