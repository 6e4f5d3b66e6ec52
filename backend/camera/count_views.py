"""The API of loose pieces that are counted from a picture."""

from __future__ import annotations

import uuid
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from camera.asked import point_of, trial_asked
from camera.count_services import Counted, held_against, keep_counted, spread_in
from camera.count_shown import spread_shown
from camera.serializers import (
    CountedPictureSerializer,
    CountedSerializer,
    DotsSerializer,
    LooseSerializer,
    PictureAloneSerializer,
    RecountSerializer,
)
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.ground import sound_json
from runs.answers import REFUSALS


def _counted(typed: dict[str, Any]) -> Counted:
    return Counted(typed["count"], typed["item"], typed["lay"], typed["key"])


class LoosePictureView(APIView):
    """Loose pieces are looked for in a picture; nothing is kept of it."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="loose_picture_look", request={"multipart/form-data": PictureAloneSerializer},
        responses={200: LooseSerializer, **REFUSALS, 503: ErrorBody},
    )  # fmt: skip
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial_asked(request, pk)
        shown = spread_shown(spread_in(entry(PictureAloneSerializer, request)["photo"]))
        return Response(LooseSerializer(shown).data)


class RecountView(APIView):
    """What a count says beside the ledger, while dots are set; nothing is kept."""

    @extend_schema(operation_id="trial_recount", request=CountedSerializer,
                   responses={200: RecountSerializer, **REFUSALS})  # fmt: skip
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        said = held_against(trial_asked(request, pk), _counted(entry(CountedSerializer, request)))
        return Response(RecountSerializer(said).data)


class CountedPictureView(APIView):
    """A picture with the dots that were confirmed is kept."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="counted_picture_keep", request={"multipart/form-data": CountedPictureSerializer},
        responses={201: RecountSerializer, **REFUSALS, 503: ErrorBody},
    )  # fmt: skip
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial = trial_asked(request, pk)
        typed = entry(CountedPictureSerializer, request)
        dots = DotsSerializer(data=sound_json(typed["counted"].encode()))
        dots.is_valid(raise_exception=True)
        points = [point_of(dot) for dot in dots.validated_data["dots"]]
        counted = _counted({**dots.validated_data, "count": len(points)})
        said = keep_counted(trial, typed["photo"], points, counted, typed.get("sent_as"))
        return Response(RecountSerializer(said).data, status.HTTP_201_CREATED)
