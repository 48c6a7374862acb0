"""Writes to takes: taking clips in, storing what came out, the teacher's own marks."""

from __future__ import annotations

import datetime
import os
import shutil
import tempfile
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from sulvet.accounts.errors import Conflict, Refused
from sulvet.band.models import Student
from sulvet.core import ENGINE_VERSION, sandbox
from sulvet.core.anatomy.landmarks import (
    BY_ID,
    CONTOUR_IDS,
    EDGE_IDS,
    OPENING_IDS,
    TAKE_IDS,
    together,
)
from sulvet.core.anatomy.marks import FOUND, PLACED, Marks
from sulvet.core.drawing.sheet import EDITION
from sulvet.core.drawing.stills import stills_of
from sulvet.core.drawing.take import drawing_of
from sulvet.core.formats import report
from sulvet.core.formats.coco import PLACED_SIGMA
from sulvet.core.judgement.corroboration import with_sound
from sulvet.core.judgement.judge import CANT_TELL, Judgement, judge
from sulvet.core.judgement.standards import Standard, common, observations
from sulvet.core.phases import PHASES, Phase
from sulvet.core.review import anchor_frame, retrack_front, retrack_side
from sulvet.core.video.clip import MAX_BYTES, ClipError, ClipFacts, check_file
from sulvet.core.video.proxy import PROXY
from sulvet.core.video.stabilise import StabilisedClip
from sulvet.core.video.store import MATRICES, PICTURES
from sulvet.hand.selectors import hand_error
from sulvet.standards.selectors import standard_of
from sulvet.takes import ear, edits, steadied, tracks
from sulvet.takes.aims import Aim
from sulvet.takes.edits import recorded
from sulvet.takes.focus import focus_of
from sulvet.takes.models import Decision, Finding, Hearing, Mark, Reading, Take, TakePhase

#: A working take whose worker has not been heard of for this long is taken up again.
STALE = datetime.timedelta(seconds=20)
#: One that waits this long has lost its place in the queue; a second place does no
#: harm, since only the newest job of a take may run.
LOST = datetime.timedelta(minutes=30)
#: After this many tries a take that kills its worker is given up, with the reason.
MAX_TRIES = 3
GIVEN_UP = (
    "Reading this clip stopped the program three times, so it was left alone. The clip is kept. "
    "Save it anew in the phone's editor and send it again."
)
NO_CONSENT = (
    "There is no consent to film on file for {name} on {day}. Enter the date of the "
    "parents' consent on the student's page first, then send the clip again."
)


@dataclass(frozen=True)
class TakeFacts:
    """What a teacher says of a clip."""

    view: str
    purpose: str
    filmed_on: datetime.date
    mirrored: bool = False


def add_take(student: Student, upload: UploadedFile[Any], facts: TakeFacts) -> Take:
    """Take a clip in. Refused with a sentence when it can't be used; then nothing is kept."""
    if not student.may_be_filmed(facts.filmed_on):
        raise Refused(NO_CONSENT.format(name=student.name, day=facts.filmed_on.isoformat()))
    folder = uuid.uuid4()
    directory = Path(settings.CLIPS_DIR) / str(folder)
    incoming = directory.with_suffix(".incoming")
    incoming.mkdir(parents=True)
    name = "clip" + Path(upload.name or "").suffix.lower()[:6]
    try:
        with open(incoming / name, "wb") as file:
            for chunk in upload.chunks():
                file.write(chunk)
        known = _look(incoming / name)
        # Whole or not at all: the folder gets its name when everything is in it.
        incoming.rename(directory)
    except BaseException:
        shutil.rmtree(incoming, ignore_errors=True)
        raise
    with transaction.atomic():
        take = Take.objects.create(
            student=student,
            folder=folder,
            view=facts.view,
            purpose=facts.purpose,
            filmed_on=facts.filmed_on,
            mirrored=facts.mirrored,
            original_name=(upload.name or "clip")[:200],
            clip_name=name,
            clip_seconds=known.seconds,
            width=known.width,
            height=known.height,
        )
        enqueue(take)
    return take


