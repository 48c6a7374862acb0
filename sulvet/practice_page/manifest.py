"""What a phone wants to know to put a student's page on its home screen."""

from __future__ import annotations

import json

from django.templatetags.static import static

from sulvet.core.language import said


def manifest(start: str) -> str:
    """A web application manifest (W3C) that begins at one path and leaves it for nothing else."""
    return json.dumps({
        "name": said("Sulvet: my practice"),
        "short_name": said("My practice"),
        "start_url": start,
        "scope": start,
        "display": "standalone",
        "background_color": "#f6f3ec",
        "theme_color": "#f6f3ec",
        "icons": [{"src": static("icon.svg"), "sizes": "any", "type": "image/svg+xml"}],
    })  # fmt: skip
