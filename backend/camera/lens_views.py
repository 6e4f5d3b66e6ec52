"""The API of lenses that are calibrated."""

from __future__ import annotations

import uuid

from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from camera.asked import marks_of
from camera.lens_services import calibrate, forget, looked_at
from camera.selectors import lenses_of
from camera.serializers import (
    CalibratedSerializer,
    CalibrateSerializer,
    LensPictureSerializer,
    LensSerializer,
    PictureAloneSerializer,
)
from camera.shown import calibration_shown, lens_picture_shown
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.photo import Frame


class LensPictureView(APIView):
    """The card is looked for in a picture that a lens is calibrated with; nothing is kept of it."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="lens_picture_look", request={"multipart/form-data": PictureAloneSerializer},
        responses={200: LensPictureSerializer, 400: ErrorBody, 503: ErrorBody},
    )  # fmt: skip
    def post(self, request: Request) -> Response:
        look, view = looked_at(entry(PictureAloneSerializer, request)["photo"])
        return Response(LensPictureSerializer(lens_picture_shown(look, view)).data)


class TabletLensesView(APIView):
    """The lenses of the tablet that somebody works at, by the name that its browser made up for it."""

    @extend_schema(operation_id="tablet_lenses", responses={200: LensSerializer(many=True)})
    def get(self, request: Request, tablet: uuid.UUID) -> Response:
        return Response(LensSerializer(lenses_of(tablet), many=True).data)

    @extend_schema(
        operation_id="tablet_lens_calibrate", request=CalibrateSerializer,
        responses={200: CalibratedSerializer, 400: ErrorBody},
    )  # fmt: skip
    def post(self, request: Request, tablet: uuid.UUID) -> Response:
        """What pictures tell of a lens so far; with ``keep`` it is kept."""
        typed = entry(CalibrateSerializer, request)
        pictures = [(marks_of(picture), Frame(**picture["frame"])) for picture in typed["pictures"]]
        told = calibrate(tablet, pictures, typed["keep"])
        return Response(CalibratedSerializer(calibration_shown(told)).data)

    @extend_schema(operation_id="tablet_lenses_forget", request=None, responses={204: None})
    def delete(self, request: Request, tablet: uuid.UUID) -> Response:
        forget(tablet)
        return Response(status=status.HTTP_204_NO_CONTENT)
