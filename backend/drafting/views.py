"""The API of drafting: kinds, stocks, and a draft worked out."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges.models import Run
from drafting import services
from drafting.models import OwnStock
from drafting.serializers import (
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
from girder_core.drafting import KINDS, DraftKind, Worked, draft, draft_kind, material_of, start_values
from girder_core.measure import System, typed_text
from people.policy import owned_or_404, teacher_of


class DraftKindListView(APIView):
    @extend_schema(operation_id="draft_kind_list", responses=DraftKindSerializer(many=True))
    def get(self, request: Request) -> Response:
        system = System(teacher_of(request).units)
        told = [{**_attributes(kind), "start": start_values(kind, {}, {}, system)} for kind in KINDS.values()]
        return Response(DraftKindSerializer(told, many=True).data)


def _attributes(kind: DraftKind) -> dict[str, Any]:
    return {
        name: getattr(kind, name) for name in ("key", "name", "about", "families", "load_words", "params", "lessons")
    }


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
        owned_or_404(OwnStock.objects.all(), request, pk).delete()
        return Response(StockSerializer(list(shelf(teacher_of(request)).values()), many=True).data)


class DraftView(APIView):
    """Work a draft out. Nothing is kept."""

    @extend_schema(
        operation_id="draft_work",
        request=DraftRequestSerializer,
        responses={200: DraftSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        typed = entry(DraftRequestSerializer, request)
        teacher = teacher_of(request)
        kind, system = draft_kind(typed["kind"]), System(teacher.units)
        factor = None
        if typed["run"] is not None:
            run = owned_or_404(Run.objects.select_related("school_class"), request, typed["run"])
            factor = in_force(run.school_class, run.family).get(material_of(kind, typed["typed"]))
        moves = {name: (x, y) for name, (x, y) in typed["moves"].items()}
        worked = draft(kind, typed["typed"], shelf(teacher), moves, system, factor)
        return Response(DraftSerializer(shown(kind, worked, system)).data)


def shown(kind: DraftKind, worked: Worked, system: System) -> dict[str, Any]:
    """A worked draft as the serializer reads it."""
    prediction = worked.expected.prediction
    told = None
    if prediction:
        helps = []
        for one in prediction.what_helps:
            param = kind.param(one.key)
            assert param is not None and param.kind is not None
            typed = typed_text(one.value, param.kind, system)
            helps.append(
                {"change": one.change, "gain_n": one.gain_n, "mass_kg": one.mass_kg, "key": one.key, "typed": typed}
            )
        told = {
            "limit_states": prediction.limit_states, "low_n": prediction.low_n, "typical_n": prediction.typical_n,
            "high_n": prediction.high_n, "what_helps": helps, "factor": prediction.factor,
        }  # fmt: skip
    page = worked.shown
    return {
        "kind": kind.key, "headline": worked.headline, "note": worked.note, "push": kind.pushes(worked.values.words),
        "load_words": kind.words_for(worked.values.words),
        "mass_kg": worked.expected.mass_kg, "prediction": told, "views": page.views,
        "facts": page.facts, "curves": page.curves, "says": page.says, "mark_n": page.mark_n,
        "mark_words": page.mark_words, "values": worked.values.numbers,
    }  # fmt: skip
