"""Students in and out."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers


class StudentInSerializer(serializers.Serializer[Any]):
    """What a teacher says of a student."""

    name = serializers.CharField(max_length=80)
    instrument = serializers.CharField(max_length=30)
    school = serializers.CharField(max_length=30, allow_blank=True, default="")
    consent_on = serializers.DateField(allow_null=True, default=None)
    consent_until = serializers.DateField(allow_null=True, default=None)


class SchoolSerializer(serializers.Serializer[Any]):
    """One side of a disagreement between teachers."""

    id = serializers.CharField()
    name = serializers.CharField()
    sentence = serializers.CharField()


class StandardSerializer(serializers.Serializer[Any]):
    """An instrument and its schools."""

    instrument = serializers.CharField()
    name = serializers.CharField()
    schools = SchoolSerializer(many=True)


class StudentIdSerializer(serializers.Serializer[Any]):
    """The new chair."""

    id = serializers.IntegerField()
