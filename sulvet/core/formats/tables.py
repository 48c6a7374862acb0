"""Tables as CSV (RFC 4180), in UTF-8 with a byte order mark so that spreadsheets see it."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any

BOM = "\ufeff"
#: What a spreadsheet would take for a formula at the start of a cell.
FORMULA = ("=", "+", "-", "@", "\t", "\r")


def dump(columns: Sequence[str], rows: Iterable[Sequence[Any]]) -> bytes:
    """A table with its header. None becomes an empty cell.

    Words that a spreadsheet would run as a formula get an apostrophe before them; figures
    stay figures.
    """
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    for row in rows:
        writer.writerow([_cell(value) for value in row])
    return (BOM + out.getvalue()).encode("utf-8")


def _cell(value: Any) -> Any:
    if isinstance(value, str) and value.startswith(FORMULA):
        return "'" + value
    return "" if value is None else value


def load(data: bytes) -> list[list[str]]:
    """The cells of a table; comma, semicolon or tab, whichever its first line has most of.

    Raises ValueError with a sentence when it is no text.
    """
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        try:
            text = data.decode("cp1252")
        except UnicodeDecodeError:
            raise ValueError(
                "This file can't be read as text. Save the table as “CSV, UTF-8”."
            ) from None
    if "\0" in text:
        raise ValueError("This is not a CSV table. Save it as “CSV, UTF-8”.")
    first = text.splitlines()[0] if text.strip() else ""
    mark = max((",", ";", "\t"), key=first.count)
    try:
        return list(csv.reader(io.StringIO(text, newline=""), delimiter=mark, strict=True))
    except csv.Error as error:
        raise ValueError(f"The table is damaged: {error}. Save it again as CSV.") from error
