"""The measured drawing is the marks, to scale, in the face frame."""

from __future__ import annotations

import math

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy.landmarks import CONTOUR_IDS
from sulvet.core.anatomy.marks import Floats, Marks
from sulvet.core.drawing.sheet import Drawing, FrameAnchors
from sulvet.core.drawing.zones import dragged, zones_of
from sulvet.core.judgement.schema import Edges
from sulvet.core.judgement.standards import Standard, shipped_standard, shipped_standards
from sulvet.core.phases import Phase, frames_of
from sulvet.demo.readings import load as load_reading
from tests.core import judging
from tests.core.faces import PHASES, moved, take, with_corners
from tests.marked import MARKED


def with_frames(
    marks: Marks, phases: list[Phase], instrument: str, view: str
) -> tuple[Drawing, FrameAnchors] | None:
    return judging.drawn(
        judging.judged(marks, phases, instrument, view), marks, phases, instrument, view
    )


def of(marks: Marks, phases: list[Phase], instrument: str, view: str) -> Drawing | None:
    found = with_frames(marks, phases, instrument, view)
    return None if found is None else found[0]


def drawn(rise: float, width: float, covered: tuple[str, ...] = ()) -> Drawing | None:
    marks = take(with_corners(rise, width))
    held = frames_of(PHASES, "hold", marks.seconds)
    for name in covered:
        marks.hidden[held, marks.column(name)] = True
    return of(marks, PHASES, "horn", "front")


def inside(zone: tuple[tuple[float, float], ...], place: tuple[float, float]) -> bool:
    """A point is inside a convex polygon if it lies on one side of all edges."""
    corners, (x, y) = np.array(zone), place
    ends = np.roll(corners, -1, axis=0)
    turn = (ends[:, 0] - corners[:, 0]) * (y - corners[:, 1]) - (ends[:, 1] - corners[:, 1]) * (
        x - corners[:, 0]
    )
    return bool((turn > 0).all() or (turn < 0).all())


class FrontDrawingTests(SimpleTestCase):
    def test_corners_stand_where_rise_and_width_say(self) -> None:
        drawing = drawn(10.0, 1.2)
        assert drawing is not None
        x, y = drawing.hold.points["ch_l"]
        self.assertAlmostEqual(x, 0.6, places=3)
        self.assertAlmostEqual(math.degrees(math.atan2(y, x)), 10.0, delta=0.02)
        self.assertEqual(drawing.rest.points["ch_r"], (-0.5, 0.0))
        # Up is up: the upper lip lies above the lower one.
        self.assertGreater(drawing.hold.points["ls"][1], drawing.hold.points["li"][1])

    def test_a_corner_in_its_band_lies_in_its_zone_and_a_smile_outside(self) -> None:
        for rise, width, within in ((0.0, 1.0, True), (2.0, 0.9, True), (9.0, 1.13, False)):
            drawing = drawn(rise, width)
            assert drawing is not None
            for name, zone in drawing.zones.items():
                self.assertEqual(inside(zone, drawing.hold.points[name]), within, (name, rise))

    def test_what_is_covered_is_named_and_without_a_rest_there_is_nothing_to_draw(self) -> None:
        drawing = drawn(0.0, 1.0, ("ls", "li", "ch_l"))
        assert drawing is not None
        self.assertLessEqual({"ls", "li", "ch_l"}, set(drawing.hold.covered))
        self.assertIn("ch_l", drawing.rest.points)
        self.assertIsNone(of(take(with_corners(0.0, 1.0)), PHASES[1:], "horn", "front"))

    def test_a_mark_of_the_picture_lands_on_the_sheet_whatever_head_and_camera_do(self) -> None:
        turn = np.array([[math.cos(0.2), -math.sin(0.2)], [math.sin(0.2), math.cos(0.2)]])

        def camera(seconds: Floats, points: Floats) -> Floats:
            return np.asarray(1.3 * points @ turn.T + 20 * seconds) if seconds > 1.5 else points

        marks = moved(take(with_corners(6.0, 1.1)), camera)
        found = with_frames(marks, PHASES, "horn", "front")
        assert found is not None
        drawing, frames = found
        held = np.flatnonzero(frames_of(PHASES, "hold", marks.seconds))[5]
        a, b, c, d, e, f = frames.moves[held]
        x, y = marks.xy[held, marks.column("ch_l")]
        on_sheet = (a * x + c * y + e, b * x + d * y + f)
        np.testing.assert_allclose(on_sheet, drawing.hold.points["ch_l"], atol=2e-3)


