"""Downloads of a whole run, and the way back in."""

from __future__ import annotations

import json

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.units import System
from people.policy import teacher_of
from records.run_file import exported, imported
from records.serializers import BroughtInSerializer, FileTextSerializer
from records.workbook import rubric_table, workbook
from reports.csv_file import csv_response
from reports.views import run_and_name

XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def _download(content: bytes | str, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


class RunFileView(APIView):
    @extend_schema(operation_id="run_file", responses={200: OpenApiTypes.OBJECT, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> HttpResponse:
        run, name = run_and_name(request, pk)
        text = json.dumps(exported(run), indent=1, ensure_ascii=False)
        return _download(text, "application/json; charset=utf-8", f"{name}.json")


class RunImportView(APIView):
    @extend_schema(
        operation_id="run_import", request=FileTextSerializer, responses={201: BroughtInSerializer, 400: ErrorBody}
    )
    def post(self, request: Request) -> Response:
        run = imported(teacher_of(request), entry(FileTextSerializer, request)["text"])
        made = {"run": run.pk, "class_name": run.school_class.name}
        return Response(BroughtInSerializer(made).data, status=status.HTTP_201_CREATED)


class WorkbookView(APIView):
    @extend_schema(operation_id="run_workbook", responses={(200, XLSX): OpenApiTypes.BINARY, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> HttpResponse:
        run, name = run_and_name(request, pk)
        return _download(workbook(run, System(teacher_of(request).units)), XLSX, f"{name}.xlsx")


class RubricCsvView(APIView):
    @extend_schema(operation_id="rubric_csv", responses={(200, "text/csv"): OpenApiTypes.STR, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> HttpResponse:
        run, name = run_and_name(request, pk)
        header, rows = rubric_table(run)
        return csv_response(f"{name}-rubric.csv", header, rows)
