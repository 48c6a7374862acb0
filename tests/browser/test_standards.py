"""A band is dragged on the drawing, its effect read, saved, and taken back to the shipped one."""

from __future__ import annotations

import re

from sulvet.standards.models import OwnStandard
from tests.browser.base import BrowserTestCase, expect


class StandardsTests(BrowserTestCase):
    def test_a_zone_is_dragged_saved_and_taken_back(self) -> None:
        page, take = self.page, self.add_read("edda-front-12")
        self.open()
        page.get_by_role("link", name="Standards").click()
        page.get_by_role("link", name="Horn", exact=True).click()
        page.get_by_label("Embouchure style").select_option(label="Two thirds upper lip")
        expect(page.get_by_role("heading", name="Horn")).to_be_visible()
        self.assert_accessible()
        band = page.locator('[data-band="rim_upper_share|front|hold|two-thirds"]')
        low = band.get_by_label("from")
        expect(low).to_have_value("0.6")
        # The upper edge of the strip is the low figure: less of the upper lip lies above it.
        zone = page.locator('[data-grip="rim"]')
        expect(zone).to_be_visible()
        box = zone.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + 8
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y - 26, steps=6)
        page.mouse.up()
        expect(low).not_to_have_value("0.6")
        self.assertLess(float(low.input_value()), 0.45)
        expect(page.get_by_role("status")).to_contain_text("Rim too low: 1 fewer")
        # By keyboard the same: a figure is typed, an impossible one is refused in words.
        band.get_by_text("Exact numbers").click()
        low.fill("0.9")
        expect(page.get_by_role("alert")).to_contain_text("low edge must lie below")
        low.fill("0.4")
        # Along the line too, by the arrow keys; a click on its name says what it is.
        limit = page.get_by_role("slider", name="Upper lip in the rim: lower limit")
        limit.press("ArrowLeft")
        expect(low).to_have_value("0.39")
        limit.press("ArrowRight")
        page.get_by_role("button", name="Upper lip in the rim").click()
        expect(page.get_by_role("dialog")).to_contain_text("share")
        expect(page.get_by_role("dialog").locator("img")).to_be_visible()
        page.get_by_label("Close").click()
        # Another page loses nothing of it.
        page.get_by_role("link", name="Clarinet", exact=True).click()
        expect(page.get_by_role("heading", name="Clarinet")).to_be_visible()
        page.get_by_role("link", name="Horn").click()
        page.get_by_label("Embouchure style").select_option(label="Two thirds upper lip")
        expect(low).to_have_value("0.4")
        page.get_by_label("What is this version for?").fill("small mouths")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("version 1.1")).to_be_visible()
        self.assertFalse(take.findings.filter(fault="rim-low").exists())
        self.open(f"/takes/{take.pk}")
        expect(page.get_by_role("heading", name="Nothing to correct")).to_be_visible()
        self.open("/standards/horn")
        # Whole before it is clicked: what is drawn anew closes again.
        page.wait_for_load_state("networkidle")
        expect(page.get_by_text("version 1.1")).to_be_visible()
        page.get_by_text("Your versions").click()
        expect(page.get_by_text(re.compile("1, .*: 1 limit changed, small mouths"))).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Reset to default").click()
        expect(page.get_by_text("version 1.2")).to_be_visible()
        self.assertTrue(take.findings.filter(fault="rim-low", verdict="fault").exists())
        self.assertEqual(OwnStandard.objects.count(), 2)
