"""Students in and out."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from sulvet.accounts.shapes import Plain, id_list


class StudentInSerializer(serializers.Serializer[Any]):
    """What a teacher says of a student."""

    name = serializers.CharField(max_length=80)
    instrument = serializers.CharField(max_length=30)
    school = serializers.CharField(max_length=30, allow_blank=True, default="")
    consent_on = serializers.DateField(allow_null=True, default=None)
    consent_until = serializers.DateField(allow_null=True, default=None)
    retain_until = serializers.DateField(allow_null=True, default=None)


class SchoolSerializer(serializers.Serializer[Any]):
    """One side of a disagreement between teachers."""

    id = serializers.CharField()
    name = serializers.CharField()
    sentence = serializers.CharField()


class StandardSerializer(serializers.Serializer[Any]):
    """An instrument and its schools; ``film`` is what to film, the more telling side first."""

    instrument = serializers.CharField()
    name = serializers.CharField()
    family = serializers.CharField()
    film = serializers.ListField(child=serializers.ChoiceField(["front", "side"]))
    schools = SchoolSerializer(many=True)


class RosterInSerializer(serializers.Serializer[Any]):
    """A class list; nothing is stored unless ``keep`` is true and every row is valid."""

    table = serializers.FileField()
    keep = serializers.BooleanField(default=False)
    dates = serializers.ChoiceField(
        [("day", "day first"), ("month", "month first")], default="", allow_blank=True
    )


class RosterChangeSerializer(serializers.Serializer[Any]):
    """What a row would change of a student that the band has already."""

    field = serializers.CharField()
    old = serializers.CharField(allow_blank=True)
    new = serializers.CharField(allow_blank=True)


class RosterLineSerializer(serializers.Serializer[Any]):
    """One line of the list."""

    number = serializers.IntegerField()
    name = serializers.CharField(allow_blank=True)
    instrument = serializers.CharField(allow_blank=True)
    school = serializers.CharField(allow_blank=True)
    consent_on = serializers.DateField(allow_null=True)
    wrong = serializers.ListField(child=serializers.CharField())
    skipped = serializers.ChoiceField(
        [("", "imported"), ("not filmed", "not played with the mouth"), ("unknown", "unknown")],
        allow_blank=True,
    )
    known = serializers.BooleanField()
    changes = RosterChangeSerializer(many=True)


class RosterSerializer(serializers.Serializer[Any]):
    """All rows, and how many students were added and changed.

    ignored  columns that are not known;  asks  whether dates need ``dates`` to be read
    """

    lines = RosterLineSerializer(many=True)
    ignored = serializers.ListField(child=serializers.CharField())
    asks = serializers.BooleanField()
    added = serializers.IntegerField()
    changed = serializers.IntegerField()


class ConsentInSerializer(Plain):
    """One consent for many students; null takes it back."""

    students = id_list()
    consent_on = serializers.DateField(allow_null=True)
    consent_until = serializers.DateField(allow_null=True)


class CountSerializer(Plain):
    """How many were changed."""

    count = serializers.IntegerField()


class SectionInSerializer(Plain):
    """A section's name, its row (1 is the front), and who sits in it, in order."""

    id = serializers.IntegerField()
    name = serializers.CharField(max_length=40)
    arc = serializers.IntegerField(min_value=1, max_value=6)
    students = id_list(default=[])


class ColleagueSerializer(Plain):
    """Another teacher of the school."""

    id = serializers.IntegerField()
    name = serializers.CharField(source="username")


class TransferSerializer(Plain):
    """To whom a student goes."""

    to = serializers.IntegerField()


class BandNamesSerializer(Plain):
    """What the band and its sections are called."""

    name = serializers.CharField(max_length=80)
    sections = SectionInSerializer(many=True)


class ClipNamesSerializer(serializers.Serializer[Any]):
    """Names of files."""

    files = serializers.ListField(child=serializers.CharField(max_length=400), max_length=400)


class ClipMatchSerializer(serializers.Serializer[Any]):
    """Whose clip it is by its name; without a student ``why`` says what to do."""

    file = serializers.CharField()
    student = serializers.IntegerField(allow_null=True)
    view = serializers.ChoiceField([("front", "Front"), ("side", "Side")])
    purpose = serializers.ChoiceField([("check", "first look"), ("recheck", "recheck")])
    filmed_on = serializers.CharField(allow_blank=True)
    why = serializers.CharField(allow_blank=True)
    video = serializers.BooleanField()


class RetentionSerializer(serializers.Serializer[Any]):
    """Whether Sulvet deletes by itself what is over, and after how many days of warning."""

    agreed_on = serializers.DateField(allow_null=True, read_only=True)
    days = serializers.IntegerField(min_value=7, max_value=365)
    school_days = serializers.IntegerField(allow_null=True, read_only=True)


class StudentIdSerializer(serializers.Serializer[Any]):
    """The new chair."""

    id = serializers.IntegerField()
