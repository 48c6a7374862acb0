"""Reads of the exercise: what is still to be marked, and how sure the hand is."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.contrib.auth.models import User

from sulvet.core.measures.reliability import technical_error
from sulvet.hand.faces import FACES, HEIGHT, LANDMARKS, WIDTH
from sulvet.hand.models import HandMark

ROUNDS = (HandMark.Round.FIRST, HandMark.Round.SECOND)


def _rounds(teacher: User) -> dict[tuple[int, int, str], tuple[float, float]]:
    marks = HandMark.objects.filter(teacher=teacher)
    return {(m.round, m.face, m.landmark): (m.x, m.y) for m in marks}


def _errors(marks: dict[tuple[int, int, str], tuple[float, float]]) -> dict[str, float]:
    """Technical error of measurement by landmark, share of the picture's width.

    Empty until both rounds are whole: a hand half measured says nothing.
    """
    if len(marks) < len(ROUNDS) * FACES * len(LANDMARKS):
        return {}
    first, second = ROUNDS
    out = {}
    for landmark in LANDMARKS:
        rounds = [
            np.array([marks[round_, face, landmark] for face in range(1, FACES + 1)]).ravel()
            for round_ in (first, second)
        ]
        out[landmark] = technical_error(rounds[0], rounds[1])
    return out


def hand_error(teacher: User, landmark: str, width: int) -> float | None:
    """Standard deviation of this teacher's mark, pixels of a picture ``width`` wide.

    A landmark that the exercise does not hold gets the mean over those it holds. None
    before the exercise is done.
    """
    errors = _errors(_rounds(teacher))
    if not errors:
        return None
    share = errors.get(landmark, float(np.sqrt(np.mean(np.square(list(errors.values()))))))
    return max(share * width, LEAST)


#: No hand is surer than this, pixels: a picture is made of them.
LEAST = 0.2


def exercise(teacher: User) -> dict[str, Any]:
    """The exercise as it stands."""
    marks = _rounds(teacher)
    asked = [
        {"round": int(round_), "face": face, "landmark": landmark}
        for round_ in ROUNDS
        for face in range(1, FACES + 1)
        for landmark in LANDMARKS
        if (round_, face, landmark) not in marks
    ]
    return {
        "faces": FACES,
        "width": WIDTH,
        "height": HEIGHT,
        "landmarks": LANDMARKS,
        "total": len(ROUNDS) * FACES * len(LANDMARKS),
        "done": len(marks),
        "next": asked[0] if asked else None,
        "hand_errors": [
            {"landmark": name, "pixels": round(share * WIDTH, 2)}
            for name, share in _errors(marks).items()
        ],
    }
