"""The landmarks Sulvet measures, on face and instrument, and what to call them.

Names follow surface anthropometry (soft-tissue facial landmarks). ``_r`` and
``_l`` are the subject's own right and left, whatever side of the picture they
are on.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Landmark:
    """One point a person can put a finger on.

    ``rigid`` points sit on the skull and are carried with the head; the others
    move with the skin and are followed by themselves. Points of a ``thing`` held
    to the mouth move together.
    """

    id: str
    words: str
    term: str
    where: str
    rigid: bool = False
    optional: bool = False
    thing: str = ""


FRONT: tuple[Landmark, ...] = (
    Landmark("ch_r", "right mouth corner", "cheilion", "where the lips meet, student's own right"),
    Landmark("ch_l", "left mouth corner", "cheilion", "where the lips meet, student's own left"),
    Landmark(
        "ls", "top of the upper lip", "labiale superius", "the dip in the middle, red meets skin"
    ),
    Landmark("li", "bottom of the lower lip", "labiale inferius", "in the middle, red meets skin"),
    Landmark("sn", "under the nose", "subnasale", "in the middle, where nose and upper lip meet"),
    Landmark("al_r", "right nose wing", "alare", "the widest point of the nostril, own right"),
    Landmark("al_l", "left nose wing", "alare", "the widest point of the nostril, own left"),
    Landmark(
        "ex_r",
        "right eye, outer corner",
        "exocanthion",
        "where the lids meet, own right",
        True,
        True,
    ),
    Landmark(
        "ex_l", "left eye, outer corner", "exocanthion", "where the lids meet, own left", True, True
    ),
    Landmark(
        "en_r", "right eye, inner corner", "endocanthion", "beside the nose, own right", True, True
    ),
    Landmark(
        "en_l", "left eye, inner corner", "endocanthion", "beside the nose, own left", True, True
    ),
    Landmark(
        "cph_r", "right lip peak", "crista philtri", "peak of the upper lip, own right", False, True
    ),
    Landmark(
        "cph_l", "left lip peak", "crista philtri", "peak of the upper lip, own left", False, True
    ),
    Landmark("sto_s", "upper lip, inner edge", "stomion superius", "in the middle", False, True),
    Landmark("sto_i", "lower lip, inner edge", "stomion inferius", "in the middle", False, True),
)


def _rim(n: int) -> Landmark:
    where = "anywhere on the outer edge of the rim; spread the five points round it"
    return Landmark(f"rim_{n}", f"rim, point {n} of 5", "rim", where, thing="rim")


#: What is held to the mouth, by name, with the marks that say where it is.
THINGS: dict[str, tuple[Landmark, ...]] = {
    "rim": tuple(_rim(n) for n in range(1, 6)),
    "mouthpiece": (
        Landmark(
            "mp_r", "mouthpiece, right edge", "mouthpiece",
            "where it comes out of the lips, student's own right", thing="mouthpiece",
        ),
        Landmark(
            "mp_l", "mouthpiece, left edge", "mouthpiece",
            "where it comes out of the lips, student's own left", thing="mouthpiece",
        ),
    ),
    "plate": (
        Landmark(
            "hole_r", "hole, right end", "blow hole",
            "the end of the hole toward the student's own right", thing="plate",
        ),
        Landmark(
            "hole_l", "hole, left end", "blow hole",
            "the end of the hole toward the student's own left", thing="plate",
        ),
        Landmark(
            "hole_far", "hole, far edge", "blow hole",
            "the middle of the edge away from the lips", thing="plate",
        ),
        Landmark(
            "pl_r", "lip plate, right end", "lip plate",
            "the tip of the plate, student's own right", thing="plate",
        ),
        Landmark(
            "pl_l", "lip plate, left end", "lip plate",
            "the tip of the plate, student's own left", thing="plate",
        ),
    ),
}  # fmt: skip
#: What the player of each family of instruments holds to the mouth.
HELD_BY: dict[str, str] = {
    "brass": "rim",
    "single-reed": "mouthpiece",
    "double-reed": "mouthpiece",
    "flute": "plate",
}

#: What only a side view shows. ``sn``, ``ls`` and ``li`` are the front's.
SIDE: tuple[Landmark, ...] = (
    Landmark("n", "nose root", "nasion", "the dent between forehead and nose", rigid=True),
    Landmark("prn", "tip of the nose", "pronasale", "the point farthest forward", rigid=True),
    Landmark("sto", "where the lips meet", "stomion", "on the profile, between both lips"),
    Landmark("sl", "dent under the lip", "sublabiale", "the deepest point between lip and chin"),
    Landmark("pg", "front of the chin", "pogonion", "the point of the chin farthest forward"),
)
#: Places along the skin from the lower lip to under the chin: found, never asked for.
CONTOUR: tuple[Landmark, ...] = tuple(
    Landmark(f"cc_{n}", f"chin contour {n}", "chin contour", "on the edge of the skin")
    for n in range(1, 15)
)
CONTOUR_IDS: tuple[str, ...] = tuple(mark.id for mark in CONTOUR)

FRONT_IDS: tuple[str, ...] = tuple(mark.id for mark in FRONT)
THING_IDS: tuple[str, ...] = tuple(mark.id for marks in THINGS.values() for mark in marks)
BY_ID: dict[str, Landmark] = {
    mark.id: mark
    for mark in (*FRONT, *(m for marks in THINGS.values() for m in marks), *SIDE, *CONTOUR)
}
#: All that the marks of a take may hold.
TAKE_IDS: tuple[str, ...] = tuple(BY_ID)


def together(landmark: str) -> tuple[str, ...]:
    """The landmarks that are followed as one with this one, itself among them."""
    thing = BY_ID[landmark].thing
    return tuple(mark.id for mark in THINGS[thing]) if thing else (landmark,)


#: Marks without which a front take can't be measured at all.
REQUIRED: tuple[str, ...] = ("ch_r", "ch_l", "ls", "li", "sn", "al_r", "al_l")

#: The same of a side take, in the order in which they are asked for, from above.
SIDE_REQUIRED: tuple[str, ...] = ("n", "prn", "sn", "ls", "sto", "li", "sl", "pg")

#: And once more while the tone is held: a mouthpiece pulls the lips away from where
#: they can be followed.
SIDE_HELD: tuple[str, ...] = ("sto", "li")

#: Edges of the visible irises: found at rest, for scale only, never followed.
IRIS_IDS: tuple[str, ...] = ("iris_r_out", "iris_r_in", "iris_l_in", "iris_l_out")
