"""What is heard, judged: pitch by its band, what it means, and why nothing can be told."""

from __future__ import annotations

import itertools
from dataclasses import replace
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.anatomy.marks import Marks
from sulvet.core.judgement.common import common, observations
from sulvet.core.judgement.corroboration import (
    corroborated_findings,
    corroborations,
    merged,
    rests_on_sound,
    suspected,
    with_sound,
)
from sulvet.core.judgement.drill_timing import DrillTiming, beats_of, time_drill
from sulvet.core.judgement.intended_note import intended_note
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
    IN_BAND,
    WATCH,
    Finding,
    Reading,
    verdict,
)
from sulvet.core.judgement.schema import Band
from sulvet.core.judgement.sound import (
    AIR_ONLY,
    NO_SOUND,
    NO_TARGET,
    NO_TONE,
    NOISY,
    VIEW,
    breath_before,
    counts_of,
    heard_measures,
    judge_sound,
    main_tone,
    sounds_like,
    voicings,
)
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.phases import Phase
from sulvet.core.sound.letters import phases_from_sound
from sulvet.core.sound.pitch import track_pitch
from sulvet.core.sound.tones import Slide, SoundAnalysis, Tone, analyse
from tests.core.test_sound import heard, quiet, tone

HOLD = [Phase("hold", 1.0, 3.0)]
PLAIN = Tone(1.0, 3.0, 880.0, "A5", 0.0, 1.0, 0.0, 4.0, None, "tongued", 0.02, 0.0, 0.0, (), 0,
             20.0, 30.0)  # fmt: skip


def told(**changes: Any) -> SoundAnalysis:
    return SoundAnalysis((replace(PLAIN, **changes),), ())


class VerdictTests(SimpleTestCase):
    def verdict(self, measure: str, instrument: str = "saxophone", **changes: Any) -> str:
        judged = judge_sound(told(**changes), HOLD, shipped_standard(instrument), True)
        return next(r.verdict for r in judged.readings if r.measure == measure)

    def test_bands_for_beginners(self) -> None:
        # Sulvet defaults: pitch within 50 cents, a fault beyond 100; unrest 15 and 30 cents.
        for cents, wanted in ((0, IN_BAND), (49, IN_BAND), (-80, WATCH), (130, FAULT),
                               (-130, FAULT)):  # fmt: skip
            self.assertEqual(self.verdict("pitch", cents=float(cents)), wanted)
        for unrest, wanted in ((10, IN_BAND), (20, WATCH), (45, FAULT)):
            self.assertEqual(self.verdict("steadiness", steadiness=float(unrest)), wanted)
        # So unsure a value is no fault.
        self.assertEqual(self.verdict("pitch", cents=130.0, cents_sd=60.0), WATCH)

    def test_what_high_low_near_and_drifting_mean(self) -> None:
        """Common practice, no source."""
        for instrument, changes, word in (
            ("saxophone", {"cents": 180.0}, "biting"),
            ("trumpet", {"cents": 180.0}, "pinching"),
            ("flute", {"cents": 180.0}, "hole turned out"),
            ("clarinet", {"cents": -180.0}, "jaw open"),
            ("horn", {"cents": -180.0}, "jaw open"),
            ("clarinet", {"cents": 70.0}, "tongue and throat"),
            ("clarinet", {"cents": 3.0}, "On the pitch"),
            ("clarinet", {"cents": 3.0, "drift": -20.0}, "sinks"),
            ("clarinet", {"cents": 3.0, "drift": 20.0}, "rises"),
        ):
            judged = judge_sound(told(**changes), HOLD, shipped_standard(instrument), True)
            self.assertIn(word, " ".join(judged.sentences), (instrument, changes))
        for family in ("brass", "flute", "single-reed", "double-reed"):
            for when in ("high", "low"):
                fitting = [v for v in voicings() if v.when == when and family in v.families]
                self.assertEqual(len(fitting), 1, (family, when))

    def test_why_nothing_can_be_told(self) -> None:
        clarinet = shipped_standard("clarinet")
        for sound, why in (
            (None, NO_SOUND),
            (SoundAnalysis((), ()), NO_TONE),
            (SoundAnalysis((), ((0.2, 1.0),), air_only=True), AIR_ONLY),
            (SoundAnalysis((), (), noisy=True), NOISY),
        ):
            judged = judge_sound(sound, HOLD, clarinet, True)
            self.assertEqual({(r.verdict, r.reason) for r in judged.readings}, {(CANT_TELL, why)})
            self.assertEqual((judged.sentences, judged.tone), ((why,), None))
        untargeted = judge_sound(told(), HOLD, clarinet, False)
        self.assertEqual(untargeted.readings[0].reason, NO_TARGET)
        self.assertEqual({r.measure for r in untargeted.readings}, {m.id for m in heard_measures()})

    def test_counts_and_the_breath_before(self) -> None:
        long = replace(PLAIN, start=2.0, end=12.6)
        self.assertEqual((counts_of(long, 60), counts_of(PLAIN, 60)), (10, 2))
        breaths = ((0.1, 0.4), (1.2, 1.95), (12.7, 13.0))
        sound = SoundAnalysis((long,), breaths)
        self.assertAlmostEqual(breath_before(sound, long) or 0, 0.75)
        self.assertIsNone(breath_before(SoundAnalysis((long,), breaths[2:]), long))

    def test_the_tone_in_the_hold_counts(self) -> None:
        early, late = replace(PLAIN, start=0.0, end=0.9), replace(PLAIN, start=1.1, end=1.8)
        merged = SoundAnalysis((early, late), ())
        self.assertEqual(main_tone(merged, HOLD), late)
        self.assertEqual(main_tone(merged, []), early)
        self.assertIsNone(main_tone(SoundAnalysis((early,), ()), HOLD))


