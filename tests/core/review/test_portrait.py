"""A real face, to see that the finder, the scale and following mean what they say.

The portrait that comes with scikit-image is in the public domain. Figures
measured with the same general-purpose face mesh, 2026-11; adult averages from
memory: pupils 54 to 74 mm apart (Dodgson 2004), outer eye corners about 87 mm
(Farkas), visible iris 11.7 mm.
"""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np
from django.test import SimpleTestCase
from skimage import data

from sulvet.core.anatomy.scale import iris_scale
from sulvet.core.judgement.results import FAULT
from sulvet.core.video.network_finder import default_finder
from tests import stored_readings
from tests.core.faces import called
from tests.core.judging import judged
from tests.portrait import Bend, bent, rise, width, write

#: Plain enough to be called whatever the last bits of the picture are.
SMILE = Bend(up=14.0, out=9.0)


class PortraitTests(SimpleTestCase):
    def test_an_astronauts_eyes_and_smile(self) -> None:
        faces = default_finder().find(np.ascontiguousarray(data.astronaut()))
        self.assertEqual((len(faces), faces[0].view, faces[0].equipment), (1, "front", ""))
        points = faces[0].points
        scale = iris_scale({k: v for k, v in points.items() if k.startswith("iris")})
        assert scale is not None
        pupils = [
            (points[f"iris_{side}_in"] + points[f"iris_{side}_out"]) / 2 for side in ("r", "l")
        ]
        apart = float(np.linalg.norm(pupils[1] - pupils[0])) * scale.mm_per_px
        self.assertTrue(54 <= apart <= 74, apart)
        self.assertAlmostEqual(apart, 61, delta=3)
        eyes = float(np.linalg.norm(points["ex_l"] - points["ex_r"])) * scale.mm_per_px
        self.assertAlmostEqual(eyes, 86, delta=4)
        self.assertAlmostEqual(rise(points), 19, delta=3)
        self.assertLess(faces[0].covered, 0.3)


class WarpedPortraitTests(SimpleTestCase):
    """Real skin, bent by a known amount, swaying, with noise and coarse coding."""

    def test_a_bent_smile_is_followed_and_its_interval_holds_the_truth(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "portrait.mp4"
            truth = write(path, SMILE)
            done = stored_readings.review(path)
        self.assertEqual(done.needs, "")
        result = judged(done.marks, done.phases)
        # The bend reaches the cheeks as well: what is called there is at most to be watched.
        faults = [fault for fault, verdict in called(result) if verdict == FAULT]
        self.assertEqual(faults, ["smile"])
        rest, held = bent(SMILE, 0), bent(SMILE, 1)
        true = {"corner_rise": rise(held) - rise(rest), "mouth_width": width(held) / width(rest)}
        for reading in result.readings:
            if reading.phase == "hold" and reading.measure in true:
                assert reading.value is not None and reading.uncertainty is not None
                off = abs(reading.value - true[reading.measure])
                self.assertLess(off, reading.uncertainty, reading)
        for name in ("ch_r", "ch_l"):
            track = done.marks.xy[:, done.marks.column(name)]
            error = track - np.array([t[name] for t in truth])
            error = np.linalg.norm(error - np.median(error[:20], axis=0), axis=1)
            self.assertLess(float(np.percentile(error, 95)) / width(rest), 0.05, name)
