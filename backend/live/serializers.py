"""Shapes of the live API."""

from __future__ import annotations

from functools import cache
from typing import Any

from rest_framework import serializers

from bench.serializers import TrialStateSerializer
from challenges.serializers import BriefLineSerializer, CautionSerializer, DrawingSerializer, KitItemSerializer
from designs.models import PHOTO_OF
from drafting.serializers import FilmSerializer
from live.models import SCREENS
from live.selectors import PARTS, BoardState
from people.models import UNIT_SYSTEMS
from people.serializers import FOR_ALL, TeamSerializer
from results.comparison_serializers import ComparisonSerializer
from runs.serializers import AimSerializer, BuildClockStateSerializer

BOARD_ACTIONS = [("open", "open"), ("renew", "renew"), ("close", "close")]


class BoardLinkSerializer(serializers.Serializer[Any]):
    """A run's board as its teacher sees it; without a token it is closed."""

    token = serializers.CharField(allow_null=True)
    screen = serializers.ChoiceField(choices=SCREENS)
    # As another device opens it, and the same as a code for its camera: rows of modules, ``1`` for a dark one.
    address = serializers.CharField(allow_blank=True)
    code = serializers.ListField(child=serializers.CharField())


class BoardChangeSerializer(serializers.Serializer[Any]):
    """What to do with a board, or which of its screens to put on."""

    action = serializers.ChoiceField(choices=BOARD_ACTIONS, required=False)
    screen = serializers.ChoiceField(choices=SCREENS, required=False)


class BenchShownSerializer(serializers.Serializer[Any]):
    """A trial on the board."""

    team = TeamSerializer(source="state.trial.design.team")
    version = serializers.IntegerField(source="state.trial.design.version")
    is_rehearsal = serializers.BooleanField(source="state.trial.rehearsal")
    state = TrialStateSerializer()
    hold_s = serializers.FloatField()
    hold_left_s = serializers.FloatField(allow_null=True)


class BoardPhotoSerializer(serializers.Serializer[Any]):
    """A photograph on the board, and where it is."""

    address = serializers.CharField()
    team = TeamSerializer()
    version = serializers.IntegerField()
    what = serializers.ChoiceField(choices=PHOTO_OF)


class BoardStateSerializer(serializers.Serializer[Any]):
    """What a board shows: its head, and the parts of the screen that is on; all other parts are empty."""

    screen = serializers.ChoiceField(choices=SCREENS, source="board.screen")
    name = serializers.CharField(source="run.name")
    question = serializers.CharField(source="run.question")
    class_name = serializers.CharField(source="run.school_class.name")
    family = serializers.CharField(source="run.family")
    units = serializers.ChoiceField(choices=UNIT_SYSTEMS, source="run.school_class.owner.units")
    young = serializers.BooleanField(source="run.young")
    kit = KitItemSerializer(many=True, source="run.kit")
    counts_pieces = serializers.BooleanField()
    # What designs are made for.
    aims = AimSerializer(many=True)
    benches = BenchShownSerializer(many=True)
    next_teams = serializers.ListField(child=serializers.CharField())
    ranking = ComparisonSerializer(allow_null=True)
    clock = BuildClockStateSerializer(allow_null=True)
    # The code for teams' tablets, while they are let in.
    join = serializers.CharField(allow_blank=True)
    bench_left_s = serializers.FloatField(allow_null=True)
    brief = BriefLineSerializer(many=True, source="plan.brief")
    drawing = DrawingSerializer(allow_null=True)
    cautions = CautionSerializer(many=True, source="plan.cautions")
    words = serializers.DictField(child=serializers.CharField())
    photos = BoardPhotoSerializer(many=True)
    film = FilmSerializer(allow_null=True)


_HEAD = {"screen", "name", "class_name", "family", "units", "young"}
_EMPTY: dict[str, Any] = {
    "question": "", "kit": [], "counts_pieces": False, "aims": [], "benches": [], "next_teams": [], "ranking": None,
    "clock": None, "join": "", "bench_left_s": None, "brief": [], "drawing": None, "cautions": [], "words": {},
    "photos": [], "film": None,
}  # fmt: skip
"""How a part stands there that the screen does not show."""


def board_shown(state: BoardState) -> dict[str, Any]:
    """What goes out of a board to all who look: its head, and the parts of its screen."""
    return {**_EMPTY, **_shape(state.board.screen).to_representation(state)}


@cache
def _shape(screen: str) -> BoardStateSerializer:
    # Built once for each screen: to build a shape takes longer than to fill it.
    shape = BoardStateSerializer(context={FOR_ALL: True})
    for part in set(shape.fields) - _HEAD - PARTS[screen]:
        shape.fields.pop(part)
    return shape
