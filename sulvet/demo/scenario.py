"""The demo band: an invented school by a lake, invented names, made-up heads.

Each take is a script in ``takes/`` with the clip filmed from it and, beside it,
what Sulvet read in that clip, so that the band is there in seconds.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

from sulvet.demo.closeups import DemoCloseUp

BAND = "Lindensee School, beginning band"
TAKES = Path(__file__).parent / "takes"


@dataclass(frozen=True)
class DemoTake:
    """One take by the name of its script; ``days`` ago."""

    name: str
    days: int
    recheck: bool = False

    @property
    def script(self) -> Path:
        """What was filmed."""
        return TAKES / f"{self.name}.yaml"

    @property
    def clip(self) -> Path:
        """The clip filmed from the script."""
        return TAKES / f"{self.name}.mp4"

    @property
    def reading(self) -> Path:
        """What Sulvet read in the clip."""
        return TAKES / f"{self.name}.npz"


@dataclass(frozen=True)
class DemoStudent:
    """One chair; no consent when ``consent`` is False.

    plan  the take whose focus a two-week plan began with, and the fault
    notes  what the teacher wrote down
    reeds  strength, opened so many days ago, hours played, and the last day of it ago
    heard  what was ticked on the newest take
    close_up  of the reed
    """

    name: str
    instrument: str
    school: str = ""
    consent: bool = True
    takes: tuple[DemoTake, ...] = field(default=())
    plan: tuple[str, str] | None = None
    notes: tuple[str, ...] = ()
    reeds: tuple[tuple[str, int, float, int], ...] = ()
    heard: tuple[str, ...] = ()
    close_up: DemoCloseUp | None = None


STUDENTS: tuple[DemoStudent, ...] = (
    # Flutes: a smile for the high notes, a plate that finds its place, two who smile without it.
    DemoStudent(
        "Mirela Stoian", "flute",
        takes=(
            DemoTake("mirela-front-13", 13),
            DemoTake("mirela-front-6", 6, True),
            DemoTake("mirela-front-0", 0, True),
        ),
    ),
    DemoStudent(
        "Pella Wendt-Arslan", "flute",
        takes=(
            # Right last week, and lost again: the take that waits has something to fix.
            DemoTake("pella-front-4", 9),
            DemoTake("pella-front-11", 1, True),
        ),
    ),
    DemoStudent("Sunniva Thorsen", "flute", takes=(DemoTake("sunniva-front-1", 1),)),
    DemoStudent("Anouk Delmare", "flute", takes=(DemoTake("anouk-front-1", 1),)),
    # Oboe: corners that let go, then hold.
    DemoStudent(
        "Tilda Quist", "oboe",
        takes=(DemoTake("tilda-front-10", 10), DemoTake("tilda-front-2", 2, True)),
    ),
    # Clarinets: a chin that learns to stay down in two weeks.
    DemoStudent(
        "Aino Vesterlund", "clarinet", "gathered",
        takes=(
            DemoTake("aino-side-14", 14),
            DemoTake("aino-front-14", 14),
            DemoTake("aino-side-7", 7, True),
            DemoTake("aino-side-0", 0, True),
            DemoTake("aino-front-0", 0, True),
        ),
        plan=("aino-side-14", "bulging-chin"),
        notes=("New reed on the first day of the plan, strength 2.",),
        reeds=(("2", 26, 12.5, 3), ("2", 14, 4.0, 1), ("2", 14, 3.5, 0), ("2", 14, 3.0, 2),
               ("2", 3, 0.5, 3)),
        close_up=DemoCloseUp("aino-reed", 0),
    ),
    DemoStudent(
        "Carla Nuñez-Hofer", "clarinet", "gathered",
        takes=(DemoTake("carla-side-3", 3), DemoTake("carla-front-3", 3)),
        close_up=DemoCloseUp("carla-reed", 3),
    ),
    DemoStudent("Dario Feld", "clarinet", consent=False),
    DemoStudent("Yusra Hamdani", "clarinet", "stretched"),
    DemoStudent("Oskar Lindqvist", "clarinet", takes=(DemoTake("oskar-front-3", 3),)),
    # Saxophones: a double lip, then teeth first.
    DemoStudent(
        "Bram Okafor-Lys", "saxophone",
        takes=(
            DemoTake("bram-side-5", 5),
            DemoTake("bram-front-5", 5),
            DemoTake("bram-front-0", 0, True),
        ),
        reeds=(("2.5", 41, 15.0, 0), ("2.5", 20, 2.0, 9)),
        heard=("airy",),
        close_up=DemoCloseUp("bram-reed", 0),
    ),
    DemoStudent(
        "Noor de Wilde", "saxophone", takes=(DemoTake("noor-front-1", 1),),
        close_up=DemoCloseUp("noor-reed", 2),
    ),
    # Bassoon: both lips over the teeth are right here.
    DemoStudent(
        "Lorenz Appiah", "bassoon",
        takes=(DemoTake("lorenz-side-8", 8), DemoTake("lorenz-front-8", 8)),
        close_up=DemoCloseUp("lorenz-reed", 8),
    ),
    # Horns: a smile, a rim too low, then moved up; and one who sits high.
    DemoStudent(
        "Edda Marschall", "horn", "two-thirds",
        takes=(
            DemoTake("edda-front-16", 16),
            DemoTake("edda-front-12", 12, True),
            DemoTake("edda-front-1", 1, True),
        ),
    ),
    DemoStudent(
        "Farid Belmondi", "horn", "seven-eighths",
        takes=(
            DemoTake("farid-side-9", 9),
            DemoTake("farid-front-9", 9),
            DemoTake("farid-descent-2", 2),
        ),
    ),
    DemoStudent("Greta Solheim", "horn", takes=(DemoTake("greta-front-5", 5),)),
    # Trumpets: one who is fine, one filmed from too far round, one without a rest.
    DemoStudent(
        "Hugo Ashdown", "trumpet",
        takes=(
            DemoTake("hugo-front-16", 16),
            DemoTake("hugo-front-4", 4, True),
        ),
    ),
    DemoStudent(
        "Ida Karimi", "trumpet", "one-third",
        takes=(
            DemoTake("ida-front-5", 5),
            DemoTake("ida-front-3", 3),
            DemoTake("ida-ones-1", 1),
        ),
    ),
    DemoStudent("Jonas Templeroy", "trumpet", takes=(DemoTake("jonas-front-2", 2),)),
    DemoStudent("Wanjiru Sandberg", "trumpet", consent=False),
    # Trombones: cheeks that puff, a rim beside the middle.
    DemoStudent(
        "Kaya Brandt", "trombone",
        takes=(
            DemoTake("kaya-front-15", 15),
            DemoTake("kaya-front-8", 8, True),
            DemoTake("kaya-front-1", 1, True),
        ),
    ),
    DemoStudent(
        "Nils Obermark", "trombone",
        takes=(
            DemoTake("nils-front-10", 10),
            DemoTake("nils-front-3", 3, True),
            DemoTake("nils-four-1", 1),
        ),
    ),
    DemoStudent(
        "Ruben Castellane", "trombone",
        takes=(DemoTake("ruben-front-2", 9), DemoTake("ruben-front-0", 2, True)),
    ),
    DemoStudent("Zofia Maier-Lund", "trombone", takes=(DemoTake("zofia-front-1", 1),)),
)  # fmt: skip
