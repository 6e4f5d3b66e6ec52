"""Shapes of the instruments API."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from challenges.serializers import QUANTITY_KINDS


class InstrumentSerializer(serializers.Serializer[Any]):
    address = serializers.CharField()
    name = serializers.CharField()
    kinds = serializers.ListField(child=serializers.ChoiceField(choices=QUANTITY_KINDS))
    simulated = serializers.BooleanField()


class ReadInstrumentSerializer(serializers.Serializer[Any]):
    """Which instrument to read; for a simulated scale, what lies on it, as typed."""

    address = serializers.CharField(max_length=120)
    kind = serializers.ChoiceField(choices=QUANTITY_KINDS)
    lies_on_it = serializers.CharField(max_length=40, allow_blank=True, default="")
    # What lay on a simulated scale when it was tared.
    tared_with = serializers.CharField(max_length=40, allow_blank=True, default="")
    # Set it to nothing first.
    tare = serializers.BooleanField(default=False)


class ReadTableSerializer(serializers.Serializer[Any]):
    """A shaking table to read, and the level that was agreed."""

    address = serializers.CharField(max_length=120)
    frequency_hz = serializers.FloatField(min_value=0.2, max_value=50)
    stroke_m = serializers.FloatField(min_value=0.0005, max_value=1)


class ShakingSerializer(serializers.Serializer[Any]):
    """How a table shakes, and whether that is as agreed."""

    frequency_hz = serializers.FloatField()
    acceleration_m_s2 = serializers.FloatField()
    stroke_m = serializers.FloatField()
    as_agreed = serializers.BooleanField()
    says = serializers.CharField()


class SentSerializer(serializers.Serializer[Any]):
    at_s = serializers.FloatField()
    text = serializers.CharField(max_length=200, allow_blank=True, trim_whitespace=False)


class LinesSerializer(serializers.Serializer[Any]):
    """Lines that a browser read from a port of its own."""

    kind = serializers.ChoiceField(choices=QUANTITY_KINDS)
    lines = SentSerializer(many=True)


class SteadySerializer(serializers.Serializer[Any]):
    """What an instrument shows: value, last digit and spread in SI, and as it would be typed."""

    value = serializers.FloatField()
    step = serializers.FloatField()
    spread = serializers.FloatField()
    settled = serializers.BooleanField()
    samples = serializers.IntegerField()
    garbled = serializers.IntegerField()
    says = serializers.CharField()
    text = serializers.CharField()
    step_text = serializers.CharField()


class ForceLogSerializer(serializers.Serializer[Any]):
    """A force-time CSV as text, and how fast the structure was pushed, if that is known."""

    text = serializers.CharField(max_length=80_000_000, trim_whitespace=False)
    speed = serializers.CharField(max_length=40, allow_blank=True, default="")


class TraceReadingSerializer(serializers.Serializer[Any]):
    peak_n = serializers.FloatField()
    held_n = serializers.FloatField()
    broke = serializers.BooleanField()
    broke_at_s = serializers.FloatField(allow_null=True)
    drop_n = serializers.FloatField()
    rate_n_s = serializers.FloatField()
    stiffness_n_m = serializers.FloatField(allow_null=True)
    work_j = serializers.FloatField(allow_null=True)
    noise_n = serializers.FloatField()
    says = serializers.CharField()
    gaps = serializers.IntegerField()
    # The load held, as a mass, and the step that its uncertainty comes to, as they would be typed.
    text = serializers.CharField()
    step_text = serializers.CharField()
