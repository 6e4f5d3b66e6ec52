"""The API of what is followed in pictures at the bench."""

from __future__ import annotations

import uuid

from drf_spectacular.utils import extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from camera import services
from camera.asked import asked_in, today_of, trial_asked
from camera.motion_services import follow, followed_measure
from camera.motion_shown import went_shown
from camera.serializers import FollowSerializer, LookSerializer, NewPictureSerializer, PointedSerializer, WentSerializer
from camera.shown import look_shown
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.ground import sound_json
from people.policy import teacher_of
from runs.answers import REFUSALS


class FirstPictureView(APIView):
    """The picture that later ones are held against is looked at; nothing is kept of it."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="first_picture_look", request={"multipart/form-data": NewPictureSerializer},
        responses={200: LookSerializer, **REFUSALS, 422: ErrorBody, 503: ErrorBody},
    )  # fmt: skip
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial = trial_asked(request, pk)
        typed = entry(NewPictureSerializer, request)
        measure, _ = followed_measure(trial, typed["key"])
        found = services.look_at(typed["photo"])
        view = services.seen_in(found, today_of(typed), typed["confirmed"])
        shown = look_shown(found.look, view, measure, teacher_of(request), trial.design.run.school_class.owner)
        return Response(LookSerializer(shown).data)


class FollowView(APIView):
    """How far a point went from the first picture to this one; the later one is kept as the trial's latest."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="trial_follow", request={"multipart/form-data": FollowSerializer},
        responses={200: WentSerializer, **REFUSALS, 503: ErrorBody},
    )  # fmt: skip
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial = trial_asked(request, pk)
        typed = entry(FollowSerializer, request)
        pointed = PointedSerializer(data=sound_json(typed["pointed"].encode()))
        pointed.is_valid(raise_exception=True)
        went = follow(trial, typed["first"], typed["now"], asked_in(request, pointed.validated_data), typed["keep"])
        return Response(WentSerializer(went_shown(went)).data)
