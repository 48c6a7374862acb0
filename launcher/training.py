"""``run.py train``: draw made-up heads, and train the landmark networks on them."""

from __future__ import annotations

import argparse
from pathlib import Path

from launcher.shell import PYTHON, ROOT, run, say

#: With which the committed networks were made.
PEOPLE, PLACE_STEPS, MARK_STEPS = 486, 3000, 17900
#: People drawn from the side with something at the mouth: the first one's number, and how many.
BESIDE, BESIDE_PEOPLE = 2_000_000, 190
#: People of whom corners of the mouth are drawn, large: the same for the third network.
CORNERS, CORNER_PEOPLE, CORNER_STEPS = 3_000_000, 180, 3200
#: And of whom the middle of the lips is: for the fourth.
LIPS, LIPS_PEOPLE, LIPS_STEPS = 4_000_000, 401, 7600


def train(options: argparse.Namespace, python: Path) -> None:
    """Draw what is missing, train the four networks with ``python``, and write their files."""
    cache = ROOT / ".cache"
    pictures, corners = cache / "pictures", cache / "pictures-of-corners"
    lips = cache / "pictures-of-lips"
    say("drawing made-up heads")
    for folder, first, people in (
        (pictures, options.first, options.people), (pictures, BESIDE, BESIDE_PEOPLE),
        (corners, CORNERS, CORNER_PEOPLE), (lips, LIPS, LIPS_PEOPLE),
    ):  # fmt: skip
        these = ("--first", str(first), "--people", str(people))
        run(PYTHON, "-m", "sulvet.core.dataset", folder, *these)
    further = ["--further"] if options.further else []
    for name, folder, steps in (
        ("place", pictures, options.place_steps), ("marks", pictures, options.mark_steps),
        ("corner", corners, CORNER_STEPS), ("lips", lips, LIPS_STEPS),
    ):  # fmt: skip
        say(f"training the network “{name}”")
        length = ("--pictures", str(folder), "--steps", str(steps))
        run(python, "-m", "training", name, *length, *further)
    run(python, "-m", "training", "export")
