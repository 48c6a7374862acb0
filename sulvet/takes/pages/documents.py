"""Open files of a take."""

from __future__ import annotations

from typing import Any

from sulvet.core.analysis import judgement_of
from sulvet.core.formats import coco, report
from sulvet.core.language import retold
from sulvet.takes import analysis, tracks
from sulvet.takes.models import Take


def marks(take: Take) -> dict[str, Any]:
    """The take's marks as COCO keypoints."""
    return coco.dump(
        tracks.load(take), (take.width, take.height), take.original_name, tracks.phases_of(take)
    )


def report_of(take: Take) -> dict[str, Any]:
    """The same report the shell writes."""
    standard = analysis.standard_for(take)
    school = analysis.school_for(take, standard)
    material = analysis.material_of(take)
    facts = {
        "clip": take.original_name,
        "size": [take.width, take.height],
        "mirrored": take.mirrored,
        "needs": retold(take.message),
        "notes": [retold(note) for note in take.notes],
        "instrument": standard.instrument,
        "view": take.view,
        "school": school,
        "standard": standard.label,
    }
    judged = judgement_of(material, standard, school)
    return report.document(facts, material.marks, material.phases, judged)
