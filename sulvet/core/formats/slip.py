"""The slip: one page that a student takes home, as PDF; a class set is one page each.

All that is told by colour is told by a word or a line as well, so that a school's grey
printer loses nothing.
"""

from __future__ import annotations

import datetime
import io
from pathlib import Path

from PIL import Image
from reportlab.lib.colors import Color, HexColor
from reportlab.lib.enums import TA_LEFT
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Paragraph

from sulvet.core.drawing.figure import Figure, PenPath, close, figure
from sulvet.core.drawing.sheet import Place
from sulvet.core.formats.qr import QUIET, modules
from sulvet.core.formats.slip_content import STOP, Picture, Slip
from sulvet.core.language import ENGLISH, inside, listed, on_day, said, spoken

FONTS = Path(__file__).parent / "fonts"
PAPERS = {"a4": A4, "letter": LETTER}
INK, FAINT, HAIR = HexColor("#231d15"), HexColor("#6a5f50"), HexColor("#bdb19a")
BRASS, ZONE, PAPER = HexColor("#8a5f12"), HexColor("#e9e2d2"), HexColor("#ffffff")
#: Width and dash of each pen, points.
PENS: dict[str, tuple[float, Color, tuple[float, ...]]] = {
    "rest": (0.8, FAINT, (3, 2.2)),
    "lips": (1.9, INK, ()),
    "skin": (1.1, INK, ()),
    "equipment": (2.2, BRASS, ()),
    "rim": (2.2, BRASS, ()),
    "inside": (2.0, BRASS, (2, 2)),
    "zone": (0.6, FAINT, (1, 1.4)),
    "axis": (0.6, FAINT, (6, 2, 1, 2)),
    "extension": (0.6, FAINT, ()),
    "dimension": (1.5, INK, ()),
    "tick": (1.6, INK, ()),
}
#: What is filled, and with what; a rim covers the lips under it.
FILLS: dict[str, Color] = {"zone": ZONE, "rim": PAPER}
MARGIN, GAP = 42.0, 12.0
#: Heights of the pictures, the first at which all fits on the page; height of a drawing that
#: stands below them; the least width beside them that is enough for it; the paper's own border.
TALLEST = (225.0, 200.0, 175.0, 150.0, 125.0, 100.0)
DRAWN, NARROWEST, LOWEST = 186.0, 200.0, 28.0
#: Side of the QR code with its quiet zone: 22 mm, some 0.5 mm a module.
CODE = 72.0


def pdf(slips: list[Slip], paper: str = "a4") -> bytes:
    """The slips as a PDF, a page each.

    paper  ``a4`` or ``letter``

    KeyError for any other paper.
    """
    _fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=PAPERS[paper], invariant=True)
    canvas.setTitle(slips[0].student if len(slips) == 1 else f"{len(slips)} slips")
    canvas.setCreator("Sulvet")
    for slip in slips:
        # Pictures as large as the page allows: tried out on a page that is thrown away.
        for tallest in TALLEST:
            trial = _Page(Canvas(io.BytesIO()), slip, PAPERS[paper], tallest)
            if trial.draw():
                break
        _Page(canvas, slip, PAPERS[paper], tallest).draw()
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _fonts() -> None:
    """Fonts that have the letters of most European names."""
    if "Serif" in pdfmetrics.getRegisteredFontNames():
        return
    for name, file in (
        ("Serif", "DejaVuSerif"), ("Serif-Bold", "DejaVuSerif-Bold"),
        ("Serif-Italic", "DejaVuSerif-Italic"), ("Sans", "DejaVuSans"),
        ("Sans-Bold", "DejaVuSans-Bold"),
    ):  # fmt: skip
        pdfmetrics.registerFont(TTFont(name, str(FONTS / f"{file}.ttf")))


def _style(font: str, size: float, leading: float, color: Color = INK) -> ParagraphStyle:
    return ParagraphStyle(
        f"{font}-{size}", fontName=font, fontSize=size, leading=leading, textColor=color,
        alignment=TA_LEFT,
    )  # fmt: skip


