"""The stored analysis of a take: whether it is out of date, making it, keeping it.

One module says when it is stale, one makes it, one keeps it; a page only reads what stands.
Making takes a second or two and writes nothing; keeping is one short transaction.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import asdict, dataclass, replace
from typing import Any

from django.db import transaction
from django.db.models import Q

from sulvet.band.models import Student
from sulvet.core import EAR_VERSION, ENGINE_VERSION
from sulvet.core.analysis import NO_FRAMES, Analysis, FrameData, Heard, Material, Provenance
from sulvet.core.analysis import analyse as analyse_material
from sulvet.core.drawing.sheet import EDITION, Drawing
from sulvet.core.drawing.stills import Stills
from sulvet.core.drawing.take import with_lines, without_lines
from sulvet.core.formats import report
from sulvet.core.judgement import results as judged
from sulvet.core.judgement.coverage import Coverage
from sulvet.core.judgement.lips import lips_of
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import ENGLISH, speaking
from sulvet.core.measures.rest_lips import lip_share
from sulvet.standards.selectors import standard_of
from sulvet.takes import sound, tracks
from sulvet.takes.borrowing import borrowed_rest
from sulvet.takes.models import Finding, Reading, Take, TakeAnalysis, TakeSound

#: States in which a take has marks to analyse, if only some.
ANALYSED = (Take.State.READY, Take.State.NEEDS_MARKS)
MADE_BY = tuple(Provenance.__dataclass_fields__)
#: In place of the ear's version: the sound has changed since.
OTHER_SOUND = ""


def standard_for(take: Take) -> Standard:
    """The standard a take is judged by: its student's."""
    return standard_for_student(take.student)


def standard_for_student(student: Student) -> Standard:
    """The instrument's standard as its teacher wants it, moved for the student's lips."""
    return standard_of(student.section.band.teacher, student.instrument, student.lip_share)


def school_for(take: Take, standard: Standard) -> str:
    """The school a take is judged by."""
    return standard.school(take.student.school or None).id


# -- whether it stands -------------------------------------------------------------


def stored(take: Take) -> TakeAnalysis | None:
    """What is kept of a take; None before it was read."""
    return getattr(take, "analysis", None)


def is_stale(take: Take, standard: Standard | None = None) -> bool:
    """Whether a take's analysis was made by another engine, ear, standard, school or edition.

    standard  the one it is judged by, where that is at hand
    """
    if take.state not in ANALYSED:
        return False
    kept = stored(take)
    if kept is None:
        return True
    standard = standard or standard_for(take)
    now = Provenance.now(standard, school_for(take, standard))
    return Provenance(*(getattr(kept, name) for name in MADE_BY)) != now


def to_draw(take: Take) -> TakeAnalysis | None:
    """What is kept of a take to be drawn; None without an analysis of today's edition."""
    kept = stored(take)
    return kept if kept is not None and kept.edition == EDITION else None


def drawing_of(take: Take) -> Drawing | None:
    """The kept drawing, without its frames; None without one of today's edition."""
    kept = to_draw(take)
    if kept is None or kept.drawing is None:
        return None
    return Drawing.of(with_lines(kept.drawing))


def stills_of(take: Take) -> Stills | None:
    """The kept stills; None without some of today's edition."""
    kept = to_draw(take)
    return None if kept is None or kept.stills is None else Stills.of(kept.stills)


def coverage_of(take: Take) -> Coverage | None:
    """What was checked and what not; None without an analysis that says so."""
    kept = stored(take)
    return None if kept is None or kept.coverage is None else Coverage.of(kept.coverage)


def frames_of(take: Take) -> FrameData:
    """What is kept of every frame; nothing without an analysis of today's edition."""
    kept = to_draw(take)
    return NO_FRAMES if kept is None else FrameData.unpacked(bytes(kept.frames))


# -- making it ---------------------------------------------------------------------


@dataclass(frozen=True)
class Made:
    """An analysis, by what it was made, and the sound it rests on."""

    analysis: Analysis
    provenance: Provenance
    heard: Heard | None


def material_of(take: Take) -> Material:
    """What a take's analysis is made from, as it stands in the database."""
    return Material(
        tracks.load(take), tracks.phases_of(take), take.view, take.known_mm, heard_on(take),
        borrowed_rest(take), take.still,
    )  # fmt: skip


def heard_on(take: Take) -> Heard | None:
    """The sound of a take as its analysis takes it; None while this ear has not listened."""
    kept = sound.current(take)
    return None if kept is None else heard_in(kept.heard)


def heard_in(document: dict[str, Any]) -> Heard:
    """The same from what ``sound.listen`` gave."""
    return Heard(sound.analysis_in(document), bool(document.get("pitch")))


def make(take: Take, material: Material | None = None) -> Made:
    """Make the analysis of a take, as it stands or from other material; nothing is written.

    What is kept is English, whoever asks for it: its sentences are translated where they are shown.
    """
    with speaking(ENGLISH):
        return _made(take, material or material_of(take))


