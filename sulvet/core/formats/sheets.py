"""Tables as a spreadsheet (Office Open XML, ISO/IEC 29500): its first sheet, as text."""

from __future__ import annotations

import datetime
import io
import zipfile
from typing import Any

import openpyxl

from sulvet.core.language import said

#: Bytes that a class list unpacks to at most, cells to a row, and rows.
LARGEST, WIDEST, LONGEST = 20_000_000, 60, 2_000
TOO_LARGE = "This spreadsheet is too large for a class list. Save its list alone, or as CSV."
BROKEN = "This spreadsheet can't be read. Save it again as xlsx, or as CSV."


def is_sheet(data: bytes) -> bool:
    """Whether a file is a zip, as a spreadsheet is and a CSV never is."""
    return data.startswith(b"PK\x03\x04")


def load(data: bytes) -> list[list[str]]:
    """The cells of the first sheet; dates as 2026-11-26. ValueError with a sentence."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            unpacked = sum(part.file_size for part in archive.infolist())
    except zipfile.BadZipFile as error:
        raise ValueError(said(BROKEN)) from error
    if unpacked > LARGEST:
        raise ValueError(said(TOO_LARGE))
    try:
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        try:
            rows = book.worksheets[0].iter_rows(max_row=LONGEST, max_col=WIDEST, values_only=True)
            return [[_text(cell) for cell in row] for row in rows]
        finally:
            book.close()
    except Exception as error:  # a damaged file fails in many ways, none of them ours
        raise ValueError(said(BROKEN)) from error


def _text(cell: Any) -> str:
    if cell is None:
        return ""
    if isinstance(cell, datetime.datetime | datetime.date):
        return cell.isoformat()[:10]
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    return str(cell)