def add_read_take(
    student: Student,
    clip: Path,
    facts: TakeFacts,
    outcome: sandbox.Outcome,
    heard: dict[str, Any] | None = None,
) -> Take:
    """Take in a clip that has been read, and listened to, before and is its own review copy.

    The clip must be one that ``core.simulate`` filmed: it has the keyframes of a review copy.
    """
    folder = uuid.uuid4()
    directory = Path(settings.CLIPS_DIR) / str(folder)
    directory.mkdir(parents=True)
    name = "clip" + clip.suffix
    shutil.copyfile(clip, directory / name)
    os.link(directory / name, directory / PROXY)
    take = Take.objects.create(
        student=student,
        folder=folder,
        view=facts.view,
        purpose=facts.purpose,
        filmed_on=facts.filmed_on,
        original_name=clip.name,
        clip_name=name,
        state=Take.State.WORKING,
        job=uuid.uuid4(),
    )
    placed = [key for key in outcome.keys if key.source == PLACED]
    Mark.objects.bulk_create(tracks.mark_rows(take, placed))
    if heard is not None:
        Hearing.objects.create(take=take, heard=heard)
    store_outcome(take, outcome)
    take.refresh_from_db()
    return take


def _look(path: Path) -> ClipFacts:
    try:
        check_file(path, MAX_BYTES)
        return sandbox.look(path)
    except ClipError as error:
        raise Refused(str(error)) from error


def enqueue(take: Take) -> None:
    """Hand a take to the worker under a new job; whatever an older job brings is dropped."""
    from sulvet.takes.tasks import read_take

    take.job, take.state, take.stage, take.share = uuid.uuid4(), Take.State.WAITING, "", 0.0
    take.heartbeat, take.message = timezone.now(), ""
    take.save(update_fields=["job", "state", "stage", "share", "heartbeat", "message"])
    job = str(take.job)
    transaction.on_commit(lambda: read_take.enqueue(take.pk, job))


def start(take_id: int, job: str) -> Take | None:
    """Claim a take for a job; None when another job has it or it is done."""
    with transaction.atomic():
        take = Take.objects.filter(pk=take_id, job=job, state=Take.State.WAITING).first()
        if take is None:
            return None
        take.state, take.heartbeat, take.tries = Take.State.WORKING, timezone.now(), take.tries + 1
        take.save(update_fields=["state", "heartbeat", "tries"])
    return take


def heard(take: Take, stage: str, share: float) -> bool:
    """Note progress; False when the job no longer owns the take (deleted, or begun anew)."""
    return bool(
        Take.objects.filter(pk=take.pk, job=take.job, state=Take.State.WORKING).update(
            stage=stage, share=share, heartbeat=timezone.now()
        )
    )


def take_up_stale() -> int:
    """Begin again what a killed worker left; returns how many takes."""
    now, taken = timezone.now(), 0
    stopped = Q(state=Take.State.WORKING, heartbeat__lt=now - STALE)
    lost = Q(state=Take.State.WAITING, heartbeat__lt=now - LOST)
    for take in Take.objects.filter(stopped | lost):
        if take.tries >= MAX_TRIES:
            fail(take, GIVEN_UP)
        else:
            with transaction.atomic():
                enqueue(take)
            taken += 1
    return taken


def fail(take: Take, sentence: str) -> None:
    """The take can't be read; the clip is kept and the teacher told why."""
    Take.objects.filter(pk=take.pk, job=take.job).update(
        state=Take.State.FAILED, message=sentence, stage="", share=0.0
    )


