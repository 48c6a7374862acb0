"""Another language: chosen in the settings, spoken by pages, findings and refusals."""

from __future__ import annotations

from tests.browser.base import BrowserTestCase, expect


class LanguageTests(BrowserTestCase):
    def test_german_is_chosen_and_spoken(self) -> None:
        page, take = self.page, self.add_read("edda-front-12")
        self.open("/settings")
        page.get_by_label("Language").select_option(label="Deutsch")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("heading", name="Einstellungen", exact=True)).to_be_visible()
        expect(page.locator("html")).to_have_attribute("lang", "de")
        self.assert_accessible()
        page.get_by_label("Zeitzone").fill("Mars/Olympus")
        page.get_by_role("button", name="Speichern", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("Unbekannte Zeitzone")
        self.open(f"/takes/{take.pk}")
        finding = page.get_by_role("article", name="Befund: Rand zu tief")
        expect(finding.get_by_role("button", name="Bestätigen")).to_be_visible()
        expect(page.get_by_role("button", name="Fertig, zum Orchester")).to_be_visible()
        for width in (390, 1280):
            page.set_viewport_size({"width": width, "height": 800})
            for path in ("/", f"/takes/{take.pk}", "/standards/clarinet", "/records"):
                self.open(path)
                expect(page.get_by_role("heading").first).to_be_visible()
                sideways = page.evaluate("document.documentElement.scrollWidth")
                self.assertLessEqual(sideways, width, path)
