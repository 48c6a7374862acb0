"""The mirror before a camera that shows what the test wants, picture by picture."""

from __future__ import annotations

import base64
import datetime
import re
from itertools import cycle, islice

import cv2
from django.utils import timezone

from sulvet.core.lessons.mirror import cues
from sulvet.core.video.clip import Reader
from sulvet.demo.scenario import TAKES
from sulvet.takes.models import Take
from tests.browser.base import BrowserTestCase, expect

#: When the take relaxes, and when its mouth is as it stays, s.
REST, SHAPED = (0.2, 1.1), (3.0, 3.9)
#: Pictures of the relaxed face, of its way, and of the mouth as it stays.
RELAXED, BETWEEN, HELD = 9, 6, 16
#: How long the mirror waits at least between two looks, ms.
PACE = 100
#: A camera of one canvas, which shows a picture when it is told to.
CAMERA = """(() => {
  const canvas = Object.assign(document.createElement("canvas"), { width: 640, height: 480 });
  const paper = canvas.getContext("2d");
  navigator.mediaDevices.getUserMedia = () => Promise.resolve(canvas.captureStream());
  window.show = async (jpeg) => {
    const bytes = Uint8Array.from(atob(jpeg), (letter) => letter.charCodeAt(0));
    const picture = await createImageBitmap(new Blob([bytes], { type: "image/jpeg" }));
    canvas.width = picture.width;
    canvas.height = picture.height;
    const video = document.querySelector("video");
    const shown = new Promise((done) => video.requestVideoFrameCallback(done));
    paper.drawImage(picture, 0, 0);
    await shown;
  };
})()"""
LOWER = "Corners a little lower."
CUES = {cues().good, *(words for cue in cues().cues for words in (cue.high, cue.low) if words)}


def pictures(take: str) -> list[str]:
    """A take as it comes before the mirror: relaxed, on its way, and held."""
    frames = [(f.seconds, f.picture("rgb24")) for f in Reader(TAKES / f"{take}.mp4").frames()]

    def some(start: float, end: float, count: int) -> list[str]:
        own = [picture for when, picture in frames if start <= when <= end]
        return [
            base64.b64encode(cv2.imencode(".jpg", one[..., ::-1])[1].tobytes()).decode()
            for one in islice(cycle([*own, *own[-2:0:-1]]), count)
        ]

    return [*some(*REST, RELAXED), *some(REST[1], SHAPED[0], BETWEEN), *some(*SHAPED, HELD)]


class MirrorTests(BrowserTestCase):
    def test_a_smile_before_the_camera_is_said(self) -> None:
        """Take and rest are the core's tests; here they come through camera and page."""
        take = "anouk-front-1"
        self.add_read(take, "Edda Marschall", 9)
        page = self.page
        page.context.add_init_script(CAMERA)
        page.clock.install()
        self.open()
        page.get_by_role("button", name="Open the booth").click()
        page.get_by_role("dialog").get_by_role("button", name="Open the booth").click()
        page.get_by_role("button", name=re.compile("^Edda")).click()
        expect(page.get_by_role("button", name="Mirror")).to_be_enabled()
        page.clock.pause_at(timezone.now() + datetime.timedelta(minutes=1))
        shown = pictures(take)
        page.evaluate("show", shown[0])
        page.get_by_role("button", name="Mirror").click()
        said = list[str]()
        words = page.locator(".asks .words")
        for one in shown:
            page.evaluate("show", one)
            with page.expect_response(re.compile("/mirror/")) as answer:
                page.clock.run_for(PACE)
            self.assertTrue(answer.value.ok)
            expect(words).to_be_visible()
            said.append(words.inner_text())
        page.clock.resume()
        self.assert_accessible()
        page.get_by_role("button", name="Close the mirror").click()
        expect(page.get_by_role("button", name="Start filming")).to_be_enabled()
        self.assertEqual(Take.objects.count(), 1, "nothing is kept")
        self.assertEqual(said[-1], LOWER)
        self.assertLessEqual(set(said) & CUES, {LOWER, cues().good})
