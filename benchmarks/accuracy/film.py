"""The takes' clips: drawn once, kept in ``.cache`` until a script or the head's looks change."""

from __future__ import annotations

import hashlib
import sys
from concurrent.futures import ProcessPoolExecutor, as_completed
from multiprocessing import get_context
from pathlib import Path

from sulvet.core.simulate import clip
from sulvet.core.simulate.script import Script

ROOT = Path(__file__).resolve().parents[2]
STORE = ROOT / ".cache" / "accuracy"
LOOKS = ROOT / "sulvet" / "core" / "simulate"
#: What says what a picture shows, not how it looks.
NOT_SEEN = {"truth.py", "clip.py", "sound.py", "__init__.py"}


def _looks() -> bytes:
    files = [p for p in (*LOOKS.glob("*.py"), *LOOKS.glob("data/*")) if p.name not in NOT_SEEN]
    return b"".join(hashlib.sha256(p.read_bytes()).digest() for p in sorted(files))


def path(take: Script) -> Path:
    """Where the clip of a take is kept."""
    told = take.model_dump_json().encode()
    return STORE / f"{hashlib.sha256(told + _looks()).hexdigest()[:20]}.mp4"


def film(take: Script) -> None:
    """Film one take unless it is there."""
    there = path(take)
    if not there.exists():
        there.parent.mkdir(parents=True, exist_ok=True)
        making = there.with_name(f"making-{there.name}")
        clip.write(take, making, workers=1)
        making.replace(there)


def film_all(takes: list[Script], workers: int = 2) -> None:
    """Film all that is missing, one take a core."""
    missing = [take for take in takes if not path(take).exists()]
    with ProcessPoolExecutor(workers, get_context("spawn")) as pool:
        waiting = [pool.submit(film, take) for take in missing]
        for done, future in enumerate(as_completed(waiting), 1):
            future.result()
            print(f"\rfilming takes: {done} of {len(missing)}", end="", file=sys.stderr, flush=True)
    if missing:
        print(file=sys.stderr)
