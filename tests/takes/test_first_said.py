"""What the teacher saw first stands beside what the program found, and is said once."""

from __future__ import annotations

from typing import Any

from django.test import tag
from django.urls import reverse

from sulvet.takes.first_said import first_looks
from sulvet.takes.focus import standing
from tests.base import BandTestCase


@tag("database")
class FirstSaidTests(BandTestCase):
    def say(self, take: int, expect: int = 200, untold: bool = False, *faults: str) -> Any:
        body = {"faults": list(faults), "untold": untold}
        return self.sent("post", reverse("said-first", args=[take]), body, expect)

    def test_both_stand_side_by_side(self) -> None:
        take = self.add_ready()
        page = self.sent("get", reverse("take", args=[take.pk]))
        self.assertIsNone(page["said_first"])
        # All that may be wrong on a horn, in an order that tells nothing of what was found.
        names = [one["name"] for one in page["sayable"]]
        self.assertEqual(names, sorted(names))
        self.assertLessEqual({"smile", "rim-low"}, {one["fault"] for one in page["sayable"]})
        self.assertNotIn("plate-high", {one["fault"] for one in page["sayable"]})
        said = self.say(take.pk, 200, False, "pucker")["said_first"]
        self.assertEqual((said["said"], said["only_said"]), ("Pucker", ["Pucker"]))
        self.assertIn("Smile", said["only_found"])
        self.assertIn("already", self.say(take.pk, 409, True)["detail"])

    def test_the_same_and_what_cannot_be_told(self) -> None:
        first, second = self.add_ready(), self.add_ready()
        self.assertEqual(self.say(second.pk, 200, True)["said_first"]["said"],
                         "can't be told from here")  # fmt: skip
        page = self.sent("get", reverse("take", args=[first.pk]))
        found = {f["fault"] for f in page["findings"] if f["verdict"] == "fault"}
        said = self.say(first.pk, 200, False, *found)["said_first"]
        self.assertEqual((said["only_found"], said["only_said"]), ([], []))

    def test_over_many_takes_it_is_told_how_far_both_agree(self) -> None:
        self.assertEqual(self.sent("get", reverse("eye"))["own"], "")
        for n in range(12):
            take = self.add_ready()
            # What stands on it, once with a fault more; "can't be told" says nothing of an eye.
            found = {f.fault for f in standing(take)}
            self.say(take.pk, 200, n == 11, *(() if n == 11 else found | {"bunched-chin"}
                                              if n == 0 else found - {"smile"}))  # fmt: skip
        looks = first_looks(self.teacher)
        self.assertEqual((looks.takes, looks.missed["smile"], looks.counts.program), (11, 10, 10))
        self.assertEqual(looks.counts.teacher, looks.invented.total())
        own = self.sent("get", reverse("eye"))["own"]
        self.assertIn("On 11 takes of your students you looked first: agreement", own)
        self.assertIn("Most often passed over: smile (10)", own)

    def test_what_cannot_be_said_and_by_whom(self) -> None:
        take = self.add_ready()
        self.say(take.pk, 400, False, "plate-high")
        self.say(take.pk, 400, True, "smile")
        self.client.force_login(self.stranger)
        self.say(take.pk, 404, False)
