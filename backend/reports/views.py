"""Downloads of a run."""

from __future__ import annotations

from django.http import HttpResponse
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from challenges.models import Run
from evengirder.errors import ErrorBody
from people.policy import owned_or_404
from reports.csv_file import csv_response
from reports.tables import LEDGER_HEADER, RESULTS_HEADER, ledger_rows, result_rows

_CSV = {(200, "text/csv"): OpenApiTypes.STR, 404: ErrorBody}


def _run(request: Request, pk: int) -> tuple[Run, str]:
    run = owned_or_404(Run.objects.select_related("school_class"), request, pk)
    return run, f"{slugify(run.name)}-{slugify(run.school_class.name)}-{run.date.isoformat()}"


class ResultsCsvView(APIView):
    @extend_schema(operation_id="run_results_csv", responses=_CSV)
    def get(self, request: Request, pk: int) -> HttpResponse:
        run, name = _run(request, pk)
        return csv_response(f"{name}-results.csv", RESULTS_HEADER, result_rows(run))


class LedgerCsvView(APIView):
    @extend_schema(operation_id="run_ledger_csv", responses=_CSV)
    def get(self, request: Request, pk: int) -> HttpResponse:
        run, name = _run(request, pk)
        return csv_response(f"{name}-ledger.csv", LEDGER_HEADER, ledger_rows(run))
