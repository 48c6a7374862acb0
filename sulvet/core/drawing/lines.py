"""Strokes that several dimensions are drawn with."""

from __future__ import annotations

from collections.abc import Sequence

from sulvet.core.drawing.sheet import Align, At, Dimension, Label, Pen, Place, Stroke, at

#: The first dimension line stands so far from the box, and each further row so much more, units.
FIRST, NEXT = 0.13, 0.14
#: Half of a tick, and how far a label stands from its line, units.
TICK, GAP = 0.018, 0.03
#: Half the length of a short arc, and how far it bends, units.
ARC, BEND = 0.22, 0.0616


def ticks(*places: At) -> tuple[Stroke, ...]:
    """The short strokes that end a dimension line."""
    return tuple(
        Stroke("tick", tuple(
            At(p.x, p.y, p.dx + side * TICK, p.dy + side * TICK) for side in (-1, 1)
        ))
        for p in places
    )  # fmt: skip


def smooth_through(pen: Pen, anchors: tuple[str, ...], optional: tuple[str, ...] = ()) -> Stroke:
    """A smooth line; of ``optional`` anchors those that are not seen are left out."""
    places = tuple(at(name, optional=name in optional) for name in anchors)
    return Stroke(pen, places, "smooth")


def straight_between(pen: Pen, *anchors: str) -> Stroke:
    """Straight from anchor to anchor."""
    return Stroke(pen, tuple(at(name) for name in anchors))


def arc_under(anchor: str) -> Stroke:
    """A short arc through one anchor, open upward."""
    return Stroke(
        "skin", (at(anchor, -ARC, BEND), at(anchor), at(anchor, ARC, BEND)), "smooth"
    )  # fmt: skip


def arc_beside(anchor: str, inward: int) -> Stroke:
    """A short arc through one anchor, open toward ``inward``: 1 right, -1 left."""
    bend = inward * BEND
    return Stroke("skin", (at(anchor, bend, ARC), at(anchor), at(anchor, bend, -ARC)), "smooth")


def at_rest(strokes: tuple[Stroke, ...]) -> tuple[Stroke, ...]:
    """The same lines of the rest face, without what is held to the mouth."""
    return tuple(
        Stroke("rest", tuple(
            At(f"rest:{p.x}", f"rest:{p.y}", p.dx, p.dy, p.optional) for p in one.places
        ), one.form, one.closed)
        for one in strokes
        if one.pen in ("lips", "skin")
    )  # fmt: skip


def zone(corners: Sequence[Place]) -> Stroke:
    """Where the standard wants something."""
    return Stroke("zone", tuple(At(dx=x, dy=y) for x, y in corners), closed=True)


def across(
    measure: str, first: str, second: str, row: int, label: str = "", always: bool = False
) -> Dimension:
    """From end to end along x, on a line under the drawing; ``row`` 0 is the nearest.

    first, second  from left to right
    label          the anchor over which the value stands; ``first`` puts it left of the line,
                   nothing right of it
    """
    low = -FIRST - row * NEXT
    ends = (At(first, "box:low", dy=low), At(second, "box:low", dy=low))
    down = tuple(
        Stroke("extension", (at(name), At(name, "box:low", dy=low))) for name in (first, second)
    )
    align: Align = "middle" if label not in ("", first) else "end" if label else "start"
    aside, lift = {"middle": (0.0, GAP), "end": (-GAP, -GAP), "start": (GAP, -GAP)}[align]
    return Dimension(
        measure,
        (*down, Stroke("dimension", ends), *ticks(*ends)),
        Label(At(label or second, "box:low", aside, low + lift), align),
        always,
    )


def upright(measure: str, first: str, second: str, side: int, always: bool = False) -> Dimension:
    """From end to end along y, on a line beside the drawing: ``side`` -1 left, 1 right.

    All of a side stand on one line, as a chain: they begin where another ends.
    """
    edge, away = ("box:left" if side < 0 else "box:right"), side * FIRST
    ends = (At(edge, first, away), At(edge, second, away))
    over = tuple(Stroke("extension", (at(name), At(edge, name, away))) for name in (first, second))
    return Dimension(
        measure,
        (*over, Stroke("dimension", ends), *ticks(*ends)),
        # Toward the drawing, where there is paper.
        Label(At(edge, second, away - side * GAP, -0.1), "start" if side < 0 else "end"),
        always,
    )


def aside(measure: str, middle: str, low: str, always: bool = False) -> Dimension:
    """From the face's midline to the middle of something, under it."""
    under = At("", low, dy=-0.06)
    there = At(middle, low, dy=-0.06)
    return Dimension(
        measure,
        (
            Stroke("axis", (At("", "box:high"), At("", low, dy=-0.12))),
            Stroke("dimension", (under, there)),
            *ticks(under, there),
        ),
        Label(At(middle, low, GAP + 0.02, -0.12), "start"),
        always,
    )


def tilt(measure: str, left: str, right: str, always: bool = False) -> Dimension:
    """A line against the horizontal."""
    return Dimension(
        measure,
        (
            Stroke("axis", (at(left), At(right, left))),
            straight_between("dimension", left, right),
        ),
        Label(At(right, left, 0.0, -0.1), "end"),
        always,
    )


def lean(measure: str, start: str, line: str, always: bool = False) -> Dimension:
    """An instrument against the vertical; ``line`` is one of ``anchors.HELD_LINES``."""
    return Dimension(
        measure,
        (
            Stroke("axis", (at(start), at(start, 0.0, -0.6))),
            Stroke("dimension",
                   (at(start, 0.0, -0.4), at(f"{line}_half"), at(f"{line}_turn")), "smooth"),
            Stroke("axis", (at(start), at(f"{line}_turn"))),
        ),
        Label(at(start, 0.06, -0.56), "start"),
        always,
    )  # fmt: skip
