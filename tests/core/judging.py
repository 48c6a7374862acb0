"""A take judged and drawn: from marks made by hand, or as a take of the demo was read."""

from __future__ import annotations

from dataclasses import dataclass

from sulvet.core.anatomy.marks import Marks
from sulvet.core.drawing.sheet import Drawing, FrameAnchors
from sulvet.core.drawing.take import drawing_of
from sulvet.core.judgement.judge import judge
from sulvet.core.judgement.results import Judgement
from sulvet.core.judgement.standards import Standard, shipped_standard
from sulvet.core.phases import Phase
from sulvet.core.sandbox import Outcome
from sulvet.demo.readings import load
from sulvet.demo.scenario import STUDENTS, DemoTake
from tests.core.faces import PHASES
from tests.marked import reading_of


def judged(
    marks: Marks, phases: list[Phase] | None = None, instrument: str = "horn",
    view: str = "front", school: str = "",
) -> Judgement:  # fmt: skip
    """By the shipped standard; its first school where none is named."""
    standard = shipped_standard(instrument)
    phases = PHASES if phases is None else phases
    return judge(marks, phases, standard, view, standard.school(school or None).id)


def drawn(
    result: Judgement, marks: Marks, phases: list[Phase] | None = None, instrument: str = "horn",
    view: str = "front", school: str = "",
) -> tuple[Drawing, FrameAnchors] | None:  # fmt: skip
    """What was judged so, drawn."""
    standard = shipped_standard(instrument)
    phases = PHASES if phases is None else phases
    return drawing_of(result, marks, phases, standard, view, standard.school(school or None).id)


@dataclass(frozen=True)
class DemoCase:
    """A take of the demo as it was read, and by what it is judged."""

    take: DemoTake
    outcome: Outcome
    standard: Standard
    view: str
    school: str

    def judged(self) -> Judgement:
        """By eye alone."""
        return judge(self.outcome.marks, self.outcome.phases, self.standard, self.view, self.school)


def demo_case(name: str) -> DemoCase:
    """A take by its name."""
    chair, take = next((s, t) for s in STUDENTS for t in s.takes if t.name == name)
    standard = shipped_standard(chair.instrument)
    view = "side" if "-side-" in name else "front"
    return DemoCase(
        take, load(reading_of(take)), standard, view, standard.school(chair.school or None).id
    )
