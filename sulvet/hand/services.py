"""Writes of the exercise."""

from __future__ import annotations

from dataclasses import dataclass

from django.contrib.auth.models import User

from sulvet.accounts.errors import Refused
from sulvet.hand.faces import FACES, HEIGHT, LANDMARKS, WIDTH
from sulvet.hand.models import HandMark


@dataclass(frozen=True)
class Placed:
    """A landmark as marked, pixels of the face's picture."""

    round: int
    face: int
    landmark: str
    x: float
    y: float


def mark(teacher: User, placed: Placed) -> None:
    """Keep one mark; marked again it takes the place of the old one."""
    if placed.landmark not in LANDMARKS or not 1 <= placed.face <= FACES:
        raise Refused("This mark is not part of the exercise. Reload the page.")
    if not (-0.5 <= placed.x <= WIDTH - 0.5 and -0.5 <= placed.y <= HEIGHT - 0.5):
        raise Refused("A mark must be inside the picture.")
    HandMark.objects.update_or_create(
        teacher=teacher,
        round=placed.round,
        face=placed.face,
        landmark=placed.landmark,
        defaults={"x": placed.x / WIDTH, "y": placed.y / WIDTH},
    )


def forget(teacher: User) -> None:
    """Throw the exercise away, to begin it anew."""
    HandMark.objects.filter(teacher=teacher).delete()
