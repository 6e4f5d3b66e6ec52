"""Fields and small shapes that several apps' serializers share."""

from __future__ import annotations

import math
from typing import Any

from rest_framework import serializers

from girder_core.measure import COVERAGE_FACTOR


class FiniteField(serializers.FloatField):
    """A number, or null where the rules say "infinite": JSON has no word for it."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(allow_null=True, **kwargs)

    def to_representation(self, value: Any) -> Any:
        return float(value) if math.isfinite(value) else None


class QuantitySerializer(serializers.Serializer[Any]):
    """A value with its standard uncertainty, and how far it can be off (coverage factor 2), in one SI unit."""

    value = serializers.FloatField()
    standard_uncertainty = serializers.FloatField()
    expanded_uncertainty = serializers.SerializerMethodField()

    def get_expanded_uncertainty(self, quantity: Any) -> float:
        return COVERAGE_FACTOR * float(quantity.standard_uncertainty)
