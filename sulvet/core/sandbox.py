"""Reading clips in a child process with limits.

A clip is a stranger's file. Whatever it does to a decoder, it does it to a
child: the caller gets a sentence, never a crash, and never waits for ever.
The child talks in lines of JSON; arrays come back in one ``.npz`` file.
"""

from __future__ import annotations

import ctypes
import errno
import json
import os
import queue
import resource
import signal
import subprocess
import sys
import threading
from collections.abc import Callable
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import IO, TYPE_CHECKING, Any

import numpy as np

from sulvet.core import clock
from sulvet.core.anatomy.marks import Marks
from sulvet.core.language import gettext_noop
from sulvet.core.phases import Phase
from sulvet.core.video.clip import ClipError, ClipFacts, facts
from sulvet.core.video.keyframes import Keyframe

if TYPE_CHECKING:
    from sulvet.core.video.stills import Stills

RESULT = "marks.npz"
#: Address space of the child, bytes: working pictures are mapped files and count.
MEMORY = 12 * 2**30
#: Time limits, s: to look at a clip, and to review it at least and per second of clip.
LOOK_SECONDS, REVIEW_SECONDS, REVIEW_PER_SECOND = 60.0, 300.0, 30.0

#: Of the library that multiplies matrices.
ONE_THREAD = {"OPENBLAS_NUM_THREADS": "1"}

NO_ROOM = gettext_noop(
    "The disk of the computer Sulvet runs on is full, so this could not be analysed. The "
    "clip is kept. Free some space, or delete takes you no longer need; then press "
    "“Analyse again”."
)
#: Signals by which a decoder ends itself; by any other a child was ended from outside.
OWN_END = (signal.SIGSEGV, signal.SIGABRT, signal.SIGBUS, signal.SIGFPE, signal.SIGILL)
BROKE = gettext_noop(
    "Sulvet could not decode this clip; it is damaged. Upload it again from the phone, or "
    "save it again in the phone's video editor."
)
TOO_SLOW = gettext_noop(
    "Analysing this clip took too long and was stopped. Trim it to the few seconds that "
    "matter, or film at 720p."
)


class ReviewStopped(RuntimeError):
    """The caller asked to stop; nothing is wrong with the clip."""


class ChildEnded(RuntimeError):
    """The child was ended from outside, as by a computer short of memory: try again."""


@dataclass(frozen=True)
class Outcome:
    """What a review in a child gave; see ``review.Reviewed``."""

    size: tuple[int, int]
    marks: Marks
    phases: list[Phase]
    keys: list[Keyframe]
    needs: str
    notes: list[str]
    no_rest: bool = False


def look(clip: Path) -> ClipFacts:
    """``clip.facts`` in a child. Raises ClipError with a sentence."""
    return ClipFacts(**_call({"task": "look", "clip": str(clip)}, LOOK_SECONDS))


def check(files: list[Path]) -> tuple[str, str]:
    """Look at clips, and at pictures (``.jpg``), in one child.

    Returns the first that can't be used and why, as a sentence; two empty words if all can.
    Raises ClipError when one of them ends the child.
    """
    request = {"task": "check", "files": [str(file) for file in files]}
    said = _call(request, LOOK_SECONDS + 3.0 * len(files))
    return said["wrong"], said["why"]


def hear(clip: Path, out: Path) -> bool:
    """The sound of a clip as ``sound.audio.read_sound`` gives it, in a child, written to ``out``
    (``.npz`` with samples and start); False where there is none. Raises ClipError."""
    return bool(_call({"task": "hear", "clip": str(clip), "out": str(out)}, LOOK_SECONDS)["sound"])


def first_look(
    clip: Path, view: str, family: str, rest: tuple[float, float], playing: tuple[float, float],
    pitches: tuple[float, float],
) -> str:  # fmt: skip
    """What to do before this clip can be read, by ``review.first_look`` in a child; empty where it
    can. Raises ClipError."""
    request = {
        "task": "first look", "clip": str(clip), "view": view, "family": family, "rest": rest,
        "playing": playing, "pitches": pitches,
    }  # fmt: skip
    return str(_call(request, LOOK_SECONDS)["advice"])


