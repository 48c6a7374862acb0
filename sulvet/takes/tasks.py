"""The worker's one job: reading a take."""

from __future__ import annotations

import logging
import shutil
import tempfile
from pathlib import Path

from django_tasks import task

from sulvet.core import sandbox
from sulvet.core.anatomy.marks import PLACED
from sulvet.core.video.clip import ClipError
from sulvet.takes import ear, services, tracks
from sulvet.takes.models import Take

log = logging.getLogger(__name__)


@task()  # type: ignore[untyped-decorator]
def read_take(take_id: int, job: str) -> None:
    """Read, find, follow, judge. Safe to run twice: only the take's own job may write."""
    take = services.start(take_id, job)
    if take is None:
        return
    try:
        _read(take)
    except sandbox.ReviewStopped:
        log.warning("take %s: stopped, another job has it", take_id)
    except ClipError as error:
        services.fail(take, str(error))
    except Exception:
        log.exception("take %s", take_id)
        services.fail(
            take,
            "Something went wrong inside Sulvet while it read this clip. The clip is kept; "
            "press “Read again”.",
        )


def _listen(take: Take, outcome: sandbox.Outcome) -> sandbox.Outcome:
    """Hear it as well: what is judged rests on both, and the ear knows better where a tone is.

    What fails here costs nothing of what was seen, and is tried again on the Bench.
    """
    try:
        return ear.with_letters(outcome, ear.listened(take).heard)
    except Exception:
        log.exception("take %s, its sound", take.pk)
        return outcome


def _read(take: Take) -> None:
    def progress(stage: str, share: float) -> None:
        if not services.heard(take, stage, share):
            raise sandbox.ReviewStopped

    by_teacher = take.phases.filter(by_teacher=True)
    with tempfile.TemporaryDirectory(dir=take.directory, prefix="making-") as making:
        outcome = sandbox.review(
            take.clip,
            Path(making),
            keys=[key for key in tracks.keys(take) if key.source == PLACED],
            phases=services.phases_of(take) if by_teacher.exists() else None,
            mirrored=take.mirrored,
            proxy=not take.proxy.exists(),
            seconds=take.clip_seconds or 180.0,
            progress=progress,
            view=take.view,
        )
        services.move_in(Path(making), take)
        outcome = _listen(take, outcome)
        if not services.store_outcome(take, outcome):
            raise sandbox.ReviewStopped
    if not Take.objects.filter(pk=take.pk).exists():
        shutil.rmtree(take.directory, ignore_errors=True)
