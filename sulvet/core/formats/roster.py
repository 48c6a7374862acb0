"""A class list from a table: every row is checked, and all that is wrong is told at once."""

from __future__ import annotations

import datetime
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from sulvet.core import clock
from sulvet.core.formats import dates, sheets, tables
from sulvet.core.formats.instrument_names import instrument_of, is_not_filmed, nearest
from sulvet.core.judgement.standards import shipped_standards
from sulvet.core.language import inside, said

#: The words a column may be headed by, whatever language Sulvet speaks.
COLUMNS: dict[str, tuple[str, ...]] = {
    "name": ("name", "student", "student name", "full name", "pupil", "schüler", "kind"),
    "first": ("first name", "first", "given name", "forename", "vorname"),
    "last": ("last name", "last", "surname", "family name", "nachname", "familienname"),
    "instrument": ("instrument", "instr", "plays"),
    "school": (
        "style", "embouchure style", "embouchure", "school", "school of playing", "stil",
        "ansatzstil",
    ),
    "consent_on": (
        "consent", "consent on", "consent since", "consent date", "filming consent",
        "video consent", "permission", "photo permission", "einwilligung", "einwilligung am",
    ),
    "consent_until": ("consent until", "until", "consent ends", "einwilligung bis"),
    "retain_until": ("keep until", "retention", "delete after", "aufbewahren bis"),
}  # fmt: skip
DATES = ("consent_on", "consent_until", "retain_until")
YES = ("yes", "y", "ja", "true", "1", "x", "✓", "ok", "given")
NO = ("no", "n", "nein", "false", "0", "-", "none")
MOST, LONGEST = 300, 80
Cell = str | datetime.date | None
Skipped = Literal["", "not filmed", "unknown"]


def template() -> bytes:
    """A list to fill in, as CSV."""
    example = [
        ["Ada Example", "Bb Clarinet", "", "2026-09-01", "", "2028-07-31"],
        ["Ben Example", "French Horn", "", said("yes"), "", ""],
    ]
    heads = [
        said("Name"), said("Instrument"), said("Style"), said("Consent"), said("Consent until"),
        said("Keep until"),
    ]  # fmt: skip
    return tables.dump(heads, example)


@dataclass(frozen=True)
class Line:
    """One row of the list; ``errors`` is empty when it can be imported.

    known    whether the band has this student already
    changes  what would be other than it is there: field, old, new
    skipped  why the row is left out and the others are not: nothing to film on this instrument,
             or one that is not known; empty: it is not
    """

    number: int
    facts: dict[str, Cell]
    errors: tuple[str, ...] = field(default=())
    known: bool = False
    changes: tuple[tuple[str, Cell, Cell], ...] = field(default=())
    skipped: Skipped = ""


@dataclass(frozen=True)
class Roster:
    """A list as it was read.

    ignored  columns that Sulvet does not know, as they are headed
    asks     dates such as 3/4/2026 read either way and nobody has said which is meant
    """

    lines: tuple[Line, ...]
    ignored: tuple[str, ...]
    asks: bool

    @property
    def ready(self) -> bool:
        """Whether all of it can be imported."""
        return not self.asks and not any(line.errors for line in self.lines)


def load(
    data: bytes,
    known: Mapping[str, Mapping[str, Cell] | None] | None = None,
    order: dates.Order | None = None,
    today: datetime.date | None = None,
) -> Roster:
    """All rows of a list, each with what is wrong with it.

    data   CSV, or a spreadsheet (xlsx); its first row names the columns
    known  students of the band: name in lower case → what is known of them; None where several
           have that name
    order  whether the day or the month comes first in 3/4/2026; None: as the list itself tells
    today  the day of a consent that is only said to be there

    ValueError with a sentence when the table as a whole can't be used.
    """
    cells = (sheets if sheets.is_sheet(data) else tables).load(data)
    rows = [row for row in enumerate(cells, 1) if any(cell.strip() for cell in row[1])]
    if not rows:
        raise ValueError(
            said("The list is empty. Its first row names the columns: name, instrument.")
        )
    heads = [_column(cell) for cell in rows[0][1]]
    _check_columns(heads)
    if len(rows) == 1:
        raise ValueError(said("The list has no rows below the column names."))
    if len(rows) - 1 > MOST:
        raise ValueError(
            said(
                "The list has {rows} rows; at most {most} can be imported.",
                rows=len(rows) - 1,
                most=MOST,
            )
        )
    body = [(number, dict(zip(heads, row, strict=False))) for number, row in rows[1:]]
    days = [row.get(column, "") for _, row in body for column in DATES]
    order = order or dates.order_of(days)
    asks = order is None and any(dates.is_ambiguous(cell) for cell in days)
    reader = _Reader(known or {}, order or "month", today or clock.now().date())
    ignored = [cell.strip() for cell in rows[0][1] if cell.strip() and _column(cell) not in COLUMNS]
    return Roster(tuple(reader.line(*row) for row in body), tuple(ignored), asks)