@dataclass(frozen=True)
class Photo:
    """A photo that was read: pixels, and whether a face was found in it."""

    width: int
    height: int
    shows_face: bool


def photo(source: Path, out: Path) -> Photo:
    """``video.photo.read_photo`` in a child, written to ``out`` as JPEG.

    Raises ClipError with a sentence.
    """
    return Photo(**_call({"task": "photo", "clip": str(source), "out": str(out)}, LOOK_SECONDS))


def stills(rest: Path | None, playing: Path, out: Path) -> Stills:
    """``video.stills.write_stills`` in a child. Raises ClipError with a sentence."""
    from sulvet.core.video.stills import Stills

    request = {"task": "stills", "clip": str(playing), "rest": str(rest or ""), "out": str(out)}
    said = _call(request, LOOK_SECONDS)
    rested = None if said["rest"] is None else (said["rest"][0], said["rest"][1])
    return Stills(said["filmed_on"], rested, (said["hold"][0], said["hold"][1]))


def review(
    clip: Path,
    keep: Path,
    keys: list[Keyframe],
    phases: list[Phase] | None,
    mirrored: bool,
    proxy: bool,
    seconds: float,
    progress: Callable[[str, float], None],
    view: str = "front",
    rest_known: bool = False,
    family: str = "",
) -> Outcome:
    """``review.review`` in a child.

    family    of the instrument that is played: what is at the mouth is that
    seconds   length of the clip, for the time limit
    progress  called at least once a second; raise ReviewStopped in it to end the child

    Raises ClipError with a sentence.
    """
    said = _call(
        {
            "task": "review",
            "clip": str(clip),
            "keep": str(keep),
            "keys": [asdict(key) for key in keys],
            "phases": None if phases is None else [asdict(phase) for phase in phases],
            "mirrored": mirrored,
            "proxy": proxy,
            "view": view,
            "rest_known": rest_known,
            "family": family,
        },
        REVIEW_SECONDS + REVIEW_PER_SECOND * seconds,
        progress,
    )
    with np.load(keep / RESULT) as saved:
        marks = Marks.of(said["ids"], {name: saved[name] for name in saved.files})
    return Outcome(
        size=(said["size"][0], said["size"][1]),
        marks=marks,
        phases=[Phase(**phase) for phase in said["phases"]],
        keys=[Keyframe(**key) for key in said["keys"]],
        needs=said["needs"],
        notes=said["notes"],
        no_rest=said["no_rest"],
    )


