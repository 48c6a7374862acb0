"""How well the landmark networks see, on people they were never shown: docs/finder.md's tables."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from sulvet.core.anatomy.landmarks import FRONT_IDS
from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.dataset.samples import Sample, read
from sulvet.core.dataset.shards import draw_person
from sulvet.core.video.clip import Image
from sulvet.core.video.landmark_network import Landmarks, find
from sulvet.core.video.network_finder import NetworkFinder
from sulvet.core.video.network_points import POINTS
from tests.painted import face as painted
from training.augment import composed, degraded
from training.backgrounds import background

ROOT = Path(__file__).resolve().parents[1]
PAGE = ROOT / "docs" / "finder.md"
KEPT = ROOT / ".cache" / "pictures-held-out"
#: Numbers of people that training never draws (it counts from 0).
FIRST, PEOPLE = 5_100_000, 8
PAINTED, EMPTY = 60, 300
GROUPS: dict[str, tuple[str, ...]] = {
    "mouth corners": ("ch_r", "ch_l"),
    "borders of the lips": ("ls", "li", "cph_r", "cph_l"),
    "inner edges of the lips": ("sto_s", "sto_i"),
    "nose": ("al_r", "al_l", "sn", "prn", "n"),
    "eye corners": ("ex_r", "ex_l", "en_r", "en_l"),
    "chin": ("sl", "pg", "me"),
    "cheeks' outline": ("ck_r", "ck_l"),
    "rim": tuple(f"ring_{n}" for n in range(8)),
    "mouthpiece": ("mp_r", "mp_l", "mp_lip", "ax_a", "ax_b"),
    "lip plate": ("hole_r", "hole_l", "hole_near", "hole_far", "pl_r", "pl_l", "ps_in", "ps_out"),
}


@dataclass(frozen=True)
class Seen:
    """One picture's outcome.

    error, sigma  (P,) distance from the truth and what was claimed, shares of the mouth's
                  width; NaN where the point is not there or not seen in truth
    claimed, there  (P,) whether the network says a point is seen, and whether it is
    """

    error: Floats
    sigma: Floats
    claimed: Bools
    there: Bools
    facts: dict[str, str]


def held_out() -> list[Sample]:
    """Pictures of people that training never saw, drawn once."""
    KEPT.mkdir(parents=True, exist_ok=True)
    return [s for n in range(PEOPLE) for s in read(draw_person(FIRST + n, KEPT))]


def shown(sample: Sample, rng: np.random.Generator) -> Image:
    """The picture before a background, as a phone would take it."""
    whole = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
    return degraded(rng, composed(rng, sample, whole, sample.mask.shape[0]))


def nearest(found: list[Landmarks], mouth: Floats, unit: float) -> Landmarks | None:
    """What was found at the true mouth."""
    close = [f for f in found if np.linalg.norm(f.mouth.at - mouth) < 0.6 * unit]
    return min(close, key=lambda f: float(np.linalg.norm(f.mouth.at - mouth)), default=None)


def compared(
    found: Landmarks, xy: Floats, there: Bools, unit: float, facts: dict[str, str]
) -> Seen:
    """Found against true landmarks."""
    error = np.linalg.norm(found.xy - xy, axis=1) / unit
    hidden = ~there
    return Seen(
        np.where(hidden, np.nan, error), np.where(hidden, np.nan, found.sigma / unit),
        found.seen >= 0.5, there, facts,
    )  # fmt: skip


def on_held_out() -> tuple[list[Seen], int]:
    """Outcomes of the held-out pictures, and in how many the mouth was not found."""
    rng = np.random.default_rng(99)
    out, missed = [], 0
    for sample in held_out():
        found = nearest(find(shown(sample, rng)), sample.mouth, sample.unit)
        if found is None:
            missed += 1
            continue
        yaw = abs(sample.turn[0])
        view = "front" if yaw < 25 else "profile" if yaw > 65 else "between"
        wide = 320 / sample.unit * 45
        framing = "close" if wide < 130 else "face" if wide < 240 else "head"
        facts = sample.facts | {"view": view, "framing": framing}
        out.append(compared(found, sample.xy, sample.seen, sample.unit, facts))
    return out, missed


def on_painted() -> tuple[list[Seen], int]:
    """The same on the painted face, which is drawn another way."""
    rng = np.random.default_rng(98)
    out, missed = [], 0
    tones = {"light": (0.86, 0.66, 0.54), "medium": (0.62, 0.43, 0.33), "dark": (0.30, 0.19, 0.14)}
    for n in range(PAINTED):
        tone = list(tones)[n % 3]
        red, green, blue = tones[tone]
        lip = (0.85 * red, 0.62 * green, 0.70 * blue)
        person = painted.Person(skin=tones[tone], lip=lip, seed=n)
        pose = painted.Pose(
            rise=float(rng.uniform(-8, 10)), width=float(rng.uniform(0.85, 1.15)),
            roll=float(rng.uniform(-12, 12)), zoom=float(rng.uniform(0.7, 1.1)),
            rim=float(n % 2),
        )  # fmt: skip
        size = (960, 720)
        picture = painted.frame(pose, size, person)
        points = dict(zip(FRONT_IDS, painted.truth(pose, size, person), strict=True))
        xy = np.array([points.get(name, (np.nan, np.nan)) for name in POINTS])
        there = np.isfinite(xy[:, 0])
        if pose.rim:
            lips = ("ls", "li", "sto_s", "sto_i", "cph_r", "cph_l")
            there &= ~np.isin(np.array(POINTS), lips)
        unit = 102.0 * pose.zoom
        mouth = np.mean([points["ls"], points["li"]], axis=0)
        found = nearest(find(picture), mouth, unit)
        if found is None:
            missed += 1
        else:
            out.append(compared(found, xy, there, unit, {"tone": tone}))
    return out, missed


def on_nothing() -> tuple[int, int]:
    """In how many pictures without a mouth one is found, and in how many it is believed."""
    rng = np.random.default_rng(97)
    pictures = [degraded(rng, background(rng, 320, 240)) for _ in range(EMPTY)]
    return (
        sum(bool(find(picture)) for picture in pictures),
        sum(bool(NetworkFinder().find(picture)) for picture in pictures),
    )


def _row(name: str, errors: Floats, sigmas: Floats) -> str:
    known = np.isfinite(errors)
    if known.sum() < 5:
        return f"| {name} | {int(known.sum())} | | | |"
    # Of a Gaussian in two directions, 95 % lie within 2.45 standard deviations.
    held = float((errors[known] < 2.45 * sigmas[known]).mean())
    return (
        f"| {name} | {int(known.sum())} | {np.median(errors[known]):.1%} | "
        f"{np.percentile(errors[known], 95):.1%} | {held:.0%} |"
    )


def table(seen: list[Seen]) -> str:
    """By group of points."""
    lines = ["| points | seen | median | 95th percentile | within 95 % |", "|---|---|---|---|---|"]
    error, sigma = np.array([s.error for s in seen]), np.array([s.sigma for s in seen])
    for name, ids in GROUPS.items():
        columns = [POINTS.index(one) for one in ids]
        lines.append(_row(name, error[:, columns].ravel(), sigma[:, columns].ravel()))
    lines.append(_row("all", error.ravel(), sigma.ravel()))
    return "\n".join(lines)


def by(seen: list[Seen], fact: str) -> str:
    """By one fact of the picture."""
    head = f"| {fact} | marks | median | 95th percentile | within 95 % |"
    lines = [head, "|---|---|---|---|---|"]
    for value in sorted({s.facts[fact] for s in seen}):
        part = [s for s in seen if s.facts[fact] == value]
        error, sigma = np.array([s.error for s in part]), np.array([s.sigma for s in part])
        lines.append(_row(value, error.ravel(), sigma.ravel()))
    return "\n".join(lines)


def visibility(seen: list[Seen]) -> str:
    """How often a point that is seen is said to be hidden, and the other way round."""
    claimed, there = (np.array([getattr(s, name) for s in seen]) for name in ("claimed", "there"))
    missed = float((~claimed & there).sum() / max(there.sum(), 1))
    wrong = float((claimed & ~there).sum() / max((~there).sum(), 1))
    return (
        f"Of the points that are seen {missed:.1%} are taken for hidden; of those that are hidden "
        f"or not there {wrong:.1%} are taken for seen."
    )


def _nothing() -> tuple[int, int, int]:
    looked, believed = on_nothing()
    return looked, EMPTY, believed


def figures() -> str:
    """All tables."""
    own, own_missed = on_held_out()
    other, other_missed = on_painted()
    parts = [
        f"### People training never saw\n\n{len(own) + own_missed} pictures; in {own_missed} the "
        f"mouth was not found. {visibility(own)}\n\n{table(own)}",
        *(by(own, fact) for fact in ("view", "framing", "tone", "lips", "age")),
        f"### Another way of drawing\n\n{PAINTED} painted faces, half of them behind a rim; in "
        f"{other_missed} the mouth was not found.\n\n{table(other)}\n\n{by(other, 'tone')}",
        "### No mouth\n\nIn {} of {} pictures without one a mouth was looked at, in {} of them "
        "believed.".format(*_nothing()),
    ]
    return "\n\n".join(parts)


def rewrite(page: Callable[[], str] = figures) -> str:
    """Write the figures anew into docs/finder.md; returns a sentence."""
    text = PAGE.read_text("utf-8")
    text = re.sub(
        r"(?<=<!-- figures -->\n).*(?=<!-- end of figures -->)",
        lambda _: f"\n{page()}\n\n",
        text,
        flags=re.DOTALL,
    )
    PAGE.write_text(text, "utf-8")
    return f"wrote {PAGE}"
