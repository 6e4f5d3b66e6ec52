"""Shapes of what a tablet and a lesson's door show. Everything is SI."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from challenges.serializers import (
    QUANTITY_KINDS,
    BriefLineSerializer,
    CautionSerializer,
    DrawingSerializer,
    KitItemSerializer,
)
from designs.serializers import (
    KeptDraftSerializer,
    NewPhotoSerializer,
    OfferedSerializer,
    PhotoSerializer,
    PredictionSerializer,
)
from drafting.serializers import DraftKindSerializer, StockSerializer
from live.serializers import BenchShownSerializer
from people.models import UNIT_SYSTEMS, Team
from results.reflection_serializers import ReflectionSerializer
from runs.serializers import BuildClockStateSerializer
from tablets.models import TeamsMay
from tablets.selectors import STAGES, OwnReading, TeamPage

DOOR_ACTIONS = [("open", "open"), ("keep", "keep open longer"), ("close", "everybody out")]


class CodeSerializer(serializers.Serializer[Any]):
    """A lesson's code as it was typed."""

    code = serializers.CharField(max_length=40)


class ChoiceSerializer(serializers.Serializer[Any]):
    """Which team a tablet is of."""

    team = serializers.IntegerField(min_value=1, max_value=2**63 - 1)
    confirmed = serializers.BooleanField(default=False)


class TeamNoteSerializer(serializers.Serializer[Any]):
    """What the team tries, and what stood there when it was typed."""

    note = serializers.CharField(max_length=300, allow_blank=True)
    before = serializers.CharField(max_length=300, allow_blank=True)


class TeamSaysSerializer(serializers.Serializer[Any]):
    """What the team says its design will hold, and how long ago it was typed, where the network held it back [s]."""

    text = serializers.CharField(max_length=40)
    typed_ago_s = serializers.FloatField(min_value=0, max_value=7 * 24 * 3600, default=0)


class WhoSerializer(serializers.Serializer[Any]):
    """First names of who is at a tablet, with commas between them."""

    who = serializers.CharField(max_length=200, allow_blank=True)


class TeamPhotoSerializer(NewPhotoSerializer):
    """A photograph that a team took, under a name of its own."""

    sent_as = serializers.UUIDField()


class TeamAnswerSerializer(ReflectionSerializer):
    """What the team answers, and what stood there when it was typed."""

    before = serializers.CharField(max_length=1000, allow_blank=True)


class TeamsMaySerializer(serializers.ModelSerializer[TeamsMay]):
    """What teams of a run may do at their tablets."""

    class Meta:
        model = TeamsMay
        fields = ["measure", "draft", "ideas", "test"]


class LateSerializer(serializers.Serializer[Any]):
    """What a team typed before its test, and came too late to count."""

    team = serializers.CharField()
    text = serializers.CharField()


class DoorChangeSerializer(serializers.Serializer[Any]):
    """What to do at a lesson's door, or which tablet to put out."""

    action = serializers.ChoiceField(choices=DOOR_ACTIONS, required=False)
    out = serializers.IntegerField(required=False, min_value=1, max_value=2**63 - 1)
    may = TeamsMaySerializer(required=False)


class TabletSerializer(serializers.Serializer[Any]):
    """A tablet as the teacher is shown it."""

    id = serializers.IntegerField()
    team = serializers.CharField(allow_blank=True)
    # First names of who is at it, where they said.
    who = serializers.CharField(allow_blank=True)
    joined_at = serializers.DateTimeField()
    # How long ago it asked for anything [s].
    seen_s = serializers.FloatField()


class WayInSerializer(serializers.Serializer[Any]):
    """How tablets come into a lesson: its code, the address to open, and that for cameras as rows of modules, ``1`` for
    a dark one. Without a code the door is shut."""

    code = serializers.CharField(allow_blank=True)
    address = serializers.CharField(allow_blank=True)
    picture = serializers.ListField(child=serializers.CharField())


class DoorSerializer(WayInSerializer):
    """The door of a lesson as its teacher sees it."""

    until = serializers.DateTimeField(allow_null=True)
    tablets = TabletSerializer(many=True)
    may = TeamsMaySerializer()
    late = LateSerializer(many=True)


class TeamShownSerializer(serializers.ModelSerializer[Team]):
    """A team as other teams may know it: never who is in it."""

    class Meta:
        model = Team
        fields = ["id", "name", "mark", "colour"]


class OwnTrialSerializer(serializers.Serializer[Any]):
    """A trial of one's own, in words."""

    number = serializers.IntegerField(source="trial.number")
    line = serializers.CharField()
    headline = serializers.CharField()


