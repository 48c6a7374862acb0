"""Whole takes with exact truth: what is found, followed, measured and said."""

from __future__ import annotations

import functools
import json
import tempfile
import time
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import replace
from io import StringIO
from pathlib import Path

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.analysis import Material, analyse
from sulvet.core.anatomy import landmarks
from sulvet.core.anatomy.landmarks import BY_ID, FRONT_IDS, REQUIRED
from sulvet.core.anatomy.marks import FOUND, PLACED, Floats
from sulvet.core.formats import coco
from sulvet.core.judgement.results import CANT_TELL, FAULT, Judgement
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.measures.borrowed_rest import rest_of, with_rest
from sulvet.core.review import NO_REST_SEEN, TWO_FACES, Reviewed, out_of_picture, read, review
from sulvet.core.review.pipeline import track
from sulvet.core.shell import main
from sulvet.core.video.clip import Image, Reader
from sulvet.core.video.finder import Face
from sulvet.core.video.keyframes import Keyframe
from sulvet.core.video.network_finder import default_finder
from sulvet.core.video.track import retrack_landmarks
from tests import stored_readings
from tests.clips import CLOSE_UP, NEUTRAL, NO_REST, RIM, ROLLED, SIZE, SMILE, clip, short
from tests.core.faces import called
from tests.core.judging import judged
from tests.painted.face import Pose
from tests.painted.take import Script, true_marks
from tests.stored_readings import Reading

CORNERS = ("ch_r", "ch_l")
#: Just long enough to be read.
BRIEF = short(Pose(), rest=0.8, hold=0.6, after=0.1)
LEAST = short(Pose(rise=8.0, width=1.12), seed=5)


@functools.cache
def reviewed(script: Script) -> Reading:
    return stored_readings.review(clip(script))


def judgement(done: Reading | Reviewed) -> Judgement:
    return judged(done.marks, done.phases)


def faults(result: Judgement) -> list[str]:
    """What is called; a rim that was found without a mark may be one to watch."""
    return [fault for fault, verdict in called(result) if verdict == FAULT]


def reading(result: Judgement, measure: str) -> float:
    value = next(r.value for r in result.readings if (r.measure, r.phase) == (measure, "hold"))
    assert value is not None
    return value


def drift(done: Reading, truth: Floats, name: str) -> Floats:
    """Movement of the error since rest, % of the true mouth width at rest."""
    column = FRONT_IDS.index(name)
    error = done.marks.xy[:, column] - truth[:, column]
    ends = [truth[0, FRONT_IDS.index(corner)] for corner in CORNERS]
    width = float(np.linalg.norm(ends[1] - ends[0]))
    return np.asarray(np.linalg.norm(error - np.median(error[:20], axis=0), axis=1) / width * 100)


class DoneWhenTests(SimpleTestCase):
    """A smile is found; the same face neutral, rolled, or under a rim has none."""

    def test_a_smile_is_a_fault_with_evidence_near_the_truth(self) -> None:
        result = judgement(reviewed(SMILE))
        smile = result.findings[0]
        self.assertEqual((smile.fault, smile.verdict), ("smile", FAULT))
        # The aim without a mark is two degrees; patches of moving skin are followed a tenth short.
        self.assertAlmostEqual(reading(result, "corner_rise"), 9.0, delta=1.1)
        self.assertAlmostEqual(reading(result, "mouth_width"), 1.13, delta=0.02)
        assert smile.start is not None and smile.end is not None
        self.assertLess(abs(smile.start - 1.8), 0.4)
        self.assertLess(abs(smile.end - 3.8), 0.4)

    def test_neutral_rolled_and_under_a_rim_have_no_finding(self) -> None:
        for script, lean in ((NEUTRAL, 0.0), (ROLLED, 12.0), (RIM, 0.0)):
            with self.subTest(script.held):
                result = judgement(reviewed(script))
                self.assertEqual(faults(result), [])
                self.assertAlmostEqual(reading(result, "corner_rise"), 0.0, delta=1.0)
                self.assertAlmostEqual(reading(result, "mouth_width"), 1.0, delta=0.015)
                self.assertAlmostEqual(reading(result, "head_roll"), lean, delta=1.5)

    def test_intervals_hold_the_truth(self) -> None:
        for script in (SMILE, NEUTRAL, ROLLED, RIM, LEAST):
            true = {"corner_rise": script.held.rise, "mouth_width": script.held.width}
            for r in judgement(reviewed(script)).readings:
                if r.phase == "hold" and r.measure in true:
                    assert r.value is not None and r.uncertainty is not None
                    self.assertLess(abs(r.value - true[r.measure]), r.uncertainty, r)

    def test_the_least_smile_that_must_be_seen(self) -> None:
        self.assertEqual(called(judgement(reviewed(LEAST))), [("smile", FAULT)])

    def test_a_smile_beside_a_rim_is_seen_at_the_corners(self) -> None:
        result = judgement(reviewed(short(Pose(rise=11.0, width=1.15, rim=1.0))))
        self.assertEqual(faults(result), ["smile"])

    def test_phases_are_suggested_where_they_are(self) -> None:
        phases = {p.name: p for p in reviewed(SMILE).phases}
        self.assertLess(phases["rest"].end, 1.5)
        self.assertAlmostEqual(phases["hold"].start, 1.8, delta=0.25)
        self.assertAlmostEqual(phases["hold"].end, 3.8, delta=0.25)