def _column(cell: str) -> str:
    word = " ".join(cell.strip().lower().replace("_", " ").split())
    return next((name for name, words in COLUMNS.items() if word in words), word)


def _check_columns(heads: list[str]) -> None:
    whole, parts = heads.count("name"), (heads.count("first"), heads.count("last"))
    if not (whole == 1 or (whole == 0 and parts == (1, 1))) or heads.count("instrument") != 1:
        raise ValueError(
            said(
                "The first row must have one column “name” (or “first name” and “last name”) "
                "and one column “instrument”. Style, consent, consent until and keep until are "
                "optional."
            )
        )


class _Reader:
    """Reads row after row; knows the names it has met."""

    def __init__(
        self,
        known: Mapping[str, Mapping[str, Cell] | None],
        order: dates.Order,
        today: datetime.date,
    ) -> None:
        self.known, self.order, self.today = known, order, today
        self.met: set[str] = set()

    def line(self, number: int, cells: dict[str, str]) -> Line:
        """One row with all that is wrong with it."""
        errors: list[str] = []
        facts: dict[str, Cell]
        name = _name(cells)
        if skipped := _skipped(cells):
            written = cells["instrument"].strip()
            facts = {"name": name, "instrument": written, "school": "", **dict.fromkeys(DATES)}
            return Line(number, facts, skipped=skipped)
        if not name:
            errors.append(said("The name is missing."))
        elif len(name) > LONGEST:
            errors.append(said("The name is longer than {longest} characters.", longest=LONGEST))
        elif name.lower() in self.met:
            errors.append(said("{name} is on this list twice.", name=name))
        elif self.known.get(name.lower(), {}) is None:
            errors.append(
                said("Several students are called {name}. Edit them one by one.", name=name)
            )
        self.met.add(name.lower())
        before = self.known.get(name.lower())
        facts = {"name": name}
        facts["instrument"], facts["school"] = _instrument(cells, errors, before)
        for column in DATES:
            facts[column] = self._date(column, cells.get(column, "").strip(), errors, before)
        since, until = facts["consent_on"], facts["consent_until"]
        if isinstance(since, datetime.date) and isinstance(until, datetime.date) and until < since:
            errors.append(said("Consent ends before it starts."))
        changes = () if before is None else tuple(
            (key, before.get(key), value)
            for key, value in facts.items() if key != "name" and value != before.get(key)
        )  # fmt: skip
        return Line(number, facts, tuple(errors), before is not None, changes)

    def _date(
        self, column: str, written: str, errors: list[str], before: Mapping[str, Cell] | None
    ) -> Cell:
        """A day; an empty cell leaves what the band has."""
        kept = before.get(column) if before else None
        if not written:
            return kept
        if column == "consent_on" and written.lower() in YES:
            return kept or self.today
        if column == "consent_on" and written.lower() in NO:
            return None
        try:
            return dates.read(written, self.order)
        except (ValueError, OverflowError):
            errors.append(
                said("“{written}” is not a date. Write it as 2026-11-26.", written=written)
            )
            return None


def _name(cells: dict[str, str]) -> str:
    name = cells.get("name") or f"{cells.get('first', '')} {cells.get('last', '')}"
    if name.count(",") == 1:  # Lunde, Ada
        name = " ".join(reversed(name.split(",")))
    return " ".join(name.split())


def _skipped(cells: dict[str, str]) -> Skipped:
    """Why a row is left out, if it is: what may be a slip of the pen is asked for instead."""
    written = " ".join(cells.get("instrument", "").split())
    if not written or instrument_of(written):
        return ""
    if is_not_filmed(written):
        return "not filmed"
    return "" if nearest(written) else "unknown"


def _instrument(
    cells: dict[str, str], errors: list[str], before: Mapping[str, Cell] | None
) -> tuple[str, Cell]:
    written = " ".join(cells.get("instrument", "").split())
    instrument = instrument_of(written)
    if instrument is None:
        if not written:
            errors.append(said("The instrument is missing."))
        else:
            errors.append(
                said(
                    "Unknown instrument “{written}”. Did you mean {meant}?",
                    written=written,
                    meant=nearest(written),
                )
            )
        return written, ""
    standard = shipped_standards()[instrument]
    style = " ".join(cells.get("school", "").split()).lower().replace("-", " ")
    if not style:
        same = before is not None and before.get("instrument") == instrument
        return instrument, before.get("school", "") if before and same else ""
    found = next(
        (s for s in standard.schools
         if style == s.id.replace("-", " ") or s.name.lower().replace("-", " ").startswith(style)),
        None,
    )  # fmt: skip
    if found is None:
        names = ", ".join(s.id.replace("-", " ") for s in standard.schools)
        errors.append(
            said(
                "Unknown embouchure style “{style}” for {instrument}. Known: {names}.",
                style=style,
                instrument=inside(standard.name),
                names=names,
            )
        )
        return instrument, ""
    return instrument, found.id
