"""The booth before a camera of the browser's own: Chromium plays made-up takes as one."""

from __future__ import annotations

import re
import tempfile
import wave
from pathlib import Path

import cv2
import numpy as np
from playwright.sync_api import Page

from sulvet.core.lessons.mirror import cues
from sulvet.core.review.mirror import seen
from sulvet.core.sound.notes import hz_of
from sulvet.core.video.clip import Image, Reader
from sulvet.demo.scenario import TAKES
from sulvet.takes.models import Take
from tests.browser.base import CHROMIUM, LONG, BrowserTestCase, expect

#: Chromium plays such a file at 30 pictures a second, from the moment a page asks for the camera.
FPS = 30
#: The relaxed face for so long, then the take, the last of it held for so long, s.
RELAXED, HELD = 8, 8
#: While it is held a corner of the picture is white, so that a page knows: a busy machine plays it
#: more slowly. Px, and for how long it is to be seen, s.
CORNER, SEEN = 60, 4
#: When the take relaxes, and when its mouth is as it stays, s.
REST, SHAPED = (0.2, 1.1), (3.0, 3.9)
#: What the mirror has said, in its order, and for how long the held mouth has been shown, s.
WATCH = """(corner) => {
  window.said = [];
  window.held = 0;
  const paper = new OffscreenCanvas(1, 1).getContext("2d");
  let last = performance.now();
  const look = (now) => {
    const words = document.querySelector(".asks .words")?.textContent ?? "";
    if (words !== window.said.at(-1)) window.said.push(words);
    const video = document.querySelector("video");
    if (video?.videoWidth) {
      paper.drawImage(video, 0, 0, corner, corner, 0, 0, 1, 1);
      if (paper.getImageData(0, 0, 1, 1).data[0] > 200) window.held += (now - last) / 1000;
    }
    last = now;
    requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
}"""
LOWER = "Corners a little lower."
CUES = {cues().good, *(words for cue in cues().cues for words in (cue.high, cue.low) if words)}


def film(take: str, folder: Path) -> Path:
    """A take as a camera's file: pictures one after the other as JPEG."""
    frames = [(f.seconds, f.picture("rgb24")) for f in Reader(TAKES / f"{take}.mp4").frames()]

    def there_and_back(stretch: tuple[float, float], seconds: float) -> list[Image]:
        own = [picture for when, picture in frames if stretch[0] <= when <= stretch[1]]
        turn = [*own, *own[-2:0:-1]]
        return [turn[n % len(turn)] for n in range(round(seconds * FPS))]

    between = [picture for when, picture in frames if REST[1] < when < SHAPED[0]]
    path = folder / f"{take}.mjpeg"
    with path.open("wb") as out:
        shown = [(one, 0) for one in (*there_and_back(REST, RELAXED), *between)]
        for one, light in (*shown, *((one, 255) for one in there_and_back(SHAPED, HELD))):
            one = one.copy()
            one[:CORNER, :CORNER] = light
            out.write(
                cv2.imencode(".jpg", one[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 88])[1].tobytes()
            )
    return path


def tone(folder: Path) -> Path:
    """F4 for a second, again and again."""
    samples = np.sin(2 * np.pi * round(hz_of("F4")) * np.arange(48000) / 48000) * 9000
    path = folder / "tone.wav"
    with wave.open(str(path), "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(48000)
        out.writeframes(samples.astype("<i2").tobytes())
    return path


class CameraTests(BrowserTestCase):
    def before(self, take: str, *switches: str) -> Page:
        """A page of a browser with such a camera, in the booth, at the name of a player of what a
        take is played on."""
        made = self.add_read(take, "Edda Marschall", 9)
        # The first picture loads the networks, which takes as long as a face stays relaxed.
        seen(np.zeros((96, 128, 3), np.uint8), made.student.family, "front")
        browser = self.playwright.chromium.launch(
            executable_path=CHROMIUM, args=["--no-sandbox", *switches]
        )
        self.addCleanup(browser.close)
        self.page = browser.new_page(viewport={"width": 1280, "height": 800})
        self.log_in()
        self.page.get_by_role("button", name="Open the booth").click()
        self.page.get_by_role("dialog").get_by_role("button", name="Open the booth").click()
        self.page.get_by_role("button", name=re.compile("^Edda")).click()
        return self.page

    def mirrored(self, take: str) -> list[str]:
        """What the mirror says while a take plays before the camera, in its order."""
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            page = self.before(
                take,
                "--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream",
                f"--use-file-for-fake-video-capture={film(take, folder)}",
                f"--use-file-for-fake-audio-capture={tone(folder)}",
            )  # fmt: skip
            page.evaluate(WATCH, CORNER)
            page.get_by_role("button", name="Mirror").click()
            page.wait_for_function("(least) => window.held > least", arg=SEEN, timeout=LONG)
            told: list[str] = page.evaluate("window.said")
            self.assertEqual(Take.objects.count(), 1)
            return [words for words in told if words in CUES]

    def test_a_smile_before_the_camera_is_said(self) -> None:
        said = self.mirrored("anouk-front-1")
        self.assertEqual((said[-1], set(said[:-1])), (LOWER, {cues().good}))

    def test_of_a_clean_one_nothing_is_said(self) -> None:
        self.assertEqual(set(self.mirrored("edda-front-1")), {cues().good})

    def test_what_is_in_the_way_of_a_camera_is_said(self) -> None:
        page = self.before(
            "edda-front-1", "--use-fake-device-for-media-stream", "--deny-permission-prompts"
        )
        expect(page.get_by_role("alert")).to_contain_text("Allow camera and microphone")
