"""A new teacher's whole way: account, class list of ninety, a folder of clips, findings, slips.

What is done by hand is counted, and docs/working.md says the same number.
"""

from __future__ import annotations

import re
import shutil
import tempfile
from collections.abc import Callable
from pathlib import Path

import openpyxl
from django.conf import settings
from django.contrib.auth.models import User
from django.test import tag
from django.utils import timezone

from sulvet.band.models import Student
from sulvet.demo.scenario import TAKES
from sulvet.takes.models import Take
from tests.browser.base import BrowserTestCase, expect

PARTS = ("Flute", "Oboe", "Bb Clarinet", "Alto Sax", "Bassoon", "F Horn", "Bb Trumpet", "Trombone",
         "Tuba")  # fmt: skip
#: Clips of the folder: the demo's script, and whose name the file bears.
CLIPS = {"edda-front-16": "Edda Marschall", "edda-front-1": "Player 06-1"}


@tag("browser")
class NewTeacherTests(BrowserTestCase):
    def folder(self) -> Path:
        """A class list with a school's own columns, and a folder of clips named by student."""
        kept = tempfile.TemporaryDirectory(prefix="sulvet-new-")
        self.addCleanup(kept.cleanup)
        folder, book = Path(kept.name), openpyxl.Workbook()
        sheet = book.active
        assert sheet is not None
        sheet.append(["Last name", "First name", "Instrument", "Grade", "Permission"])
        for n in range(89):
            sheet.append([f"{n % 9 + 1:02}-{n // 9}", "Player", PARTS[n % 9], 6, "yes"])
        sheet.append(["Marschall", "Edda", "French Horn", 6, "yes"])
        book.save(folder / "class.xlsx")
        for script, name in CLIPS.items():
            shutil.copy(TAKES / f"{script}.mp4", folder / f"{name} front.mp4")
        return folder

    def test_from_nothing_to_a_class_set_of_slips(self) -> None:
        page, folder = self.page, self.folder()
        User.objects.all().delete()
        page.context.clear_cookies()
        self.start_worker()
        self.open()
        expect(page.get_by_role("button", name="Create account")).to_be_visible()
        done = 0

        def by_hand(act: Callable[[], object]) -> None:
            nonlocal done
            act()
            done += 1

        by_hand(lambda: page.get_by_label("Name").fill("ms-bell"))
        by_hand(lambda: page.get_by_label("Password").fill("four plain words"))
        by_hand(page.get_by_role("button", name="Create account").click)

        by_hand(page.get_by_role("button", name="Import class list").first.click)
        table = page.get_by_label("Spreadsheet (xlsx) or CSV file")
        by_hand(lambda: table.set_input_files(folder / "class.xlsx"))
        expect(page.get_by_role("dialog")).to_contain_text("Grade")
        by_hand(page.get_by_role("button", name="Import 90 students").click)
        expect(page.get_by_text("90 students")).to_be_visible()
        self.assertEqual(
            Student.objects.filter(consent_on=timezone.localdate()).count(), 90, "as permitted"
        )

        by_hand(page.get_by_role("link", name="Upload clips").click)
        clips = page.get_by_label("Choose clips")
        by_hand(lambda: clips.set_input_files(sorted(folder.glob("*.mp4"))))
        by_hand(page.get_by_role("button", name="Upload 2 clips").click)
        expect(page.get_by_text("uploaded ✓")).to_have_count(2)
        by_hand(page.get_by_role("link", name="Open the band").click)
        expect(page.get_by_text("Takes to review: 2")).to_be_visible()

        by_hand(page.get_by_role("link", name=re.compile("Edda Marschall")).first.click)
        finding = page.get_by_role("article", name=re.compile("Finding: ")).first
        by_hand(finding.get_by_role("button", name="Confirm").click)
        by_hand(page.get_by_role("button", name=re.compile("Done, next: ")).click)
        by_hand(page.get_by_role("button", name="Done, open the band").click)
        slips = page.get_by_role("link", name=re.compile(r"Print \d slips?"))
        expect(slips).to_be_visible()
        with page.context.expect_event("response", lambda r: "slips" in r.url) as answer:
            by_hand(slips.click)
        self.assertEqual(answer.value.headers["content-type"], "application/pdf")
        self.assertEqual(Take.objects.filter(read_at__isnull=False).count(), 2)
        told = (Path(settings.ROOT) / "docs" / "working.md").read_text("utf-8")
        self.assertIn(f"{done} actions", told)
