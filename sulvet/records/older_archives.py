"""Archives of older versions, row by row as the tables are now.

Version 1: readings and findings repeated by what they were made, drawings stood with the take,
the sound was called a hearing. Its drawings are of an older edition: each analysis counts as out
of date and is made anew.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from typing import Any

from django.db import models

from sulvet.takes.models import Edit, Finding, Reading, TakeAnalysis, TakeSound

Row = dict[str, Any]
#: The rows of a table by its name in the archive.
Tables = Callable[[str], Iterator[Row]]
READINGS, FINDINGS, SOUNDS = "takes.reading", "takes.finding", "takes.hearing"


def rows(model: type[models.Model], tables: Tables) -> Iterator[Row]:
    """The rows of a table of version 1 as its model is now."""
    if model is TakeSound:
        for row in tables(SOUNDS):
            yield {**row, "intended": row["aim"]}
    elif model is Edit:
        for row in tables("takes.edit"):
            yield {**row, "label": row["words"]}
    elif model is Reading:
        yield from _numbered(tables(READINGS), "measure")
    elif model is Finding:
        yield from _numbered(tables(FINDINGS), "fault")
    elif model is TakeAnalysis:
        yield from _analyses(tables)
    else:
        yield from tables(model._meta.label_lower)


def _numbered(table: Iterator[Row], name: str) -> Iterator[Row]:
    """Which of several of one kind in phases of one name."""
    seen = Counter[tuple[Any, ...]]()
    for row in table:
        key = (row["take_id"], row[name], row["phase"])
        yield {**row, "nth": seen[key]}
        seen[key] += 1


def _analyses(tables: Tables) -> Iterator[Row]:
    """One analysis a take that has readings or findings, by what made the first of them."""
    ears = {row["take_id"]: row["heard"].get("ear", "") for row in tables(SOUNDS)}
    made: dict[Any, Row] = {}
    for table in (READINGS, FINDINGS):
        for row in tables(table):
            made.setdefault(row["take_id"], row)
    for number, (take, row) in enumerate(made.items(), 1):
        yield {
            "id": number, "take_id": take, "engine": row["engine"], "ear": ears.get(take, ""),
            "standard": row["standard"], "school": row["school"], "edition": 0,
            "drawing": None, "stills": None, "scale": None, "frames": "",
        }  # fmt: skip
