"""Class lists over HTTP, consent for many students, names and seating of a band."""

from __future__ import annotations

import datetime
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import tag
from django.urls import reverse
from django.utils import timezone

from sulvet.band.models import Band, Section, Student
from tests.base import BandTestCase

SEPTEMBER = datetime.date(2026, 9, 1)


@tag("database")
class RosterTests(BandTestCase):
    def given(self, text: str, keep: bool, expect: int = 200, dates: str = "") -> Any:
        table = SimpleUploadedFile("list.csv", text.encode())
        answer = self.client.post(
            reverse("roster"), {"table": table, "keep": str(keep).lower(), "dates": dates}
        )
        self.assertEqual(answer.status_code, expect, answer.content)
        return answer.json()

    def test_a_list_is_checked_then_imported_and_a_second_one_updates(self) -> None:
        text = "name,instrument,consent\nAda,C Flute,2026-09-01\nBo,tuba,\n"
        page = self.given(text, keep=False)
        self.assertEqual((len(page["lines"]), page["added"]), (2, 0))
        self.assertEqual(Student.objects.count(), 1)
        self.assertEqual(self.given(text, keep=True)["added"], 2)
        ada = Student.objects.get(name="Ada")
        self.assertEqual((ada.instrument, ada.section.name, ada.consent_on),
                         ("flute", "Flutes", SEPTEMBER))  # fmt: skip
        again = self.given("name,instrument,consent\nada,flute,\nBo,tuba,yes\n", keep=True)
        self.assertEqual((again["added"], again["changed"]), (0, 1))
        self.assertEqual(again["lines"][1]["changes"][0]["field"], "consent_on")
        bo = Student.objects.get(name="Bo")
        self.assertEqual((bo.consent_on, Student.objects.count()), (timezone.localdate(), 3))

    def test_a_percussionist_keeps_nobody_out(self) -> None:
        text = "name,instrument\nAda,flute\nBo,percussion\nCy,kazoo\n"
        for keep in (False, True):
            page = self.given(text, keep=keep)
            self.assertEqual([line["skipped"] for line in page["lines"]],
                             ["", "not filmed", "unknown"])  # fmt: skip
        self.assertEqual(page["added"], 1)
        self.assertEqual(set(Student.objects.values_list("name", flat=True)), {"Edda", "Ada"})

    def test_one_bad_row_or_a_doubtful_date_keeps_all_out(self) -> None:
        page = self.given("name,instrument\nAda,flute\nBo,trumpit\n", keep=True)
        self.assertEqual(page["added"], 0)
        self.assertEqual([bool(line["wrong"]) for line in page["lines"]], [False, True])
        self.assertIn("one column", self.given("who\nAda\n", True, 400)["detail"])
        text = "name,instrument,consent,shoe size\nAda,flute,3/4/2026,36\n"
        asked = self.given(text, keep=True)
        self.assertEqual((asked["asks"], asked["ignored"]), (True, ["shoe size"]))
        self.assertEqual(Student.objects.count(), 1)
        self.given(text, keep=True, dates="day")
        self.assertEqual(Student.objects.get(name="Ada").consent_on, datetime.date(2026, 4, 3))

    def test_a_name_that_two_have_changes_neither(self) -> None:
        self.add_student("edda", instrument="flute")
        page = self.given("name,instrument\nEdda,tuba\n", keep=True)
        self.assertIn("Several students", page["lines"][0]["wrong"][0])
        self.assertFalse(Student.objects.filter(instrument="tuba").exists())

    def test_the_template_is_a_table(self) -> None:
        answer = self.client.get(reverse("roster-template"))
        self.assertIn(b"Name,Instrument", answer.content)


@tag("database")
class ManyTests(BandTestCase):
    def test_consent_of_many_is_of_the_own_band_only(self) -> None:
        ada = self.add_student("Ada", consent_on=None)
        foreign = self.add_student("Bo", self.stranger, consent_on=None)
        body = {"students": [ada.pk, foreign.pk], "consent_on": "2026-09-01", "consent_until": None}
        self.assertEqual(self.sent("post", reverse("consent"), body), {"count": 1})
        ada.refresh_from_db()
        foreign.refresh_from_db()
        self.assertEqual((ada.consent_on, foreign.consent_on), (SEPTEMBER, None))

    def test_a_band_and_its_sections_are_renamed_and_seated(self) -> None:
        self.add_student("Ada", instrument="flute")
        first, second = self.student.section.band.sections.order_by("pk")
        swapped = [{"id": first.pk, "name": second.name, "arc": 5},
                   {"id": second.pk, "name": first.name, "arc": 1}]  # fmt: skip
        self.sent("put", reverse("band-names"), {"name": "Grade 6", "sections": swapped})
        first.refresh_from_db()
        self.assertEqual((first.name, first.arc), (second.name, 5))
        self.assertEqual(Band.objects.get(teacher=self.teacher).name, "Grade 6")
        # Who comes later sits with the same instrument, whatever the section is called.
        self.assertEqual(self.add_student("Cy").section_id, first.pk)
        taken = str(swapped[1]["name"])
        twice = [{**swapped[0], "name": taken.upper()}]
        for sections in (twice, [*twice, {**swapped[1], "name": taken}],
                         [{**swapped[0], "id": 0, "name": "X"}]):  # fmt: skip
            body = {"name": "B", "sections": sections}
            self.sent("put", reverse("band-names"), body, expect=400)
        self.assertEqual(Section.objects.filter(name="X").count(), 0)
        self.assertEqual(Band.objects.get(teacher=self.teacher).name, "Grade 6")

    def test_students_of_a_section_are_seated(self) -> None:
        section = self.student.section
        bo, cy = self.add_student("Bo"), self.add_student("Cy")
        called = {"id": section.pk, "name": section.name, "arc": section.arc}

        def seat(students: list[int], expect: int = 200) -> list[str]:
            body = {"name": "Band", "sections": [{**called, "students": students}]}
            self.sent("put", reverse("band-names"), body, expect=expect)
            (shown,) = self.sent("get", reverse("band"))["sections"]
            return [chair["name"] for chair in shown["chairs"]]

        self.assertEqual(seat([]), ["Bo", "Cy", "Edda"])
        self.assertEqual(seat([cy.pk, self.student.pk, bo.pk]), ["Cy", "Edda", "Bo"])
        self.add_student("Ada")
        self.assertEqual(seat([]), ["Cy", "Edda", "Bo", "Ada"])
        # One who came meanwhile is not pushed off a chair.
        self.assertEqual(seat([bo.pk, cy.pk, self.student.pk], 400), ["Cy", "Edda", "Bo", "Ada"])

    def test_takes_without_a_finding_are_reviewed_at_once(self) -> None:
        clear, fault = self.add_ready(rise=0.0, width=1.0), self.add_ready()
        foreign = self.add_ready(self.add_student("Bo", self.stranger), rise=0.0, width=1.0)
        (line,) = self.sent("get", reverse("band"))["next"]
        self.assertFalse(line["clear"])
        body = {"takes": [clear.pk, fault.pk, foreign.pk]}
        self.assertEqual(self.sent("post", reverse("reviewed"), body)["takes"], [clear.pk])
        for take, read in ((clear, True), (fault, False), (foreign, False)):
            take.refresh_from_db()
            self.assertEqual(take.read_at is not None, read)
