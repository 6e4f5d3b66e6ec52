"""The API of drafting: kinds, stocks, and a draft worked out."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges.models import Run
from drafting import services
from drafting.models import OwnStock
from drafting.selectors import kind_shown, shown_draft
from drafting.serializers import (
    DraftFilmSerializer,
    DraftKindSerializer,
    DraftRequestSerializer,
    DraftSerializer,
    StockSerializer,
    TriedStockSerializer,
    TypedStockSerializer,
)
from drafting.shelf import in_force, shelf
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from evengirder.origins import FIGURE, OriginSerializer, the_figure
from girder_core.drafting import (
    KINDS,
    DraftKind,
    Worked,
    draft,
    draft_kind,
    draft_origins,
    film,
    films_of,
    material_of,
    start_values,
)
from girder_core.measure import System
from girder_core.physics import Calibration
from people.models import OBSERVER
from people.policy import owned_or_404, teacher_of


class DraftKindListView(APIView):
    @extend_schema(operation_id="draft_kind_list", responses=DraftKindSerializer(many=True))
    def get(self, request: Request) -> Response:
        system = System(teacher_of(request).units)
        kinds = [{**kind_shown(kind), "start": start_values(kind, {}, {}, system)} for kind in KINDS.values()]
        return Response(DraftKindSerializer(kinds, many=True).data)


class StockListView(APIView):
    @extend_schema(operation_id="stock_list", responses=StockSerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(StockSerializer(list(shelf(teacher_of(request)).values()), many=True).data)

    @extend_schema(
        operation_id="stock_add", request=TypedStockSerializer, responses={201: StockSerializer, 400: ErrorBody}
    )
    def post(self, request: Request) -> Response:
        made = services.add_stock(teacher_of(request), entry(TypedStockSerializer, request))
        return Response(StockSerializer(made.core()).data, status=status.HTTP_201_CREATED)


class StockTryView(APIView):
    """What typed measurements make of a stock. Nothing is kept."""

    @extend_schema(
        operation_id="stock_try", request=TypedStockSerializer, responses={200: TriedStockSerializer, 400: ErrorBody}
    )
    def post(self, request: Request) -> Response:
        return Response(TriedStockSerializer(services.try_stock(entry(TypedStockSerializer, request))).data)


class StockView(APIView):
    @extend_schema(operation_id="stock_remove", responses={200: StockSerializer(many=True), 404: ErrorBody})
    def delete(self, request: Request, pk: int) -> Response:
        services.drop_stock(owned_or_404(OwnStock.objects.all(), request, pk))
        return Response(StockSerializer(list(shelf(teacher_of(request)).values()), many=True).data)


def _worked(request: Request) -> tuple[DraftKind, Worked, Calibration | None, System]:
    """The draft that a request asks for, with the class's experience where it is applied."""
    typed = entry(DraftRequestSerializer, request)
    teacher = teacher_of(request)
    kind, system = draft_kind(typed["kind"]), System(teacher.units)
    correction = None
    if typed["run"] is not None:
        run = owned_or_404(Run.objects.select_related("school_class"), request, typed["run"], OBSERVER)
        correction = in_force(run.school_class, run.family).get(material_of(kind, typed["typed"]))
    moves = {name: (x, y) for name, (x, y) in typed["moves"].items()}
    return kind, draft(kind, typed["typed"], shelf(teacher), moves, system, correction), correction, system


class DraftView(APIView):
    """Work a draft out. Nothing is kept."""

    @extend_schema(
        operation_id="draft_work",
        request=DraftRequestSerializer,
        responses={200: DraftSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        kind, worked, _, system = _worked(request)
        return Response(DraftSerializer(shown_draft(kind, worked, system)).data)


class DraftFilmView(APIView):
    """A draft in motion. Nothing is kept."""

    @extend_schema(
        operation_id="draft_film",
        parameters=[OpenApiParameter("number", int, description="Which of its films.")],
        request=DraftRequestSerializer,
        responses={200: DraftFilmSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        kind, worked, _, system = _worked(request)
        number = str(request.query_params.get("number", ""))
        shown = film(kind, worked.values, worked.expected, system, int(number) if number.isdecimal() else 0)
        titles = [motion.title for motion in films_of(kind, worked.values)]
        return Response(DraftFilmSerializer({"titles": titles, "film": shown}).data)


class DraftWhyView(APIView):
    """How a figure of a draft came about. Nothing is kept."""

    @extend_schema(
        operation_id="draft_why",
        parameters=[FIGURE],
        request=DraftRequestSerializer,
        responses={200: OriginSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        kind, worked, correction, system = _worked(request)
        return Response(OriginSerializer(the_figure(draft_origins(kind, worked, correction, system), request)).data)
