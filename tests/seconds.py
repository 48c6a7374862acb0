"""How long tests took, kept between runs."""

from __future__ import annotations

from collections import defaultdict
from pathlib import Path

SLOWEST = 30
#: How long each test took the last time, s.
SECONDS = Path(__file__).resolve().parents[1] / ".cache" / "test-seconds.json"
#: What the tests are counted under.
PARTS = ("core", "browser")


def seconds_by_part(seconds: dict[str, float]) -> dict[str, float]:
    """How long the tests of core, browser and apps took, s."""
    parts: defaultdict[str, float] = defaultdict(float)
    for name, took in seconds.items():
        part = name.split(".")[1]
        parts[part if part in PARTS else "apps"] += took
    return dict(sorted(parts.items()))
