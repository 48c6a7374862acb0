"""The drawing as paper inks it; the same fixture is drawn by the browser (figure.test.ts)."""

from __future__ import annotations

import json
import math
import os
from dataclasses import replace
from math import hypot
from pathlib import Path
from typing import Any

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.drawing import front, side
from sulvet.core.drawing.figure import (
    PenPath,
    anchors_of,
    close,
    ellipse,
    figure,
    fits,
    inked,
    place_of,
    resolved,
)
from sulvet.core.drawing.sheet import Drawing, Shape, anchors_in
from sulvet.core.drawing.take import drawing_of
from sulvet.core.judgement.results import Judgement
from sulvet.core.phases import frames_of
from sulvet.demo.readings import load
from sulvet.demo.scenario import STUDENTS
from tests.core.judging import demo_case

FIXTURE = Path(__file__).resolve().parents[2] / "fixtures" / "figures.json"
#: Between them they show every dimension there is.
TAKES = (
    "edda-front-12", "edda-front-12, everything", "mirela-front-0", "aino-side-0",
    "aino-side-0, everything", "farid-side-9",
)  # fmt: skip
WHOLE = ", everything"
EDGES = ("box:left", "box:low", "box:right", "box:high")


def drawn(name: str) -> tuple[Drawing, Judgement]:
    """A demo take's drawing, and what it was drawn from."""
    case = demo_case(name)
    result, outcome = case.judged(), case.outcome
    found = drawing_of(result, outcome.marks, outcome.phases, case.standard, case.view, case.school)
    assert found is not None
    return found[0], result


def everything(drawing: Drawing) -> Drawing:
    """The same with a mouth on which every anchor is seen, those that are not there anywhere."""
    names = sorted(anchors_in(drawing.strokes, drawing.dimensions) - set(EDGES))
    made_up = {
        name: (round(math.cos(n), 4), round(math.sin(2 * n), 4)) for n, name in enumerate(names)
    }
    rest = replace(drawing.rest, points={**made_up, **drawing.rest.points})
    return replace(drawing, rest=rest, hold=Shape({**made_up, **drawing.hold.points}))


def expected(name: str) -> dict[str, Any]:
    """One drawing and where all of it lies, as paper has it."""
    drawing, _ = drawn(name.removesuffix(WHOLE))
    drawing = everything(drawing) if name.endswith(WHOLE) else drawing
    anchors = anchors_of(drawing, drawing.hold)

    def lines(strokes: Any) -> list[Any]:
        found = [(one, resolved(one.places, anchors)) for one in strokes]
        return [
            {"places": places, "pieces": inked(one, places).pieces} if places else None
            for one, places in found
        ]

    return {
        "name": name,
        "drawing": drawing.plain(),
        "strokes": lines(drawing.strokes),
        "dimensions": {
            d.measure: {"strokes": lines(d.strokes), "label": place_of(d.label.place, anchors),
                        "fits": fits(d, anchors, drawing)}
            for d in drawing.dimensions
        },
    }  # fmt: skip


class FixtureTests(SimpleTestCase):
    def test_the_fixture_is_what_is_drawn_today(self) -> None:
        """Written anew with SULVET_WRITE_FIXTURES=1 after the drawing has changed on purpose."""
        today = json.loads(json.dumps([expected(name) for name in TAKES]))
        if os.environ.get("SULVET_WRITE_FIXTURES"):
            FIXTURE.write_text(json.dumps(today, separators=(",", ":")), "utf-8")
        self.assertEqual(json.loads(FIXTURE.read_text("utf-8")), today)

    def test_it_shows_every_dimension(self) -> None:
        shown = {
            measure
            for one in json.loads(FIXTURE.read_text("utf-8"))
            for measure, d in one["dimensions"].items()
            if None not in d["strokes"]
        }
        every = {d.measure for d in (*front.DIMENSIONS, *side.DIMENSIONS)}
        self.assertEqual(every - shown, set())


