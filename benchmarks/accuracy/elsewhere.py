"""Takes that the made-up head had no part in: the painted face, and a real portrait bent."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

from benchmarks.accuracy.reading import Read, judged
from benchmarks.accuracy.takes import Case
from sulvet.core.review.pipeline import review
from sulvet.core.video.network_finder import default_finder
from tests import portrait
from tests.painted.face import POINTS, RIM_RADIUS, Person, Pose
from tests.painted.take import Script, write
from tests.portrait import Bend

SIZE = (960, 540)
TONES: dict[str, tuple[float, float, float]] = {
    "light": (0.86, 0.66, 0.54), "medium": (0.52, 0.35, 0.26), "dark": (0.30, 0.19, 0.14),
}  # fmt: skip
#: Width of the painted mouth at rest, and the height of the line where its lips meet, pixels of
#: the sheet; its close-ups show no eyes.
WIDE, LINE = 2 * POINTS["ch_l"][0], (POINTS["sto_s"][1] + POINTS["sto_i"][1]) / 2
CLOSE = Pose(zoom=2.2, shift=(0.0, -330.0))
REST, SLIGHT, STRONG = Pose(), Pose(rise=7.0, width=1.10), Pose(rise=11.0, width=1.16)
Truth = dict[tuple[str, str], float]


@dataclass(frozen=True)
class Elsewhere:
    """One take: its fault ("" for none), by what it was made, and how it is written and read."""

    source: str
    fault: str
    facts: dict[str, str]
    make: Callable[[Path], Truth]


def _rim(share: float, aside: float = 0.0, pose: Pose = REST) -> Pose:
    """A pose behind a rim with this share above the line of the lips, aside in mouth widths."""
    middle = LINE + RIM_RADIUS - 2 * RIM_RADIUS * share
    return replace(pose, rim=1.0, rim_rise=middle - 133.0 + RIM_RADIUS, rim_right=aside * WIDE)


def _painted(tone: str, fault: str, seed: int, pose: Pose, wobble: float = 0.0) -> Elsewhere:
    red, green, blue = TONES[tone]
    lip = (0.85 * red, 0.62 * green, 0.70 * blue)
    script = Script(
        pose, Person(skin=TONES[tone], lip=lip, seed=seed), rest=1.3, move=0.5, hold=2.2,
        after=0.4, wobble=wobble, seed=seed, fps=20.0,
    )  # fmt: skip

    def make(path: Path) -> Truth:
        write(script, path, SIZE)
        truth: Truth = {
            ("hold", "corner_rise"): pose.rise, ("hold", "mouth_width"): pose.width,
            ("hold", "stillness"): 100 * wobble,
        }  # fmt: skip
        if pose.rim:
            middle = 133.0 - RIM_RADIUS + pose.rim_rise
            share = (LINE - middle + RIM_RADIUS) / (2 * RIM_RADIUS)
            truth |= {
                ("hold", "rim_upper_share"): share,
                # Seen from the front, the student's left lies on the right.
                ("hold", "rim_offset"): pose.rim_right / WIDE,
            }
        return truth

    return Elsewhere("painted", fault, {"tone": tone}, make)


def _portrait(fault: str, bend: Bend) -> Elsewhere:
    def make(path: Path) -> Truth:
        portrait.write(path, bend)
        rest, held = portrait.bent(bend, 0), portrait.bent(bend, 1)
        truth: Truth = {
            ("hold", "corner_rise"): portrait.rise(held) - portrait.rise(rest),
            ("hold", "mouth_width"): portrait.width(held) / portrait.width(rest),
            ("hold", "stillness"): 0.0,
        }  # fmt: skip
        if bend.rim is not None:
            truth |= {("hold", "rim_upper_share"): bend.rim, ("hold", "rim_offset"): bend.aside}
        return truth

    return Elsewhere("portrait", fault, {"tone": "portrait"}, make)


def _takes() -> list[Elsewhere]:
    out = []
    for n, tone in enumerate(TONES):
        poses = [
            ("", REST, 0.0),
            ("", _rim(0.68), 0.0),
            ("", replace(_rim(0.66), gold=True), 0.0),
            ("smile", SLIGHT, 0.0),
            ("smile", _rim(0.68, pose=SLIGHT), 0.0),
            ("smile", _rim(0.66, pose=STRONG), 0.0),
            ("pucker", _rim(0.68, pose=Pose(width=0.72)), 0.0),
            ("rim-low", _rim(0.45), 0.0),
            ("rim-high", _rim(0.88), 0.0),
            ("rim-off-centre", _rim(0.68, 0.12), 0.0),
            ("loose-corners", _rim(0.68), 0.045),
            ("", CLOSE, 0.0),
            ("smile", replace(CLOSE, rise=SLIGHT.rise, width=SLIGHT.width), 0.0),
        ]
        out += [_painted(tone, *(f, 20 * n + k, p, w)) for k, (f, p, w) in enumerate(poses)]
    for seen in (Bend(), Bend(turn=3.0, coarse=31, blur=0.8), Bend(turn=6.0, coarse=31, blur=0.8)):
        smiling = replace(seen, up=12.0, out=7.5)
        out += [
            _portrait("", seen),
            _portrait("", replace(seen, rim=0.68)),
            _portrait("smile", smiling),
            _portrait("smile", replace(smiling, rim=0.68)),
            _portrait("rim-low", replace(seen, rim=0.42)),
            _portrait("rim-off-centre", replace(seen, rim=0.68, aside=-0.12)),
            _portrait("", replace(seen, close=True)),
            _portrait("smile", replace(smiling, close=True)),
        ]
    return out


TAKES = _takes()


def read(number: int) -> Read:
    """One take written and read by Sulvet alone, as a horn player's."""
    take = TAKES[number]
    case = Case("horn", "front", take.fault)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "take.mp4"
        truth = take.make(path)
        done = review(path, default_finder("brass"))
    lost = 0.0 if done.stabilised is None else float((~done.stabilised.head_found).mean())
    facts = take.facts | {"source": take.source, "lost": f"{lost:.3f}"}
    return Read(case, judged(case, done), 0, done.needs, truth, facts)
