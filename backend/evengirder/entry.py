"""Reading a request's body: the one line that every writing view begins with."""

from __future__ import annotations

from typing import Any

from rest_framework.request import Request
from rest_framework.serializers import BaseSerializer


def entry(shape: type[BaseSerializer[Any]], request: Request) -> Any:
    """The body of the request in this shape; what does not fit is refused with a sentence per field."""
    serializer = shape(data=request.data)
    serializer.is_valid(raise_exception=True)
    return serializer.validated_data
