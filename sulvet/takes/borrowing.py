"""The rest face of another take of the same student, for a clip that shows none."""

from __future__ import annotations

from sulvet.core.anatomy.marks import Marks
from sulvet.core.measures.borrowed_rest import rest_of
from sulvet.takes import tracks
from sulvet.takes.models import Take


def rest_source(take: Take) -> Take | None:
    """The take whose rest face would do: of the same day first, then the newest one."""
    if take.view != Take.View.FRONT:
        return None
    others = (
        Take.objects.filter(
            student=take.student, view=take.view, state=Take.State.READY, rest_from=None,
            phases__name="rest",
        )
        .exclude(pk=take.pk)
        .distinct()
    )  # fmt: skip
    return max(
        others, key=lambda o: (o.filmed_on == take.filmed_on, o.filmed_on, o.pk), default=None
    )


def borrowed_rest(take: Take) -> Marks | None:
    """One frame with the rest face a take has borrowed; None where it has one of its own."""
    source = take.rest_from
    return None if source is None else rest_of(tracks.load(source), tracks.phases_of(source))


def borrowed_note(source: Take) -> str:
    """What the teacher is told."""
    return (
        f"This clip shows no relaxed face: it was compared with the one of {source.filmed_on}, and "
        "the readings are less sure. Film a second of a relaxed face first next time."
    )
