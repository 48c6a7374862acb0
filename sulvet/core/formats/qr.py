"""A text as a QR code (ISO/IEC 18004), as modules or drawn as SVG."""

from __future__ import annotations

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
