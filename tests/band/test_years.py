"""Several bands of a teacher, and the step into the next school year."""

from __future__ import annotations

from typing import Any

from django.test import tag
from django.urls import reverse

from sulvet.band.models import Band
from tests.base import BandTestCase


@tag("database")
class YearTests(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.nils = self.add_student("Nils", instrument="clarinet")
        self.first = self.student.section.band

    def bands(self) -> list[tuple[str, int, bool, bool]]:
        rows = self.sent("get", reverse("bands"))
        return [(r["name"], r["size"], r["shown"], r["archived"]) for r in rows]

    def names(self) -> list[str]:
        page = self.sent("get", reverse("band"))
        return [chair["name"] for section in page["sections"] for chair in section["chairs"]]

    def add(self, **facts: Any) -> list[Any]:
        rows: list[Any] = self.sent("post", reverse("bands"), {"name": "Second year", **facts})
        return rows

    def test_students_move_up_with_their_takes_and_the_old_year_is_put_away(self) -> None:
        take = self.add_ready()
        self.sent("put", reverse("band-names"), {
            "name": "Beginners", "sections": [
                {"id": self.student.section_id, "name": "Horns in F", "arc": 2}],
        })  # fmt: skip
        self.add(year="2027/28", students=[self.student.pk], archive=True)
        self.assertEqual(
            self.bands(), [("Second year", 1, True, False), ("Beginners", 1, False, True)]
        )
        page = self.sent("get", reverse("band"))
        self.assertEqual((page["name"], page["year"]), ("Second year", "2027/28"))
        self.assertEqual(
            [(s["name"], s["arc"]) for s in page["sections"]], [("Horns in F", 2)], "as it sat"
        )
        self.assertEqual(page["sections"][0]["chairs"][0]["take"]["id"], take.pk)
        # Who stayed is still there, and the year can be opened again.
        self.assertEqual(self.sent("get", reverse("student", args=[self.nils.pk]))["name"], "Nils")
        self.sent("put", reverse("one-of-bands", args=[self.first.pk]), {"do": "show"})
        self.assertEqual(self.names(), ["Nils"])

    def test_what_is_looked_up_by_name_is_the_band_shown(self) -> None:
        self.add(name="Other school")
        self.sent("post", reverse("students"), {"name": "Nils", "instrument": "horn"}, 201)
        (match,) = self.sent("post", reverse("clip-names"), {"files": ["Nils front.mp4"]})
        self.assertNotEqual(match["student"], self.nils.pk)
        self.assertEqual(self.names(), ["Nils"])

    def test_the_only_open_band_stays_and_one_with_students_is_not_deleted(self) -> None:
        address = reverse("one-of-bands", args=[self.first.pk])
        self.assertIn("only open band", self.sent("put", address, {"do": "archive"}, 400)["detail"])
        self.add()
        self.assertIn("still has students", self.sent("delete", address, expect=400)["detail"])
        empty = Band.objects.get(name="Second year")
        self.sent("delete", reverse("one-of-bands", args=[empty.pk]))
        self.assertEqual(self.bands(), [("Beginning band", 2, True, False)])

    def test_bands_of_another_teacher_are_not_found(self) -> None:
        self.client.force_login(self.stranger)
        address = reverse("one-of-bands", args=[self.first.pk])
        self.sent("put", address, {"do": "show"}, 404)
        self.sent("delete", address, expect=404)
        self.add(students=[self.student.pk], archive=True)
        self.student.refresh_from_db()
        self.assertEqual(self.student.section.band, self.first)
