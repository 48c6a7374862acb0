"""A real face, to see that the finder, the scale and following mean what they say.

The portrait that comes with scikit-image is in the public domain. Figures
measured with the same general-purpose face mesh, 2026-11; adult averages from
memory: pupils 54 to 74 mm apart (Dodgson 2004), outer eye corners about 87 mm
(Farkas), visible iris 11.7 mm.
"""

from __future__ import annotations

import tempfile
from functools import cache
from pathlib import Path

import av
import cv2
import numpy as np
from django.test import SimpleTestCase
from scipy.interpolate import RBFInterpolator
from skimage import data

from sulvet.core.anatomy.landmarks import FRONT_IDS
from sulvet.core.anatomy.marks import Floats
from sulvet.core.anatomy.scale import iris_scale
from sulvet.core.judgement.results import FAULT
from sulvet.core.review import review
from sulvet.core.video.clip import Image
from sulvet.core.video.face_mesh import MeshFinder
from sulvet.core.video.finder import Face
from sulvet.core.video.network_finder import default_finder
from tests.core.faces import called
from tests.core.judging import judged


def rise(points: dict[str, Floats]) -> float:
    """Corner rise by hand: against the eye corners, from the middle of the lips, degrees."""
    eyes = points["ex_l"] - points["ex_r"]
    along = eyes / np.linalg.norm(eyes)
    up = np.array([along[1], -along[0]])
    middle = (points["ls"] + points["li"]) / 2
    arms = [points[name] - middle for name in ("ch_r", "ch_l")]
    return float(np.mean([np.degrees(np.arctan2(a @ up, abs(a @ along))) for a in arms]))


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


SIDE, FPS, FRAMES = 750, 20, 76


class WarpedPortraitTests(SimpleTestCase):
    """Real skin, bent by a known amount, swaying, with noise and coarse coding."""

    def setUp(self) -> None:
        self.image: Image = np.asarray(
            cv2.resize(data.astronaut()[:300, 90:390], (SIDE, SIDE), interpolation=cv2.INTER_CUBIC),
            dtype=np.uint8,
        )
        self.finder = default_finder()
        self.face: Face = MeshFinder().find(self.image)[0]

    def bent(self, share: float) -> dict[str, Floats]:
        """All landmarks with both corners on their way up and out."""
        points = {n: p.copy() for n, p in self.face.points.items() if n in FRONT_IDS}
        points["ch_r"] += share * np.array([-7.5, -12.0])
        points["ch_l"] += share * np.array([7.5, -12.0])
        return points

    def picture(self, share: float) -> Image:
        still = [p for n, p in self.face.points.items() if n[:2] in ("ex", "en", "al", "sn")]
        border = [(x, y) for x in (0, SIDE // 2, SIDE) for y in (0, SIDE // 2, SIDE)]
        lips = [n for n in self.bent(0) if n[:2] in ("ch", "cp", "ls", "st", "li")]
        here = np.array([*(self.bent(0)[n] for n in lips), *still, *border], dtype=float)
        there = np.array([*(self.bent(share)[n] for n in lips), *still, *border], dtype=float)
        spline = RBFInterpolator(there, here - there, kernel="thin_plate_spline")
        grid = np.linspace(0, SIDE, 31)
        places = np.stack(np.meshgrid(grid, grid), axis=-1)
        moves = spline(places.reshape(-1, 2)).reshape(31, 31, 2).astype(np.float32)
        pixel = np.arange(SIDE, dtype=np.float32)
        fine = np.stack(np.meshgrid(pixel, pixel), axis=-1) * np.float32(30 / SIDE)
        offset = cv2.remap(moves, fine, None, cv2.INTER_CUBIC)
        source = np.stack(np.meshgrid(pixel, pixel), axis=-1) + offset
        return np.asarray(cv2.remap(self.image, source, None, cv2.INTER_CUBIC), dtype=np.uint8)

    def write(self, path: Path) -> list[dict[str, Floats]]:
        """Rest, then a smile held; returns the truth of each frame."""
        picture = cache(self.picture)
        rng = np.random.default_rng(1)
        truth = []
        with av.open(str(path), "w") as container:
            video = container.add_stream("libx264", rate=FPS)
            video.width = video.height = SIDE
            video.pix_fmt, video.options = "yuv420p", {"crf": "27", "preset": "veryfast"}
            for n in range(FRAMES):
                share = round(float(np.clip((n - 26) / 8, 0, 1)), 3)
                move = cv2.getRotationMatrix2D((SIDE / 2, SIDE / 2), 3 * np.sin(n / 17), 1.0)
                move[:, 2] += (7 * np.sin(n / 10), 4 * np.cos(n / 13))
                moved = cv2.warpAffine(
                    picture(share), move, (SIDE, SIDE), borderMode=cv2.BORDER_REPLICATE
                )
                noisy = np.clip(moved + rng.normal(0, 3, moved.shape), 0, 255).astype(np.uint8)
                container.mux(video.encode(av.VideoFrame.from_ndarray(noisy, format="rgb24")))
                truth.append({k: move[:, :2] @ p + move[:, 2] for k, p in self.bent(share).items()})
            container.mux(video.encode(None))
        return truth

    def test_a_bent_smile_is_followed_and_its_interval_holds_the_truth(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "portrait.mp4"
            truth = self.write(path)
            done = review(path, self.finder)
        self.assertEqual(done.needs, "")
        result = judged(done.marks, done.phases)
        # The bend reaches the cheeks as well: what is called there is at most to be watched.
        faults = [fault for fault, verdict in called(result) if verdict == FAULT]
        self.assertEqual(faults, ["smile"])
        rest, held = self.bent(0), self.bent(1)
        width = [float(np.linalg.norm(p["ch_l"] - p["ch_r"])) for p in (rest, held)]
        true = {"corner_rise": rise(held) - rise(rest), "mouth_width": width[1] / width[0]}
        for reading in result.readings:
            if reading.phase == "hold" and reading.measure in true:
                assert reading.value is not None and reading.uncertainty is not None
                off = abs(reading.value - true[reading.measure])
                self.assertLess(off, reading.uncertainty, reading)
        for name in ("ch_r", "ch_l"):
            track = done.marks.xy[:, done.marks.column(name)]
            error = track - np.array([t[name] for t in truth])
            error = np.linalg.norm(error - np.median(error[:20], axis=0), axis=1)
            self.assertLess(float(np.percentile(error, 95)) / width[0], 0.05, name)