class OwnTestSerializer(serializers.Serializer[Any]):
    """A team's station: whether a test may begin, and the one that is on, or over and not confirmed."""

    may_begin = serializers.BooleanField()
    trial = serializers.UUIDField(source="trial.trial.id", allow_null=True, default=None)
    stopped = serializers.BooleanField()


class AsksSerializer(serializers.Serializer[Any]):
    ask = serializers.CharField()
    example = serializers.CharField()


class TaskSerializer(serializers.Serializer[Any]):
    """A task at the test, and who has it; nobody by name where nobody said who is there."""

    words = serializers.CharField()
    name = serializers.CharField(allow_blank=True)


class OwnReadingSerializer(serializers.Serializer[OwnReading]):
    """Something to measure of one's own design; what the team measured, and how it stands to what counts."""

    key = serializers.CharField(source="spec.key")
    label = serializers.CharField(source="spec.label")
    kind = serializers.ChoiceField(choices=QUANTITY_KINDS, source="spec.kind")
    how = serializers.CharField(source="spec.how")
    own = OfferedSerializer(allow_null=True)
    # Whether the teacher has measured it; and what counts [SI], once the team has measured too.
    measured = serializers.BooleanField()
    counts_si = serializers.FloatField(allow_null=True)


class DraftForTeamSerializer(serializers.Serializer[Any]):
    """A team's drafting table: kinds of draft that serve its design, each begun for it, and the one that it kept."""

    kinds = DraftKindSerializer(many=True)
    stocks = StockSerializer(many=True)
    kept = KeptDraftSerializer(allow_null=True)
    # Whether the model keeps its answer back, and whether the test has begun, so that nothing can be kept any more.
    veiled = serializers.BooleanField()
    begun = serializers.BooleanField()


class TeamPageSerializer(serializers.Serializer[TeamPage]):
    """What a team's tablet shows now."""

    stage = serializers.ChoiceField(choices=STAGES)
    run = serializers.IntegerField(source="run.pk")
    name = serializers.CharField(source="run.name")
    question = serializers.CharField(source="run.question")
    units = serializers.ChoiceField(choices=UNIT_SYSTEMS, source="run.school_class.owner.units")
    young = serializers.BooleanField(source="run.young")
    teams = TeamShownSerializer(many=True)
    taken = serializers.ListField(child=serializers.IntegerField())
    team = TeamShownSerializer(allow_null=True)
    brief = BriefLineSerializer(many=True, source="plan.brief")
    drawing = DrawingSerializer()
    cautions = CautionSerializer(many=True, source="plan.cautions")
    clock = BuildClockStateSerializer()
    version = serializers.SerializerMethodField()
    changed = serializers.SerializerMethodField()
    note = serializers.SerializerMethodField()
    prediction = serializers.SerializerMethodField()
    # What was typed before the test and came after it had begun.
    late = serializers.ListField(child=serializers.CharField())
    asks = AsksSerializer()
    may_predict = serializers.BooleanField()
    live = BenchShownSerializer(allow_null=True)
    own_test = OwnTestSerializer()
    trials = OwnTrialSerializer(many=True)
    kit = KitItemSerializer(many=True, source="run.kit")
    counts_pieces = serializers.BooleanField()
    # Who is at this tablet, as they said, and who does what at the team's test.
    who = serializers.CharField()
    tasks = TaskSerializer(many=True)
    readings = OwnReadingSerializer(many=True)
    # The unit that a young class counts lengths in; empty where it has none.
    own_unit = serializers.CharField(source="run.counted_unit.name", default="")
    photos = PhotoSerializer(many=True)
    practice_pieces = serializers.IntegerField(source="run.practice_pieces")
    practice_used = serializers.SerializerMethodField()
    ideas = serializers.ListField(child=serializers.CharField())
    can_draft = serializers.BooleanField()
    ways_on = serializers.ListField(child=serializers.CharField())
    questions = ReflectionSerializer(many=True)

    def get_practice_used(self, page: TeamPage) -> int:
        return page.card.design.practice_used if page.card else 0

    def get_version(self, page: TeamPage) -> int:
        return page.card.design.version if page.card else 1

    def get_changed(self, page: TeamPage) -> str:
        return page.card.design.changed if page.card else ""

    def get_note(self, page: TeamPage) -> str:
        return page.card.design.note if page.card else ""

    @extend_schema_field(PredictionSerializer(allow_null=True))
    def get_prediction(self, page: TeamPage) -> Any:
        said = page.card.prediction if page.card else None
        return None if said is None else PredictionSerializer(said).data
