"""A take heard on the Bench: the tone on the score, what it means, another note to aim at."""

from __future__ import annotations

import datetime
import re

from sulvet.lessons.models import GivenDrill
from sulvet.plans.models import Plan
from sulvet.takes import listening
from sulvet.takes.intended import IntendedNote
from sulvet.takes.models import Take
from tests.browser.base import BrowserTestCase, expect


class EarTests(BrowserTestCase):
    def listen(self, name: str, student: str) -> None:
        take = self.add_read(name, student)
        self.open(f"/takes/{take.pk}")
        self.panel = self.page.get_by_role("region", name="Sound analysis")
        self.page.get_by_role("button", name="Sound analysis").click()
        expect(self.panel).to_be_visible()

    def test_a_bitten_saxophone_mouthpiece(self) -> None:
        self.listen("noor-front-1", "Noor")
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
        self.listen("ruben-front-2", "Ruben")
        expect(self.panel).to_contain_text("Breathy start")
        expect(self.panel).to_contain_text("air in the tone")
        self.assert_accessible()
        # Ticked, the equipment is looked at before the mouth.
        self.panel.get_by_role("button", name="Tick").click()
        first = self.page.get_by_role("article", name="Check the equipment first")
        expect(first).to_contain_text("Mouthpiece, water, valves or slide first")
        expect(self.panel.get_by_role("button", name="Tick")).to_have_count(0)

    def test_ten_seconds_of_a_steady_clarinet(self) -> None:
        self.listen("oskar-front-3", "Oskar")
        expect(self.panel).to_contain_text("10 counts at 60")
        # Under a plan the take is held against its drill's own counts.
        take = Take.objects.get()
        Plan.objects.create(
            student=take.student, fault="jaw-drop", view="front", stage="mouthpiece", minutes=8,
            drills=["mouthpiece-tone"], started_on=take.filmed_on,
        )  # fmt: skip
        self.page.reload()
        self.page.get_by_role("button", name="Sound analysis").click()
        drill = self.panel.get_by_role("group", name="Exercise as played: Mouthpiece tone")
        expect(drill).to_contain_text("1 of 1 right. The whole exercise has 4.")
        expect(drill).to_contain_text("10.6 of 10")
        drill.get_by_role("button", name=re.compile("10.6 of 10")).click()
        expect(self.page.get_by_text(re.compile(r"^2\.7\d s, frame"))).to_be_visible()
        # Counted faster the same tone is too long.
        self.panel.get_by_text("Played for F#6").click()
        self.panel.get_by_label("Beats per minute").fill("80")
        self.panel.get_by_role("button", name="Apply").click()
        expect(drill).to_contain_text("0 of 1 right. Number 1: long.")
        expect(self.panel).to_contain_text("14 counts at 80")
        unrest = self.panel.get_by_text("Pitch wobble").locator("xpath=following::dd[1]")
        expect(unrest).to_contain_text("within standard")

    def test_a_siren_on_the_horn(self) -> None:
        self.listen("greta-front-5", "Greta")
        expect(self.panel).to_contain_text(re.compile(r"Slide over [67]\.\d half steps"))
        expect(self.panel).to_contain_text("smooth, and back to the start")
        expect(self.panel).to_contain_text("During it the mouth moves")
        # The piece alone can be listened to again: from a little before it to its end.
        piece = self.panel.get_by_label("This note alone")
        piece.evaluate("e => e.load()")
        self.page.wait_for_function("e => e.readyState >= 1", arg=piece.element_handle())
        self.assertAlmostEqual(piece.evaluate("e => e.duration"), 4.5 + 0.3, delta=0.2)
        exercise = self.panel.get_by_role("group", name="Exercise as played: Siren")
        expect(exercise).to_contain_text("1 of 1 right.")
        self.panel.get_by_label("Choose a note").select_option(label="The phase “change”")
        change = self.panel.get_by_label("The phase “change”")
        change.evaluate("e => e.load()")
        self.page.wait_for_function("e => e.readyState >= 1", arg=change.element_handle())
        # The script's siren leaves its first note half a second after it began.
        self.assertAlmostEqual(change.evaluate("e => e.currentTime"), 3.5 - 0.3, delta=0.2)

    def test_exercises_are_read_tone_by_tone(self) -> None:
        """Four tones, four single counts and a descent by half steps, each from its own clip."""
        page = self.page
        self.add_read("nils-four-1", "Nils")
        GivenDrill.objects.create(
            student=Take.objects.get().student, drill="four-by-four", stage="instrument",
            tempo=120, given_on=Take.objects.get().filmed_on, until=Take.objects.get().filmed_on,
        )  # fmt: skip
        for name, student, heading, told, holds in (
            ("nils-four-1", "Nils", "Four by four", "3 of 4 right. Number 4: short.", 4),
            ("ida-ones-1", "Ida", "Four single counts", "3 of 4 right. Number 4: short.", 3),
            ("farid-descent-2", "Farid", "Half steps down", "7 of 7 right.", 7),
        ):
            self.listen(name, student)
            row = self.panel.get_by_role("group", name=f"Exercise as played: {heading}")
            expect(row).to_contain_text(told)
            expect(page.locator('.score [data-phase="hold"]')).to_have_count(holds)
            tones = page.locator(".score [data-tones] path")
            expect(row.get_by_role("button")).to_have_count(tones.count())
        # From tone to tone by key; the last hold stays where it is.
        where = page.get_by_text(re.compile(r"^\d\.\d\d s, frame"))
        row.get_by_role("button").first.click()
        before = where.text_content()
        page.keyboard.press("e")
        expect(where).not_to_have_text(before or "")
        page.keyboard.press("Shift+E")
        expect(where).to_have_text(re.compile(r"^2\.\d\d s"))
        # What is read of several holds says which is farthest out.
        page.get_by_text("All readings").click()
        rim = page.locator("[data-reading=rim_upper_share]").first
        expect(rim).to_contain_text("over 7 holds; farthest out in hold")
        self.assert_accessible()

    def test_the_plan_s_mark_is_over_the_row(self) -> None:
        """Played as counted the recheck may pass; a tone too short and it has not."""
        self.listen("nils-four-1", "Nils")
        take = Take.objects.get()
        began = take.filmed_on - datetime.timedelta(days=14)
        plan = Plan.objects.create(
            student=take.student, fault="smile", view="front", stage="instrument", minutes=8,
            drills=["four-by-four"], started_on=began,
        )  # fmt: skip
        plan.rechecks.create(day=14, due_on=take.filmed_on)
        self.open(f"/students/{take.student_id}")
        recheck = self.page.get_by_role("listitem", name="Recheck of day 14")
        expect(recheck).to_contain_text("Four by four: 0 of 4 right.")
        expect(recheck).to_contain_text("The face is right. The exercise is not yet")
        # At the tempo it was played in three of four are long enough.
        listening.set_intended_note(take, IntendedNote(tempo=120.0))
        self.page.reload()
        expect(recheck).to_contain_text("It holds after two weeks.")

    def test_then_and_now_by_ear(self) -> None:
        self.add_read("aino-side-14", "Aino", 14)
        self.add_read("aino-side-0", "Aino")
        student = Take.objects.earliest("pk").student_id
        self.open(f"/students/{student}/then-and-now")
        ear = self.page.get_by_role("region", name=re.compile("By ear"))
        expect(ear).to_contain_text("Both are played equally loud.")
        with self.page.expect_response(re.compile(r"tone\.wav")) as answer:
            self.page.keyboard.press("e")
        self.assertEqual(answer.value.status, 200)
        expect(ear.get_by_role("button", name="Stop")).to_be_visible()
        self.page.keyboard.press("e")
        expect(ear.get_by_role("button", name="Then, now, then")).to_be_visible()
