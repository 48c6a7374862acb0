"""Painted clips for tests, kept between runs: painting is what takes time."""

from __future__ import annotations

import hashlib
import os
import threading
from functools import cache
from pathlib import Path
from typing import Any

from tests import painted
from tests.painted.face import Pose
from tests.painted.take import Script, write

ROOT = Path(__file__).resolve().parents[1]
FOLDER = ROOT / ".cache" / "clips"
SIZE = (960, 540)


def short(held: Pose, **more: Any) -> Script:
    """A take of under five seconds, with no more pictures than reading it needs."""
    given = {"rest": 1.3, "move": 0.5, "hold": 2.0, "after": 0.4, "fps": 18.0}
    return Script(held, **(given | more))


@cache
def _painter() -> str:
    """Changes with the code that paints."""
    total = hashlib.sha256()
    for file in sorted(Path(painted.__file__).parent.glob("*.py")):
        total.update(file.read_bytes())
    return total.hexdigest()


def clip(script: Script, suffix: str = ".mp4", size: tuple[int, int] = SIZE, **how: Any) -> Path:
    """The clip of a script, painted at the first call. ``times`` must be a named function."""
    told = {k: getattr(v, "__qualname__", v) for k, v in sorted(how.items())}
    name = hashlib.sha256(repr((_painter(), script, size, told)).encode()).hexdigest()[:20]
    path = FOLDER / f"{name}{suffix}"
    if not path.exists():
        FOLDER.mkdir(parents=True, exist_ok=True)
        making = path.with_name(f"{os.getpid()}-{threading.get_ident()}-{path.name}")
        write(script, making, size, **how)
        making.replace(path)
    return path


SMILE = short(Pose(rise=9.0, width=1.13))
NEUTRAL = short(Pose())
ROLLED = short(Pose(roll=12.0))
RIM = short(Pose(rim=1.0))
#: The rim is at the mouth from the first frame to the last.
NO_REST = short(Pose(rim=1.0), rest=0.0, move=0.03, hold=2.5, after=0.0)
#: Eyes and the upper half of the nose lie above the picture.
CLOSE_UP = short(Pose(rise=9.0, width=1.13, zoom=2.2, shift=(0.0, -330.0)))
#: A close-up by a phone held on its side, at an angle at which no face is found.
ASKEW = short(Pose(rise=9.0, width=1.13, zoom=2.0, roll=100.0, shift=(260.0, 60.0)))
