"""What only eye and ear together can tell; each says which of the two it heard and saw."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

from pydantic import model_validator

from sulvet.core.data_files import Strict, read_table
from sulvet.core.judgement.common import DATA, common
from sulvet.core.judgement.results import (
    FAULT,
    SURENESS,
    WATCH,
    Evidence,
    Finding,
    Judgement,
    Reading,
    band_view,
    focus_among,
    in_order,
    outside_band,
)
from sulvet.core.judgement.schema import Condition
from sulvet.core.judgement.sound import SoundJudgement
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import inside, per_language, said
from sulvet.core.measures.catalogue import MeasureId, catalogue
from sulvet.core.measures.units import in_words

Seen = Literal["seen", "not seen", "can't be seen"]
#: In which the shape stands before the air comes.
FORMED = ("form", "place")


class Changed(Strict):
    """A measure that is less or more in the hold than when the shape was formed."""

    measure: MeasureId
    way: Literal["less", "more"]


class Corroboration(Strict):
    """One fault: what is heard of it, and what is seen: one of the two kinds."""

    fault: str
    heard: Condition
    seen: Condition | None = None
    changed: Changed | None = None
    families: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _one_look(self) -> Corroboration:
        if (self.seen is None) == (self.changed is None):
            raise ValueError("a pair needs one of seen and changed")
        return self

    @property
    def looked_at(self) -> str:
        """The measure that is looked at."""
        look = self.seen or self.changed
        assert look is not None
        return look.measure

    @property
    def measures(self) -> frozenset[str]:
        """What is heard and what is looked at."""
        return frozenset((self.heard.measure, self.looked_at))


class _File(Strict):
    version: int
    corroborations: tuple[Corroboration, ...]


@per_language
def corroborations() -> tuple[Corroboration, ...]:
    """All of them."""
    return read_table(DATA / "shared" / "corroboration.toml", _File).corroborations


def measures_needed(fault: str, view: str) -> tuple[frozenset[str], ...]:
    """What has to be told of a take for the program to find a fault, or not to: one of these.

    Seen from there by a rule, or heard: what the ear finds nothing of is not there, whatever
    the picture shows. Empty where only the teacher can tell.
    """
    rules = [r for r in common().rules if r.fault == fault and r.view == view]
    heard = [pair.heard.measure for pair in corroborations() if pair.fault == fault]
    return (
        *(frozenset(c.measure for c in rule.all) for rule in rules),
        *(frozenset({measure}) for measure in heard),
    )


@dataclass(frozen=True)
class Suspected:
    """A fault that is heard, and whether the picture bears it out.

    heard, evidence  the reading of the sound, and how far it lies outside its band
    saw     ``seen``, ``not seen`` or ``can't be seen``
    measure  what was looked at;  looked  its evidence where it lies outside its band as well
    change and uncertainty  of that measure since the shape was formed, where that is looked at
    """

    fault: str
    heard: Reading
    evidence: Evidence
    saw: Seen
    measure: str
    looked: Evidence | None = None
    change: float | None = None
    uncertainty: float | None = None

    @property
    def sentence(self) -> str:
        """Which of the two it was, in a sentence."""
        one = catalogue().measure(self.measure)
        if self.saw == "can't be seen":
            words = said("Heard alone: the {name} can't be seen well enough in this take.")
            return words.format(name=inside(one.name))
        heard = said("Heard and seen") if self.saw == "seen" else said("Heard, not seen")
        if self.change is None:
            # The evidence says how far it lies outside its band.
            if self.looked:
                return f"{heard}."
            words = said("{heard}: the {name} is within standard.")
            return words.format(heard=heard, name=inside(one.name))
        figures = in_words(one.unit, one.decimals, abs(self.change), self.uncertainty or 0.0)
        way = one.more if self.change > 0 else one.less
        words = said("{heard}: {subject} {way} by {figures} than when the shape was formed.")
        subject = inside(one.subject or one.name)
        return words.format(heard=heard, subject=subject, way=way, figures=figures)


def suspected(
    standard: Standard,
    readings: Iterable[Reading],
    view: str,
    school: str,
    among: Iterable[Corroboration] | None = None,
) -> tuple[Suspected, ...]:
    """What is heard as a fault, and whether it is seen as well, in the order of fixing.

    readings  of sound and picture, with their verdicts; ``view`` is from where that was filmed
    among     the pairs that are asked for; None for all
    """
    by = {(r.measure, r.phase): r for r in readings}
    found = []
    for pair in corroborations() if among is None else among:
        if pair.families and standard.family not in pair.families:
            continue
        heard = by.get((pair.heard.measure, "hold"))
        if heard is None or heard.verdict != FAULT:
            continue
        beyond = outside_band(
            pair.heard, heard, standard.band(heard.measure, band_view(heard.measure, view), school)
        )
        if beyond is None:
            continue
        one = Suspected(pair.fault, heard, beyond[1], "can't be seen", pair.looked_at)
        hold = by.get((pair.looked_at, "hold"))
        if pair.seen is not None:
            one = _outside(one, pair.seen, hold, standard, view, school)
        elif pair.changed is not None:
            formed = [by[key] for name in FORMED if (key := (pair.looked_at, name)) in by]
            one = _changed(one, pair.changed, hold, formed)
        found.append(one)
    return tuple(sorted(found, key=lambda one: common().place(one.fault)))


def _outside(
    one: Suspected,
    seen: Condition,
    hold: Reading | None,
    standard: Standard,
    view: str,
    school: str,
) -> Suspected:
    """Whether the picture's reading lies outside its band as well."""
    band = standard.band(seen.measure, view, school)
    if hold is None or hold.value is None or hold.uncertainty is None or band is None:
        return one
    beyond = outside_band(seen, hold, band)
    if beyond is None:
        return replace(one, saw="not seen")
    return replace(one, saw="seen", looked=beyond[1])


