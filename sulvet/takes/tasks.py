"""The worker's one job: reading a take."""

from __future__ import annotations

import logging
from pathlib import Path

from django.db import OperationalError
from django_tasks import task

from sulvet.band.consent import closed
from sulvet.core import clock, sandbox
from sulvet.core.anatomy.marks import PLACED
from sulvet.core.language import gettext_noop
from sulvet.core.video.clip import ClipError
from sulvet.core.video.proxy import PROXY
from sulvet.takes import files, jobs, listening, queue, space, storage, tracks
from sulvet.takes.borrowing import rest_source
from sulvet.takes.marking import move_in
from sulvet.takes.models import Take
from sulvet.takes.waiting import patiently

log = logging.getLogger(__name__)
#: A worker whose disk is full lets others go first for so long, s.
FULL_PAUSE = 2.0
WENT_WRONG = gettext_noop(
    "Something went wrong inside Sulvet during the analysis. The clip is kept; press "
    "“Analyse again”."
)


@task(queue_name="upload")  # type: ignore[untyped-decorator]
def read_take(take_id: int, job: str) -> None:
    """Read, find, follow, judge. Safe to run twice: only the take's own job may write."""
    if _is_full():
        log.error("this worker's disk is full: take %s is left to another one", take_id)
        clock.sleep(FULL_PAUSE)
        queue.pass_on(take_id, job)
        return
    take = patiently(lambda: jobs.claim(take_id, job))
    if take is None:
        return
    files.arrived(take)
    try:
        _read(take)
    except sandbox.ReviewStopped:
        log.warning("take %s: stopped, another job has it", take_id)
    except sandbox.ChildEnded:
        # Nothing is wrong with the clip: its heart stands still, and it is taken up again.
        log.exception("take %s: the reading was ended from outside", take_id)
    except ClipError as error:
        _fail(take, str(error))
    except storage.StorageAway:
        # As with the database: the take stays the job's own, and is taken up again.
        log.exception("take %s: the storage", take_id)
    except OperationalError:
        # Locked for longer than is waited for: the take stays the job's own, its heart stands
        # still, and it is taken up again.
        log.exception("take %s: the database", take_id)
    except Exception:
        log.exception("take %s", take_id)
        _fail(take, WENT_WRONG)


def _is_full() -> bool:
    """Whether this worker has no room, where others may have: on a shared storage."""
    if storage.shared() is None or not space.is_short():
        return False
    storage.make_room(keep=0)
    return space.is_short()


def _fail(take: Take, sentence: str) -> None:
    patiently(lambda: jobs.fail(take, sentence))


def _listen(take: Take, outcome: sandbox.Outcome) -> sandbox.Outcome:
    """Hear it as well: what is judged rests on both, and the ear knows better where a tone is.

    What fails here costs nothing of what was seen, and is tried again on the Bench.
    """
    try:
        return listening.with_phases(outcome, listening.hear_for_job(take))
    except Exception:
        log.exception("take %s, its sound", take.pk)
        return outcome


def _read(take: Take) -> None:
    def progress(stage: str, share: float) -> None:
        if not patiently(lambda: jobs.record_progress(take, stage, share)):
            raise sandbox.ReviewStopped

    why_closed = closed(take.student)
    if why_closed:
        raise ClipError(why_closed)
    if not take.clip.exists():
        raise ClipError(files.LOST)
    by_teacher = take.phases.filter(by_teacher=True)
    with files.making(take) as making:
        outcome = sandbox.review(
            take.clip,
            Path(making),
            keys=[key for key in tracks.keyframes(take) if key.source == PLACED],
            phases=tracks.phases_of(take) if by_teacher.exists() else tracks.prompted(take),
            mirrored=take.mirrored,
            proxy=not take.has(PROXY),
            seconds=take.clip_seconds or 180.0,
            progress=progress,
            view=take.view,
            rest_known=rest_source(take) is not None,
            family=take.student.family,
        )
        move_in(Path(making), take)
        outcome = _listen(take, outcome)
        if not patiently(lambda: jobs.finish(take, outcome)):
            raise sandbox.ReviewStopped
    log.info("take %s: read", take.pk)
    if not Take.objects.filter(pk=take.pk).exists():
        files.discard(take.folder)
