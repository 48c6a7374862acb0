"""The catalogue of measures: what each is, how it is worked out, and what it is called.

One table, read from ``data/*.toml``, for everything that is measured: on every frame, once a
phase, off the picture itself, by ear, and in close-ups. Whatever names a measure elsewhere (a
band, a rule, a drill, a dimension) is checked against it when it is loaded.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cache, cached_property, partial
from importlib import import_module
from pathlib import Path
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import AfterValidator, Field, field_validator

from sulvet.core.anatomy.landmarks import BY_ID
from sulvet.core.anatomy.marks import Floats
from sulvet.core.anatomy.scale import sizes
from sulvet.core.data_files import Strict, read_table, wrong
from sulvet.core.language import per_language

DATA = Path(__file__).parent / "data"
PACKAGE = __name__.rpartition(".")[0]
Views = Literal["front", "side", "sound", "close-up"]
#: A function of the package of measures by its module and name.
Function = Callable[..., Any]


class ModelError(Strict):
    """What no mark's own error accounts for, as standard deviations: ``floor`` in the measure's
    unit, ``share`` of the change from rest, or of the value where nothing is compared."""

    floor: float = Field(default=0.0, ge=0)
    share: float = Field(default=0.0, ge=0)

    def sigma(self, change: Floats | float) -> Floats:
        """The standard deviation at this much change, of the same shape."""
        return np.asarray(np.hypot(self.floor, self.share * np.nan_to_num(np.abs(change))))


class Measure(Strict):
    """One thing measured.

    id, of, unit  its name, what it is of, and the unit of its values
    view      from which side it shows: the file it stands in says so; ``sound`` and ``close-up``
              are sides of their own
    source    what it is read from: ``marks`` on every frame; ``motion`` once a phase; the
              ``picture`` itself; the ``sound``; a ``photo``
    phases    those it has a reading in; empty: all but rest
    function  ``module.name`` among the measures: of marks (view) → (T,) in degrees, ratios, or
              pixels of the rest scale; of motion see ``motion.motions``
    uses      landmarks that go into the value
    needs     those of them without which it can't be told when hidden; default: all
    against   how it is compared with rest: ``difference``, ``ratio``, or ``nothing``
    scaled_to what a value in pixels becomes: ``mm`` or ``mm2`` in ``plane``, ``MW`` (rest mouth
              widths) or ``%`` (hundredths of lip to chin at rest)
    size      a block of ``sizes.toml``: only instruments in it have the measure, and the
              function is given the instrument's row
    known     a length of that row which it starts from: the value is that length less the
              measured one
    compares  another measure that this one follows through the phases
    error     see ``ModelError``; ``further_error`` a function (view) → (T,) of more of it, in
              pixels of the rest scale where the value becomes millimetres
    possible  least and greatest value that a body allows; beyond it a mark is wrong, and
              ``doubt`` says which to check
    unseen    what to call what could not be seen; empty where the reason lies elsewhere
    always    reported, if only as "can't tell", whether or not a standard asks for it
    reported  whether it has readings at all; others are only drawn or go into further measures

    name, stave, explains  on screen: in full, on the score, in a sentence
    drawing   a file of docs/drawings, without its suffix, that shows where it is taken; empty
              where none does
    decimals  of its values;  shown  whether its stave is there at first sight, and with which
              others;  least  least height of that, own unit;  from_zero  whether it begins at zero
    subject, less, more    how a change is told, “Corners lower by 6 degrees”; empty: the name
    """

    id: str
    of: str
    unit: str
    view: Views = "front"
    source: Literal["marks", "motion", "picture", "sound", "photo"]
    phases: tuple[str, ...] = ()
    function: str = ""
    uses: tuple[str, ...] = ()
    needs: tuple[str, ...] | None = None
    against: Literal["difference", "ratio", "nothing"] = "nothing"
    scaled_to: Literal["", "mm", "mm2", "MW", "%"] = ""
    plane: str = ""
    size: str = ""
    known: str = ""
    compares: str = ""
    error: ModelError = ModelError()
    further_error: str = ""
    possible: tuple[float, float] | None = None
    doubt: str = ""
    unseen: str = "lips"
    always: bool = False
    reported: bool = True
    name: str
    stave: str
    explains: str
    drawing: str = ""
    decimals: int = Field(ge=0, le=3)
    shown: Literal["", "placement", "face", "head"] = ""
    least: float = Field(default=0.0, ge=0)
    from_zero: bool = False
    subject: str = ""
    less: str = "lower"
    more: str = "higher"

    @field_validator("uses", "needs")
    @classmethod
    def _landmarks(cls, names: tuple[str, ...] | None) -> tuple[str, ...] | None:
        strange = [name for name in names or () if name not in BY_ID]
        if strange:
            raise ValueError(f"there is no landmark “{strange[0]}”")
        return names

    @field_validator("function", "further_error")
    @classmethod
    def _functions(cls, name: str) -> str:
        if name:
            function_of(name)
        return name

    @property
    def must_see(self) -> tuple[str, ...]:
        """Landmarks that must be visible."""
        return self.uses if self.needs is None else self.needs

    @cached_property
    def equipment(self) -> str:
        """What has to be held to the mouth for it, or an empty string."""
        return next((BY_ID[n].equipment for n in self.must_see if BY_ID[n].equipment), "")

    def value(self, instrument: str) -> Function:
        """Its function, for an instrument: given the instrument's sizes where it takes some."""
        found = function_of(self.function)
        return partial(found, size=sizes()[self.size][instrument]) if self._sized else found

    @property
    def _sized(self) -> bool:
        return bool(self.size) and not self.known

    def known_length(self, instrument: str) -> tuple[float, float] | None:
        """The length it starts from and its standard deviation, mm; None where there is none."""
        if not self.known:
            return None
        row = sizes()[self.size][instrument]
        return float(row[self.known]), float(row["sigma"])

    def further(self) -> Callable[[Any], Floats] | None:
        """The function of its further error."""
        return function_of(self.further_error) if self.further_error else None