@transaction.atomic
def store_outcome(take: Take, outcome: sandbox.Outcome) -> bool:
    """Store what a job brought; False, and nothing stored, if the job is no longer wanted."""
    fresh = (
        Take.objects.filter(pk=take.pk, job=take.job, state=Take.State.WORKING)
        .select_related("student")
        .first()
    )
    if fresh is None:
        return False
    fresh.width, fresh.height = outcome.size
    fresh.frame_times = [round(float(t), 6) for t in outcome.marks.seconds]
    fresh.clip_seconds = fresh.frame_times[-1]
    fresh.notes = outcome.notes
    fresh.state = Take.State.NEEDS_MARKS if outcome.needs else Take.State.READY
    fresh.message, fresh.stage, fresh.share, fresh.tries = outcome.needs, "", 1.0, 0
    fresh.save()
    fresh.marks.filter(source=Mark.Source.FOUND).delete()
    Mark.objects.bulk_create(
        tracks.mark_rows(fresh, [key for key in outcome.keys if key.source == FOUND])
    )
    tracks.save(fresh, outcome.marks, TAKE_IDS)
    tracks.save_signals(fresh, outcome.marks)
    if not fresh.phases.filter(by_teacher=True).exists():
        _write_phases(fresh, outcome.phases, by_teacher=False)
    steadied.forget(fresh)
    # From what is stored, not from what was in hand: made anew it comes out the same.
    rejudge(fresh, tracks.load(fresh))
    return True


def phases_of(take: Take) -> list[Phase]:
    """The take's rehearsal marks."""
    return [Phase(p.name, p.start, p.end, p.confidence) for p in take.phases.all()]


def standard_for(take: Take) -> Standard:
    """The standard a take is judged by: the instrument's, as its teacher wants it."""
    return standard_of(take.student.section.band.teacher, take.student.instrument)


def judged(take: Take, marks: Marks) -> Judgement:
    """Measure and judge a take by its student's standard: what is seen, and what is heard."""
    standard, phases = standard_for(take), phases_of(take)
    school = standard.school(take.student.school or None).id
    seen = judge(marks, phases, standard, take.view, school, take.known_mm)
    heard = ear.judged_by(take, phases, standard)
    return seen if heard is None else with_sound(seen, heard, standard, take.view, school)


@dataclass(frozen=True)
class Standing:
    """How a take stands: its marks, and what follows from them; None before it is read."""

    marks: Marks
    judged: Judgement | None


def _made_by(take: Take) -> dict[str, str]:
    """Engine, standard and school that readings and findings of a take are made by."""
    standard = standard_for(take)
    return {
        "engine": ENGINE_VERSION,
        "standard": standard.label,
        "school": standard.school(take.student.school or None).id,
    }


def standing(take: Take) -> Standing:
    """The take as it stands. Rows made by another engine, standard or school are made anew."""
    marks = tracks.load(take)
    if not take.frame_times:
        return Standing(marks, None)
    made = _made_by(take)
    first = take.findings.first() or take.readings.first()
    if first is not None and any(getattr(first, name) != by for name, by in made.items()):
        ear.renew(take)
        return rejudge(take, marks)
    return Standing(marks, judged(take, marks))


def listened(take: Take) -> Hearing:
    """What is heard of a take; heard for the first time it is judged with that."""
    before = Hearing.objects.filter(take=take).values_list("heard", flat=True).first()
    hearing = ear.listened(take)
    if hearing.heard != before and take.state == Take.State.READY:
        rejudge(take, tracks.load(take))
    return hearing


def aim(take: Take, wanted: Aim) -> Hearing:
    """The teacher says what was to be played: it is listened to and judged anew."""
    hearing = ear.aim(take, wanted)
    if take.state == Take.State.READY:
        rejudge(take, tracks.load(take))
    return hearing


def rejudge(take: Take, marks: Marks) -> Standing:
    """Make readings and findings anew from marks and phases."""
    result = judged(take, marks)
    made = {"take": take, **_made_by(take)}
    take.readings.all().delete()
    take.findings.all().delete()
    Reading.objects.bulk_create(Reading(**made, **report.reading(r)) for r in result.readings)
    Finding.objects.bulk_create(Finding(**made, **report.finding(f)) for f in result.findings)
    take.drawn, take.stills = _drawn(take, marks, result, standard_for(take))
    take.save(update_fields=["drawn", "stills"])
    return Standing(marks, result)


