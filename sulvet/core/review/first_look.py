"""A first look at a clip while its player is still there: can it be read, and what to do if not."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import cv2
import numpy as np

from sulvet.core.anatomy.landmarks import HELD_BY
from sulvet.core.language import said
from sulvet.core.sound.audio import read_sound
from sulvet.core.sound.pitch import track_pitch
from sulvet.core.sound.tones import analyse
from sulvet.core.video.clip import Image, Reader, fit
from sulvet.core.video.finder import Face
from sulvet.core.video.network_finder import FACE_WIDTHS, NetworkFinder

Problem = Literal[
    "too short", "too dark", "turned", "no mouth", "somebody else", "not straight",
    "not from the side", "too far", "blurred", "no sound", "no tone", "too loud",
]  # fmt: skip
#: What to do, to the one who is filmed; the worst first, since one thing is said at a time.
ADVICE: dict[Problem, str] = {
    "too short": "The clip is too short. Film from the relaxed face to the end of the tone.",
    "too dark": "It is too dark to see you. Turn to the window or put the light on.",
    "turned": "The picture stands on its side or upside down. Turn the phone or the camera.",
    "no mouth": "Your mouth was not in the picture while your face was relaxed. Sit so that you "
    "see your nose and chin.",
    "somebody else": "Somebody else is in the picture. Film again alone.",
    "not straight": "Look straight into the camera.",
    "not from the side": "Turn until your nose points to the side.",
    "too far": "Come nearer: your mouth is very small in the picture.",
    "blurred": "The picture is blurred. Hold still, and wipe the lens.",
    "no sound": "There is no sound. Is the microphone switched on?",
    "too loud": "The room is too loud. Ask the others to be quiet, and film again.",
    "no tone": "No tone was heard. Play a tone when the numbers count.",
}
#: Pictures looked at in each stretch, and their longest side, pixels.
LOOKS, SIDE = 4, 960
#: Darker than this on average a picture is dark (of 255); a mouth is small under so many pixels.
DARK, SMALL = 38.0, 55.0
#: From this turn on nobody looks straight, degrees.
TURNED = 30.0
#: A picture is sharp when its edges about the mouth are so strong: the variance of the Laplacian
#: over the variance of the picture there (made-up takes as filmed 0.05 to 0.7, blurred over a
#: twelfth of the mouth under 0.016).
SHARP = 0.02


@dataclass(frozen=True)
class FirstLook:
    """What stands in the way of reading a clip, the worst first; empty where nothing does."""

    problems: tuple[Problem, ...]

    @property
    def advice(self) -> str:
        """What to do about the worst of it; empty where the clip can be read."""
        return said(ADVICE[self.problems[0]]) if self.problems else ""


def first_look(
    path: Path, view: str, family: str, rest: tuple[float, float], playing: tuple[float, float],
    pitches: tuple[float, float],
) -> FirstLook:  # fmt: skip
    """Look at some pictures of the relaxed face and listen for a tone.

    rest, playing  when the player was asked to relax and to play, s
    pitches        between which Hz a tone is looked for

    Raises ``ClipError`` for a clip that can't be used at all.
    """
    found = seen(_pictures(path, rest), view, NetworkFinder(HELD_BY.get(family, "")))
    found |= heard(path, playing, pitches)
    return FirstLook(tuple(problem for problem in ADVICE if problem in found))


def _pictures(path: Path, stretch: tuple[float, float]) -> list[Image]:
    """Some pictures of a stretch, evenly spread; the clip's first ones where it is shorter."""
    wanted = np.linspace(*stretch, LOOKS + 2)[1:-1]
    out: list[Image] = []
    for frame in Reader(path).frames():
        if len(out) < LOOKS and frame.seconds >= wanted[len(out)]:
            out.append(fit(frame.picture("rgb24"), SIDE))
        if len(out) == LOOKS:
            break
    return out


def seen(pictures: Sequence[Image], view: str, finder: NetworkFinder) -> set[Problem]:
    """What is wrong in most of some pictures of a relaxed face."""
    if not pictures:
        return {"too short"}
    if np.mean([picture.mean() for picture in pictures]) < DARK:
        return {"too dark"}
    faces = [finder.find(picture) for picture in pictures]
    there = [(picture, found[0]) for picture, found in zip(pictures, faces, strict=True) if found]
    if 2 * len(there) <= len(pictures):
        return {"turned" if _is_turned(pictures, view, finder) else "no mouth"}
    problems: set[Problem] = set()
    if _most([len(found) > 1 and _beside(found) for found in faces if found]):
        problems.add("somebody else")
    if view == "side" and _most([face.view != "side" for _, face in there]):
        problems.add("not from the side")
    if view == "front" and _most([face.view == "side" or abs(face.yaw) > TURNED
                                  for _, face in there]):  # fmt: skip
        problems.add("not straight")
    if _most([face.width / FACE_WIDTHS < SMALL for _, face in there]):
        problems.add("too far")
    if _most([_sharpness(picture, face) < SHARP for picture, face in there]):
        problems.add("blurred")
    return problems


def _is_turned(pictures: Sequence[Image], view: str, finder: NetworkFinder) -> bool:
    """Whether a mouth is there once the pictures are turned by a quarter or half."""
    for quarters in (1, 2, 3):
        turned = [np.ascontiguousarray(np.rot90(picture, quarters)) for picture in pictures]
        faces = [finder.find(picture) for picture in turned]
        if _most([bool(found) and found[0].view == view for found in faces]):
            return True
    return False


def _most(found: Sequence[bool]) -> bool:
    return bool(found) and 2 * sum(found) > len(found)


def _beside(found: Sequence[Face]) -> bool:
    """Whether two faces lie beside each other, and are not one seen twice."""
    first, second = (np.mean(list(face.points.values()), axis=0) for face in found[:2])
    return float(np.linalg.norm(first - second)) > 0.7 * found[0].width


def _sharpness(picture: Image, face: Face) -> float:
    """How strong the edges about a mouth are over what changes there at all."""
    x, y = np.mean(list(face.points.values()), axis=0)
    half = face.width / FACE_WIDTHS
    rows = slice(max(int(y - half), 0), int(y + half) + 1)
    columns = slice(max(int(x - half), 0), int(x + half) + 1)
    cut = cv2.cvtColor(np.ascontiguousarray(picture[rows, columns]), cv2.COLOR_RGB2GRAY)
    # At one size, so that near and far are measured alike.
    cut = cv2.resize(cut, (96, 96), interpolation=cv2.INTER_AREA).astype(np.float64)
    return float(cv2.Laplacian(cut, cv2.CV_64F).var() / max(cut.var(), 1.0))


def heard(path: Path, playing: tuple[float, float], pitches: tuple[float, float]) -> set[Problem]:
    """What is wrong with the sound of a stretch in which a tone was to be played."""
    recording = read_sound(path)
    if recording is None:
        return {"no sound"}
    told = analyse(track_pitch(recording, *pitches), recording)
    if told.noisy:
        return {"too loud"}
    begin, end = playing
    return (
        set() if any(t.end > begin - 1 and t.start < end + 1 for t in told.tones) else {"no tone"}
    )
