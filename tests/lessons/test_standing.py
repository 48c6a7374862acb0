"""Who stands where on the ladder, and what passes a step."""

from __future__ import annotations

from django.test import tag
from django.urls import reverse
from django.utils import timezone

from sulvet.lessons.models import LadderMove, Standing
from tests.lessons.base import LadderCase


@tag("database")
class MoveTests(LadderCase):
    def test_reading_stores_nothing_and_a_tap_passes_for_several_at_once(self) -> None:
        other = self.add_student("Nils", instrument="clarinet")
        self.assertEqual((self.row()["step"], self.row()["days"]), ("set-up", None))
        self.sent("get", self.ladder)
        self.assertFalse(Standing.objects.exists())
        rows = self.moved("pass", "", 200, self.student.pk, other.pk)["rows"]
        self.assertEqual({row["step"] for row in rows}, {"breath"})
        self.assertEqual(LadderMove.objects.filter(what="passed", step="set-up").count(), 2)

    def test_a_step_that_does_not_hold_goes_one_back_and_the_end_is_the_end(self) -> None:
        self.stand_at("hold-10")
        self.moved("back")
        self.assertEqual(self.row()["step"], "hold-4")
        self.stand_at("change")
        self.moved("pass")
        self.assertEqual(self.row()["step"], "")
        page = self.sent("get", self.ladder)
        self.assertEqual({step["state"] for step in page["steps"]}, {"passed"})
        self.moved("back")
        self.assertEqual(self.row()["step"], "change")

    def test_who_has_no_sound_gets_the_remedy_for_what_is_heard(self) -> None:
        self.stand_at("shape")
        self.assertIn("no sound", self.moved("no-sound", "air-only", 400)["detail"])
        self.stand_at("sound")
        self.assertIn("air-only", [one["id"] for one in self.row()["asks"]])
        self.moved("no-sound", "air-only")
        page = self.sent("get", self.ladder)
        self.assertEqual(page["row"]["step"], "sound")
        self.assertIn("Lips too open", page["remedies"][0]["look"])
        self.moved("pass")
        self.assertEqual(self.sent("get", self.ladder)["remedies"], [])

    def test_who_is_stuck_longest_comes_first(self) -> None:
        self.stand_at("sound", days=9)
        other = self.add_student("Aad")
        Standing.objects.create(student=other, step="sound", since=timezone.localdate())
        rows = self.sent("get", reverse("lessons"))["rows"]
        self.assertEqual([(r["name"], r["days"]) for r in rows], [("Edda", 9), ("Aad", 0)])

    def test_too_much_at_once_leaves_the_tongue_out(self) -> None:
        self.stand_at("tongue")
        page = self.sent("put", self.ladder, {"without": "tongue"})
        self.assertNotIn("tongue", [step["id"] for step in page["steps"]])
        self.assertEqual(page["row"]["step"], "instrument")
        self.sent("put", self.ladder, {"set_up": ["nonsense"]}, 400)
        page = self.sent("put", self.ladder, {"set_up": ["shank-fingers"]})
        self.assertTrue(next(r for r in page["set_up"] if r["id"] == "shank-fingers")["ticked"])

    def test_ladders_of_another_teacher_are_not_found(self) -> None:
        self.client.force_login(self.stranger)
        self.sent("get", self.ladder, expect=404)
        self.sent("put", self.ladder, {"without": "tongue"}, 404)
        self.assertIn("no longer there", self.moved("pass", expect=400)["detail"])
        self.assertEqual(self.sent("get", reverse("lessons"))["rows"], [])
