"""Marks in and out, read back by others."""

from __future__ import annotations

import contextlib
import io
import json
import tempfile
from pathlib import Path

import numpy as np
from django.test import SimpleTestCase
from pycocotools.coco import COCO

from sulvet.core.formats import coco, report
from tests.core.faces import PHASES, take, with_corners
from tests.core.judging import judged


class CocoTests(SimpleTestCase):
    def test_an_independent_reader_sees_the_same_points(self) -> None:
        marks = take(with_corners(5, 1.1))
        marks.hidden[3, marks.column("ls")] = True
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "marks.json"
            path.write_text(json.dumps(coco.dump(marks, (640, 480), "a.mp4", PHASES)), "utf-8")
            with contextlib.redirect_stdout(io.StringIO()):
                reader = COCO(str(path))
        self.assertEqual(reader.loadCats(1)[0]["keypoints"], list(marks.ids))
        note = reader.loadAnns(reader.getAnnIds(imgIds=[4]))[0]
        points = np.array(note["keypoints"], dtype=float).reshape(-1, 3)
        np.testing.assert_allclose(points[:, :2], marks.xy[3], atol=1e-3)
        self.assertEqual(points[marks.column("ls"), 2], 1)
        self.assertEqual(points[marks.column("li"), 2], 2)

    def test_what_goes_out_comes_in(self) -> None:
        marks = take(with_corners(5, 1.1))
        marks.hidden[7, 2] = True
        marks.xy[9, 4] = np.nan
        document = json.loads(json.dumps(coco.dump(marks, (640, 480), "a.mp4", PHASES)))
        back, size = coco.load(document)
        self.assertEqual(size, (640, 480))
        self.assertEqual(coco.load_phases(document), PHASES)
        own = [back.column(name) for name in marks.ids]
        np.testing.assert_allclose(back.xy[:, own], marks.xy, atol=1e-3)
        known = np.isfinite(marks.xy[..., 0])
        np.testing.assert_array_equal(back.hidden[:, own][known], marks.hidden[known])
        np.testing.assert_array_equal(back.source[:, own][known], marks.source[known])

    def test_wrong_files_get_a_sentence(self) -> None:
        good = coco.dump(take(with_corners(0, 1)), (640, 480))
        for wrong, told in (
            ([], "not a COCO keypoints file"),
            ({**good, "categories": []}, "exactly one category"),
            ({**good, "categories": [{"keypoints": ["left_knee"]}]}, "None of the keypoint names"),
            ({**good, "images": []}, "no images"),
            ({**good, "images": [good["images"][0]] * 2}, "must both increase"),
            ({**good, "annotations": [{"image_id": 1}]}, "damaged near 'keypoints'"),
        ):
            with self.assertRaises(coco.MarksFileError) as refused:
                coco.load(wrong)
            self.assertIn(told, str(refused.exception))


class ReportTests(SimpleTestCase):
    def test_the_report_is_plain_json_with_its_promised_keys(self) -> None:
        marks = take(with_corners(9, 1.13))
        result = judged(marks)
        text = json.dumps(report.document({"clip": "a"}, marks, PHASES, result), allow_nan=False)
        back = json.loads(text)
        self.assertEqual(set(back), {"take", "marks", "phases", "readings", "findings"})
        self.assertEqual(set(back["marks"][0]), {"frame", "seconds", "points"})
        self.assertEqual(
            set(back["marks"][0]["points"]["ch_r"]), {"x", "y", "sigma", "source", "hidden"}
        )
        self.assertLessEqual(
            {"measure", "phase", "value", "uncertainty", "unit", "verdict"},
            set(back["readings"][0]),
        )
        self.assertLessEqual(
            {"fault", "verdict", "phase", "start", "end", "evidence"}, set(back["findings"][0])
        )
