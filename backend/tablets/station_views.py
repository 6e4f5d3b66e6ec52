"""The API of stations: a team's bench at its own tablet, and its teacher's view of all of them."""

from __future__ import annotations

import uuid

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from bench import services, station_services
from bench.answers import appended_shown, state_shown
from bench.entries import EntriesParser
from bench.serializers import (
    AppendedSerializer,
    BenchSerializer,
    NewEventsSerializer,
    TrialStateSerializer,
)
from challenges.models import Run
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.measure import read_in
from people.models import HELPER
from people.policy import owned_or_404
from people.serializers import FOR_ALL
from tablets.policy import TabletView, own_design, own_trial, tablet_in
from tablets.services import at_station, require
from tablets.station_selectors import station_terms, stations_of
from tablets.station_serializers import (
    NewOwnTrialSerializer,
    StationsSerializer,
    StationTermsSerializer,
    StopSerializer,
)

REFUSALS = {400: ErrorBody, 403: ErrorBody, 404: ErrorBody, 409: ErrorBody}


class TeamBenchView(TabletView):
    """What a team's bench is worked by."""

    @extend_schema(operation_id="team_bench", responses={200: StationTermsSerializer, **REFUSALS})
    def get(self, request: Request) -> Response:
        design = own_design(tablet_in(request))
        with read_in(design.run.system):
            return Response(StationTermsSerializer(station_terms(design), context={FOR_ALL: True}).data)


class TeamTrialsView(TabletView):
    @extend_schema(
        operation_id="team_trial_start",
        request=NewOwnTrialSerializer,
        responses={200: TrialStateSerializer, **REFUSALS},
    )
    def post(self, request: Request) -> Response:
        design = own_design(tablet_in(request))
        require(design.run, "test")
        typed = entry(NewOwnTrialSerializer, request)
        with read_in(design.run.system):
            trial = services.start_trial(
                design, typed["id"], typed["bench"], arrangement=typed["arrangement"], by_team=True
            )
            return Response(state_shown(trial, design.run.system()))


class TeamTrialView(TabletView):
    @extend_schema(operation_id="team_trial_show", responses={200: TrialStateSerializer, **REFUSALS})
    def get(self, request: Request, pk: uuid.UUID) -> Response:
        trial = own_trial(tablet_in(request), pk)
        with read_in(trial.design.run.system):
            return Response(state_shown(trial, trial.design.run.system()))


class TeamTrialEventsView(TabletView):
    parser_classes = [EntriesParser]

    @extend_schema(
        operation_id="team_trial_append", request=NewEventsSerializer, responses={200: AppendedSerializer, **REFUSALS}
    )
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial = own_trial(tablet_in(request), pk)
        typed = entry(NewEventsSerializer, request)
        system = trial.design.run.system()
        with read_in(lambda: system):
            done = services.append_events(
                trial, typed["bench"], typed["events"], typed.get("sent_at"), typed["only_known"],
                at_station(trial.design.team), by_team=True,
            )  # fmt: skip
            return Response(appended_shown(trial, done, system))


class TeamTakeOverView(TabletView):
    @extend_schema(
        operation_id="team_trial_take_over", request=BenchSerializer, responses={200: TrialStateSerializer, **REFUSALS}
    )
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial = own_trial(tablet_in(request), pk)
        trial = station_services.take_back(trial, entry(BenchSerializer, request)["bench"])
        with read_in(trial.design.run.system):
            return Response(state_shown(trial, trial.design.run.system()))


class RunStationsView(APIView):
    """All stations of a run: see them, and stop them all."""

    @extend_schema(operation_id="run_stations", responses={200: StationsSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        return Response(StationsSerializer(stations_of(owned_or_404(Run.objects.all(), request, pk))).data)

    @extend_schema(
        operation_id="run_stations_stop",
        request=StopSerializer,
        responses={200: StationsSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(Run.objects.all(), request, pk, HELPER)
        if entry(StopSerializer, request)["stop"]:
            station_services.stop_all(run)
        return Response(StationsSerializer(stations_of(run)).data)
