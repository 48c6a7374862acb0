"""The Bench as a teacher sits at it: a run of takes, undo, two windows, a lost connection."""

from __future__ import annotations

import re
from typing import Any

from playwright.sync_api import Page

from sulvet.core.simulate.script import load as load_script
from sulvet.demo.scenario import TAKES
from sulvet.takes.models import Take
from tests import rendered
from tests.browser.base import BrowserTestCase, expect


class BenchTests(BrowserTestCase):
    def open_take(self, take: Take, page: Page | None = None) -> Page:
        page = self.open(f"/takes/{take.pk}", page)
        expect(page.locator("canvas[data-frame]")).to_be_visible()
        return page

    def frame(self) -> int:
        return int(self.page.locator("canvas[data-frame]").get_attribute("data-frame") or -1)

    def dimension(self, measure: str) -> str:
        return self.page.locator(f'[data-dimension="{measure}"] text').text_content() or ""

    def on_screen(self, first: str, second: str) -> Any:
        """From the clip's pixels to the screen's, by two marks that are seen."""
        ends = []
        for name in (first, second):
            mark = self.page.locator(f'[data-landmark="{name}"]')
            box = mark.locator("circle").first.bounding_box()
            assert box is not None
            ends.append(
                (
                    [float(mark.get_attribute(f"data-{axis}") or 0) for axis in "xy"],
                    [box["x"] + box["width"] / 2, box["y"] + box["height"] / 2],
                )
            )
        (a, at), (b, there) = ends
        long = 0 if abs(b[0] - a[0]) > abs(b[1] - a[1]) else 1
        scale = (there[long] - at[long]) / (b[long] - a[long])
        return lambda x, y: (at[0] + (x - a[0]) * scale, at[1] + (y - a[1]) * scale)

    def stroke(self, *places: tuple[float, float]) -> None:
        mouse = self.page.mouse
        mouse.move(*places[0])
        mouse.down()
        for place in places[1:]:
            mouse.move(*place, steps=4)
        with self.page.expect_response(re.compile("/marks/")) as answer:
            mouse.up()
        self.assertTrue(answer.value.ok)

    def test_a_waiting_brass_take_to_its_focus_and_on_to_the_next(self) -> None:
        """Three actions when the found marks are right: open, confirm, done."""
        page, first = self.page, self.add_read("edda-front-12")
        second = self.add_read("hugo-front-16", "Hugo Ashdown")
        self.open()
        page.get_by_role("link", name=re.compile("Edda Marschall Review the new take")).click()
        finding = page.get_by_role("article", name="Finding: Rim too low")
        expect(finding).to_contain_text("Focus")
        # The drawing shows the frame at hand; its own dimension is heavy.
        heavy = page.locator('[data-dimension="rim_upper_share"][data-out]')
        expect(heavy).to_be_visible()
        # The truth of this made-up take is 0.466.
        self.assertAlmostEqual(float(self.dimension("rim_upper_share")), 0.466, delta=0.03)
        self.assert_accessible()
        finding.get_by_role("button", name="Confirm").click()
        expect(finding).to_contain_text("You confirmed this")
        page.get_by_role("button", name="Done, next: Hugo").click()
        expect(page).to_have_url(re.compile(f"/takes/{second.pk}$"))
        expect(page.get_by_role("heading", name="Hugo Ashdown")).to_be_visible()
        first.refresh_from_db()
        self.assertIsNotNone(first.read_at)
        self.assertEqual(first.decisions.get().answer, "confirmed")
        # And back to the one just read, which no longer waits.
        page.keyboard.press("p")
        expect(page.get_by_role("button", name="Reviewed ✓")).to_be_visible()

    def test_every_edit_goes_back_and_forth_and_the_place_is_kept(self) -> None:
        take = self.add_read("edda-front-12")
        page = self.open_take(take)
        page.keyboard.press("h")
        page.get_by_label("What did you see?").select_option(label="Puffed cheeks")
        page.get_by_label("In your own words").fill("both, at the start")
        page.get_by_role("button", name="Add finding").click()
        own = page.get_by_role("article", name="Finding: Puffed cheeks")
        expect(own).to_contain_text("“both, at the start”")
        own.get_by_role("button", name="Make this the focus").click()
        expect(own).to_contain_text("Focus")
        page.keyboard.press("t")
        page.get_by_label("only air, no tone").click()
        page.get_by_label("pain, numbness or dizziness").click()
        expect(page.get_by_role("alert")).to_contain_text("Stop for today")
        self.assert_accessible()
        expect(page.get_by_text("dizziness, only air, no tone")).to_be_visible()
        page.keyboard.press("b")
        expect(page.get_by_text("Stop for today")).to_have_count(0)
        page.keyboard.press("b")
        page.keyboard.press("Control+z")
        expect(own.get_by_text("Focus", exact=True)).to_have_count(0)
        page.keyboard.press("Shift+B")
        expect(own.get_by_text("Focus", exact=True)).to_be_visible()
        # A letter by key, and away again.
        page.keyboard.press("3")
        page.keyboard.press("c")
        expect(page.locator('[data-phase="change"]')).to_have_count(1)
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Undo").first.click()
        expect(page.locator('[data-phase="change"]')).to_have_count(0)
        # Reload: the frame looked at and a half-typed reason are still there.
        page.keyboard.press("Shift+W")
        page.keyboard.press("w")
        here = self.frame()
        page.get_by_role("article", name="Finding: Rim too low").get_by_role(
            "button", name="Dismiss"
        ).click()
        why = page.get_by_label(re.compile("Why do you dismiss this"))
        why.fill("the camera stood l")
        page.reload()
        expect(page.locator(f"canvas[data-frame='{here}']")).to_be_visible()
        expect(why).to_have_value("the camera stood l")

    def test_two_windows_and_a_lost_connection_lose_nothing_silently(self) -> None:
        take = self.add_read("edda-front-12")
        page = self.open_take(take)
        other = self.open_take(take, page.context.new_page())
        finding = "Finding: Rim too low"
        page.get_by_role("article", name=finding).get_by_role("button", name="Confirm").click()
        expect(page.get_by_role("article", name=finding)).to_contain_text("You confirmed this")
        # The other window still shows the old state: what it does is not kept, and it says so.
        other.get_by_role("button", name="Mark as reviewed").click()
        expect(other.get_by_role("alert")).to_contain_text("changed in another window")
        expect(other.get_by_role("article", name=finding)).to_contain_text("You confirmed this")
        take.refresh_from_db()
        self.assertIsNone(take.read_at)
        # Offline an edit waits, and is sent when the connection is back.
        other.context.route("**/api/takes/**", lambda route: route.abort())
        other.get_by_role("button", name="Mark as reviewed").click()
        expect(other.get_by_role("status").first).to_contain_text("can't reach Sulvet")
        other.context.unroute("**/api/takes/**")
        expect(other.get_by_role("button", name="Reviewed ✓")).to_be_visible()
        # The page closed while it waits: the next one sends it.
        other.route("**/api/takes/*/observations/", lambda route: route.abort())
        other.keyboard.press("t")
        other.get_by_label("air in the tone").click()
        expect(other.get_by_role("status").first).to_contain_text("can't reach Sulvet")
        other.close()
        self.open_take(take)
        expect(page.get_by_text("What the camera can't see: air in the tone")).to_be_visible()
        take.refresh_from_db()
        self.assertEqual(take.observations, ["airy"])

    def test_a_flute_is_marked_in_strokes_and_the_drawing_follows_the_hand(self) -> None:
        plate = ("hole_r", "hole_l", "hole_far", "pl_r", "pl_l", "ch_r", "ch_l", "li")
        take = self.add_read("pella-front-11", "Pella Wendt-Arslan", without=plate)
        page = self.open_take(take)
        page.get_by_role("button", name=re.compile("Mark the lip plate, 8 clicks")).click()
        expect(page.locator("[data-sketch=hole_r]")).to_be_visible()
        truth = rendered.moment_truth(load_script(TAKES / "pella-front-11.yaml"), self.frame())
        place = self.on_screen("al_r", "al_l")
        at = {name: place(*where) for name, where in truth.places.items()}
        self.stroke(at["hole_r"], at["hole_l"])
        expect(page.get_by_role("heading", name="Next: hole, far edge")).to_be_visible()
        page.mouse.click(*at["hole_far"])
        expect(page.get_by_role("heading", name="Next: lip plate, right end")).to_be_visible()
        self.stroke(at["pl_l"], at["pl_r"])
        for name, words in (("ch_r", "right mouth corner"), ("ch_l", "left mouth corner"),
                            ("li", "bottom of the lower lip")):  # fmt: skip
            expect(page.get_by_role("heading", name=f"Next: {words}")).to_be_visible()
            with page.expect_response(re.compile("/marks/")):
                page.mouse.click(*at[name])
        expect(page.get_by_role("button", name=re.compile("Mark them at rest"))).to_be_visible()
        tilt = float(self.dimension("plate_tilt").rstrip("°").replace("−", "-"))
        self.assertAlmostEqual(tilt, truth.measures["plate_tilt"], delta=3.0)
        # Dragged, the dimension changes before the mark is let go.
        before = self.dimension("hole_to_lip")
        grip = page.locator('[data-landmark="hole_l"]').bounding_box()
        assert grip is not None
        x, y = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y + 12, steps=5)
        expect(page.locator('[data-dimension="hole_to_lip"] text')).not_to_have_text(before)
        self.assertEqual(take.marks.filter(landmark="hole_l").count(), 1)
        page.mouse.up()
        expect(page.get_by_role("status").first).to_have_text("")

    def test_a_side_view_by_touch_on_a_tablet_and_its_edge_drawn(self) -> None:
        take = self.add_read("aino-side-14", "Aino Vesterlund")
        tablet = self.new_page(
            viewport={"width": 1024, "height": 768}, has_touch=True, color_scheme="dark",
            storage_state=self.page.context.storage_state(),
        )  # fmt: skip
        self.page = page = self.open_take(take, tablet)
        finding = page.get_by_role("article", name="Finding: Bulging chin")
        expect(finding).to_be_visible()
        self.assertTrue(self.dimension("chin_hollow").startswith("−"))
        page.get_by_role("button", name="teacher").tap()
        page.get_by_role("button", name="Dark mode").tap()
        self.assert_accessible()
        # No part of the page is out of reach without scrolling it.
        self.assertEqual(page.evaluate("document.documentElement.scrollHeight"), 768)
        self.assertEqual(page.evaluate("document.documentElement.scrollWidth"), 1024)
        page.locator("summary", has_text=re.compile("^Marks")).tap()
        page.get_by_role("button", name="Draw the chin line").click()
        expect(page.get_by_role("heading", name="Draw the chin line")).to_be_visible()
        place = self.on_screen("prn", "sn")
        found = page.locator("[data-contour]").get_attribute("points") or ""
        edge = [tuple(map(float, pair.split(","))) for pair in found.split()]
        self.stroke(*(place(x - 3, y) for x, y in edge))
        self.assertEqual(take.marks.filter(landmark__startswith="cc_").count(), 14)
        expect(page.get_by_role("button", name="Undo")).to_have_attribute(
            "title", "Undo: chin line drawn"
        )
        finding.get_by_role("button", name="Confirm").tap()
        expect(finding).to_contain_text("You confirmed this")

    def test_looking_closer_slower_and_with_the_face_veiled(self) -> None:
        page = self.open_take(self.add_read("edda-front-12"))
        frame, marks = self.frame(), page.get_by_role("group", name="Marks")
        seen = marks.get_attribute("viewBox") or ""
        page.keyboard.press("m")
        page.keyboard.press("+")
        page.keyboard.press("+")
        nearer = marks.get_attribute("viewBox") or ""
        self.assertLess(float(nearer.split()[2]), float(seen.split()[2]) / 1.7)
        box = marks.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 40, box["y"] + 40)
        page.mouse.down()
        page.mouse.move(box["x"] + 140, box["y"] + 60, steps=4)
        page.mouse.up()
        moved = marks.get_attribute("viewBox") or ""
        self.assertLess(float(moved.split()[0]), float(nearer.split()[0]))
        page.keyboard.press("0")
        expect(marks).to_have_attribute("viewBox", seen)
        # Half speed, then the veil: the eyes are gone from the canvas, the mouth is not.
        page.keyboard.press("s")
        expect(page.get_by_role("button", name="½×, plays at half speed")).to_be_visible()
        eye, mouth = self.spot("en_r"), self.spot("ch_r")
        page.keyboard.press("v")
        expect(page.get_by_text("Mouth only")).to_be_visible()
        self.assertGreater(abs(self.spot("en_r") - eye), 0.05 * eye)
        self.assertEqual(self.spot("ch_r"), mouth)
        # A drawing as a file.
        with page.expect_download() as download:
            page.get_by_role("button", name="Save as SVG").click()
        text = download.value.path().read_text("utf-8")
        self.assertIn('xmlns="http://www.w3.org/2000/svg"', text)
        self.assertNotIn("var(", text)
        # The score is read by keyboard.
        head = page.get_by_role("slider")
        head.focus()
        page.keyboard.press("ArrowRight")
        expect(page.locator(f"canvas[data-frame='{frame + 1}']")).to_be_visible()
        self.assertIn("hold", head.get_attribute("aria-valuetext") or "")

    def spot(self, landmark: str) -> float:
        """Contrast of the canvas round a mark: its grey levels' spread."""
        mark = self.page.locator(f'[data-landmark="{landmark}"] circle').first.bounding_box()
        assert mark is not None
        spread: float = self.page.evaluate(
            """([x, y]) => {
              const canvas = document.querySelector("canvas[data-frame]");
              const area = canvas.getBoundingClientRect();
              const bits = canvas.getContext("2d").getImageData(
                x - area.left - 12, y - area.top - 12, 24, 24).data;
              const grey = [];
              for (let n = 0; n < bits.length; n += 4) grey.push(bits[n + 1]);
              const mean = grey.reduce((a, b) => a + b) / grey.length;
              return Math.sqrt(grey.reduce((a, b) => a + (b - mean) ** 2, 0) / grey.length);
            }""",
            [mark["x"] + mark["width"] / 2, mark["y"] + mark["height"] / 2],
        )
        return spread
