"""Shapes of files that come in."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers


class FileTextSerializer(serializers.Serializer[Any]):
    """A file's text."""

    text = serializers.CharField(max_length=125_000_000, trim_whitespace=False)


class BroughtInSerializer(serializers.Serializer[Any]):
    """The run that was made."""

    run = serializers.IntegerField()
    class_name = serializers.CharField()


class ResultsTableSerializer(serializers.Serializer[Any]):
    """A table of results as a file's bytes in base64; what each column means, once that is said; whether to keep it.

    ``sheet`` is the one to read of a workbook; without it the first that holds a table.
    """

    data = serializers.CharField(max_length=15_000_000)
    meaning = serializers.ListField(
        child=serializers.CharField(max_length=60, allow_blank=True), allow_null=True, default=None
    )
    keep = serializers.BooleanField(default=False)
    sheet = serializers.CharField(max_length=100, allow_blank=True, default="", trim_whitespace=False)


class TargetSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()


class ColumnSerializer(serializers.Serializer[Any]):
    """A column: its name, what it means, and its first cells."""

    name = serializers.CharField()
    meaning = serializers.CharField(allow_blank=True)
    examples = serializers.ListField(child=serializers.CharField(allow_blank=True))


class LineErrorSerializer(serializers.Serializer[Any]):
    line = serializers.IntegerField()
    column = serializers.CharField(allow_blank=True)
    sentence = serializers.CharField()


class TableAnswerSerializer(serializers.Serializer[Any]):
    """What a table would become, or became."""

    columns = ColumnSerializer(many=True)
    targets = TargetSerializer(many=True)
    rows = serializers.IntegerField()
    # Empty until the columns are clear.
    problem = serializers.CharField(allow_blank=True)
    trials = serializers.IntegerField()
    readings = serializers.IntegerField()
    errors = LineErrorSerializer(many=True)
    # Of a workbook.
    sheets = serializers.ListField(child=serializers.CharField())
    sheet = serializers.CharField(allow_blank=True)
    kept = serializers.BooleanField()
