"""A teacher's own standards: what they would change, and what they change."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.test import tag
from django.urls import reverse

from sulvet.calibration.standard_effect import effect, rejudge_all
from sulvet.core.judgement import rejudge
from sulvet.core.judgement.corroboration import with_sound
from sulvet.core.judgement.rejudge import (
    StoredTake,
    changed_measures,
    rejudged_findings,
    rejudged_readings,
)
from sulvet.core.judgement.results import (
    CANT_TELL,
    FAULT,
    IN_BAND,
    NO_BAND,
    WATCH,
    Judgement,
    Reading,
)
from sulvet.core.judgement.schema import Edges
from sulvet.core.judgement.sound import judge_sound
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.language import speaking
from sulvet.core.phases import Phase
from sulvet.demo import readings
from sulvet.demo.scenario import STUDENTS
from sulvet.takes.facts import TakeFacts
from sulvet.takes.sound import sound_from_plain
from sulvet.takes.uploads import add_read_take
from tests.base import TODAY, BandTestCase
from tests.core.judging import DemoCase, demo_case
from tests.standards.base import WIDTH, StandardCase


@tag("database")
class AgainTests(BandTestCase):
    def stored(self, name: str) -> tuple[StoredTake, str]:
        case = demo_case(name)
        result = self.judged(case)
        return (
            StoredTake(
                case.view, case.school, tuple(case.outcome.phases), result.readings, result.findings
            ),
            case.standard.instrument,
        )

    def judged(self, case: DemoCase) -> Judgement:
        """By eye and ear, from the marks and the tones."""
        heard = readings.heard(case.take.reading)
        sound = judge_sound(
            sound_from_plain(heard["told"]), case.outcome.phases, case.standard,
            bool(heard["pitch"]),
        )  # fmt: skip
        return with_sound(case.judged(), sound, case.standard, case.view, case.school)

    def test_the_same_standard_changes_nothing_on_any_demo_take(self) -> None:
        for chair in STUDENTS:
            for take in chair.takes:
                stored, instrument = self.stored(take.name)
                with self.subTest(take.name):
                    standard = shipped_standard(instrument)
                    self.assertEqual(rejudged_readings(stored, standard), stored.readings)
                    self.assertEqual(rejudged_findings(stored, standard), stored.findings)

    def test_another_band_gives_what_judging_the_marks_gives(self) -> None:
        """Against the whole way: the take judged from its marks by the changed standard."""
        rim = "rim_upper_share|front|hold|two-thirds"
        low = Edges(low=0.30, high=0.55, watch_low=0.04, watch_high=0.04)
        standard = shipped_standard("horn").changed({rim: low}, 1)
        chair = next(s for s in STUDENTS if s.name == "Edda Marschall")
        for take in chair.takes:
            stored, _ = self.stored(take.name)
            whole = self.judged(replace(demo_case(take.name), standard=standard))
            again = rejudged_findings(
                stored, standard, changed_measures(shipped_standard("horn"), standard)
            )
            self.assertEqual(again, rejudged_findings(stored, standard))
            self.assertEqual(rejudged_readings(stored, standard), whole.readings)
            told = [(f.fault, f.verdict, f.phase, f.evidence) for f in again]
            self.assertEqual(
                told, [(f.fault, f.verdict, f.phase, f.evidence) for f in whole.findings], take.name
            )

    def test_a_fault_on_two_limits_is_as_sure_as_the_limits_are_now(self) -> None:
        """A smile needs risen corners and a wider mouth: its evidence is told by today's edges."""
        case = demo_case("edda-front-16")
        stored, instrument = self.stored(case.take.name)
        old = next(f for f in stored.findings if f.fault == "smile")
        self.assertEqual(old.verdict, FAULT)
        near = Edges(low=-6.0, high=4.5, watch_low=1.0, watch_high=0.0)
        standard = shipped_standard(instrument).changed({"corner_rise|front|hold|": near}, 1)
        new = next(f for f in rejudged_findings(stored, standard) if f.fault == "smile")
        edges = {e.measure: e.edge for e in old.evidence}
        self.assertEqual({e.measure: e.edge for e in new.evidence}, edges | {"corner_rise": 4.5})
        sure = all(abs(e.value - e.edge) > e.uncertainty for e in new.evidence)
        self.assertEqual(new.verdict, FAULT if sure else WATCH)

    def test_of_several_holds_the_first_stands_for_all(self) -> None:
        names = ["rest", "hold", "release", "hold", "rest"]
        phases = tuple(Phase(name, float(n), n + 1.0) for n, name in enumerate(names))
        self.assertEqual([p.start for p in rejudge._once(phases)], [0.0, 1.0, 2.0, 4.0])

    def test_what_one_band_can_t_tell_a_wider_one_may(self) -> None:
        narrow = shipped_standard("clarinet")
        wide = Edges(low=0.0, high=30.0, watch_low=5.0, watch_high=5.0)
        key = next(b.key for b in narrow.bands if b.measure == "depth")
        wider = narrow.changed({key: wide}, 1)
        depth = Reading("depth", "hold", 13.0, 12.0, "mm", NO_BAND)
        stored = StoredTake("side", narrow.schools[0].id, (Phase("hold", 0.0, 2.0),), (depth,), ())
        for standard, told in ((narrow, CANT_TELL), (wider, IN_BAND), (narrow, CANT_TELL)):
            (reading,) = rejudged_readings(stored, standard)
            self.assertEqual((reading.verdict, reading.reason != ""), (told, told == CANT_TELL))
            found = rejudged_findings(stored, standard)
            unsure = {f.fault: f.reason for f in found if f.verdict == CANT_TELL}
            faults = {"too-little-mouthpiece", "too-much-mouthpiece"} & set(unsure)
            self.assertEqual(len(faults), 2 if told == CANT_TELL else 0)
            self.assertEqual({unsure[fault] for fault in faults}, {reading.reason} - {""})
            stored = replace(stored, readings=(reading,), findings=found)


