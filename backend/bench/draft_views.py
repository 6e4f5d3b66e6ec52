"""The API of what happens while a class builds: drafts of designs, practice, glue, the class's experience."""

from __future__ import annotations

from dataclasses import replace

from django.db.models import QuerySet
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from bench import build_services as services
from bench.experience import experience_of
from bench.models import Design
from bench.selectors import design_card
from bench.serializers import (
    DesignSerializer,
    DraftStartSerializer,
    ExperienceSerializer,
    GlueSerializer,
    KeepDraftSerializer,
    PracticeSerializer,
    UseExperienceSerializer,
)
from challenges.models import Run
from drafting.selectors import shown_draft
from drafting.serializers import DraftSerializer
from drafting.shelf import in_force, shelf
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.drafting import draft, draft_kind, kinds_for, material_of, start_values
from girder_core.measure import System
from people.policy import owned_or_404, teacher_of

_REFUSALS = {400: ErrorBody, 404: ErrorBody}
_DESIGN = {200: DesignSerializer, **_REFUSALS}


def _designs() -> QuerySet[Design]:
    return Design.objects.select_related("run__school_class__owner", "team")


def _runs() -> QuerySet[Run]:
    return Run.objects.select_related("school_class__owner")


def _shown(design: Design) -> Response:
    fresh = _designs().get(pk=design.pk)
    return Response(DesignSerializer(design_card(fresh, fresh.run.trial_setup())).data)


class DraftStartView(APIView):
    @extend_schema(operation_id="design_draft_start", responses={200: DraftStartSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        system = System(teacher_of(request).units)
        readings = {key: quantity.value for key, quantity in design.quantities().items()}
        kinds = kinds_for(design.run.family)
        start = {kind.key: start_values(kind, design.run.setup, readings, system) for kind in kinds}
        return Response(DraftStartSerializer({"kinds": [kind.key for kind in kinds], "start": start}).data)


class DesignDraftView(APIView):
    """Work a design's draft out, or keep it. Until the team has said what it thinks, the model keeps its own back."""

    @extend_schema(
        operation_id="design_draft_work", request=KeepDraftSerializer, responses={200: DraftSerializer, **_REFUSALS}
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        typed = entry(KeepDraftSerializer, request)
        kind, system = draft_kind(typed["kind"]), System(teacher_of(request).units)
        moves = {name: (x, y) for name, (x, y) in typed["moves"].items()}
        factors = in_force(design.run.school_class, design.run.family)
        factor = factors.get(material_of(kind, typed["typed"]))
        worked = draft(kind, typed["typed"], shelf(design.run.school_class.owner), moves, system, factor)
        told = shown_draft(kind, worked, system)
        if not design_card(design, design.run.trial_setup(), factors).veiled:
            services.show_model(design)
        else:
            told |= {
                "headline": "Say first what it will hold.", "prediction": None, "facts": [], "curves": [], "says": [],
                "note": "The model keeps its answer back until then.", "mark_n": None,
                "views": [replace(view, drawing=view.drawing.plain()) for view in worked.shown.views],
            }  # fmt: skip
        return Response(DraftSerializer(told).data)

    @extend_schema(operation_id="design_draft_keep", request=KeepDraftSerializer, responses=_DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        typed = entry(KeepDraftSerializer, request)
        services.keep_draft(design, typed["kind"], typed["typed"], typed["moves"])
        return _shown(design)


class ShowModelView(APIView):
    @extend_schema(operation_id="design_show_model", request=None, responses=_DESIGN)
    def post(self, request: Request, pk: int) -> Response:
        return _shown(services.show_model(owned_or_404(_designs(), request, pk)))


class PracticeView(APIView):
    @extend_schema(operation_id="design_practice", request=PracticeSerializer, responses=_DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        return _shown(services.count_practice(design, entry(PracticeSerializer, request)["used"]))


class GlueView(APIView):
    @extend_schema(operation_id="design_glue", request=GlueSerializer, responses=_DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        return _shown(services.set_glue(design, entry(GlueSerializer, request)["glued"]))


class ExperienceView(APIView):
    """What the run's class has taught about the model, over all its runs of this family."""

    @extend_schema(operation_id="run_experience", responses={200: ExperienceSerializer(many=True), 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        return Response(ExperienceSerializer(experience_of(owned_or_404(_runs(), request, pk)), many=True).data)

    @extend_schema(
        operation_id="run_use_experience",
        request=UseExperienceSerializer,
        responses={200: ExperienceSerializer(many=True), **_REFUSALS},
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        typed = entry(UseExperienceSerializer, request)
        services.use_experience(run, typed["material"], typed["applied"])
        return Response(ExperienceSerializer(experience_of(run), many=True).data)
