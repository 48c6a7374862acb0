"""What a teacher set on a take, edit by edit: taken back, done again, never silently overwritten.

An edit keeps the touched parts of the teacher's own input as they were before and
after it; taking it back puts those parts in their place. Parts are named by words:
``marks:<landmark>``, ``phases``, ``known_mm``, ``decisions``, ``observations``,
``chosen_focus``, ``read_at``, and ``student_focus``, which belongs to the student.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from typing import Any

from django.db import transaction
from django.db.models import F
from django.utils.dateparse import parse_datetime

from sulvet.accounts.errors import Outdated
from sulvet.core.phases import Phase
from sulvet.takes.models import Decision, Edit, Mark, Take, TakePhase

#: Older edits of a take can't be taken back any more.
KEPT = 200
ELSEWHERE = (
    "This take was changed in another window and is now shown as it is there. Your last "
    "change was not saved: make it again if you still want it."
)
Parts = dict[str, Any]


def check(take: Take, revision: int | None) -> None:
    """Outdated when an edit was begun on another revision; None asks for no check."""
    if revision is not None and revision != take.revision:
        raise Outdated(ELSEWHERE)


def claim(take: Take) -> None:
    """Take the next revision, in the transaction of the edit.

    Outdated when the take has moved on since it was read.
    """
    mine = Take.objects.filter(pk=take.pk, revision=take.revision)
    if not mine.update(revision=F("revision") + 1):
        raise Outdated(ELSEWHERE)
    take.revision += 1


@contextmanager
def recorded(take: Take, label: str, revision: int | None, *parts: str) -> Iterator[None]:
    """A short edit of some parts, kept so that it can be taken back.

    label     what was done, as the teacher would say it
    revision  on which it was begun; None asks for no check
    """
    check(take, revision)
    with transaction.atomic():
        claim(take)
        before = parts_of(take, parts)
        yield
        record(take, label, before, parts_of(take, parts))


def record(take: Take, label: str, before: Parts, after: Parts) -> None:
    """Keep an edit; nothing when nothing changed."""
    if before == after:
        return
    take.edits.filter(undone=True).delete()
    Edit.objects.create(take=take, label=label, before=before, after=after)
    old = take.edits.values_list("pk", flat=True)[KEPT:]
    take.edits.filter(pk__in=list(old)).delete()


def last(take: Take) -> Edit | None:
    """The edit that would be taken back now."""
    return take.edits.filter(undone=False).first()


def next_undone(take: Take) -> Edit | None:
    """The edit that would be done again now."""
    return take.edits.filter(undone=True).last()


MARK = ("frame", "x", "y", "sigma", "hidden")
PHASE = ("name", "start", "end", "by_teacher", "confidence")
DECISION = ("fault", "phase", "answer", "why", "reason")
#: Parts that are one column of the take.
COLUMNS = ("known_mm", "observations", "chosen_focus", "read_at")


def parts_of(take: Take, parts: Iterable[str]) -> Parts:
    """How some parts stand."""
    return {part: _state(take, part) for part in parts}


def phase_rows(phases: Iterable[Phase], by_teacher: bool) -> list[dict[str, Any]]:
    """Rehearsal marks as the part ``phases``."""
    return [
        {"name": p.name, "start": p.start, "end": p.end, "by_teacher": by_teacher,
         "confidence": p.confidence}
        for p in phases
    ]  # fmt: skip


def write_phases(take: Take, phases: Iterable[Phase]) -> None:
    """Suggested rehearsal marks in place of those there are."""
    _write(take, "phases", phase_rows(phases, by_teacher=False))


def write(take: Take, parts: Parts) -> None:
    """Put parts in their place."""
    for part, state in parts.items():
        _write(take, part, state)


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


def _write(take: Take, part: str, state: Any) -> None:
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


def landmarks_in(parts: Iterable[str]) -> tuple[str, ...]:
    """The landmarks whose marks are among some parts."""
    return tuple(part.partition(":")[2] for part in parts if part.startswith("marks:"))
