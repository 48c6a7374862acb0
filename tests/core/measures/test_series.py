"""Every fault by every instrument and school: called where it is drawn, silent where it is right.

The truth is put in the place of what is measured, so that only standards and rules are tried.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import cache
from unittest import mock

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy.landmarks import ALL_EQUIPMENT, HELD_BY, SIDE_HELD_BY, TAKE_IDS
from sulvet.core.anatomy.marks import Bools, Marks
from sulvet.core.judgement.common import common
from sulvet.core.judgement.judge import judge
from sulvet.core.judgement.results import CANT_TELL, FAULT, IN_BAND, Judgement
from sulvet.core.judgement.schema import Condition, Rule
from sulvet.core.judgement.standards import Standard, shipped_standards
from sulvet.core.measures.catalogue import Measure, catalogue
from sulvet.core.measures.frames import TakeContext
from sulvet.core.measures.motion import Moved
from sulvet.core.measures.series import Measured, Series
from sulvet.core.measures.series import measure as real_measure
from sulvet.core.phases import Phase
from tests.core.faces import take, with_corners

PHASES = [
    Phase("rest", 0.0, 1.0), Phase("breathe", 1.2, 1.9), Phase("hold", 2.0, 4.5),
    Phase("release", 4.5, 4.9),
]  # fmt: skip
#: What is measured is this sure, in hundredths of the band's own width.
SURE = 1e-3
#: Where nothing is out: no change from rest.
NEUTRAL = {"mouth_width": 1.0, "rim_upper_share": 0.5, "shank_angle": 85.0}


def on_frames(view: str, standard: Standard) -> tuple[Measure, ...]:
    return catalogue().on_frames(view, standard.instrument)


def right(standard: Standard, name: str, view: str, school: str) -> float:
    """A value that is right for this school."""
    band = standard.band(name, view, school) or standard.band(name, view, school, "breathe")
    if band is None:
        ratios = {m.id for m in on_frames(view, standard) if m.against == "ratio"}
        return NEUTRAL.get(name, 1.0 if name in ratios or name == "chin_texture" else 0.0)
    if band.low is None:
        return float(band.high or 0.0) - 0.5
    return band.low + 0.5 if band.high is None else (band.low + band.high) / 2


def out(standard: Standard, condition: Condition, view: str, school: str, phase: str) -> float:
    """A value clearly beyond what a condition allows, as far as a body goes."""
    least, most = catalogue().measure(condition.measure).possible or (-np.inf, np.inf)
    return float(np.clip(_beyond(standard, condition, view, school, phase), least, most))


def _beyond(standard: Standard, condition: Condition, view: str, school: str, phase: str) -> float:
    if condition.above is not None:
        return condition.above * 1.6 + 0.4
    if condition.below is not None:
        return condition.below * 0.5 - 0.4
    band = standard.band(condition.measure, view, school, phase)
    assert band is not None, condition
    width = 1.0 + abs((band.high or 0) - (band.low or 0))
    if condition.outside == "low" or band.high is None:
        assert band.low is not None
        return band.low - band.watch_low - width
    return band.high + band.watch_high + width


@cache
def plain_face() -> Marks:
    return take(with_corners(0.0, 1.0))


@cache
def seen_face() -> Measured:
    """A face frame that nothing speaks against; its own values are not used."""
    face = plain_face()
    return real_measure(face, face.seconds < 1.0, TakeContext("front", "horn"))


def judged(
    standard: Standard,
    view: str,
    school: str,
    values: dict[str, float],
    with_equipment: bool = True,
) -> Judgement:
    """What is judged when these are the values of all frames."""
    face = plain_face()
    marks = Marks.empty(TAKE_IDS, face.seconds)
    for name in face.ids:
        column, from_ = marks.column(name), face.column(name)
        marks.xy[:, column] = face.xy[:, from_]
        marks.sigma[:, column] = marks.drift[:, column] = 0.3
        marks.hidden[:, column] = False
    held = (HELD_BY if view == "front" else SIDE_HELD_BY).get(standard.family, "")
    if with_equipment and held:
        for mark in ALL_EQUIPMENT[held]:
            marks.xy[:, marks.column(mark.id)] = 300.0
            marks.hidden[:, marks.column(mark.id)] = False

    def truth(given: Marks, at_rest: Bools, facts: TakeContext) -> Measured:
        seen = seen_face()
        names = {m.id: m.unit for m in on_frames(view, standard)} | {"chin_texture": "ratio"}
        series = {
            name: Series(name, unit, np.full(len(given), values.get(name, np.nan)),
                         np.full(len(given), SURE))
            for name, unit in names.items()
        }  # fmt: skip
        return replace(seen, series=series)

    def moves(given: Marks, measured: Measured, phases: list[Phase]) -> list[Moved]:
        return [
            Moved(m, place, values[m.id], SURE)
            for m in catalogue().of_source("motion", view)
            for place, phase in enumerate(phases)
            if m.id in values and phase.name != "rest"
        ]

    with (
        mock.patch("sulvet.core.judgement.judge.measure", truth),
        mock.patch("sulvet.core.judgement.judge.motions", moves),
    ):
        return judge(marks, PHASES, standard, view, school)


def called_in(result: Judgement) -> list[tuple[str, str]]:
    return [(f.fault, f.verdict) for f in result.findings if f.verdict != CANT_TELL]


def faults_in(result: Judgement) -> set[str]:
    return {f.fault for f in result.findings if f.verdict == FAULT}


def cases() -> Iterator[tuple[Standard, str, str]]:
    for standard in shipped_standards().values():
        for school in standard.schools:
            for view in ("front", "side"):
                yield standard, school.id, view


def values_of(standard: Standard, view: str, school: str) -> dict[str, float]:
    names = [m.id for m in on_frames(view, standard)] + ["chin_texture"]
    names += [m.id for m in catalogue().of_source("motion", view)]
    return {name: right(standard, name, view, school) for name in names}


def applies(rule: Rule, standard: Standard, view: str, school: str) -> bool:
    return rule.applies(standard, view, school) and all(
        c.measure in values_of(standard, view, school)
        and (not c.outside or standard.band(c.measure, view, school, rule.phases[0]))
        for c in rule.all
    )


class TableTests(SimpleTestCase):
    def test_a_mouth_that_is_right_for_its_school_has_no_fault(self) -> None:
        for standard, school, view in cases():
            with self.subTest(f"{standard.instrument} {school} {view}"):
                values = values_of(standard, view, school)
                result = judged(standard, view, school, values)
                self.assertEqual(called_in(result), [])
                # Every band was looked at, and found kept.
                in_hold = {r.measure: r.verdict for r in result.readings if r.phase == "hold"}
                banded = {m for m in values if standard.band(m, view, school)}
                self.assertGreater(len(banded), 2)
                self.assertEqual({in_hold.get(m) for m in banded}, {IN_BAND})

    def test_every_fault_is_called_where_it_is_drawn(self) -> None:
        called: set[str] = set()
        for standard, school, view in cases():
            for rule in common().rules:
                if not applies(rule, standard, view, school):
                    continue
                values = values_of(standard, view, school)
                for condition in rule.all:
                    values[condition.measure] = out(
                        standard, condition, view, school, rule.phases[0]
                    )
                with self.subTest(f"{standard.instrument} {school} {rule.fault}"):
                    found = judged(standard, view, school, values)
                    self.assertIn((rule.fault, FAULT), called_in(found))
                    called.add(rule.fault)
        # Close-ups are judged by themselves; see test_close_ups.
        own = {rule.fault for rule in common().rules if rule.view != "close-up"}
        self.assertEqual(called, own)

    def test_what_another_school_or_family_wants_is_no_fault_here(self) -> None:
        """Facts of the trade, common practice, no source."""
        table = shipped_standards()
        for instrument, school, view, change, silent in (
            # Both lips over the teeth are right on double reeds.
            ("oboe", None, "side", {"upper_red_side": 0.3}, "double-lip"),
            ("bassoon", None, "side", {"upper_red_side": 0.3}, "double-lip"),
            ("clarinet", "double-lip", "side", {"upper_red_side": 0.3}, "double-lip"),
            # Gathered corners are right on single reeds, no pucker.
            ("clarinet", "gathered", "front", {"mouth_width": 0.8}, "pucker"),
            ("saxophone", None, "front", {"mouth_width": 0.76}, "pucker"),
            # One third upper lip is right for one school of trumpet and low for the other.
            ("trumpet", "one-third", "front", {"rim_upper_share": 0.33}, "rim-low"),
            ("horn", "seven-eighths", "front", {"rim_upper_share": 0.875}, "rim-high"),
        ):  # fmt: skip
            standard = table[instrument]
            school = school or standard.schools[0].id
            values = values_of(standard, view, school) | change
            faults = {fault for fault, _ in called_in(judged(standard, view, school, values))}
            self.assertNotIn(silent, faults, instrument)
        low = judged(
            table["trumpet"], "front", "half",
            values_of(table["trumpet"], "front", "half") | {"rim_upper_share": 0.33},
        )  # fmt: skip
        self.assertIn("rim-low", faults_in(low))

    def test_published_places_of_the_rim_lie_in_their_schools_band(self) -> None:
        """Horn two thirds: Farkas 1956; cornet one third: Arban 1864 (both from memory)."""
        for instrument, school, share in (
            ("horn", "two-thirds", 2 / 3),
            ("cornet", "one-third", 1 / 3),
        ):
            band = shipped_standards()[instrument].band("rim_upper_share", "front", school)
            assert band is not None and band.low is not None and band.high is not None
            self.assertTrue(band.low < share < band.high, instrument)

    def test_pitches_are_those_teachers_aim_at(self) -> None:
        """Clarinet mouthpiece and barrel F#6, alto mouthpiece A5, trumpet buzz F4: common
        practice, no source; frequencies by equal temperament, A4 = 440 Hz (ISO 16:1975)."""
        for instrument, hertz in (("clarinet", 1479.98), ("saxophone", 880.0), ("trumpet", 349.23)):
            first = next(
                t for t in shipped_standards()[instrument].targets if t.stage == "mouthpiece"
            )
            names = ("C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B")
            steps = names.index(first.pitch[:-1]) + 12 * int(first.pitch[-1]) - 57
            self.assertAlmostEqual(440 * 2 ** (steps / 12), hertz, delta=0.01)
        for standard in shipped_standards().values():
            self.assertEqual(set(standard.film), {"front", "side"})

    def test_what_nobody_has_marked_is_not_claimed(self) -> None:
        wrong = {
            "rim_upper_share": 0.1, "depth": 60.0, "hole_to_lip": 30.0, "shank_angle": 10.0,
        }  # fmt: skip
        claimed = 0
        for standard, school, view in cases():
            values = values_of(standard, view, school) | wrong
            with self.subTest(f"{standard.instrument} {view}"):
                result = judged(standard, view, school, values, with_equipment=False)
                self.assertEqual(faults_in(result), set())
                told = {r.measure for r in result.readings}
                self.assertGreater(len(told), 3)
                self.assertEqual({catalogue().measure(m).equipment for m in told}, {""})
                # The very same is claimed once somebody has marked it.
                claimed += bool(faults_in(judged(standard, view, school, values)))
        self.assertGreater(claimed, len(shipped_standards()))

    def test_what_can_not_be_seen_is_said_and_never_a_fault(self) -> None:
        for standard, school, view in cases():
            with self.subTest(f"{standard.instrument} {view}"):
                result = judged(standard, view, school, {})
                self.assertEqual({f.verdict for f in result.findings}, {CANT_TELL})
                self.assertEqual({r.verdict for r in result.readings}, {CANT_TELL})
                self.assertTrue(all(f.reason for f in result.findings))
                self.assertTrue(all(r.reason for r in result.readings))
                always = {m.id for m in on_frames(view, standard) if m.always}
                self.assertLessEqual(always, {r.measure for r in result.readings})

    def test_all_figures_say_where_they_come_from(self) -> None:
        for standard in shipped_standards().values():
            for band in standard.bands:
                self.assertGreater(len(band.note), 20, (standard.instrument, band.measure))
        for rule in common().rules:
            self.assertGreater(len(rule.note), 20, rule.fault)