class ZoneTests(SimpleTestCase):
    """The zones of every standard on the plain face, and what dragging their edges means."""

    def test_the_middle_of_an_edge_is_its_figure_on_every_standard(self) -> None:
        for standard in shipped_standards().values():
            for school in standard.schools:
                for view in ("front", "side"):
                    self.edges(standard, school.id, view)

    #: Zone → which of its edges is which figure of which measure.
    EDGES = {
        "rim": {0: "low", 2: "high"},
        "chin": {0: "low", 2: "high"},
        "depth": {1: "low", 3: "high"},
        "ch_r": {0: "low", 1: "high", 2: "high", 3: "low"},
    }

    def edges(self, standard: Standard, school: str, view: str) -> None:
        drawing = zones_of(standard, view, school)
        if view == "front":
            self.assertIn("ch_r", drawing.zones)
        for zone, corners in drawing.zones.items():
            for n, figure in self.EDGES[zone.replace("_l", "_r")].items():
                middle = (np.array(corners[n]) + corners[(n + 1) % 4]) / 2
                told = dragged(standard, view, school, zone, (float(middle[0]), float(middle[1])))
                band = standard.band(told.measure, view, school)
                assert band is not None
                wanted = getattr(band, figure)
                if wanted is None:
                    # An open edge is not drawn in: dragging there moves the other one.
                    self.assertNotEqual(told.figure, figure)
                    continue
                self.assertEqual(told.figure, figure, (standard.instrument, zone, n))
                self.assertAlmostEqual(told.value, wanted, delta=0.02 * max(1, abs(wanted)))

    def test_a_dragged_edge_moves_the_zone_to_where_it_was_dropped(self) -> None:
        horn = shipped_standard("horn")
        corner = zones_of(horn, "front", "two-thirds").zones["ch_l"]
        outer = max(x for x, _ in corner) + 0.04
        told = dragged(horn, "front", "two-thirds", "ch_l", (outer, 0.0))
        self.assertEqual((told.measure, told.figure), ("mouth_width", "high"))
        band = horn.band("mouth_width", "front", "two-thirds")
        assert band is not None
        edges = Edges(low=band.low, high=told.value)
        wider = zones_of(horn.changed({band.key: edges}, 1), "front", "two-thirds")
        self.assertAlmostEqual(max(x for x, _ in wider.zones["ch_l"]), outer, delta=0.006)


class DemoDrawingTests(SimpleTestCase):
    """On what Sulvet read in the demo's own takes."""

    def test_a_side_take_shows_its_chin_in_the_zone_and_its_reed_at_its_depth(self) -> None:
        reading = load_reading(MARKED / "aino-side-0.npz")
        drawing = of(reading.marks, reading.phases, "clarinet", "side")
        assert drawing is not None
        # Right by the standard: the skin reaches into its zone, the lip ends in its own.
        contour = [drawing.hold.points[name] for name in CONTOUR_IDS]
        self.assertTrue(any(inside(drawing.zones["chin"], place) for place in contour))
        self.assertTrue(inside(drawing.zones["depth"], drawing.hold.points["mp_lip"]))
        # And where it bulges it does not.
        reading = load_reading(MARKED / "aino-side-14.npz")
        bulging = of(reading.marks, reading.phases, "clarinet", "side")
        assert bulging is not None
        contour = [bulging.hold.points[name] for name in CONTOUR_IDS]
        self.assertFalse(any(inside(bulging.zones["chin"], place) for place in contour))
        # The nose points ahead, the chin lies below.
        self.assertGreater(drawing.rest.points["prn"][0], drawing.rest.points["sn"][0])
        self.assertLess(drawing.rest.points["pg"][1], drawing.rest.points["li"][1])
