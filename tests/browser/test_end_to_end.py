"""A teacher's way from a new student to a confirmed finding, by mouse and by keyboard."""

from __future__ import annotations

import re

from django.contrib.auth.models import User
from playwright.sync_api import Locator

from sulvet.core.anatomy.landmarks import FRONT_IDS, REQUIRED
from sulvet.core.simulate.script import load as load_script
from sulvet.demo.scenario import TAKES
from sulvet.hand.faces import FACES, LANDMARKS, WIDTH
from sulvet.hand.models import HandMark
from sulvet.hand.services import Placed
from sulvet.hand.services import mark as mark_hand
from sulvet.takes.models import Take
from tests import rendered
from tests.base import TODAY
from tests.browser.base import LONG, BrowserTestCase, expect
from tests.clips import ASKEW, SIZE, SMILE, clip
from tests.painted.take import true_marks

#: Waits until a cell shows a number so near to another; says what it shows when it never does.
SETTLES = """async ([cell, value, delta, most]) => {
  const end = performance.now() + most;
  const shown = () => document.querySelector(cell)?.textContent.replace("−", "-") ?? "";
  while (!(Math.abs(parseFloat(shown()) - value) <= delta)) {
    if (performance.now() > end) throw new Error(`“${shown()}”, not ${value}`);
    await new Promise((later) => setTimeout(later, 50));
  }
}"""


class FilmedCase(BrowserTestCase):
    def add_student(self, instrument: str = "horn", section: str = "Horns") -> None:
        page = self.open()
        page.get_by_role("button", name="Add first student").click()
        page.get_by_label("Name").fill("Edda Marschall")
        page.get_by_label("Instrument").select_option(instrument)
        page.get_by_label("Filming consent since").fill("2026-09-01")
        page.get_by_role("button", name="Save").click()
        page.get_by_role("link", name=re.compile(f"Edda Marschall, {section}")).click()

    def send(self, path: str) -> None:
        page = self.page
        page.get_by_label("Video from the phone").set_input_files(path)
        page.get_by_label("Filmed on").fill(TODAY.isoformat())
        page.get_by_role("button", name="Upload clip").click()

    def reading(self, measure: str) -> str:
        return self.page.locator(f'[data-reading="{measure}"] td').first.inner_text()

    def assert_reads(self, measure: str, value: float, delta: float) -> None:
        """The page shows it once the last mark has been counted."""
        self.page.evaluate(SETTLES, [f'[data-reading="{measure}"] td', value, delta, LONG])

    def point(self, landmark: str) -> Locator:
        return self.page.locator(f'[data-landmark="{landmark}"]')

    def placed(self, landmark: str) -> tuple[float, float, float, float]:
        """Where a mark is: in the clip's pixels, and on the screen."""
        point = self.point(landmark)
        box = point.bounding_box()
        assert box is not None
        return (
            float(point.get_attribute("data-x") or 0),
            float(point.get_attribute("data-y") or 0),
            box["x"] + box["width"] / 2,
            box["y"] + box["height"] / 2,
        )


