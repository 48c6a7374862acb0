"""What the sandbox read of clips and photos, kept in .cache between tests, processes and runs.

Nothing here is made up: the first time the real child reads the real clip. Its answer and the files
it wrote are kept under a digest of all that made them (the sources it imports with their figures
and networks, the packages, what it was asked, and what it was given to read), so that a change
of any of them reads anew. What fails is never kept.
"""

from __future__ import annotations

import fcntl
import hashlib
import json
import os
import shutil
import tempfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, fields
from pathlib import Path
from typing import Any
from unittest.mock import patch

from sulvet.core import sandbox
from sulvet.core.analysis import analyse
from sulvet.core.video import store
from sulvet.core.video.keyframes import Keyframe
from sulvet.core.video.stabilised_clip import StabilisedClip
from sulvet.takes import analysis
from tests import digests
from tests.stored_results import stored

FOLDER = digests.ROOT / ".cache" / "readings"
ANSWER = "answer.json"
#: What a request names to be read, and what it wants written.
READ, WRITTEN = ("clip", "files", "rest"), ("out", "keep")
_call = sandbox._call

Progress = Callable[[str, float], None]


def call(
    request: dict[str, Any],
    seconds: float,
    progress: Progress = lambda stage, share: None,
) -> dict[str, Any]:
    """Stand in for the sandbox's own call: a stored answer, or the real one, stored."""
    asked = {name: value for name, value in request.items() if name not in WRITTEN}
    for name in READ:
        value = asked.get(name)
        paths = value if name == "files" else [value] if isinstance(value, str) and value else []
        if paths and not all(Path(path).is_file() for path in paths):
            return _call(request, seconds, progress)
        if paths:
            asked[name] = [Path(p).suffix + _digest_of(Path(p)) for p in paths]
    key = hashlib.sha256(
        (digests.of_module(sandbox.__name__) + json.dumps(asked, sort_keys=True)).encode()
    ).hexdigest()[:24]
    entry = FOLDER / key
    FOLDER.mkdir(parents=True, exist_ok=True)
    # Two processes that want the same reading make it once.
    with (FOLDER / f"{key}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not entry.exists():
            return _made(request, seconds, progress, entry)
    record = json.loads((entry / ANSWER).read_text("utf-8"))
    for stage, share in record["progress"]:
        progress(stage, share)
    answer: dict[str, Any] = record["answer"]
    if "out" in request and (entry / "out").exists():
        shutil.copyfile(entry / "out", request["out"])
    for file in (entry / "keep").glob("*"):
        shutil.copyfile(file, Path(request["keep"]) / file.name)
    # A list of files is answered by one of them.
    if answer.get("wrong"):
        answer["wrong"] = request["files"][answer["wrong"] - 1]
    return answer


def _digest_of(file: Path) -> str:
    return hashlib.sha256(file.read_bytes()).hexdigest()


def _made(
    request: dict[str, Any], seconds: float, progress: Progress, entry: Path
) -> dict[str, Any]:
    """The real answer, stored with the files that came with it."""
    folder = Path(request["keep"]) if "keep" in request else None
    before = {p.name: p.stat().st_mtime_ns for p in folder.iterdir()} if folder else {}
    steps: list[tuple[str, float]] = []

    def note(stage: str, share: float) -> None:
        if (stage, share) not in steps:
            steps.append((stage, share))
        progress(stage, share)

    answer = _call(request, seconds, note)
    making = FOLDER / f"{os.getpid()}-{os.urandom(4).hex()}"
    (making / "keep").mkdir(parents=True)
    stored = dict(answer)
    if stored.get("wrong"):
        stored["wrong"] = request["files"].index(stored["wrong"]) + 1
    (making / ANSWER).write_text(json.dumps({"answer": stored, "progress": steps}), "utf-8")
    if "out" in request and Path(request["out"]).exists():
        shutil.copyfile(request["out"], making / "out")
    for file in folder.iterdir() if folder else ():
        if file.is_file() and before.get(file.name) != file.stat().st_mtime_ns:
            shutil.copyfile(file, making / "keep" / file.name)
    making.rename(entry)
    return answer


def install() -> None:
    """Let every call of this process, and of those it forks, go through the store, and what is
    made of a reading as well."""
    sandbox._call = call
    patch.object(analysis, "analyse_material", stored(analyse)).start()


@contextmanager
def real_children() -> Iterator[None]:
    """Every call starts a child, for tests of the child itself."""
    with patch.object(sandbox, "_call", _call):
        yield


@dataclass(frozen=True)
class Reading(sandbox.Outcome):
    """An outcome with the stabilised clip it was followed in, where there is one."""

    stabilised: StabilisedClip | None = None


def review(path: Path, keys: Sequence[Keyframe] = (), family: str = "brass", **how: Any) -> Reading:
    """Read a clip as a worker does."""
    with tempfile.TemporaryDirectory() as name:
        keep = Path(name)
        outcome = sandbox.review(
            path, keep, list(keys), phases=None, mirrored=False, proxy=True, seconds=10.0,
            progress=lambda stage, share: None, family=family, **how,
        )  # fmt: skip
        held = store.load(keep) if (keep / store.MATRICES).exists() else None
    return Reading(**{f.name: getattr(outcome, f.name) for f in fields(outcome)}, stabilised=held)
