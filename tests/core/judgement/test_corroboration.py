"""Eye and ear together."""

from __future__ import annotations

from dataclasses import replace

from django.test import SimpleTestCase

from sulvet.core.anatomy.marks import Marks
from sulvet.core.judgement.common import common
from sulvet.core.judgement.corroboration import (
    corroborated_findings,
    corroborations,
    merged,
    rests_on_sound,
    suspected,
    with_sound,
)
from sulvet.core.judgement.judge import judge
from sulvet.core.judgement.rejudge import (
    StoredTake,
    changed_measures,
    measures_judged_with,
    rejudged_findings,
)
from sulvet.core.judgement.results import (
    CANT_TELL,
    FAULT,
    WATCH,
    Finding,
    Reading,
    verdict,
)
from sulvet.core.judgement.schema import Band
from sulvet.core.judgement.sound import (
    VIEW,
    judge_sound,
)
from sulvet.core.judgement.standards import shipped_standard
from tests.core.judgement.sounds import HOLD, told


class CorroborationTests(SimpleTestCase):
    """What needs eye and ear: which of the two heard and saw it."""

    def suspects(
        self, instrument: str, heard: dict[str, float], eye: dict[str, dict[str, float]]
    ) -> list[tuple[str, str]]:
        standard = shipped_standard(instrument)
        school = standard.schools[0].id

        def read(measure: str, phase: str, value: float, spread: float, view: str) -> Reading:
            told = verdict(value, spread, standard.band(measure, view, school))
            return Reading(measure, phase, value, spread, "", told)

        ear = [read(m, "hold", v, 2.0, VIEW) for m, v in heard.items()]
        seen = [read(m, phase, v, 0.01, "front") for m, told in eye.items()
                for phase, v in told.items()]  # fmt: skip
        self.found = list(corroborated_findings(standard, [*ear, *seen], "front", school))
        told = suspected(standard, [*ear, *seen], "front", school)
        self.words = [one.sentence for one in told]
        return [(one.fault, one.saw) for one in told]

    def test_biting_is_high_with_a_jaw_that_has_closed(self) -> None:
        high = {"pitch": 160.0}
        for jaw, saw in (
            ({"form": 1.08, "hold": 1.02}, "seen"),
            ({"place": 1.08, "hold": 1.02}, "seen"),
            ({"form": 1.08, "hold": 1.08}, "not seen"),
            ({"form": 1.02, "hold": 1.08}, "not seen"),
            # It closed by less than both readings are unsure of.
            ({"form": 1.08, "hold": 1.07}, "not seen"),
            ({"hold": 1.02}, "can't be seen"),
            ({}, "can't be seen"),
        ):
            suspects = self.suspects("clarinet", high, {"jaw_drop": jaw})
            self.assertEqual(suspects, [("biting", saw)], jaw)
            # What the picture speaks against is left to the teacher.
            wanted = {"seen": [FAULT], "can't be seen": [WATCH], "not seen": []}[saw]
            self.assertEqual([f.verdict for f in self.found], wanted, jaw)
        self.assertEqual(self.suspects("trombone", high, {}), [])
        # Watched is no suspicion, nor is the other side of the band.
        self.assertEqual(self.suspects("clarinet", {"pitch": 90.0}, {}), [])
        self.assertEqual([f for f, _ in self.suspects("clarinet", {"pitch": -160.0}, {})],
                         ["jaw-drop"])  # fmt: skip

    def test_a_dropped_jaw_is_flat_and_hiss_is_air_that_escapes(self) -> None:
        dropped = {"jaw_drop": {"form": 1.0, "hold": 1.06}}
        self.assertEqual(self.suspects("oboe", {"pitch": -180.0}, dropped),
                         [("jaw-drop", "seen")])  # fmt: skip
        hiss = {"airiness": 6.0}
        for still, saw in ((5.0, "seen"), (0.5, "not seen")):
            eye = {"stillness": {"hold": still}}
            self.assertEqual(self.suspects("horn", hiss, eye), [("escaping-air", saw)])
        for tall, saw in ((5.0, "seen"), (1.5, "not seen")):
            eye = {"aperture_height": {"hold": tall}}
            self.assertIn(("wide-aperture", saw), self.suspects("flute", hiss, eye))
        for tall, saw in ((0.1, "seen"), (1.5, "not seen")):
            eye = {"aperture_height": {"hold": tall}}
            self.assertIn(("pinched-aperture", saw), self.suspects("flute", {"pitch": 160.0}, eye))
        self.assertEqual(self.suspects("horn", {"airiness": 25.0}, {}), [])
        # The eye's own evidence stands beside the ear's.
        self.suspects("horn", hiss, {"stillness": {"hold": 5.0}})
        (merged,) = self.found
        self.assertEqual([e.measure for e in merged.evidence], ["airiness", "stillness"])
        for pair in corroborations():
            fault = common().fault(pair.fault)
            self.assertLessEqual(set(pair.families), set(fault.families or pair.families))

    def test_each_says_which_of_the_two_it_was(self) -> None:
        for jaw, words in (
            (
                {"form": 1.08, "hold": 1.02},
                "Heard and seen: jaw lower by 6 ± 1 % of its value at rest than",
            ),
            ({"hold": 1.02}, "Heard alone: the jaw can't be seen"),
        ):
            self.suspects("clarinet", {"pitch": 160.0}, {"jaw_drop": jaw})
            self.assertIn(words, self.found[0].reason)
        high = {"jaw_drop": {"form": 1.02, "hold": 1.08}}
        self.suspects("clarinet", {"pitch": 160.0}, high)
        self.assertIn(
            "Heard, not seen: jaw higher by 6 ± 1 % of its value at rest than when", self.words[0]
        )
        # Looked at in the hold alone, nothing is said of a change.
        for still, words in (
            (0.5, "Heard, not seen: the corners' stillness is within standard."),
            (5.0, "Heard and seen."),
        ):  # fmt: skip
            self.suspects("horn", {"airiness": 6.0}, {"stillness": {"hold": still}})
            self.assertEqual(self.words, [words])

    def test_of_one_fault_the_surer_finding_stays(self) -> None:
        def finding(fault: str, verdict: str, phase: str = "hold") -> Finding:
            return Finding(fault, verdict, phase, None, None, None, ())

        wide = "wide-aperture"
        for eye, ear, stays in (
            (WATCH, FAULT, FAULT), (CANT_TELL, WATCH, WATCH), (FAULT, WATCH, FAULT),
            (WATCH, WATCH, WATCH), ("", WATCH, WATCH), (CANT_TELL, "", CANT_TELL),
        ):  # fmt: skip
            seen = [finding("smile", FAULT)] + [finding(wide, eye)] * bool(eye)
            heard = [finding(wide, ear)] * bool(ear)
            kept = {f.fault: f.verdict for f in merged(seen, heard)}
            self.assertEqual(kept, {"smile": FAULT, wide: stays})
        # Another phase is another finding.
        elsewhere = merged([finding(wide, FAULT, "start")], [finding(wide, WATCH)])
        self.assertEqual(len(list(elsewhere)), 2)

    def test_a_changed_band_takes_the_ear_s_finding_away_and_brings_it_back(self) -> None:
        standard = shipped_standard("clarinet")
        own = standard.schools[0].id
        judged = judge(Marks.empty(("ch_r", "ch_l"), [0.0, 0.1]), HOLD, standard, "front", own)
        heard = judge_sound(told(cents=160.0), HOLD, standard, True)
        whole = with_sound(judged, heard, standard, "front", own)
        (biting,) = (f for f in whole.findings if f.fault == "biting")
        self.assertEqual((biting.verdict, biting.start, biting.end), (WATCH, 1.0, 3.0))
        self.assertTrue(rests_on_sound(biting))
        self.assertIn("pitch", {r.measure for r in whole.readings})
        stored = StoredTake("front", own, tuple(HOLD), whole.readings, whole.findings)
        self.assertEqual(rejudged_findings(stored, standard), whole.findings)
        wide = Band(measure="pitch", view="sound", low=-300.0, high=300.0, note="")
        wider = standard.model_copy(update={"bands": (*standard.bands, wide)})
        only = changed_measures(standard, wider)
        self.assertEqual(only, {"pitch"})
        self.assertEqual(measures_judged_with(only), {"pitch", "jaw_drop", "aperture_height"})
        gone = rejudged_findings(stored, wider, only)
        self.assertEqual(set(whole.findings) - set(gone), {biting})
        back = rejudged_findings(replace(stored, findings=gone), standard, only)
        self.assertEqual(back, whole.findings)
