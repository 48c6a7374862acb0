"""From a photo of the reed to what is to be mended, by hand and by keys."""

from __future__ import annotations

import datetime

from django.utils import timezone
from playwright.sync_api import Page

from sulvet.band.services import StudentFacts, add_student, band_of
from sulvet.closeups.models import CloseUp
from sulvet.demo.closeups import DemoCloseUp
from sulvet.reeds.models import Reed
from tests.browser.base import BrowserTestCase, expect

PHOTO = "Photo with its marks"


def click_at(page: Page, x: float, y: float, size: tuple[int, int]) -> None:
    """Click a pixel of the photo."""
    box = page.get_by_role("group", name=PHOTO).bounding_box()
    assert box is not None
    scale = box["width"] / size[0]
    page.mouse.click(box["x"] + (x + 0.5) * scale, box["y"] + (y + 0.5) * scale)


class CloseUpTests(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        since = timezone.localdate() - datetime.timedelta(days=60)
        band = band_of(self.teacher)
        self.clarinet = add_student(band, StudentFacts("Carla", "clarinet", "", since))
        self.bassoon = add_student(band, StudentFacts("Lorenz", "bassoon", "", since))

    def test_ten_actions_from_a_photo_to_a_finding(self) -> None:
        page, one = self.page, DemoCloseUp("carla-reed", 0)
        kept, actions = one.marks(), 0
        self.open(f"/students/{self.clarinet.pk}")
        with page.expect_file_chooser() as chooser:
            page.get_by_role("button", name="Photo of the reed").click()
            actions += 1
        chooser.value.set_files(one.picture)
        actions += 1
        expect(page.get_by_role("heading", name="Next: tip of the reed")).to_be_visible()
        self.assert_accessible()
        for asked in ("reed_tip", "mouth_tip", "reed_r", "reed_l", "rail_r", "rail_l", "cut",
                      "lig_top"):  # fmt: skip
            if asked in kept["hidden"]:
                page.get_by_role("button", name="The reed covers it").click()
            else:
                x, y = kept["marks"][asked]
                click_at(page, x, y, kept["size"])
            actions += 1
        finding = page.get_by_role("article", name="Finding: Reed too high")
        expect(finding).to_contain_text("slide the reed down until both tips are even")
        self.assertLessEqual(actions, 10)
        expect(page.get_by_role("img", name="To scale")).to_be_visible()
        expect(page.locator("[data-found] g")).not_to_have_count(0)
        self.assert_accessible()
        # A mark that is dragged is measured anew.
        page.get_by_text("All readings").click()
        gap = page.get_by_role("definition").filter(has_text="Ligature below the cut")
        before = gap.evaluate("e => e.previousElementSibling.textContent")
        mark = page.locator("[data-mark=lig_top]")
        box = mark.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y + 60, steps=4)
        page.mouse.up()
        expect(page.locator("dt", has_text=before or "")).to_have_count(0)
        # Not so: the finding goes, and comes back.
        finding.get_by_role("button", name="Not true").click()
        expect(page.get_by_role("heading", name="Nothing to fix")).to_be_visible()
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(finding).to_be_visible()
        # What the eye sees is ticked, and the reed of the box is so.
        Reed.objects.create(student=self.clarinet, slot=1, opened_on=timezone.localdate())
        page.reload()
        page.get_by_label("This reed is in").select_option(label="slot 1")
        page.get_by_label("A piece of the tip is gone").check()
        expect(page.get_by_role("article", name="Finding: Chipped reed")).to_be_visible()
        page.get_by_role("link", name="Carla").click()
        box_of = page.get_by_role("region", name="Reeds")
        expect(box_of.get_by_role("listitem").first).to_contain_text("chipped")
        expect(box_of).to_contain_text("reed too high, chipped reed")
        self.assert_accessible()

    def test_a_double_reed_marked_by_keys_alone(self) -> None:
        page, one = self.page, DemoCloseUp("lorenz-reed", 0)
        kept = one.marks()
        self.open("/reeds")
        row = page.get_by_role("row", name="Lorenz")
        with page.expect_file_chooser() as chooser:
            row.get_by_role("button", name="Photo of the reed").press("Enter")
        chooser.value.set_files(one.picture)
        expect(page.get_by_role("heading", name="Next: right corner of the blades")).to_be_visible()
        for asked in ("blade_r", "blade_l", "gap_r", "gap_l", "gap_top", "gap_bottom"):
            page.keyboard.press("Enter")
            mark = page.locator(f"[data-mark={asked}]")
            expect(mark).to_have_attribute("aria-pressed", "true")
            for axis, keys in (("x", ("ArrowLeft", "ArrowRight")), ("y", ("ArrowUp", "ArrowDown"))):
                now = float(mark.get_attribute(f"data-{axis}") or 0)
                way = kept["marks"][asked][axis == "y"] - now
                for _ in range(round(abs(way) / 10)):
                    page.keyboard.press(f"Shift+{keys[way > 0]}")
        # No crook in this picture, says the teacher; the last is taken back and said again.
        page.keyboard.press("x")
        page.keyboard.press("x")
        finding = page.get_by_role("article", name="Finding: Gaping reed")
        expect(finding).to_be_visible()
        page.keyboard.press("u")
        expect(page.get_by_role("heading", name="Next: crook, lower point")).to_be_visible()
        page.keyboard.press("x")
        expect(finding).to_contain_text("Opening, height to width")
        self.assert_accessible()
        page.get_by_role("button", name="Delete this close-up").click()
        page.get_by_role("button", name="Delete permanently").click()
        page.wait_for_url(f"**/students/{self.bassoon.pk}")
        self.assertEqual(CloseUp.objects.count(), 0)
