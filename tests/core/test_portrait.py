"""A real face, to see that the finder and the scale mean what they say.

The portrait that comes with scikit-image is in the public domain. Figures
measured with the same general-purpose face mesh, 2026-11; adult averages from
memory: pupils 54 to 74 mm apart (Dodgson 2004), outer eye corners about 87 mm
(Farkas), visible iris 11.7 mm.
"""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from skimage import data

from sulvet.core.anatomy.scale import iris_scale
from sulvet.core.video.finder import MeshFinder


class PortraitTests(SimpleTestCase):
    def test_an_astronauts_eyes_and_smile(self) -> None:
        faces = MeshFinder().find(np.ascontiguousarray(data.astronaut()))
        self.assertEqual(len(faces), 1)
        points = faces[0].points
        scale = iris_scale({k: v for k, v in points.items() if k.startswith("iris")})
        assert scale is not None
        pupils = [
            (points[f"iris_{side}_in"] + points[f"iris_{side}_out"]) / 2 for side in ("r", "l")
        ]
        apart = float(np.linalg.norm(pupils[1] - pupils[0])) * scale.mm_per_px
        self.assertTrue(54 <= apart <= 74, apart)
        self.assertAlmostEqual(apart, 61, delta=3)
        eyes = points["ex_l"] - points["ex_r"]
        self.assertAlmostEqual(float(np.linalg.norm(eyes)) * scale.mm_per_px, 86, delta=4)
        along = eyes / np.linalg.norm(eyes)
        up = np.array([along[1], -along[0]])
        middle = (points["ls"] + points["li"]) / 2
        rises = [
            np.degrees(np.arctan2((points[c] - middle) @ up, abs((points[c] - middle) @ along)))
            for c in ("ch_r", "ch_l")
        ]
        self.assertAlmostEqual(float(np.mean(rises)), 19, delta=3)
        self.assertLess(faces[0].covered, 0.3)
