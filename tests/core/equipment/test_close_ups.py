"""Close-ups of reeds: edges, readings against exact truth, findings, the drawing, and photos."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path
from typing import Any

import av
import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageFilter
from skimage.measure import profile_line

from sulvet.core import sandbox
from sulvet.core.drawing.equipment import equipment_drawing
from sulvet.core.equipment.edges import Picture, fit
from sulvet.core.equipment.kinds import kind, kinds, tip_width
from sulvet.core.equipment.measure import measure
from sulvet.core.equipment.results import Measured, Value
from sulvet.core.equipment.work import OF_FAMILY
from sulvet.core.judgement.closeups import VIEW, judge_close_up
from sulvet.core.judgement.common import common
from sulvet.core.judgement.results import CANT_TELL, FAULT, WATCH
from sulvet.core.judgement.standards import shipped_standard, shipped_standards
from sulvet.core.simulate.script import load
from sulvet.core.video.clip import ClipError
from sulvet.core.video.photo import read_photo, write_jpeg
from sulvet.demo.closeups import CLOSE_UPS, DemoCloseUp
from tests import rendered

HEIC = Path(__file__).parents[2] / "painted" / "reed.heic"
NONE: frozenset[str] = frozenset()


def srgb(linear: np.ndarray[Any, Any]) -> np.ndarray[Any, Any]:
    """Code of linear light 0..1 (IEC 61966-2-1), 8 bit RGB."""
    code = np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055)
    return np.repeat(np.round(255 * code).astype(np.uint8)[..., None], 3, axis=2)


def stripe(at: float, wide: float, dark: float = 0.02, bright: float = 0.6) -> Any:
    """(60, 120, 3) a dark upright stripe that begins at x ``at``, blurred as a lens does: exactly
    the share of each pixel that it covers, then a box of three in linear light."""
    x = np.arange(-1.0, 121.0)
    covered = np.clip(np.minimum(x + 0.5, at + wide) - np.maximum(x - 0.5, at), 0, 1)
    light = bright + (dark - bright) * covered
    blurred = np.convolve(light, np.ones(3) / 3, "valid")
    return srgb(np.tile(blurred, (60, 1)))


class EdgeTests(SimpleTestCase):
    @settings(max_examples=60)
    @given(st.floats(50, 60), st.floats(3, 30), st.floats(-3, 3))
    def test_both_sides_of_a_thin_dark_thing_are_found(
        self, at: float, wide: float, off: float
    ) -> None:
        picture = Picture.of(stripe(at, wide), 10.0)
        bright = picture.colour(np.array([20.0, 20.0]), np.array([30.0, 20.0]), 3.0)
        for truth, way in ((at, 1.0), (at + wide, -1.0)):
            click = np.array([truth + off, 30.0])
            found = picture.edge(click, np.array([way, 0.0]), 5.0, 9.0, 6.0, bright, worth=0.4)
            assert found is not None
            self.assertAlmostEqual(click[0] + way * found[0], truth, delta=0.35)

    def test_nothing_is_found_where_nothing_is(self) -> None:
        flat = np.full((60, 120, 3), 130, np.uint8)
        noisy = (flat + np.random.default_rng(1).normal(0, 1.5, flat.shape)).astype(np.uint8)
        picture = Picture.of(noisy, 10.0)
        here, way = np.array([60.0, 30.0]), np.array([1.0, 0.0])
        self.assertIsNone(picture.edge(here, way, 5.0, 9.0, 6.0))
        known = picture.colour(here - 20.0 * way, here - 10.0 * way, 3.0)
        self.assertIsNone(picture.edge(here, way, 5.0, 9.0, 6.0, known))

    def test_a_strip_reads_the_picture_as_scikit_image_does(self) -> None:
        rng = np.random.default_rng(2)
        image = np.asarray(Image.fromarray(rng.integers(0, 255, (12, 12, 3), np.uint8))
                           .resize((90, 90), Image.Resampling.BICUBIC))  # fmt: skip
        picture = Picture.of(image, 10.0)
        at, way = np.array([44.0, 40.0]), np.array([0.8, 0.6])
        along, ours = picture.strip(at, way, 15.0, 0.0)
        start, end = at - 15 * way, at + 15 * way
        theirs = profile_line(
            np.asarray(picture.light, float), start[::-1], end[::-1], order=3, mode="nearest"
        )
        np.testing.assert_allclose(ours[::2], theirs[: len(ours[::2])], atol=1.5)
        self.assertEqual((along[0], along[-1]), (-15.0, 15.0))

    def test_a_line_through_points_bears_wild_ones(self) -> None:
        rng = np.random.default_rng(3)
        s = np.linspace(0, 400, 60)
        x = 12.0 + 0.03 * s + rng.normal(0, 0.2, 60)
        clean = fit(s, x, 1, 1.0)
        assert clean is not None
        np.testing.assert_allclose(clean.terms, np.polyfit(s, x, 1)[::-1], atol=0.05)
        x[10:18] += 25
        wild = fit(s, x, 1, 1.0)
        assert wild is not None
        np.testing.assert_allclose(wild.terms, [12.0, 0.03], atol=0.15)
        self.assertIsNone(fit(s[:3], x[:3], 1, 1.0))


def looked(name: str) -> tuple[Measured, frozenset[str], str]:
    """A close-up of the demo as it was marked: measured, what is hidden, and the instrument."""
    one = DemoCloseUp(name, 0)
    kept = one.marks()
    hidden = frozenset(kept["hidden"])
    image = np.asarray(Image.open(one.picture).convert("RGB"))
    standard = shipped_standard(load(one.script).instrument)
    marks = {n: (x, y) for n, (x, y) in kept["marks"].items()}
    return (
        measure(image, marks, hidden, standard.instrument, standard.family),
        hidden,
        standard.instrument,
    )


class TruthTests(SimpleTestCase):
    """Made-up reeds whose truth is known, marked by a hand that errs by four pixels."""

    def test_readings_lie_by_the_truth_and_findings_are_right(self) -> None:
        aims = {"reed_tip": 0.15, "reed_offset": 0.15, "reed_skew": 1.0, "ligature_gap": 0.5,
                "reed_gap": 0.3, "reed_opening": 0.03, "reed_roll": 6.0}  # fmt: skip
        for name, wanted in (
            ("aino-reed", []),
            ("carla-reed", ["reed-high"]),
            ("bram-reed", ["reed-crooked"]),
            ("noor-reed", ["ligature-over-cut"]),
            ("lorenz-reed", ["reed-open"]),
        ):
            truth = rendered.moment_truth(load(CLOSE_UPS / f"{name}.yaml"), 0).measures
            measured, hidden, instrument = looked(name)
            with self.subTest(name):
                judged = judge_close_up(measured, hidden, NONE, shipped_standard(instrument))
                self.assertEqual([f.fault for f in judged.findings if f.verdict == FAULT], wanted)
                self.assertGreaterEqual(len(measured.values), 2)
                for measure_, value in measured.values.items():
                    if measure_ in aims:
                        self.assertAlmostEqual(
                            value.value, truth[measure_], delta=aims[measure_], msg=measure_
                        )

    def test_a_picture_turned_on_its_side_tells_the_same(self) -> None:
        one = DemoCloseUp("aino-reed", 0)
        kept, image = one.marks(), np.asarray(Image.open(one.picture).convert("RGB"))
        marks = {n: (x, y) for n, (x, y) in kept["marks"].items()}
        upright = measure(image, marks, NONE, "clarinet", "single-reed")
        high = image.shape[0]
        lying = np.ascontiguousarray(np.rot90(image, -1))
        turned = {n: (high - 1 - y, x) for n, (x, y) in marks.items()}
        again = measure(lying, turned, NONE, "clarinet", "single-reed")
        for name, value in upright.values.items():
            self.assertAlmostEqual(again.values[name].value, value.value, delta=2 * value.sd)

    def test_marks_that_were_changed_over_are_taken_for_one_another(self) -> None:
        for name, pairs in (
            ("bram-reed", (("reed_r", "reed_l"), ("rail_r", "rail_l"))),
            (
                "lorenz-reed",
                (("blade_r", "blade_l"), ("gap_r", "gap_l"), ("gap_top", "gap_bottom")),
            ),
        ):
            one = DemoCloseUp(name, 0)
            kept, image = one.marks(), np.asarray(Image.open(one.picture).convert("RGB"))
            standard = shipped_standard(load(one.script).instrument)
            marks = {n: (x, y) for n, (x, y) in kept["marks"].items()}
            right = measure(image, marks, NONE, standard.instrument, standard.family)
            for a, b in pairs:
                marks[a], marks[b] = marks[b], marks[a]
            again = measure(image, marks, NONE, standard.instrument, standard.family)
            self.assertEqual(again.values, right.values, name)

    def test_what_is_not_marked_is_asked_for_and_what_is_covered_said(self) -> None:
        image = np.full((200, 200, 3), 90, np.uint8)
        none = measure(image, {}, NONE, "clarinet", "single-reed")
        self.assertEqual(none.values, {})
        self.assertIn("Mark: tip of the reed", none.unknown["reed_tip"])
        covered = measure(image, {}, frozenset({"gap_top"}), "bassoon", "double-reed")
        self.assertIn("Mark: ", covered.unknown["reed_gap"])
        near = {"reed_tip": (50.0, 50.0), "reed_r": (51.0, 55.0), "reed_l": (49.0, 55.0)}
        small = measure(image, near, NONE, "clarinet", "single-reed")
        self.assertIn("Film closer", small.unknown["reed_skew"])
        # Kept as plain data and back nothing is lost.
        measured, _, _ = looked("bram-reed")
        self.assertEqual(Measured.of(json.loads(json.dumps(measured.plain()))), measured)


class JudgementTests(SimpleTestCase):
    def test_each_band_has_its_fault_on_each_side(self) -> None:
        """Just beyond the limit a fault, within the margin to be watched, else nothing."""
        called = set()
        for standard in shipped_standards().values():
            for rule in common().rules:
                if not rule.applies(standard, VIEW, standard.schools[0].id):
                    continue
                condition = rule.all[0]
                band = standard.band(condition.measure, VIEW, standard.schools[0].id)
                if band is None:
                    continue
                sides = {"low": ("low",), "high": ("high",), "either": ("low", "high")}
                for side in sides[str(condition.outside)]:
                    edge, margin = getattr(band, side), getattr(band, f"watch_{side}")
                    way = 1 if side == "high" else -1
                    for far, verdict in ((margin + 0.1, FAULT), (0.5 * margin, WATCH), (-0.01, "")):
                        told = {condition.measure: Value(edge + way * far, 1e-4)}
                        judged = judge_close_up(Measured(told), NONE, NONE, standard)
                        found = [(f.fault, f.verdict) for f in judged.findings]
                        wanted = [(rule.fault, verdict)] if verdict else []
                        with self.subTest(
                            f"{standard.instrument} {condition.measure} {side} {far}"
                        ):
                            self.assertEqual(found, wanted)
                called.add(rule.fault)
        self.assertEqual(called, {r.fault for r in common().rules if r.view == VIEW})

    def test_what_lies_over_something_is_a_fault_that_an_eye_sees(self) -> None:
        clarinet = shipped_standard("clarinet")
        for hidden, wanted in (
            ({"mouth_tip"}, ["reed-high"]),
            ({"cut"}, ["ligature-over-cut"]),
            ({"rail_r"}, ["reed-crooked"]),
            # A reed over both sides is only wide for this mouthpiece.
            ({"rail_r", "rail_l"}, []),
        ):
            judged = judge_close_up(Measured(), frozenset(hidden), NONE, clarinet)
            self.assertEqual([f.fault for f in judged.findings], wanted)
            self.assertEqual({r.verdict for r in judged.readings}, {CANT_TELL})
        seen = frozenset({"reed-warped", "reed-chipped"})
        judged = judge_close_up(Measured(), frozenset({"cut"}), seen, clarinet)
        self.assertEqual([f.fault for f in judged.findings],
                         ["ligature-over-cut", "reed-chipped", "reed-warped"])  # fmt: skip

    def test_unsure_readings_are_watched_not_called(self) -> None:
        unsure = Measured({"reed_skew": Value(4.0, 1.5)})
        judged = judge_close_up(unsure, NONE, NONE, shipped_standard("saxophone"))
        self.assertEqual([(f.fault, f.verdict) for f in judged.findings], [("reed-crooked", WATCH)])

    def test_every_reed_instrument_has_all_it_takes(self) -> None:
        reeds = [s for s in shipped_standards().values() if s.family in kinds()]
        self.assertEqual({s.instrument for s in reeds},
                         {"clarinet", "bass-clarinet", "saxophone", "oboe", "bassoon"})  # fmt: skip
        for standard in reeds:
            self.assertGreater(tip_width(standard.instrument), 5.0)
            self.assertLessEqual(len(kind(standard.family).marks), 8)
            banded = {b.measure for b in standard.bands if b.view == VIEW}
            self.assertTrue(
                banded and banded <= set(OF_FAMILY[standard.family]), standard.instrument
            )
            for mark in kind(standard.family).marks:
                self.assertTrue(not mark.means or common().fault(mark.means))


class DrawingTests(SimpleTestCase):
    def drawn(self, name: str) -> Any:
        measured, hidden, instrument = looked(name)
        standard = shipped_standard(instrument)
        judged = judge_close_up(measured, hidden, NONE, standard)
        return equipment_drawing(measured, judged, standard), measured

    def test_a_reed_is_drawn_to_scale_with_its_zones(self) -> None:
        drawing, measured = self.drawn("aino-reed")
        spans = {s.measure: s for s in drawing.spans}
        self.assertEqual(set(spans), set(OF_FAMILY["single-reed"]))
        for name in ("reed_tip", "ligature_gap"):
            span = spans[name]
            tall = span.end[1] - span.start[1]
            want = measured.values[name].value * (1 if name == "reed_tip" else -1)
            self.assertAlmostEqual(tall, want, delta=0.2)
            self.assertFalse(span.out)
        zones = {z.part: np.array(z.points) for z in drawing.zones}
        band = shipped_standard("clarinet").band("reed_tip", VIEW, "gathered")
        assert band is not None
        self.assertAlmostEqual(zones["tip"][:, 1].max(), band.high)
        # The ligature's edge lies in its zone's lower part or under it: wholly below the cut.
        self.assertLess(spans["ligature_gap"].end[1], zones["ligature"][:, 1].max())
        reed = next(np.array(s.points) for s in drawing.strokes if s.part == "reed")
        self.assertAlmostEqual(float(np.ptp(reed[:, 0])), tip_width("clarinet"), delta=0.6)

    def test_what_is_out_is_drawn_heavy_and_double_reeds_as_ovals(self) -> None:
        drawing, _ = self.drawn("bram-reed")
        self.assertTrue(next(s for s in drawing.spans if s.measure == "reed_skew").out)
        drawing, measured = self.drawn("lorenz-reed")
        dark = next(np.array(s.points) for s in drawing.strokes if s.part == "dark")
        self.assertAlmostEqual(
            float(np.ptp(dark[:, 0])), measured.values["reed_gap_width"].value, delta=0.3
        )
        self.assertEqual([z.part for z in drawing.zones], ["least", "most"])
        self.assertTrue(next(s for s in drawing.spans if s.measure == "reed_gap").out)
        none = equipment_drawing(Measured(), judge_close_up(Measured(), NONE, NONE,
                                 shipped_standard("oboe")), shipped_standard("oboe"))  # fmt: skip
        self.assertIsNone(none)


class PhotoTests(SimpleTestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_photos_of_phones_come_in_upright(self) -> None:
        plain = Image.open(DemoCloseUp("aino-reed", 0).picture)
        wanted = np.asarray(plain.resize((540, 720)), float)
        exif = Image.Exif()
        exif[0x0112] = 6  # turned a quarter to the right to stand upright (EXIF 2.32, 4.6.4)
        turned = plain.resize((540, 720)).rotate(90, expand=True)
        turned.save(self.folder / "a.jpg", quality=95, exif=exif)
        plain.resize((540, 720)).save(self.folder / "b.png")
        for name in ("a.jpg", "b.png"):
            picture = read_photo(self.folder / name)
            self.assertEqual(picture.shape, (720, 540, 3))
            self.assertLess(np.abs(picture.astype(float) - wanted).mean(), 4)
        heic = read_photo(HEIC)
        self.assertEqual(heic.shape, (600, 450, 3))
        small = np.asarray(plain.resize((450, 600)), float)
        self.assertLess(np.abs(heic.astype(float) - small).mean(), 6)
        # Nothing of the place or camera goes with what is kept.
        write_jpeg(picture, self.folder / "kept.jpg")
        self.assertEqual(dict(Image.open(self.folder / "kept.jpg").getexif()), {})

    def test_of_a_clip_the_sharpest_frame_is_taken(self) -> None:
        whole = Image.open(DemoCloseUp("aino-reed", 0).picture).resize((540, 720))
        soft = whole.filter(ImageFilter.GaussianBlur(6))
        clip_ = self.folder / "clip.mp4"
        with av.open(str(clip_), "w") as out:
            stream = out.add_stream("libx264", rate=10)
            stream.width, stream.height, stream.pix_fmt = 540, 720, "yuv420p"
            stream.options = {"crf": "16"}
            # The hand is still only for a moment in the middle.
            for n in range(24):
                frame = av.VideoFrame.from_image(whole if 11 <= n <= 14 else soft)
                out.mux(stream.encode(frame))
            out.mux(stream.encode(None))
        self.assertEqual(
            sandbox.photo(clip_, self.folder / "out.jpg"), sandbox.Photo(540, 720, False)
        )
        taken = np.asarray(Image.open(self.folder / "out.jpg"), float)
        off = [np.abs(taken - np.asarray(one, float)).mean() for one in (whole, soft)]
        self.assertLess(off[0], 0.6 * off[1])

    def test_what_can_not_be_used_is_said_in_a_sentence(self) -> None:
        whole = DemoCloseUp("aino-reed", 0).picture.read_bytes()
        tiny = self.folder / "tiny.png"
        Image.new("RGB", (300, 200)).save(tiny)
        for name, data, told in (
            ("empty", b"", "empty"),
            ("text", b"not a picture at all\n" * 40, "neither a photo nor a clip"),
            ("cut", whole[: len(whole) // 2], "incomplete"),
            ("tiny", tiny.read_bytes(), "only 300 by 200"),
        ):
            path = self.folder / name
            path.write_bytes(data)
            with self.subTest(name), self.assertRaisesRegex(ClipError, told):
                sandbox.photo(path, self.folder / "out.jpg")
