"""Rounds over HTTP: the truth comes after the answer, and only to whom a round belongs."""

from __future__ import annotations

from typing import Any

from django.test import Client
from django.urls import reverse

from sulvet.core.eye.library import film_of, library
from sulvet.core.eye.schema import figures
from sulvet.eye import pages
from sulvet.eye.models import EyeAnswer, EyeRound
from tests.base import BandTestCase

LENGTH = figures().length


class EyeCase(BandTestCase):
    def begin(self, instrument: str = "horn", level: str = "clear", expect: int = 201) -> Any:
        body = {"instrument": instrument, "level": level}
        return self.sent("post", reverse("eye-rounds"), body, expect)

    def say(self, round_: dict[str, Any], place: Any, expect: Any = 200, **said: Any) -> Any:
        body = {"place": place, "faults": [], "untold": False, **said}
        return self.sent("post", reverse("eye-round", args=[round_["id"]]), body, expect)

    def truly(self, round_: dict[str, Any]) -> Any:
        """A round judged without a mistake."""
        for place, one in enumerate(pages.loops_of(EyeRound.objects.get(pk=round_["id"]))):
            untold = one.kind == "untold"
            round_ = self.say(round_, place, faults=list(one.faults), untold=untold)
        return round_


class RoundTests(EyeCase):
    def test_the_truth_of_a_take_comes_after_what_was_said_of_it(self) -> None:
        begun = self.begin()
        self.assertEqual((begun["instrument"], len(begun["items"])), ("Horn", LENGTH))
        self.assertEqual({one["truth"] for one in begun["items"]}, {None})
        # Nothing on the page names what a film shows.
        kept = EyeRound.objects.get()
        self.assertFalse([n for n in kept.loops if n in str(begun)])
        self.assertEqual(self.sent("get", reverse("eye"))["open"], kept.pk)
        place = next(n for n, o in enumerate(pages.loops_of(kept)) if o.kind == "fault")
        (fault,) = pages.loops_of(kept)[place].faults
        told = self.say(begun, place, faults=[fault])["items"]
        self.assertTrue(told[place]["truth"]["right"])
        self.assertIn(told[place]["truth"]["said"], told[place]["truth"]["truth"])
        self.assertTrue(told[place]["truth"]["look"])
        self.assertEqual([one["truth"] for one in told if one["place"] != place],
                         [None] * (LENGTH - 1))  # fmt: skip
        # Once is enough: nobody says it again knowing the truth.
        self.assertIn("already", self.say(begun, place, 409)["detail"])

    def test_by_ear(self) -> None:
        begun = self.begin("tuba", "by-ear")
        self.assertEqual({one["view"] for one in begun["items"]}, {"ear"})
        sound = self.client.get(begun["items"][0]["film"])
        self.assertEqual((sound["Content-Type"], sound.content[:4]), ("audio/wav", b"RIFF"))
        self.assertIn("12 of 12 fully right", self.truly(begun)["summary"])
        self.client.force_login(self.stranger)
        self.assertEqual(self.client.get(begun["items"][0]["film"]).status_code, 404)

    def test_a_whole_round_and_its_scores(self) -> None:
        first = self.truly(self.begin("trombone", "mixed"))
        self.assertIn("12 of 12 fully right", first["summary"])
        page = self.sent("get", reverse("eye"))
        self.assertEqual((page["open"], page["weeks"][0]["right"]), (None, LENGTH))
        self.assertEqual({(r["hits"] == r["present"], r["alarms"]) for r in page["faults"]},
                         {(True, 0)})  # fmt: skip
        self.assertIn("All seen", page["practise"])
        # Whoever says "nothing" to all learns what comes oftener.
        second = self.begin("trombone", "clear")
        for place in range(LENGTH):
            self.say(second, place)
        self.assertIn("Most to learn", self.sent("get", reverse("eye"))["practise"])

    def test_what_cannot_be_said(self) -> None:
        begun = self.begin()
        for said in ({"place": 12}, {"place": -1}, {"faults": ["plate-high"]},
                     {"faults": ["smile"], "untold": True}, {"seconds": -1}):  # fmt: skip
            self.say(begun, **{"place": 0, "expect": 400, **said})
        self.begin("violin", expect=400)
        self.begin(level="hard", expect=400)
        self.assertEqual(EyeAnswer.objects.count(), 0)

    def test_a_round_is_its_teachers_alone(self) -> None:
        begun = self.begin()
        film = begun["items"][0]["film"]
        self.client.force_login(self.stranger)
        self.sent("get", reverse("eye-round", args=[begun["id"]]), expect=404)
        self.assertEqual(self.client.get(film).status_code, 404)
        self.assertIsNone(self.sent("get", reverse("eye"))["open"])
        self.assertEqual(Client().get(film).status_code, 403)


class GalleryTests(EyeCase):
    def test_every_loop_was_filmed(self) -> None:
        """Some 300 small films, under 25 MB."""
        sizes = {one.id: film_of(one).stat().st_size if film_of(one).exists() else 0
                 for one in library()}  # fmt: skip
        self.assertEqual([name for name, size in sizes.items() if not size], [])
        self.assertLess(sum(sizes.values()), 25e6)

    def test_three_degrees_and_the_look_alike_with_where_to_look(self) -> None:
        rows = self.sent("get", reverse("eye-gallery", args=["cornet"]))
        smile = next(r for r in rows if r["name"] == "Smile")
        self.assertEqual([one["words"] for one in smile["loops"]], ["slight", "clear", "strong"])
        self.assertIn("tilted head", smile["alike"]["words"])
        self.assertEqual(len(smile["loops"][0]["marks"]), 2)
        film = self.client.get(smile["loops"][0]["film"])
        self.assertEqual((film.status_code, film["Content-Type"]), (200, "video/mp4"))
        self.sent("get", reverse("eye-gallery", args=["violin"]), expect=400)
        address = reverse("eye-gallery-film", args=["nothing"])
        self.assertEqual(self.client.get(address).status_code, 404)


class OpenRoundTests(EyeCase):
    def test_somebody_without_a_band_takes_a_round_and_nothing_is_kept(self) -> None:
        body = {"instrument": "flute", "level": "look-alikes"}
        link = self.sent("post", reverse("eye-open-links"), body, 201)["address"]
        token = link.rsplit("/", 1)[1]
        guest, address = Client(), reverse("eye-open", args=[token])
        shown = guest.get(address).json()
        self.assertEqual((shown["instrument"], len(shown["items"])), ("Flute", LENGTH))
        self.assertEqual(guest.get(shown["items"][0]["film"]).status_code, 200)
        said = [{"place": 0, "faults": [], "untold": False}]
        told = guest.post(address, {"said": said}, content_type="application/json").json()
        self.assertEqual([one["truth"] is None for one in told["items"]],
                         [False] + [True] * (LENGTH - 1))  # fmt: skip
        everything = [{"place": n, "faults": [], "untold": True} for n in range(LENGTH)]
        told = guest.post(address, {"said": everything}, content_type="application/json").json()
        self.assertIn("of 12 fully right", told["summary"])
        self.assertEqual((EyeRound.objects.count(), EyeAnswer.objects.count()), (0, 0))
        made_up = reverse("eye-open", args=[f"{token}x"])
        self.assertEqual(guest.get(made_up).status_code, 400)