Kept = dict[str, Any] | None


def _drawn(take: Take, marks: Marks, result: Judgement, standard: Standard) -> tuple[Kept, Kept]:
    """The measured drawing as it is kept, without where every frame lies on it; and the frames
    of which that is kept."""
    school, phases = standard.school(take.student.school or None).id, phases_of(take)
    drawing = drawing_of(result, marks, phases, standard, take.view, school)
    if drawing is None:
        return None, None
    stills = stills_of(result, marks, phases, drawing)
    return {"edition": EDITION, "drawing": drawing.small()}, stills.plain()


def current(take: Take) -> Take:
    """The take with readings, drawing and stills made by what is in force now.

    Only what another engine, standard or edition made is made anew.
    """
    if take.state == Take.State.READY:
        made = _made_by(take)
        first = next(iter(take.readings.all()), None)
        old = first is not None and any(getattr(first, name) != by for name, by in made.items())
        if old or (take.drawn or {}).get("edition", EDITION) != EDITION:
            ear.renew(take)
            rejudge(take, tracks.load(take))
            take.refresh_from_db()
    return take


def _write_phases(take: Take, phases: list[Phase], by_teacher: bool) -> None:
    take.phases.all().delete()
    TakePhase.objects.bulk_create(
        TakePhase(
            take=take,
            name=p.name,
            start=p.start,
            end=p.end,
            by_teacher=by_teacher,
            confidence=p.confidence,
        )
        for p in phases
    )


def _settled(take: Take) -> None:
    if take.state not in (Take.State.READY, Take.State.NEEDS_MARKS):
        raise Conflict("Sulvet is still reading this take. Wait until it is measured.")


def set_phases(take: Take, phases: list[Phase]) -> Standing:
    """The teacher's rehearsal marks in place of those there are."""
    _settled(take)
    end = take.frame_times[-1]
    for phase in phases:
        if phase.start < 0 or phase.end > end + 0.05:
            raise Refused(f"The phase “{phase.name}” reaches outside the clip. Draw it inside.")
    with recorded(take, "letters moved", "phases"):
        _write_phases(take, phases, by_teacher=True)
        return rejudge(take, tracks.load(take))


#: A known length is one that a ruler beside the mouth can show, mm.
KNOWN_FROM, KNOWN_TO = 3.0, 300.0


def set_known_length(take: Take, known_mm: float | None) -> Standing:
    """How long the teacher says the marked length is; None takes that back."""
    _settled(take)
    if known_mm is not None and not KNOWN_FROM <= known_mm <= KNOWN_TO:
        raise Refused(
            f"A known length must lie between {KNOWN_FROM:.0f} and {KNOWN_TO:.0f} mm. Ten "
            "millimetres of a ruler beside the mouth do well."
        )
    with recorded(take, "known length", "known_mm"):
        take.known_mm = known_mm
        take.save(update_fields=["known_mm"])
        return rejudge(take, tracks.load(take))


@dataclass(frozen=True)
class PlacedMark:
    """A landmark as the teacher places it, pixels of the upright picture."""

    landmark: str
    frame: int
    x: float
    y: float
    hidden: bool = False


