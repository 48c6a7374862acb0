"""Where a beginner stands on the way to the first notes, and what comes next."""

from __future__ import annotations

from pathlib import Path

from sulvet.core.data_files import DataFileError, read_table
from sulvet.core.judgement.common import common
from sulvet.core.judgement.intended_note import stage_label
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import per_language
from sulvet.core.lessons.schema import Ladder, Routine, Routines, SetUp, SetUpLine, Step

DATA = Path(__file__).parent / "data"
#: Where a step names what the instrument's tone is first made on.
WORDED = ("do", "look", "remedy")


@per_language
def _ladder() -> Ladder:
    return read_table(DATA / "ladder.toml", Ladder)


@per_language
def rows() -> tuple[Step, ...]:
    """All rows of all instruments; a step is called the same on each."""
    found = _ladder().steps
    names: dict[str, str] = {}
    for row in found:
        _known_drill(DATA / "ladder.toml", row.id, row.drill, row.stage)
        if names.setdefault(row.id, row.name) != row.name:
            raise DataFileError(f"ladder.toml: {row.id} has two names.")
    return found


@per_language
def step_ids() -> tuple[str, ...]:
    """The steps in their order, whatever the instrument.

    >>> step_ids()[0], step_ids()[-1]
    ('set-up', 'change')
    """
    return tuple(dict.fromkeys(row.id for row in rows()))


def ladder_of(standard: Standard, without: str = "") -> tuple[Step, ...]:
    """The steps of one instrument, in its own words.

    without  what is left out while it is too much at once: ``tongue``, ``loudness`` or
             ``rhythm``; empty: nothing
    """
    label = stage_label(standard, "mouthpiece")
    steps = []
    for step_id in step_ids():
        row = next(row for row in rows() if row.id == step_id and row.suits(standard))
        if without and row.needs == without:
            continue
        words = {
            name: getattr(row, name).format(mouthpiece=label) for name in ("do", "look", "remedy")
        }
        steps.append(row.model_copy(update=words))
    return tuple(steps)


def tempo_of(step: Step) -> float:
    """At which the drill of a step is counted, beats per minute."""
    counting = common().drill(step.drill).counting
    if counting is None:
        raise DataFileError(f"ladder.toml: {step.id} has counts, and its drill is not counted.")
    return counting.tempo


def tone_of(step: Step) -> float:
    """How long the tone is that passes a step, s: counts are as long as its drill's."""
    passes = step.passes
    return passes.counts * 60 / tempo_of(step) if passes.counts else passes.seconds


def is_long_enough(step: Step, seconds: float) -> bool:
    """Whether a tone that was held so long passes a step: it may stop a little early."""
    return seconds >= (1 - _ladder().early) * tone_of(step)


def step_after(steps: tuple[Step, ...], step_id: str) -> str | None:
    """The step that follows; None after the last. A step that is left out leads to the next."""
    order = step_ids()
    later = order[order.index(step_id) + 1 :]
    return next((step.id for step in steps if step.id in later), None)


def step_before(steps: tuple[Step, ...], step_id: str) -> str | None:
    """The step to go back to; None before the first."""
    order = step_ids()
    earlier = order[: order.index(step_id)]
    return next((step.id for step in reversed(steps) if step.id in earlier), None)


@per_language
def _lines() -> tuple[SetUpLine, ...]:
    return read_table(DATA / "set_up.toml", SetUp).lines


def set_up_card(standard: Standard) -> tuple[SetUpLine, ...]:
    """What to tick before the first take of an instrument."""
    return tuple(line for line in _lines() if line.suits(standard))


@per_language
def routines() -> tuple[Routine, ...]:
    """All routines."""
    path = DATA / "routines.toml"
    found = read_table(path, Routines).routines
    for routine in found:
        if not common().tempo.allows(routine.tempo):
            raise DataFileError(f"{path.name}: {routine.id} is too slow or too fast.")
        for part in routine.parts:
            _known_drill(path, routine.id, part.drill, part.stage)
    return found


def routine(routine_id: str) -> Routine:
    """One routine; KeyError if there is none such."""
    return {one.id: one for one in routines()}[routine_id]


def _known_drill(path: Path, where: str, drill_id: str, stage: str) -> None:
    try:
        drill = common().drill(drill_id)
    except KeyError:
        raise DataFileError(f"{path.name}: {where}: there is no drill “{drill_id}”.") from None
    if stage not in drill.stages:
        raise DataFileError(f"{path.name}: {where}: “{drill_id}” is not done at {stage}.")
