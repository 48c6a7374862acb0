"""A band of ninety in the browser; every page on small screens; a session that ends; shortcuts."""

from __future__ import annotations

import io
import re
import tempfile
from pathlib import Path

import openpyxl
from django.contrib.sessions.models import Session
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import tag

from sulvet.band.models import Student
from sulvet.closeups.services import add_close_up
from sulvet.demo.closeups import DemoCloseUp
from sulvet.eye.services import begin
from tests.base import new_student
from tests.browser.base import BrowserTestCase, expect, settle

#: What a school calls them, and how many there are.
PLAYERS = {
    "Concert Flute": 14, "Bb Clarinet 1": 22, "Alto Sax": 14, "Bb Trumpet": 14, "Trombone": 10,
    "F Horn": 6, "Baritone TC": 4, "Tubas": 4, "Oboe": 1, "Bassoon": 1,
}  # fmt: skip


def class_list() -> bytes:
    """A school's own spreadsheet of ninety students."""
    book, out = openpyxl.Workbook(), io.BytesIO()
    sheet = book.active
    assert sheet is not None
    sheet.append(["Student Name", "Grade", "Instr", "Video permission", "Permission"])
    number = 0
    for instrument, count in PLAYERS.items():
        for _ in range(count):
            number += 1
            given = "8/28/2026" if number % 9 else "no"
            sheet.append([f"Made-Up {number:02}, Nuño" if number == 7 else f"Player {number:02}",
                          6, instrument, "", given])  # fmt: skip
    sheet.append(["Drum Mer", 6, "Percussion", "", "8/28/2026"])
    book.save(out)
    return out.getvalue()


@tag("browser")
class NinetyTests(BrowserTestCase):
    def test_a_class_list_of_ninety_and_finding_one_of_them(self) -> None:
        page = self.page
        with tempfile.TemporaryDirectory() as folder:
            table = Path(folder) / "grade 6.xlsx"
            table.write_bytes(class_list())
            self.open()
            page.get_by_role("button", name="Manage band").click()
            page.get_by_role("button", name="Import class list").last.click()
            dialog = page.get_by_role("dialog")
            dialog.get_by_label("Spreadsheet (xlsx) or CSV file").set_input_files(table)
            expect(dialog).to_contain_text("90 new, 0 changed, 0 unchanged")
            expect(dialog).to_contain_text("Left out: Drum Mer (Percussion).")
            expect(dialog).to_contain_text("Columns not used: Grade, Video permission.")
            dialog.get_by_role("button", name="Import 90 students").click()
        expect(page.get_by_text("90 students")).to_be_visible()
        self.assertEqual(Student.objects.filter(consent_on__isnull=True).count(), 10)
        # A list first, then the plan, with names that can be read.
        expect(page.get_by_role("row")).to_have_count(91)
        self.assert_accessible()
        page.get_by_role("button", name="Plan").click()
        chairs = page.locator(".chair")
        expect(chairs).to_have_count(90)
        small = page.evaluate(
            "[...document.querySelectorAll('.chair *, .section-name')]"
            ".filter(e => parseFloat(getComputedStyle(e).fontSize) < 12).length"
        )
        self.assertEqual(small, 0)
        page.get_by_role("button", name="Clarinets").first.click()
        expect(chairs).to_have_count(69)
        page.get_by_role("searchbox").fill("nuno")
        page.get_by_role("button", name="List").click()
        expect(page.get_by_role("row")).to_have_count(2)
        page.get_by_role("link", name="Nuño Made-Up 07").click()
        expect(page.get_by_role("heading", name="Nuño Made-Up 07")).to_be_visible()
        page.go_back()
        expect(page.get_by_role("searchbox")).to_have_value("nuno")
        # The link to the band shows all of it again.
        page.get_by_role("link", name="Band", exact=True).click()
        expect(page.get_by_role("searchbox")).to_have_value("")
        page.get_by_role("searchbox").fill("nuno")
        expect(page).to_have_url(re.compile("text=nuno"))
        page.get_by_role("button", name="List").click()
        page.get_by_role("button", name="Clear filters").click()
        page.get_by_label("Any status").select_option(label="not filmed")
        page.get_by_role("button", name="State").click()
        page.get_by_label("Select all").check()
        page.get_by_role("button", name="Set consent").click()
        page.get_by_role("dialog").get_by_role("button", name="Set consent").click()
        expect(page.get_by_role("dialog")).to_have_count(0)
        self.assertEqual(Student.objects.filter(consent_on__isnull=True).count(), 0)


