"""``python -m sulvet.core.dataset``: draw pictures for training into a folder."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path

from sulvet.core.dataset.shards import write


def main() -> None:
    """Read the command line and draw."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("folder", type=Path)
    words.add_argument("--first", type=int, default=0, help="number of the first person")
    words.add_argument("--people", type=int, default=400)
    words.add_argument("--workers", type=int, default=os.cpu_count() or 1)
    given = words.parse_args()
    for done, _ in enumerate(write(given.folder, given.first, given.people, given.workers), 1):
        sys.stdout.write(f"{done} of {given.people} people\n")
        sys.stdout.flush()


if __name__ == "__main__":
    main()
