"""The API: who may see what, what it answers, what it refuses."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.test import Client
from django.urls import reverse

from sulvet.accounts.errors import Refused
from sulvet.takes import jobs
from sulvet.takes.models import Decision, Take
from tests.base import TODAY, BandTestCase

#: A session as it is told while nothing is special.
NOBODY: dict[str, Any] = {"username": None, "new": False, "code_needed": False, "booth": False,
          "acting_for": None, "hosts": []}  # fmt: skip


class SessionTests(BandTestCase):
    def test_log_in_and_out(self) -> None:
        client = Client(enforce_csrf_checks=True)
        client.get("/")
        token = client.cookies["csrftoken"].value
        words = {"username": "teacher", "password": "wrong"}
        how: dict[str, Any] = {
            "content_type": "application/json",
            "headers": {"X-CSRFToken": token},
        }
        wrong = client.post("/api/session/", words, **how)
        self.assertEqual(wrong.status_code, 400)
        self.assertIn("Wrong name or password", wrong.json()["detail"])
        right = client.post("/api/session/", {**words, "password": "a-long-word"}, **how)
        self.assertEqual(right.json(), {**NOBODY, "username": "teacher"})
        self.assertEqual(client.get("/api/band/").status_code, 200)
        how["headers"] = {"X-CSRFToken": client.cookies["csrftoken"].value}
        client.delete("/api/session/", **how)
        self.assertEqual(client.get("/api/band/").status_code, 403)

    def test_no_log_in_and_no_change_without_the_pages_token(self) -> None:
        client = Client(enforce_csrf_checks=True)
        words = {"username": "teacher", "password": "a-long-word"}
        answer = client.post("/api/session/", words, content_type="application/json")
        self.assertEqual(answer.status_code, 403)
        client.force_login(self.teacher)
        answer = client.post("/api/students/", {"name": "X"}, content_type="application/json")
        self.assertEqual(answer.status_code, 403)

    def test_the_first_account_is_made_once(self) -> None:
        self.client.logout()
        words = {"username": "second", "password": "a-long-word"}
        self.assertIn(
            "account already", self.sent("post", "/api/first-account/", words, 409)["detail"]
        )
        User.objects.all().delete()
        self.assertTrue(self.client.get("/api/session/").json()["new"])
        weak = self.sent("post", "/api/first-account/", {**words, "password": "short"}, 400)
        self.assertIn("too short", weak["detail"])
        made = self.sent("post", "/api/first-account/", words)
        self.assertEqual(made, {**NOBODY, "username": "second"})
        self.assertEqual(self.client.get("/api/band/").json()["sections"], [])

    def test_guessing_passwords_is_stopped(self) -> None:
        client = Client()
        for _ in range(12):
            client.post("/api/session/", {"username": "teacher", "password": "guess"},
                        content_type="application/json")  # fmt: skip
        right = client.post("/api/session/", {"username": "teacher", "password": "a-long-word"},
                            content_type="application/json")  # fmt: skip
        self.assertNotEqual(right.status_code, 200)


class OwnershipTests(BandTestCase):
    def test_everything_of_another_teacher_is_not_found(self) -> None:
        made = self.add_ready()
        addresses = [
            ("get", reverse("student", args=[self.student.pk])),
            ("put", reverse("student-facts", args=[self.student.pk])),
            ("post", reverse("student-takes", args=[self.student.pk])),
            ("get", reverse("take", args=[made.pk])),
            ("patch", reverse("take", args=[made.pk])),
            ("delete", reverse("take", args=[made.pk])),
            ("get", reverse("take-progress", args=[made.pk])),
            ("put", reverse("marks", args=[made.pk])),
            ("delete", reverse("marks", args=[made.pk])),
            ("put", reverse("phases", args=[made.pk])),
            ("post", reverse("accept", args=[made.pk])),
            ("post", reverse("preview", args=[made.pk])),
            ("post", reverse("undo", args=[made.pk])),
            ("put", reverse("focus", args=[made.pk])),
            ("put", reverse("observations", args=[made.pk])),
            ("put", reverse("scale", args=[made.pk])),
            ("post", reverse("reread", args=[made.pk])),
            ("put", reverse("decisions", args=[made.pk])),
            ("get", reverse("export", args=[made.pk, "marks"])),
            ("get", reverse("export", args=[made.pk, "report"])),
            ("get", reverse("clip", args=[made.pk])),
            ("get", reverse("frame", args=[made.pk, 0])),
        ]
        made.directory.mkdir(parents=True)
        made.proxy.write_bytes(b"not yours")
        nobody, stranger = Client(), Client()
        stranger.force_login(self.stranger)
        for method, address in addresses:
            with self.subTest(f"{method} {address}"):
                self.assertEqual(getattr(stranger, method)(address).status_code, 404)
                self.assertIn(getattr(nobody, method)(address).status_code, (403, 404))
        self.assertTrue(Take.objects.filter(pk=made.pk).exists())
        self.assertEqual(stranger.get("/api/band/").json()["sections"], [])
        self.assertEqual(self.client.get(reverse("clip", args=[made.pk])).status_code, 200)


class StudentTests(BandTestCase):
    def test_a_new_student_sits_in_the_section_of_the_instrument(self) -> None:
        self.sent("post", "/api/students/", {"name": "Aino", "instrument": "clarinet"}, 201)
        sections = self.client.get("/api/band/").json()["sections"]
        self.assertEqual([s["name"] for s in sections], ["Clarinets", "Horns"])
        chair = sections[0]["chairs"][0]
        self.assertEqual((chair["name"], chair["state"]), ("Aino", "no-consent"))

    def test_facts_that_can_not_be_are_refused_with_a_sentence(self) -> None:
        for facts, told in (
            ({"name": "", "instrument": "horn"}, "name"),
            ({"name": "A", "instrument": "kazoo"}, "Unknown instrument “kazoo”"),
            ({"name": "A", "instrument": "horn", "school": "half"}, "no embouchure style “half”"),
            ({"name": "A", "instrument": "horn", "consent_on": "2026-09-01",
              "consent_until": "2026-08-01"}, "Consent ends before it starts"),
        ):  # fmt: skip
            self.assertIn(told, self.sent("post", "/api/students/", facts, 400)["detail"])

    def test_another_school_is_judged_by_when_it_is_asked_for(self) -> None:
        aino = self.add_student("Aino", instrument="clarinet", school="stretched")
        made = self.add_ready(aino, rise=0.0, width=1.03)

        def width(page: Any) -> tuple[bool, str]:
            row = next(r for r in page["readings"] if r["measure"] == "mouth_width")
            return page["stale"], row["verdict"]

        address = reverse("take", args=[made.pk])
        self.assertEqual(width(self.sent("get", address)), (False, "in band"))
        self.sent("put", reverse("student-facts", args=[aino.pk]),
                  {"name": "Aino", "instrument": "clarinet", "school": "gathered"})  # fmt: skip
        # What stands is shown as it is, and said to be out of date, until it is made anew.
        self.assertEqual(width(self.sent("get", address)), (True, "in band"))
        fresh = width(self.sent("post", reverse("refresh", args=[made.pk])))
        self.assertEqual(fresh, width(self.sent("get", address)))
        self.assertEqual(fresh[0], False)
        self.assertNotEqual(fresh[1], "in band")


class BenchTests(BandTestCase):
    def test_the_bench_holds_marks_bands_readings_and_the_finding(self) -> None:
        made = self.add_ready()
        page = self.client.get(reverse("take", args=[made.pk])).json()
        self.assertEqual(len(page["times"]), len(page["tracks"][0]["x"]))
        smile = page["findings"][0]
        self.assertEqual(
            (smile["name"], smile["verdict"], smile["answer"]), ("Smile", "fault", None)
        )
        self.assertAlmostEqual(smile["evidence"][0]["value"], 9.0, places=2)
        rise = next(s for s in page["series"] if s["measure"] == "corner_rise")
        self.assertEqual((rise["low"], rise["high"]), (-6.0, 3.0))
        self.assertAlmostEqual(rise["value"][-1], 9.0, places=2)

    def test_confirm_dismiss_and_take_back_show_on_the_chair(self) -> None:
        made = self.add_ready()
        address = reverse("decisions", args=[made.pk])

        def chair() -> dict[str, Any]:
            return dict(self.client.get("/api/band/").json()["sections"][0]["chairs"][0])

        self.assertEqual(chair()["state"], "new-take")
        body = {"fault": "smile", "phase": "hold", "answer": "confirmed"}
        page = self.sent("put", address, body)
        self.assertEqual(page["findings"][0]["answer"], "confirmed")
        self.assertEqual((chair()["state"], chair()["take"]["focus"]), ("focus", "smile"))
        refused = self.sent("put", address, {**body, "answer": "dismissed"}, 400)
        self.assertIn("why you dismiss the finding", refused["detail"])
        self.sent("put", address, {**body, "answer": "dismissed", "reason": "he laughed"})
        self.sent("patch", reverse("take", args=[made.pk]), {"read": True})
        self.assertEqual((chair()["state"], chair()["take"]["focus"]), ("unchecked", None))
        self.sent("put", address, {**body, "answer": ""})
        self.assertEqual(chair()["state"], "focus")
        odd = self.sent("put", address, {**body, "fault": "pucker"}, 400)
        self.assertIn("no longer has this finding", odd["detail"])

    def test_an_answer_outlives_measuring_again(self) -> None:
        made = self.add_ready()
        self.sent("put", reverse("decisions", args=[made.pk]),
                  {"fault": "smile", "phase": "hold", "answer": "confirmed"})  # fmt: skip
        old = made.findings.get(fault="smile").pk
        page = self.sent("put", reverse("phases", args=[made.pk]), {
            "phases": [{"name": "rest", "start": 0, "end": 0.9},
                       {"name": "hold", "start": 2.2, "end": 3.9}]})  # fmt: skip
        self.assertNotEqual(made.findings.get(fault="smile").pk, old)
        self.assertEqual(page["findings"][0]["answer"], "confirmed")
        self.assertEqual(Decision.objects.count(), 1)

    def test_phases_are_the_teachers_and_change_the_readings(self) -> None:
        made = self.add_ready()
        address = reverse("phases", args=[made.pk])
        page = self.sent("put", address, {"phases": [{"name": "hold", "start": 2, "end": 4}]})
        self.assertEqual(page["findings"][0]["verdict"], "can't tell")
        self.assertIn("no rest phase", page["findings"][0]["reason"])
        for start, end, told in ((2, 1, "must end after it starts"), (2, 99, "beyond the clip")):
            body = {"phases": [{"name": "hold", "start": start, "end": end}]}
            self.assertIn(told, self.sent("put", address, body, 400)["detail"])
        both = [{"name": "rest", "start": 0, "end": 2.5}, {"name": "hold", "start": 2, "end": 4}]
        self.assertIn("overlap", self.sent("put", address, {"phases": both}, 400)["detail"])

    def test_marks_outside_the_picture_the_take_or_the_list_are_refused(self) -> None:
        made = self.add_ready()
        good = {"landmark": "ch_r", "frame": 3, "x": 10, "y": 10}
        for odd, told in (({"landmark": "knee"}, "Unknown landmark"), ({"frame": 9999}, "no frame"),
                          ({"x": -40}, "inside the picture"), ({"x": "NaN"}, "x")):  # fmt: skip
            body = {"marks": [good, {**good, **odd}]}
            self.assertIn(
                told, self.sent("put", reverse("marks", args=[made.pk]), body, 400)["detail"]
            )

    def test_each_view_asks_for_its_own_marks(self) -> None:
        asked = self.sent("get", reverse("take", args=[self.add_ready().pk]))
        self.assertEqual((asked["equipment"], len(asked["asked_hold"])), ("rim", 7))
        self.assertEqual(asked["asked_pair"], ["ch_r", "ch_l"])
        self.assertIn("ch_r", asked["asked_rest"])
        side = self.add_take(state=Take.State.NEEDS_MARKS, view=Take.View.SIDE)
        asked = self.sent("get", reverse("take", args=[side.pk]))
        self.assertEqual(
            (asked["equipment"], asked["asked_hold"]), ("rim-side", ["rs_top", "rs_low"])
        )
        self.assertEqual(asked["asked_rest"][0], "n")
        # Neither marks nor a rest: nothing to read it anew by. A rest says where to look.
        with self.assertRaises(Refused):
            jobs.reread(side)
        side.phases.create(name="rest", start=0.0, end=1.0, by_teacher=True)
        jobs.reread(side)
        side.refresh_from_db()
        self.assertEqual(side.state, Take.State.WAITING)

    def test_exports_are_the_open_formats(self) -> None:
        made = self.add_ready()
        marks = self.client.get(reverse("export", args=[made.pk, "marks"])).json()
        self.assertEqual(marks["categories"][0]["keypoints"][0], "ch_r")
        report = self.client.get(reverse("export", args=[made.pk, "report"])).json()
        self.assertEqual(report["findings"][0]["fault"], "smile")
        self.assertEqual(report["take"]["school"], "two-thirds")


class BandPageTests(BandTestCase):
    def test_a_chair_is_drawn_by_the_lines_of_its_page_the_bench_with_all_its_own(self) -> None:
        take = self.add_ready()
        band = self.sent("get", reverse("band"))
        drawing = band["sections"][0]["chairs"][0]["take"]["drawing"]
        # What is the same for every chair comes once.
        self.assertEqual(set(drawing), {"view", "rest", "hold", "box", "facing"})
        self.assertEqual({stroke["pen"] for stroke in band["lines"]["front"]},
                         {"rest", "lips", "skin", "equipment", "rim", "axis"})  # fmt: skip
        bench = self.sent("get", reverse("take", args=[take.pk]))
        self.assertGreater(len(bench["drawing"]["dimensions"]), 5)
        self.assertIn("zone", {stroke["pen"] for stroke in bench["drawing"]["strokes"]})

    def test_states_and_what_comes_next(self) -> None:
        self.add_take(state=Take.State.WAITING)
        self.add_student("Bram", consent_on=None)
        self.add_student("Carla")
        needs = self.add_student("Dario")
        self.add_ready(needs, needs="No face was found.")
        page = self.client.get("/api/band/").json()
        states = {c["name"]: c["state"] for s in page["sections"] for c in s["chairs"]}
        self.assertEqual(states, {"Edda": "being-read", "Bram": "no-consent",
                                  "Carla": "nothing-filmed", "Dario": "needs-marks"})  # fmt: skip
        self.assertEqual([line["name"] for line in page["next"]], ["Dario", "Carla", "Bram"])

    def test_a_larger_band_costs_no_more_queries(self) -> None:
        self.add_ready()
        with self.assertNumQueries(11):
            self.client.get("/api/band/")
        for n in range(12):
            student = self.add_student(f"S{n}", instrument=("trumpet", "clarinet")[n % 2])
            self.add_ready(student)
            self.add_ready(student)
        with self.assertNumQueries(11):
            self.client.get("/api/band/")

    def test_a_consent_that_ran_out_counts_no_more(self) -> None:
        self.student.consent_until = TODAY.replace(year=2025)
        self.student.consent_on = TODAY.replace(year=2024)
        self.student.save()
        chair = self.client.get("/api/band/").json()["sections"][0]["chairs"][0]
        self.assertEqual(chair["state"], "no-consent")