@tag("browser")
class EverywhereTests(BrowserTestCase):
    def assert_usable(self, *paths: str) -> None:
        """Each page can be read out, and scrolls sideways at no width."""
        for path in paths:
            self.open(path)
            self.page.locator("#content main h1, #content main article, .alert").first.wait_for()
            settle(self.page)
            self.assert_accessible(about=path)
            self.assert_fits(about=path)
            expect(self.page).to_have_title(re.compile("Sulvet"))

    def test_pages_of_takes_and_students_are_usable(self) -> None:
        take = self.add_read("edda-front-16")
        self.add_read("edda-front-12")
        side = self.add_read("aino-side-14", "Aino Vesterlund")
        student = f"/students/{take.student_id}"
        self.assert_usable(
            "/", "/?view=plan", "/?view=list", student, f"/students/{side.student_id}",
            f"{student}/then-and-now", f"/takes/{take.pk}", f"/takes/{side.pk}", "/sectionals",
            "/records", f"/lessons/{take.student_id}", "/lessons",
        )  # fmt: skip

    def test_every_other_page_is_usable(self) -> None:
        reed = new_student(self.teacher, "Carla", instrument="clarinet")
        photo = DemoCloseUp("carla-reed", 0).picture.read_bytes()
        close_up = add_close_up(reed, SimpleUploadedFile("reed.jpg", photo, "image/jpeg"))
        around = begin(self.teacher, "horn", "clear")
        self.assert_usable(
            "/clips", "/reeds", "/standards/clarinet", "/hand", "/school-days", "/drills",
            "/routines/buzz-day", "/settings", "/help", "/help?page=measuring", "/eye",
            "/eye/gallery/horn", "/eye/pairs/horn", f"/eye/rounds/{around.pk}",
            f"/close-ups/{close_up.pk}", "/nowhere",
        )  # fmt: skip

    def test_a_session_that_ends_is_begun_again_over_the_page(self) -> None:
        self.add_read("edda-front-16")
        page = self.page
        self.open()
        page.get_by_role("button", name="Add a student").click()
        page.get_by_role("dialog").get_by_label("Name").fill("Ada Lunde")
        page.get_by_label("Instrument", exact=True).select_option(label="Horn")
        Session.objects.all().delete()
        page.get_by_role("button", name="Save").click()
        again = page.get_by_role("dialog", name="Log in again")
        again.get_by_label("Password of teacher").fill("wrong")
        again.get_by_role("button", name="Log in", exact=True).click()
        expect(again).to_contain_text("Wrong name or password")
        again.get_by_label("Password of teacher").fill("a-long-word")
        again.get_by_role("button", name="Log in", exact=True).click()
        expect(page.get_by_role("link", name=re.compile("Ada Lunde")).first).to_be_visible()
        self.assertTrue(Student.objects.filter(name="Ada Lunde").exists())

    def test_shortcuts_can_be_changed(self) -> None:
        take = self.add_read("edda-front-16")
        page = self.page
        self.open(f"/takes/{take.pk}")
        frame = page.get_by_text(re.compile(r"frame \d+ of"))
        expect(frame).to_be_visible()
        first = frame.inner_text()
        page.keyboard.press("?")
        sheet = page.get_by_role("dialog", name="Shortcuts")
        change = sheet.get_by_role("button", name=re.compile("one frame forward"))
        change.click()
        page.keyboard.press("x")
        expect(sheet).to_contain_text("X is taken")
        page.keyboard.press("k")
        expect(change).to_contain_text("K")
        self.assert_accessible()
        page.keyboard.press("Escape")
        expect(sheet).to_have_count(0)
        page.keyboard.press("w")
        expect(frame).to_have_text(first)
        page.keyboard.press("k")
        expect(frame).not_to_have_text(first)
