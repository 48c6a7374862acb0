"""The landmarks Sulvet measures on a front view, and what to call them.

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
    move with the skin and are followed by themselves.
    """

    id: str
    words: str
    term: str
    where: str
    rigid: bool = False
    optional: bool = False


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

FRONT_IDS: tuple[str, ...] = tuple(mark.id for mark in FRONT)
BY_ID: dict[str, Landmark] = {mark.id: mark for mark in FRONT}

#: Marks without which a front take can't be measured at all.
REQUIRED: tuple[str, ...] = ("ch_r", "ch_l", "ls", "li", "sn", "al_r", "al_l")

#: Edges of the visible irises: found at rest, for scale only, never followed.
IRIS_IDS: tuple[str, ...] = ("iris_r_out", "iris_r_in", "iris_l_in", "iris_l_out")