@tag("database")
class StandardTests(StandardCase):
    def test_what_is_kept_of_it_is_english_whoever_changes_it(self) -> None:
        made = self.add_ready(rise=0.0, width=1.02)
        made.readings.filter(measure="mouth_width").update(uncertainty=2.0, verdict=IN_BAND)
        old = shipped_standard("horn")
        edges = Edges(low=0.8, high=1.1, watch_low=0.05, watch_high=0.05)
        with speaking("de"):
            rejudge_all(self.teacher, old, old.changed({WIDTH: edges}, 1))
        kept = made.readings.get(measure="mouth_width", phase="hold")
        self.assertEqual((kept.verdict, kept.reason[:11]), (CANT_TELL, "The reading"))

    def test_a_change_is_shown_before_and_counts_after_and_goes_back(self) -> None:
        made = self.add_ready(rise=0.0, width=1.02)
        address = reverse("take", args=[made.pk])

        def width() -> str:
            rows = self.client.get(address).json()["readings"]
            return str(next(r for r in rows if r["measure"] == "mouth_width")["verdict"])

        self.assertEqual(width(), "in band")
        told = self.sent("post", reverse("standard-effect", args=["horn"]),
                         {"bands": {WIDTH: self.WIDE}})  # fmt: skip
        self.assertEqual((told["takes"], told["readings"]), (1, 1))
        self.assertEqual(made.readings.get(measure="mouth_width", phase="hold").verdict, "in band")
        page = self.save(self.WIDE, words="narrower for us")
        self.assertEqual((page["version"], self.band(page)["changed"]), ("horn 1.1", True))
        self.assertEqual(self.band(page)["base"]["high"], 1.04)
        # In the rows at once, and the same when the take is opened and judged by its marks.
        self.assertNotEqual(
            made.readings.get(measure="mouth_width", phase="hold").verdict, "in band"
        )
        self.assertNotEqual(width(), "in band")
        self.assertEqual(self.client.get(address).json()["standard"], "horn 1.1")
        page = self.sent("put", self.address, {"bands": {}, "words": "default"})
        self.assertEqual([v["edition"] for v in page["versions"]], [2, 1])
        self.assertFalse(self.band(page)["changed"])
        self.assertEqual(width(), "in band")

    def test_faults_come_and_go_with_the_band(self) -> None:
        take = next(t for s in STUDENTS for t in s.takes if t.name == "edda-front-12")
        facts = TakeFacts("front", "check", TODAY)
        made = add_read_take(self.student, take.clip, facts, readings.load(take.reading))
        horn = shipped_standard("horn")
        self.assertEqual(effect(self.teacher, horn, horn).rows(), [])
        rim = "rim_upper_share|front|hold|two-thirds"
        for low, high, rows in (
            (0.30, 0.55, [{"fault": "rim-low", "name": "Rim too low", "came": 0, "went": 1}]),
            (0.10, 0.30, [{"fault": "rim-low", "name": "Rim too low", "came": 0, "went": 1},
                          {"fault": "rim-high", "name": "Rim too high", "came": 1, "went": 0}]),
        ):  # fmt: skip
            band = {rim: {"low": low, "high": high, "watch_low": 0.04, "watch_high": 0.04}}
            told = self.sent("post", reverse("standard-effect", args=["horn"]), {"bands": band})
            self.assertEqual(told["faults"], rows)
        self.assertTrue(made.findings.filter(fault="rim-low", verdict="fault").exists())
        self.sent("put", self.address, {"bands": band})
        self.assertFalse(made.findings.filter(fault="rim-low").exists())
        self.assertTrue(made.findings.filter(fault="rim-high", verdict="fault").exists())

    def test_how_often_the_teacher_agrees(self) -> None:
        answers = ["confirmed"] * 3 + ["dismissed"] * 4 + [""] * 2
        for answer in answers:
            made = self.add_ready(rise=9.0 if answer else 0.0, width=1.13 if answer else 1.0)
            self.sent("patch", reverse("take", args=[made.pk]), {"read": True})
            if answer:
                self.sent("put", reverse("decisions", args=[made.pk]),
                          {"fault": "smile", "phase": "hold", "answer": answer,
                           "reason": "laughed"})  # fmt: skip
        body = {"fault": "pucker", "phase": "hold", "answer": "added"}
        self.sent("put", reverse("decisions", args=[made.pk]), body)
        rows = {r["fault"]: r for r in self.page()["agreement"]}
        smile = rows["smile"]
        self.assertEqual([smile[k] for k in ("confirmed", "dismissed", "added", "neither")],
                         [3, 4, 0, 2])  # fmt: skip
        self.assertTrue(smile["low"] < smile["kappa"] < smile["high"])
        self.assertEqual((rows["pucker"]["added"], rows["pucker"]["kappa"]), (1, None))

    def test_a_zone_is_dragged_on_the_drawing(self) -> None:
        address = reverse("standard-zones", args=["horn"])
        body: dict[str, Any] = {"bands": {}, "school": "two-thirds", "view": "front"}
        first = self.sent("post", address, body)
        self.assertEqual(first["bands"], {})
        outer = max(x for x, _ in first["drawing"]["zones"]["ch_l"])
        drag = {"zone": "ch_l", "x": outer + 0.05, "y": 0.0}
        told = self.sent("post", address, {**body, "drag": drag})
        self.assertEqual(told["told"], WIDTH)
        self.assertAlmostEqual(told["bands"][WIDTH]["high"], 1.14, delta=0.03)
        self.assertGreater(max(x for x, _ in told["drawing"]["zones"]["ch_l"]), outer + 0.03)
        for odd, words in (({"drag": {**drag, "zone": "depth"}}, "no such zone"),
                           ({"school": "half"}, "has no embouchure style")):  # fmt: skip
            self.assertIn(words, self.sent("post", address, {**body, **odd}, 400)["detail"])
