"""The API of what happens while a class builds: drafts of designs, practice, glue."""

from __future__ import annotations

from dataclasses import replace

from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from bench.selectors import design_card
from designs import build_services as services
from designs.serializers import DraftStartSerializer, GlueSerializer, KeepDraftSerializer, PracticeSerializer
from drafting.selectors import film_of, shown_draft
from drafting.serializers import DraftSerializer, FilmSerializer
from drafting.shelf import in_force, shelf
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.drafting import draft, draft_kind, kinds_for, material_of, start_values
from girder_core.measure import System
from people.policy import owned_or_404, teacher_of
from runs.answers import DESIGN, REFUSALS, design_shown, designs, runs


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
        design = owned_or_404(designs(), request, pk)
        system = System(teacher_of(request).units)
        readings = {key: quantity.value for key, quantity in design.quantities().items()}
        kinds = kinds_for(design.run.family)
        start = {kind.key: start_values(kind, design.run.setup, readings, system) for kind in kinds}
        return Response(DraftStartSerializer({"kinds": [kind.key for kind in kinds], "start": start}).data)


class DesignDraftView(APIView):
    """Work a design's draft out, or keep it. Until the team has said what it thinks, the model keeps its own back."""

    @extend_schema(
        operation_id="design_draft_work", request=KeepDraftSerializer, responses={200: DraftSerializer, **REFUSALS}
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk)
        typed = entry(KeepDraftSerializer, request)
        kind, system = draft_kind(typed["kind"]), System(teacher_of(request).units)
        moves = {name: (x, y) for name, (x, y) in typed["moves"].items()}
        corrections = in_force(design.run.school_class, design.run.family)
        correction = corrections.get(material_of(kind, typed["typed"]))
        worked = draft(kind, typed["typed"], shelf(design.run.school_class.owner), moves, system, correction)
        shown = shown_draft(kind, worked, system)
        if not design_card(design, design.run.trial_setup(), corrections).veiled:
            services.show_model(design)
        else:
            shown |= {
                "headline": "Say first what it will hold.", "prediction": None, "facts": [], "curves": [], "says": [],
                "note": "The model keeps its answer back until then.", "mark_n": None,
                "views": [replace(view, drawing=view.drawing.plain()) for view in worked.shown.views],
            }  # fmt: skip
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
