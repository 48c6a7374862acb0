"""A text as a QR code (ISO/IEC 18004), as modules, for a terminal, or as SVG."""

from __future__ import annotations

import base64

from reportlab.graphics.barcode.qrencoder import QRCode, QRErrorCorrectLevel

#: Empty modules around a code that readers want.
QUIET = 4


def modules(text: str) -> list[list[bool]]:
    """Which modules are dark, row by row from the top, without the quiet zone."""
    code = QRCode(None, QRErrorCorrectLevel.M)
    code.addData(text)
    code.make()
    count = range(code.getModuleCount())
    return [[bool(code.isDark(row, column)) for column in count] for row in count]


def blocks(text: str) -> str:
    """For a terminal, dark on light whatever its colours are; a letter is one module wide and two
    tall."""
    rows = modules(text)
    side = len(rows) + 2 * QUIET

    def dark(y: int, x: int) -> bool:
        y, x = y - QUIET, x - QUIET
        return 0 <= y < len(rows) and 0 <= x < len(rows) and rows[y][x]

    lines = []
    for y in range(0, side, 2):
        pairs = ((dark(y, x), dark(y + 1, x)) for x in range(side))
        inked = "".join(" ▄▀█"[2 * upper + lower] for upper, lower in pairs)
        lines.append(f"\x1b[30;107m{inked}\x1b[0m")
    return "\n".join(lines)


def data_url(text: str) -> str:
    """The same as a picture that stands in an answer itself."""
    return f"data:image/svg+xml;base64,{base64.b64encode(svg(text).encode()).decode()}"


def svg(text: str) -> str:
    """One path in a box of as many units as there are modules."""
    rows = modules(text)
    dark = "".join(
        f"M{column + QUIET} {row + QUIET}h1v1h-1z"
        for row, line in enumerate(rows)
        for column, is_dark in enumerate(line)
        if is_dark
    )
    side = len(rows) + 2 * QUIET
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {side} {side}">'
        f'<rect width="{side}" height="{side}" fill="#fff"/><path d="{dark}" fill="#000"/></svg>'
    )
