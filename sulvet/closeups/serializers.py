"""Shapes of close-ups on the wire."""

from __future__ import annotations

from rest_framework import serializers as s

from sulvet.accounts.shapes import Plain
from sulvet.core.judgement.results import CANT_TELL, FAULT, IN_BAND, NO_BAND, WATCH

VERDICTS = [(one, one) for one in (IN_BAND, WATCH, FAULT, CANT_TELL, NO_BAND)]


class SpotSerializer(Plain):
    """A point: pixels of the picture, or millimetres of the drawing with y up."""

    x = s.FloatField()
    y = s.FloatField()


class CloseUpAskedSerializer(Plain):
    """One thing to mark; ``may_hide`` is empty where nothing can lie over it."""

    id = s.CharField()
    name = s.CharField()
    guide = s.CharField()
    may_hide = s.CharField(allow_blank=True)


class SpotMarkSerializer(Plain):
    """A mark, pixels of the picture."""

    id = s.CharField()
    x = s.FloatField()
    y = s.FloatField()


class CloseUpTickSerializer(Plain):
    """What an eye tells better than a measure."""

    id = s.CharField()
    words = s.CharField()
    ticked = s.BooleanField()


class CloseUpSlotSerializer(Plain):
    """A reed of the student's box."""

    id = s.IntegerField()
    slot = s.IntegerField()
    strength = s.CharField(allow_blank=True)


class FoundLineSerializer(Plain):
    """An edge that was found, pixels of the picture."""

    name = s.CharField()
    points = SpotSerializer(many=True)


class CloseUpReadingSerializer(Plain):
    """A measured value ± its 95 % uncertainty and its band."""

    measure = s.CharField()
    name = s.CharField()
    value = s.FloatField(allow_null=True)
    uncertainty = s.FloatField(allow_null=True)
    unit = s.CharField()
    decimals = s.IntegerField()
    verdict = s.ChoiceField(VERDICTS)
    reason = s.CharField(allow_blank=True)
    low = s.FloatField(allow_null=True)
    high = s.FloatField(allow_null=True)


class CloseUpFindingSerializer(Plain):
    """Something to mend, or to watch."""

    fault = s.CharField()
    verdict = s.ChoiceField(VERDICTS)
    name = s.CharField()
    shows = s.CharField()
    why = s.CharField()
    first_help = s.CharField()
    confused_with = s.CharField(allow_blank=True)
    child = s.CharField()
    reason = s.CharField(allow_blank=True)
    measures = s.ListField(child=s.CharField())
    dismissed = s.BooleanField()


class EquipmentStrokeSerializer(Plain):
    """A line or an area, mm."""

    part = s.CharField()
    points = SpotSerializer(many=True)
    closed = s.BooleanField()


class EquipmentSpanSerializer(Plain):
    """A dimension, mm."""

    measure = s.CharField()
    start = SpotSerializer()
    end = SpotSerializer()
    out = s.BooleanField()


class EquipmentPaneSerializer(Plain):
    """A piece of the drawing, mm."""

    name = s.CharField()
    left = s.FloatField()
    low = s.FloatField()
    right = s.FloatField()
    high = s.FloatField()


class EquipmentDrawingSerializer(Plain):
    """Reed and mouthpiece to scale."""

    strokes = EquipmentStrokeSerializer(many=True)
    zones = EquipmentStrokeSerializer(many=True)
    spans = EquipmentSpanSerializer(many=True)
    panes = EquipmentPaneSerializer(many=True)


class CloseUpSerializer(Plain):
    """A close-up's page."""

    id = s.IntegerField()
    student = s.IntegerField()
    name = s.CharField()
    instrument = s.CharField()
    taken_on = s.DateField()
    width = s.IntegerField()
    height = s.IntegerField()
    stands = s.CharField()
    asked = CloseUpAskedSerializer(many=True)
    marks = SpotMarkSerializer(many=True)
    hidden = s.ListField(child=s.CharField())
    ticks = CloseUpTickSerializer(many=True)
    reed = s.IntegerField(allow_null=True)
    slots = CloseUpSlotSerializer(many=True)
    lines = FoundLineSerializer(many=True)
    readings = CloseUpReadingSerializer(many=True)
    findings = CloseUpFindingSerializer(many=True)
    told = s.CharField(allow_blank=True)
    caution = s.CharField()
    stale = s.BooleanField()
    drawing = EquipmentDrawingSerializer(allow_null=True)


class CloseUpRowSerializer(Plain):
    """A close-up in a list; ``shows`` names what is wrong, the first to mend first."""

    id = s.IntegerField()
    taken_on = s.DateField()
    slot = s.IntegerField(allow_null=True)
    marked = s.BooleanField()
    shows = s.ListField(child=s.CharField())


class CloseUpInSerializer(Plain):
    """A photo or short clip."""

    photo = s.FileField()
    taken_on = s.DateField(required=False, allow_null=True, default=None)


class CloseUpPlacedInSerializer(Plain):
    """Everything that is marked, each time."""

    marks = SpotMarkSerializer(many=True)
    hidden = s.ListField(child=s.CharField(), default=list)
    ticks = s.ListField(child=s.CharField(), default=list)


class CloseUpReedSerializer(Plain):
    """Which reed it shows."""

    reed = s.IntegerField(allow_null=True)


class CloseUpAnswerSerializer(Plain):
    """What the teacher says of a finding."""

    fault = s.CharField()
    dismissed = s.BooleanField()
