"""Shapes of records on the wire."""

from __future__ import annotations

from rest_framework import serializers as s

from sulvet.accounts.shapes import Plain, shape
from sulvet.core.drawing.sheet import Drawing, Shape
from sulvet.takes.pages.shapes import VERDICTS, VIEWS

ANSWERS = (
    "clearly better", "clearly worse", "clearly different", "no clear change", "can't tell",
)  # fmt: skip
CELLS = ("", "focus", "fault", "watch", "dismissed")


class TakeChoiceSerializer(Plain):
    """A take that can be compared."""

    id = s.IntegerField()
    view = s.ChoiceField(VIEWS)
    filmed_on = s.DateField()
    name = s.CharField()


class FrameSerializer(Plain):
    """A frame on the common sheet: its picture, and the mouth drawn from it."""

    frame = s.IntegerField()
    picture = s.CharField()
    shape = shape(Shape)


class PhaseReadingSerializer(Plain):
    """A reading of the phase that is compared."""

    measure = s.CharField()
    value = s.FloatField(allow_null=True)
    uncertainty = s.FloatField(allow_null=True)
    unit = s.CharField()
    decimals = s.IntegerField()
    verdict = s.ChoiceField(VERDICTS)


class PairSideSerializer(Plain):
    """One of two takes; ``proposed`` is the frame in which the heads are held most alike."""

    take = s.IntegerField()
    filmed_on = s.DateField()
    drawing = shape(Drawing)
    proposed = s.IntegerField()
    frames = FrameSerializer(many=True)
    readings = PhaseReadingSerializer(many=True)


class ChangeSerializer(Plain):
    """What has changed in one measure."""

    measure = s.CharField()
    name = s.CharField()
    unit = s.CharField()
    decimals = s.IntegerField()
    then = s.FloatField(allow_null=True)
    now = s.FloatField(allow_null=True)
    delta = s.FloatField(allow_null=True)
    uncertainty = s.FloatField(allow_null=True)
    answer = s.ChoiceField(ANSWERS)
    sentence = s.CharField()
    focus = s.BooleanField()


class HeardSideSerializer(Plain):
    """A tone of one take: where it is, seconds, and its note."""

    take = s.IntegerField()
    note = s.CharField()
    start = s.FloatField()
    end = s.FloatField()


class HeardPairSerializer(Plain):
    """The tone both takes have, and what has changed in it."""

    then = HeardSideSerializer()
    now = HeardSideSerializer()
    sentences = s.ListField(child=s.CharField())


class PairSerializer(Plain):
    """Two takes on one sheet."""

    view = s.ChoiceField(VIEWS)
    phase = s.CharField()
    phases = s.ListField(child=s.CharField())
    focus = s.CharField(allow_null=True)
    focus_name = s.CharField(allow_null=True)
    slip = s.BooleanField()
    measures = s.ListField(child=s.CharField())
    seen_from = s.ListField(child=s.ChoiceField(VIEWS))
    then = PairSideSerializer()
    now = PairSideSerializer()
    mirrored = s.BooleanField()
    changes = ChangeSerializer(many=True)
    heard = HeardPairSerializer(allow_null=True)


class ThenAndNowSerializer(Plain):
    """Two takes side by side; ``pair`` is null while there are no two alike.

    ``stale`` are those of them whose analysis is out of date: ask for it anew.
    """

    student = s.IntegerField()
    name = s.CharField()
    takes = TakeChoiceSerializer(many=True)
    stale = s.ListField(child=s.IntegerField())
    pair = PairSerializer(allow_null=True)


class ThenAndNowInSerializer(Plain):
    """Which takes, which phase; the rest is proposed."""

    then = s.IntegerField(required=False)
    now = s.IntegerField(required=False)
    phase = s.CharField(required=False, default="")
    face = s.BooleanField(required=False, default=False)


class TrendPointSerializer(Plain):
    """One take's value."""

    take = s.IntegerField()
    filmed_on = s.DateField()
    value = s.FloatField(allow_null=True)
    uncertainty = s.FloatField(allow_null=True)
    verdict = s.ChoiceField(VERDICTS)


