"""The demo band: invented names, invented faces, painted takes with known truth."""

from __future__ import annotations

from dataclasses import dataclass, field

from sulvet.core.simulate.painted import Person, Pose
from sulvet.core.simulate.take import Script

BAND = "Lindenbach beginning band"


@dataclass(frozen=True)
class DemoTake:
    """One painted clip of one student; ``days`` ago."""

    script: Script
    days: int = 0
    size: tuple[int, int] = (960, 540)


@dataclass(frozen=True)
class DemoStudent:
    """One chair; no consent when ``consent`` is False."""

    name: str
    instrument: str
    school: str = ""
    consent: bool = True
    takes: tuple[DemoTake, ...] = field(default=())


def _take(held: Pose, person: Person, seed: int, wobble: float = 0.0, days: int = 0) -> DemoTake:
    script = Script(
        held, person=person, seed=seed, wobble=wobble,
        rest=1.3, move=0.5, hold=2.2, after=0.4,
    )  # fmt: skip
    return DemoTake(script, days)


OLIVE = Person(
    skin=(0.70, 0.50, 0.38), lip=(0.58, 0.31, 0.29), hair=(0.10, 0.07, 0.05),
    eye=(0.22, 0.15, 0.09), shirt=(0.45, 0.22, 0.20), width=0.97, freckles=0.1, seed=2,
)  # fmt: skip
FAIR = Person(
    skin=(0.90, 0.71, 0.61), lip=(0.76, 0.45, 0.43), hair=(0.52, 0.33, 0.15),
    eye=(0.30, 0.38, 0.40), shirt=(0.26, 0.38, 0.30), width=1.02, freckles=0.8, seed=3,
)  # fmt: skip
BROWN = Person(
    skin=(0.52, 0.35, 0.26), lip=(0.44, 0.24, 0.22), hair=(0.07, 0.05, 0.04),
    eye=(0.16, 0.10, 0.07), shirt=(0.62, 0.55, 0.36), width=1.03, freckles=0.05, seed=4,
)  # fmt: skip

STUDENTS: tuple[DemoStudent, ...] = (
    DemoStudent("Aino Vesterlund", "clarinet", "gathered"),
    DemoStudent("Bram Okafor-Lys", "clarinet", "stretched"),
    DemoStudent(
        "Carla Nuñez-Hofer",
        "clarinet",
        takes=(_take(Pose(rise=0.5, width=0.9), OLIVE, 11, days=3),),
    ),
    DemoStudent("Dario Feld", "clarinet", consent=False),
    DemoStudent("Edda Marschall", "horn", takes=(_take(Pose(rise=9.0, width=1.13), Person(), 12),)),
    DemoStudent(
        "Farid Belmondi",
        "horn",
        "seven-eighths",
        takes=(_take(Pose(rim=1.0, roll=5.0), OLIVE, 13, days=1),),
    ),
    DemoStudent("Greta Solheim", "horn"),
    DemoStudent(
        "Hugo Ashdown",
        "trumpet",
        takes=(_take(Pose(rise=-1.0, width=1.0), FAIR, 14, wobble=0.05, days=2),),
    ),
    DemoStudent("Ida Karimi", "trumpet", "one-third"),
    DemoStudent("Jonas Templeroy", "trumpet"),
    DemoStudent(
        "Kaya Brandt",
        "trombone",
        takes=(_take(Pose(zoom=2.3, shift=(0.0, -345.0)), BROWN, 15, days=1),),
    ),
    DemoStudent("Lorenz Appiah", "trombone"),
    DemoStudent("Mirela Stoian", "trombone", consent=False),
)
