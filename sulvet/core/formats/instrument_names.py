"""Which instrument a school's own words mean: "Bb Trumpet 2", "Alto Sax", "French Horns"."""

from __future__ import annotations

import difflib
import re
from pathlib import Path

from sulvet.core.data_files import DataFileError, Strict, read_table
from sulvet.core.judgement.standards import shipped_standards
from sulvet.core.language import per_language

TABLE = Path(__file__).parent / "data" / "instruments.toml"
#: What says a key, a part or a clef, and nothing of which instrument it is.
_NOTE = r"(?:[a-g] ?(?:b|flat|sharp|♭|♯)|[cf])"
_KEY = re.compile(rf"^(?:in )?{_NOTE}\s+|\s+(?:in )?{_NOTE}$", re.I)
_PART = re.compile(r"\b(?:[1-4](?:st|nd|rd|th)?|i{1,3}|tc|bc|treble clef|bass clef)\b", re.I)


class _Names(Strict):
    version: int
    names: dict[str, tuple[str, ...]]
    not_filmed: tuple[str, ...]


def is_not_filmed(said: str) -> bool:
    """Whether a band's or school's instrument is meant that is not played with the mouth.

    >>> [is_not_filmed(said) for said in ("Percussion 2", "Snare Drums", "Double Bass", "Horn")]
    [True, True, True, False]
    """
    words = re.findall(r"[^\W\d_]+", said.lower())
    spelled = {f" {' '.join(words)} ", f" {' '.join(word.removesuffix('s') for word in words)} "}
    names = read_table(TABLE, _Names).not_filmed
    return any(f" {name} " in one for name in names for one in spelled)


@per_language
def known_names() -> dict[str, str]:
    """Name → instrument. DataFileError for an instrument that has no standard."""
    found = {}
    for instrument, names in read_table(TABLE, _Names).names.items():
        if instrument not in shipped_standards():
            raise DataFileError(f"{TABLE.name}: there is no standard for “{instrument}”.")
        found.update(dict.fromkeys(names, instrument))
    for standard in shipped_standards().values():
        for name in (standard.instrument.replace("-", " "), standard.name.lower()):
            found.setdefault(name, standard.instrument)
    return found


def instrument_of(said: str) -> str | None:
    """The instrument that is meant, or None.

    >>> [instrument_of(said) for said in ("Bb Trumpet 2", "Alto Saxes", "F Horn", "Baritone TC")]
    ['trumpet', 'saxophone', 'horn', 'euphonium']
    >>> instrument_of("kazoo") is None
    True
    """
    words = " ".join(re.sub(r"[-_/(),]", " ", said.lower().replace(".", "")).split())
    plain = " ".join(_PART.sub(" ", _KEY.sub("", words)).split())
    for name in (words, plain):
        for one in (name, name.removesuffix("s"), name.removesuffix("es")):
            if one in known_names():
                return known_names()[one]
    return None


def nearest(said: str) -> str | None:
    """The known name most like a misspelt one, if any is.

    >>> nearest("Trumpit")
    'trumpet'
    """
    close = difflib.get_close_matches(said.lower(), list(known_names()), n=1, cutoff=0.7)
    return close[0] if close else None
