"""Every edit of a take over HTTP."""

from __future__ import annotations

from sulvet.accounts.errors import Refused
from sulvet.core.phases import Phase
from sulvet.takes import decisions, marking
from sulvet.takes.api import requests
from sulvet.takes.api.base import Edit, edit_view
from sulvet.takes.marking import PlacedMark
from sulvet.takes.models import Take


def placed(marks: list[requests.MarkIn]) -> list[PlacedMark]:
    """Marks of a request as the teacher placed them."""
    return [PlacedMark(m.landmark, m.frame, m.x, m.y, m.hidden) for m in marks]


def _phases(rows: list[requests.PhaseIn]) -> list[Phase]:
    for row in rows:
        if row.end <= row.start:
            raise Refused("The phase “{name}” must end after it starts.", name=row.name)
    return [Phase(row.name, row.start, row.end) for row in rows]


def _import_marks(take: Take, given: requests.MarksFile, revision: int | None) -> None:
    document = {"images": given.images, "annotations": given.annotations,
                "categories": given.categories}  # fmt: skip
    marking.import_marks(take, document, revision)


MarksView = edit_view(
    "MarksView",
    "The teacher's marks.",
    put=Edit(
        "place_marks",
        "Place landmarks; they are tracked again from there.",
        lambda take, given, revision: marking.place_marks(take, placed(given.marks), revision),
        requests.MarksIn,
    ),
    delete=Edit(
        "remove_mark",
        "Take a placed mark back.",
        lambda take, given, revision: marking.remove_mark(
            take, given.landmark, given.frame, revision
        ),
        requests.MarkGone,
        in_query=True,
    ),
)
MarksFileView = edit_view(
    "MarksFileView",
    "Marks from another program.",
    put=Edit(
        "import_marks",
        "Take over the placed marks of a COCO keypoints document.",
        _import_marks,
        requests.MarksFile,
    ),
)
AcceptView = edit_view(
    "AcceptView",
    "Found marks that are right.",
    post=Edit(
        "accept_found",
        "Accept all found marks at once.",
        lambda take, _, revision: marking.accept_found(take, revision),
    ),
)
UndoView = edit_view(
    "UndoView",
    "The teacher's last edit.",
    post=Edit(
        "undo",
        "Take the last edit back.",
        lambda take, _, revision: marking.undo(take, revision),
    ),
    put=Edit(
        "redo",
        "Do again what was taken back last.",
        lambda take, _, revision: marking.redo(take, revision),
    ),
)
PhasesView = edit_view(
    "PhasesView",
    "The rehearsal marks.",
    put=Edit(
        "set_phases",
        "Set all rehearsal marks of the take.",
        lambda take, given, revision: marking.set_phases(take, _phases(given.phases), revision),
        requests.PhasesIn,
    ),
)
KnownLengthView = edit_view(
    "KnownLengthView",
    "A length in the picture that the teacher knows.",
    put=Edit(
        "set_known_length",
        "Say how long the marked length is.",
        lambda take, given, revision: marking.set_known_length(take, given.known_mm, revision),
        requests.KnownLengthIn,
    ),
)
DecisionsView = edit_view(
    "DecisionsView",
    "The teacher's answers to findings.",
    put=Edit(
        "decide",
        "Confirm, dismiss with a reason, add a finding, or take the answer back.",
        lambda take, given, revision: decisions.decide(
            take, given.fault, given.phase, given.answer, given.reason, revision, given.why
        ),
        requests.DecisionIn,
    ),
)
FocusView = edit_view(
    "FocusView",
    "The one thing to fix.",
    put=Edit(
        "choose_focus",
        "Make another finding the focus.",
        lambda take, given, revision: decisions.choose_focus(take, given.fault, revision),
        requests.FocusIn,
    ),
)
ObservationsView = edit_view(
    "ObservationsView",
    "What no camera shows.",
    put=Edit(
        "observe",
        "Say all that was seen, heard and felt.",
        lambda take, given, revision: decisions.observe(take, given.seen, revision),
        requests.ObservationsIn,
    ),
)
DepthView = edit_view(
    "DepthView",
    "How deep the mouthpiece belongs.",
    put=Edit(
        "keep_depth",
        "Keep this take's depth as the student's, or let it go.",
        lambda take, given, _: decisions.keep_depth(take, given.keep),
        requests.KeepIn,
    ),
)
#: Saying that a take is read stands beside the take itself.
READ = Edit(
    "set_read",
    "Say that the take is read, or not.",
    lambda take, given, revision: decisions.set_read(take, given.read, revision),
    requests.ReadIn,
)
