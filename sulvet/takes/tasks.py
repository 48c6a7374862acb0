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
        _listen(take_id)
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


def _listen(take_id: int) -> None:
    """Hear it as well, so that the Bench need not wait; what fails here is tried there again."""
    take = Take.objects.filter(pk=take_id, state=Take.State.READY).first()
    if take is None:
        return
    try:
        ear.listened(take)
    except Exception:
        log.exception("take %s, its sound", take_id)


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
        if not services.store_outcome(take, outcome):
            raise sandbox.ReviewStopped
    if not Take.objects.filter(pk=take.pk).exists():
        shutil.rmtree(take.directory, ignore_errors=True)
