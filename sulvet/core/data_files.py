"""One reader of data files: what does not fit is named by file and line."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from sulvet.core.language import said


class DataFileError(ValueError):
    """A data file is wrong; the message names the file and the line."""


#: Fields of data files that a user reads, wherever they stand.
WORDS = frozenset({
    "about", "area", "because", "caution", "child", "confused_with", "counts", "do", "doubt",
    "explains", "first_help", "from_front", "good", "guide", "help", "high", "label", "less",
    "levels", "look", "low", "may_hide", "missing", "mistake", "more", "name", "note", "pass_mark",
    "remedy", "say", "section", "sentence", "shows", "side", "stands", "stave", "steps",
    "subject", "text", "unseen", "why", "words",
})  # fmt: skip


class Strict(BaseModel):
    """A row of a data file: nothing unknown in it, never changed."""

    model_config = ConfigDict(extra="forbid", frozen=True)


T = TypeVar("T", bound=BaseModel)


def read_table(path: Path, model: type[T]) -> T:
    """A TOML file as its model; DataFileError with file and line where it does not fit."""
    text = path.read_text(encoding="utf-8")
    try:
        return model.model_validate(translated(tomllib.loads(text)))
    except tomllib.TOMLDecodeError as error:
        raise DataFileError(f"{path.name}: {error}") from error
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        message = first["msg"].removeprefix("Value error, ")
        raise wrong(path, first["loc"], f"{place}: {message}") from error


def translated(value: Any, field: str = "") -> Any:
    """A part of a data file with what a user reads in the language that is spoken."""
    if isinstance(value, dict):
        return {name: translated(part, name) for name, part in value.items()}
    if isinstance(value, list):
        return [translated(part, field) for part in value]
    return said(value) if isinstance(value, str) and is_words(field, value) else value


def is_words(field: str, value: str) -> bool:
    """Whether a user reads it. One small word in most fields is the name of something in code."""
    whole = " " in value or not value.islower() or field in {"less", "more"}
    return field in WORDS and whole and value != ""


def wrong(path: Path, loc: tuple[int | str, ...], message: str) -> DataFileError:
    """The error for a place of a file, such as ``("bands", 3, "low")``."""
    line = line_of(path.read_text(encoding="utf-8"), loc)
    return DataFileError(f"{path.name}, line {line}: {message}")


def line_of(text: str, loc: tuple[int | str, ...]) -> int:
    """The line of a TOML text that a place such as ``("bands", 3, "low")`` speaks of.

    >>> line_of("version = 1\\n[[bands]]\\nlow = 1\\n[[bands]]\\nlow = 2", ("bands", 1, "low"))
    5
    """
    lines = text.splitlines()
    at = 0
    if len(loc) > 1 and isinstance(loc[1], int):
        headers = [n for n, line in enumerate(lines) if line.strip() == f"[[{loc[0]}]]"]
        at = headers[loc[1]] if loc[1] < len(headers) else 0
    # The innermost name that stands at the beginning of a line of that block.
    for key in reversed([part for part in loc if isinstance(part, str)]):
        for n in range(at, len(lines)):
            if n > at and lines[n].startswith("[["):
                break
            if lines[n].split("=")[0].strip() == key:
                return n + 1
    return at + 1
