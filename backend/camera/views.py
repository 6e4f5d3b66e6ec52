"""The API of measuring in pictures."""

from __future__ import annotations

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from camera import services
from camera.asked import asked_in, marks_of, today_of
from camera.selectors import set_number, sets_of
from camera.serializers import (
    BarSerializer,
    CardSetSerializer,
    GaveSerializer,
    LookSerializer,
    NewPictureSerializer,
    PhotographedSerializer,
    PhotoSizeSerializer,
    PointedInSerializer,
    PointedSerializer,
)
from camera.shown import look_shown, size_shown
from camera.standins import STANDINS, standin
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.ground import sound_json
from girder_core.photo import Frame
from people.models import HELPER
from people.policy import owned_or_404, teacher_of
from runs.answers import REFUSALS, design_shown, designs
from runs.serializers import DesignSerializer


class PictureView(APIView):
    """A picture is looked at; nothing is kept of it."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="picture_look", request={"multipart/form-data": NewPictureSerializer},
        responses={200: LookSerializer, **REFUSALS, 422: ErrorBody, 503: ErrorBody},
    )  # fmt: skip
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(NewPictureSerializer, request)
        spec = services.pictured(design, typed["key"])
        found = services.look_at(typed["photo"])
        view = services.seen_in(found, today_of(typed), typed["confirmed"], typed.get("tablet"))
        shown = look_shown(found.look, view, spec, teacher_of(request), design.run.school_class.owner)
        return Response(LookSerializer(shown).data)


class PictureSizeView(APIView):
    """What is pointed at in a picture comes to, while the points are moved; nothing is kept."""

    @extend_schema(
        operation_id="picture_size", request=PointedInSerializer, responses={200: PhotoSizeSerializer, **REFUSALS}
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(PointedInSerializer, request)
        measured = services.size_in(design, marks_of(typed), Frame(**typed["frame"]), asked_in(request, typed))
        return Response(PhotoSizeSerializer(size_shown(measured)).data)


class PhotoReadingsView(APIView):
    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="photo_reading_take", request={"multipart/form-data": PhotographedSerializer},
        responses={201: DesignSerializer, **REFUSALS, 422: ErrorBody, 503: ErrorBody},
    )  # fmt: skip
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(PhotographedSerializer, request)
        pointed = PointedSerializer(data=sound_json(typed["pointed"].encode()))
        pointed.is_valid(raise_exception=True)
        services.take_photographed(
            design, typed["photo"], asked_in(request, pointed.validated_data), today_of(typed),
            typed["picture_confirmed"], typed["confirmed"], typed["again"], typed.get("sent_as"),
        )  # fmt: skip
        return design_shown(design, status.HTTP_201_CREATED)


class CardSetsView(APIView):
    """The sets of cards of a teacher."""

    @extend_schema(operation_id="card_sets", responses={200: CardSetSerializer(many=True)})
    def get(self, request: Request) -> Response:
        return Response(CardSetSerializer(sets_of(teacher_of(request)), many=True).data)


class CardSetView(APIView):
    """How long the bar of a set's cards came out."""

    @extend_schema(
        operation_id="card_set_measure", request=BarSerializer,
        responses={200: CardSetSerializer(many=True), 400: ErrorBody},
    )  # fmt: skip
    def put(self, request: Request, number: int) -> Response:
        typed = entry(BarSerializer, request)
        services.measure_bar(teacher_of(request), number, typed["bar_text"], typed["step_text"])
        return Response(CardSetSerializer(sets_of(teacher_of(request)), many=True).data)


class StandInView(APIView):
    """A made-up picture, to practise with where there is no camera."""

    @extend_schema(
        operation_id="stand_in_picture",
        parameters=[
            OpenApiParameter("key", OpenApiTypes.STR, OpenApiParameter.PATH, enum=list(STANDINS)),
            OpenApiParameter("set", OpenApiTypes.INT),
            OpenApiParameter("by", OpenApiTypes.FLOAT, description="how far it gave way [m]"),
        ],
        responses={(200, "image/jpeg"): OpenApiTypes.BINARY, 400: ErrorBody, 404: ErrorBody, 503: ErrorBody},
    )
    def get(self, request: Request, key: str) -> HttpResponse:
        number = set_number(request.query_params.get("set", "1"))
        gave = GaveSerializer(data=request.query_params)
        gave.is_valid(raise_exception=True)
        made = standin(key, number, gave.validated_data.get("by"))
        return HttpResponse(made, content_type="image/jpeg")
