"""Downloads of a run or recipe: tables as CSV, documents as PDF."""

from __future__ import annotations

from django.http import Http404, HttpResponse, HttpResponseBase
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from challenges.models import Recipe, Run
from challenges.shown import shown_terms
from evengirder.errors import ErrorBody
from evengirder.lane import FOLLOW, Told, followed
from girder_core.measure import System
from girder_core.safety import AgeBand
from people.identity import IDENTITIES
from people.policy import owned_or_404, teacher_of
from reports.asked import FOR_PEOPLE, card_set_asked, for_people, run_and_name
from reports.csv_file import csv_response
from reports.footprint import PAPERS
from reports.outcome import OUTCOMES, outcome_of
from reports.sheets import DOCUMENTS, LEVELS, PACK, Printed, SheetTeam
from reports.tables import KIT_HEADER, LEDGER_HEADER, kit_rows, ledger_rows, result_rows, results_header
from tablets.selectors import way_in

_CSV = {(200, "text/csv"): OpenApiTypes.STR, 404: ErrorBody}
_PDF = {(200, "application/pdf"): OpenApiTypes.BINARY, 404: ErrorBody}
_ASKED = [
    OpenApiParameter("document", OpenApiTypes.STR, OpenApiParameter.PATH, enum=["pack", *DOCUMENTS, *OUTCOMES]),
    OpenApiParameter("paper", OpenApiTypes.STR, enum=list(PAPERS)),
    OpenApiParameter("set", OpenApiTypes.INT, description="Which set of scale cards; the teacher's first without it."),
    OpenApiParameter("level", OpenApiTypes.STR, enum=list(LEVELS)),
    FOLLOW,
]


class ResultsCsvView(APIView):
    @extend_schema(operation_id="run_results_csv", parameters=FOR_PEOPLE, responses=_CSV)
    def get(self, request: Request, pk: int) -> HttpResponse:
        run, name = run_and_name(request, pk)
        return csv_response(f"{name}-results.csv", *for_people(request, run)(results_header(run), result_rows(run)))


class LedgerCsvView(APIView):
    @extend_schema(operation_id="run_ledger_csv", parameters=FOR_PEOPLE, responses=_CSV)
    def get(self, request: Request, pk: int) -> HttpResponse:
        run, name = run_and_name(request, pk)
        return csv_response(f"{name}-ledger.csv", *for_people(request, run)(LEDGER_HEADER, ledger_rows(run)))


class RunKitCsvView(APIView):
    @extend_schema(operation_id="run_kit_csv", parameters=FOR_PEOPLE, responses=_CSV)
    def get(self, request: Request, pk: int) -> HttpResponse:
        run, name = run_and_name(request, pk)
        shown = shown_terms(run, run.school_class.teams.count(), System(teacher_of(request).units))
        return csv_response(f"{name}-kit.csv", *for_people(request, run)(KIT_HEADER, kit_rows(shown)))


class RecipeKitCsvView(APIView):
    @extend_schema(operation_id="recipe_kit_csv", parameters=FOR_PEOPLE, responses=_CSV)
    def get(self, request: Request, pk: int) -> HttpResponse:
        recipe = owned_or_404(Recipe.objects.all(), request, pk)
        shown = shown_terms(recipe, recipe.teams, System(teacher_of(request).units))
        name = slugify(recipe.name) or "recipe"
        return csv_response(f"{name}-kit.csv", *for_people(request, None)(KIT_HEADER, kit_rows(shown)))


class RunPrintView(APIView):
    @extend_schema(operation_id="run_print", parameters=_ASKED, responses=_PDF)
    def get(self, request: Request, pk: int, document: str) -> HttpResponseBase:
        run, name = run_and_name(request, pk)
        designs = {design.team_id: design.level for design in run.designs.order_by("version")}
        teams = tuple(
            SheetTeam(team.name, team.colour, designs.get(team.pk, "")) for team in run.school_class.teams.all()
        )
        where = f"{run.school_class.name}, {run.date:%-d %B %Y}"
        return _printed(request, run, teams, where, document, name)


class RecipePrintView(APIView):
    @extend_schema(operation_id="recipe_print", parameters=_ASKED, responses=_PDF)
    def get(self, request: Request, pk: int, document: str) -> HttpResponseBase:
        recipe = owned_or_404(Recipe.objects.all(), request, pk)
        teams = tuple(SheetTeam(f"Team {i + 1}", IDENTITIES[i % len(IDENTITIES)].colour) for i in range(recipe.teams))
        return _printed(request, recipe, teams, "", document, slugify(recipe.name) or "recipe")


def _printed(
    request: Request, terms: Run | Recipe, teams: tuple[SheetTeam, ...], where: str, document: str, name: str
) -> HttpResponseBase:
    paper = request.query_params.get("paper", "letter" if teacher_of(request).units == System.US else "a4")
    default = "young" if terms.age_band in (AgeBand.AGES_5_7, AgeBand.AGES_8_10) else "older"
    level = request.query_params.get("level", default)
    written_up = isinstance(terms, Run) and document in OUTCOMES
    if (
        (document != "pack" and document not in DOCUMENTS and not written_up)
        or paper not in PAPERS
        or level not in LEVELS
    ):
        raise Http404
    number = card_set_asked(request)
    door = way_in(terms, request) if isinstance(terms, Run) else None
    about = Printed(terms, teams, where, paper, level, System(teacher_of(request).units), door, number)

    def work(told: Told) -> HttpResponse:
        # The library that sets paper takes a second to read; no start of the server waits for it.
        from reports import pdf

        if isinstance(terms, Run) and document in OUTCOMES:
            made = pdf.render_outcome(document, about, outcome_of(terms, about.system), told)
        else:
            made = pdf.render(PACK if document == "pack" else [document], about, told)
        response = HttpResponse(made, content_type="application/pdf")
        response["Content-Disposition"] = f'inline; filename="{name}-{document}.pdf"'
        return response

    return followed(request, work)
