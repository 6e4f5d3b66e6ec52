"""The API of photographs."""

from __future__ import annotations

from django.http import FileResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from designs.models import Photo
from designs.photo_services import drop_photo, keep_photo, nod
from designs.pictures import picture_of
from designs.serializers import NewPhotoSerializer
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from people.models import HELPER
from people.policy import owned_or_404
from runs.answers import design_shown, designs
from runs.serializers import DesignSerializer


class PhotosView(APIView):
    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="photo_keep",
        request={"multipart/form-data": NewPhotoSerializer},
        responses={201: DesignSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(NewPhotoSerializer, request)
        keep_photo(design, typed["photo"], typed["what"], sent_as=typed.get("sent_as"))
        return design_shown(design, status.HTTP_201_CREATED)


class PhotoView(APIView):
    @extend_schema(operation_id="photo_show", responses={(200, "image/jpeg"): OpenApiTypes.BINARY, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> FileResponse:
        return picture_of(owned_or_404(Photo.objects.all(), request, pk))

    @extend_schema(operation_id="photo_nod", request=None, responses={200: DesignSerializer, 404: ErrorBody})
    def put(self, request: Request, pk: int) -> Response:
        photo = owned_or_404(Photo.objects.all(), request, pk)
        nod(photo)
        return design_shown(photo.design)

    @extend_schema(operation_id="photo_drop", responses={200: DesignSerializer, 404: ErrorBody})
    def delete(self, request: Request, pk: int) -> Response:
        photo = owned_or_404(Photo.objects.all(), request, pk, HELPER)
        design = photo.design
        drop_photo(photo)
        return design_shown(design)