class EndToEndTests(FilmedCase):
    def test_from_clip_to_confirmed_finding(self) -> None:
        page = self.page
        self.start_worker()
        self.add_student()
        self.send(str(clip(SMILE)))
        expect(page.get_by_text("You can leave this page")).to_be_visible()
        # Leave and come back: the band shows it being analysed, then as a new take.
        page.get_by_role("link", name="Band").click()
        chair = page.get_by_role("link", name=re.compile("Edda Marschall, Horns: New take"))
        chair.click()
        finding = page.get_by_role("article", name="Finding: Smile")
        expect(finding).to_contain_text("fault in hold")
        page.get_by_text("All readings").click()
        self.assertRegex(self.reading("corner_rise"), r"^[89]\.\d ± \d\.\d°$")
        self.assertRegex(self.reading("mouth_width"), r"^1\.1\d ± 0\.0\d$")
        self.assert_accessible()
        self.drag_corner()
        self.move_letter()
        self.play()
        finding.get_by_role("button", name="Confirm").click()
        expect(finding).to_contain_text("You confirmed this")
        page.get_by_role("button", name=re.compile("Done, open the band")).click()
        chair = page.get_by_role("link", name=re.compile("Edda Marschall, Horns: Smile"))
        expect(chair).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="List", exact=True).click()
        row = page.get_by_role("row", name=re.compile("Edda Marschall"))
        expect(row).to_contain_text("Smile")
        self.delete_take(row)

    def delete_take(self, row: Locator) -> None:
        """Asked first, then gone with its files."""
        page, folder = self.page, Take.objects.get().directory
        row.get_by_role("link").click()
        self.assert_accessible()
        page.get_by_role("link", name=re.compile(", front")).click()
        page.get_by_role("button", name="Delete this take").click()
        page.get_by_role("button", name="Cancel").click()
        page.get_by_role("button", name="Delete this take").click()
        page.get_by_role("button", name="Delete permanently").click()
        expect(page.get_by_text("No take yet.")).to_be_visible()
        self.assertEqual(Take.objects.count(), 0)
        self.assertFalse(folder.exists())

    def drag_corner(self) -> None:
        """A dragged mark stays where it was let go and changes the reading."""
        page, corner = self.page, self.point("ch_l")
        before = self.reading("corner_rise_l")
        box = corner.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        start = float(corner.get_attribute("data-y") or "nan")
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 3, y + 20, steps=4)
        page.mouse.up()
        expect(corner).to_have_attribute("aria-label", re.compile("placed"))
        self.assertGreater(float(corner.get_attribute("data-y") or "nan"), start + 2)
        expect(page.locator('[data-reading="corner_rise_l"] td').first).not_to_have_text(before)
        # U takes it back, and the reading with it.
        page.keyboard.press("u")
        expect(page.locator('[data-reading="corner_rise_l"] td').first).to_have_text(before)
        page.keyboard.press("Escape")

    def move_letter(self) -> None:
        page = self.page
        handle = page.locator('[data-phase="hold"] [data-edge="end"]')
        box = handle.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 8, box["y"] + 10)
        page.mouse.down()
        page.mouse.move(box["x"] - 60, box["y"] + 10, steps=4)
        with page.expect_response(re.compile("/phases/")) as answer:
            page.mouse.up()
        self.assertTrue(answer.value.ok)
        take = Take.objects.get()
        self.assertTrue(take.phases.get(name="hold").by_teacher)
        self.assertLess(take.phases.get(name="hold").end, 3.6)

    def play(self) -> None:
        """Playing moves on from where it stands: the clip can be sought in."""
        page = self.page
        page.keyboard.press("Space")
        page.wait_for_function(
            "() => { const v = document.querySelector('video');"
            " return v && v.seekable.length && v.seekable.end(0) > 4 && v.currentTime > 2 }"
        )
        page.keyboard.press("Space")
        expect(page.locator("canvas[data-frame]")).to_be_visible()

    def test_keyboard_alone(self) -> None:
        page = self.page
        self.add_read("edda-front-16")
        self.open()
        chair = page.get_by_role("link", name=re.compile("Edda Marschall, Horns: New take"))
        expect(chair).to_be_visible()
        chair.focus()
        page.keyboard.press("Enter")
        finding = page.get_by_role("article", name="Finding: Smile")
        expect(finding).to_be_visible()
        frame = page.locator("canvas[data-frame]")
        expect(frame).to_be_visible()
        here = int(frame.get_attribute("data-frame") or "-1")
        page.keyboard.press("w")
        expect(frame).to_have_attribute("data-frame", str(here + 1))
        page.keyboard.press("Shift+Q")
        expect(frame).to_have_attribute("data-frame", str(here - 9))
        page.keyboard.press("m")
        held = page.locator('[aria-pressed="true"].point')
        y = float(held.get_attribute("data-y") or "nan")
        page.keyboard.press("ArrowDown")
        expect(held).to_have_attribute("aria-label", re.compile("placed"))
        self.assertAlmostEqual(float(held.get_attribute("data-y") or "nan"), y + 0.5, delta=0.02)
        page.keyboard.press("?")
        expect(page.get_by_role("dialog")).to_contain_text("confirm the first finding")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
        page.keyboard.press("d")
        page.keyboard.type("he laughed")
        page.keyboard.press("Enter")
        expect(finding).to_contain_text("You dismissed this: Not so, he laughed")
        page.keyboard.press("r")
        expect(page.get_by_role("button", name="Reviewed ✓")).to_be_visible()
        page.keyboard.press("n")
        expect(
            page.get_by_role("link", name=re.compile("Edda Marschall, Horns: Partly checked"))
        ).to_be_visible()

    def test_a_new_installation_asks_for_its_first_account(self) -> None:
        page = self.open()
        page.get_by_role("button", name="teacher").click()
        page.get_by_role("button", name=re.compile("Log out")).click()
        expect(page.get_by_role("button", name="Log in")).to_be_visible()
        self.assert_accessible()
        User.objects.all().delete()
        page.reload()
        page.get_by_label("Name").fill("new teacher")
        page.get_by_label("Password").fill("short")
        page.get_by_role("button", name="Create account").click()
        expect(page.get_by_role("alert")).to_contain_text("valid username")
        page.get_by_label("Name").fill("newteacher")
        page.get_by_role("button", name="Create account").click()
        expect(page.get_by_role("alert")).to_contain_text("too short")
        page.get_by_label("Password").fill("a-longer-word")
        page.get_by_role("button", name="Create account").click()
        expect(page.get_by_role("button", name="Add first student")).to_be_visible()

    def test_a_file_that_is_no_clip_is_refused_in_words(self) -> None:
        page = self.page
        self.add_student()
        page.get_by_label("Video from the phone").set_input_files(
            {"name": "letter.mp4", "mimeType": "video/mp4", "buffer": b"Dear parents"}
        )
        page.get_by_role("button", name="Upload clip").click()
        expect(page.get_by_role("alert")).to_contain_text("not a video Sulvet can read")
        self.assertEqual(Take.objects.count(), 0)