def _changed(
    one: Suspected, changed: Changed, hold: Reading | None, formed: list[Reading]
) -> Suspected:
    """Whether a measure has changed since the shape was formed, by more than it is unsure of."""
    before = next((r for r in formed if r.value is not None and r.uncertainty is not None), None)
    if hold is None or hold.value is None or hold.uncertainty is None or before is None:
        return one
    assert before.value is not None and before.uncertainty is not None
    change = hold.value - before.value
    half_width = float((hold.uncertainty**2 + before.uncertainty**2) ** 0.5)
    wanted = change < -half_width if changed.way == "less" else change > half_width
    return replace(one, saw="seen" if wanted else "not seen", change=change, uncertainty=half_width)


def corroborated_findings(
    standard: Standard,
    readings: Iterable[Reading],
    view: str,
    school: str,
    among: Iterable[Corroboration] | None = None,
) -> Iterator[Finding]:
    """Findings of ear and eye, without their place in the take.

    Seen as well it is a fault; where the picture can't tell, something to watch. What the
    picture speaks against is no finding: it stays a suspicion.
    """
    for one in suspected(standard, readings, view, school, among):
        if one.saw == "not seen":
            continue
        evidence = (one.evidence,) if one.looked is None else (one.evidence, one.looked)
        verdict = FAULT if one.saw == "seen" else WATCH
        yield Finding(one.fault, verdict, "hold", None, None, None, evidence, one.sentence)


def merged(by_eye: Iterable[Finding], by_ear: Iterable[Finding]) -> Iterator[Finding]:
    """The findings of both, one of a fault: the ear's only where it is surer of it."""
    seen, heard = list(by_eye), list(by_ear)
    surest = {(f.fault, f.phase): SURENESS[f.verdict] for f in reversed(in_order(seen))}
    for found in heard:
        key = (found.fault, found.phase)
        if SURENESS[found.verdict] < surest.get(key, len(SURENESS)):
            seen = [f for f in seen if (f.fault, f.phase) != key]
            yield found
    yield from seen


def rests_on_sound(found: Finding) -> bool:
    """Whether a finding rests on something heard."""
    return bool(found.evidence) and catalogue().measure(found.evidence[0].measure).source == "sound"


def with_sound(
    judged: Judgement, heard: SoundJudgement, standard: Standard, view: str, school: str
) -> Judgement:
    """What was seen and what was heard as one: readings of both, and what only both can tell.

    What the sound can't tell has no reading here: the ear's own page says why.
    """
    readings = (*judged.readings, *(r for r in heard.readings if r.value is not None))
    if heard.tone is None:
        return replace(judged, readings=readings)
    found = [
        replace(f, start=heard.tone.start, end=heard.tone.end)
        for f in corroborated_findings(standard, readings, view, school)
    ]
    findings = in_order(merged(judged.findings, found))
    return replace(judged, readings=readings, findings=findings, focus=focus_among(findings))
