"""Shapes of designs: what was typed, measured and said of them. Everything is SI."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from designs.models import AWAY, PHOTO_OF, SENT_PHOTO_OF, Reading
from drafting.serializers import MovesField
from girder_core.families import SELF_MASS
from girder_core.measure import COVERAGE_FACTOR


class RepeatSerializer(serializers.Serializer[Any]):
    """An earlier reading of the same thing that counts together with the latest."""

    text = serializers.CharField()
    value_si = serializers.FloatField()


class ReadingSerializer(serializers.Serializer[Reading]):
    """A reading that counts, with those that it repeats."""

    id = serializers.IntegerField()
    key = serializers.CharField()
    text = serializers.CharField()
    zero_text = serializers.CharField()
    tare_text = serializers.CharField()
    resolution_text = serializers.CharField()
    value_si = serializers.FloatField(source="quantity.value")
    standard_uncertainty_si = serializers.FloatField(source="quantity.standard_uncertainty")
    expanded_uncertainty_si = serializers.SerializerMethodField()
    after_test = serializers.BooleanField()
    estimated = serializers.BooleanField()
    photographed = serializers.BooleanField()
    taken_at = serializers.DateTimeField()
    repeats = RepeatSerializer(many=True)
    spread_si = serializers.FloatField()

    def get_expanded_uncertainty_si(self, reading: Reading) -> float:
        return COVERAGE_FACTOR * reading.quantity().standard_uncertainty


class OfferedSerializer(serializers.Serializer[Any]):
    """What a team measured of its own design, and how it stands to what counts."""

    key = serializers.CharField(source="spec.key")
    text = serializers.CharField(source="offered.text")
    zero_text = serializers.CharField(source="offered.zero_text")
    tare_text = serializers.CharField(source="offered.tare_text")
    resolution_text = serializers.CharField(source="offered.resolution_text")
    value_si = serializers.FloatField(source="offered.value_si")
    # Whether it counts, by the teacher's word.
    taken = serializers.BooleanField()
    # Held against the teacher's own, where that counts: whether both agree, and how far apart they are.
    agree = serializers.BooleanField(source="apart.agree", allow_null=True, default=None)
    apart = serializers.CharField(source="apart.words", default="")


class TakeOverSerializer(serializers.Serializer[Any]):
    """Which of the team's readings count from now on."""

    keys = serializers.ListField(child=serializers.CharField(max_length=24), allow_empty=False, max_length=40)


class ConstraintSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()
    status = serializers.ChoiceField(choices=["kept", "breached", "doubtful", "missing"])
    sentence = serializers.CharField()


class ScaleAdviceSerializer(serializers.Serializer[Any]):
    good = serializers.BooleanField()
    relative = serializers.FloatField()
    advice = serializers.CharField()


class PredictionSerializer(serializers.Serializer[Any]):
    text = serializers.CharField()
    load_kg = serializers.FloatField(allow_null=True)
    size = serializers.FloatField(allow_null=True)
    # As it is told: a load, or more, less or as much as another team held.
    words = serializers.CharField()
    said_at = serializers.DateTimeField()


class KeptDraftSerializer(serializers.Serializer[Any]):
    """A draft kept with a design."""

    kind = serializers.CharField()
    typed = serializers.DictField(child=serializers.CharField())
    moves = MovesField()
    material = serializers.CharField()
    mass_kg = serializers.FloatField()
    drafted_at = serializers.DateTimeField()


class PhotoSerializer(serializers.Serializer[Any]):
    """A photograph; its picture is at ``photos/{id}``."""

    id = serializers.IntegerField()
    what = serializers.ChoiceField(choices=PHOTO_OF)
    width = serializers.IntegerField()
    height = serializers.IntegerField()
    # A team sent it, and its teacher has not let others see it yet.
    waits = serializers.BooleanField()
    # What was measured in it, and what that came to.
    caption = serializers.CharField(allow_blank=True)


class NewPhotoSerializer(serializers.Serializer[Any]):
    photo = serializers.FileField(allow_empty_file=True)
    what = serializers.ChoiceField(choices=SENT_PHOTO_OF, default="design")
    # Its name, the same however often it is sent.
    sent_as = serializers.UUIDField(required=False)


class LevelSerializer(serializers.Serializer[Any]):
    level = serializers.CharField(max_length=60)


class KeepDraftSerializer(serializers.Serializer[Any]):
    """A draft to be worked out or kept: its kind, typed values by parameter, moved joints."""

    kind = serializers.CharField(max_length=24)
    typed = serializers.DictField(child=serializers.CharField(max_length=40, allow_blank=True), default=dict)
    moves = MovesField(default=dict)


class DraftStartSerializer(serializers.Serializer[Any]):
    """What a draft of a design begins with: per kind that serves its family, a value for every parameter."""

    kinds = serializers.ListField(child=serializers.CharField())
    start = serializers.DictField(child=serializers.DictField(child=serializers.CharField()))


