"""Shapes of takes on the wire; the front end's types are made from these."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers as s

from sulvet.accounts.plain import Plain
from sulvet.core.phases import PHASES
from sulvet.takes.models import Decision, Take

CHAIR_STATES = (
    "no-consent", "nothing-filmed", "being-read", "failed", "needs-marks",
    "new-take", "recheck-due", "keep-over", "focus", "watch", "clear", "cant-tell",
)  # fmt: skip
#: Left or right, under or above; and which way a profile looks.
SIDES = ((-1, "left or under"), (1, "right or above"))
VERDICTS = ("in band", "watch", "fault", "can't tell", "no band", "added")


class PointField(s.ListField):
    """x and y in rest mouth widths, y up."""

    child = s.FloatField()


class ShapeSerializer(Plain):
    """Landmarks of one mouth; ``covered`` names those that could not be seen."""

    points = s.DictField(child=PointField(min_length=2, max_length=2))
    covered = s.ListField(child=s.CharField())


class LineSerializer(Plain):
    """A line of the drawing through landmarks."""

    part = s.ChoiceField(["lips", "skin", "thing"])
    points = s.ListField(child=s.CharField())
    optional = s.ListField(child=s.CharField())
    form = s.ChoiceField(["smooth", "straight", "under", "beside"])


class DimensionSerializer(Plain):
    """How a measure is shown."""

    measure = s.CharField()
    kind = s.ChoiceField(
        ["across", "upright", "rise", "aside", "share", "tilt", "lean", "behind", "along"]
    )
    ends = s.ListField(child=s.CharField())
    side = s.ChoiceField(SIDES)
    always = s.BooleanField()
    band = s.CharField(allow_blank=True)


class RowField(s.ListField):
    """Numbers of one frame."""

    child = s.FloatField()


class SmallDrawingSerializer(Plain):
    """The measured drawing of one take: the mouth in the hold over the rest face."""

    view = s.ChoiceField(Take.View.choices)
    lines = LineSerializer(many=True)
    dimensions = DimensionSerializer(many=True)
    rest = ShapeSerializer()
    hold = ShapeSerializer()
    box = s.ListField(child=s.FloatField(), min_length=4, max_length=4)
    zones = s.DictField(child=s.ListField(child=PointField(min_length=2, max_length=2)))
    rim = s.ListField(child=s.FloatField(), min_length=4, max_length=4, allow_null=True)
    lip_line = s.FloatField()
    facing = s.ChoiceField(SIDES)
    mm = s.FloatField(allow_null=True)


@extend_schema_field(SmallDrawingSerializer)
class KeptDrawingField(s.JSONField):
    """The same as it is stored: a list of many is not looked through number by number."""


class DrawingSerializer(SmallDrawingSerializer):
    """The same, and where every frame lies on it."""

    moves = s.ListField(child=RowField(min_length=6, max_length=6, allow_null=True))
    rims = s.ListField(child=RowField(min_length=4, max_length=4, allow_null=True))


class MarksFileSerializer(Plain):
    """A COCO keypoints document; see docs/formats.md."""

    images = s.ListField(child=s.DictField())
    annotations = s.ListField(child=s.DictField())
    categories = s.ListField(child=s.DictField())


class TakeSummarySerializer(Plain):
    """A take in one line."""

    id = s.IntegerField()
    student = s.IntegerField()
    view = s.ChoiceField(Take.View.choices)
    purpose = s.ChoiceField(Take.Purpose.choices)
    filmed_on = s.DateField()
    original_name = s.CharField()
    seconds = s.FloatField(allow_null=True)
    state = s.ChoiceField(Take.State.choices)
    stage = s.CharField()
    share = s.FloatField()
    message = s.CharField()
    read = s.BooleanField()
    result = s.ChoiceField(["", "fault", "watch", "cant-tell", "clear"])
    focus = s.CharField(allow_null=True)
    focus_name = s.CharField(allow_null=True)
    answer = s.ChoiceField(Decision.Answer.choices, allow_null=True)
    severity = s.FloatField()
    drawing = KeptDrawingField(allow_null=True)


class ChairSerializer(Plain):
    """One student's place."""

    id = s.IntegerField()
    name = s.CharField()
    instrument = s.CharField()
    school = s.CharField()
    consent_on = s.DateField(allow_null=True)
    consent_until = s.DateField(allow_null=True)
    retain_until = s.DateField(allow_null=True)
    state = s.ChoiceField(CHAIR_STATES)
    opens = s.BooleanField()
    due = s.DateField(allow_null=True)
    focus = s.CharField(allow_null=True)
    focus_name = s.CharField(allow_null=True)
    take = TakeSummarySerializer(allow_null=True)


class SectionSerializer(Plain):
    """Chairs that sit together."""

    id = s.IntegerField()
    name = s.CharField()
    arc = s.IntegerField()
    chairs = ChairSerializer(many=True)


