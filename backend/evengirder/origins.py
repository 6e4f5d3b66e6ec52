"""The shape in which the API says how a figure came about."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from drf_spectacular.helpers import lazy_serializer
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request

from evengirder.formulas import anchor_of
from girder_core.ground import GirderError, Origin, Rule

FIGURE = OpenApiParameter("figure", OpenApiTypes.STR, required=True, description="Which figure is asked about.")


def the_figure(origins: Mapping[str, Origin], request: Request) -> Origin:
    """The one that the address asks for; ``unknown_figure`` where there is none."""
    found = origins.get(request.query_params.get("figure", ""))
    if found is None:
        raise GirderError("unknown_figure", "There is no such figure here, or it is not known yet.")
    return found


class RuleSerializer(serializers.Serializer[Any]):
    """How something is worked out: in words, the heading in docs/formulas.md, and the version of the rules."""

    words = serializers.CharField()
    # Where it stands on the page of formulas.
    section = serializers.CharField()
    anchor = serializers.SerializerMethodField()
    version = serializers.CharField(allow_blank=True)

    def get_anchor(self, rule: Rule) -> str:
        return anchor_of(rule.section)


class EnteredSerializer(serializers.Serializer[Any]):
    by = serializers.CharField(allow_blank=True)
    # When, as ISO 8601 writes it; empty where that is not known.
    at = serializers.CharField(allow_blank=True)


class OriginSerializer(serializers.Serializer[Any]):
    """A figure and how it came about; what went into it has the same shape."""

    name = serializers.CharField()
    value = serializers.CharField()
    symbol = serializers.CharField(allow_blank=True)
    rule = RuleSerializer(allow_null=True)
    formula = serializers.CharField(allow_blank=True)
    inputs = serializers.SerializerMethodField()
    # How it was come by, where nothing was worked out.
    how = serializers.CharField(source="source", allow_blank=True)
    entered = EnteredSerializer()
    note = serializers.CharField(allow_blank=True)

    @extend_schema_field(lazy_serializer("evengirder.origins.OriginSerializer")(many=True))
    def get_inputs(self, origin: Origin) -> Any:
        return OriginSerializer(origin.inputs, many=True).data
