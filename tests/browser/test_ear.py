"""A take heard on the Bench: the tone on the score, what it means, another note to aim at."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from sulvet.plans.models import Plan
from sulvet.takes.models import Take
from tests.browser.base import BrowserTestCase


class EarTests(BrowserTestCase):
    def open(self, name: str, student: str) -> None:
        take = self.add_read(name, student)
        self.page.goto(f"{self.live_server_url}/takes/{take.pk}")
        self.panel = self.page.get_by_role("region", name="Sound analysis")
        self.page.get_by_role("button", name="Sound analysis").click()
        expect(self.panel).to_be_visible()

    def test_a_bitten_saxophone_mouthpiece(self) -> None:
        self.open("noor-front-1", "Noor")
        expect(self.panel).to_contain_text("usually biting")
        expect(self.panel).to_contain_text(re.compile(r"1[56]\d cents from A5"))
        self.assert_tone_is_drawn()
        # Eye and ear: a finding that says which of the two it was.
        biting = self.page.get_by_role("article", name="Finding: Biting")
        expect(biting).to_contain_text("Heard alone: the jaw can't be seen")
        expect(biting).to_contain_text(re.compile(r"1[56]\d ± \d+ cents"))
        self.assert_accessible()
        biting.get_by_role("button", name="Confirm").click()
        expect(biting).to_contain_text("You confirmed this.")
        # Played for another note it is right.
        self.panel.get_by_text("Played for A5").click()
        note = self.panel.get_by_label("Note (concert pitch)")
        note.fill("H")
        note.press("Enter")
        expect(self.panel.get_by_role("alert")).to_contain_text("no note")
        note.fill("B5")
        note.press("Enter")
        expect(self.panel).to_contain_text(re.compile("cents from B5"))
        expect(self.panel).to_contain_text("On pitch.")
        expect(biting).to_have_count(0)

    def assert_tone_is_drawn(self) -> None:
        """Ink of the pitch where the tone sounds; loudness dotted where none does."""
        for measure, dotted in (("pitch", 0), ("level", 1)):
            stave = self.page.locator(f"[data-stave={measure}]")
            expect(stave).to_have_count(1)
            drawn = stave.locator("path").evaluate_all(
                "all => all.filter((e) => e.getAttribute('d').length > 100)"
                ".map((e) => e.getAttribute('stroke-dasharray'))"
            )
            self.assertEqual(sum(d is not None for d in drawn), dotted, measure)
            self.assertGreater(len(drawn), dotted, measure)

    def test_an_airy_trombone(self) -> None:
        self.open("ruben-front-2", "Ruben")
        expect(self.panel).to_contain_text("Breathy start")
        expect(self.panel).to_contain_text("air in the tone")
        self.assert_accessible()
        # Ticked, the equipment is looked at before the mouth.
        self.panel.get_by_role("button", name="Tick").click()
        first = self.page.get_by_role("article", name="Check the equipment first")
        expect(first).to_contain_text("Mouthpiece, water, valves or slide first")
        expect(self.panel.get_by_role("button", name="Tick")).to_have_count(0)

    def test_ten_seconds_of_a_steady_clarinet(self) -> None:
        self.open("oskar-front-3", "Oskar")
        expect(self.panel).to_contain_text("10 counts at 60")
        # Under a plan the take is held against its drill's own counts.
        take = Take.objects.get()
        Plan.objects.create(
            student=take.student, fault="jaw-drop", view="front", stage="mouthpiece", minutes=8,
            drills=["mouthpiece-tone"], started_on=take.filmed_on,
        )  # fmt: skip
        self.page.reload()
        self.page.get_by_role("button", name="Sound analysis").click()
        drill = self.panel.get_by_role("group", name="Drill as played: Mouthpiece tone")
        expect(drill).to_contain_text("1 of 1 tone of the counted length")
        drill.get_by_role("button", name="10.6 of 10").click()
        expect(self.page.get_by_text(re.compile(r"^2\.7\d s, frame"))).to_be_visible()
        # Counted faster the same tone is too long.
        self.panel.get_by_text("Played for F#6").click()
        self.panel.get_by_label("Beats per minute").fill("80")
        self.panel.get_by_role("button", name="Apply").click()
        expect(drill).to_contain_text("0 of 1 tone ")
        expect(self.panel).to_contain_text("14 counts at 80")
        unrest = self.panel.get_by_text("Pitch wobble").locator("xpath=following::dd[1]")
        expect(unrest).to_contain_text("within standard")

    def test_a_siren_on_the_horn(self) -> None:
        self.open("greta-front-5", "Greta")
        expect(self.panel).to_contain_text(re.compile(r"Slide over [67]\.\d half steps"))
        expect(self.panel).to_contain_text("smooth, and back to the start")
        expect(self.panel).to_contain_text("During it the mouth moves")
        # The piece alone can be listened to again: from a little before it to its end.
        piece = self.panel.get_by_label("This note alone")
        piece.evaluate("e => e.load()")
        self.page.wait_for_function("e => e.readyState >= 1", arg=piece.element_handle())
        self.assertGreater(piece.evaluate("e => e.currentTime"), 0.5)
        self.panel.get_by_label("Choose a note").select_option(label="The phase “change”")
        change = self.panel.get_by_label("The phase “change”")
        change.evaluate("e => e.load()")
        self.page.wait_for_function("e => e.readyState >= 1", arg=change.element_handle())
        # The script's siren leaves its first note half a second after it began.
        self.assertAlmostEqual(change.evaluate("e => e.currentTime"), 3.5 - 0.3, delta=0.2)