class PlanDaysSerializer(Plain):
    """When a plan ran, and its rechecks."""

    fault = s.CharField()
    started_on = s.DateField()
    ends_on = s.DateField()
    rechecks = s.ListField(child=s.DateField())


class MeasureNameSerializer(Plain):
    """A measure by its name."""

    measure = s.CharField()
    name = s.CharField()


class TrendSerializer(Plain):
    """One measure over all takes."""

    measure = s.CharField(allow_blank=True)
    name = s.CharField(allow_blank=True)
    decimals = s.IntegerField()
    unit = s.CharField(allow_blank=True)
    low = s.FloatField(allow_null=True)
    high = s.FloatField(allow_null=True)
    points = TrendPointSerializer(many=True)
    plans = PlanDaysSerializer(many=True)
    measures = MeasureNameSerializer(many=True)


class NoteSerializer(Plain):
    """A note of the teacher's, or the student's own word."""

    id = s.IntegerField()
    take = s.IntegerField(allow_null=True)
    seconds = s.FloatField(allow_null=True)
    text = s.CharField()
    by_student = s.BooleanField()
    written_on = s.DateField()


class NoteInSerializer(Plain):
    """What a teacher writes."""

    text = s.CharField()
    take = s.IntegerField(required=False, allow_null=True, default=None)
    seconds = s.FloatField(required=False, allow_null=True, default=None)


class NoteTextSerializer(Plain):
    """Other words for a note."""

    text = s.CharField()


class RecordTakeSerializer(Plain):
    """A column of findings over time."""

    id = s.IntegerField()
    view = s.ChoiceField(VIEWS)
    filmed_on = s.DateField()


class FindingHistorySerializer(Plain):
    """One fault over all takes."""

    fault = s.CharField()
    name = s.CharField()
    cells = s.ListField(child=s.ChoiceField(CELLS))


class RecordSerializer(Plain):
    """Findings over time, and notes."""

    takes = RecordTakeSerializer(many=True)
    findings = FindingHistorySerializer(many=True)
    notes = NoteSerializer(many=True)


class NotesFileSerializer(Plain):
    """A WebVTT file's text."""

    text = s.CharField(trim_whitespace=False)


class ImportedSerializer(Plain):
    """How many notes are new."""

    added = s.IntegerField()


class SectionalsInSerializer(Plain):
    """What the teacher sets."""

    days = s.IntegerField(min_value=1, max_value=366, default=14)
    least = s.IntegerField(min_value=1, max_value=30, default=2)
    most = s.IntegerField(min_value=1, max_value=30, default=4)
    minutes = s.IntegerField(min_value=1, max_value=60, default=8)
    total = s.IntegerField(min_value=1, max_value=300, default=40)
    stations = s.IntegerField(min_value=1, max_value=10, default=1)


class MemberSerializer(Plain):
    """A student of a group."""

    student = s.IntegerField()
    name = s.CharField()
    section = s.CharField()


class GroupSerializer(Plain):
    """Students who share a focus; without a turn ``start`` is null."""

    number = s.IntegerField()
    fault = s.CharField()
    focus = s.CharField()
    child = s.CharField()
    drill = s.CharField()
    members = MemberSerializer(many=True)
    start = s.IntegerField(allow_null=True)
    end = s.IntegerField(allow_null=True)
    station = s.IntegerField(allow_null=True)


class SingleSerializer(MemberSerializer):
    """A student with a focus that too few others share."""

    fault = s.CharField()
    focus = s.CharField()
    drill = s.CharField()


class SectionalsSerializer(Plain):
    """The plan for a rehearsal; ``singles`` are too few for a group."""

    groups = GroupSerializer(many=True)
    singles = SingleSerializer(many=True)


class ArchiveInSerializer(Plain):
    """A whole band as one file."""

    archive = s.FileField()
    without_consent = s.BooleanField(default=False)
    passphrase = s.CharField(default="", allow_blank=True, max_length=200, trim_whitespace=False)


class TakenSerializer(Plain):
    """What came in, and which settings of the account stayed."""

    students = s.IntegerField()
    takes = s.IntegerField()
    files = s.IntegerField()
    stayed = s.ListField(child=s.CharField())
