"""A class list from a table: every line is looked at, and all its faults are told at once."""

from __future__ import annotations

import datetime
from dataclasses import dataclass, field

from sulvet.core.formats import tables
from sulvet.core.judgement.standards import shipped_standards

#: The words a column may be headed by.
COLUMNS: dict[str, tuple[str, ...]] = {
    "name": ("name", "student"),
    "instrument": ("instrument",),
    "school": ("school", "school of playing"),
    "consent_on": ("consent", "consent on", "consent since"),
    "consent_until": ("consent until", "until"),
    "retain_until": ("keep until", "retention"),
}
DATES = ("consent_on", "consent_until", "retain_until")
MOST, LONGEST = 300, 80
Cell = str | datetime.date | None


@dataclass(frozen=True)
class Line:
    """One line of the list; ``errors`` is empty when it can be taken in."""

    number: int
    facts: dict[str, Cell]
    errors: tuple[str, ...] = field(default=())


def load(data: bytes, known: set[str] | None = None) -> list[Line]:
    """All lines of a list, each with what is wrong with it.

    known  names that sit in the band already, in lower case

    The first line names the columns: name and instrument, and if wanted school, consent,
    consent until, keep until. Dates as 2026-11-26. ValueError with a sentence when the table
    as a whole can't be used.
    """
    rows = [row for row in enumerate(tables.load(data), 1) if any(cell.strip() for cell in row[1])]
    if not rows:
        raise ValueError("The list is empty. Its first row names the columns: name, instrument.")
    heads = [_column(cell) for cell in rows[0][1]]
    for needed in ("name", "instrument"):
        if heads.count(needed) != 1:
            raise ValueError(
                f"The first line must have one column “{needed}”. It may have school, consent, "
                "consent until and keep until as well."
            )
    if len(rows) == 1:
        raise ValueError("The list has no rows below the column names.")
    if len(rows) - 1 > MOST:
        raise ValueError(f"The list has {len(rows) - 1} lines; at most {MOST} are taken at once.")
    taken = set(known or ())
    return [_line(number, dict(zip(heads, cells, strict=False)), taken)
            for number, cells in rows[1:]]  # fmt: skip


def _column(cell: str) -> str:
    word = " ".join(cell.strip().lower().replace("_", " ").split())
    return next((name for name, words in COLUMNS.items() if word in words), word)


def _line(number: int, cells: dict[str, str], taken: set[str]) -> Line:
    errors: list[str] = []
    facts: dict[str, Cell] = {}
    name = " ".join(cells.get("name", "").split())
    if not name:
        errors.append("The name is missing.")
    elif len(name) > LONGEST:
        errors.append(f"The name is longer than {LONGEST} letters.")
    elif name.lower() in taken:
        errors.append(f"{name} is already in the band or on this list.")
    taken.add(name.lower())
    facts["name"] = name
    facts["instrument"], facts["school"] = _instrument(cells, errors)
    for column in DATES:
        said = cells.get(column, "").strip()
        try:
            facts[column] = datetime.date.fromisoformat(said) if said else None
        except ValueError:
            errors.append(f"“{said}” is not a date. Write it as 2026-11-26.")
            facts[column] = None
    since, until = facts["consent_on"], facts["consent_until"]
    if isinstance(since, datetime.date) and isinstance(until, datetime.date) and until < since:
        errors.append("Consent ends before it starts.")
    return Line(number, facts, tuple(errors))


def _instrument(cells: dict[str, str], errors: list[str]) -> tuple[str, str]:
    said = " ".join(cells.get("instrument", "").split())
    wanted = next(
        (s for s in shipped_standards().values()
         if said.lower() in (s.instrument, s.name.lower(), s.instrument.replace("-", " "))),
        None,
    )  # fmt: skip
    if wanted is None:
        names = ", ".join(s.name.lower() for s in shipped_standards().values())
        errors.append(f"“{said}” is no instrument Sulvet knows. It knows {names}." if said
                      else "The instrument is missing.")  # fmt: skip
        return said, ""
    school = " ".join(cells.get("school", "").split()).lower()
    if not school:
        return wanted.instrument, ""
    plain = school.replace("-", " ")
    found = next(
        (s for s in wanted.schools
         if plain == s.id.replace("-", " ") or s.name.lower().replace("-", " ").startswith(plain)),
        None,
    )  # fmt: skip
    if found is None:
        names = ", ".join(s.id.replace("-", " ") for s in wanted.schools)
        errors.append(f"“{school}” is no school of the {wanted.name.lower()}. There is {names}.")
        return wanted.instrument, ""
    return wanted.instrument, found.id
