"""Two takes of a student, seen from the same side, laid beside one another; reads only."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from django.urls import reverse

from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core.drawing import stills as core
from sulvet.core.drawing.sheet import EDITION, Drawing
from sulvet.core.judgement.change import BETTER, CANT_TELL, OTHER, WORSE, Value, change
from sulvet.core.judgement.common import common, measures_of
from sulvet.core.judgement.corroboration import corroborations
from sulvet.core.judgement.results import band_view
from sulvet.core.judgement.standards import Standard
from sulvet.core.judgement.then_now_sound import SameTone, same_tone
from sulvet.core.measures.catalogue import catalogue
from sulvet.plans.models import Plan
from sulvet.takes import analysis, sound, tracks
from sulvet.takes.focus import focus_of
from sulvet.takes.models import Reading, Take

#: What two takes are compared in while nothing else is asked for.
PHASE = "hold"
#: Of measures that no fault rests on, so many are listed.
OTHERS = 12
#: Pictures are so wide on the screen, and on paper.
SCREEN, PAPER = 760, 900


@dataclass(frozen=True)
class Side:
    """One of the two takes on the common sheet.

    onto     from its own sheet to the common one
    drawing  on the common sheet
    """

    take: Take
    stills: core.Stills
    onto: core.Onto
    drawing: Drawing


@dataclass(frozen=True)
class Pair:
    """Two takes, the part of the common sheet that is shown, and the frames proposed."""

    then: Side
    now: Side
    phase: str
    frames: tuple[core.Still, core.Still]

    @property
    def box(self) -> tuple[float, float, float, float]:
        """The part that is shown."""
        return self.then.drawing.box


def takes_to_compare(student: Student) -> QuerySet[Take]:
    """The student's measured takes, newest first."""
    return (
        Take.objects.filter(student=student, state=Take.State.READY, analysis__isnull=False)
        # Of an older edition nobody knows yet whether there is a mouth to draw.
        .exclude(analysis__drawing__isnull=True, analysis__edition=EDITION)
        .select_related("student__section__band__teacher", "analysis")
        .prefetch_related("findings", "decisions", "student__reeds")
        .defer("frame_times", "notes", "analysis__drawing", "analysis__stills", "analysis__frames")
    )


def proposed(takes: list[Take], plan: Plan | None, now_id: int | None) -> tuple[Take, Take] | None:
    """Which two takes to begin with: the newest, and the one its plan began with.

    takes   newest first, with findings
    now_id  the newer take, if it is chosen already

    Without a plan the last one before it that was seen from the same side and shows what the
    newer one's focus rests on; None when there is no such pair.
    """
    chosen = [take for take in takes if take.pk == now_id]
    # What is worked on shows from one side only.
    from_there = [take for take in takes if plan is not None and take.view == plan.view]
    for now in chosen or [*from_there, *takes]:
        before = takes[takes.index(now) + 1 :]
        same = [take for take in before if take.view == now.view]
        began = [take for take in same if plan is not None and take.pk == plan.take_id]
        if same:
            return (began or _showing(same, now) or same)[0], now
    return None


def _showing(before: list[Take], now: Take) -> list[Take]:
    """Those of some takes that show what the focus of a later one rests on."""
    fault = focus_of(now).fault
    wanted = focus_measures(fault, now.view, now)[:1] if fault else ()
    if not wanted:
        return []
    compared = set(
        Reading.objects.filter(
            take__in=before, phase=PHASE, measure=wanted[0], value__isnull=False
        ).values_list("take_id", flat=True)
    )
    return [take for take in before if take.pk in compared]


def whole(student: Student, take_id: int) -> Take:
    """A take with all that comparing it needs, as it stands."""
    takes = Take.objects.filter(student=student).select_related(
        "student__section__band__teacher", "analysis"
    )
    take: Take = get_object_or_404(
        takes.prefetch_related("findings", "decisions", "readings", "student__reeds"), pk=take_id
    )
    return take


