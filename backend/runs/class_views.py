"""The API of a class that several have a part in: giving it away, and who did what."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from evengirder.entry import entry
from evengirder.errors import ErrorBody
from people.models import LEAD, OWNER, SchoolClass
from people.policy import owned_or_404
from runs.deed_selectors import deeds_of
from runs.handing_over import hand_over
from runs.serializers import DeedSerializer, NewOwnerSerializer


class ClassOwnerView(APIView):
    """A class goes to a colleague; who gave it leads it with the new teacher."""

    @extend_schema(
        operation_id="class_hand_over",
        request=NewOwnerSerializer,
        responses={204: None, 400: ErrorBody, 403: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        school_class = owned_or_404(SchoolClass.objects.all(), request, pk, OWNER)
        hand_over(school_class, entry(NewOwnerSerializer, request)["colleague"])
        return Response(status=204)


class ClassDeedsView(APIView):
    @extend_schema(
        operation_id="class_deeds", responses={200: DeedSerializer(many=True), 403: ErrorBody, 404: ErrorBody}
    )
    def get(self, request: Request, pk: int) -> Response:
        school_class = owned_or_404(SchoolClass.objects.all(), request, pk, LEAD)
        return Response(DeedSerializer(deeds_of(school_class), many=True).data)
