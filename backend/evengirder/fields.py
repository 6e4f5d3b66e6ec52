"""Fields and small shapes that several apps' serializers share."""

from __future__ import annotations

import math
from datetime import date, datetime
from functools import cache, lru_cache
from typing import Any

from rest_framework import serializers

from girder_core.measure import COVERAGE_FACTOR


class FiniteField(serializers.FloatField):
    """A number, or null where the rules say "infinite": JSON has no word for it."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(allow_null=True, **kwargs)

    def to_representation(self, value: Any) -> Any:
        return float(value) if math.isfinite(value) else None


FIRST_YEAR, LAST_YEAR = 1900, 2199
"""Lessons are held between them; beyond, calendars and clocks end when time zones are reckoned in."""


def in_our_time(value: date | datetime) -> None:
    """Refuses a day or moment at which no lesson can be."""
    if not FIRST_YEAR <= value.year <= LAST_YEAR:
        raise serializers.ValidationError(f"The year {value.year} cannot be right.")


class DayField(serializers.DateField):
    """A day of our time."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(validators=[in_our_time], **kwargs)


class MomentField(serializers.DateTimeField):
    """A moment of our time."""

    def enforce_timezone(self, value: datetime) -> datetime:
        # Before it is reckoned into another zone, where years end.
        in_our_time(value)
        return super().enforce_timezone(value)


class ValueSerializer(serializers.Serializer[Any]):
    """The shape of a frozen value that is shown again and again, as a step is with every entry after it.

    Each is worked out once; what comes of it is shared, and is only to be read.
    """

    def to_representation(self, instance: Any) -> Any:
        return _worked_out(type(self), instance)


@lru_cache(8192)
def _worked_out(shape: type[ValueSerializer], value: Any) -> Any:
    return serializers.Serializer.to_representation(_shape(shape), value)


@cache
def _shape(shape: type[ValueSerializer]) -> ValueSerializer:
    return shape()


class QuantitySerializer(serializers.Serializer[Any]):
    """A value with its standard uncertainty, and how far it can be off (coverage factor 2), in one SI unit."""

    value = serializers.FloatField()
    standard_uncertainty = serializers.FloatField()
    expanded_uncertainty = serializers.SerializerMethodField()

    def get_expanded_uncertainty(self, quantity: Any) -> float:
        return COVERAGE_FACTOR * float(quantity.standard_uncertainty)
