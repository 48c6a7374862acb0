"""Numbers as they come in a header or an address."""

from __future__ import annotations

#: More digits than this no counter of ours has, and no database holds.
MOST_DIGITS = 18


#: The greatest number a row can have.
GREATEST = 10**MOST_DIGITS - 1


def are_numbers(found: list[int]) -> bool:
    """Whether all may be numbers of rows; a database fails at greater ones.

    >>> are_numbers([1, 2]), are_numbers([0]), are_numbers([10**30])
    (True, False, False)
    """
    return all(0 < one <= GREATEST for one in found)


def number_of(text: str) -> int | None:
    """A whole number from 0 on, or None for anything else.

    >>> number_of("42"), number_of("²"), number_of("9" * 30), number_of("")
    (42, None, None, None)
    """
    plain = text.isascii() and text.isdecimal() and len(text) <= MOST_DIGITS
    return int(text) if plain else None
