"""A teacher's own standards: whose they are, and what can not be."""

from __future__ import annotations

from django.test import Client, tag
from django.urls import reverse

from tests.standards.base import StandardCase


@tag("database")
class OwnTests(StandardCase):
    def test_a_school_of_ones_own_counts_for_students_without_one(self) -> None:
        made = self.add_ready()
        self.student.school = "two-thirds"
        self.student.save()
        own = self.add_ready(self.add_student("Farid"))
        body = {"bands": {}, "school": "seven-eighths"}
        page = self.sent("put", self.address, body)
        self.assertEqual(page["schools"][0]["id"], "seven-eighths")
        for take, school in ((own, "Seven eighths upper lip"), (made, "Two thirds upper lip")):
            page = self.client.get(reverse("take", args=[take.pk])).json()
            self.assertEqual(page["school"], school)
        odd = self.sent("put", self.address, {**body, "school": "half"}, 400)
        self.assertIn("has no embouchure style", odd["detail"])

    def test_figures_that_can_not_be_are_refused_with_a_sentence(self) -> None:
        for parameters, told in (
            ({**self.WIDE, "low": 2.0}, "low edge must lie below"),
            ({**self.WIDE, "low": None, "high": None}, "needs a low or a high edge"),
            ({**self.WIDE, "watch_low": -1}, "watch_low"),
        ):
            self.assertIn(told, self.save(parameters, 400)["detail"])
        odd = self.sent("put", self.address, {"bands": {"x|front|hold|": self.WIDE}}, 400)
        self.assertIn("has no limit", odd["detail"])
        self.assertEqual(self.page()["versions"], [])
        self.assertEqual(self.client.get(reverse("own-standard", args=["kazoo"])).status_code, 404)

    def test_every_figure_says_where_it_comes_from_and_is_the_teachers_own(self) -> None:
        page = self.page()
        self.assertTrue(all(len(b["note"]) > 20 for b in page["bands"]))
        self.save(self.WIDE)
        stranger = Client()
        stranger.force_login(self.stranger)
        other = stranger.get(self.address).json()
        self.assertFalse(any(b["changed"] for b in other["bands"]))
        self.assertEqual(Client().get(self.address).status_code, 403)
