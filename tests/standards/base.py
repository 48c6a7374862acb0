"""A teacher's own standard, over HTTP."""

from __future__ import annotations

from typing import Any

from django.urls import reverse

from tests.base import BandTestCase

WIDTH = "mouth_width|front|hold|"


class StandardCase(BandTestCase):
    WIDE = {"low": 0.5, "high": 0.99, "watch_low": 0.0, "watch_high": 0.0}

    def setUp(self) -> None:
        super().setUp()
        self.address = reverse("own-standard", args=["horn"])

    def page(self) -> Any:
        return self.sent("get", self.address)

    def band(self, page: Any, key: str = WIDTH) -> Any:
        return next(b for b in page["bands"] if b["key"] == key)

    def save(self, parameters: dict[str, Any], expect: int = 200, words: str = "") -> Any:
        body = {"bands": {WIDTH: parameters}, "words": words}
        return self.sent("put", self.address, body, expect)
