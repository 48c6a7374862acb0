"""From a read take to the slip in a hand, two takes laid over one another, and a whole band
in and out, in a real browser."""

from __future__ import annotations

import datetime
import io
import re
import shutil
import tempfile
from pathlib import Path

import pypdfium2
from django.utils import timezone
from playwright.sync_api import Locator
from pypdf import PdfReader

from sulvet.band.models import Student
from sulvet.demo.scenario import TAKES
from sulvet.records.models import Note
from sulvet.takes.models import Take
from tests.browser.base import BrowserTestCase, expect


class SlipTests(BrowserTestCase):
    def test_from_a_read_take_to_the_slip_in_two_actions(self) -> None:
        self.add_read("edda-front-1", days_ago=9)
        take = self.add_read("edda-front-12", days_ago=1)
        # One: the take in the list. Two: its slip, which the browser shows and prints.
        self.open()
        self.page.get_by_role("region", name="Next for you").get_by_role("link").first.click()
        link = self.page.get_by_role("link", name="Slip", exact=True)
        expect(link).to_have_attribute("target", "_blank")
        address = link.get_attribute("href")
        assert address is not None
        self.assertIn(f"/takes/{take.pk}/", address)
        answer = self.page.request.get(f"{self.live_server_url}{address}")
        self.assertEqual(answer.headers["content-type"], "application/pdf")
        self.assertTrue(answer.headers["content-disposition"].startswith("inline"))
        reader = PdfReader(io.BytesIO(answer.body()))
        self.assertIn("Edda", reader.pages[0].extract_text())
        self.assertEqual(len(reader.pages[0].images), 2)
        page = pypdfium2.PdfDocument(answer.body())
        shown = page[0].render(scale=1.0).to_pil()
        page.close()
        # Of the page neither too little nor too much is printed on.
        ink = sum(1 for tone in shown.convert("L").getdata() if tone < 200)
        self.assertTrue(0.05 < ink / (shown.width * shown.height) < 0.6)
        # The class set for all who have one thing.
        self.open()
        expect(self.page.get_by_role("link", name="1 slip")).to_have_attribute(
            "href", re.compile(r"^/api/slips\.pdf")
        )


class ThenAndNowTests(BrowserTestCase):
    def shown(self, picture: Locator) -> list[str]:
        """Addresses of the photographs of a picture, once all of them are there."""
        images = picture.locator("image")
        addresses = [images.nth(n).get_attribute("href") or "" for n in range(images.count())]
        for address in addresses:
            answer = self.page.request.get(f"{self.live_server_url}{address}")
            self.assertEqual((answer.status, answer.headers["content-type"]), (200, "image/jpeg"))
        return addresses

    def test_two_takes_beside_and_over_each_other_by_keyboard(self) -> None:
        first = self.add_read("edda-front-1", days_ago=9)
        second = self.add_read("edda-front-12", days_ago=1)
        self.open(f"/takes/{second.pk}")
        expect(self.page.get_by_role("heading", name="Rim too low")).to_be_visible()
        self.page.keyboard.press("y")
        pictures = self.page.get_by_role("region", name="Pictures")
        said = self.page.get_by_role("region", name="What has changed")
        expect(said.locator("p.serif")).to_contain_text("% of the rim: clearly worse")
        then, now = (pictures.get_by_role("img", name=name) for name in ("Then", "Now"))
        self.assertIn(f"/takes/{first.pk}/onto/{first.pk}/", self.shown(then)[0])
        self.assertIn(f"/takes/{second.pk}/onto/{first.pk}/", self.shown(now)[0])
        # The focus's dimension on both, and no other.
        for picture in (then, now):
            expect(picture.locator("[data-dimension]")).to_have_count(1)
            expect(picture.locator("[data-dimension=rim_upper_share] text")).to_contain_text("0.")
        self.assert_accessible()
        # Another frame of the newer take.
        before = self.shown(now)[0]
        self.page.keyboard.press("w")
        expect(now.locator("image")).not_to_have_attribute("href", before)
        # Overlaid: the older mouth as a ghost, its picture faded in by hand.
        self.page.keyboard.press("2")
        over = pictures.get_by_role("img", name="Then")
        expect(over.locator("[data-ghost]").first).to_be_attached()
        slide = self.page.get_by_label("Fade in the older picture")
        slide.fill("0.5")
        expect(over.locator("image").nth(1)).to_have_attribute("opacity", "0.5")
        # A moving edge: what is left of it is the older picture.
        self.page.keyboard.press("3")
        self.page.get_by_label("Move the edge").blur()
        clip = over.locator("rect")
        wide = float(clip.get_attribute("width") or 0)
        self.page.keyboard.press("ArrowRight")
        expect(clip).not_to_have_attribute("width", str(wide))
        self.assertGreater(float(clip.get_attribute("width") or 0), wide)
        # All takes, the focus's measure.
        chart = self.page.get_by_role("region", name="All takes")
        expect(chart.get_by_role("img")).to_have_attribute(
            "aria-label", re.compile("^Upper lip in the rim")
        )
        chart.get_by_label("Measure").select_option(label="Mouth width")
        expect(chart.get_by_role("img")).to_have_attribute("aria-label", re.compile("^Mouth width"))
        self.page.get_by_label("Whole face").click()
        expect(over.locator("image").first).to_have_attribute("href", re.compile("face=1$"))

    def test_one_take_alone_says_what_is_missing(self) -> None:
        take = self.add_read("edda-front-12")
        self.open(f"/students/{take.student_id}/then-and-now")
        expect(self.page.get_by_text("no two takes to compare")).to_be_visible()


