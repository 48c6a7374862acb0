"""Room on the disk is asked for before a clip comes in, and said before it is gone."""

from __future__ import annotations

from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile

from sulvet.takes import space
from sulvet.takes.models import Take
from tests.base import BandTestCase


class SpaceTests(BandTestCase):
    def test_a_clip_that_does_not_fit_is_refused_and_a_full_disk_is_told(self) -> None:
        with patch.object(space, "_disk", return_value=(10**11, 10**10)):
            self.assertEqual(self.sent("get", "/api/band/")["warning"], "")
        with patch.object(space, "_disk", return_value=(10**11, 10**8)):
            clip = SimpleUploadedFile("a.mp4", b"x" * 1000)
            facts = {"clip": clip, "view": "front", "purpose": "check", "filmed_on": "2026-11-20"}
            answer = self.client.post(f"/api/students/{self.student.pk}/takes/", facts)
            said = self.sent("get", "/api/band/")
        self.assertEqual(answer.status_code, 507)
        self.assertIn("has 0.1 GB left", answer.json()["detail"])
        self.assertFalse(Take.objects.exists())
        self.assertIn("nearly full: 0.1 GB", said["warning"])
