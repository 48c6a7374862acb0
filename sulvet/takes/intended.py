"""What was to be played on a take: said by the teacher, or taken for meant."""

from __future__ import annotations

from dataclasses import dataclass

from sulvet.accounts.errors import Refused
from sulvet.core.judgement.common import common
from sulvet.core.judgement.intended_note import playing_range, stages_of
from sulvet.core.judgement.standards import Standard
from sulvet.core.sound import notes
from sulvet.core.sound.parameters import parameters
from sulvet.takes.models import Take, TakeSound


@dataclass(frozen=True)
class IntendedNote:
    """What the teacher says was to be played: on what, and which note; empty: not said.

    a4     Hz;  tempo  beats per minute;  None leaves them to what is usual
    """

    stage: str = ""
    pitch: str = ""
    a4: float | None = None
    tempo: float | None = None

    def check(self, standard: Standard) -> None:
        """Refused with a sentence for what this instrument does not play."""
        name = standard.name.lower()
        if self.stage and self.stage not in stages_of(standard):
            raise Refused("The {name} has no tone on “{stage}”.", name=name, stage=self.stage)
        a4 = notes.A4 if self.a4 is None else self.a4
        by = parameters().intended_note
        if not by.a4_from <= a4 <= by.a4_to:
            raise Refused(
                "A4 must be between {a4_from:.0f} and {a4_to:.0f} Hz.",
                a4_from=by.a4_from,
                a4_to=by.a4_to,
            )
        if self.pitch:
            try:
                hz = notes.hz_of(self.pitch, a4)
            except ValueError as error:
                raise Refused(str(error)) from error
            low, high = playing_range(standard)
            if not low / 2 <= hz <= high * 2:
                raise Refused("{pitch} is not a note a {name} plays.", pitch=self.pitch, name=name)
        allowed = common().tempo
        if self.tempo is not None and not allowed.allows(self.tempo):
            raise Refused(
                "The tempo must be between {slowest} and {quickest} beats per minute.",
                slowest=allowed.slowest,
                quickest=allowed.quickest,
            )


@dataclass(frozen=True)
class NoteDefaults:
    """What holds while nothing is said of a take.

    a4     the tuning that the teacher said last, Hz
    notes  (stage, note) that the teacher said of the student's other takes, the last first
    """

    a4: float = notes.A4
    notes: tuple[tuple[str, str], ...] = ()


NO_DEFAULTS = NoteDefaults()


def note_defaults(take: Take) -> NoteDefaults:
    """What is usual for a take's student and teacher."""
    teacher = take.student.section.band.teacher
    band = TakeSound.objects.filter(take__student__section__band__teacher=teacher).order_by("-pk")
    tuned = band.filter(intended__a4__isnull=False).exclude(intended__a4=None)
    tuning = tuned.values_list("intended__a4", flat=True).first()
    others = band.filter(take__student=take.student, intended__pitch__isnull=False).exclude(
        take=take
    )
    notes_said = [
        (note["stage"], note["pitch"]) for note in others.values_list("intended", flat=True)
    ]
    known = dict.fromkeys((stage, pitch) for stage, pitch in notes_said if pitch)
    return NoteDefaults(notes.A4 if tuning is None else float(tuning), tuple(known))
