"""An exercise as it was played, in words."""

from __future__ import annotations

from sulvet.core.exercises.row import Place, Row
from sulvet.core.language import listed, said

#: So many places are named, the rest is counted.
NAMED = 4


def sentence(row: Row) -> str:
    """How it was played; empty where nothing of it was heard.

    >>> place = Place("tone", 0, 0.0, 1.0, 1.0, 1, 0.0, ())
    >>> short = Place("tone", 0, 1.0, 1.4, 0.4, 1, 0.0, ("short",))
    >>> sentence(Row("Four single counts", (place, short), 16))
    '1 of 2 right. Number 2: short.'
    """
    told = row.judged
    if not told:
        return ""
    wrong = [
        said("Number {n}: {words}.", n=n, words=words(one))
        for n, one in enumerate(told, 1)
        if one.wrong
    ]
    if len(wrong) > NAMED:
        wrong = [*wrong[:NAMED], said("{wrong} more are not right.", wrong=len(wrong) - NAMED)]
    return " ".join([said("{right} of {told} right.", right=row.right, told=len(told)), *wrong])


def words(one: Place) -> str:
    """What is wrong with a place, or that it is right."""
    return listed([said(wrong) for wrong in one.wrong]) if one.wrong else said("right")
