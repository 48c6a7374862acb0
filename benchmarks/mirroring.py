"""How long after a picture the mirror's answer is there: made-up takes as the camera."""

from __future__ import annotations

import json
from time import perf_counter

import numpy as np

from benchmarks import site

TAKES = ("edda-front-16", "anouk-front-1", "oskar-front-3", "kaya-front-15")
SIDE, EVERY = 384, 3


def section() -> str:
    """Rows of the table, and what they say."""
    with site.fresh():
        whole, finding = _measured()
    ratio = np.median(whole) / np.median(finding)
    late = f"{np.median(whole):.0f} ms, {np.percentile(whole, 95):.0f} ms"
    return f"""| what | ratio to finding the face alone | median, 95th percentile |
|---|---|---|
| one picture sent, measured, answered | {ratio:.2f} | {late} |

{len(whole)} pictures of {len(TAKES)} made-up takes, {SIDE} pixels wide, through the whole
application without a network; a cue changes when it has stood for half a second."""


#: A third of a second of a tone, as the page sends it beside each picture.
TONE = (8000 * np.sin(2 * np.pi * 349.23 * np.arange(16384) / 48000)).astype("<i2").tobytes()


def _measured() -> tuple[list[float], list[float]]:
    import datetime

    from django.contrib.auth.models import User
    from django.core.files.uploadedfile import SimpleUploadedFile
    from django.test import Client

    from sulvet.band.services import StudentFacts, add_student, band_of
    from sulvet.core.judgement.standards import shipped_standard
    from sulvet.core.review.mirror import seen
    from sulvet.core.simulate.script import load
    from sulvet.core.video.clip import Reader, fit
    from sulvet.demo.scenario import TAKES as FOLDER

    teacher, _ = User.objects.get_or_create(username="mirror")
    whole, finding = [], []
    for name in TAKES:
        instrument = load(FOLDER / f"{name}.yaml").instrument
        facts = StudentFacts(name, instrument, consent_on=datetime.date(2026, 11, 1))
        student = add_student(band_of(teacher), facts)
        client = Client(SERVER_NAME="localhost")
        client.force_login(teacher)
        client.post("/api/booths/", {"section": student.section_id, "counts": 4},
                    content_type="application/json")  # fmt: skip
        state: dict[str, object] = {"rest": [], "recent": [], "words": "", "next": "",
                                    "since": 0, "held": 0, "held_on": ""}  # fmt: skip
        family = shipped_standard(instrument).family
        for frame in Reader(FOLDER / f"{name}.mp4").frames():
            if frame.index % EVERY:
                continue
            picture = fit(frame.picture("rgb24"), SIDE)
            began = perf_counter()
            seen(picture, family, "front")
            finding.append(1000 * (perf_counter() - began))
            height, width = picture.shape[:2]
            began = perf_counter()
            answer = client.post("/api/booth/mirror/", {
                "student": student.pk, "view": "front", "width": width, "height": height,
                "resting": frame.seconds < 1.1, "passed": EVERY / 25, "state": json.dumps(state),
                "pixels": SimpleUploadedFile("pixels", picture.tobytes()),
                "sound": SimpleUploadedFile("sound", TONE),
            })  # fmt: skip
            whole.append(1000 * (perf_counter() - began))
            state = answer.json()["state"]
    # The first picture loads the networks.
    return whole[1:], finding[1:]
