"""A text as a QR code (ISO/IEC 18004), drawn as SVG."""

from __future__ import annotations

from reportlab.graphics.barcode.qrencoder import QRCode, QRErrorCorrectLevel

#: Empty modules around a code that readers want.
QUIET = 4


def svg(text: str) -> str:
    """One path in a box of as many units as there are modules."""
    code = QRCode(None, QRErrorCorrectLevel.M)
    code.addData(text)
    code.make()
    count = code.getModuleCount()
    dark = "".join(
        f"M{column + QUIET} {row + QUIET}h1v1h-1z"
        for row in range(count)
        for column in range(count)
        if code.isDark(row, column)
    )
    side = count + 2 * QUIET
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {side} {side}">'
        f'<rect width="{side}" height="{side}" fill="#fff"/><path d="{dark}" fill="#000"/></svg>'
    )