class NextSerializer(Plain):
    """One line of *Next for you*."""

    student = s.IntegerField()
    name = s.CharField()
    state = s.ChoiceField(CHAIR_STATES)
    what = s.CharField()
    take = s.IntegerField(allow_null=True)
    opens = s.BooleanField()


class BandPageSerializer(Plain):
    """The home screen."""

    name = s.CharField()
    sections = SectionSerializer(many=True)
    next = NextSerializer(many=True)


class StudentPageSerializer(ChairSerializer):
    """One student with all takes."""

    section = s.CharField()
    tape_mm = s.FloatField(allow_null=True)
    tape_spread = s.FloatField(allow_null=True)
    tape_on = s.DateField(allow_null=True)
    takes = TakeSummarySerializer(many=True)


class PhaseInSerializer(Plain):
    """A rehearsal mark as set."""

    name = s.ChoiceField(PHASES)
    start = s.FloatField()
    end = s.FloatField()

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """The end lies after the start."""
        if attrs["end"] <= attrs["start"]:
            raise s.ValidationError(f"The phase “{attrs['name']}” must end after it starts.")
        return attrs


class PhasesInSerializer(Plain):
    """All rehearsal marks of a take."""

    phases = PhaseInSerializer(many=True)


class PhaseSerializer(Plain):
    """A rehearsal mark."""

    name = s.ChoiceField(PHASES)
    start = s.FloatField()
    end = s.FloatField()
    by_teacher = s.BooleanField()
    confidence = s.FloatField()


class TrackSerializer(Plain):
    """One landmark through the take, a value a frame."""

    landmark = s.CharField()
    x = s.ListField(child=s.FloatField(allow_null=True))
    y = s.ListField(child=s.FloatField(allow_null=True))
    sigma = s.ListField(child=s.FloatField(allow_null=True))
    source = s.ListField(  # type: ignore[assignment]
        child=s.ChoiceField(["none", "followed", "found", "placed"])
    )
    hidden = s.ListField(child=s.BooleanField())


class MarkSerializer(Plain):
    """A keyframe of a landmark."""

    landmark = s.CharField()
    frame = s.IntegerField(min_value=0)
    x = s.FloatField()
    y = s.FloatField()
    hidden = s.BooleanField()
    source = s.ChoiceField(["found", "placed"])  # type: ignore[assignment]


class MarkInSerializer(Plain):
    """A landmark as the teacher places it, pixels of the upright picture."""

    landmark = s.CharField(max_length=20)
    frame = s.IntegerField(min_value=0)
    x = s.FloatField()
    y = s.FloatField()
    hidden = s.BooleanField(default=False)


class MarksInSerializer(Plain):
    """Landmarks that are placed in one gesture: all or none."""

    marks = MarkInSerializer(many=True, allow_empty=False)


class PreviewInSerializer(Plain):
    """One frame with some marks elsewhere."""

    frame = s.IntegerField(min_value=0)
    marks = MarkInSerializer(many=True)


class PreviewSerializer(Plain):
    """What that frame would measure, by measure; and its rim on the sheet."""

    values = s.DictField(child=s.FloatField(allow_null=True))
    rim = s.ListField(child=s.FloatField(), min_length=4, max_length=4, allow_null=True)


class MarkOutSerializer(Plain):
    """Which placed mark to take back."""

    landmark = s.CharField(max_length=20)
    frame = s.IntegerField(min_value=0)


class SeriesSerializer(Plain):
    """One measure along time, ``spread`` its 95 % half width, with the band it should stay in."""

    measure = s.CharField()
    name = s.CharField()
    stave = s.CharField()
    explains = s.CharField()
    decimals = s.IntegerField()
    unit = s.CharField()
    value = s.ListField(child=s.FloatField(allow_null=True))
    spread = s.ListField(child=s.FloatField(allow_null=True))
    low = s.FloatField(allow_null=True)
    high = s.FloatField(allow_null=True)
    note = s.CharField()
    least = s.FloatField()
    from_zero = s.BooleanField()
    shown = s.BooleanField()
    sounding = s.ListField(child=s.BooleanField(), allow_null=True)


class ReadingSerializer(Plain):
    """A value of one phase ± its 95 % uncertainty."""

    measure = s.CharField()
    name = s.CharField()
    decimals = s.IntegerField()
    phase = s.CharField()
    value = s.FloatField(allow_null=True)
    uncertainty = s.FloatField(allow_null=True)
    unit = s.CharField()
    verdict = s.ChoiceField(VERDICTS)
    reason = s.CharField()


class EvidenceSerializer(Plain):
    """One measured thing a finding rests on."""

    measure = s.CharField()
    name = s.CharField()
    decimals = s.IntegerField()
    value = s.FloatField()
    uncertainty = s.FloatField()
    limit = s.FloatField()
    edge = s.FloatField()
    unit = s.CharField()