class FollowingTests(SimpleTestCase):
    def test_corners_stay_on_the_skin(self) -> None:
        for script, most in ((NEUTRAL, 0.6), (ROLLED, 0.6), (RIM, 1.0), (SMILE, 1.2)):
            truth = true_marks(script, SIZE)
            for name in CORNERS:
                worst = float(np.percentile(drift(reviewed(script), truth, name), 95))
                self.assertLess(worst, most, f"{name} {script.held}")

    def test_lips_under_a_rim_are_hidden_and_corners_are_not(self) -> None:
        done = reviewed(RIM)
        held = (done.marks.seconds > 1.9) & (done.marks.seconds < 3.7)
        hidden = {n: done.marks.hidden[held, done.marks.column(n)].mean() for n in FRONT_IDS}
        for name in ("ls", "li", "sto_s", "sto_i"):
            self.assertGreater(hidden[name], 0.9, name)
        for name in CORNERS:
            self.assertLess(hidden[name], 0.1, name)

    def test_the_found_rest_face_is_marked_as_found_and_the_rest_as_followed(self) -> None:
        done = reviewed(SMILE)
        self.assertTrue(all(key.source == FOUND for key in done.keys))
        self.assertEqual(len({key.frame for key in done.keys}), 1)
        column = done.marks.column("ch_r")
        self.assertEqual((done.marks.source[:, column] == FOUND).sum(), 1)

    def test_a_moved_mark_wins_exactly_and_moves_nothing_else(self) -> None:
        done = reviewed(NEUTRAL)
        assert done.stabilised is not None
        frame, place = 36, done.marks.xy[36, done.marks.column("ch_r")] + (3.0, -2.0)
        key = Keyframe("ch_r", frame, float(place[0]), float(place[1]), 0.8, PLACED)
        after = retrack_landmarks(done.stabilised, done.marks, ("ch_r",), [*done.keys, key])
        column = after.column("ch_r")
        np.testing.assert_array_equal(after.xy[frame, column], place)
        others = [n for n in range(len(FRONT_IDS)) if n != column]
        np.testing.assert_array_equal(after.xy[:, others], done.marks.xy[:, others])
        # On from there the track is shifted by as much; at rest it stays as it was found,
        # and what lies between comes from both sides.
        shift = after.xy[:, column] - done.marks.xy[:, column]
        np.testing.assert_allclose(np.median(shift[frame:], axis=0), (3.0, -2.0), atol=0.6)
        found = done.keys[0].frame
        np.testing.assert_allclose(shift[: found + 1], 0.0, atol=1e-9)
        middle = shift[(found + frame) // 2]
        self.assertTrue(0.5 < middle[0] < 2.5 and -2.0 < middle[1] < -0.3, middle)
        # Two ways of seeing a corner met: the change from rest is less certain.
        self.assertGreater(after.drift[frame + 5, column], done.marks.drift[frame + 5, column] + 1)

    def test_a_mark_placed_at_rest_stands_in_place_of_the_found_one(self) -> None:
        done = reviewed(NEUTRAL)
        assert done.stabilised is not None
        found = done.keys[0].frame
        place = done.marks.xy[found + 4, done.marks.column("ch_r")] + (3.0, -2.0)
        key = Keyframe("ch_r", found + 4, float(place[0]), float(place[1]), 0.8, PLACED)
        after = retrack_landmarks(done.stabilised, done.marks, ("ch_r",), [*done.keys, key])
        shift = (after.xy - done.marks.xy)[:, after.column("ch_r")]
        np.testing.assert_allclose(np.median(shift, axis=0), (3.0, -2.0), atol=0.6)

    def test_an_eye_corner_moved_on_one_frame_is_moved_on_all(self) -> None:
        done = reviewed(NEUTRAL)
        assert done.stabilised is not None
        place = done.marks.xy[54, done.marks.column("ex_r")] + (2.0, 1.0)
        key = Keyframe("ex_r", 54, float(place[0]), float(place[1]), 0.8, PLACED)
        after = retrack_landmarks(done.stabilised, done.marks, ("ex_r",), [*done.keys, key])
        shift = (after.xy - done.marks.xy)[:, after.column("ex_r")]
        np.testing.assert_allclose(np.median(shift, axis=0), (2.0, 1.0), atol=0.3)

    def test_hiding_a_found_mark_from_a_frame_on_leaves_what_came_before(self) -> None:
        done = reviewed(NEUTRAL)
        assert done.stabilised is not None
        x, y = done.marks.xy[48, done.marks.column("ch_r")]
        key = Keyframe("ch_r", 48, float(x), float(y), 0.8, PLACED, hidden=True)
        after = retrack_landmarks(done.stabilised, done.marks, ("ch_r",), [*done.keys, key])
        hidden = after.hidden[:, after.column("ch_r")]
        self.assertTrue(hidden[48:].all())
        self.assertFalse(hidden[:48].any())
        np.testing.assert_array_equal(
            after.xy[:48, after.column("ch_r")], done.marks.xy[:48, done.marks.column("ch_r")]
        )

    def test_a_landmark_followed_alone_comes_out_as_among_others(self) -> None:
        done = reviewed(SMILE)
        assert done.stabilised is not None
        for name in ("ch_l", "li", "al_r"):
            again = retrack_landmarks(done.stabilised, done.marks, (name,), done.keys)
            np.testing.assert_array_equal(again.xy, done.marks.xy)
            np.testing.assert_array_equal(again.sigma, done.marks.sigma)

    def test_a_mark_hidden_by_the_teacher_stays_hidden_up_to_the_next(self) -> None:
        done = reviewed(NEUTRAL)
        assert done.stabilised is not None
        x, y = done.marks.xy[0, done.marks.column("ch_r")]
        keys = [
            Keyframe("ch_r", 6, float(x), float(y), 0.8, PLACED),
            Keyframe("ch_r", 30, float(x), float(y), 0.8, PLACED, hidden=True),
            Keyframe("ch_r", 54, float(x), float(y), 0.8, PLACED),
        ]
        hidden = retrack_landmarks(done.stabilised, done.marks, ("ch_r",), keys).hidden[
            :, FRONT_IDS.index("ch_r")
        ]
        self.assertTrue(hidden[30:54].all())
        self.assertFalse(hidden[54:].any())
        self.assertFalse(hidden[:24].any())

    def test_reading_a_clip_twice_gives_the_same_marks(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            again = review(clip(BRIEF), default_finder("brass"), keep=Path(folder))
        np.testing.assert_array_equal(again.marks.xy, reviewed(BRIEF).marks.xy)


class TeachersMarksTests(SimpleTestCase):
    def test_a_close_up_is_read_without_a_mark_and_surer_with_marks(self) -> None:
        path = clip(CLOSE_UP)
        first = stored_readings.review(path)
        self.assertEqual(first.needs, "")
        alone = judgement(first)
        self.assertEqual(faults(alone), ["smile"])
        rise = next(r for r in alone.readings if (r.measure, r.phase) == ("corner_rise", "hold"))
        assert rise.value is not None and rise.uncertainty is not None
        self.assertLess(abs(rise.value - 9.0), rise.uncertainty)
        truth = true_marks(CLOSE_UP, SIZE)
        rng = np.random.default_rng(3)
        keys = [
            Keyframe(name, 5, float(x), float(y), 0.8, PLACED)
            for name in REQUIRED
            for x, y in [truth[5, FRONT_IDS.index(name)] + rng.normal(0, 0.8, 2)]
        ]
        done = stored_readings.review(path, keys)
        self.assertEqual(done.needs, "")
        result = judgement(done)
        self.assertEqual(called(result), [("smile", FAULT)])
        self.assertAlmostEqual(reading(result, "corner_rise"), 9.0, delta=1.5)

    def test_a_mark_that_does_not_show_costs_only_what_needs_it(self) -> None:
        path, truth = clip(CLOSE_UP), true_marks(CLOSE_UP, SIZE)
        with tempfile.NamedTemporaryFile(suffix=".gray") as pictures:
            footage = read(path, pictures, None)
            for gone in REQUIRED:
                keys = [
                    Keyframe(name, 5, float(x), float(y), 0.8, PLACED, hidden=name == gone)
                    for name in REQUIRED
                    for x, y in [truth[5, FRONT_IDS.index(name)] * (name != gone)]
                ]
                done = track(footage, keys, None, None)
                if gone in landmarks.LEAST["front"]:
                    self.assertIn(BY_ID[gone].label, done.needs)
                    self.assertEqual(out_of_picture(keys[:3], "front"), "", "not all said yet")
                    continue
                self.assertEqual(done.needs, "", gone)
                for told in judgement(done).readings:
                    self.assertTrue(told.value is not None or told.reason, (gone, told))


class _Seen:
    """Stands in for the finder: the same faces on every picture."""

    def __init__(self, *faces: Face) -> None:
        self.faces = list(faces)

    def find(self, rgb: Image) -> list[Face]:
        return self.faces


class _Slow:
    """Sees faces later than frames are decoded, and keeps what it was shown."""

    def __init__(self) -> None:
        self.shown: list[Image] = []

    def find(self, rgb: Image) -> list[Face]:
        time.sleep(0.02)
        self.shown.append(rgb[::16, ::16].copy())
        return [Face({"sn": np.array([len(self.shown) - 1.0, 0.0])}, 100.0, 0.0)]


class ReadTests(SimpleTestCase):
    def test_a_face_belongs_to_the_frame_it_was_seen_on(self) -> None:
        path, finder = clip(ROLLED), _Slow()
        frames = [f.picture("rgb24")[::16, ::16] for f in Reader(path).frames()]
        with tempfile.NamedTemporaryFile() as pictures:
            faces = read(path, pictures, finder).faces
        self.assertEqual(len(faces), len(finder.shown))
        self.assertGreater(len(faces), 10)
        for row, found in faces.items():
            np.testing.assert_array_equal(
                finder.shown[int(found[0].points["sn"][0])], frames[row], f"row {row}"
            )


class NeedsTests(SimpleTestCase):
    def face(self, width: float = 300.0, covered: float = 0.0) -> Face:
        truth = true_marks(NEUTRAL, SIZE)[0]
        return Face({n: truth[i] for i, n in enumerate(FRONT_IDS)}, width, covered)

    def test_two_students_in_one_picture(self) -> None:
        finder = _Seen(self.face(), self.face(200.0))
        self.assertEqual(review(clip(NEUTRAL), finder).needs, TWO_FACES)

    def test_a_small_face_in_the_background_is_not_a_second_student(self) -> None:
        finder = _Seen(self.face(), self.face(80.0))
        self.assertEqual(review(clip(NEUTRAL), finder).needs, "")

    def test_a_take_that_begins_with_the_mouthpiece_on_has_no_rest(self) -> None:
        finder = _Seen(self.face(covered=0.8))
        self.assertEqual(review(clip(NEUTRAL), finder).needs, NO_REST_SEEN)


class BorrowedRestTests(SimpleTestCase):
    def test_a_clip_without_a_rest_is_read_against_another_takes(self) -> None:
        self.assertEqual(stored_readings.review(clip(NO_REST)).needs, NO_REST_SEEN)
        done = stored_readings.review(clip(NO_REST), rest_known=True)
        self.assertEqual((done.needs, done.no_rest), ("", True))
        own = reviewed(RIM)
        standard = shipped_standard("horn")
        made = analyse(
            Material(done.marks, done.phases, "front", rest=rest_of(own.marks, own.phases)),
            standard, standard.school(None).id,
        )  # fmt: skip
        self.assertEqual([f.fault for f in made.findings if f.verdict != CANT_TELL], [])
        told = {r.measure: r for r in made.readings if r.phase == "hold"}
        for name, true in (("corner_rise", 0.0), ("mouth_width", 1.0), ("rim_offset", 0.0)):
            value, half_width = told[name].value, told[name].uncertainty
            assert value is not None and half_width is not None
            self.assertLess(abs(value - true), half_width, name)
        self.assertEqual(len(made.frames.moves), len(done.marks))
        assert made.stills is not None
        self.assertTrue(all(one.frame < len(done.marks) for one in made.stills.frames))

    def test_a_borrowed_rest_gives_the_same_reading_less_sure(self) -> None:
        smile, neutral = reviewed(SMILE), reviewed(NEUTRAL)
        hold = [phase for phase in smile.phases if phase.name == "hold"]
        rows = np.flatnonzero(hold[0].holds(smile.marks.seconds))
        rest = rest_of(neutral.marks, neutral.phases)
        assert rest is not None
        alone = judged(*with_rest(smile.marks.rows(rows), hold, rest))
        own = judgement(smile)
        self.assertAlmostEqual(
            reading(alone, "corner_rise"), reading(own, "corner_rise"), delta=0.8
        )
        self.assertAlmostEqual(
            reading(alone, "mouth_width"), reading(own, "mouth_width"), delta=0.02
        )
        # The teacher's own letter wins over what was borrowed.
        own_rest = (smile.marks, smile.phases)
        self.assertEqual(with_rest(*own_rest, rest), own_rest)
        sure = [
            next(
                r.uncertainty
                for r in one.readings
                if (r.measure, r.phase) == ("corner_rise", "hold")
            )
            for one in (own, alone)
        ]
        assert sure[0] is not None and sure[1] is not None
        self.assertGreater(sure[1], 1.2 * sure[0])


class ShellTests(SimpleTestCase):
    def run_shell(self, *words: str) -> tuple[int, str]:
        said = StringIO()
        with redirect_stdout(said), redirect_stderr(said):
            code = main(list(words))
        return code, said.getvalue()

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def marks_file(self, phases: bool) -> str:
        truth = true_marks(SMILE, SIZE)
        done = reviewed(SMILE)
        xy = np.full_like(done.marks.xy, np.nan)
        xy[:, [done.marks.column(name) for name in FRONT_IDS]] = truth
        marks = replace(done.marks, xy=xy, hidden=np.zeros_like(done.marks.hidden))
        document = coco.dump(marks, SIZE, phases=SMILE.phases if phases else ())
        for note in document["annotations"]:
            del note["sigma"], note["source"]  # as a file made elsewhere
        path = self.folder / "marks.json"
        path.write_text(json.dumps(document), "utf-8")
        return str(path)

    def test_measure_reads_marks_made_elsewhere_with_or_without_phases(self) -> None:
        for phases in (True, False):
            out = self.folder / "out.json"
            code, said = self.run_shell(
                "measure", self.marks_file(phases), "--instrument", "horn", "--view", "front",
                "--json", str(out),
            )  # fmt: skip
            self.assertEqual(code, 0, said)
            self.assertIn("smile: fault in hold", said)
            self.assertIn("One thing to fix: smile.", said)
            written = json.loads(out.read_text("utf-8"))
            rise = next(
                r
                for r in written["readings"]
                if (r["measure"], r["phase"]) == ("corner_rise", "hold")
            )
            self.assertAlmostEqual(rise["value"], 9.0, delta=0.1)

    def test_wrong_words_get_a_sentence_and_status_2(self) -> None:
        front = ["--instrument", "horn", "--view", "front"]
        text = self.folder / "letter.mp4"
        text.write_text("Dear parents", "utf-8")
        for words, told in (
            (["review", "nowhere.mp4", *front], "There is no file"),
            (["measure", str(text), *front], "is not a JSON file"),
            (["measure", self.marks_file(True), *front, "--school", "x"], "no embouchure style"),
            (["measure", self.marks_file(True), *front, "--rest", "2-1"], "the later one last"),
            (["measure", self.marks_file(True), "--instrument", "kazoo", "--view", "front"],
             "Unknown instrument"),
        ):  # fmt: skip
            code, said = self.run_shell(*words)
            self.assertEqual(code, 2, said)
            self.assertIn(told, said)
