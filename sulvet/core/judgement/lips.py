"""Which lips a student has at rest: the limits of a standard move with them."""

from __future__ import annotations

from sulvet.core.data_files import Strict, read_table
from sulvet.core.judgement.common import DATA
from sulvet.core.judgement.schema import LipKind
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import inside, listed, said


class _Figures(Strict):
    version: int
    thin_below: float
    full_above: float


_FIGURES = read_table(DATA / "shared" / "lips.toml", _Figures)
SENTENCES: dict[LipKind, str] = {
    "full": "Full lips at rest: the limits of {measures} are moved accordingly. They would be "
    "others for other lips; no lip is wrong.",
    "thin": "Thin lips at rest: the limits of {measures} are moved accordingly. They would be "
    "others for other lips; no lip is wrong.",
}


def lips_of(share: float | None) -> LipKind:
    """The kind of lips by their height at rest as a share of the mouth's width.

    >>> [lips_of(share) for share in (0.2, 0.3, 0.4, None)]
    ['thin', '', 'full', '']
    """
    if share is None:
        return ""
    if share < _FIGURES.thin_below:
        return "thin"
    return "full" if share > _FIGURES.full_above else ""


def sentence(standard: Standard, view: str, names: dict[str, str]) -> str:
    """What is said where limits have moved; empty where none of this view has.

    names  measure → what it is called
    """
    moved = [b.measure for b in standard.bands if b.view == view and b.moves_with(standard.lips)]
    if not moved:
        return ""
    told = listed(list(dict.fromkeys(inside(names[one]) for one in moved)))
    return said(SENTENCES[standard.lips], measures=told)
