"""What all instruments share: limits, faults in their order, rules, drills, observations."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from pathlib import Path
from typing import Any

from pydantic import ValidationError, model_validator

from sulvet.core.data_files import DataFileError, Strict, read_table
from sulvet.core.judgement.drill_schema import Drill, Drills, Tempo
from sulvet.core.judgement.schema import Band, Cause, Fault, Faults, Limits, Observations, Rule
from sulvet.core.language import per_language

DATA = Path(__file__).parent / "data"


class _Rules(Strict):
    rules: tuple[Rule, ...]


class _Shared(Strict):
    version: int
    limits: Limits
    bands: tuple[Band, ...]


class _Triage(Strict):
    version: int
    causes: tuple[Cause, ...]


class Common(Strict):
    """What all instruments share. ``faults`` stand in the order in which to fix them."""

    version: int
    limits: Limits
    bands: tuple[Band, ...]
    groups: tuple[str, ...]
    faults: tuple[Fault, ...]
    rules: tuple[Rule, ...]
    drills: tuple[Drill, ...]
    tempo: Tempo

    @model_validator(mode="after")
    def _known_faults(self) -> Common:
        known = {fault.id for fault in self.faults}
        for rule in self.rules:
            if rule.fault not in known:
                raise ValueError(f"the rule for {rule.fault!r} has no fault of that id")
            if len(rule.all) > 1 and any(condition.outside for condition in rule.all):
                raise ValueError(f"the rule for {rule.fault!r} may have one band only")
        drills = {d.id for d in self.drills}
        for fault in self.faults:
            own = {drill for variant in fault.variants for drill in variant.drills}
            for drill in {*fault.drills, *own}:
                if drill not in drills:
                    raise ValueError(f"{fault.id!r} has a drill that there is not: {drill!r}")
        return self

    def fault(self, fault_id: str, family: str = "", side: str | None = None) -> Fault:
        """The words for one fault; KeyError if there is none such.

        family, side  as ``Fault.worded`` has them
        """
        for fault in self.faults:
            if fault.id == fault_id:
                return fault.worded(family, side)
        raise KeyError(fault_id)

    def drill(self, drill_id: str) -> Drill:
        """One drill; KeyError if there is none such."""
        for drill in self.drills:
            if drill.id == drill_id:
                return drill
        raise KeyError(drill_id)

    def place(self, fault_id: str) -> int:
        """Where a fault stands in the order of fixing; one that is not known any more last."""
        return self._places.get(fault_id, len(self.faults))

    @cached_property
    def _places(self) -> dict[str, int]:
        return {fault.id: place for place, fault in enumerate(self.faults)}


def measures_of(fault: str, view: str) -> tuple[str, ...]:
    """What a fault rests on, seen from a side; none where only ear and eye can tell."""
    rules = [rule for rule in common().rules if rule.fault == fault and rule.view == view]
    return tuple(dict.fromkeys(condition.measure for rule in rules for condition in rule.all))


def worded(fault_id: str, family: str, evidence: Mapping[str, Any] | None = None) -> Fault:
    """The words for a fault to a player of a family of instruments.

    evidence  the value it rests on and its ``edge``: some faults are told otherwise on either side
    """
    side = None
    if evidence:
        side = "above" if float(evidence["value"]) > float(evidence["edge"]) else "below"
    return common().fault(fault_id, family, side)


@per_language
def common() -> Common:
    """Limits, faults, rules and drills that all instruments share."""
    shared = DATA / "shared"
    base = read_table(shared / "common.toml", _Shared)
    faults, drills = (
        read_table(shared / "faults.toml", Faults),
        read_table(shared / "drills.toml", Drills),
    )
    try:
        return Common(
            version=base.version,
            limits=base.limits,
            bands=base.bands,
            groups=faults.groups,
            faults=faults.faults,
            rules=read_table(shared / "rules.toml", _Rules).rules,
            drills=drills.drills,
            tempo=drills.tempo,
        )
    except ValidationError as error:
        raise DataFileError(f"{shared.name}: {error.errors()[0]['msg']}") from error


@per_language
def observations() -> Observations:
    """What a teacher may tick beside what the camera shows.

    DataFileError for a fault that there is not.
    """
    path = DATA / "shared" / "observations.toml"
    found = read_table(path, Observations)
    known = {fault.id for fault in common().faults}
    for one in found.observations:
        if one.fault and one.fault not in known:
            raise DataFileError(f"{path.name}: {one.id}: there is no fault “{one.fault}”.")
    return found


@per_language
def triage_causes() -> tuple[Cause, ...]:
    """What to look for by what is heard. DataFileError for a word there is not."""
    path = DATA / "shared" / "triage.toml"
    causes = read_table(path, _Triage).causes
    heard = {one.id for one in observations().observations}
    faults, drills = {f.id for f in common().faults}, {d.id for d in common().drills}
    for cause in causes:
        strange = ({cause.heard} - heard) | (set(cause.seen) - faults) | ({cause.drill} - drills)
        if strange:
            raise DataFileError(f"{path.name}: {cause.heard}: there is no “{min(strange)}”.")
    return causes
