"""One student led from the set-up card to the first tone; a routine run with a class."""

from __future__ import annotations

import datetime

from django.test import tag
from django.utils import timezone

from sulvet.band.services import StudentFacts, add_student, band_of
from sulvet.lessons.models import LadderMove
from tests.browser.base import BrowserTestCase, expect


@tag("browser")
class LessonTests(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        since = timezone.localdate() - datetime.timedelta(days=30)
        for name, instrument in (("Aino", "clarinet"), ("Bo", "clarinet"), ("Cem", "horn")):
            add_student(band_of(self.teacher), StudentFacts(name, instrument, "", since))

    def test_from_the_set_up_card_to_the_first_tone(self) -> None:
        page = self.page
        self.open("/lessons")
        # Several at once, and one undone.
        page.get_by_role("button", name="Select 3").click()
        expect(page.get_by_text("3 students selected")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Passed", exact=True).click()
        breath = page.get_by_role("listitem").filter(has_text="Breath").first
        expect(breath.locator(".chip")).to_have_count(3)
        page.get_by_role("button", name="Cem: passed").click()
        expect(breath.locator(".chip")).to_have_count(2)
        page.get_by_role("button", name="Undo").last.click()
        expect(breath.locator(".chip")).to_have_count(3)

        page.get_by_role("button", name="Aino", exact=True).click()
        page.get_by_role("link", name="Aino: whole ladder").click()
        heading = page.get_by_role("article").get_by_role("heading", level=2)
        page.get_by_role("button", name="Set-up card").click()
        page.get_by_label("Tip of the reed even").check()
        expect(page.get_by_text("Set-up card: 1 of")).to_be_visible()
        passed = page.get_by_role("button", name="Passed", exact=True)
        for step in ("Breath", "Shape, without anything", "Speak with the shape", "Placing",
                     "Air only"):  # fmt: skip
            page.get_by_role("button", name=step).click()
            expect(heading).to_have_text(step)
            passed.click()
        expect(heading).to_have_text("First sound")
        # No sound: what is heard brings the card for it, equipment first.
        page.get_by_role("button", name="No sound yet").click()
        page.get_by_role("button", name="only air, no tone").click()
        remedy = page.get_by_role("region", name="No sound: only air, no tone")
        expect(remedy).to_contain_text("Equipment first. A dry, warped or worn reed")
        self.assert_accessible()
        passed.click()
        expect(remedy).to_have_count(0)
        expect(heading).to_have_text("Hold four counts")
        # It does not hold: one back, and on again.
        page.get_by_role("button", name="Back one step").click()
        expect(heading).to_have_text("First sound")
        page.get_by_label("Too much at once? Leave out").select_option("tongue")
        for step in (
            "Hold four counts",
            "Hold ten seconds",
            "First note on the instrument",
        ):
            passed.click()
            expect(heading).to_have_text(step)
        expect(page.get_by_role("button", name="Sound F4")).to_be_visible()
        moves = list(LadderMove.objects.filter(student__name="Aino").values_list("what", flat=True))
        self.assertEqual((moves.count("no-sound"), moves.count("back")), (1, 1))

    def test_a_drill_is_given_to_a_section_and_done(self) -> None:
        page = self.page
        self.open("/drills")
        page.get_by_label("Instrument").select_option(label="Clarinet")
        page.get_by_label("Find a drill").fill("voicing")
        page.locator("summary").filter(has_text="Voicing, 3 minutes").click()
        self.assert_accessible()
        drill = page.locator("details").filter(has_text="Voicing, 3 minutes")
        drill.get_by_label("Give it to").select_option(label="Clarinets")
        drill.get_by_label("Level").select_option(index=2)
        drill.get_by_role("button", name="Give to 2 students").click()
        expect(page.get_by_text("Given to 2 students.")).to_be_visible()
        self.open("/lessons")
        page.get_by_role("button", name="Bo", exact=True).click()
        page.get_by_role("link", name="Bo: whole ladder").click()
        expect(page.get_by_text("bend a half step and back").first).to_be_visible()
        page.get_by_role("button", name="Done today").click()
        expect(page.get_by_text("done on 1 day")).to_be_visible()

    def test_a_routine_is_run_with_the_class(self) -> None:
        page = self.page
        page.clock.install()
        self.open("/routines/warm-up")
        now = page.get_by_role("region")
        expect(now.get_by_role("heading")).to_contain_text("Posture string")
        page.get_by_role("button", name="Next drill").click()
        expect(now.get_by_role("heading")).to_contain_text("Pulsed air")
        page.get_by_role("button", name="Start counting").click()
        page.clock.run_for(1100)
        expect(now.get_by_role("group", name="Pulsed air, counted")).to_contain_text("Ready")
        # It is counted to its end; after the breath the class is asked how it feels.
        page.clock.run_for(60_000)
        expect(page.get_by_role("alert")).to_contain_text("dizzy or light-headed")
        page.get_by_role("button", name="Everybody is fine, go on").click()
        expect(now.get_by_role("heading")).to_contain_text("Spat “p”")
        page.get_by_role("button", name="Teacher tap for the next turn").click()
        expect(page.get_by_role("button", name="Class tap")).to_be_visible()
        page.get_by_role("button", name="Next drill").click()
        expect(now.get_by_role("heading")).to_contain_text("Four by four")
        page.get_by_text("Sound the note, let them hum it").click()
        page.get_by_role("button", name="Sound F♯6, Clarinet").click()
        self.assert_accessible()
        page.get_by_role("button", name="Next drill").click()
        page.get_by_role("button", name="Finish").click()
        expect(page.get_by_text("Done. Rest as long as you played.")).to_be_visible()
