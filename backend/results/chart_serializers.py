"""Shapes of result charts, in the units of each chart; who draws them gives each ink its colour, pattern or line."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from girder_core.results import Ink

DRAWN_KINDS = [(kind, kind) for kind in ("area", "line", "circle", "words", "mark")]
INKS = [(ink.value, ink.value) for ink in Ink]
ANCHORS = [(anchor, anchor) for anchor in ("start", "middle", "end")]


class DrawnSerializer(serializers.Serializer[Any]):
    """Something drawn in a chart."""

    kind = serializers.ChoiceField(choices=DRAWN_KINDS)
    ink = serializers.ChoiceField(choices=INKS)
    points = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    size = serializers.FloatField()
    text = serializers.CharField()
    anchor = serializers.ChoiceField(choices=ANCHORS)
    bold = serializers.BooleanField()
    # The design whose mark or colour it has; empty for none.
    key = serializers.CharField()
    # Of words that are a figure, which one and of what, to ask how it came about; empty for all else.
    why = serializers.CharField()


class ChartSerializer(serializers.Serializer[Any]):
    """A chart with its answer in words and its figures as a table."""

    key = serializers.CharField()
    title = serializers.CharField()
    says = serializers.CharField()
    legend = serializers.CharField()
    shows = serializers.CharField()
    width = serializers.FloatField()
    height = serializers.FloatField()
    drawn = DrawnSerializer(many=True)
    head = serializers.ListField(child=serializers.CharField())
    rows = serializers.ListField(child=serializers.ListField(child=serializers.CharField()))
