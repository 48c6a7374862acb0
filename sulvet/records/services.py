"""Writes to records: notes, and files that come in."""

from __future__ import annotations

from django.db import transaction

from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core import clock
from sulvet.core.formats import vtt
from sulvet.records.models import Note
from sulvet.takes.models import Take

#: Notes are short; a lesson's protocol belongs elsewhere.
LONGEST, MOST = 2000, 500


def add_note(
    student: Student,
    text: str,
    take: Take | None = None,
    seconds: float | None = None,
    by_student: bool = False,
) -> Note:
    """A note on a student, on a take, or at a moment of a take; or the student's own word."""
    text = _checked(text)
    if seconds is not None:
        if take is None:
            raise Refused("A timed note belongs to a take.")
        _inside(take, seconds)
    return Note.objects.create(
        student=student, take=take, seconds=seconds, text=text, by_student=by_student,
        written_on=clock.now(),
    )  # fmt: skip


def change_note(note: Note, text: str) -> None:
    """Other words for a note of the teacher's own."""
    if note.by_student:
        raise Refused("These are the student's words. Write a note of your own.")
    note.text = _checked(text)
    note.save(update_fields=["text"])


def _checked(text: str) -> str:
    text = text.strip()
    if not text:
        raise Refused("The note is empty. Write a word or two.")
    if len(text) > LONGEST:
        raise Refused(
            "The note has {count} characters; the limit is {longest}.",
            count=len(text),
            longest=LONGEST,
        )
    return text


def _inside(take: Take, seconds: float) -> None:
    end = take.frame_times[-1] if take.frame_times else take.clip_seconds
    if seconds < 0 or (end is not None and seconds > end + 0.05):
        raise Refused("This time is outside the clip.")


@transaction.atomic
def add_timed_notes(take: Take, text: str) -> int:
    """Take over the notes of a WebVTT file; all or none. Those that are there already stay once.

    Returns how many are new.
    """
    try:
        given = vtt.load(text)
    except vtt.NotesFileError as error:
        raise Refused(str(error)) from error
    if len(given) > MOST:
        raise Refused(
            "The file has {count} notes; the limit is {most}.", count=len(given), most=MOST
        )
    there = {(round(n.seconds, 3), n.text) for n in take.teacher_notes.filter(seconds__isnull=False)
             if n.seconds is not None}  # fmt: skip
    fresh = [note for note in given if (round(note.seconds, 3), note.text) not in there]
    for note in fresh:
        add_note(take.student, note.text, take, note.seconds)
    return len(fresh)
