"""Shapes of files that come in."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers


class FileTextSerializer(serializers.Serializer[Any]):
    """A file's text."""

    text = serializers.CharField(max_length=45_000_000, trim_whitespace=False)


class BroughtInSerializer(serializers.Serializer[Any]):
    """The run that was made."""

    run = serializers.IntegerField()
    class_name = serializers.CharField()
