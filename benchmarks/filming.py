"""Filming a made-up head: time a frame, size of clips, and whether a face mesh takes it for one."""

from __future__ import annotations

import statistics
import time

from sulvet.core.simulate.body import body
from sulvet.core.simulate.camera import Camera
from sulvet.core.simulate.person import people
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.shade import render
from sulvet.core.video.network_finder import default_finder
from sulvet.demo.scenario import STUDENTS

SIZES = ((640, 480), (960, 540), (1280, 720))
ROUNDS = 5


def _views(size: tuple[int, int]) -> list[tuple[Pose, Camera]]:
    """Three full-face views: straight, turned and raised, smiling."""
    far = Camera(size, 560, 26, (0, 8, -25))
    near = Camera(size, 480, 24, (0, 8, -25))
    return [
        (Pose(), far),
        (Pose(yaw=9, pitch=-5, roll=4), far),
        (Pose(rise_r=8, rise_l=8, width=1.12), near),
    ]


def run() -> tuple[list[tuple[str, str, str]], str]:
    """Rows of (what, ratio, seconds), and a sentence on faces found and sizes."""
    finder = default_finder()
    ada = people()["ada"]
    rows = []
    for size in SIZES:
        pose, camera = _views(size)[0]
        picture = render(body(ada, pose), camera)
        finder.find(picture)
        drawing, looking = [], []
        for _ in range(ROUNDS):
            start = time.perf_counter()
            render(body(ada, pose), camera)
            drawing.append(time.perf_counter() - start)
            start = time.perf_counter()
            finder.find(picture)
            looking.append(time.perf_counter() - start)
        ratio = statistics.median(drawing) / statistics.median(looking)
        name = f"one frame of {size[0]}x{size[1]}"
        rows.append((name, f"{ratio:.0f}", f"{statistics.median(drawing):.2f} s"))
    found = total = 0
    for person in people().values():
        for pose, camera in _views((640, 480)):
            found += bool(finder.find(render(body(person, pose), camera)))
            total += 1
    clips = [take.clip.stat().st_size for student in STUDENTS for take in student.takes]
    said = (
        f"The face mesh finds the face in {found} of {total} full-face frames "
        f"({len(people())} people, three views). The {len(clips)} clips of the demo band take "
        f"{sum(clips) / 2**20:.1f} MB, {statistics.median(clips) / 1024:.0f} KB in the middle, "
        f"{max(clips) / 1024:.0f} KB at most."
    )
    return rows, said