class SoundsLikeTests(SimpleTestCase):
    def test_what_it_sounds_like_is_what_a_teacher_would_tick(self) -> None:
        clarinet = shipped_standard("clarinet")
        known = {o.id for o in observations().observations}
        for sound, likes in (
            (told(cents=180.0), ("thin-sharp",)),
            (told(cents=-180.0), ("flat-loose",)),
            (told(clearness=6.0), ("airy",)),
            (told(), ()),
            (SoundAnalysis((), (), air_only=True), ("air-only",)),
            (SoundAnalysis((), ()), ()),
            (None, ()),
        ):
            judged = judge_sound(sound, HOLD, clarinet, True)
            self.assertEqual(sounds_like(sound, judged), likes)
            self.assertLessEqual(set(likes), known)


class TogetherTests(SimpleTestCase):
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
            ({"form": 1.08, "hold": 1.02}, "Heard and seen: jaw 0.06 ± 0.01 of rest lower than"),
            ({"hold": 1.02}, "Heard alone: the jaw can't be seen"),
        ):
            self.suspects("clarinet", {"pitch": 160.0}, {"jaw_drop": jaw})
            self.assertIn(words, self.found[0].reason)
        high = {"jaw_drop": {"form": 1.02, "hold": 1.08}}
        self.suspects("clarinet", {"pitch": 160.0}, high)
        self.assertIn("Heard, not seen: jaw 0.06 ± 0.01 of rest higher than when", self.words[0])
        # Looked at in the hold alone, nothing is said of a change.
        for still, words in (
            (0.5, "Heard, not seen: the corners' stillness is in band."), (5.0, "Heard and seen."),
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


class MeantTests(SimpleTestCase):
    def test_a_note_is_taken_for_meant_only_where_no_other_could_be(self) -> None:
        horn, clarinet, sax = (
            shipped_standard("horn"),
            shipped_standard("clarinet"),
            shipped_standard("saxophone"),
        )
        # F4 is 349.2, F#6 1480.0, A5 880.0 Hz (equal temperament, A4 440).
        for standard, hz, stage, wanted in (
            (horn, 352.0, "", ("instrument", "F4")),
            # Another note of the instrument: nothing is known, and nothing is called wrong.
            (horn, 392.0, "", ("", "")),
            (horn, 392.0, "instrument", ("instrument", "")),
            # Higher than the instrument goes: a mouthpiece, and a whole tone flat.
            (clarinet, 1318.5, "", ("mouthpiece", "F#6")),
            (clarinet, 1318.5, "instrument", ("instrument", "")),
            (sax, 784.0, "", ("", "")),
            (sax, 784.0, "mouthpiece", ("mouthpiece", "A5")),
            (sax, 400.0, "neck", ("neck", "G#4")),
        ):
            self.assertEqual(
                intended_note(told(hz=hz), standard, stage, (), 440.0), wanted, (hz, stage)
            )
        # What was said of this student before is known: a tenor's mouthpiece, G5.
        said = (("mouthpiece", "G5"),)
        self.assertEqual(intended_note(told(hz=790.0), sax, "", said, 440.0), ("mouthpiece", "G5"))
        # Of a slide, or of nothing, no note is meant.
        slide = Slide(300.0, 400.0, 5.0, 4.0, 0.0, 1.2, 2.8)
        self.assertEqual(intended_note(told(hz=352.0, slide=slide), horn, "", (), 440.0), ("", ""))
        self.assertEqual(intended_note(SoundAnalysis((), ()), horn, "", (), 440.0), ("", ""))

    @given(st.floats(300.0, 400.0), st.floats(5.0, 60.0), st.floats(0.0, 60.0))
    def test_no_fault_follows_from_a_note_that_nobody_said(
        self, hz: float, high: float, watch: float
    ) -> None:
        """Whatever band of pitch a teacher sets."""
        own = Band(measure="pitch", view="sound", low=-high, high=high, watch_low=watch,
                   watch_high=watch, note="")  # fmt: skip
        standard = shipped_standard("horn").model_copy(update={"bands": (own,)})
        _, pitch = intended_note(told(hz=hz), standard, "", (), 440.0)
        if pitch:
            off = 1200 * np.log2(hz / 349.228)
            judged = judge_sound(told(cents=float(off), cents_sd=0.1), HOLD, standard, True)
            self.assertNotEqual(judged.readings[0].verdict, FAULT)


class LettersTests(SimpleTestCase):
    """Letters as the picture suggests them, put where the tone is heard."""

    SEEN = [Phase("rest", 0.0, 0.9, 0.9), Phase("form", 0.9, 1.4, 0.6), Phase("place", 1.4, 2.3),
            Phase("start", 2.3, 2.45), Phase("hold", 2.45, 4.0, 0.9),
            Phase("release", 4.0, 4.3)]  # fmt: skip

    def letters(self, sound: SoundAnalysis, last: float = 6.0) -> dict[str, tuple[float, float]]:
        found = phases_from_sound(self.SEEN, sound, last)
        for one, after in itertools.pairwise(found):
            self.assertLessEqual(one.end, after.start + 1e-9)
        return {p.name: (round(p.start, 2), round(p.end, 2)) for p in found}

    def test_a_tone_brings_start_hold_and_release(self) -> None:
        # So much of a tone's beginning and end is no hold: see core.phases.
        now = self.letters(
            SoundAnalysis((replace(PLAIN, start=2.0, end=5.0),), ((0.2, 0.6), (1.5, 1.85)))
        )
        self.assertEqual(now["breathe"], (1.5, 1.85))
        self.assertEqual((now["place"], now["start"]), ((1.4, 1.5), (2.0, 2.15)))
        self.assertEqual((now["hold"], now["release"]), ((2.15, 4.9), (4.9, 5.25)))
        # A breathy start begins with its air.
        now = self.letters(SoundAnalysis((replace(PLAIN, start=2.0, end=5.0, lead=0.4),), ()))
        self.assertEqual((now["place"], now["start"]), ((1.4, 1.6), (1.6, 2.15)))
        # A clip that begins with the tone.
        found = phases_from_sound([Phase("hold", 2.45, 4.0)], told(start=2.0, end=5.0), 6.0)
        self.assertEqual([p.name for p in found], ["start", "hold", "release"])
        # Nothing beyond the clip's end.
        now = self.letters(SoundAnalysis((replace(PLAIN, start=2.0, end=5.0),), ()), last=4.85)
        self.assertEqual(now["hold"], (2.15, 4.85))

    @given(
        st.floats(0.0, 5.0), st.floats(0.2, 4.0), st.floats(0.0, 1.5), st.floats(0.0, 4.0),
        st.floats(0.15, 1.0), st.floats(0.0, 1.0),
    )  # fmt: skip
    def test_letters_lie_one_after_the_other_within_the_clip(
        self, start: float, lasts: float, lead: float, breath: float, breathed: float, turn: float
    ) -> None:
        end = start + lasts
        slide = Slide(300.0, 400.0, 5.0, 4.0, 0.0, start + turn * lasts, end)
        for one in (None, slide):
            tone = replace(PLAIN, start=start, end=end, lead=min(lead, start), slide=one)
            found = phases_from_sound(
                self.SEEN, SoundAnalysis((tone,), ((breath, breath + breathed),)), 10.0
            )
            self.assertGreaterEqual(found[0].start, 0.0)
            self.assertLessEqual(found[-1].end, 10.0)
            self.assertTrue(all(p.end > p.start for p in found))
            for before, after in itertools.pairwise(found):
                self.assertLessEqual(before.end, after.start + 1e-9)
            # The face at rest is what all is measured against: no breath takes it away.
            if start >= 0.9 + lead:
                self.assertEqual(found[0], self.SEEN[0])

    def test_a_slide_is_a_change(self) -> None:
        slide = Slide(300.0, 400.0, 5.0, 4.0, 0.0, 3.0, 4.6)
        late = replace(PLAIN, start=2.0, end=5.0, slide=slide)
        now = self.letters(SoundAnalysis((late,), ()))
        self.assertEqual((now["hold"], now["change"]), ((2.15, 3.0), (3.0, 4.9)))
        at_once = replace(late, slide=replace(slide, begins=2.1))
        now = self.letters(SoundAnalysis((at_once,), ()))
        self.assertEqual((now["hold"], now["change"]), ((2.15, 2.75), (2.75, 4.9)))

    def test_what_tells_nothing_changes_nothing(self) -> None:
        for sound in (
            SoundAnalysis((), ((0.1, 0.8),)),
            SoundAnalysis((replace(PLAIN, start=2.4, end=2.9),), ()),
        ):
            self.assertIs(phases_from_sound(self.SEEN, sound, 6.0), self.SEEN)
        self.assertEqual(phases_from_sound([], told(), 6.0), [])
        # Of two tones the one the hold lies in.
        early, later = (
            replace(PLAIN, start=0.1, end=2.2),
            replace(PLAIN, start=2.3, end=4.0),
        )
        self.assertEqual(self.letters(SoundAnalysis((early, later), ()))["hold"], (2.45, 3.9))


class CountedTests(SimpleTestCase):
    """A drill as it was played, against how it is counted."""

    def played(self, drill: str, lengths: list[float], tempo: float = 60.0) -> DrillTiming:
        starts = np.cumsum([0.0, *(n + 1.0 for n in lengths)])
        spans = [(float(s), float(s + n)) for s, n in zip(starts, lengths, strict=False)]
        counting = common().drill(drill).counting
        assert counting is not None
        tones = tuple(replace(PLAIN, start=a, end=b) for a, b in spans)
        breathing = drill == "breath-ratio"
        sound = SoundAnalysis((), tuple(spans)) if breathing else SoundAnalysis(tones, ())
        return time_drill(sound, counting, tempo)

    def test_four_times_four(self) -> None:
        whole = self.played("four-by-four", [4.1, 3.8, 2.6, 4.6])
        self.assertEqual([b.even for b in whole.beats], [True, True, False, False])
        self.assertEqual((whole.even, whole.expected), (2, 4))
        self.assertAlmostEqual(whole.beats[2].heard, 2.6)
        # Twice as fast the same seconds are twice the counts.
        self.assertEqual(self.played("four-by-four", [2.0, 2.0], 120.0).even, 2)
        self.assertEqual(self.played("four-by-four", []).beats, ())
        # A tenth of a long tone is no more than half a count of a short one.
        self.assertEqual(self.played("mouthpiece-tone", [10.8, 8.8]).even, 1)

    def test_a_part_of_the_drill_counts_where_it_fits(self) -> None:
        # In 4 out 4 three times, then 2 and 4, 1 and 4, 1 and 8: this is its end.
        part = self.played("breath-ratio", [1.0, 4.0, 1.1, 7.8, 0.9, 8.2])
        self.assertEqual([b.counts for b in part.beats], [1, 4, 1, 8, 1, 8])
        self.assertEqual((part.even, part.expected), (6, 24))
        self.assertEqual({b.do for b in part.beats}, {"in", "out"})
        # Lengths that are the drill's own are even, whichever stretch of it they are.
        counting = common().drill("breath-ratio").counting
        assert counting is not None
        whole = [b.counts for b in beats_of(counting) if b.do in ("in", "out")]
        for first, last in itertools.combinations(range(len(whole) + 1), 2):
            lengths = [float(n) for n in whole[first:last]]
            self.assertEqual(self.played("breath-ratio", lengths).even, last - first)
        # More than there are beats is not looked at.
        self.assertEqual(len(self.played("four-ones", [1.0] * 20).beats), 16)


class SlideTests(SimpleTestCase):
    def test_a_siren_up_and_back(self) -> None:
        up_and_back = lambda t: np.interp(t, [0.4, 1.6, 2.8], [0, 700, 0])  # noqa: E731
        sound = heard(quiet(0.4), tone(349.23, 3.2, up_and_back), quiet(0.3))
        (one,) = analyse(track_pitch(sound, 150.0, 1000.0), sound).tones
        assert one.slide is not None
        self.assertAlmostEqual(one.slide.semitones, 7.0, delta=0.4)
        self.assertLess(abs(one.slide.back), 20)
        # 40 of 700 cents are left behind in 1.2 s, and come to in as many.
        self.assertAlmostEqual(one.slide.begins, 0.8 + 1.2 * 40 / 700, delta=0.12)
        self.assertAlmostEqual(one.slide.ends, 3.2 - 1.2 * 40 / 700, delta=0.12)
        self.assertIsNone(one.steadiness)
        steps = lambda t: 100 * np.floor(np.interp(t, [0.4, 2.8], [0, 7.9]))  # noqa: E731
        sound = heard(quiet(0.4), tone(349.23, 3.2, steps), quiet(0.3))
        (jerky,) = analyse(track_pitch(sound, 150.0, 1000.0), sound).tones
        assert jerky.slide is not None
        self.assertEqual((one.slide.smooth, jerky.slide.smooth), (True, False))
        self.assertEqual((one.slide.returns, jerky.slide.returns), (True, False))
        # A long note with a crack stays a note.
        cracked = lambda t: 500 * np.exp(-(((t - 1.5) / 0.04) ** 2))  # noqa: E731
        sound = heard(quiet(0.4), tone(349.23, 3.0, cracked), quiet(0.3))
        self.assertTrue(
            all(t.slide is None for t in analyse(track_pitch(sound, 150, 1000), sound).tones)
        )