class PracticeSerializer(serializers.Serializer[Any]):
    used = serializers.IntegerField()


class GlueSerializer(serializers.Serializer[Any]):
    glued = serializers.BooleanField()


class MeasuredSerializer(serializers.Serializer[Any]):
    """A reading as typed."""

    key = serializers.CharField(max_length=24)
    text = serializers.CharField(max_length=400)
    zero_text = serializers.CharField(max_length=40, allow_blank=True, default="")
    tare_text = serializers.CharField(max_length=40, allow_blank=True, default="")
    resolution_text = serializers.CharField(max_length=40)
    confirmed = serializers.BooleanField(default=False)


class TypedReadingSerializer(MeasuredSerializer):
    """A reading that the teacher typed."""

    # Taken again to see the spread: it counts together with the ones before.
    again = serializers.BooleanField(default=False)
    # Its name, the same however often it is sent.
    sent_as = serializers.UUIDField(required=False)


class MaterialUseSerializer(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=60)
    amount = serializers.FloatField(min_value=0)
    batch_amount = serializers.FloatField(min_value=0)
    batch_mass = serializers.CharField(max_length=40)
    scale_resolution = serializers.CharField(max_length=40)


class KeptReadingSerializer(TypedReadingSerializer):
    """A reading that was typed without a network, or an own weight that was added up from materials then."""

    text = serializers.CharField(max_length=400, allow_blank=True, default="")
    resolution_text = serializers.CharField(max_length=40, allow_blank=True, default="")
    uses = MaterialUseSerializer(many=True, default=list)
    sent_as = serializers.UUIDField()
    # The reading that stood there when it was typed; none if there was none.
    stood = serializers.IntegerField(allow_null=True)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        if attrs["uses"]:
            if attrs["key"] != SELF_MASS or attrs["again"]:
                raise serializers.ValidationError({"uses": "Only an own weight is added up from materials, and once."})
        elif not (attrs["text"] and attrs["resolution_text"]):
            raise serializers.ValidationError({"text": "Type the reading and the step of the instrument."})
        return attrs


class KeptAnswerSerializer(serializers.Serializer[Any]):
    """An answer that was given without a network, and what stood there then."""

    key = serializers.CharField(max_length=24)
    value = serializers.BooleanField()
    before = serializers.BooleanField(allow_null=True)


class KeptLevelSerializer(serializers.Serializer[Any]):
    """A level of the fair test that was chosen without a network, and the one that stood there then."""

    value = serializers.CharField(max_length=60)
    before = serializers.CharField(max_length=60, allow_blank=True)


class KeptControlsSerializer(serializers.Serializer[Any]):
    """Which of the fair test's controls were not kept, noted without a network, and what stood there then."""

    value = serializers.ListField(child=serializers.CharField(max_length=200), max_length=60)
    before = serializers.ListField(child=serializers.CharField(max_length=200), max_length=60)


class KeptAwaySerializer(serializers.Serializer[Any]):
    """Why a design is not tested today, said without a network, and what stood there then."""

    value = serializers.ChoiceField(choices=AWAY, allow_blank=True)
    before = serializers.ChoiceField(choices=AWAY, allow_blank=True)


class KeptCheckInSerializer(serializers.Serializer[Any]):
    """What was kept of a design's check-in while there was no network; all of it is written down, or nothing."""

    readings = serializers.ListField(child=KeptReadingSerializer(), max_length=60)
    answers = serializers.ListField(child=KeptAnswerSerializer(), max_length=60)
    level = KeptLevelSerializer(required=False)
    controls_broken = KeptControlsSerializer(required=False)
    away = KeptAwaySerializer(required=False)
    check_in = serializers.BooleanField()
    confirmed = serializers.BooleanField(default=False)


class SelfMassEstimateSerializer(serializers.Serializer[Any]):
    uses = MaterialUseSerializer(many=True, allow_empty=False)
    confirmed = serializers.BooleanField(default=False)
    # Its name, the same however often it is sent.
    sent_as = serializers.UUIDField(required=False)


class AwaySerializer(serializers.Serializer[Any]):
    """Why a design is not tested today; empty for one that is."""

    away = serializers.ChoiceField(choices=AWAY, allow_blank=True)


class AnswersSerializer(serializers.Serializer[Any]):
    answers = serializers.DictField(child=serializers.BooleanField())


class ControlsSerializer(serializers.Serializer[Any]):
    """Which of the fair test's controls were not kept."""

    broken = serializers.ListField(child=serializers.CharField(max_length=200))


class TypedPredictionSerializer(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=40)


class NoteSerializer(serializers.Serializer[Any]):
    note = serializers.CharField(max_length=300, allow_blank=True)


class NextVersionSerializer(serializers.Serializer[Any]):
    changed = serializers.CharField(max_length=300, allow_blank=True)
