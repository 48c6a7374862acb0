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
    move with the skin and are followed by themselves. Points of a ``equipment`` held
    to the mouth move together.
    """

    id: str
    label: str
    term: str
    where: str
    rigid: bool = False
    optional: bool = False
    equipment: str = ""


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
    Landmark("me", "bottom of the chin", "menton", "the lowest point, in the middle", False, True),
    *(
        Landmark(
            f"iris_{side}_{end}", f"{name} iris, {edge} edge", "iris", "where it ends", True, True
        )
        for side, name in (("r", "right"), ("l", "left"))
        for end, edge in (("out", "outer"), ("in", "inner"))
    ),
)
#: Ends of the opening between the lips and outline of the cheeks: looked for on every
#: frame by their edges, never asked for.
EDGES: tuple[Landmark, ...] = (
    Landmark("ap_r", "right end of the opening", "aperture", "where the lips part, own right"),
    Landmark("ap_l", "left end of the opening", "aperture", "where the lips part, own left"),
    Landmark("ck_r", "right cheek's outline", "cheek", "at mouth height, own right"),
    Landmark("ck_l", "left cheek's outline", "cheek", "at mouth height, own left"),
)


def _rim(n: int) -> Landmark:
    where = "anywhere on the outer edge of the rim; spread the five points round it"
    return Landmark(f"rim_{n}", f"rim, point {n} of 5", "rim", where, equipment="rim")


#: What is held to the mouth, by name, with the marks that say where it is.
EQUIPMENT: dict[str, tuple[Landmark, ...]] = {
    "rim": tuple(_rim(n) for n in range(1, 6)),
    "mouthpiece": (
        Landmark(
            "mp_r", "mouthpiece, right edge", "mouthpiece",
            "where it comes out of the lips, student's own right", equipment="mouthpiece",
        ),
        Landmark(
            "mp_l", "mouthpiece, left edge", "mouthpiece",
            "where it comes out of the lips, student's own left", equipment="mouthpiece",
        ),
    ),
    "plate": (
        Landmark(
            "hole_r", "hole, right end", "blow hole",
            "the end of the hole toward the student's own right", equipment="plate",
        ),
        Landmark(
            "hole_l", "hole, left end", "blow hole",
            "the end of the hole toward the student's own left", equipment="plate",
        ),
        Landmark(
            "hole_far", "hole, far edge", "blow hole",
            "the middle of the edge away from the lips", equipment="plate",
        ),
        Landmark(
            "pl_r", "lip plate, right end", "lip plate",
            "the tip of the plate, student's own right", equipment="plate",
        ),
        Landmark(
            "pl_l", "lip plate, left end", "lip plate",
            "the tip of the plate, student's own left", equipment="plate",
        ),
    ),
}  # fmt: skip
EDGE_IDS: tuple[str, ...] = tuple(mark.id for mark in EDGES)
#: What the picture of the opening between the lips gives.
OPENING_ENDS: tuple[str, ...] = ("ap_r", "ap_l")
OPENING_IDS: tuple[str, ...] = ("sto_s", "sto_i", *OPENING_ENDS)
#: The same in a side view: two or three places each, on one frame of the hold.
SIDE_EQUIPMENT: dict[str, tuple[Landmark, ...]] = {
    "beak": (
        Landmark(
            "mp_lip", "upper lip's end on the mouthpiece", "mouthpiece",
            "where the upper lip ends on top of it", equipment="beak",
        ),
        Landmark(
            "ax_a", "ligature or first wire", "axis",
            "its edge toward the mouth, half way up the mouthpiece", equipment="beak",
        ),
        Landmark(
            "ax_b", "ligature's far edge", "axis",
            "its edge away from the mouth, half way up; of a double reed the end of the thread",
            equipment="beak",
        ),
    ),
    "rim-side": (
        Landmark("rs_top", "rim, upper edge", "rim", "its highest point", equipment="rim-side"),
        Landmark("rs_low", "rim, lower edge", "rim", "its lowest point", equipment="rim-side"),
    ),
    "plate-side": (
        Landmark(
            "ps_in", "lip plate, inner edge", "lip plate", "at the chin", equipment="plate-side"
        ),
        Landmark(
            "ps_out", "lip plate, outer edge", "lip plate", "away from the chin",
            equipment="plate-side",
        ),
    ),
}  # fmt: skip
SIDE_HELD_BY: dict[str, str] = {
    "brass": "rim-side",
    "single-reed": "beak",
    "double-reed": "beak",
    "flute": "plate-side",
}
ALL_EQUIPMENT = EQUIPMENT | SIDE_EQUIPMENT

#: Ends of something whose length the teacher knows, such as a ruler's centimetre.
KNOWN: tuple[Landmark, ...] = (
    Landmark("kl_a", "known length, one end", "scale", "where the length begins", True, True),
    Landmark("kl_b", "known length, other end", "scale", "where it ends", True, True),
)
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
BY_ID: dict[str, Landmark] = {
    mark.id: mark
    for mark in (
        *FRONT,
        *EDGES,
        *(m for marks in ALL_EQUIPMENT.values() for m in marks),
        *SIDE,
        *CONTOUR,
        *KNOWN,
    )
}
#: All that the marks of a take may hold.
TAKE_IDS: tuple[str, ...] = tuple(BY_ID)


def together(landmark: str) -> tuple[str, ...]:
    """The landmarks that are followed as one with this one, itself among them."""
    equipment = BY_ID[landmark].equipment
    return tuple(mark.id for mark in ALL_EQUIPMENT[equipment]) if equipment else (landmark,)


#: Marks without which a front take can't be measured at all.
REQUIRED: tuple[str, ...] = ("ch_r", "ch_l", "ls", "li", "sn", "al_r", "al_l")

#: The same of a side take, in the order in which they are asked for, from above.
SIDE_REQUIRED: tuple[str, ...] = ("n", "prn", "sn", "ls", "sto", "li", "sl", "pg")

#: Of these, what no reading of the view can do without; the others may lie outside the picture.
LEAST: dict[str, tuple[str, ...]] = {
    "front": ("ch_r", "ch_l", "sn"),
    "side": ("prn", "sn", "ls", "li", "pg"),
}

#: Corners of the mouth.
CORNER_IDS = ("ch_r", "ch_l")

#: Of a front take, on a frame of the hold beside the marks of the thing: what a rim or
#: mouthpiece pulls away from where it can be followed, and what a plate comes close to.
FRONT_HELD: dict[str, tuple[str, ...]] = {
    "rim": ("ch_r", "ch_l"),
    "mouthpiece": ("ch_r", "ch_l"),
    "plate": ("ch_r", "ch_l", "li"),
}

#: And once more while the tone is held, by what is held: a mouthpiece pulls the lips away
#: from where they can be followed, a rim hides them.
SIDE_HELD: dict[str, tuple[str, ...]] = {
    "beak": ("ls", "sto", "li"),
    "plate-side": ("sto", "li"),
    "rim-side": (),
}

#: Edges of the visible irises: found at rest, for scale only.
IRIS_IDS: tuple[str, ...] = tuple(f"iris_{side}_{end}" for side in "rl" for end in ("out", "in"))


@dataclass(frozen=True)
class Asked:
    """The marks a teacher is asked for in one take.

    equipment  what the player of this family holds to the mouth, or an empty string
    rest   on a frame at rest, where nothing is found; hold  on one frame of the hold
    pair   those of ``hold`` that are placed at rest as well: a face mesh sees corners in
           its own way, and where the eye judges them in the hold it judges them at rest
    """

    equipment: str
    rest: tuple[str, ...]
    hold: tuple[str, ...]
    pair: tuple[str, ...]


def asked(view: str, family: str) -> Asked:
    """What a view of a player of this family of instruments is marked with."""
    if view == "side":
        equipment = SIDE_HELD_BY.get(family, "")
        own = tuple(mark.id for mark in ALL_EQUIPMENT.get(equipment, ()))
        return Asked(equipment, SIDE_REQUIRED, (*SIDE_HELD.get(equipment, ()), *own), ())
    equipment = HELD_BY.get(family, "")
    own = tuple(mark.id for mark in ALL_EQUIPMENT.get(equipment, ()))
    lips = FRONT_HELD.get(equipment, ())
    return Asked(equipment, REQUIRED, (*own, *lips), lips)


def other_side(name: str) -> str:
    """The landmark that a mirror puts in the place of another; one of the middle is its own."""
    parts = ["l" if p == "r" else "r" if p == "l" else p for p in name.split("_")]
    return "_".join(parts)