class NotesTests(BrowserTestCase):
    def test_a_note_at_a_moment_and_the_file_a_browser_shows_as_captions(self) -> None:
        take = self.add_read("edda-front-12")
        self.open(f"/takes/{take.pk}")
        expect(self.page.get_by_role("heading", name="Rim too low")).to_be_visible()
        self.page.keyboard.press("Shift+N")
        field = self.page.get_by_label("Note at")
        expect(field).to_be_focused()
        field.fill("Left corner <slips> & comes back")
        self.page.get_by_role("button", name="Note at").click()
        note = self.page.locator(".note")
        expect(note).to_contain_text("Left corner <slips> & comes back")
        kept = Note.objects.get()
        assert kept.seconds is not None
        # Its time leads back to its frame.
        field.blur()
        self.page.keyboard.press("Shift+Q")
        note.get_by_role("button", name=f"{kept.seconds:.2f} s").click()
        expect(self.page.get_by_label("Note at")).to_have_attribute(
            "aria-label", f"Note at {kept.seconds:.2f} seconds"
        )
        # The browser's own reader of WebVTT as the second opinion.
        cues = self.page.evaluate(
            """async (address) => {
                const video = document.body.appendChild(document.createElement("video"));
                const track = document.createElement("track");
                track.src = address;
                video.append(track);
                track.track.mode = "hidden";
                await new Promise((done, fail) => { track.onload = done; track.onerror = fail; });
                const cues = [...track.track.cues].map((c) =>
                    [c.startTime, c.getCueAsHTML().textContent]);
                video.remove();
                return cues;
            }""",
            f"/api/takes/{take.pk}/notes.vtt",
        )
        self.assertEqual(len(cues), 1)
        self.assertAlmostEqual(cues[0][0], kept.seconds, places=3)
        self.assertEqual(cues[0][1], "Left corner <slips> & comes back")
        # On the student's page it stands with its take, and can be changed there.
        self.open(f"/students/{take.student_id}")
        notes = self.page.get_by_role("region", name="Notes")
        notes.get_by_role("button", name="edit").click()
        notes.get_by_label("Note", exact=True).fill("Better now")
        notes.get_by_role("button", name="Save").click()
        expect(notes.locator(".note")).to_contain_text("Better now")
        self.assert_accessible()


class StudentTests(BrowserTestCase):
    def test_findings_over_time_consent_and_deleting_for_good(self) -> None:
        self.add_read("edda-front-12", "Edda Marschall", 12)
        take = self.add_read("edda-front-1", "Edda Marschall", 1)
        self.open(f"/students/{take.student_id}")
        table = self.page.get_by_role("region", name="Findings over time")
        row = table.get_by_role("row", name="Rim too low")
        expect(row.get_by_role("cell").first).to_contain_text("the focus")
        expect(self.page.get_by_label("Takes in time").get_by_role("link")).to_have_count(2)
        self.page.get_by_role("button", name="Change dates").click()
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_label("Keep until").fill("2026-01-31")
        dialog.get_by_role("button", name="Save").click()
        expect(self.page.get_by_text("date passed")).to_be_visible()
        directory = Path(take.directory)
        self.assertTrue(directory.exists())
        self.page.get_by_role("button", name="Delete this student").click()
        gone = self.page.get_by_role("button", name="Delete permanently")
        expect(gone).to_be_disabled()
        self.page.get_by_label("Type the name to delete").fill("Edda Marschall")
        gone.click()
        expect(self.page.get_by_text("No students yet")).to_be_visible()
        self.assertFalse(directory.exists())


