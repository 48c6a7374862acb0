"""What was to be played on a take: said by the teacher, or taken for meant."""

from __future__ import annotations

from dataclasses import dataclass

from sulvet.accounts.errors import Refused
from sulvet.core.judgement.standards import Standard
from sulvet.core.sound import notes
from sulvet.core.sound.figures import figures, range_of
from sulvet.core.sound.tone import Told
from sulvet.takes.models import Hearing, Take

STAGES = ("lips", "mouthpiece", "neck", "instrument")
#: Tunings that bands use, Hz, and tempos that drills are counted in.
A4_FROM, A4_TO = 415.0, 466.0
TEMPO_FROM, TEMPO_TO = 30, 160
#: A note is taken for the one that was meant, while nobody has said, when the tone lies within
#: so many cents of it. Where the tone could as well be another note of the instrument, it must
#: be nearer: so near that no fault can follow from it.
NEAR, SAME_NOTE = 400.0, 100.0


@dataclass(frozen=True)
class Aim:
    """What the teacher says was to be played: on what, and which note; empty: not said.

    a4     Hz;  tempo  counts a minute;  None leaves them to what is usual
    """

    stage: str = ""
    pitch: str = ""
    a4: float | None = None
    tempo: float | None = None

    def check(self, which: Standard) -> None:
        """Refused with a sentence for what this instrument does not play."""
        name = which.name.lower()
        if self.stage and self.stage not in stages_of(which):
            raise Refused(f"The {name} has no tone on “{self.stage}”.")
        a4 = notes.A4 if self.a4 is None else self.a4
        if not A4_FROM <= a4 <= A4_TO:
            raise Refused(f"A4 lies between {A4_FROM:.0f} and {A4_TO:.0f} Hz.")
        if self.pitch:
            try:
                hz = notes.hz_of(self.pitch, a4)
            except ValueError as error:
                raise Refused(str(error)) from error
            low, high = wide_range(which)
            if not low / 2 <= hz <= high * 2:
                raise Refused(f"{self.pitch} is nothing that a {name} plays.")
        if self.tempo is not None and not TEMPO_FROM <= self.tempo <= TEMPO_TO:
            raise Refused(f"Counts lie between {TEMPO_FROM} and {TEMPO_TO} a minute.")


@dataclass(frozen=True)
class Usual:
    """What holds while nothing is said of a take.

    a4     the tuning that the teacher said last, Hz
    notes  (stage, note) that the teacher said of the student's other takes, the last first
    """

    a4: float = notes.A4
    notes: tuple[tuple[str, str], ...] = ()


NOTHING_SAID = Usual()


def usual_of(take: Take) -> Usual:
    """What is usual for a take's student and teacher."""
    teacher = take.student.section.band.teacher
    band = Hearing.objects.filter(take__student__section__band__teacher=teacher).order_by("-pk")
    tuned = band.filter(aim__a4__isnull=False).exclude(aim__a4=None)
    tuning = tuned.values_list("aim__a4", flat=True).first()
    others = band.filter(take__student=take.student, aim__pitch__isnull=False).exclude(take=take)
    said = [(aim["stage"], aim["pitch"]) for aim in others.values_list("aim", flat=True)]
    known = dict.fromkeys((stage, pitch) for stage, pitch in said if pitch)
    return Usual(notes.A4 if tuning is None else float(tuning), tuple(known))


def stages_of(which: Standard) -> list[str]:
    """What a tone of this instrument may be played on."""
    table = figures().ranges
    return [s for s in STAGES if which.instrument in table[s] or which.family in table[s]]


def stage_words(which: Standard, stage: str) -> str:
    """What a stage is called on this instrument."""
    table = figures().stages.get(stage, {})
    return table.get(which.instrument) or table.get(which.family) or f"the {stage}"


def wide_range(which: Standard) -> tuple[float, float]:
    """Hz between which any tone of the instrument lies, on whatever stage."""
    found = [range_of(which.instrument, which.family, stage) for stage in stages_of(which)]
    return min(low for low, _ in found), max(high for _, high in found)


def meant(told: Told, which: Standard, wanted: Aim, usual: Usual, a4: float) -> tuple[str, str]:
    """The note that was probably meant by the longest tone: of what the teacher has said of
    this student before and the standard's targets the nearest; empty where none is near."""
    longest = max(told.tones, key=lambda t: t.seconds, default=None)
    if longest is None or longest.slide is not None:
        return wanted.stage, ""
    low, high = range_of(which.instrument, which.family, "instrument")
    could_be_any = low <= longest.hz <= high and wanted.stage in ("", "instrument")
    within = SAME_NOTE if could_be_any else NEAR
    known = dict.fromkeys([*usual.notes, *((t.stage, t.pitch) for t in which.targets)])
    near = [
        (abs(notes.cents(longest.hz, notes.hz_of(pitch, a4))), stage, pitch)
        for stage, pitch in known
        if wanted.stage in ("", stage)
    ]
    away, stage, pitch = min(near, default=(within + 1, "", ""))
    return (stage, pitch) if away <= within else (wanted.stage, "")