def length(path: PenPath) -> float:
    """From the start of a path to its end, units."""
    end = path.pieces[-1][2]
    return hypot(end[0] - path.start[0], end[1] - path.start[1])


class FigureTests(SimpleTestCase):
    def test_a_depth_is_drawn_as_long_as_its_label_says(self) -> None:
        """Before, the slip drew from the lip to the ligature: 32.1 mm labelled 14.0 mm."""
        drawing, judged = drawn("aino-side-0")
        inside = frames_of(load(self.reading("aino-side-0")).phases, "hold", self.seconds)
        depth = float(np.nanmedian(judged.series["depth"].value[inside]))
        shown = figure(drawing, drawing.hold, {"depth": f"{depth:.1f} mm"})
        (line,) = [path for path in shown.paths if path.pen == "inside"]
        assert drawing.mm is not None
        self.assertAlmostEqual(length(line) / drawing.mm, depth, delta=0.05)

    def reading(self, name: str) -> Path:
        path = next(t for s in STUDENTS for t in s.takes if t.name == name).reading
        self.seconds = load(path).marks.seconds
        return path

    def test_only_the_dimensions_asked_for_are_drawn(self) -> None:
        drawing, _ = drawn("edda-front-12")
        bare = figure(drawing, drawing.hold, {})
        self.assertEqual((bare.texts, [p for p in bare.paths if p.pen == "tick"]), ((), []))
        told = figure(drawing, drawing.hold, {"mouth_width": "1.00", "depth": "12 mm"})
        self.assertEqual([text.text for text in told.texts], ["1.00"])
        (line,) = [path for path in told.paths if path.pen == "dimension"]
        corners = [drawing.hold.points[name][0] for name in ("ch_r", "ch_l")]
        self.assertEqual([line.start[0], line.pieces[-1][2][0]], corners)

    def test_what_lies_beyond_the_sheet_has_no_dimension(self) -> None:
        drawing, _ = drawn("mirela-front-0")
        cheek = drawing.hold.points["ck_l"]
        self.assertGreater(cheek[0], drawing.box[2] + drawing.room[2])
        beyond = figure(drawing, drawing.hold, {"cheek_out_l": "3.0 mm", "mouth_width": "1.00"})
        self.assertEqual([text.text for text in beyond.texts], ["1.00"])

    def test_what_is_covered_is_not_drawn_and_the_rest_face_is(self) -> None:
        drawing, _ = drawn("edda-front-12")
        self.assertIn("ls", drawing.hold.covered)
        anchors = anchors_of(drawing, drawing.hold)
        self.assertNotIn("ls", anchors)
        self.assertIn("rest:ls", anchors)

    def test_near_on_paper_nothing_of_the_mouth_lies_outside(self) -> None:
        drawing, _ = drawn("edda-front-12")
        near = close(drawing, {"mouth_width": "1.00"})
        left, low, right, high = near.box
        self.assertLess(right - left, drawing.box[2] - drawing.box[0])
        for name in ("ch_r", "ch_l", "rim_top", "rim_low"):
            x, y = near.hold.points[name]
            self.assertTrue(left <= x <= right and low <= y <= high, name)

    def test_an_ellipse_of_four_pieces_is_round(self) -> None:
        # The usual approximation is off by at most 0.027 % of the radius (from memory).
        path = ellipse("rim", 0.0, 0.0, 1.0, 1.0)
        start = np.array(path.start)
        for a, b, end in path.pieces:
            t = np.linspace(0, 1, 50)[:, None]
            p = ((1 - t) ** 3 * start + 3 * t * (1 - t) ** 2 * np.array(a)
                 + 3 * t**2 * (1 - t) * np.array(b) + t**3 * np.array(end))  # fmt: skip
            self.assertLess(np.abs(np.linalg.norm(p, axis=1) - 1).max(), 0.00028)
            start = np.array(end)
        np.testing.assert_allclose(start, path.start)
