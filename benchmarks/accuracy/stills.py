"""Photos as takes: two pictures of each loop of the library for practising the eye.

The loops were filmed for people to look at; nothing of the program was set on them.
"""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import cast

from PIL import Image

from benchmarks.accuracy.reading import Read, true_values
from benchmarks.accuracy.takes import Case
from sulvet.core.dataset.people import tone_of
from sulvet.core.eye.library import library, script_of
from sulvet.core.eye.loop import ALIKE, RIGHT, Loop
from sulvet.core.eye.schema import SeenFrom
from sulvet.core.judgement.judge import judge
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.phases import Phase
from sulvet.core.review.pipeline import review
from sulvet.core.simulate.clip import moment_truth, picture
from sulvet.core.video.network_finder import default_finder
from sulvet.core.video.stills import write_stills

#: Which pictures of a loop are the photos: the relaxed face, and the mouth as it stays.
REST, PLAYING = 2, 14
#: Longer side of a photo, px: the loops themselves are small.
SIDE = 960


def _wanted(one: Loop) -> bool:
    """One fault drawn strongly, nothing, or what only looks like one; none that needs movement."""
    strong = len(one.faults) == 1 and one.degree == 2 and one.faults != ("loose-corners",)
    return strong or one.kind in (RIGHT, ALIKE)


LOOPS = [one for one in library() if _wanted(one)][::2]


def read(number: int) -> Read:
    """Photograph one loop anew, larger, and read both photos by Sulvet alone."""
    one = LOOPS[number]
    script = script_of(one).model_copy(update={"size": (SIDE, SIDE)})
    case = Case(one.instrument, cast(SeenFrom, one.view), one.faults[0] if one.faults else "")
    standard = shipped_standard(one.instrument)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        photos = []
        for frame in (REST, PLAYING):
            photos.append(folder / f"{frame}.png")
            Image.fromarray(picture(script, frame)).save(photos[-1])
        told = write_stills(photos[0], photos[1], folder / "stills.mp4")
        assert told.rest is not None
        phases = [Phase("rest", *told.rest), Phase("hold", *told.hold)]
        done = review(
            folder / "stills.mp4", default_finder(standard.family), phases=phases, view=one.view
        )
    truths = [moment_truth(script, REST)] * 7 + [moment_truth(script, PLAYING)] * 11
    judged = None
    if not done.needs:
        school = standard.school(None).id
        judged = judge(done.marks, done.phases, standard, one.view, school, still=True)
    facts = {"skin": tone_of(script.who), "kind": one.kind, "view": one.view}
    return Read(case, judged, 0, done.needs, true_values(script, truths), facts)
