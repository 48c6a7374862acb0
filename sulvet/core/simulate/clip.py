"""From a script to a clip with its truth."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from fractions import Fraction
from multiprocessing import get_context
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np

from sulvet.core.anatomy.marks import FOUND, Floats, Marks
from sulvet.core.simulate.body import Body, joined
from sulvet.core.simulate.camera import Camera, into_room
from sulvet.core.simulate.end_on import EndOn
from sulvet.core.simulate.equipment import Reed
from sulvet.core.simulate.raster import rasterise
from sulvet.core.simulate.script import Script, shown
from sulvet.core.simulate.shade import Image, render
from sulvet.core.simulate.sound import RATE, track
from sulvet.core.simulate.truth import landmarks, measures

#: A landmark this far behind what is drawn there is covered, mm. Points of the
#: outline are seen edge-on, where depth changes fast from pixel to pixel, and a
#: lens close by sees a nearer outline than one far away.
COVERED_MM, EDGE_MM = 2.5, 8.0
OUTLINE = frozenset({"ck_r", "ck_l", "go_r", "go_l", "me"})
#: Frames from keyframe to keyframe.
GOP = 15
CODECS = {".mp4": "libx264", ".webm": "libvpx-vp9"}


@dataclass(frozen=True)
class Moment:
    """The truth of one frame.

    places    landmark → pixels; ``seen`` whether nothing covers it
    head      landmark → mm in head coordinates, in which the head itself stands still
    measures  measure → value
    """

    places: dict[str, tuple[float, float]]
    seen: dict[str, bool]
    head: dict[str, tuple[float, ...]]
    measures: dict[str, float]


def picture(script: Script, index: int) -> Image:
    """Frame ``index`` of a take, (height, width, 3) RGB."""
    body, _ = shown(script, index / script.fps)
    seed = script.seed * 100_003 + index
    return render(body, script.view_from(), script.lit, script.lens, seed)


def moment_truth(script: Script, index: int) -> Moment:
    """What frame ``index`` truly shows."""
    body, equipment = shown(script, index / script.fps)
    camera = script.view_from()
    if script.view == "close-up":
        assert isinstance(equipment, Reed | EndOn)
        points, read = equipment.points(), equipment.values()
    else:
        assert not isinstance(equipment, EndOn)
        points = landmarks(body, equipment)
        read = measures(body, points, equipment)
    names = list(points)
    xyz = np.array([points[name] for name in names])
    screen = camera.project(into_room(xyz, body.pose))
    slack = np.array([EDGE_MM if name in OUTLINE else COVERED_MM for name in names])
    seen = visible(body, camera, screen, slack)
    places = {
        name: (round(float(x), 3), round(float(y), 3))
        for name, (x, y, _) in zip(names, screen, strict=True)
    }
    return Moment(
        places,
        dict(zip(names, (bool(s) for s in seen), strict=True)),
        {name: tuple(round(float(v), 4) for v in points[name]) for name in names},
        {k: round(v, 4) + 0.0 for k, v in sorted(read.items())},
    )


def visible(body: Body, camera: Camera, screen: Floats, slack: Floats) -> Floats:
    """(N,) whether points (N, 3: pixels and depth) lie in the picture and nothing covers them.

    slack  (N,) how far behind the drawn surface a point may lie, mm
    """
    xyz, _, triangles, _, _ = joined(body)
    room = into_room(xyz, body.pose)
    depth, _, _ = rasterise(
        camera.project(room).astype(np.float32), triangles, camera.size[1], camera.size[0]
    )
    # The nearest of the surrounding pixels' farthest surface: a point on an edge is seen.
    far = cv2.dilate(np.where(np.isfinite(depth), depth, 1e6).astype(np.float32), np.ones((3, 3)))
    column = np.round(screen[:, 0]).astype(int)
    row = np.round(screen[:, 1]).astype(int)
    inside = (column >= 0) & (row >= 0) & (column < camera.size[0]) & (row < camera.size[1])
    out = np.zeros(len(screen), dtype=bool)
    out[inside] = screen[inside, 2] <= far[row[inside], column[inside]] + slack[inside]
    return out


def _ready() -> None:
    """A worker draws one frame at a time on one core."""
    cv2.setNumThreads(1)


def pictures(
    script: Script, workers: int | None = None, progress: Callable[[int, int], None] | None = None
) -> Iterator[Image]:
    """All frames of a take in order, drawn on all cores.

    progress  called after each frame with how many are done and how many there are
    """
    count = len(script.times())
    workers = workers or os.cpu_count() or 1
    if workers == 1:
        for index in range(count):
            yield picture(script, index)
            if progress:
                progress(index + 1, count)
        return
    with ProcessPoolExecutor(workers, get_context("spawn"), initializer=_ready) as pool:
        for index, image in enumerate(
            pool.map(picture, [script] * count, range(count), chunksize=4)
        ):
            yield image
            if progress:
                progress(index + 1, count)


def write(
    script: Script,
    path: Path,
    workers: int | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> None:
    """Film a script; ``path`` ends in .mp4 or .webm."""
    codec = CODECS[path.suffix]
    base = Fraction(1, 90000)
    options = {"movflags": "+faststart"} if path.suffix == ".mp4" else {}
    with av.open(str(path), "w", options=options) as container:
        video = container.add_stream(codec, rate=Fraction(script.fps).limit_denominator(1000))
        video.width, video.height = script.size
        video.pix_fmt = "yuv420p"
        video.codec_context.time_base = base
        if codec == "libx264":
            # As a review copy is made, so that a filmed clip can be its own.
            video.options = {
                "crf": str(script.crf),
                "preset": "slow",
                "bf": "0",
                "g": str(GOP),
                "sc_threshold": "0",
            }
        else:
            video.options = {"crf": str(script.crf), "cpu-used": "4", "b": "0"}
            video.bit_rate = 0
        samples = track(script).astype(np.float32)
        audio = None
        if len(samples):
            name = "libopus" if path.suffix == ".webm" else "aac"
            audio = container.add_stream(name, rate=RATE, layout="mono")
            audio.bit_rate = 48000
        for n, image in enumerate(pictures(script, workers, progress)):
            yuv = cv2.cvtColor(image, cv2.COLOR_RGB2YUV_I420)
            frame = av.VideoFrame.from_ndarray(yuv, format="yuv420p")
            frame.pts, frame.time_base = round(n / script.fps / base), base
            container.mux(video.encode(frame))
        container.mux(video.encode(None))
        if audio is not None:
            block = 960
            for first in range(0, len(samples) - block + 1, block):
                piece = av.AudioFrame.from_ndarray(
                    samples[None, first : first + block], format="fltp", layout="mono"
                )
                piece.sample_rate, piece.pts, piece.time_base = RATE, first, Fraction(1, RATE)
                container.mux(audio.encode(piece))
            container.mux(audio.encode(None))


def moments(script: Script) -> list[Moment]:
    """The truth of every frame."""
    return [moment_truth(script, index) for index in range(len(script.times()))]


#: Of ``form`` or ``place`` this much of the end is what ``hold`` is compared with, s.
FORMED = 0.2
COLLAPSING = ("chin_hollow", "lower_red", "corner_rise")


def motion(script: Script, truths: list[Moment]) -> list[dict[str, Any]]:
    """What moves while it should not, for each hold.

    ``stillness``: root mean square distance of the corners from their median place, seen
    from the front, % of the mouth's width at rest. ``collapse``: the median in the hold
    less the median over the end of what came before, for what lets go when air starts.
    """
    if script.view == "close-up":
        return []
    times = np.array(script.times())
    out = []
    phases = script.phases
    for place, phase in enumerate(phases[1:], 1):
        # The shape before the air: at the end of forming or placing, else of what came before.
        ready = [p for p in phases[:place] if p.name in ("form", "place")]
        before = ready[-1] if ready else phases[place - 1]
        inside = np.flatnonzero((times >= phase.start) & (times <= phase.end))
        if phase.name != "hold" or len(inside) < 3:
            continue
        corners = np.array([[truths[n].head[c][:2] for c in ("ch_r", "ch_l")] for n in inside])
        away = ((corners - np.median(corners, axis=0)) ** 2).sum(-1)
        wide = truths[int(inside[0])].measures["rest_mouth_width_mm"]
        formed = np.flatnonzero((times >= before.end - FORMED) & (times < before.end))
        found: dict[str, Any] = {
            "phase": phase.name,
            "start": phase.start,
            "stillness": round(float(np.sqrt(away.mean())) / wide * 100, 4),
        }
        for name in COLLAPSING if len(formed) else ():
            in_hold, before_it = (
                float(np.median([truths[int(n)].measures[name] for n in rows]))
                for rows in (inside, formed)
            )
            found[f"collapse_{name}"] = round(in_hold - before_it, 4)
        out.append(found)
    return out


def document(script: Script, truths: list[Moment] | None = None) -> dict[str, Any]:
    """The truth of a take as plain data: phases, faults, and per frame landmarks and measures."""
    truths = moments(script) if truths is None else truths
    return {
        "script": script.model_dump(mode="json"),
        "phases": [{"name": p.name, "start": p.start, "end": p.end} for p in script.phases],
        "faults": [
            {"fault": fault.fault, "start": round(start, 6), "end": round(end, 6)}
            for fault, start, end in script.fault_spans()
        ],
        "motion": motion(script, truths),
        "frames": [
            {
                "frame": index,
                "seconds": round(seconds, 6),
                "landmarks": {
                    name: [*truth.places[name], int(truth.seen[name])]
                    for name in sorted(truth.places)
                },
                "measures": truth.measures,
            }
            for index, (seconds, truth) in enumerate(zip(script.times(), truths, strict=True))
        ],
    }


def true_marks(script: Script, ids: tuple[str, ...], truths: list[Moment] | None = None) -> Marks:
    """The landmarks of every frame as marks without error; what is covered is hidden."""
    truths = moments(script) if truths is None else truths
    marks = Marks.empty(ids, script.times())
    for row, truth in enumerate(truths):
        for column, name in enumerate(ids):
            if name not in truth.places:
                continue
            marks.xy[row, column] = truth.places[name]
            marks.hidden[row, column] = not truth.seen[name]
            marks.source[row, column] = FOUND
            marks.sigma[row, column] = marks.drift[row, column] = 0.01
    return marks


def all_ids(truths: list[Moment]) -> tuple[str, ...]:
    """Every landmark that occurs in a take, in a fixed order."""
    return tuple(sorted({name for truth in truths for name in truth.places}))


def material_picture(body: Body, camera: Camera) -> Floats:
    """(H, W) material at each pixel, -1 for none: a colour-coded render for checks."""
    xyz, _, triangles, material, _ = joined(body)
    screen = camera.project(into_room(xyz, body.pose)).astype(np.float32)
    _, which, _ = rasterise(screen, triangles, camera.size[1], camera.size[0])
    return np.where(which >= 0, material[np.maximum(which, 0)], -1)
