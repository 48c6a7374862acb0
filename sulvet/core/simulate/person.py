"""Invented people: the shape of a head, its colours, and where their figures lie."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

import yaml

RGB = tuple[float, float, float]
COLOURS = ("skin", "lip", "hair", "iris", "cloth")
PEOPLE = Path(__file__).parent / "data" / "people.yaml"


@dataclass(frozen=True)
class Person:
    """One invented head. Lengths in mm, colours as linear RGB 0..1.

    head, cheeks, jaw  width of the skull, the cheeks and the jaw, as factors
    face               length from nose to chin, as a factor
    nose, nose_width   how far the nose stands out, and its width, as factors
    chin               how far the chin stands forward of the average, mm
    mouth              half the width of the mouth at rest, mm
    upper, lower       visible red of each lip at rest, mm
    upper_full, lower_full  how far the red stands forward of the skin, mm
    droop_r, droop_l   how far each corner hangs below the middle at rest, mm
    cleft              depth of the dimple in the chin, mm
    hair_style         short, crop, bob, long, tail or curls
    beard              how thick a beard stands, 0..1; a shadow of stubble from 0.2
    seed               of everything random on the skin
    """

    name: str = "average"
    age: int = 11
    head: float = 1.0
    cheeks: float = 1.0
    jaw: float = 1.0
    face: float = 1.0
    nose: float = 1.0
    nose_width: float = 1.0
    bridge: float = 0.0
    brow: float = 1.0
    chin: float = 0.0
    mouth: float = 22.5
    upper: float = 5.5
    lower: float = 7.5
    upper_full: float = 2.0
    lower_full: float = 2.4
    bow: float = 1.1
    droop_r: float = 0.6
    droop_l: float = 0.6
    eye_gap: float = 1.0
    eye_size: float = 1.0
    cleft: float = 0.0
    braces: bool = False
    skin: RGB = (0.62, 0.38, 0.27)
    lip: RGB = (0.46, 0.18, 0.16)
    hair: RGB = (0.06, 0.035, 0.02)
    iris: RGB = (0.10, 0.06, 0.03)
    cloth: RGB = (0.10, 0.16, 0.26)
    freckles: float = 0.2
    hair_style: str = "short"
    beard: float = 0.0
    seed: int = 1


@cache
def people() -> dict[str, Person]:
    """All invented people by name."""
    rows = yaml.safe_load(PEOPLE.read_text(encoding="utf-8"))["people"]
    found = {}
    for row in rows:
        facts: dict[str, Any] = {k: tuple(v) if k in COLOURS else v for k, v in row.items()}
        found[row["name"]] = Person(**facts)
    return found
