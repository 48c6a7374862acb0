"""The worker's jobs: claiming a take, progress, what came out, what went wrong."""

from __future__ import annotations

import datetime

from django.db import transaction
from django.db.models import Q, QuerySet
from django.db.models.functions import Now

from sulvet.accounts.errors import Conflict, Refused
from sulvet.core import sandbox
from sulvet.core.analysis import Material
from sulvet.core.anatomy.landmarks import TAKE_IDS
from sulvet.core.anatomy.marks import FOUND
from sulvet.core.language import gettext_noop
from sulvet.core.review import NO_REST_SEEN, anchor_frame, out_of_picture
from sulvet.takes import analysis, history, queue, stabilised, tracks
from sulvet.takes.borrowing import borrow, borrowed_rest
from sulvet.takes.models import Mark, Take

#: A working take whose worker has not been heard of for this long is taken up again.
STALE = datetime.timedelta(seconds=20)
#: So many times longer each pause is before a take whose worker was killed is tried again.
PAUSES = 3
#: After this many tries a take that kills its worker is given up, with the reason.
MAX_TRIES = 3
GIVEN_UP = gettext_noop(
    "Analysing this clip failed three times, so Sulvet stopped trying. The clip is kept. "
    "Save it again in the phone's video editor and upload it again."
)


def claim(take_id: int, job: str) -> Take | None:
    """Claim a take for a job; None when another job has it or it is done."""
    with transaction.atomic():
        # Held until it is claimed, where several workers ask one server.
        waiting = Take.objects.select_for_update().filter(pk=take_id, state=Take.State.WAITING)
        take = waiting.filter(job=job).first()
        if take is None:
            return None
        take.state, take.tries = Take.State.WORKING, take.tries + 1
        take.save(update_fields=["state", "tries"])
        Take.objects.filter(pk=take_id).update(heartbeat=Now())
    return take


def record_progress(take: Take, stage: str, share: float) -> bool:
    """Note progress; False when the job no longer owns the take (deleted, or begun anew)."""
    return bool(
        Take.objects.filter(pk=take.pk, job=take.job, state=Take.State.WORKING).update(
            stage=stage, share=share, heartbeat=Now()
        )
    )


def requeue_stale() -> int:
    """Begin again what a killed worker left; returns how many takes.

    All times are the database's own, so that no computer's clock can take a take from another.
    Several may look at once: whoever holds a take's row decides, and finds it as it is then.
    """
    # A queue that is empty while takes wait has lost them; else they wait for their turn.
    patience = STALE if queue.is_empty() else queue.LOST
    waiting = Q(state=Take.State.WAITING, heartbeat__lt=Now() - patience)
    stopped = Q(tries__gte=MAX_TRIES, heartbeat__lt=Now() - STALE)
    for tries in range(MAX_TRIES):
        # After each try that was broken off the pause is longer.
        pause = STALE * PAUSES ** max(tries - 1, 0)
        stopped |= Q(tries=tries, heartbeat__lt=Now() - pause)
    stale = waiting | (Q(state=Take.State.WORKING) & stopped)
    return sum(_again(take, stale) for take in Take.objects.filter(stale).only("job"))


def _again(seen: Take, stale: Q) -> int:
    """Hand out a take anew, or give it up; 0 where it is neither stale nor the same any more."""
    with transaction.atomic():
        mine = Take.objects.select_for_update().filter(stale, pk=seen.pk, job=seen.job)
        take = mine.first()
        if take is None:
            return 0
        if take.tries >= MAX_TRIES:
            fail(take, GIVEN_UP)
            return 0
        queue.enqueue(take)
        return 1


def given_up() -> QuerySet[Take]:
    """Takes whose analysis was broken off so often that it is not tried any more, newest first.

    An administrator sees those of the school, and may have them tried again.
    """
    there = Take.objects.filter(state=Take.State.FAILED, tries__gte=MAX_TRIES, message=GIVEN_UP)
    return there.order_by("-heartbeat", "-pk")


def fail(take: Take, sentence: str) -> None:
    """The take can't be read; the clip is kept and the teacher told why."""
    Take.objects.filter(pk=take.pk, job=take.job).update(
        state=Take.State.FAILED, message=sentence, stage="", share=0.0
    )


def finish(take: Take, outcome: sandbox.Outcome) -> bool:
    """Store what a job brought; False, and nothing stored, if the job is no longer wanted."""
    fresh = _owned(take)
    if fresh is None:
        return False
    by_teacher = fresh.phases.filter(by_teacher=True).exists()
    phases = tracks.phases_of(fresh) if by_teacher else outcome.phases
    # From what will be stored, not from what is in hand: made anew it comes out the same.
    marks = tracks.as_stored(outcome.marks)
    needs, notes, fresh.borrowed_rest = outcome.needs, outcome.notes, None
    if outcome.no_rest:
        # What it would have borrowed may be gone since.
        said = borrow(fresh)
        needs, notes = (needs, [*notes, said]) if said else (NO_REST_SEEN, notes)
    heard, rest = analysis.heard_on(fresh), borrowed_rest(fresh)
    material = Material(marks, phases, fresh.view, fresh.known_mm, heard, rest, fresh.still)
    made = analysis.make(fresh, material)
    with transaction.atomic():
        if _owned(take, held=True) is None:
            return False
        fresh.width, fresh.height = outcome.size
        fresh.frame_times = [float(t) for t in marks.seconds]
        fresh.clip_seconds = fresh.frame_times[-1]
        fresh.notes = notes
        fresh.state = Take.State.NEEDS_MARKS if needs else Take.State.READY
        fresh.message, fresh.stage, fresh.share, fresh.tries = needs, "", 1.0, 0
        fresh.save(update_fields=[
            "width", "height", "frame_times", "clip_seconds", "notes", "state", "message", "stage",
            "share", "tries", "borrowed_rest",
        ])  # fmt: skip
        fresh.marks.filter(source=Mark.Source.FOUND).delete()
        Mark.objects.bulk_create(
            tracks.mark_rows(fresh, [key for key in outcome.keys if key.source == FOUND])
        )
        tracks.save(fresh, marks, TAKE_IDS)
        tracks.save_signals(fresh, marks)
        if not by_teacher:
            history.write_phases(fresh, phases)
        analysis.save(fresh, made)
    stabilised.forget(fresh)
    return True


def _owned(take: Take, held: bool = False) -> Take | None:
    """The take as it stands, while the job is still the one that may write.

    held  nobody else may write it until the transaction ends
    """
    takes = Take.objects.select_for_update(of=("self",)) if held else Take.objects.all()
    mine = takes.filter(pk=take.pk, job=take.job, state=Take.State.WORKING)
    return mine.select_related("student__section__band__teacher").first()


def reread(take: Take) -> None:
    """Read the take again with the teacher's marks and phases."""
    if take.state in (Take.State.WAITING, Take.State.WORKING):
        raise Conflict("Sulvet is already analysing this take.")
    if take.state == Take.State.NEEDS_MARKS:
        by_rest = take.phases.filter(name="rest", by_teacher=True).exists()
        placed = tracks.keyframes(take)
        if anchor_frame(placed, take.view) is None and not by_rest:
            raise Refused(
                out_of_picture(placed, take.view)
                or "Place all the marks on one frame first, or set the phase “rest” where the "
                "face is relaxed."
            )
    with transaction.atomic():
        take.tries = 0
        take.save(update_fields=["tries"])
        queue.enqueue(take)
