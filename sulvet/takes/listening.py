"""Writes to what is heard of a take: listening to it, and saying what was to be played."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Any

from django.db import transaction

from sulvet.core import sandbox
from sulvet.core.sound.letters import phases_from_sound
from sulvet.takes import analysis, sound
from sulvet.takes.intended import IntendedNote
from sulvet.takes.models import Take, TakeSound


def listen(take: Take) -> None:
    """Listen to a take if this ear has not yet; what is judged then rests on it as well."""
    if sound.current(take) is None:
        before = TakeSound.objects.filter(take=take).first()
        _keep(take, sound.intended_of(before))


def set_intended_note(take: Take, given: IntendedNote) -> None:
    """The teacher says what was to be played: it is listened to and judged anew.

    Refused for no note. Another tempo alone changes nothing of what is heard.
    """
    given.check(analysis.standard_for(take))
    before = sound.current(take)
    if before is None or replace(sound.intended_of(before), tempo=given.tempo) != given:
        _keep(take, given)
        return
    before.intended = asdict(given)
    before.save(update_fields=["intended"])


def _keep(take: Take, intended: IntendedNote) -> None:
    """Listen outside of any transaction, then keep sound and analysis together."""
    document = sound.listen_to(take, intended)
    made = None
    if take.state == Take.State.READY:
        material = replace(analysis.material_of(take), heard=analysis.heard_in(document))
        made = analysis.make(take, material)
    with transaction.atomic():
        TakeSound.objects.update_or_create(
            take=take, defaults={"intended": asdict(intended), "heard": document}
        )
        if made is not None and analysis.hold(take):
            analysis.save(take, made)
        else:
            # Marks have moved meanwhile: what was made of them rests on the sound before.
            analysis.outdate(take)


def hear_for_job(take: Take) -> dict[str, Any]:
    """What this ear hears of a take that the worker is reading; kept at once."""
    before = sound.current(take)
    if before is None:
        older = TakeSound.objects.filter(take=take).first()
        intended = sound.intended_of(older)
        before, _ = TakeSound.objects.update_or_create(
            take=take,
            defaults={
                "intended": asdict(intended),
                "heard": sound.listen_to(take, intended),
            },
        )
    return dict(before.heard)


def with_phases(outcome: sandbox.Outcome, document: dict[str, Any]) -> sandbox.Outcome:
    """What was read of a clip, its suggested letters corrected by what was heard."""
    heard = sound.analysis_in(document)
    if heard is None or not len(outcome.marks):
        return outcome
    last = float(outcome.marks.seconds[-1])
    return replace(outcome, phases=phases_from_sound(outcome.phases, heard, last))
