"""What the server says in German: nothing of what it knows a German sentence for stays English."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from babel.messages.pofile import read_po
from django.urls import reverse

from sulvet.band.models import Section
from sulvet.takes.models import Take
from tests.base import BandTestCase
from tests.operations import operations
from translation import tables

#: Words that no German sentence has.
ENGLISH = re.compile(r"\b(the|and|with|of|is|are|from|this|to)\b")
#: What a teacher may write; names of things in code are one word with hyphens.
WRITTEN = {"/api/band/.name", "/api/bands/.name"}
CODE = re.compile(r"[a-z0-9]+(-[a-z0-9]+)+")


def strings(value: Any, way: str = "") -> Iterator[tuple[str, str]]:
    """Every text of an answer, and the way to it."""
    if isinstance(value, dict):
        for name, part in value.items():
            yield from strings(part, f"{way}.{name}")
    elif isinstance(value, list):
        for part in value:
            yield from strings(part, way)
    elif isinstance(value, str):
        yield way, value


class GermanTests(BandTestCase):
    def test_no_page_says_in_english_what_the_table_has_in_german(self) -> None:
        take = self.add_ready(rise=9.0)
        self.add_take(state=Take.State.FAILED, message="No mouth was found. " + REST_OF_IT)
        self.add_student("Bo", instrument="clarinet")
        self.sent("post", reverse("take-plan", args=[take.pk]), {"stage": "lips"}, 201)
        with (tables.CORE / tables.TABLE.format(language="de")).open("rb") as file:
            table = {str(m.id): str(m.string) for m in read_po(file, locale="de") if m.id}
        english = {words for words, german in table.items() if german != words and " " in words}
        said, seen = [], 0
        for method, address, path in operations(take.pk):
            if method != "get":
                continue
            answer = self.client.get(address, headers={"Accept-Language": "de"})
            if answer.status_code != 200 or answer["Content-Type"] != "application/json":
                continue
            for way, text in strings(answer.json()):
                seen += text in table.values()
                if f"{path}{way}" in WRITTEN or CODE.fullmatch(text):
                    continue
                if text in english or ENGLISH.search(text):
                    said.append(f"{path}{way}: {text}")
        self.assertEqual(sorted(set(said)), [])
        self.assertGreater(seen, 500)

    def test_a_section_keeps_its_place_whatever_language_it_is_shown_in(self) -> None:
        german = {"Accept-Language": "de"}
        for name in ("Ada", "Cy"):
            self.add_student(name, instrument="trombone")
        body = {"name": "Bo", "instrument": "trombone"}
        answer = self.client.post(
            reverse("students"), body, content_type="application/json", headers=german
        )
        self.assertEqual(answer.status_code, 201, answer.content)
        page = self.client.get(reverse("band"), headers=german).json()
        self.assertEqual([one["name"] for one in page["sections"]], ["Hörner", "Posaunen"])
        # Saving what is shown changes no name; another one does.
        shown = [{"id": s["id"], "name": s["name"], "arc": s["arc"]} for s in page["sections"]]
        shown[0]["name"] = "Waldhörner"
        names = {"name": page["name"], "sections": shown}
        self.client.put(
            reverse("band-names"), names, content_type="application/json", headers=german
        )
        self.assertEqual(
            set(Section.objects.values_list("name", flat=True)), {"Waldhörner", "Trombones"}
        )


REST_OF_IT = (
    "Place the marks on one frame at rest, or film so that nose, mouth and chin are in the picture "
    "and well lit."
)
