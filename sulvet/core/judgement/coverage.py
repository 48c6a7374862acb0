"""What a take was checked for, and what not: nothing found means little where nobody could look."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict, dataclass
from typing import Any

from sulvet.core.data_files import DataFileError, Strict, read_table
from sulvet.core.judgement.common import DATA
from sulvet.core.judgement.results import CANT_TELL, Reading
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import inside, listed, per_language, said
from sulvet.core.measures.catalogue import catalogue


class Area(Strict):
    """One thing a take is checked for; see ``areas.toml``."""

    area: str
    plural: bool = False
    measures: tuple[str, ...]
    each: bool = False
    missing: str
    from_front: str = ""


class _Areas(Strict):
    version: int
    areas: tuple[Area, ...]


@dataclass(frozen=True)
class Unchecked:
    """An area the standard asks for and nothing could be told of, and what to do about it."""

    area: str
    why: str


@dataclass(frozen=True)
class Coverage:
    """Of what the standard asks of this view: the areas checked, and those not."""

    checked: tuple[str, ...]
    unchecked: tuple[Unchecked, ...]

    def plain(self) -> dict[str, Any]:
        """For keeping."""
        return asdict(self)

    @staticmethod
    def of(kept: dict[str, Any]) -> Coverage:
        """Back from ``plain``."""
        return Coverage(tuple(kept["checked"]), tuple(Unchecked(**u) for u in kept["unchecked"]))

    @property
    def left(self) -> str:
        """What was not checked, in a few words; empty when all was.

        >>> Coverage((), (Unchecked("Rim", ""), Unchecked("Cheeks", ""))).left
        'Rim and cheeks not checked'
        """
        names = [one.area for one in self.unchecked]
        return said("{names} not checked").format(names=_listed(names)) if names else ""

    @property
    def headline(self) -> str:
        """What is said of a take without findings.

        >>> Coverage(("Corners",), (Unchecked("Rim", ""),)).headline
        'Corners as they should be. Rim not checked'
        >>> Coverage(("Corners",), ()).headline
        'Nothing to correct'
        """
        if not self.unchecked:
            return said("Nothing to correct")
        if not self.checked:
            return self.left
        many = len(self.checked) > 1 or _plural(self.checked[0])
        right = said("{names} as they should be") if many else said("{names} as it should be")
        return f"{right.format(names=_listed(list(self.checked)))}. {self.left}"


@per_language
def areas() -> tuple[Area, ...]:
    """All areas in the order of the headline. DataFileError for a measure there is not."""
    path = DATA / "shared" / "areas.toml"
    found = read_table(path, _Areas).areas
    known = {measure.id for measure in catalogue().measures}
    for one in found:
        strange = set(one.measures) - known
        if strange:
            raise DataFileError(f"{path.name}: {one.area}: there is no measure “{min(strange)}”.")
    return found


def coverage(readings: Iterable[Reading], standard: Standard, view: str, school: str) -> Coverage:
    """What of this view was checked in the hold."""
    told = {r.measure: r for r in readings if r.phase == "hold"}
    checked, unchecked = [], []
    for one in areas():
        asked = [m for m in one.measures if standard.band(m, view, school)]
        if not asked:
            continue
        of_them = [told[m] for m in asked if m in told]
        sure = [reading for reading in of_them if reading.verdict != CANT_TELL]
        if len(sure) >= (len(asked) if one.each else 1):
            checked.append(one.area)
            continue
        unsure = [reading for reading in of_them if reading.value is not None]
        if view == "front" and one.from_front and not unsure:
            why = one.from_front
        else:
            why = next((r.reason for r in (*unsure, *of_them) if r.reason), one.missing)
        unchecked.append(Unchecked(one.area, why))
    return Coverage(tuple(checked), tuple(unchecked))


def _plural(area: str) -> bool:
    return any(one.area == said(area) and one.plural for one in areas())


def _listed(names: list[str]) -> str:
    """As a sentence begins: “Corners, rim and stillness”."""
    return listed([said(names[0]), *(inside(said(name)) for name in names[1:])])
