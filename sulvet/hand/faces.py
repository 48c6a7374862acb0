"""The faces of the exercise: made-up heads, drawn once and shipped."""

from __future__ import annotations

from pathlib import Path

FOLDER = Path(__file__).parent / "faces"
FACES = 10
WIDTH, HEIGHT = 960, 540
#: What is marked on each of them.
LANDMARKS = ("ch_r", "ch_l", "ls", "li")


def picture(face: int) -> Path:
    """The picture of a face, 1 to ``FACES``."""
    return FOLDER / f"face-{face:02d}.jpg"