def place_marks(take: Take, marks: list[PlacedMark]) -> Standing:
    """Put landmarks where the teacher says, all or none, and follow them again from there."""
    _settled(take)
    for mark in marks:
        if mark.landmark not in BY_ID:
            raise Refused(f"There is no landmark “{mark.landmark}”.")
        if not 0 <= mark.frame < len(take.frame_times):
            raise Refused(f"The take has no frame {mark.frame}.")
        if not (-0.5 <= mark.x <= take.width - 0.5 and -0.5 <= mark.y <= take.height - 0.5):
            raise Refused("A mark must lie inside the picture.")
    landmarks = tuple(dict.fromkeys(mark.landmark for mark in marks))
    with recorded(take, _placed_words(landmarks), *(f"marks:{name}" for name in landmarks)):
        for mark in marks:
            Mark.objects.update_or_create(
                take=take,
                landmark=mark.landmark,
                frame=mark.frame,
                source=Mark.Source.PLACED,
                defaults={
                    "x": mark.x,
                    "y": mark.y,
                    "hidden": mark.hidden,
                    "sigma": _hand(take, mark.landmark),
                },
            )
        return _follow_again(take, landmarks)


def moved_on(take: Take, frame: int, moved: list[PlacedMark]) -> Marks:
    """The take's marks with some of them elsewhere on one frame; nothing is stored."""
    _settled(take)
    marks = tracks.load(take)
    if not 0 <= frame < len(marks):
        raise Refused(f"The take has no frame {frame}.")
    for mark in moved:
        if mark.landmark not in BY_ID:
            raise Refused(f"There is no landmark “{mark.landmark}”.")
        column = marks.column(mark.landmark)
        marks.xy[frame, column], marks.hidden[frame, column] = (mark.x, mark.y), mark.hidden
        sure = np.isfinite(marks.sigma[frame, column])
        marks.sigma[frame, column] = marks.sigma[frame, column] if sure else PLACED_SIGMA
        marks.drift[frame, column] = marks.drift[frame, column] if sure else PLACED_SIGMA
    return marks


def _placed_words(landmarks: tuple[str, ...]) -> str:
    if len(landmarks) == 1:
        return f"{BY_ID[landmarks[0]].words} placed"
    if set(landmarks) <= set(CONTOUR_IDS):
        return "the chin's edge drawn"
    return f"{len(landmarks)} marks placed"


def _hand(take: Take, landmark: str) -> float:
    """How sure this teacher's hand is of a landmark, pixels of the take."""
    teacher = take.student.section.band.teacher
    return hand_error(teacher, landmark, take.width) or PLACED_SIGMA


def remove_mark(take: Take, landmark: str, frame: int) -> Standing:
    """Take a placed mark back; what was found or placed elsewhere counts again."""
    _settled(take)
    words = f"{BY_ID[landmark].words} taken away" if landmark in BY_ID else "mark taken away"
    with recorded(take, words, f"marks:{landmark}"):
        take.marks.filter(landmark=landmark, frame=frame, source=Mark.Source.PLACED).delete()
        return _follow_again(take, (landmark,))


def found_left(take: Take) -> list[Mark]:
    """The found marks that the teacher has neither moved nor accepted.

    Without those that are looked for on every frame by their edges: one of them that
    is placed would pin what is read off the picture.
    """
    rows = list(take.marks.all())
    placed = {(m.landmark, m.frame) for m in rows if m.source == Mark.Source.PLACED}
    return [
        m
        for m in rows
        if m.source == Mark.Source.FOUND
        and (m.landmark, m.frame) not in placed
        and m.landmark not in (*EDGE_IDS, *OPENING_IDS)
    ]


def accept_found(take: Take) -> Standing:
    """The teacher has looked at the found marks and says they are right.

    They count as placed from now on and are as sure as they were found: a glance
    says that none is wrong, not where it is to the pixel.
    """
    _settled(take)
    found = found_left(take)
    if not found:
        raise Refused("There is no found mark left to accept.")
    landmarks = tuple(dict.fromkeys(mark.landmark for mark in found))
    with recorded(take, "found marks accepted", *(f"marks:{name}" for name in landmarks)):
        for mark in found:
            mark.pk, mark.source = None, Mark.Source.PLACED
        Mark.objects.bulk_create(found)
        return _follow_again(take, landmarks)