class MarkingTests(FilmedCase):
    def test_guided_marking_of_a_close_up(self) -> None:
        page = self.page
        self.add_student()
        self.start_worker()
        self.send(str(clip(ASKEW)))
        page.get_by_role("link", name=re.compile("Place marks|, front")).first.click()
        title = page.get_by_role("heading", name="Next: right mouth corner")
        expect(title).to_be_visible()
        expect(page.locator("canvas[data-frame='0']")).to_be_visible()
        self.assert_accessible()
        truth = true_marks(ASKEW, SIZE)[0]
        area = page.get_by_role("group", name="Marks").bounding_box()
        assert area is not None
        scale = min(area["width"] / SIZE[0], area["height"] / SIZE[1])
        left = area["x"] + (area["width"] - SIZE[0] * scale) / 2
        top = area["y"] + (area["height"] - SIZE[1] * scale) / 2
        # By keyboard: into the middle, half a pixel to the left, and back.
        page.keyboard.press("Enter")
        first = self.point(REQUIRED[0])
        expect(first).to_have_attribute("data-x", "480.00")
        page.keyboard.press("ArrowLeft")
        expect(first).to_have_attribute("data-x", "479.50")
        expect(page.get_by_role("heading", name="Next: left mouth corner")).to_be_visible()
        page.keyboard.press("u")
        expect(first).to_have_count(0)
        for name in REQUIRED:
            x, y = truth[FRONT_IDS.index(name)]
            with page.expect_response(re.compile("/marks/")) as answer:
                page.mouse.click(left + (x + 0.5) * scale, top + (y + 0.5) * scale)
            self.assertTrue(answer.value.ok)
            expect(self.point(name)).to_be_visible()
        page.get_by_role("button", name="Follow these marks").click()
        expect(page.get_by_role("article", name="Finding: Smile")).to_be_visible()

    def test_a_rim_is_marked_on_a_made_up_head_and_judged(self) -> None:
        page = self.page
        take = TAKES / "edda-front-12"
        self.add_student()
        self.start_worker()
        self.send(str(take.with_suffix(".mp4")))
        page.get_by_role("link", name=re.compile(", front")).first.click()
        page.get_by_role("button", name="Mark the rim yourself").click()
        frame = int(page.locator("canvas[data-frame]").get_attribute("data-frame") or 0)
        truth = rendered.moment_truth(load_script(take.with_suffix(".yaml")), frame)
        right, left = (self.placed("ch_r"), self.placed("ch_l"))
        scale = (left[2] - right[2]) / (left[0] - right[0])
        asked = [(f"rim_{n}", f"rim, point {n} of 5") for n in range(1, 6)]
        asked += [("ch_r", "right mouth corner"), ("ch_l", "left mouth corner")]
        for name, words in asked:
            expect(page.get_by_role("heading", name=f"Next: {words}")).to_be_visible()
            x, y = truth.places[name]
            with page.expect_response(re.compile("/marks/")) as answer:
                page.mouse.click(
                    right[2] + (x - right[0]) * scale, right[3] + (y - right[1]) * scale
                )
            self.assertTrue(answer.value.ok)
        # What was marked in the hold is marked at rest as well, on a frame of the rest.
        page.get_by_role("button", name="Mark them at rest, 2 clicks").click()
        expect(page.get_by_role("heading", name="Next: right mouth corner")).to_be_visible()
        at_rest = int(page.locator("canvas[data-frame]").get_attribute("data-frame") or 0)
        self.assertLess(at_rest, frame)
        page.get_by_role("button", name="Cancel").click()
        finding = page.get_by_role("article", name="Finding: Rim too low")
        expect(finding).to_contain_text("fault in hold")
        page.get_by_text("All readings").click()
        self.assert_reads("rim_upper_share", truth.measures["rim_upper_share"], 0.04)
        # The drawing of the hold says the same, whatever frame is looked at.
        page.keyboard.press("g")
        expect(
            page.get_by_role("img", name=re.compile("in hold: .*upper lip in the rim 0.4"))
        ).to_be_visible()
        self.assert_accessible()

    def test_a_side_view_is_read_without_a_click(self) -> None:
        page = self.page
        take = TAKES / "aino-side-14"
        held = rendered.moment_truth(load_script(take.with_suffix(".yaml")), 100)
        self.add_student("clarinet", "Clarinets")
        page.get_by_label("From the side").check()
        self.start_worker()
        self.send(str(take.with_suffix(".mp4")))
        page.get_by_role("link", name=re.compile("Place marks|, side")).first.click()
        finding = page.get_by_role("article", name="Finding: Bulging chin")
        expect(finding).to_contain_text(re.compile("(fault|watch) in hold"))
        page.get_by_text("All readings").click()
        self.assert_reads("depth", held.measures["depth"], 3.0)
        self.assert_reads("instrument_angle", held.measures["instrument_angle"], 3.0)

    def test_a_side_view_is_marked_followed_and_judged(self) -> None:
        page = self.page
        script = load_script(TAKES / "aino-side-14.yaml")
        # Lips and mouthpiece as if they had not been found.
        held_to = ("ls", "sto", "li", "mp_lip", "ax_a", "ax_b")
        take = self.add_read("aino-side-14", "Aino Vesterlund", without=held_to)
        self.open(f"/takes/{take.pk}")
        page.get_by_role("button", name="Mark lips and mouthpiece, 6 clicks").click()
        frame = int(page.locator("canvas[data-frame]").get_attribute("data-frame") or 0)
        held = rendered.moment_truth(script, frame)
        nose, chin = self.placed("prn"), self.placed("pg")
        scale = (chin[3] - nose[3]) / (chin[1] - nose[1])
        for name, words in (
            ("ls", "top of the upper lip"),
            ("sto", "where the lips meet"),
            ("li", "bottom of the lower lip"),
            ("mp_lip", "upper lip's end on the mouthpiece"),
            ("ax_a", "ligature or first wire"),
            ("ax_b", "ligature's far edge"),
        ):
            expect(page.get_by_role("heading", name=f"Next: {words}")).to_be_visible()
            x, y = held.places[name]
            with page.expect_response(re.compile("/marks/")) as answer:
                page.mouse.click(nose[2] + (x - nose[0]) * scale, nose[3] + (y - nose[1]) * scale)
            self.assertTrue(answer.value.ok)
        finding = page.get_by_role("article", name="Finding: Bulging chin")
        expect(finding).to_contain_text(re.compile("(fault|watch) in hold"))
        page.get_by_text("All readings").click()
        self.assertTrue(self.reading("chin_hollow").startswith("−"))
        self.assert_reads("depth", held.measures["depth"], 3.0)
        self.assert_accessible()

    def test_the_hand_is_measured(self) -> None:
        page = self.open()
        page.get_by_role("button", name="teacher").click()
        page.get_by_role("link", name="Marking accuracy").click()
        expect(page.get_by_role("heading", name="Next: right mouth corner")).to_be_visible()
        self.assert_accessible()
        # The first by mouse, the second by keyboard, the rest as if done before.
        box = page.get_by_role("img", name=re.compile("Face 1")).bounding_box()
        assert box is not None
        page.mouse.click(box["x"] + box["width"] * 0.45, box["y"] + box["height"] * 0.6)
        expect(page.get_by_role("heading", name="Next: left mouth corner")).to_be_visible()
        page.keyboard.press("Shift+ArrowRight")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Next: top of the upper lip")).to_be_visible()
        first = HandMark.objects.get(landmark="ch_l")
        self.assertAlmostEqual(first.x * WIDTH, WIDTH / 2 + 12)
        for round_ in (1, 2):
            for face in range(1, FACES + 1):
                for name in LANDMARKS:
                    last = (round_, face, name) == (2, FACES, LANDMARKS[-1])
                    if (
                        not last
                        and not HandMark.objects.filter(
                            round=round_, face=face, landmark=name
                        ).exists()
                    ):
                        place = Placed(round_, face, name, 400.0 + 3 * round_, 300.0)
                        mark_hand(self.teacher, place)
        page.reload()
        expect(page.get_by_text("Round 2 of 2, face 10 of 10")).to_be_visible()
        page.keyboard.press("Enter")
        expect(page.get_by_text("Both rounds done")).to_be_visible()
        expect(page.locator('[data-error="ls"]')).to_contain_text("px")
        self.assert_accessible()