def _made(take: Take, material: Material) -> Made:
    if tells_lips(take):
        seen = material.whole()
        take.student.lip_share = lip_share(seen.marks, seen.phases) or take.student.lip_share
    standard = standard_for(take)
    school = school_for(take, standard)
    made = analyse_material(material, standard, school)
    return Made(made, Provenance.now(standard, school), material.heard)


def tells_lips(take: Take) -> bool:
    """Whether it is this take that says which lips its student has: the newest from the front."""
    if take.view != Take.View.FRONT:
        return False
    newer = Q(filmed_on__gt=take.filmed_on) | Q(filmed_on=take.filmed_on, pk__gt=take.pk)
    others = Take.objects.filter(student=take.student_id, view=take.view, state__in=ANALYSED)
    return not others.filter(newer).exists()


# -- keeping it --------------------------------------------------------------------


def hold(take: Take) -> bool:
    """Keep others from writing a take until the transaction ends; False when it has changed."""
    unchanged = Take.objects.filter(pk=take.pk, revision=take.revision, job=take.job)
    return unchanged.select_for_update().values_list("pk").first() is not None


@transaction.atomic
def save(take: Take, made: Made) -> None:
    """Keep an analysis in place of the one before: all of it or nothing.

    Where another sound has been kept since it was begun, it is kept as out of date.
    """
    found, provenance = made.analysis, made.provenance
    if tells_lips(take):
        Student.objects.filter(pk=take.student_id).update(lip_share=take.student.lip_share)
    if heard_on(take) != made.heard:
        provenance = replace(provenance, ear=OTHER_SOUND)
    TakeAnalysis.objects.update_or_create(
        take=take,
        defaults={
            **asdict(provenance),
            "drawing": None if found.drawing is None else without_lines(found.drawing),
            "stills": None if found.stills is None else found.stills.plain(),
            "scale": found.scale,
            "frames": found.frames.packed(),
            "coverage": found.coverage.plain(),
        },
    )
    take.readings.all().delete()
    take.findings.all().delete()
    Reading.objects.bulk_create(reading_rows(take, found.readings))
    Finding.objects.bulk_create(finding_rows(take, found.findings))


def outdate(take: Take) -> None:
    """The sound has changed since a take's analysis was made."""
    TakeAnalysis.objects.filter(take=take).update(ear=OTHER_SOUND)


def reading_rows(take: Take, readings: Iterable[judged.Reading]) -> list[Reading]:
    """Readings as they are stored."""
    seen = Counter[tuple[str, str]]()
    return [
        Reading(take=take, nth=_next(seen, r.measure, r.phase), **report.reading(r))
        for r in readings
    ]


def finding_rows(take: Take, findings: Iterable[judged.Finding]) -> list[Finding]:
    """Findings as they are stored."""
    seen = Counter[tuple[str, str]]()
    return [
        Finding(take=take, nth=_next(seen, f.fault, f.phase), **report.finding(f)) for f in findings
    ]


def _next(seen: Counter[tuple[str, str]], *key: str) -> int:
    """Which of several of one kind in phases of one name."""
    seen[key[0], key[1]] += 1
    return seen[key[0], key[1]] - 1


def refresh(take: Take) -> None:
    """Make a take's analysis anew if it is out of date; safe to ask for twice at once.

    What was made from marks that have changed meanwhile is dropped: whoever changed them has
    kept a newer one.
    """
    if not is_stale(take):
        return
    material, document = material_of(take), None
    kept = TakeSound.objects.filter(take=take).first()
    if kept is not None and material.heard is None:
        # Another ear listened to it. Where the clip is gone, what that one heard is kept.
        again = take.clip.exists()
        document = (
            sound.listen_to(take, sound.intended_of(kept)) if again else sound.taken_over(kept)
        )
        if document is not None:
            material = replace(material, heard=heard_in(document))
    made = make(take, material)
    with transaction.atomic():
        if not hold(take):
            return
        if kept is not None and document is not None:
            # Listened to for the note that was meant then.
            TakeSound.objects.filter(pk=kept.pk, intended=kept.intended).update(heard=document)
        save(take, made)


def refresh_all(takes: Iterable[Take]) -> int:
    """Make anew what is out of date among some takes; how many that were.

    What a newer Sulvet made stays: beside it an older worker would undo its work for ever.
    """
    standards: dict[tuple[int, str, str], Standard] = {}
    count = 0
    for take in takes:
        student = take.student
        key = (student.section.band.teacher_id, student.instrument, lips_of(student.lip_share))
        if key not in standards:
            standards[key] = standard_for(take)
        if is_stale(take, standards[key]) and not _of_a_newer(take):
            refresh(take)
            count += 1
    return count


def _of_a_newer(take: Take) -> bool:
    """Whether engine, ear or edition of a take's analysis came after this Sulvet's."""
    kept = stored(take)
    if kept is None:
        return False
    now = (ENGINE_VERSION, EAR_VERSION, str(EDITION))
    was = (kept.engine, kept.ear, str(kept.edition))
    return any(a.isdecimal() and int(a) > int(b) for a, b in zip(was, now, strict=True))
