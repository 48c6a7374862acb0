"""The rest face of another take of the same student, for a clip that shows none."""

from __future__ import annotations

from sulvet.core.anatomy.landmarks import TAKE_IDS
from sulvet.core.anatomy.marks import Marks
from sulvet.core.language import said
from sulvet.core.measures.borrowed_rest import of_plain, plain, rest_of
from sulvet.takes import tracks
from sulvet.takes.models import Take


def rest_source(take: Take) -> Take | None:
    """The take whose rest face would do: of the same day first, then the newest one."""
    if take.view != Take.View.FRONT:
        return None
    others = (
        Take.objects.filter(
            student=take.student, view=take.view, state=Take.State.READY,
            borrowed_rest__isnull=True, phases__name="rest",
        )
        .exclude(pk=take.pk)
        .distinct()
    )  # fmt: skip
    return max(
        others, key=lambda o: (o.filmed_on == take.filmed_on, o.filmed_on, o.pk), default=None
    )


def borrow(take: Take) -> str:
    """Give a take the rest face of another one, unsaved; what the teacher is told, if anything."""
    source = rest_source(take)
    rest = None if source is None else rest_of(tracks.load(source), tracks.phases_of(source))
    take.borrowed_rest = None if rest is None else plain(rest)
    if source is None or rest is None:
        return ""
    return said(
        "This clip shows no relaxed face, so it was compared with the one of "
        "{filmed_on}; the readings are less certain. Next time film a second of a "
        "relaxed face first.",
        filmed_on=source.filmed_on,
    )


def borrowed_rest(take: Take) -> Marks | None:
    """One frame with the rest face a take has borrowed; None where it has one of its own."""
    return None if take.borrowed_rest is None else of_plain(take.borrowed_rest, TAKE_IDS)