def _follow_again(take: Take, landmarks: tuple[str, ...]) -> Standing:
    if take.state != Take.State.READY or not landmarks:
        # The first marks of a take that is not followed yet: wait for all of them.
        return rejudge(take, tracks.load(take)) if take.frame_times else standing(take)
    if take.view == Take.View.SIDE:
        # The chin's edge hangs on lip and chin: all is followed again.
        group = TAKE_IDS
        marks = retrack_side(_steady(take), tracks.keys(take), np.array(take.frame_times))
    else:
        group = tuple(dict.fromkeys(one for name in landmarks for one in together(name)))
        marks, group = retrack_front(
            _steady(take), tracks.load(take), group, tracks.keys(take, group)
        )
        tracks.save_signals(take, marks)
    tracks.save(take, marks, group)
    return rejudge(take, tracks.load(take))


def take_back(take: Take) -> Standing:
    """Undo the teacher's last edit."""
    return _put_back(take, edits.take_back, "There is nothing to take back.")


def do_again(take: Take) -> Standing:
    """Redo the edit that was taken back last."""
    return _put_back(take, edits.do_again, "There is nothing to do again.")


def _put_back(take: Take, put: Callable[[Take], edits.Parts], nothing: str) -> Standing:
    _settled(take)
    with transaction.atomic():
        parts = put(take)
        if not parts:
            raise Refused(nothing)
        return _follow_again(take, edits.landmarks_of(parts))


def _steady(take: Take) -> StabilisedClip:
    """The steadied take. What can be made again may be missing: then it is made again."""
    try:
        return steadied.of(take)
    except FileNotFoundError:
        with tempfile.TemporaryDirectory(dir=take.directory, prefix="making-") as making:
            sandbox.review(
                take.clip,
                Path(making),
                keys=tracks.keys(take),
                phases=phases_of(take),
                mirrored=take.mirrored,
                proxy=False,
                seconds=take.clip_seconds or 180.0,
                progress=lambda stage, share: None,
                view=take.view,
            )
            move_in(Path(making), take)
        return steadied.of(take)


def move_in(making: Path, take: Take) -> None:
    """Move what a review made into the take's folder; a reader never sees half a file."""
    for name in (PROXY, PICTURES, MATRICES):
        if (making / name).exists():
            (making / name).replace(take.directory / name)


def look_again(take: Take) -> None:
    """Read the take again with the teacher's marks and phases."""
    if take.state in (Take.State.WAITING, Take.State.WORKING):
        raise Conflict("Sulvet is reading this take already.")
    if take.state == Take.State.NEEDS_MARKS:
        has_rest = take.phases.filter(name="rest", by_teacher=True).exists()
        by_rest = has_rest and take.view == Take.View.FRONT
        if anchor_frame(tracks.keys(take), take.view) is None and not by_rest:
            raise Refused(
                "Place all the asked marks on one frame first, or set the letter “rest” where "
                "the face is relaxed."
            )
    with transaction.atomic():
        take.tries = 0
        take.save(update_fields=["tries"])
        enqueue(take)


def decide(take: Take, fault: str, phase: str, answer: str, reason: str) -> None:
    """Confirm, dismiss or add a finding; an empty answer takes the decision back."""
    there = take.findings.filter(fault=fault, phase=phase).exists()
    added = take.decisions.filter(fault=fault, phase=phase, answer=Decision.Answer.ADDED).exists()
    known = {f.id for f in common().faults}
    if answer == Decision.Answer.ADDED:
        if fault not in known or phase not in PHASES:
            raise Refused("Choose a fault and a phase from the list.")
        if there:
            raise Refused("Sulvet has found this already: confirm or dismiss it.")
    elif not there and not (added and not answer):
        raise Refused("This take has no such finding any more. Look at it again.")
    if answer == Decision.Answer.DISMISSED and not reason.strip():
        raise Refused("Say in a word why the finding is dismissed.")
    name = common().fault(fault).name if fault in known else fault
    words = f"“{name}” {answer}" if answer else f"answer to “{name}” taken back"
    with recorded(take, words, "decisions", "chosen_focus", "student_focus"):
        if answer in ("", Decision.Answer.DISMISSED) and take.chosen_focus == fault:
            _choose(take, "")
        if answer == Decision.Answer.CONFIRMED and focus_of(take).fault == fault:
            # Confirming the focus sets it: it stays, whatever other takes bring.
            _choose(take, fault)
        if not answer:
            take.decisions.filter(fault=fault, phase=phase).delete()
            return
        Decision.objects.update_or_create(
            take=take,
            fault=fault,
            phase=phase,
            defaults={"answer": answer, "reason": reason.strip()},
        )


