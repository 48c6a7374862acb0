"""What landmarks are called."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class LandmarkRow:
    """What a landmark is called and where it lies."""

    id: str
    label: str
    term: str
    where: str
