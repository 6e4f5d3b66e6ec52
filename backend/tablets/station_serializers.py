"""Shapes of stations: what a team's bench is worked by, and all of them as their teacher sees them."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from bench.selectors import DesignCard
from challenges.serializers import FamilySerializer
from designs.serializers import ReadingSerializer
from girder_core.trial import StationState
from live.serializers import BenchShownSerializer
from people.serializers import TeamSerializer
from runs.serializers import DesignSerializer, RunStateSerializer
from tablets.serializers import TaskSerializer

STATION_STATES = [(state.value, state.value) for state in StationState]


class OwnDesignSerializer(DesignSerializer):
    """A team's design at its station. What the teacher measured is left out: who has not measured would copy it."""

    readings = serializers.SerializerMethodField()  # type: ignore[assignment]

    @extend_schema_field(ReadingSerializer(many=True))
    def get_readings(self, card: DesignCard) -> list[Any]:
        return []


class OwnRunSerializer(RunStateSerializer):
    """A run as a team's station needs it: of designs, its own."""

    designs = OwnDesignSerializer(many=True)


class StationTermsSerializer(serializers.Serializer[Any]):
    """What a team's bench is worked by: the run with the team's design, and its kind of challenge."""

    state = OwnRunSerializer()
    family = FamilySerializer()


class NewOwnTrialSerializer(serializers.Serializer[Any]):
    """A test that a team begins by itself."""

    id = serializers.UUIDField()
    bench = serializers.UUIDField()
    arrangement = serializers.CharField(max_length=24, allow_blank=True, default="")


class AtStationSerializer(serializers.Serializer[Any]):
    """A team as its teacher sees it among all stations."""

    design = serializers.IntegerField(source="card.design.pk")
    team = TeamSerializer(source="card.design.team")
    version = serializers.IntegerField(source="card.design.version")
    state = serializers.ChoiceField(choices=STATION_STATES)
    # The test that it makes, or made last, by itself: as it is now while it is on, else how it stands in a line.
    trial = serializers.UUIDField(source="own.trial.id", allow_null=True, default=None)
    number = serializers.IntegerField(source="own.trial.number", allow_null=True, default=None)
    live = BenchShownSerializer(allow_null=True)
    line = serializers.CharField()
    signs = serializers.ListField(child=serializers.CharField())
    notes = serializers.ListField(source="own.result.notes", child=serializers.CharField(), default=[])
    # The number of its next entry, and how long ago the latest came [s].
    seen = serializers.IntegerField(source="own.result.next_sequence", default=0)
    quiet_s = serializers.FloatField(allow_null=True)
    confirmed_by = serializers.CharField(source="own.trial.confirmed_by", default="")
    tasks = TaskSerializer(many=True)
    # How many tablets are in for it, and how long ago the latest of them asked for anything [s].
    tablets = serializers.IntegerField()
    seen_s = serializers.FloatField(allow_null=True)


class StationsSerializer(serializers.Serializer[Any]):
    """All stations of a run: whether teams may test by themselves, whether their tablets are let in, and each team."""

    opened = serializers.BooleanField()
    door_open = serializers.BooleanField()
    stations = AtStationSerializer(many=True)


class StopSerializer(serializers.Serializer[Any]):
    """Stops every test that a team makes by itself."""

    stop = serializers.BooleanField()