def choose_focus(take: Take, fault: str) -> None:
    """Make another finding the focus; an empty word leaves it to the order of fixing."""
    stands = {f.fault for f in take.findings.exclude(verdict=CANT_TELL)}
    stands |= set(
        take.decisions.filter(answer=Decision.Answer.ADDED).values_list("fault", flat=True)
    )
    stands -= set(
        take.decisions.filter(answer=Decision.Answer.DISMISSED).values_list("fault", flat=True)
    )
    if fault and fault not in stands:
        raise Refused("Only a finding that stands can be the focus. Add it first.")
    with recorded(take, "focus chosen", "chosen_focus", "student_focus"):
        _choose(take, fault)


def _choose(take: Take, fault: str) -> None:
    """The take's focus, and with it what the student works on."""
    student = take.student
    if fault or student.focus == take.chosen_focus:
        student.focus = fault
        student.save(update_fields=["focus"])
    take.chosen_focus = fault
    take.save(update_fields=["chosen_focus"])


def observe(take: Take, seen: list[str]) -> None:
    """What the teacher saw, heard and felt: the whole list as it stands now."""
    known = {one.id for one in observations().observations}
    strange = sorted(set(seen) - known)
    if strange:
        raise Refused(f"There is no observation “{strange[0]}” to tick.")
    with recorded(take, "observations", "observations"):
        take.observations = [one for one in sorted(known) if one in set(seen)]
        take.save(update_fields=["observations"])


NO_DEPTH = (
    "This take does not tell how deep the mouthpiece is. Mark the ligature's edge and the lip on a "
    "frame of the hold, from the side."
)


def keep_depth(take: Take, keep: bool) -> None:
    """The depth of this take is right for the student: a tape goes where the lip was; or not."""
    reading = take.readings.filter(measure="depth", phase="hold", value__isnull=False).first()
    if keep and reading is None:
        raise Refused(NO_DEPTH)
    student = take.student
    student.tape_mm = reading.value if keep and reading else None
    student.tape_spread = reading.uncertainty if keep and reading else None
    student.tape_on = take.filmed_on if keep else None
    student.save(update_fields=["tape_mm", "tape_spread", "tape_on"])


def set_read(take: Take, is_read: bool) -> None:
    """The teacher has read the take, or wants it back in the list."""
    with recorded(take, "marked as read" if is_read else "put back as unread", "read_at"):
        take.read_at = timezone.now() if is_read else None
        take.save(update_fields=["read_at"])


def delete_student(student: Student) -> None:
    """Delete a student with all takes: rows first, then every file of them."""
    takes = list(student.takes.all())
    directories = [take.directory for take in takes]
    section = student.section
    with transaction.atomic():
        student.delete()
        if not section.students.exists():
            section.delete()
        for one in directories:
            transaction.on_commit(partial(shutil.rmtree, one, ignore_errors=True))
    for take in takes:
        steadied.forget(take)


def delete_take(take: Take) -> None:
    """Delete a take: rows first, then every file of it."""
    directory = take.directory
    with transaction.atomic():
        take.delete()
        transaction.on_commit(lambda: shutil.rmtree(directory, ignore_errors=True))
    steadied.forget(take)
