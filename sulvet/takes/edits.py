"""What a teacher set on a take, edit by edit: taken back, done again, never silently overwritten.

An edit keeps the touched parts of the teacher's own input as they were before and
after it. Taking it back puts those parts in their place; what follows from them is
made anew by the caller. Parts are named by words: ``marks:<landmark>``, ``phases``,
``known_mm``, ``decisions``, ``observations``, ``chosen_focus``, ``read_at``, and
``student_focus``, which belongs to the student.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.db import transaction
from django.db.models import F
from django.utils.dateparse import parse_datetime

from sulvet.accounts.errors import Outdated
from sulvet.takes.models import Decision, Edit, Mark, Take, TakePhase

#: Older edits of a take can't be taken back any more.
KEPT = 200
ELSEWHERE = (
    "This take was changed in another window. You now see it as it stands there. What you did "
    "last was not kept: do it again if it is still wanted."
)
Parts = dict[str, Any]


def claim(take: Take, revision: int | None) -> None:
    """Take the next revision for an edit that was begun on ``revision``; None asks for no check.

    Outdated when the take has moved on since. Must run in the transaction of the edit.
    """
    mine = Take.objects.filter(pk=take.pk)
    if revision is not None:
        mine = mine.filter(revision=revision)
    if not mine.update(revision=F("revision") + 1):
        raise Outdated(ELSEWHERE)


@contextmanager
def recorded(take: Take, words: str, *parts: str) -> Iterator[None]:
    """An edit of some parts, kept so that it can be taken back; nothing when nothing changed.

    words  what was done, as the teacher would say it
    """
    with transaction.atomic():
        before = {part: _state(take, part) for part in parts}
        yield
        after = {part: _state(take, part) for part in parts}
        if before == after:
            return
        take.edits.filter(undone=True).delete()
        Edit.objects.create(take=take, words=words, before=before, after=after)
        old = take.edits.values_list("pk", flat=True)[KEPT:]
        take.edits.filter(pk__in=list(old)).delete()


def last(take: Take) -> Edit | None:
    """The edit that would be taken back now."""
    return take.edits.filter(undone=False).first()


def next_again(take: Take) -> Edit | None:
    """The edit that would be done again now."""
    return take.edits.filter(undone=True).last()


def take_back(take: Take) -> Parts:
    """Undo the last edit; the parts that were put back, empty when there is none."""
    return _put(take, last(take), undone=True)


def do_again(take: Take) -> Parts:
    """Redo what was taken back last; the parts that were put back."""
    return _put(take, next_again(take), undone=False)


def _put(take: Take, edit: Edit | None, undone: bool) -> Parts:
    if edit is None:
        return {}
    parts: Parts = edit.before if undone else edit.after
    with transaction.atomic():
        for part, state in parts.items():
            _restore(take, part, state)
        edit.undone = undone
        edit.save(update_fields=["undone"])
    return parts


MARK = ("frame", "x", "y", "sigma", "hidden")
PHASE = ("name", "start", "end", "by_teacher", "confidence")
DECISION = ("fault", "phase", "answer", "reason")
#: Parts that are one column of the take.
COLUMNS = ("known_mm", "observations", "chosen_focus", "read_at")


def _state(take: Take, part: str) -> Any:
    kind, _, landmark = part.partition(":")
    if kind == "marks":
        rows = take.marks.filter(landmark=landmark, source=Mark.Source.PLACED)
        return list(rows.values(*MARK))
    if part == "phases":
        return list(take.phases.values(*PHASE))
    if part == "decisions":
        return list(take.decisions.order_by("pk").values(*DECISION))
    if part == "student_focus":
        return take.student.focus
    assert part in COLUMNS, part
    value = getattr(take, part)
    return value.isoformat() if part == "read_at" and value else value


def _restore(take: Take, part: str, state: Any) -> None:
    kind, _, landmark = part.partition(":")
    if kind == "marks":
        placed = Mark.Source.PLACED
        take.marks.filter(landmark=landmark, source=placed).delete()
        Mark.objects.bulk_create(
            Mark(take=take, landmark=landmark, source=placed, **row) for row in state
        )
    elif part == "phases":
        take.phases.all().delete()
        TakePhase.objects.bulk_create(TakePhase(take=take, **row) for row in state)
    elif part == "decisions":
        take.decisions.all().delete()
        Decision.objects.bulk_create(Decision(take=take, **row) for row in state)
    elif part == "student_focus":
        take.student.focus = state
        take.student.save(update_fields=["focus"])
    else:
        value = parse_datetime(state) if part == "read_at" and state else state
        setattr(take, part, value)
        take.save(update_fields=[part])


def landmarks_of(parts: Parts) -> tuple[str, ...]:
    """The landmarks whose marks are among some parts."""
    return tuple(part.partition(":")[2] for part in parts if part.startswith("marks:"))
