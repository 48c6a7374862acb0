"""Words that several pages choose from."""

from __future__ import annotations

from typing import Literal, get_args

View = Literal["front", "side"]
Verdict = Literal["in band", "watch", "fault", "can't tell", "no band", "added"]
Answer = Literal["confirmed", "dismissed", "added"]
PhaseName = Literal["rest", "form", "place", "breathe", "start", "hold", "change", "release"]
TakeState = Literal["waiting", "working", "needs-marks", "ready", "failed"]
Purpose = Literal["check", "recheck"]
Result = Literal["", "fault", "watch", "cant-tell", "unchecked", "clear"]
ChairState = Literal[
    "no-consent", "consent-ended", "nothing-filmed", "being-read", "failed", "needs-marks",
    "new-take", "recheck-due", "keep-over", "focus", "watch", "clear", "cant-tell", "unchecked",
]  # fmt: skip
MarkSource = Literal["found", "placed"]
TrackSource = Literal["none", "followed", "found", "placed"]
DrillStage = Literal["lips", "mouthpiece", "instrument"]
ToneStart = Literal["tongued", "soft", "breathy", "slurred"]
ToneEnd = Literal["clean", "sagging", "tongued", "slurred"]

# For the schema, which names a choice by its members.
VERDICTS, ANSWERS, VIEWS = get_args(Verdict), get_args(Answer), get_args(View)
RESULTS, CHAIR_STATES = get_args(Result), get_args(ChairState)
PURPOSES, TAKE_STATES = get_args(Purpose), get_args(TakeState)