class FindingSerializer(Plain):
    """A finding with its words, evidence and the teacher's answer."""

    fault = s.CharField()
    name = s.CharField()
    shows = s.CharField()
    why = s.CharField()
    first_help = s.CharField()
    child = s.CharField()
    drill = s.CharField()
    confused_with = s.CharField()
    verdict = s.ChoiceField(VERDICTS)
    phase = s.CharField()
    start = s.FloatField(allow_null=True)
    end = s.FloatField(allow_null=True)
    worst_frame = s.IntegerField(allow_null=True)
    evidence = EvidenceSerializer(many=True)
    reason = s.CharField()
    focus = s.BooleanField()
    answer = s.ChoiceField(Decision.Answer.choices, allow_null=True)
    answer_reason = s.CharField()


class WaitsSerializer(Plain):
    """A finding that waits, and why."""

    fault = s.CharField()
    name = s.CharField()
    why = s.CharField()


class KeepInSerializer(Plain):
    """Whether something is kept."""

    keep = s.BooleanField()


class DepthSerializer(Plain):
    """How deep the mouthpiece is on this take, mm; ``kept`` is where the student's tape is,
    ``here`` whether it was kept from this take."""

    value = s.FloatField()
    uncertainty = s.FloatField()
    kept = s.FloatField(allow_null=True)
    here = s.BooleanField()


class SetUpSerializer(Plain):
    """What to look at before the mouth; ``done`` is the observation that says it was."""

    why = s.CharField()
    done = s.CharField()
    words = s.CharField()


class FocusSerializer(Plain):
    """The one thing to fix, why this one, and what waits."""

    fault = s.CharField(allow_null=True)
    why = s.CharField(allow_blank=True)
    waits = WaitsSerializer(many=True)


class AddableSerializer(Plain):
    """A fault the teacher may add."""

    fault = s.CharField()
    name = s.CharField()


class ObservationSerializer(Plain):
    """What no camera shows, for the teacher to tick."""

    id = s.CharField()
    by = s.ChoiceField(["ear", "eye", "hand", "asked"])
    words = s.CharField()
    caution = s.CharField()
    seen = s.BooleanField()


class AdviceSerializer(Plain):
    """One thing to look for when the sound is not right."""

    heard = s.CharField()
    look = s.CharField()
    help = s.CharField()
    drill = s.CharField()
    equipment = s.BooleanField()
    seen = s.CharField(allow_blank=True)


class ScaleSerializer(Plain):
    """What millimetres rest on, and its 95 % uncertainty in hundredths."""

    taken_from = s.CharField()
    percent = s.FloatField()


class BenchPageSerializer(Plain):
    """All that the Bench shows of one take."""

    take = TakeSummarySerializer()
    revision = s.IntegerField()
    undo = s.CharField(allow_null=True)
    redo = s.CharField(allow_null=True)
    student_name = s.CharField()
    instrument = s.CharField()
    school = s.CharField()
    school_sentence = s.CharField()
    standard = s.CharField()
    notes = s.ListField(child=s.CharField())
    thing = s.CharField(allow_blank=True)
    asked_rest = s.ListField(child=s.CharField())
    asked_hold = s.ListField(child=s.CharField())
    asked_pair = s.ListField(child=s.CharField())
    width = s.IntegerField()
    height = s.IntegerField()
    times = s.ListField(child=s.FloatField())
    has_frames = s.BooleanField()
    phases = PhaseSerializer(many=True)
    tracks = TrackSerializer(many=True)
    marks = MarkSerializer(many=True)
    found_left = s.IntegerField()
    drawing = DrawingSerializer(allow_null=True)
    known_mm = s.FloatField(allow_null=True)
    scale = ScaleSerializer(allow_null=True)
    series = SeriesSerializer(many=True)
    tone = SeriesSerializer(many=True)
    readings = ReadingSerializer(many=True)
    focus = FocusSerializer()
    set_up = SetUpSerializer(allow_null=True)
    depth = DepthSerializer(allow_null=True)
    findings = FindingSerializer(many=True)
    addable = AddableSerializer(many=True)
    observations = ObservationSerializer(many=True)
    triage = AdviceSerializer(many=True)


class EarReadingSerializer(ReadingSerializer):
    """A reading of the sound, with its band."""

    low = s.FloatField(allow_null=True)
    high = s.FloatField(allow_null=True)


class VibratoSerializer(Plain):
    """Regular waves of a pitch."""

    rate = s.FloatField()
    cents = s.FloatField()