class BandTests(BrowserTestCase):
    def folder(self) -> Path:
        kept = tempfile.TemporaryDirectory()
        self.addCleanup(kept.cleanup)
        return Path(kept.name)

    def test_a_class_list_and_a_folder_of_clips(self) -> None:
        folder = self.folder()
        table = folder / "list.csv"
        table.write_text("name,instrument\nAda Lunde,horn\nBo Ek,trumpit\n", "utf-8")
        self.open()
        self.page.get_by_role("button", name="Import class list").click()
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_label("Spreadsheet (xlsx) or CSV file").set_input_files(table)
        expect(dialog.get_by_role("alert")).to_contain_text("One row needs fixing")
        expect(dialog.get_by_role("button", name="Import")).to_be_disabled()
        since = (timezone.localdate() - datetime.timedelta(days=30)).isoformat()
        table.write_text(
            f"name,instrument,consent\nAda Lunde,horn,{since}\nBo Ek,trumpet,\n", "utf-8"
        )
        with self.page.expect_file_chooser() as chooser:
            dialog.get_by_label("Spreadsheet (xlsx) or CSV file").click()
        chooser.value.set_files(table)
        dialog.get_by_role("button", name="Import 2 students").click()
        expect(self.page.get_by_text("2 students")).to_be_visible()
        # The filter keeps everybody's place and says how many fit.
        self.page.get_by_label("All instruments").select_option(label="Horn")
        expect(self.page.get_by_text("1 shown")).to_be_visible()
        expect(self.page.locator(".chair.back")).to_have_count(1)
        self.page.get_by_role("button", name="Clear filters").click()

        for name in ("ada_lunde_side_2026-11-02.mp4", "IMG_7.mp4"):
            shutil.copy(TAKES / "aino-side-0.mp4", folder / name)
        (folder / "bo.mp4").write_bytes(b"no clip")
        self.page.get_by_role("link", name="Upload clips").click()
        self.page.get_by_label("Choose clips").set_input_files(sorted(folder.glob("*.mp4")))
        expect(self.page.get_by_text("3 clips, 1 ready to upload")).to_be_visible()
        row = self.page.get_by_role("row").filter(has_text="ada_lunde_side")
        expect(row.get_by_label("View of")).to_have_value("side")
        expect(row.get_by_label("Day of")).to_have_value("2026-11-02")
        self.assert_accessible()
        self.page.get_by_role("button", name="Upload 1 clip").click()
        expect(row).to_contain_text("uploaded ✓")
        # What may not be uploaded stays, with the reason; what is not sure as well.
        bad = self.page.get_by_role("row").filter(has_text="bo.mp4")
        expect(bad).to_contain_text("No consent on file for this day")
        unsure = self.page.get_by_role("row").filter(has_text="IMG_7")
        expect(unsure).to_contain_text("Choose the student")
        take = Take.objects.get()
        self.assertEqual((take.student.name, take.view), ("Ada Lunde", "side"))
        self.page.get_by_role("link", name="Open the band").click()
        expect(self.page.get_by_role("heading", name="Next for you")).to_be_visible()

    def test_the_whole_band_out_and_in_again(self) -> None:
        self.add_read("edda-front-12", "Edda Marschall", 3)
        self.open("/records")
        self.page.get_by_label("Passphrase, at least 12").fill("four plain words")
        with self.page.expect_download() as download:
            self.page.get_by_role("button", name="Back up, encrypted").click()
        file = self.folder() / "band.zip"
        download.value.save_as(file)
        self.open(f"/students/{Student.objects.get().pk}")
        self.page.get_by_role("button", name="Delete this student").click()
        self.page.get_by_label("Type the name to delete").fill("Edda Marschall")
        self.page.get_by_role("button", name="Delete permanently").click()
        self.page.get_by_role("link", name="Restore a backup").click()
        self.page.get_by_label("Backup file").set_input_files(file)
        self.page.get_by_label("Passphrase, if it has one").fill("four plain words")
        self.page.get_by_role("button", name="Restore").click()
        expect(self.page.get_by_text("Restored: 1 student and 1 take.")).to_be_visible()
        self.assert_accessible()
        self.page.get_by_role("link", name="Open the band").click()
        self.page.get_by_role("link", name="Edda").first.click()
        expect(self.page.get_by_role("heading", name="Rim too low")).to_be_visible()


class SectionalsTests(BrowserTestCase):
    def test_groups_follow_what_the_teacher_sets(self) -> None:
        for name in ("Ada", "Bo", "Cy"):
            self.add_read("edda-front-12", name, 3)
        self.open()
        self.page.get_by_role("link", name="Sectionals").click()
        expect(self.page.get_by_role("region", name="Group 1: Rim too low")).to_contain_text("Cy")
        self.page.get_by_label("Max students").fill("2")
        expect(self.page.get_by_role("region", name="Single lessons")).to_contain_text("Cy")
        self.page.get_by_label("Min students").fill("1")
        expect(self.page.get_by_role("region", name="Group 2: Rim too low")).to_contain_text("Cy")
        self.page.get_by_label("Minutes in total").fill("8")
        expect(self.page.get_by_text("No time today")).to_be_visible()
        self.page.get_by_label("Min students").fill("3")
        expect(self.page.get_by_role("alert")).to_contain_text("minimum can't be larger")
        self.page.get_by_label("Min students").fill("2")
        expect(self.page.get_by_role("alert")).to_have_count(0)
        self.assert_accessible()
