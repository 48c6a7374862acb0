"""What is given without a fault: drills and routines."""

from __future__ import annotations

from typing import Any

from django.test import tag
from django.urls import reverse
from django.utils import timezone

from sulvet.lessons.models import GivenDrill
from tests.lessons.base import DAY, LadderCase


@tag("database")
class GivenTests(LadderCase):
    def give(self, expect: int = 201, **what: Any) -> Any:
        body = {"students": [self.student.pk], "days": 5, **what}
        return self.sent("post", reverse("given"), body, expect)

    def test_any_drill_is_given_ticked_and_handed_in_again(self) -> None:
        (row,) = self.give(drill="siren", stage="lips", level=2, rounds=3, tempo=60)
        self.assertEqual(row["name"], "Siren, with the lips alone, 3 times, at 60")
        self.assertEqual(row["about"], "Intermediate: a third")
        address = reverse("one-given", args=[row["id"]])
        today = timezone.localdate().isoformat()
        self.assertEqual(self.sent("put", address, {"date": today, "done": True})["done"], [today])
        # Done on three days it may rise, and no sooner.
        self.assertIn("once the exercise", self.sent("patch", address, expect=400)["detail"])
        one = GivenDrill.objects.get()
        one.given_on -= 2 * DAY
        one.done = [(one.given_on + n * DAY).isoformat() for n in range(3)]
        one.save()
        higher = self.sent("patch", address, expect=201)
        self.assertEqual(higher["about"], "Advanced: a fifth")
        GivenDrill.objects.filter(pk=higher["id"]).delete()
        later = (timezone.localdate() + DAY).isoformat()
        self.assertIn("future", self.sent("put", address, {"date": later, "done": True}, 400)[
            "detail"])  # fmt: skip
        self.sent("post", address, {"why": " "}, 400)
        again = self.sent("post", address, {"why": "My lips were sore."}, 201)
        self.assertEqual((again["again"], again["done"]), ("My lips were sore.", []))
        given = self.sent("get", self.ladder)["given"]
        self.assertEqual([one["id"] for one in given], [again["id"], row["id"]])
        self.client.force_login(self.stranger)
        self.sent("delete", address, expect=404)

    def test_what_an_instrument_can_not_do_is_refused_by_name(self) -> None:
        self.assertIn("for other instruments", self.give(400, drill="crow", stage="mouthpiece")[
            "detail"])  # fmt: skip
        self.assertIn("another stage", self.give(400, drill="siren", stage="instrument")["detail"])
        self.assertIn("levels", self.give(400, drill="siren", stage="lips", level=7)["detail"])
        self.assertIn("a drill or a routine", self.give(400)["detail"])
        self.assertIn("other instruments", self.give(400, routine="head-joint")["detail"])
        (row,) = self.give(routine="buzz-day")
        self.assertEqual(len(row["drills"]), 9)
        library = self.sent("get", reverse("drills"))
        self.assertIn("horn-buzz", [one["id"] for one in library["routines"]])
