"""How errors reach the client: one shape, and one place that maps a code to a status.

Every error body is ``{"code", "sentence", "fields", "data", "confirm"}``: ``sentence`` says what to change, ``fields``
the same per field, ``confirm`` that the value is taken when sent again as confirmed.
"""

from __future__ import annotations

import logging
from typing import Any

from django.core.exceptions import PermissionDenied
from django.db import DataError, IntegrityError, InterfaceError, OperationalError
from django.http import Http404
from psycopg_pool import PoolTimeout
from rest_framework import serializers, status
from rest_framework.exceptions import APIException, ValidationError
from rest_framework.response import Response
from rest_framework.views import exception_handler

from evengirder import metrics
from evengirder.database import is_there
from evengirder.trace import request_number
from girder_core.ground import GirderError, NeedsConfirmation

_log = logging.getLogger(__name__)
_STATUS = {
    "bench_busy": status.HTTP_409_CONFLICT,
    "event_changed": status.HTTP_409_CONFLICT,
    "changed_meanwhile": status.HTTP_409_CONFLICT,
    "trial_open": status.HTTP_409_CONFLICT,
    "still_drying": status.HTTP_409_CONFLICT,
    "stopped": status.HTTP_409_CONFLICT,
    "confirmed": status.HTTP_409_CONFLICT,
    "not_confirmed": status.HTTP_409_CONFLICT,
    "not_your_part": status.HTTP_403_FORBIDDEN,
    "not_administrator": status.HTTP_403_FORBIDDEN,
    "not_yours": status.HTTP_403_FORBIDDEN,
    "out_of_class": status.HTTP_403_FORBIDDEN,
    "not_open_to_teams": status.HTTP_403_FORBIDDEN,
    "too_many_tries": status.HTTP_429_TOO_MANY_REQUESTS,
    "busy": status.HTTP_503_SERVICE_UNAVAILABLE,
    "sign_on_away": status.HTTP_503_SERVICE_UNAVAILABLE,
    "written_meanwhile": status.HTTP_422_UNPROCESSABLE_ENTITY,
    "tested_meanwhile": status.HTTP_422_UNPROCESSABLE_ENTITY,
    "team_taken": status.HTTP_422_UNPROCESSABLE_ENTITY,
    "unlikely_reading": status.HTTP_422_UNPROCESSABLE_ENTITY,
    "picture_old": status.HTTP_422_UNPROCESSABLE_ENTITY,
    "picture_of_screen": status.HTTP_422_UNPROCESSABLE_ENTITY,
}


class ErrorBody(serializers.Serializer[Any]):
    """The body of every refusal."""

    code = serializers.CharField()
    sentence = serializers.CharField()
    data = serializers.DictField()
    confirm = serializers.BooleanField()

    def get_fields(self) -> dict[str, Any]:
        fields = super().get_fields()
        # Not a class attribute: a serializer's own ``fields`` has that name.
        fields["fields"] = serializers.DictField(child=serializers.CharField())
        return fields


def body(
    code: str,
    sentence: str,
    fields: dict[str, str] | None = None,
    data: dict[str, Any] | None = None,
    confirm: bool = False,
) -> dict[str, Any]:
    """The one shape of an error."""
    return {"code": code, "sentence": sentence, "fields": fields or {}, "data": data or {}, "confirm": confirm}


AWAY = (OperationalError, InterfaceError, PoolTimeout)
"""What is raised where the database does not answer."""


class PhotographsAway(OSError):
    """The store of photographs does not answer, or lets nobody in."""


def not_now(error: Exception) -> dict[str, Any]:
    """Not known here and now is not the same as never: whoever asked keeps it and asks again. Said is whether the
    database is away, or all its connections were in use for as long as one waits for one."""
    waited = isinstance(error, PoolTimeout) or isinstance(error.__cause__, PoolTimeout)
    if waited and is_there():
        return body(
            "busy", "So much is asked of the server just now that this had to wait too long. It is tried again."
        )
    return body("database_away", "The database is away just now. Nothing that was saved is lost; it is tried again.")


def server_error() -> dict[str, Any]:
    """The body of an answer to what should not have happened."""
    number = request_number()
    sentence = "Something went wrong here, and was written down. What was saved is still there; try again."
    if number:
        sentence += f" If it stays so, tell whoever runs this server the number {number}."
    return body("server_error", sentence, data={"request": number})


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """Turn any error of a view into the one shape, and count it; unknown errors stay unknown (500)."""
    response = _worded(error)
    if response is not None:
        metrics.refusals.labels(response.data["code"]).inc()
    return response


def _worded(error: Exception) -> Response | None:
    if isinstance(error, GirderError):
        data = dict(error.data)
        fields = data.pop("fields", {})
        return Response(
            body(error.code, error.sentence, fields, data, isinstance(error, NeedsConfirmation)),
            status=_STATUS.get(error.code, status.HTTP_400_BAD_REQUEST),
        )
    if isinstance(error, AWAY):
        return Response(not_now(error), status=status.HTTP_503_SERVICE_UNAVAILABLE)
    if isinstance(error, PhotographsAway):
        # Said to whoever runs this too: it may be a password that is wrong.
        _log.error("The store of photographs is away", exc_info=error)
        sentence = "Photographs cannot be kept or shown just now. Nothing that was saved is lost; it is tried again."
        return Response(body("photographs_away", sentence), status=status.HTTP_503_SERVICE_UNAVAILABLE)
    if isinstance(error, (IntegrityError, DataError)):
        # A rule of the database's that no rule of ours foresaw; it kept nothing of it, and somebody is to hear of it.
        _log.error("The database refused what was let in", exc_info=error)
        sentence = "Somebody else changed the same thing at the same moment, or it cannot be kept. Look again."
        return Response(body("at_once", sentence), status=status.HTTP_409_CONFLICT)
    response = exception_handler(error, {})
    if response is None:
        return None
    if isinstance(error, ValidationError):
        fields = flatten(error.detail)
        sentence = next(iter(fields.values()), "Some entries need another look.")
        # Not every sentence of the framework's is one.
        sentence += "" if sentence.endswith((".", "!", "?", "”")) else "."
        response.data = body("invalid", sentence, fields)
    elif isinstance(error, Http404):
        response.data = body("not_found", "There is nothing here, or it is not yours.")
    elif isinstance(error, PermissionDenied):
        response.data = body("forbidden", "You are signed in, but this is not allowed.")
    elif isinstance(error, APIException):
        response.data = body(str(error.default_code), str(error.detail))
    return response


def flatten(detail: Any, path: str = "") -> dict[str, str]:
    """Field errors as one sentence per dotted path."""
    if isinstance(detail, dict):
        flat: dict[str, str] = {}
        for key, value in detail.items():
            flat |= flatten(value, f"{path}.{key}" if path else str(key))
        return flat
    if isinstance(detail, list) and detail and isinstance(detail[0], (dict, list)):
        flat = {}
        for index, value in enumerate(detail):
            flat |= flatten(value, f"{path}.{index}")
        return flat
    text = " ".join(str(part) for part in detail) if isinstance(detail, list) else str(detail)
    return {path or "all": text} if text else {}
