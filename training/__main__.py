"""``python -m training``: train one network or export all (see ``run.py train``)."""

from __future__ import annotations

import argparse
from pathlib import Path


def main() -> None:
    """Read the command line and train."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("what", choices=["place", "marks", "corner", "lips", "export"])
    words.add_argument("--pictures", type=Path, default=Path(".cache/pictures"))
    words.add_argument("--work", type=Path, default=Path(".cache/training"))
    words.add_argument("--steps", type=int, default=4000)
    words.add_argument("--rate", type=float, default=2e-3)
    words.add_argument("--workers", type=int, default=1)
    words.add_argument("--further", action="store_true", help="begin with the committed network")
    given = words.parse_args()
    if given.what == "export":
        from training.export import export

        export(given.work)
        return
    from training.fit import train

    train(
        given.what, given.pictures, given.work, given.steps, given.rate, given.workers,
        given.further,
    )  # fmt: skip


if __name__ == "__main__":
    main()
