"""Clips that come in, and takes that go."""

from __future__ import annotations

import os
import shutil
import uuid
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction

from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core import sandbox
from sulvet.core.anatomy.marks import PLACED
from sulvet.core.video.clip import MAX_BYTES, ClipError, ClipFacts, check_file
from sulvet.core.video.proxy import PROXY
from sulvet.takes import files, jobs, stabilised, storage, tracks
from sulvet.takes.facts import TakeFacts, demand_filmable
from sulvet.takes.models import Mark, Take, TakeSound
from sulvet.takes.queue import Urgency, enqueue


def add_take(
    student: Student, upload: UploadedFile[Any], facts: TakeFacts,
    prompts: Sequence[dict[str, Any]] = (), still: bool = False, urgency: Urgency = "upload",
) -> Take:  # fmt: skip
    """Take a clip in. Refused with a sentence when it can't be used; then nothing is kept.

    prompts  the phases it was filmed under, as ``Take.prompts``;  still  it is made of photos;
    urgency  who waits for it
    """
    demand_filmable(student, facts.filmed_on)
    folder = uuid.uuid4()
    directory = Path(settings.CLIPS_DIR) / str(folder)
    incoming = directory.with_suffix(files.INCOMING)
    incoming.mkdir(parents=True)
    try:
        coming = incoming / f"coming{_plain_suffix(upload.name)}"
        with open(coming, "wb") as file:
            for chunk in upload.chunks():
                file.write(chunk)
        known = _look(coming)
        name = f"clip{known.suffix}"
        coming.rename(incoming / name)
        # Before anybody knows of the take: a worker elsewhere finds its clip.
        storage.put(folder, [incoming / name])
        with transaction.atomic():
            take = _created(
                student,
                facts,
                folder=folder,
                original_name=(upload.name or "clip")[:200],
                clip_name=name,
                clip_seconds=known.seconds,
                width=known.width,
                height=known.height,
                prompts=list(prompts),
                still=still,
            )
            enqueue(take, urgency)
    except BaseException:
        shutil.rmtree(incoming, ignore_errors=True)
        storage.remove(folder)
        raise
    # The folder gets its name once it is somebody's: if this ends here, the worker does it.
    files.arrived(take)
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
    storage.put(folder, [directory / name, directory / PROXY])
    take = _created(
        student,
        facts,
        folder=folder,
        original_name=clip.name,
        clip_name=name,
        state=Take.State.WORKING,
        job=uuid.uuid4(),
    )
    placed = [key for key in outcome.keys if key.source == PLACED]
    Mark.objects.bulk_create(tracks.mark_rows(take, placed))
    if heard is not None:
        TakeSound.objects.create(take=take, heard=heard)
    jobs.finish(take, outcome)
    take.refresh_from_db()
    return take


def _created(student: Student, facts: TakeFacts, **known: Any) -> Take:
    """The row of a take; ``known`` of its clip."""
    return Take.objects.create(
        student=student,
        view=facts.view,
        purpose=facts.purpose,
        filmed_on=facts.filmed_on,
        mirrored=facts.mirrored,
        **known,
    )


def _plain_suffix(name: str | None) -> str:
    """What a file is called by, as far as it may be part of a name of ours."""
    suffix = Path(name or "").suffix.lower()
    return suffix if suffix[1:].isalnum() and suffix.isascii() and len(suffix) <= 6 else ""


def _look(path: Path) -> ClipFacts:
    try:
        check_file(path, MAX_BYTES)
        return sandbox.look(path)
    except sandbox.ChildEnded as error:
        raise Refused(
            "Checking this clip was interrupted: the computer is short of memory, or "
            "Sulvet was being stopped. Upload it again."
        ) from error
    except ClipError as error:
        raise Refused(str(error)) from error


def delete_student(student: Student) -> bool:
    """Delete a student with all takes: rows first, then every file of them.

    False where some file could not be removed yet.
    """
    takes = list(student.takes.all())
    section = student.section
    with transaction.atomic():
        files.note(takes)
        student.delete()
        if not section.students.exists():
            section.delete()
    for take in takes:
        stabilised.forget(take)
    files.forget_in_log()
    left = [take for take in takes if not files.discard(take.folder)]
    return not left


def delete_take(take: Take) -> bool:
    """Delete a take: rows first, then every file of it.

    False where some file could not be removed yet.
    """
    with transaction.atomic():
        files.note([take])
        take.delete()
    stabilised.forget(take)
    files.forget_in_log()
    return files.discard(take.folder)
