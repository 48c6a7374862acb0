from __future__ import annotations

from pathlib import Path

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.video.face_models import VERTICES, find_meshes
from tests.core.video.open_pictures import pictures

#: What the package the models come from (mediapipe 0.10.21, single pictures, attention) answers.
ANSWERS = Path(__file__).with_name("face_mesh_answers.npz")


class FaceModelTests(SimpleTestCase):
    def test_they_answer_what_their_package_does_to_a_tenth_of_a_pixel(self) -> None:
        with np.load(ANSWERS) as answers:
            for name, picture in pictures().items():
                with self.subTest(name):
                    found = find_meshes(picture, 2)
                    self.assertEqual(len(found), len(answers[name]))
                    for mesh, answer in zip(found, answers[name], strict=True):
                        self.assertLess(np.abs(mesh - answer)[:, :2].max(), 0.1)
                        # How deep an iris lies is not refined.
                        self.assertLess(np.abs(mesh - answer)[:VERTICES, 2].max(), 0.1)
