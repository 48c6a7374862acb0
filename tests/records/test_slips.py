"""The slip as a page and as a PDF."""

from __future__ import annotations

import datetime
import io
from typing import Any

import cv2
import numpy as np
import pypdfium2
from django.urls import reverse
from pypdf import PdfReader

from sulvet.booth import links
from sulvet.takes.models import Take
from tests.records.base import DAYS, RecordCase


class SlipTests(RecordCase):
    def pages(self, address: str) -> list[str]:
        answer = self.client.get(address)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        self.assertEqual(answer["Content-Type"], "application/pdf")
        reader = PdfReader(io.BytesIO(answer.content))
        return [" ".join(page.extract_text().split()) for page in reader.pages]

    def refused(self, address: str) -> str:
        """The sentence a teacher reads in the window that was to show the page."""
        answer = self.client.get(address)
        self.assertEqual((answer.status_code, answer["Content-Type"]),
                         (400, "text/plain; charset=utf-8"))  # fmt: skip
        return answer.content.decode()

    def test_a_read_take_becomes_a_page_to_take_home(self) -> None:
        self.from_demo("edda-front-1", 9, self.student)
        take = self.from_demo("edda-front-12", 1, self.student)
        (text,) = self.pages(reverse("slip", args=[take.pk]))
        for words in ("Edda", "Horn", "rim too low", "On ", "Placing, 3 minutes a day",
                      "We film again on", "Then:", "Now:", "Stop and tell"):  # fmt: skip
            self.assertIn(words, text)
        reader = PdfReader(io.BytesIO(self.client.get(reverse("slip", args=[take.pk])).content))
        self.assertEqual(len(reader.pages[0].images), 2)
        self.assertIn("Paper is", self.refused(reverse("slip", args=[take.pk]) + "?paper=a3"))
        self.assertEqual(self.width(take, "?paper=letter"), 612)
        # What the teacher has set goes before what the page asks for.
        self.sent("put", reverse("preferences"), {"time_zone": "", "paper": "letter"})
        self.assertEqual(self.width(take, "?paper=a4"), 612)

    def test_a_link_stands_on_it_for_a_phone(self) -> None:
        """OpenCV's own reader as a second opinion."""
        take = self.from_demo("edda-front-12", 1, self.student)
        address = reverse("slip", args=[take.pk])
        link = links.make(self.student, "front", 7, page=True)
        links.make(self.student, "side", 7)

        def read(**how: Any) -> str:
            pdf = pypdfium2.PdfDocument(self.client.get(address, **how).content)
            picture = pdf[0].render(scale=4).to_numpy()
            return cv2.QRCodeDetectorAruco().detectAndDecode(np.ascontiguousarray(picture))[0]

        self.assertEqual(read(), f"http://testserver{links.path_of(link)}")
        # An address of this computer alone leads a phone nowhere.
        self.assertEqual(read(HTTP_HOST="127.0.0.1:8000"), "")
        with self.settings(SHARE="https://band.school.example"):
            self.assertEqual(
                read(HTTP_HOST="localhost"), f"https://band.school.example{links.path_of(link)}"
            )

    def width(self, take: Take, query: str) -> float:
        """Of the paper, points."""
        answer = self.client.get(reverse("slip", args=[take.pk]) + query)
        return float(PdfReader(io.BytesIO(answer.content)).pages[0].mediabox.width)

    def test_a_running_plan_gives_its_strip(self) -> None:
        began = self.filmed(6)
        self.sent("put", reverse("decisions", args=[began.pk]),
                  {"fault": "smile", "phase": "hold", "answer": "confirmed"})  # fmt: skip
        start = {"started_on": (self.today - 6 * DAYS).isoformat()}
        plan = self.sent("post", reverse("take-plan", args=[began.pk]), start, 201)["running"]
        self.sent("put", reverse("plan", args=[plan["id"]]),
                  {"date": (self.today - DAYS).isoformat(), "done": True})  # fmt: skip
        newest = self.filmed(0, rise=0.0, width=1.0)
        (text,) = self.pages(reverse("slip", args=[newest.pk]))
        due = datetime.date.fromisoformat(plan["rechecks"][0]["due_on"])
        self.assertIn(f"{due:%A} {due.day} {due:%B}", text)
        self.assertIn("✓", text)
        self.assertIn("Clearly better than on", text)

    def test_without_one_thing_there_is_no_slip_and_a_caution_comes_first(self) -> None:
        fine = self.filmed(1, rise=0.0, width=1.0)
        self.assertIn("no focus", self.refused(reverse("slip", args=[fine.pk])))
        hurts = self.filmed(0)
        self.sent("put", reverse("observations", args=[hurts.pk]), {"seen": ["pain"]})
        self.assertIn("First: pain", self.refused(reverse("slip", args=[hurts.pk])))

    def test_a_class_set_has_a_page_for_everybody_with_one_thing(self) -> None:
        bad = [self.add_student(name) for name in ("Ada", "Bo")]
        for student in bad:
            self.filmed(1, student)
        self.filmed(1, self.add_student("Cy"), rise=0.0, width=1.0)
        self.assertEqual(len(self.pages(reverse("slips"))), 2)
        (only,) = self.pages(reverse("slips") + f"?students={bad[1].pk}")
        self.assertIn("Bo", only)
        told = self.refused(reverse("slips") + f"?students={self.student.pk}")
        self.assertIn("None of these students", told)
        self.assertIn("by their numbers", self.refused(reverse("slips") + "?students=1;drop"))