def _escaped(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _inner(sentence: str) -> str:
    """A sentence after a colon: in English it begins small."""
    return sentence[:1].lower() + sentence[1:] if spoken() == ENGLISH else sentence


def _day(date: datetime.date) -> str:
    return on_day(date, "MMMMEEEEd")


class _Page:
    """One page, drawn from top to bottom; ``y`` is where the next thing begins."""

    def __init__(
        self, canvas: Canvas, slip: Slip, size: tuple[float, float], tallest: float
    ) -> None:
        self.canvas, self.slip, self.tallest = canvas, slip, tallest
        self.wide, self.y = size[0] - 2 * MARGIN, size[1] - MARGIN
        self.drawn = False

    def draw(self) -> bool:
        """All of it; whether it fits on the page."""
        self.head()
        self.focus()
        self.pictures()
        self.drawing_and_drill()
        self.strip()
        return self.foot() >= LOWEST

    def text(
        self, words: str, style: ParagraphStyle, x: float = 0.0, wide: float | None = None,
        y: float | None = None,
    ) -> float:  # fmt: skip
        """Write a paragraph from ``y`` down; returns its height."""
        paragraph = Paragraph(_escaped(words), style)
        _, tall = paragraph.wrap(wide or self.wide, 1000)
        paragraph.drawOn(self.canvas, MARGIN + x, (self.y if y is None else y) - tall)
        return float(tall)

    def pen(self, name: str) -> None:
        """Take a pen up."""
        width, color, dash = PENS[name]
        self.canvas.setLineWidth(width)
        self.canvas.setStrokeColor(color)
        self.canvas.setDash(list(dash))
        self.canvas.setLineCap(1)
        self.canvas.setLineJoin(1)

    def rule(self, width: float = 0.6, color: Color = INK) -> None:
        """A line across the page."""
        self.canvas.setDash()
        self.canvas.setLineWidth(width)
        self.canvas.setStrokeColor(color)
        self.canvas.line(MARGIN, self.y, MARGIN + self.wide, self.y)

    def head(self) -> None:
        """Whose page it is."""
        slip = self.slip
        right = f"{slip.about}, {on_day(slip.made_on, 'yMMMMd')}"
        aside = self.canvas.stringWidth(right, "Sans", 9)
        tall = self.text(slip.student, _style("Serif-Bold", 19, 23), wide=self.wide - aside - GAP)
        self.canvas.setFont("Sans", 9)
        self.canvas.setFillColor(FAINT)
        self.canvas.drawRightString(MARGIN + self.wide, self.y - 17, right)
        self.y -= tall + 5
        self.rule(1.2)
        self.y -= 2.4
        self.rule(0.5)
        self.y -= 12

    def focus(self) -> None:
        """The one thing, in a child's words."""
        self.y -= self.text(said("Your focus: {focus}", focus=inside(self.slip.focus)),
                            _style("Sans", 9.5, 13, FAINT)) + 2  # fmt: skip
        self.y -= self.text(said("“{name}”", name=self.slip.child), _style("Serif", 16, 21)) + 10

    def pictures(self) -> None:
        """Then and now, side by side at one height, and how they differ."""
        pictures = self.slip.pictures
        if pictures:
            self.photographs(pictures)
        if self.slip.change:
            self.y -= self.text(self.slip.change, _style("Serif-Bold", 12.5, 17))
            self.y -= self.text(self.slip.figures, _style("Sans", 9, 13, FAINT)) + 8

    def photographs(self, pictures: tuple[Picture, ...]) -> None:
        """One or two, and the drawing beside them."""
        wide = (self.wide - GAP) / 2
        sizes = [Image.open(io.BytesIO(one.jpeg)).size for one in pictures]
        tall = min(self.tallest, *(wide * h / w for w, h in sizes))
        x = 0.0
        for one, (w, h) in zip(pictures, sizes, strict=True):
            across = tall * w / h
            self.canvas.drawImage(
                ImageReader(io.BytesIO(one.jpeg)), MARGIN + x, self.y - tall, across, tall
            )
            self.canvas.setDash()
            self.canvas.setLineWidth(0.7)
            self.canvas.setStrokeColor(INK)
            self.canvas.rect(MARGIN + x, self.y - tall, across, tall)
            self.text(one.words, _style("Sans", 9.5, 12), x, across, self.y - tall - 4)
            x += across + GAP
        caption = 16.0
        if self.slip.drawing is not None and self.wide - x >= NARROWEST:
            caption = max(caption, self.drawing(x, self.wide - x, tall))
            self.drawn = True
        self.y -= tall + caption + 8

    def drawing_and_drill(self) -> None:
        """What was measured beside what to do about it."""
        beside = self.slip.drawing is not None and not self.drawn
        half = (self.wide - GAP) / 2
        top = low = self.y
        if beside:
            low -= DRAWN + self.drawing(0.0, half, DRAWN)
        x, wide = (half + GAP, half) if beside else (0.0, self.wide)
        y = top
        for drill in self.slip.drills:
            words = (
                "{name}, 1 minute a day"
                if drill.minutes == 1
                else "{name}, {minutes} minutes a day"
            )
            y -= self.text(said(words, name=drill.name, minutes=drill.minutes),
                           _style("Serif-Bold", 13, 17), x, wide, y)  # fmt: skip
            y -= self.text(drill.how, _style("Sans", 9.5, 13), x, wide, y) + 2
            for number, step in enumerate(drill.steps, 1):
                self.text(f"{number}.", _style("Sans", 10.5, 14.5), x, 16, y)
                y -= self.text(step, _style("Sans", 10.5, 14.5), x + 17, wide - 17, y) + 2
            y -= self.text(said("Passed when: {passed}", passed=_inner(drill.passed)),
                           _style("Serif-Italic", 10, 13.5), x, wide, y) + 7  # fmt: skip
        self.y = min(y, low) - 8

    def drawing(self, x: float, wide: float, tall: float) -> float:
        """The measured drawing in a frame, with what its lines mean under it; how tall that is."""
        slip = self.slip
        assert slip.drawing is not None
        near = close(slip.drawing, slip.values)
        sheet = figure(near, near.hold, slip.values)
        left, low = MARGIN + x, self.y - tall
        self.canvas.saveState()
        self.canvas.setDash()
        self.canvas.setLineWidth(0.5)
        self.canvas.setStrokeColor(HAIR)
        self.canvas.rect(left, low, wide, tall)
        frame = self.canvas.beginPath()
        frame.rect(left, low, wide, tall)
        self.canvas.clipPath(frame, stroke=0, fill=0)
        (x0, y0, x1, y1), (a, b, c, d) = near.box, near.room
        box = (x0 - a, y0 - b, x1 + c, y1 + d)
        self.ink(sheet, _Fit(box, near.facing < 0, left, low, wide, tall))
        self.canvas.restoreState()
        words = said("Dashed: your face at rest. Dark: as you play.")
        if any(path.pen == "zone" for path in sheet.paths):
            words += " " + said("Shaded: where it should be.")
        return 3 + self.text(words, _style("Sans", 8, 10.5, FAINT), x, wide, low - 3)

    def ink(self, sheet: Figure, fit: _Fit) -> None:
        """Paths and texts on the page."""
        for path in sheet.paths:
            self.pen(path.pen)
            self.canvas.setFillColor(FILLS.get(path.pen, PAPER))
            self.canvas.drawPath(self.path(path, fit), stroke=1, fill=int(path.pen in FILLS))
        self.canvas.setFont("Sans-Bold", 11)
        for label in sheet.texts:
            x, y = fit.at(label.at)
            align = label.align
            if fit.mirrored and align != "middle":
                align = "start" if align == "end" else "end"
            wide = self.canvas.stringWidth(label.text, "Sans-Bold", 11)
            x -= {"start": 0.0, "middle": wide / 2, "end": wide}[align]
            x = min(max(x, fit.left + 3), fit.left + fit.wide - wide - 3)
            y = min(max(y, fit.low + 4), fit.low + fit.tall - 12)
            self.canvas.setFillColor(HexColor("#ffffff"))
            self.canvas.rect(x - 1.5, y - 2, wide + 3, 12, stroke=0, fill=1)
            self.canvas.setFillColor(INK)
            self.canvas.drawString(x, y, label.text)

    def path(self, inked: PenPath, fit: _Fit) -> object:
        """A path of the drawing as a path of the page."""
        path = self.canvas.beginPath()
        path.moveTo(*fit.at(inked.start))
        for a, b, end in inked.pieces:
            path.curveTo(*fit.at(a), *fit.at(b), *fit.at(end))
        if inked.closed:
            path.close()
        return path

    def strip(self) -> None:
        """Fourteen boxes to tick, and when to film again."""
        days = self.slip.days
        if not days:
            return
        self.y -= self.text(said("Tick each day you practise"), _style("Serif-Bold", 12, 16)) + 5
        aside = self.code() if self.slip.address else 0.0
        wide, tall = (self.wide - aside) / len(days), 40.0
        for n, day in enumerate(days):
            x = MARGIN + n * wide
            self.canvas.setStrokeColor(FAINT if day.off else INK)
            self.canvas.setLineWidth(1.8 if day.recheck else 0.8)
            self.canvas.setDash(2, 2) if day.off else self.canvas.setDash()
            self.canvas.rect(x + 1.5, self.y - tall, wide - 3, tall)
            self.canvas.setFillColor(FAINT if day.off else INK)
            self.canvas.setFont("Sans", 7.5)
            # Beside a code the boxes are narrower.
            named = on_day(day.date, "EEE")[: 2 if aside else 3]
            self.canvas.drawString(x + 4, self.y - 9, named)
            self.canvas.drawRightString(x + wide - 4, self.y - 9, str(day.date.day))
            self.canvas.setFont("Sans-Bold", 15)
            mark = "✓" if day.done else "–" if day.off else ""
            self.canvas.drawCentredString(x + wide / 2, self.y - 29, mark)
            if day.recheck:
                self.canvas.setFont("Sans-Bold", 6.5)
                self.canvas.drawCentredString(x + wide / 2, self.y - tall + 3.5, said("film"))
        self.y -= tall + 6
        if self.slip.rechecks:
            dates = listed([_day(date) for date in self.slip.rechecks])
            self.y -= (
                self.text(said("We film again on {dates}.", dates=dates), _style("Sans", 10.5, 14))
                + 2
            )

    def code(self) -> float:
        """The address as a QR code at the right of the strip; how much room it takes."""
        rows = modules(self.slip.address)
        size = CODE / (len(rows) + 2 * QUIET)
        left, top = MARGIN + self.wide - CODE, self.y + 21
        self.canvas.setFillColor(INK)
        for y, line in enumerate(rows):
            for x, dark in enumerate(line):
                if dark:
                    self.canvas.rect(
                        left + (x + QUIET) * size, top - (y + QUIET + 1) * size, size, size,
                        stroke=0, fill=1,
                    )  # fmt: skip
        self.canvas.setFont("Sans", 7)
        self.canvas.drawCentredString(left + CODE / 2, top - CODE - 3, said("on your phone"))
        return CODE + GAP / 2

    def foot(self) -> float:
        """What is more important than all the rest; where it ends."""
        words = " ".join((*self.slip.cautions, said(STOP)))
        style = _style("Sans", 8.5, 11.5)
        _, tall = Paragraph(_escaped(words), style).wrap(self.wide - 10, 1000)
        self.y = min(self.y - 6, MARGIN + tall)
        self.canvas.setDash()
        self.canvas.setLineWidth(2.5)
        self.canvas.setStrokeColor(INK)
        self.canvas.line(MARGIN, self.y, MARGIN, self.y - tall)
        self.text(words, style, 10, self.wide - 10)
        return float(self.y - tall)


class _Fit:
    """From the drawing's sheet to a frame of the page."""

    def __init__(
        self, box: tuple[float, float, float, float], mirrored: bool, left: float, low: float,
        wide: float, tall: float,
    ) -> None:  # fmt: skip
        x0, y0, x1, y1 = box
        self.left, self.low, self.wide, self.tall = left, low, wide, tall
        self.mirrored = mirrored
        self.scale = min((wide - 8) / (x1 - x0), (tall - 8) / (y1 - y0))
        self.x = left + (wide - self.scale * (x1 - x0)) / 2
        self.y = low + (tall - self.scale * (y1 - y0)) / 2
        self.x0, self.y0 = (-x1 if self.mirrored else x0), y0

    def at(self, place: Place) -> Place:
        """A place of the sheet on the page."""
        x, y = place
        across = -x if self.mirrored else x
        return self.x + (across - self.x0) * self.scale, self.y + (y - self.y0) * self.scale
