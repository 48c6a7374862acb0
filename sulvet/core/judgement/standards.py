"""Standards: what is right on one instrument, by its schools; read from data files.

A standard says what is right on one instrument. Every figure stands in ``data/*.toml`` with a
note of where it comes from; none stands in code.
"""

from __future__ import annotations

import tomllib
from pathlib import Path

from pydantic import Field, ValidationError

from sulvet.core.data_files import DataFileError, Strict, read_table
from sulvet.core.judgement.common import DATA, common
from sulvet.core.judgement.schema import Band, Edges, LipKind, School, Target
from sulvet.core.language import per_language, said
from sulvet.core.measures.catalogue import Views


class StandardError(ValueError):
    """There is no such standard, school or band; the message says what there is."""


class Standard(Strict):
    """One instrument's standard.

    film     views worth filming, the more telling first
    targets  pitches to aim at
    """

    version: int
    instrument: str
    name: str
    family: str
    section: str
    arc: int = Field(ge=1, le=4)
    film: tuple[Views, ...] = Field(min_length=1)
    targets: tuple[Target, ...] = ()
    schools: tuple[School, ...]
    bands: tuple[Band, ...]
    #: Counts a teacher's own versions of it; 0 is the shipped one.
    edition: int = 0
    #: Counts the versions that all teachers of a school share; 0 is the shipped one.
    shared: int = 0
    #: For which lips its bands were moved.
    lips: LipKind = ""

    @property
    def label(self) -> str:
        """Instrument and version, with the school's and the teacher's where there is one."""
        shared = f"-{self.shared}" if self.shared else ""
        own = f".{self.edition}" if self.edition else ""
        lips = f" {self.lips} lips" if self.lips else ""
        return f"{self.instrument} {self.version}{shared}{own}{lips}"

    @property
    def all_bands(self) -> tuple[Band, ...]:
        """Its own bands, and those all instruments share that it says nothing about."""
        mine = {band.key for band in self.bands}
        return (*self.bands, *(b for b in common().bands if b.key not in mine))

    def changed(self, edges: dict[str, Edges], edition: int) -> Standard:
        """The same with other figures for some bands, by their ``key``.

        StandardError for a band there is not, or figures that can't be.
        """
        known = {band.key: band for band in self.all_bands}
        new = dict(known)
        for key, figures in edges.items():
            if key not in known:
                raise StandardError(said("{name} has no limit “{key}”.", name=self.name, key=key))
            try:
                new[key] = Band.model_validate(known[key].model_dump() | figures.model_dump())
            except ValidationError as error:
                message = error.errors()[0]["msg"].removeprefix("Value error, ")
                raise StandardError(f"{known[key].measure}: {message}.") from error
        mine = {band.key for band in self.bands} | set(edges)
        bands = tuple(band for key, band in new.items() if key in mine)
        return self.model_copy(update={"bands": bands, "edition": edition})

    def for_lips(self, lips: LipKind) -> Standard:
        """The same with its bands moved for full or thin lips; itself where none moves."""
        moved = tuple(band.for_lips(lips) for band in self.bands)
        if moved == self.bands:
            return self
        return self.model_copy(update={"bands": moved, "lips": lips})

    def with_school_first(self, school_id: str) -> Standard:
        """The same with another school as the default; an empty id changes nothing."""
        if not school_id:
            return self
        first = self.school(school_id)
        others = tuple(s for s in self.schools if s != first)
        return self.model_copy(update={"schools": (first, *others)})

    def school(self, school_id: str | None) -> School:
        """A school by id, the default when none is asked for."""
        if school_id is None:
            return self.schools[0]
        for school in self.schools:
            if school.id == school_id:
                return school
        known = ", ".join(school.id for school in self.schools)
        raise StandardError(
            said(
                "{name} has no embouchure style “{school_id}”. It has: {known}.",
                name=self.name,
                school_id=school_id,
                known=known,
            )
        )

    def has_band(self, measure: str, view: str) -> bool:
        """Whether any band of this instrument is about a measure."""
        return any(
            band.measure == measure and band.view == view for band in (*self.bands, *common().bands)
        )

    def band(self, measure: str, view: str, school: str, phase: str = "hold") -> Band | None:
        """The band that applies; one meant for this school goes before a general one."""
        fitting = [
            band
            for band in (*self.bands, *common().bands)
            if band.measure == measure
            and band.view == view
            and phase in band.phases
            and (not band.schools or school in band.schools)
        ]
        fitting.sort(key=lambda band: not band.schools)
        return fitting[0] if fitting else None


class _Derived(Strict):
    """A standard that says only what differs from another one."""

    version: int
    base: str
    instrument: str
    name: str
    section: str
    arc: int = Field(ge=1, le=4)
    targets: tuple[Target, ...] = ()
    schools: tuple[School, ...] = ()
    bands: tuple[Band, ...] = ()


def _read_standard(path: Path) -> Standard:
    """A standard, with what it does not say itself taken from its ``base``.

    A band of its own takes the place of the base's band for the same measure, view and
    schools.
    """
    own = tomllib.loads(path.read_text(encoding="utf-8"))
    if "base" not in own:
        return read_table(path, Standard)
    known = DATA / f"{own['base']}.toml"
    if not known.exists():
        raise DataFileError(f"{path.name}: there is no standard “{own['base']}” to build on.")
    base = read_table(known, Standard)
    part = read_table(path, _Derived)
    mine = {(band.measure, band.view, band.schools) for band in part.bands}
    kept = tuple(b for b in base.bands if (b.measure, b.view, b.schools) not in mine)
    return base.model_copy(
        update={
            "version": part.version,
            "instrument": part.instrument,
            "name": part.name,
            "section": part.section,
            "arc": part.arc,
            "schools": part.schools or base.schools,
            # A pitch of the base is not the pitch of what is built on it.
            "targets": part.targets,
            "bands": (*part.bands, *kept),
        }
    )


@per_language
def shipped_standards() -> dict[str, Standard]:
    """All shipped standards by instrument."""
    found = [_read_standard(path) for path in sorted(DATA.glob("*.toml"))]
    return {standard.instrument: standard for standard in found}


def shipped_standard(instrument: str) -> Standard:
    """The standard of one instrument; StandardError names those there are."""
    try:
        return shipped_standards()[instrument]
    except KeyError:
        known = ", ".join(shipped_standards())
        raise StandardError(
            said(
                "Unknown instrument “{instrument}”. Choose one of: {known}.",
                instrument=instrument,
                known=known,
            )
        ) from None
