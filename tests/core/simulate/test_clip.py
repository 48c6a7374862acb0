"""Scripts and the clips filmed from them."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from contextlib import redirect_stderr, redirect_stdout
from io import StringIO
from pathlib import Path

import av
import numpy as np
from django.test import SimpleTestCase

from sulvet.core.formats import coco
from sulvet.core.shell import main
from sulvet.core.simulate import clip
from sulvet.core.simulate.script import ScriptError, load, moment, shown
from tests import rendered
from tests.core.simulate.builders import script


class ScriptTests(SimpleTestCase):
    def test_a_fault_comes_and_goes_when_told(self) -> None:
        take = script(
            faults=[
                {
                    "fault": "smile",
                    "after": 0.3,
                    "lasts": 0.6,
                    "ease": 0.1,
                    "pose": {"rise_r": 9, "rise_l": 9, "width": 0.12},
                }
            ]
        )
        self.assertEqual([(a, round(b, 2)) for _, a, b in take.fault_spans()], [(1.5, 2.1)])
        rises = {t: moment(take, t)[0].rise_r for t in (1.4, 1.8, 2.2)}
        self.assertLess(abs(rises[1.4]), 1)
        self.assertAlmostEqual(rises[1.8], 9, delta=1)
        self.assertLess(abs(rises[2.2]), 1)

    def test_movement_is_eased_and_natural(self) -> None:
        take = script(fps=50, move={"sway": 2, "turn": 1, "lips": 0.003})
        times = np.array(take.times())
        yaw = np.array([moment(take, t)[0].yaw for t in times])
        self.assertTrue(0.2 < np.abs(yaw).max() < 5)
        width = np.array([moment(take, t)[0].width for t in times])
        # No jump from frame to frame, ever.
        self.assertLess(float(np.abs(np.diff(width)).max()), 0.02)

    def test_what_moves_in_the_hold_is_told(self) -> None:
        still, loose = (
            clip.motion(take, rendered.moments(take))[0]["stillness"]
            for take in (script(fps=6, move={"lips": lips}, seed=2) for lips in (0.001, 0.03))
        )
        self.assertLess(still, 0.6)
        # The same unrest, thirty times as strong.
        self.assertGreater(loose, 8 * still)
        gone = script(
            instrument="clarinet",
            fps=6,
            faults=[
                {
                    "fault": "collapse-at-start",
                    "after": 0.2,
                    "pose": {"chin_hollow": -3, "flesh": 1},
                }
            ],
        )
        found = clip.motion(gone, rendered.moments(gone))[0]
        self.assertLess(found["collapse_chin_hollow"], -1.5)

    def test_the_same_script_gives_the_same_truth_to_the_byte(self) -> None:
        take = script(instrument="clarinet", fps=4, seed=9)
        told = json.dumps(clip.document(take), sort_keys=True)
        code = (
            "import json,sys;from sulvet.core.simulate import clip;"
            "from sulvet.core.simulate.script import Script;"
            "print(json.dumps(clip.document(Script(**json.load(sys.stdin))),sort_keys=True))"
        )
        again = subprocess.run(
            [sys.executable, "-c", code],
            input=take.model_dump_json(),
            capture_output=True,
            text=True,
            check=True,
            env={**os.environ, "PYTHONHASHSEED": "7", "OPENBLAS_NUM_THREADS": "1"},
        ).stdout.strip()
        self.assertEqual(told, again)

    def test_a_script_that_does_not_fit_is_refused_with_the_place(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "take.yaml"
            for text, words in (
                ("person: nobody\ninstrument: horn\nsteps: [{phase: rest, seconds: 1}]", "nobody"),
                ("person: ada\ninstrument: kazoo\nsteps: [{phase: rest, seconds: 1}]", "kazoo"),
                ("person: ada\ninstrument: horn\nsteps: [{phase: nap, seconds: 1}]", "steps → 0"),
                (
                    "person: ada\ninstrument: horn\n"
                    "steps: [{phase: rest, seconds: 1, pose: {grin: 3}}]",
                    "grin",
                ),
                ("person: ada\ninstrument: horn\nsteps: []", "steps"),
                ("just words", "steps"),
                ("a: [", "YAML"),
            ):
                path.write_text(text, "utf-8")
                with self.assertRaises(ScriptError) as caught:
                    load(path)
                self.assertIn(words, str(caught.exception))
            with self.assertRaises(ScriptError):
                load(Path(folder) / "missing.yaml")


class ClipTests(SimpleTestCase):
    def test_the_command_writes_clip_truth_and_marks(self) -> None:
        small = "person: hana\ninstrument: flute\nsize: [192, 144]\nfps: 5\nsteps:\n"
        small += "  - {phase: rest, seconds: 0.4}\n  - {phase: hold, seconds: 0.8}\n"
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "tiny.yaml"
            path.write_text(small, "utf-8")
            for suffix in ("mp4", "webm"):
                out = Path(folder) / suffix
                said = StringIO()
                with redirect_stdout(said), redirect_stderr(said):
                    code = main(
                        [
                            "simulate",
                            str(path),
                            "--out",
                            str(out),
                            "--format",
                            suffix,
                            "--workers",
                            "1",
                        ]
                    )
                self.assertEqual(code, 0, said.getvalue())
                self.assertIn("frame 6 of 6", said.getvalue())
                with av.open(str(out / f"tiny.{suffix}")) as container:
                    frames = list(container.decode(video=0))
                    self.assertTrue(container.streams.audio)
                np.testing.assert_allclose([f.time for f in frames], np.arange(6) / 5, atol=2e-3)
                self.assertEqual((frames[0].width, frames[0].height), (192, 144))
                truth = json.loads((out / "tiny.truth.json").read_text())
                self.assertEqual(len(truth["frames"]), 6)
                self.assertEqual([p["name"] for p in truth["phases"]], ["rest", "hold"])
                self.assertIn("hole_near", truth["frames"][-1]["landmarks"])
                marks, size = coco.load(json.loads((out / "tiny.marks.json").read_text()))
                self.assertEqual(size, (192, 144))
                column = marks.column("ch_l")
                self.assertEqual(
                    list(marks.xy[3, column]), truth["frames"][3]["landmarks"]["ch_l"][:2]
                )
            said = StringIO()
            with redirect_stdout(said), redirect_stderr(said):
                code = main(["simulate", "missing.yaml", "--out", folder])
            self.assertEqual(code, 2)
            self.assertIn("There is no file", said.getvalue())

    def test_a_close_up_shows_the_reed_and_where_its_tip_is(self) -> None:
        steps = [{"phase": "hold", "seconds": 0.4}]
        camera = {"distance": 260, "fov": 17, "aim": [0, -30, 0]}
        for tip in (-0.5, 1.0):
            take = script(
                instrument="clarinet", view="close-up", steps=steps, camera=camera,
                holds={"tip": tip}, size=(640, 480), move={"sway": 0, "turn": 0},
            )  # fmt: skip
            places = clip.moment_truth(take, 0).places
            above = (places["mouth_tip"][1] - places["reed_tip"][1]) * 260
            focal = take.view_from().focal
            self.assertAlmostEqual(above / focal, tip, delta=0.05)
            posed, _ = shown(take, 0.0)
            material = clip.material_picture(posed, take.view_from())
            self.assertGreater(float((material == 5).mean()), 0.02, "cane")
