"""The API of lengths and areas at the bench that are measured in one picture."""

from __future__ import annotations

import uuid

from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from camera.asked import asked_in, today_of, trial_asked
from camera.bench_services import measure_pictured
from camera.serializers import BenchPictureSerializer, BenchSizeSerializer, PointedSerializer
from camera.shown import size_shown
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.ground import sound_json
from girder_core.measure import System
from runs.answers import REFUSALS


class BenchPictureView(APIView):
    """What is pointed at in a picture comes to; the picture is kept as its evidence."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="bench_picture_measure", request={"multipart/form-data": BenchPictureSerializer},
        responses={201: BenchSizeSerializer, **REFUSALS, 422: ErrorBody, 503: ErrorBody},
    )  # fmt: skip
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial = trial_asked(request, pk)
        typed = entry(BenchPictureSerializer, request)
        pointed = PointedSerializer(data=sound_json(typed["pointed"].encode()))
        pointed.is_valid(raise_exception=True)
        measured = measure_pictured(
            trial, typed["photo"], asked_in(request, pointed.validated_data), today_of(typed),
            typed["picture_confirmed"], typed.get("sent_as"),
        )  # fmt: skip
        system = System(trial.design.run.school_class.owner.units)
        text, step_text = measured.typed(system)
        shown = {**size_shown(measured), "text": text, "step_text": step_text}
        return Response(BenchSizeSerializer(shown).data, status.HTTP_201_CREATED)
