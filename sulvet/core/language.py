"""The language that the core speaks, and its tables of words (GNU gettext).

English is what the data files and the code say. A table of another language has the English
sentence as its key; what it does not know stays English.
"""

from __future__ import annotations

import datetime
import gettext
import re
from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import cache, lru_cache, update_wrapper
from pathlib import Path
from string import Formatter
from typing import Any, Generic, ParamSpec, TypeVar

from babel.dates import format_skeleton
from babel.numbers import get_decimal_symbol

TABLES = Path(__file__).parent / "locale"
DOMAIN = "sulvet"
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


def said(words: str, /, **values: object) -> str:
    """A sentence of the core in the language that is spoken.

    values  what stands in its braces; broken numbers get the language's decimal sign

    >>> with speaking("de"):
    ...     said("The clip breaks off after {last:.1f} s.", last=3.2)
    'Der Clip bricht nach 3,2 s ab.'
    """
    told = _table(spoken()).gettext(words) if words and spoken() != ENGLISH else words
    return _SENTENCE.format(told, **values) if values else told


class _Sentence(Formatter):
    def format_field(self, value: Any, format_spec: str) -> str:
        told: str = super().format_field(value, format_spec)
        return figures(told) if isinstance(value, float) else told


_SENTENCE = _Sentence()


def gettext_noop(words: str) -> str:
    """Words that are said elsewhere: marked for the tables, and given back as they are."""
    return words


def figures(number: str) -> str:
    """A number with the decimal sign of the language: 3.5 is 3,5 in German."""
    return number if spoken() == ENGLISH else number.replace(".", get_decimal_symbol(spoken()))


def on_day(day: datetime.date, parts: str = "MMMMd") -> str:
    """A day as the language writes it; ``parts`` is a date skeleton of Unicode's CLDR.

    >>> on_day(datetime.date(2026, 12, 10)), on_day(datetime.date(2026, 12, 10), "MMMMEEEEd")
    ('10 December', 'Thursday 10 December')
    """
    # The day before the month, as in most of the world.
    locale = "en_GB" if spoken() == ENGLISH else spoken()
    return format_skeleton(parts, day, locale=locale)


def retold(kept: str) -> str:
    """A sentence that was kept in English, in the language that is spoken.

    It is known as it stands, or as a sentence of the table with its braces filled; what fills
    them is retold in turn. What the table does not know stays English.

    >>> with speaking("de"):
    ...     retold("The clip breaks off after 3.2 s.")
    'Der Clip bricht nach 3,2 s ab.'
    """
    return kept if not kept or spoken() == ENGLISH else _retold(spoken(), kept)


@lru_cache(maxsize=4096)
def _retold(language: str, kept: str) -> str:
    known = _table(language).gettext(kept)
    if known != kept:
        return known
    for shape, told in _shapes(language):
        found = shape.fullmatch(kept)
        if found:
            values = {
                name: figures(value) if _NUMBER.fullmatch(value) else retold(value)
                for name, value in found.groupdict().items()
            }
            return _filled(told, values)
    return kept


def _filled(told: str, values: dict[str, str]) -> str:
    return _BRACE.sub(lambda brace: values[brace[1]], told)


#: A place to be filled in a sentence, and a number that fills one.
_BRACE = re.compile(r"\{(\w+)[^}]*\}")
_NUMBER = re.compile(r"-?\d+\.\d+")
#: A sentence with less of its own than this is not told from others by its shape.
_LETTERS = 8


@cache
def _shapes(language: str) -> tuple[tuple[re.Pattern[str], str], ...]:
    """The sentences with braces as patterns, those that say most first, with the translation."""
    sentences: dict[str, str] = vars(_table(language)).get("_catalog", {})
    found = []
    for words, told in sentences.items():
        own = _BRACE.sub("", words)
        if own == words or len(own) < _LETTERS:
            continue
        pattern, met = "", set[str]()
        for text, name, *_ in Formatter().parse(words):
            again = name in met
            place = f"(?P={name})" if again else f"(?P<{name}>.+?)" if name else ""
            met.add(name or "")
            pattern += re.escape(text) + place
        found.append((len(own), re.compile(pattern, re.DOTALL), told))
    return tuple((shape, told) for _, shape, told in sorted(found, key=lambda one: -one[0]))


def listed(names: list[str]) -> str:
    """Names in a sentence.

    >>> listed(["corners", "rim", "stillness"])
    'corners, rim and stillness'
    """
    if len(names) == 1:
        return names[0]
    return said("{others} and {last}").format(others=", ".join(names[:-1]), last=names[-1])


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
