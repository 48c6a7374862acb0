"""Shapes of reed boxes on the wire."""

from __future__ import annotations

from rest_framework import serializers as s

from sulvet.accounts.shapes import Plain
from sulvet.core.judgement.reeds import CONDITIONS

STATUS = ("new", "good", "soon", "worn", "chipped", "warped", "retired")
CONDITION = [(one, one) for one in CONDITIONS]


class ReedSerializer(Plain):
    """One reed; ``turn`` is its place in the rotation, null when it is not played."""

    id = s.IntegerField()
    slot = s.IntegerField()
    strength = s.CharField(allow_blank=True)
    opened_on = s.DateField()
    condition = s.ChoiceField(CONDITION)
    minutes = s.IntegerField()
    days = s.IntegerField()
    last_on = s.DateField(allow_null=True)
    today = s.BooleanField()
    share = s.FloatField()
    status = s.ChoiceField(STATUS)
    turn = s.IntegerField(allow_null=True)


class BoxSerializer(Plain):
    """A student's box."""

    student = s.IntegerField()
    name = s.CharField()
    instrument = s.CharField()
    strength = s.CharField(allow_blank=True)
    buy = s.IntegerField()
    soak_seconds = s.IntegerField()
    a_day = s.IntegerField()
    notes = s.ListField(child=s.CharField())
    reeds = ReedSerializer(many=True)


class HabitsSerializer(Plain):
    """How long reeds last and how many there should be."""

    life_minutes = s.IntegerField()
    least = s.IntegerField()
    a_day = s.IntegerField()
    break_in_days = s.IntegerField()
    break_in_minutes = s.IntegerField()
    soak_seconds = s.IntegerField()
    soon = s.FloatField()
    known_days = s.IntegerField()


class BuySerializer(Plain):
    """One line of the list of what to buy."""

    instrument = s.CharField()
    strength = s.CharField(allow_blank=True)
    count = s.IntegerField()


class BandBoxesSerializer(Plain):
    """All boxes of a band."""

    habits = HabitsSerializer()
    boxes = BoxSerializer(many=True)
    buy = BuySerializer(many=True)


class ReedInSerializer(Plain):
    """What a teacher says of a reed."""

    strength = s.CharField(max_length=12, allow_blank=True, default="")
    opened_on = s.DateField(required=False, allow_null=True, default=None)
    condition = s.ChoiceField(CONDITION, default="good")


class PlayedInSerializer(Plain):
    """A day on which a reed was played; 0 minutes take it away."""

    date = s.DateField(required=False, allow_null=True, default=None)
    minutes = s.IntegerField(
        required=False, allow_null=True, default=None, min_value=0, max_value=600
    )
