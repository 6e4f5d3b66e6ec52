"""Downloads of a whole run, and the way back in."""

from __future__ import annotations

import base64
import json
from typing import Any

from django.http import HttpResponse, HttpResponseBase
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges.models import Run
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from evengirder.lane import FOLLOW, Told, followed
from girder_core.ground import GirderError
from girder_core.measure import System
from people.policy import teacher_of
from records.results_import import Taken, bring_in, guess, table_of, targets
from records.run_file import exported, imported
from records.serializers import (
    BroughtInSerializer,
    FileTextSerializer,
    ResultsTableSerializer,
    TableAnswerSerializer,
)
from records.workbook import rubric_table, workbook
from reports.asked import FOR_PEOPLE, for_people, run_and_name
from reports.csv_file import csv_response

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
        operation_id="run_import",
        parameters=[FOLLOW],
        request=FileTextSerializer,
        responses={201: BroughtInSerializer, 400: ErrorBody},
    )
    def post(self, request: Request) -> HttpResponseBase:
        teacher, text = teacher_of(request), entry(FileTextSerializer, request)["text"]

        def work(told: Told) -> Response:
            run = imported(teacher, text, told)
            made = {"run": run.pk, "class_name": run.school_class.name}
            return Response(BroughtInSerializer(made).data, status=status.HTTP_201_CREATED)

        return followed(request, work)


class ResultsTableView(APIView):
    """A preview of a table of results, or its bringing in."""

    @extend_schema(
        operation_id="results_table",
        parameters=[FOLLOW],
        request=ResultsTableSerializer,
        responses={200: TableAnswerSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request, pk: int) -> HttpResponseBase:
        run, _ = run_and_name(request, pk)
        typed = entry(ResultsTableSerializer, request)
        return followed(request, lambda told: self.seen(run, typed, told))

    def seen(self, run: Run, typed: dict[str, Any], told: Told) -> Response:
        try:
            data = base64.b64decode(typed["data"], validate=True)
        except ValueError:
            raise GirderError("not_a_table", "The file did not arrive whole. Choose it again.") from None
        table = table_of(data, typed["sheet"])
        meaning = typed["meaning"] if typed["meaning"] is not None else guess(run, table.header)
        done, problem = Taken(0, 0, ()), ""
        try:
            done = bring_in(run, table, meaning, typed["keep"], told)
        except GirderError as error:
            if typed["keep"]:
                raise
            problem = error.sentence
        columns = [
            {"name": name, "meaning": key, "examples": [row.cells[i] for row in table.rows[:3]]}
            for i, (name, key) in enumerate(zip(table.header, meaning, strict=False))
        ]
        kept = typed["keep"] and not done.errors
        answer = {
            "columns": columns, "targets": targets(run), "rows": len(table.rows), "problem": problem, "kept": kept,
            "trials": done.trials, "readings": done.readings, "errors": done.errors,
            "sheets": table.sheets, "sheet": table.sheet,
        }  # fmt: skip
        return Response(TableAnswerSerializer(answer).data)


class WorkbookView(APIView):
    @extend_schema(
        operation_id="run_workbook", parameters=FOR_PEOPLE, responses={(200, XLSX): OpenApiTypes.BINARY, 404: ErrorBody}
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        run, name = run_and_name(request, pk)
        book = workbook(run, System(teacher_of(request).units), for_people(request, run))
        return _download(book, XLSX, f"{name}.xlsx")


class RubricCsvView(APIView):
    @extend_schema(operation_id="rubric_csv", responses={(200, "text/csv"): OpenApiTypes.STR, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> HttpResponse:
        run, name = run_and_name(request, pk)
        return csv_response(f"{name}-rubric.csv", *for_people(request, run)(*rubric_table(run)))
