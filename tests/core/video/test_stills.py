"""Photos as a clip: which of its frames show which photo."""

from __future__ import annotations

import tempfile
from pathlib import Path

import av
import numpy as np
from django.test import SimpleTestCase
from PIL import Image

from sulvet.core.phases import Phase
from sulvet.core.video.stills import write_stills


class StillsTests(SimpleTestCase):
    def test_rest_and_hold_have_no_frame_of_the_other_photo(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            photos = []
            for shade in (40, 200):
                photos.append(Path(name) / f"{shade}.png")
                Image.new("RGB", (400, 400), (shade,) * 3).save(photos[-1])
            told = write_stills(photos[0], photos[1], Path(name) / "clip.mp4")
            with av.open(str(Path(name) / "clip.mp4")) as clip:
                shown = [(f.time, f.to_ndarray(format="gray").mean()) for f in clip.decode(video=0)]
        seconds, bright = np.array(shown).T
        assert told.rest is not None
        rest, hold = (Phase(n, *at).holds(seconds) for n, at in
                      (("rest", told.rest), ("hold", told.hold)))  # fmt: skip
        self.assertTrue((bright[rest] < 100).all() and (bright[hold] > 150).all())
        self.assertEqual((rest.sum(), hold.sum()), (15, 15))
