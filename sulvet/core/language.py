"""The language that the core speaks, and its tables of words (GNU gettext).

English is what the data files and the code say. A table of another language has the English
sentence as its key; what it does not know stays English.
"""

from __future__ import annotations

import gettext
from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import cache, update_wrapper
from pathlib import Path
from typing import Any, Generic, ParamSpec, TypeVar

TABLES = Path(__file__).parent / "locale"
DOMAIN = "core"
ENGLISH = "en"

_spoken: ContextVar[str] = ContextVar("spoken", default=ENGLISH)

P = ParamSpec("P")
R = TypeVar("R")


def spoken() -> str:
    """The language of what runs now, such as ``de``."""
    return _spoken.get()


@contextmanager
def speaking(language: str) -> Iterator[None]:
    """Speak a language in a block; one without a table is English."""
    before = _spoken.set(language.split("-")[0])
    try:
        yield
    finally:
        _spoken.reset(before)


def said(words: str) -> str:
    """Words of the core in the language that is spoken."""
    return _table(spoken()).gettext(words) if words and spoken() != ENGLISH else words


def inside(words: str) -> str:
    """A name as it stands within a sentence: German nouns keep their capitals."""
    return words.lower() if spoken() == ENGLISH else words


@cache
def _table(language: str) -> gettext.NullTranslations:
    return gettext.translation(DOMAIN, TABLES, [language], fallback=True)


class per_language(Generic[P, R]):
    """A function's answers kept for each language: ``functools.cache`` for what holds words."""

    def __init__(self, function: Callable[P, R]) -> None:
        self._function = function
        self._kept: dict[Hashable, R] = {}
        update_wrapper(self, function)

    def __call__(self, *given: P.args, **named: P.kwargs) -> R:
        """The kept answer, or that of the function."""
        key: tuple[Any, ...] = (spoken(), given, tuple(sorted(named.items())))
        if key not in self._kept:
            self._kept[key] = self._function(*given, **named)
        return self._kept[key]

    def cache_clear(self) -> None:
        """Forget all answers."""
        self._kept.clear()
