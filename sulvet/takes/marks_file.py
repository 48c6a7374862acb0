"""Marks that come back from another program."""

from __future__ import annotations

from sulvet.accounts.errors import Refused
from sulvet.core.formats import coco
from sulvet.takes import services
from sulvet.takes.models import Take


def take_over(take: Take, document: object) -> services.Standing:
    """Take over the marks of a COCO keypoints file that somebody placed; all or none.

    Of a file of Sulvet's own only what a person placed counts: the rest follows from it. In
    a file made elsewhere every mark does.
    """
    try:
        marks, (width, height) = coco.load(document)
    except coco.MarksFileError as error:
        raise Refused(str(error)) from error
    if (width, height) != (take.width, take.height):
        raise Refused(
            f"The file's pictures have {width} by {height} pixels, this take has {take.width} by "
            f"{take.height}. It belongs to another clip."
        )
    placed = coco.placed(marks)
    if not placed:
        raise Refused("No mark of this file was placed by a person. There is nothing to take over.")
    return services.place_marks(
        take,
        [services.PlacedMark(key.landmark, key.frame, key.x, key.y, key.hidden) for key in placed],
    )
