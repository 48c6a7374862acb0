"""Then and now, notes, slips, tables, sectionals: what the teacher gets, and nobody else."""

from __future__ import annotations

import io

import numpy as np
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from PIL import Image

from sulvet.takes.analysis import stills_of
from sulvet.takes.models import Take, TakeAnalysis
from tests.records.base import DAYS, RecordCase


class ThenAndNowTests(RecordCase):
    def test_what_changed_is_told_with_the_focus_first(self) -> None:
        self.filmed(15, rise=9.0, width=1.13)
        self.filmed(1, rise=1.0, width=1.0)
        page = self.compare()
        pair = page["pair"]
        self.assertEqual([t["view"] for t in page["takes"]], ["front", "front"])
        self.assertEqual((pair["phase"], pair["phases"]), ("hold", ["rest", "hold"]))
        # What the older take had and the newer one has not any more.
        self.assertEqual((pair["focus"], pair["slip"]), ("smile", False))
        rise = next(c for c in pair["changes"] if c["measure"] == "corner_rise")
        self.assertEqual(rise["answer"], "clearly better")
        self.assertAlmostEqual(rise["delta"], -8.0, delta=0.2)
        # The other way round there is a focus again, and it leads.
        turned = self.compare(then=pair["now"]["take"], now=pair["then"]["take"])["pair"]
        self.assertEqual(
            (turned["focus"], turned["changes"][0]["measure"]), ("smile", "corner_rise")
        )
        self.assertEqual(turned["changes"][0]["answer"], "clearly worse")
        self.assertTrue(turned["changes"][0]["focus"])

    def test_both_mouths_stand_on_the_sheet_of_the_older(self) -> None:
        self.filmed(15, rise=0.0, width=1.0)
        self.filmed(1, rise=9.0, width=1.13)
        pair = self.compare()["pair"]
        then, now = pair["then"], pair["now"]
        self.assertEqual(then["drawing"]["box"], now["drawing"]["box"])
        for side, width in ((then, 1.0), (now, 1.13)):
            frame = next(f for f in side["frames"] if f["frame"] == side["proposed"])
            corners = [frame["shape"]["points"][name] for name in ("ch_r", "ch_l")]
            self.assertAlmostEqual(corners[1][0] - corners[0][0], width, delta=0.01)

    def test_takes_that_can_not_be_compared_are_said(self) -> None:
        first = self.filmed(15)
        self.assertIsNone(self.compare()["pair"])
        side = self.filmed(1)
        Take.objects.filter(pk=side.pk).update(view="side")
        address = reverse("then-and-now", args=[self.student.pk])
        told = self.sent("get", f"{address}?then={first.pk}&now={side.pk}", expect=400)
        self.assertIn("one take is from the front", told["detail"].lower())
        other = self.filmed(2, self.add_student("Greta"))
        self.sent("get", f"{address}?then={first.pk}&now={other.pk}", expect=404)

    def test_what_an_older_engine_made_is_said_and_made_anew_when_it_is_asked_for(self) -> None:
        old = self.filmed(15)
        self.filmed(1, rise=0.0, width=1.0)
        old.readings.update(value=99.0)
        TakeAnalysis.objects.filter(take=old).update(engine="0", edition=0)
        page = self.compare()
        self.assertEqual((page["stale"], page["pair"]), ([old.pk], None))
        self.sent("post", reverse("refresh", args=[old.pk]))
        page = self.compare()
        self.assertEqual(page["stale"], [])
        rise = next(c for c in page["pair"]["changes"] if c["measure"] == "corner_rise")
        self.assertAlmostEqual(rise["then"], 9.0, delta=0.2)

    def test_the_plans_take_is_what_now_is_laid_over(self) -> None:
        began = self.filmed(15)
        self.sent("put", reverse("decisions", args=[began.pk]),
                  {"fault": "smile", "phase": "hold", "answer": "confirmed"})  # fmt: skip
        self.sent("post", reverse("take-plan", args=[began.pk]),
                  {"started_on": (self.today - 15 * DAYS).isoformat()}, 201)  # fmt: skip
        self.filmed(8)
        newest = self.filmed(0, rise=0.0, width=1.0)
        pair = self.compare()["pair"]
        self.assertEqual((pair["then"]["take"], pair["now"]["take"]), (began.pk, newest.pk))
        self.assertEqual((pair["focus"], pair["seen_from"]), ("smile", ["front"]))
        trend = self.sent("get", reverse("trend", args=[self.student.pk, "focus"]))
        self.assertEqual((trend["measure"], trend["high"]), ("corner_rise", 3.0))
        values = [round(p["value"]) for p in trend["points"]]
        self.assertEqual(values, [9, 9, 0])
        days = [p["filmed_on"] for p in trend["points"]]
        self.assertEqual(days, sorted(days))
        self.assertEqual(trend["plans"][0]["fault"], "Smile")
        self.assertEqual(len(trend["plans"][0]["rechecks"]), 2)

    def test_pictures_are_cut_to_the_mouth_unless_the_face_is_asked_for(self) -> None:
        then = self.from_demo("edda-front-12", 12, self.student)
        self.from_demo("edda-front-1", 1, self.student)
        for face in (False, True):
            pair = self.compare(**({"face": 1} if face else {}))["pair"]
            shown = pair["now"]["drawing"]["box"]
            stills = stills_of(then)
            assert stills is not None
            eyes = max(place[1] for place in stills.anchors.values())
            self.assertEqual(shown[3] > eyes, face)
            address = pair["now"]["frames"][0]["picture"]
            answer = self.client.get(address)
            self.assertEqual(answer["Cache-Control"], "private, no-store")
            picture = Image.open(io.BytesIO(answer.content))
            self.assertAlmostEqual(
                picture.height / picture.width,
                (shown[3] - shown[1]) / (shown[2] - shown[0]), delta=0.01,
            )  # fmt: skip
            # Skin, not paper: the cut lies inside the frame.
            self.assertGreater(np.asarray(picture.convert("L")).std(), 15)
            stranger = Client()
            self.assertEqual(stranger.get(address).status_code, 404)
            stranger.force_login(self.stranger)
            self.assertEqual(stranger.get(address).status_code, 404)


class LargeBandTests(RecordCase):
    def test_the_number_of_queries_does_not_grow(self) -> None:
        counts: list[dict[str, int]] = []
        for more in (2, 3):
            for n in range(more):
                student = self.add_student(f"S{more}-{n}")
                self.filmed(3, student)
                self.filmed(20 + n)
            pages = {
                "band": reverse("band"),
                "sectionals": reverse("sectionals"),
                **{
                    name: reverse(name, args=[self.student.pk])
                    for name in ("student", "plans", "record", "then-and-now")
                },
                "trend": reverse("trend", args=[self.student.pk, "corner_rise"]),
            }
            counts.append({})
            for name, address in pages.items():
                with CaptureQueriesContext(connection) as queries:
                    self.sent("get", address)
                counts[-1][name] = len(queries)
        self.assertEqual(counts[0], counts[1])
        self.assertLess(max(counts[0].values()), 25)
