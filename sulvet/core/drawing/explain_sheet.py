"""A sheet of paper to explain a measure on, with pens in SVG."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from sulvet.core.anatomy.marks import Floats

INK, FAINT, BRASS, SKIN, RED = "#2b241b", "#8a7f70", "#9a6b1f", "#f3e6d6", "#d9a79b"
ZOOM = 7.0


Pair = tuple[float, float]


@dataclass
class Sheet:
    """An SVG in the making; places in mm, y up.

    box  left, bottom, right, top, mm
    """

    box: tuple[float, float, float, float]
    parts: list[str] = field(default_factory=list)

    def at(self, point: Sequence[float] | Floats) -> Pair:
        """Millimetres to pixels of the drawing."""
        left, _, _, top = self.box
        return round((float(point[0]) - left) * ZOOM, 1), round((top - float(point[1])) * ZOOM, 1)

    def line(self, points: Floats | list[Pair], stroke: str = INK, **more: str) -> None:
        """A line through points."""
        self._path(points, False, f'fill="none" stroke="{stroke}"', more)

    def area(self, points: Floats | list[Pair], fill: str, stroke: str = INK, **more: str) -> None:
        """A closed shape."""
        self._path(points, True, f'fill="{fill}" stroke="{stroke}"', more)

    def _path(
        self, points: Floats | list[Pair], closed: bool, paint: str, more: dict[str, str]
    ) -> None:
        places = "L".join(f"{x} {y}" for x, y in (self.at(p) for p in points))
        rest = "".join(f' {k.replace("_", "-")}="{v}"' for k, v in more.items())
        self.parts.append(f'<path d="M{places}{"Z" if closed else ""}" {paint}{rest}/>')

    def dot(self, point: Floats | Pair, name: str = "", left: bool = False) -> None:
        """A landmark, with its id."""
        x, y = self.at(point)
        self.parts.append(f'<circle cx="{x}" cy="{y}" r="3.4" fill="{BRASS}"/>')
        if name:
            self.text(point, name, dx=-8 if left else 8, dy=-6, anchor="end" if left else "start")

    def text(
        self, point: Floats | Pair, words: str, dx: float = 0, dy: float = 0,
        anchor: str = "middle", colour: str = INK,
    ) -> None:  # fmt: skip
        """Words beside a place."""
        x, y = self.at(point)
        self.parts.append(
            f'<text x="{x + dx}" y="{y + dy}" text-anchor="{anchor}" fill="{colour}">{words}</text>'
        )

    def measure(self, a: Floats | Pair, b: Floats | Pair, words: str, dx: float, dy: float) -> None:
        """A dimension between two places, with its name."""
        (ax, ay), (bx, by) = self.at(a), self.at(b)
        self.parts.append(
            f'<path d="M{ax} {ay}L{bx} {by}" stroke="{BRASS}" stroke-width="2.2" '
            'marker-start="url(#tick)" marker-end="url(#tick)"/>'
        )
        middle = (
            (float(a[0]) + float(b[0])) / 2,
            (float(a[1]) + float(b[1])) / 2,
        )
        anchor = "start" if dx > 0 else "end" if dx < 0 else "middle"
        self.text(middle, words, dx, dy, anchor, BRASS)

    def svg(self) -> str:
        """The whole drawing."""
        left, bottom, right, top = self.box
        wide, high = round((right - left) * ZOOM), round((top - bottom) * ZOOM)
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide} {high}" '
            f'width="{wide}" height="{high}" font-family="serif" font-size="19" '
            f'stroke-width="1.6" stroke-linejoin="round">'
            '<defs><marker id="tick" markerWidth="8" markerHeight="10" refX="4" refY="5" '
            f'orient="auto"><path d="M4 0v10" stroke="{BRASS}" stroke-width="1.4"/></marker></defs>'
            f'<rect width="{wide}" height="{high}" fill="#fbf7ef"/>'
            + "".join(self.parts)
            + "</svg>\n"
        )