class SlideSerializer(Plain):
    """A slide or siren: its lowest and highest note, how far apart, whether smooth
    and back where it began; ``back`` in cents."""

    low = s.CharField()
    high = s.CharField()
    semitones = s.FloatField()
    smooth = s.BooleanField()
    returns = s.BooleanField()
    back = s.FloatField()


class ToneSerializer(Plain):
    """One tone: seconds, pitch in concert and as its player reads it, how it starts and holds."""

    start = s.FloatField()
    end = s.FloatField()
    counts = s.IntegerField()
    hz = s.FloatField()
    note = s.CharField()
    written = s.CharField()
    cents = s.FloatField()
    begins = s.ChoiceField([(one, one) for one in ("tongued", "soft", "breathy")])
    scoop = s.FloatField()
    cracks = s.ListField(child=s.FloatField())
    dips = s.IntegerField()
    slide = SlideSerializer(allow_null=True)
    vibrato = VibratoSerializer(allow_null=True)


class StageSerializer(Plain):
    """What a tone may be played on, and what it is called on this instrument."""

    id = s.CharField()
    words = s.CharField()


class TargetSerializer(Plain):
    """A pitch of the standard to aim at."""

    stage = s.CharField()
    pitch = s.CharField()
    note = s.CharField()


class BreathSerializer(Plain):
    """Air without a tone, seconds."""

    start = s.FloatField()
    end = s.FloatField()


class SuspectedSerializer(Plain):
    """A fault that is heard while the picture speaks against it."""

    fault = s.CharField()
    name = s.CharField()
    first_help = s.CharField()
    confused_with = s.CharField(allow_blank=True)
    words = s.CharField()
    heard = s.CharField()
    value = s.FloatField()
    uncertainty = s.FloatField()
    decimals = s.IntegerField()
    unit = s.CharField()


class SoundsLikeSerializer(Plain):
    """An observation that the sound speaks for."""

    id = s.CharField()
    words = s.CharField()


class MovedSerializer(Plain):
    """How much the mouth moves while the pitch slides."""

    value = s.FloatField()
    uncertainty = s.FloatField()
    unit = s.CharField()
    verdict = s.CharField()


class EarSerializer(Plain):
    """What is heard of a take."""

    has_sound = s.BooleanField()
    stage = s.CharField(allow_blank=True)
    stages = StageSerializer(many=True)
    stage_words = s.CharField(allow_blank=True)
    pitch = s.CharField(allow_blank=True)
    written = s.CharField(allow_blank=True)
    chosen = s.BooleanField()
    a4 = s.FloatField()
    tempo = s.FloatField()
    targets = TargetSerializer(many=True)
    says = s.ListField(child=s.CharField())
    readings = EarReadingSerializer(many=True)
    tone = ToneSerializer(allow_null=True)
    tones = ToneSerializer(many=True)
    breaths = BreathSerializer(many=True)
    breath = s.FloatField(allow_null=True)
    ratio = s.FloatField(allow_null=True)
    ticks = SoundsLikeSerializer(many=True)
    moved = MovedSerializer(allow_null=True)
    way_back = MovedSerializer(allow_null=True)
    together = SuspectedSerializer(many=True)


class AimInSerializer(Plain):
    """What was to be played; an empty pitch leaves it to the ear."""

    stage = s.CharField(max_length=12, allow_blank=True, default="")
    pitch = s.CharField(max_length=4, allow_blank=True, default="")
    a4 = s.FloatField(allow_null=True, default=None)
    tempo = s.FloatField(allow_null=True, default=None)


class KnownLengthInSerializer(Plain):
    """How long the marked length is; null takes it back."""

    known_mm = s.FloatField(allow_null=True)


class LandmarkSerializer(Plain):
    """What a landmark is called and where it lies."""

    id = s.CharField()
    words = s.CharField()
    term = s.CharField()
    where = s.CharField()


class ClipInSerializer(Plain):
    """A clip as it comes in."""

    clip = s.FileField(allow_empty_file=True)
    view = s.ChoiceField(Take.View.choices)
    purpose = s.ChoiceField(Take.Purpose.choices)
    filmed_on = s.DateField()
    mirrored = s.BooleanField(default=False)


class DecisionInSerializer(Plain):
    """The teacher's answer to a finding; an empty answer takes it back."""

    fault = s.CharField(max_length=40)
    phase = s.CharField(max_length=10)
    answer = s.ChoiceField(Decision.Answer.choices, allow_blank=True)
    reason = s.CharField(max_length=300, allow_blank=True, default="")


class ReadInSerializer(Plain):
    """Whether the teacher has read the take."""

    read = s.BooleanField()


class FocusInSerializer(Plain):
    """Which fault is the focus; empty leaves it to the order of fixing."""

    fault = s.CharField(max_length=40, allow_blank=True)


class ObservationsInSerializer(Plain):
    """All observations that are ticked."""

    seen = s.ListField(child=s.CharField(max_length=40))