def _call(
    request: dict[str, Any],
    seconds: float,
    progress: Callable[[str, float], None] = lambda stage, share: None,
) -> dict[str, Any]:
    # Matrices here are small: threads that share the work on one only wait for each other.
    environment = {**os.environ, "PYTHONPATH": str(Path(__file__).parents[2])} | ONE_THREAD
    child = subprocess.Popen(
        [sys.executable, "-m", "sulvet.core.sandbox"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
        env=environment,
    )
    assert child.stdin is not None and child.stdout is not None
    lines: queue.Queue[str | None] = queue.Queue()
    threading.Thread(target=_drain, args=(child.stdout, lines), daemon=True).start()
    try:
        child.stdin.write(json.dumps(request))
        child.stdin.close()
        end, stage, share = clock.monotonic() + seconds, "starting", 0.0
        while clock.monotonic() < end:
            try:
                line = lines.get(timeout=1.0)
            except queue.Empty:
                progress(stage, share)
                continue
            if line is None:
                raise _ended(child)
            said = json.loads(line)
            if "error" in said:
                raise ClipError(said["error"])
            if "done" in said:
                return dict(said["done"])
            stage, share = said["stage"], said["share"]
            progress(stage, share)
        raise ClipError(TOO_SLOW)
    except BrokenPipeError as error:
        # It ended before it was asked anything.
        raise _ended(child) from error
    finally:
        child.kill()
        child.wait()
        child.stdout.close()


def _ended(child: subprocess.Popen[str]) -> ClipError | ChildEnded:
    """Why a child brought no answer: the clip broke its decoder, or somebody ended it."""
    signalled = -child.wait()
    if signalled > 0 and signalled not in OWN_END:
        return ChildEnded(f"signal {signalled}")
    return ClipError(BROKE)


def _drain(pipe: IO[str], lines: queue.Queue[str | None]) -> None:
    try:
        for line in pipe:
            lines.put(line)
    except ValueError:
        pass  # closed by the caller
    lines.put(None)


def _limits() -> None:
    if sys.platform == "linux":
        # Die with the parent: a killed worker leaves no child behind.
        ctypes.CDLL(None).prctl(1, signal.SIGKILL)
        resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def main() -> None:
    """The child: one request on standard input, lines of JSON on standard output."""
    _limits()
    request = json.load(sys.stdin)
    clip = Path(request.get("clip", ""))

    def say(**words: Any) -> None:
        print(json.dumps(words), flush=True)

    try:
        if request["task"] == "look":
            say(done=asdict(facts(clip)))
            return
        if request["task"] == "check":
            say(done=_check(request["files"]))
            return
        if request["task"] == "hear":
            say(done={"sound": _hear(clip, Path(request["out"]))})
            return
        if request["task"] == "first look":
            say(done={"advice": _first_look(request, clip)})
            return
        if request["task"] == "stills":
            say(done=_stills(request, clip))
            return
        if request["task"] == "photo":
            say(done=_photo(clip, Path(request["out"])))
            return
        say(done=_review(request, clip, lambda stage, share: say(stage=stage, share=share)))
    except ClipError as error:
        say(error=str(error))
    except MemoryError:
        say(error=BROKE)
    except OSError as error:
        if error.errno not in (errno.ENOSPC, errno.EDQUOT):
            raise
        say(error=NO_ROOM)


def _hear(clip: Path, out: Path) -> bool:
    from sulvet.core.sound.audio import read_sound

    heard = read_sound(clip)
    if heard is not None:
        np.savez(out, samples=heard.samples, start=heard.start)
    return heard is not None


def _first_look(request: dict[str, Any], clip: Path) -> str:
    from sulvet.core.review.first_look import first_look

    stretches = (tuple(request[name]) for name in ("rest", "playing", "pitches"))
    return first_look(clip, request["view"], request["family"], *stretches).advice


def _check(files: list[str]) -> dict[str, Any]:
    from sulvet.core.video.photo import check_jpeg

    for name in files:
        path = Path(name)
        try:
            check_jpeg(path) if path.suffix == ".jpg" else facts(path)
        except ClipError as error:
            return {"wrong": name, "why": str(error)}
    return {"wrong": "", "why": ""}


def _stills(request: dict[str, Any], playing: Path) -> dict[str, Any]:
    from sulvet.core.video.stills import write_stills

    rest = Path(request["rest"]) if request["rest"] else None
    return asdict(write_stills(rest, playing, Path(request["out"])))


def _photo(source: Path, out: Path) -> dict[str, Any]:
    from sulvet.core.video.network_finder import NetworkFinder
    from sulvet.core.video.photo import read_photo, write_jpeg

    picture = read_photo(source)
    write_jpeg(picture, out)
    height, width = picture.shape[:2]
    return {"width": width, "height": height, "shows_face": bool(NetworkFinder().find(picture))}


def _review(
    request: dict[str, Any], clip: Path, progress: Callable[[str, float], None]
) -> dict[str, Any]:
    # The finder takes a second to import; looking at a clip does without.
    from sulvet.core.review import review as review_here
    from sulvet.core.video.network_finder import default_finder

    keep = Path(request["keep"])
    phases = request["phases"]
    done = review_here(
        clip,
        default_finder(request["family"]),
        keys=[Keyframe(**key) for key in request["keys"]],
        phases=None if phases is None else [Phase(**phase) for phase in phases],
        progress=progress,
        keep=keep,
        proxy=request["proxy"],
        mirrored=request["mirrored"],
        view=request["view"],
        rest_known=request["rest_known"],
    )
    np.savez(keep / RESULT, allow_pickle=False, **done.marks.arrays())
    return {
        "size": done.footage.size,
        "ids": done.marks.ids,
        "phases": [asdict(phase) for phase in done.phases],
        "keys": [asdict(key) for key in done.keys],
        "needs": done.needs,
        "notes": done.notes,
        "no_rest": done.no_rest,
    }


if __name__ == "__main__":
    main()