def pair_of(then: Take, now: Take, phase: str = PHASE, face: bool = False) -> Pair:
    """Bring two takes onto one sheet.

    face  show the eyes as well, not the mouth alone
    """
    if then.view != now.view:
        raise Refused(
            "One take is from the front, the other from the side. Choose two of the same view."
        )
    drawn = []
    for take in (then, now):
        drawing, stills = analysis.drawing_of(take), analysis.stills_of(take)
        if drawing is None or stills is None:
            raise Refused("One of the takes shows no mouth to compare.")
        drawn.append((drawing, stills))
    (first, first_stills), (second, second_stills) = drawn
    by = core.onto(second_stills, first_stills)
    # Both that there is: the phase asked for, or the hold, or whatever both show.
    merged = [p for p in first_stills.phases() if p in second_stills.phases()]
    if not merged:
        raise Refused(
            "The two takes have no phase in common. Set “hold” in both where the note is held."
        )
    phase = next((p for p in (phase, PHASE) if p in merged), merged[0])
    frames = core.nearest(first_stills, second_stills, phase)
    assert frames is not None
    eyes = (first_stills,) if face and then.view == Take.View.FRONT else ()
    box = core.shown(first, second, by, eyes)
    return Pair(
        Side(then, first_stills, core.SAME, core.brought(first, core.SAME, box, first.facing)),
        Side(now, second_stills, by, core.brought(second, by, box, first.facing)),
        phase,
        frames,
    )


def same_tone_of(then: Take, now: Take) -> SameTone | None:
    """The tone two takes have in common, as this ear hears both; None without one."""
    heard = []
    for take in (then, now):
        kept = sound.current(take)
        analysis_ = None if kept is None else sound.sound_analysis(kept)
        if analysis_ is None:
            return None
        heard.append(analysis_)
    return same_tone(heard[0], heard[1], (tracks.phases_of(then), tracks.phases_of(now)))


def seen_from(fault: str) -> list[str]:
    """The sides from which a camera can tell a fault; none when only ear and eye can."""
    return sorted({rule.view for rule in common().rules if rule.fault == fault})


def focus_measures(fault: str, view: str, *takes: Take) -> tuple[str, ...]:
    """The measures a fault rests on, seen from a side; none when only ear and eye can tell.

    takes  what showed it there comes first
    """
    found = [f for take in takes for f in take.findings.all() if f.fault == fault]
    blamed = [evidence["measure"] for f in found for evidence in f.evidence]
    heard = [m for pair in corroborations() if pair.fault == fault
             for m in (pair.heard.measure, pair.looked_at)]  # fmt: skip
    return tuple(dict.fromkeys([*blamed, *measures_of(fault, view), *heard]))


def focus_for(student: Student, plan: Plan | None, now: Take) -> str:
    """What is worked on: the running plan's fault, else the newer take's, else the student's."""
    if plan is not None:
        return plan.fault
    return focus_of(now).fault or student.focus


def readings_of(take: Take, phase: str) -> dict[str, Reading]:
    """Measure → its reading in a phase."""
    return {r.measure: r for r in take.readings.all() if r.phase == phase}


def changes(
    pair: Pair, standard: Standard, school: str, first: tuple[str, ...]
) -> list[dict[str, Any]]:
    """What has changed, sentence by sentence: the focus first, then what changed clearly.

    first  the focus's measures
    """
    then, now = readings_of(pair.then.take, pair.phase), readings_of(pair.now.take, pair.phase)
    rows = []
    for measure in catalogue().measures:
        a, b = then.get(measure.id), now.get(measure.id)
        band = standard.band(measure.id, band_view(measure.id, pair.now.take.view), school)
        if a is None or b is None or (band is None and measure.id not in first):
            continue
        changed = change(_value_of(a), _value_of(b), measure, band)
        rows.append({
            "measure": measure.id,
            "name": measure.name,
            "unit": b.unit,
            "decimals": measure.decimals,
            "then": a.value,
            "now": b.value,
            "delta": changed.delta,
            "uncertainty": changed.uncertainty,
            "answer": changed.answer,
            "sentence": changed.sentence,
            "focus": measure.id in first,
        })  # fmt: skip
    rank: dict[Any, int] = {WORSE: 0, BETTER: 1, OTHER: 2, CANT_TELL: 4}
    rows.sort(
        key=lambda row: (
            first.index(row["measure"]) if row["focus"] else len(first), rank.get(row["answer"], 3)
        )
    )  # fmt: skip
    return [row for n, row in enumerate(rows) if row["focus"] or n < OTHERS]


def _value_of(reading: Reading) -> Value:
    return Value(reading.value, reading.uncertainty, reading.unit)


def address(side: Side, frame: core.Still, onto: Take, face: bool, width: int = SCREEN) -> str:
    """Where the picture of a frame on the common sheet is served."""
    path = reverse("onto", args=[side.take.pk, onto.pk, frame.frame])
    return f"{path}?width={width}{'&face=1' if face else ''}"
