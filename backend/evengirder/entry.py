"""Reading a request's body: JSON that can be kept, and the one line that every writing view begins with."""

from __future__ import annotations

from typing import Any

from rest_framework.parsers import BaseParser
from rest_framework.request import Request
from rest_framework.serializers import BaseSerializer

from girder_core.ground import sound_json


class SoundJSONParser(BaseParser):
    """Reads a body of JSON as the core reads it; what cannot be kept is refused in a sentence."""

    media_type = "application/json"

    def parse(self, stream: Any, media_type: str | None = None, parser_context: Any = None) -> Any:
        return sound_json(stream.read())


def entry(shape: type[BaseSerializer[Any]], request: Request) -> Any:
    """The body of the request in this shape; what does not fit is refused with a sentence per field."""
    serializer = shape(data=request.data)
    serializer.is_valid(raise_exception=True)
    return serializer.validated_data
