"""The API of what happens while a class builds: drafts of designs, practice, glue."""

from __future__ import annotations

from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from designs import build_services as services
from designs.serializers import DraftStartSerializer, GlueSerializer, KeepDraftSerializer, PracticeSerializer
from drafting.selectors import film_of
from drafting.serializers import DraftSerializer, FilmSerializer
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.measure import System
from people.colleagues import part_in
from people.models import OBSERVER
from people.policy import owned_or_404, teacher_of
from runs.answers import DESIGN, REFUSALS, design_shown, designs, runs
from runs.drafted import begun_with, drafted


class RunFilmView(APIView):
    """What the run's kind of challenge looks like in motion."""

    @extend_schema(operation_id="run_film", responses={200: FilmSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        film = film_of(owned_or_404(runs(), request, pk))
        if film is None:
            raise Http404
        return Response(FilmSerializer(film).data)


class DraftStartView(APIView):
    @extend_schema(operation_id="design_draft_start", responses={200: DraftStartSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        begun = begun_with(owned_or_404(designs(), request, pk), System(teacher_of(request).units))
        start = {kind.key: values for kind, values in begun}
        return Response(DraftStartSerializer({"kinds": list(start), "start": start}).data)


class DesignDraftView(APIView):
    """Work a design's draft out, or keep it. Until the team has said what it thinks, the model keeps its own back."""

    @extend_schema(
        operation_id="design_draft_work", request=KeepDraftSerializer, responses={200: DraftSerializer, **REFUSALS}
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, OBSERVER)
        typed = entry(KeepDraftSerializer, request)
        shown, veiled = drafted(design, typed, System(teacher_of(request).units))
        # Who only looks on shows the team nothing.
        if not veiled and part_in(design.run.school_class, teacher_of(request)) != OBSERVER:
            services.show_model(design)
        return Response(DraftSerializer(shown).data)

    @extend_schema(operation_id="design_draft_keep", request=KeepDraftSerializer, responses=DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk)
        typed = entry(KeepDraftSerializer, request)
        services.keep_draft(design, typed["kind"], typed["typed"], typed["moves"])
        return design_shown(design)


class ShowModelView(APIView):
    @extend_schema(operation_id="design_show_model", request=None, responses=DESIGN)
    def post(self, request: Request, pk: int) -> Response:
        return design_shown(services.show_model(owned_or_404(designs(), request, pk)))


class PracticeView(APIView):
    @extend_schema(operation_id="design_practice", request=PracticeSerializer, responses=DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk)
        return design_shown(services.count_practice(design, entry(PracticeSerializer, request)["used"]))


class GlueView(APIView):
    @extend_schema(operation_id="design_glue", request=GlueSerializer, responses=DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk)
        return design_shown(services.set_glue(design, entry(GlueSerializer, request)["glued"]))
