"""Clips as phones and browsers write them, and files that are none."""

from __future__ import annotations

import signal
import subprocess
import sys
import tempfile
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Any
from unittest import mock

import av
import cv2
import numpy as np
from av.video.reformatter import Colorspace
from django.test import SimpleTestCase

from sulvet.core import sandbox
from sulvet.core.video.clip import ClipError, Image, Reader, check_file, facts
from sulvet.core.video.proxy import ProxyWriter, group
from tests import stored_readings
from tests.clips import clip
from tests.painted import face as painted
from tests.painted.face import Pose
from tests.painted.take import Script, poses

SMALL = (640, 360)
BRIEF = Script(Pose(rise=6.0, width=1.1), rest=0.4, move=0.2, hold=0.4, after=0.1)


def uneven(n: int) -> float:
    """A phone's variable frame rate: every third frame comes late."""
    return n / 30 + (0.017 if n % 3 == 2 else 0.0)


def expected(n: int) -> Image:
    return painted.frame(poses(BRIEF)[n], SMALL, BRIEF.person, BRIEF.seed * 100_003 + n)


class ReaderTests(SimpleTestCase):
    def assert_shows(self, picture: Image, n: int) -> None:
        self.assertEqual(picture.shape, expected(n).shape)
        off = np.abs(picture.astype(float) - expected(n)).mean()
        self.assertLess(off, 6.0)

    def test_hevc_in_mov_turned_by_the_phone_with_uneven_times(self) -> None:
        for turn in (90, 180, 270):
            path = clip(BRIEF, ".mov", SMALL, codec="libx265", times=uneven, rotate=turn)
            frames = list(Reader(path).frames())
            self.assertEqual(len(frames), len(poses(BRIEF)))
            np.testing.assert_allclose(
                [f.seconds for f in frames], [uneven(n) for n in range(len(frames))], atol=2e-3
            )
            self.assert_shows(frames[20].picture("rgb24"), 20)
            self.assertEqual((facts(path).width, facts(path).height), SMALL)

    def test_webm(self) -> None:
        path = clip(BRIEF, ".webm", SMALL, codec="libvpx-vp9")
        reader = Reader(path)
        frames = list(reader.frames())
        self.assert_shows(frames[20].picture("rgb24"), 20)
        self.assertTrue(reader.has_sound)

    def test_a_mirror_picture_is_turned_back(self) -> None:
        path = clip(BRIEF, ".mp4", SMALL)
        plain = next(Reader(path).frames()).picture("gray")
        selfie = next(Reader(path, selfie=True).frames())
        np.testing.assert_array_equal(selfie.picture("gray"), plain[:, ::-1])
        luma = next(Reader(path).frames()).luma()
        np.testing.assert_array_equal(selfie.luma(), luma[:, ::-1])

    def test_the_review_copy_has_the_same_frames_at_the_same_times(self) -> None:
        path = clip(BRIEF, ".mov", SMALL, codec="libx265", times=uneven, rotate=90)
        with tempfile.TemporaryDirectory() as folder:
            copy = Path(folder) / "copy.mp4"
            reader = Reader(path)
            writer = ProxyWriter(copy, facts(path).has_sound)
            reader.on_audio = writer.sound
            times = []
            for frame in reader.frames():
                writer.picture(frame)
                times.append(frame.seconds)
            writer.close()
            again = [frame.seconds for frame in Reader(copy).frames()]
            np.testing.assert_allclose(again, times, atol=1e-4)
            stills = group(copy, 20, times)
            self.assertEqual(sorted(stills), list(range(15, 30)))
            for n in (15, 20, 29):
                coded = np.frombuffer(stills[n], np.uint8)
                picture = np.asarray(cv2.imdecode(coded, cv2.IMREAD_COLOR), np.uint8)
                self.assert_shows(picture[..., ::-1], n)

    def test_the_review_copy_has_the_colours_of_the_clip(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path, copy = Path(folder) / "clip.mp4", Path(folder) / "copy.mp4"
            for matrix in (Colorspace.ITU601, Colorspace.ITU709):
                with av.open(str(path), "w") as container:
                    video = container.add_stream("libx264", rate=30)
                    video.width, video.height, video.pix_fmt = *SMALL, "yuv420p"
                    video.codec_context.colorspace = matrix
                    red = np.full((*SMALL[::-1], 3), (200, 60, 40), np.uint8)
                    frame = av.VideoFrame.from_ndarray(red, format="rgb24")
                    as_coded = frame.reformat(format="yuv420p", dst_colorspace=matrix)
                    as_coded.colorspace = matrix
                    container.mux(video.encode(as_coded))
                    container.mux(video.encode(None))
                writer = ProxyWriter(copy, has_sound=False)
                writer.picture(next(Reader(path).frames()))
                writer.close()
                shown = next(Reader(copy).frames()).picture("rgb24").mean(axis=(0, 1))
                np.testing.assert_allclose(shown, (200, 60, 40), atol=4)


class BadFileTests(SimpleTestCase):
    def setUp(self) -> None:
        self.enterContext(stored_readings.real_children())
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, data: bytes, name: str = "bad.mp4") -> Path:
        path = self.folder / name
        path.write_bytes(data)
        return path

    def write(self, size: tuple[int, int], frames: int, fps: int = 30) -> Path:
        path = self.folder / "made.mp4"
        with av.open(str(path), "w") as container:
            video = container.add_stream("mpeg4", rate=fps)
            video.width, video.height, video.pix_fmt = *size, "yuv420p"
            for n in range(frames):
                picture = np.full((size[1], size[0], 3), n % 256, np.uint8)
                frame = av.VideoFrame.from_ndarray(picture, format="rgb24")
                frame.pts, frame.time_base = n, Fraction(1, fps)
                container.mux(video.encode(frame))
            container.mux(video.encode(None))
        return path

    def assert_refused(self, path: Path, told: str) -> None:
        with self.assertRaises(ClipError) as refused:
            sandbox.look(path)
        self.assertIn(told, str(refused.exception))

    def test_empty_text_stub_and_picture(self) -> None:
        whole = clip(BRIEF, ".mp4", SMALL).read_bytes()
        self.assert_refused(self.file(b""), "The file is empty")
        self.assert_refused(self.file(b"Dear parents,\n" * 400), "not a video Sulvet can read")
        self.assert_refused(self.file(whole[:64]), "not a video Sulvet can read")
        _, png = cv2.imencode(".png", np.zeros((300, 300, 3), np.uint8))
        self.assert_refused(self.file(png.tobytes()), "not a video Sulvet can read")

    def test_a_playlist_opens_nothing_else(self) -> None:
        inside = clip(BRIEF, ".mp4", SMALL)
        playlist = f"#EXTM3U\n#EXTINF:1,\nfile://{inside}\n#EXT-X-ENDLIST\n".encode()
        self.assert_refused(self.file(playlist, "list.mp4"), "not a video Sulvet can read")

    def test_sound_alone(self) -> None:
        path = self.folder / "sound.mp4"
        with av.open(str(path), "w") as container:
            stream = container.add_stream("aac", rate=48000, layout="mono")
            frame = av.AudioFrame.from_ndarray(
                np.zeros((1, 1024), np.float32), format="fltp", layout="mono"
            )
            frame.sample_rate, frame.pts = 48000, 0
            container.mux(stream.encode(frame))
            container.mux(stream.encode(None))
        self.assert_refused(path, "There is no picture in this file")

    def test_too_small_too_large_too_long_too_heavy(self) -> None:
        self.assert_refused(self.write((16, 16), 5), "only 16 by 16 pixels")
        self.assert_refused(self.write((4096, 3000), 2), "declared as 4096 by 3000")
        self.assert_refused(self.write((128, 128), 200, fps=1), "the limit is 180 s")
        with self.assertRaisesMessage(ClipError, "Trim it to the few seconds"):
            check_file(clip(BRIEF, ".mp4", SMALL), max_bytes=1000)

    def test_cut_off_in_the_middle_keeps_what_there_is(self) -> None:
        whole = clip(BRIEF, ".webm", SMALL, codec="libvpx-vp9").read_bytes()
        reader = Reader(self.file(whole[: len(whole) // 2], "cut.webm"))
        seen = sum(1 for _ in reader.frames())
        self.assertTrue(0 < seen < len(poses(BRIEF)))

    def test_a_clip_that_ends_early_says_so(self) -> None:
        long = replace(BRIEF, hold=2.0)
        whole = clip(long, ".webm", SMALL, codec="libvpx-vp9").read_bytes()
        reader = Reader(self.file(whole[: len(whole) // 2], "cut.webm"))
        for _ in reader.frames():
            pass
        self.assertIn("the copy is incomplete", reader.trouble)

    def test_a_child_that_dies_is_a_sentence_not_a_crash(self) -> None:
        real = subprocess.Popen
        # By its own fault the clip is to blame; ended from outside nobody is.
        for number, error, at_once in (
            (signal.SIGSEGV, ClipError, False), (signal.SIGKILL, sandbox.ChildEnded, False),
            # Before it was even asked.
            (signal.SIGSEGV, ClipError, True), (signal.SIGKILL, sandbox.ChildEnded, True),
        ):  # fmt: skip
            code = f"import os; os.kill(os.getpid(), {int(number)})"

            def dying(
                command: list[str], code: str = code, at_once: bool = at_once, **how: Any
            ) -> subprocess.Popen[str]:
                child = real([sys.executable, "-c", code], **how)
                if at_once:
                    child.wait()
                return child

            with mock.patch.object(subprocess, "Popen", dying), self.assertRaises(error) as said:
                sandbox.look(clip(BRIEF, ".mp4", SMALL))
            if error is ClipError:
                self.assertIn("could not decode this clip", str(said.exception))

    def test_a_child_that_hangs_is_ended(self) -> None:
        real = subprocess.Popen
        children = []

        def hanging(command: list[str], **how: Any) -> subprocess.Popen[str]:
            child = real([sys.executable, "-c", "import time; time.sleep(60)"], **how)
            children.append(child)
            return child

        with (
            mock.patch.object(subprocess, "Popen", hanging),
            mock.patch.object(sandbox, "LOOK_SECONDS", 1.0),
            self.assertRaisesMessage(ClipError, "took too long"),
        ):
            sandbox.look(clip(BRIEF, ".mp4", SMALL))
        self.assertIsNotNone(children[0].returncode)
