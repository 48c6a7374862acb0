"""People drawn by lot, far wider than the invented fourteen."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.random import Generator

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.hair import STYLES
from sulvet.core.simulate.person import RGB, Person

#: Linear RGB of the lightest and the darkest skin; between them colours mix in the logarithm.
LIGHTEST, DARKEST = np.array([0.86, 0.63, 0.53]), np.array([0.045, 0.024, 0.016])
#: Skin tone in three groups, by where it lies between the two: up to these shares.
TONES: dict[str, float] = {"light": 0.33, "medium": 0.66, "dark": 1.0}


def tone_of(person: Person) -> str:
    """Light, medium or dark, by the skin's brightness alone."""
    ends = np.log(LIGHTEST.mean()), np.log(DARKEST.mean())
    share = (np.log(np.mean(person.skin)) - ends[0]) / (ends[1] - ends[0])
    return next(name for name, most in TONES.items() if share <= most or name == "dark")


def _rgb(values: Floats) -> RGB:
    red, green, blue = (round(float(v), 4) for v in np.clip(values, 0.002, 0.95))
    return red, green, blue


def random_person(rng: Generator) -> Person:
    """Somebody of nine to grown up: skull, jaw, nose, lips, colours and hair by lot."""

    def near(spread: float) -> float:
        return float(np.clip(rng.normal(1.0, spread), 1 - 2.2 * spread, 1 + 2.2 * spread))

    age = int(rng.choice([9, 10, 11, 12, 13, 14, 16, 18, 25, 40]))
    share = float(rng.uniform())
    skin = np.exp(np.log(LIGHTEST) * (1 - share) + np.log(DARKEST) * share)
    skin = skin * np.exp(rng.normal(0, [0.04, 0.07, 0.10]))
    full = float(rng.uniform())
    upper = 2.6 + 7.0 * full + float(rng.normal(0, 0.5))
    hair = np.exp(rng.uniform(np.log([0.006, 0.004, 0.003]), np.log([0.35, 0.22, 0.11])))
    hair = np.sort(hair if rng.uniform() < 0.5 else hair * 0.06)[::-1] + 0.004
    grown = age >= 16
    return Person(
        name="by lot",
        age=age,
        head=near(0.03),
        cheeks=near(0.05),
        jaw=near(0.05),
        face=(0.90 + 0.02 * min(age - 9, 6)) * near(0.035) + (0.03 if grown else 0.0),
        nose=(0.72 + 0.05 * min(age - 9, 7)) * near(0.09),
        nose_width=near(0.12),
        bridge=float(rng.normal(0.3, 1.0)),
        brow=near(0.2),
        chin=float(rng.normal(0, 1.8)),
        mouth=float(rng.uniform(19.0, 26.5)),
        upper=max(upper, 2.2),
        lower=max(upper + 1.9 + float(rng.normal(0, 0.7)), 3.0),
        upper_full=1.1 + 2.6 * full + float(rng.normal(0, 0.2)),
        lower_full=1.5 + 2.6 * full + float(rng.normal(0, 0.2)),
        bow=float(rng.uniform(0.3, min(1.8, 0.3 * upper))),
        droop_r=float(rng.normal(0.6, 1.0)),
        droop_l=float(rng.normal(0.6, 1.0)),
        eye_gap=near(0.03),
        eye_size=near(0.06),
        cleft=float(rng.uniform(0.5, 1.8)) if rng.uniform() < 0.15 else 0.0,
        braces=bool(rng.uniform() < 0.2),
        skin=_rgb(skin),
        lip=_lip(rng, skin, share),
        hair=_rgb(hair),
        iris=_rgb(np.exp(rng.uniform(np.log([0.03, 0.016, 0.01]), np.log([0.14, 0.17, 0.22])))),
        cloth=_rgb(np.exp(rng.uniform(np.log(0.02), np.log(0.8), 3))),
        freckles=float(rng.uniform(0, 0.9)) * (1 - share),
        hair_style=str(rng.choice(sorted(STYLES))),
        beard=float(rng.uniform(0.15, 1.0)) if grown and rng.uniform() < 0.35 else 0.0,
        seed=int(rng.integers(1, 2**31)),
    )


def _lip(rng: Generator, skin: Floats, dark: float) -> RGB:
    """Lips redder than the skin, or as real ones also are: browner, greyer, lighter."""
    usual = np.array([0.80, 0.58, 0.62]) * (1 - dark) + np.array([1.05, 1.0, 1.3]) * dark
    others: list[Callable[[], Floats]] = [
        lambda: usual * rng.uniform(0.75, 1.15),
        lambda: np.array([0.72, 0.66, 0.72]) * rng.uniform(0.8, 1.1),  # browner
        lambda: np.array([0.62, 0.72, 0.84]) * rng.uniform(0.8, 1.1),  # greyer
        lambda: np.array([1.25, 1.10, 1.15]) * rng.uniform(0.9, 1.3),  # lighter
        lambda: np.array([1.0, 0.90, 0.93]) * rng.uniform(0.9, 1.05),  # hardly another colour
        lambda: np.array([0.9, 0.35, 0.42]) * rng.uniform(0.8, 1.2),  # painted red
    ]
    chosen = others[int(rng.choice(len(others), p=[0.5, 0.12, 0.1, 0.1, 0.13, 0.05]))]()
    return _rgb(skin * chosen * np.exp(rng.normal(0, 0.05, 3)))
