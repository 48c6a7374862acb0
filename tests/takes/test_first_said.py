"""What the teacher saw first stands beside what the program found, and is said once."""

from __future__ import annotations

from typing import Any

from django.urls import reverse

from tests.base import BandTestCase


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

    def test_what_cannot_be_said_and_by_whom(self) -> None:
        take = self.add_ready()
        self.say(take.pk, 400, False, "plate-high")
        self.say(take.pk, 400, True, "smile")
        self.client.force_login(self.stranger)
        self.say(take.pk, 404, False)