@cache
def function_of(name: str) -> Function:
    """A function among the measures by ``module.name``; ValueError if there is none such."""
    module, _, attribute = name.partition(".")
    try:
        found: Function = getattr(import_module(f"{PACKAGE}.{module}"), attribute)
    except (ImportError, AttributeError):
        raise ValueError(f"there is no function “{name}” among the measures") from None
    return found


class _File(Strict):
    measures: tuple[Measure, ...]


class Catalogue:
    """All measures, in the order in which they are shown."""

    def __init__(self, measures: tuple[Measure, ...]) -> None:
        self.measures = measures
        self._by_id = {m.id: m for m in measures}
        self._places = {m.id: n for n, m in enumerate(measures)}

    def __contains__(self, measure_id: str) -> bool:
        return measure_id in self._by_id

    def measure(self, measure_id: str) -> Measure:
        """One measure; KeyError if there is none such."""
        return self._by_id[measure_id]

    def place(self, measure_id: str) -> int:
        """Where a measure stands among the others."""
        return self._places[measure_id]

    def of_source(self, source: str, view: str | None = None) -> tuple[Measure, ...]:
        """The measures that are read from something, seen from one side or from any."""
        return tuple(m for m in self.measures if m.source == source and view in (None, m.view))

    def on_frames(self, view: str, instrument: str) -> tuple[Measure, ...]:
        """What is measured from marks on every frame of a take of this instrument."""
        hidden = sizes()["hides"].get(instrument, [])
        return tuple(
            m
            for m in self.of_source("marks", view)
            if (not m.size or instrument in sizes()[m.size])
            and not any(name in m.uses for name in hidden)
        )


#: Which file holds the measures of which view, in the order in which they are shown.
FILES: tuple[Views, ...] = ("front", "side", "sound", "close-up")


def read_catalogue(folder: Path) -> Catalogue:
    """The catalogue of a folder. DataFileError with file and line where an entry is wrong."""
    found: list[Measure] = []
    for view in FILES:
        path = folder / f"{view}.toml"
        for n, row in enumerate(read_table(path, _File).measures):
            measure = row.model_copy(update={"view": view})
            if any(m.id == measure.id for m in found):
                raise wrong(path, ("measures", n, "id"), f"there are two “{measure.id}”")
            found.append(measure)
    catalogue = Catalogue(tuple(found))
    for view in FILES:
        for n, measure in enumerate(m for m in found if m.view == view):
            for name, there in (("compares", catalogue), ("size", sizes())):
                named = getattr(measure, name)
                if named and named not in there:
                    what = "measure" if name == "compares" else "block of sizes"
                    place = ("measures", n, name)
                    raise wrong(folder / f"{view}.toml", place, f"there is no {what} “{named}”")
    return catalogue


@per_language
def catalogue() -> Catalogue:
    """The shipped catalogue."""
    return read_catalogue(DATA)


def _known(measure_id: str) -> str:
    if measure_id not in catalogue():
        raise ValueError(f"there is no measure “{measure_id}”")
    return measure_id


#: The id of a measure in another data file: one that is not in the catalogue is refused.
MeasureId = Annotated[str, AfterValidator(_known)]
