"""Shapes of the drafting API. Everything is SI; a load that never happens is null."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from challenges.serializers import QUANTITY_KINDS, DrawingSerializer
from evengirder.fields import FiniteField, QuantitySerializer
from girder_core.ground import Film

FACT_KINDS = ["length", "mass", "force", "frequency", "angle", "share", "count", "ratio", "words"]


class OptionSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()


class ParamSerializer(serializers.Serializer[Any]):
    """Something that can be set on a draft; ``forms`` name the stocks that serve, where it is a material."""

    key = serializers.CharField()
    label = serializers.CharField()
    kind = serializers.ChoiceField(choices=QUANTITY_KINDS, allow_null=True)
    low = serializers.FloatField()
    high = serializers.FloatField()
    step = serializers.FloatField()
    options = OptionSerializer(many=True)
    forms = serializers.ListField(child=serializers.CharField())
    why = serializers.CharField()
    only_key = serializers.SerializerMethodField()
    only_values = serializers.SerializerMethodField()
    fine = serializers.BooleanField()

    def get_only_key(self, param: Any) -> str:
        return str(param.only[0])

    def get_only_values(self, param: Any) -> list[str]:
        return list(param.only[1])


class LessonSerializer(serializers.Serializer[Any]):
    """A small figure that explains one thing."""

    words = serializers.CharField()
    drawing = DrawingSerializer()


class DraftKindSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    name = serializers.CharField()
    about = serializers.CharField()
    families = serializers.ListField(child=serializers.CharField())
    load_words = serializers.CharField()
    params = ParamSerializer(many=True)
    lessons = LessonSerializer(many=True)
    start = serializers.DictField(child=serializers.CharField())


class BoundsSerializer(serializers.Serializer[Any]):
    low = serializers.FloatField()
    typical = serializers.FloatField()
    high = serializers.FloatField()
    source = serializers.CharField()


class StockSerializer(serializers.Serializer[Any]):
    """A material; ``own`` is the number of one that the teacher brought."""

    key = serializers.CharField()
    name = serializers.CharField()
    form = serializers.CharField()
    density_kg_m3 = BoundsSerializer()
    thickness_m = BoundsSerializer()
    elastic_modulus_pa = BoundsSerializer()
    compression_pa = BoundsSerializer()
    tension_pa = BoundsSerializer()
    joint_n = BoundsSerializer(allow_null=True)
    measured = serializers.BooleanField()
    own = serializers.SerializerMethodField()

    def get_own(self, stock: Any) -> int | None:
        number = str(stock.key).removeprefix("own-")
        return int(number) if number != stock.key and number.isdigit() else None


class TypedStockSerializer(serializers.Serializer[Any]):
    """A stock as typed: what it is like, its thickness (of a stack), and its mass by area, stated or weighed."""

    name = serializers.CharField(max_length=80, allow_blank=True, default="")
    like = serializers.CharField(max_length=24)
    thickness = serializers.CharField(max_length=40, allow_blank=True, default="")
    stack = serializers.IntegerField(min_value=1, max_value=1000, default=1)
    grammage = serializers.FloatField(min_value=1, max_value=5000, allow_null=True, default=None)
    sheets = serializers.IntegerField(min_value=1, max_value=1000, default=10)
    sheets_mass = serializers.CharField(max_length=40, allow_blank=True, default="")
    sheet_width = serializers.CharField(max_length=40, allow_blank=True, default="")
    sheet_length = serializers.CharField(max_length=40, allow_blank=True, default="")
    scale_step = serializers.CharField(max_length=40, allow_blank=True, default="")
    overhang = serializers.CharField(max_length=40, allow_blank=True, default="")
    droop = serializers.CharField(max_length=40, allow_blank=True, default="")
    ruler_step = serializers.CharField(max_length=40, allow_blank=True, default="")


class DroopSerializer(serializers.Serializer[Any]):
    angle_deg = serializers.FloatField()
    bending_length_m = serializers.FloatField()
    rigidity_nm = serializers.FloatField()
    modulus_pa = QuantitySerializer()


class TriedStockSerializer(serializers.Serializer[Any]):
    grammage = QuantitySerializer()
    thickness = QuantitySerializer()
    droop = DroopSerializer(allow_null=True)
    stock = StockSerializer()


class MovesField(serializers.DictField):
    """Joints that were moved: name to (x, y) [m]."""

    child = serializers.ListField(child=serializers.FloatField(), min_length=2, max_length=2)


class DraftRequestSerializer(serializers.Serializer[Any]):
    """A draft to be worked out: typed values by parameter; with a run, its class's experience where it is applied."""

    kind = serializers.CharField(max_length=24)
    typed = serializers.DictField(child=serializers.CharField(max_length=40, allow_blank=True), default=dict)
    moves = MovesField(default=dict)
    run = serializers.IntegerField(allow_null=True, default=None)


class LimitStateSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    name = serializers.CharField()
    low_n = FiniteField()
    typical_n = FiniteField()
    high_n = FiniteField()
    explanation = serializers.CharField()
    young = serializers.CharField()
    source = serializers.CharField()
    part = serializers.CharField()
    share = serializers.FloatField()
    by_itself = serializers.BooleanField()


class HelpSerializer(serializers.Serializer[Any]):
    """What one natural step would do; ``typed`` is the parameter's value after it."""

    change = serializers.CharField()
    gain_n = serializers.FloatField()
    mass_kg = serializers.FloatField()
    key = serializers.CharField()
    typed = serializers.CharField()


class PredictionOfDraftSerializer(serializers.Serializer[Any]):
    limit_states = LimitStateSerializer(many=True)
    low_n = FiniteField()
    typical_n = FiniteField()
    high_n = FiniteField()
    what_helps = HelpSerializer(many=True)
    correction = serializers.FloatField()


class ViewSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    title = serializers.CharField()
    drawing = DrawingSerializer()


class FactSerializer(serializers.Serializer[Any]):
    label = serializers.CharField()
    kind = serializers.ChoiceField(choices=FACT_KINDS)
    value = serializers.FloatField()
    words = serializers.CharField()


class MarkSerializer(serializers.Serializer[Any]):
    at = serializers.ListField(child=serializers.FloatField())
    words = serializers.CharField()


class CurveSerializer(serializers.Serializer[Any]):
    title = serializers.CharField()
    across = serializers.CharField()
    across_kind = serializers.ChoiceField(choices=FACT_KINDS)
    up = serializers.CharField()
    up_kind = serializers.ChoiceField(choices=FACT_KINDS)
    points = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    here = serializers.ListField(child=serializers.FloatField(), allow_null=True)
    marks = serializers.SerializerMethodField()

    @extend_schema_field(MarkSerializer(many=True))
    def get_marks(self, curve: Any) -> list[dict[str, Any]]:
        return [{"at": list(at), "words": words} for at, words in curve.marks]


class FrameSerializer(serializers.Serializer[Any]):
    """One picture of a film, and what is seen."""

    drawing = DrawingSerializer()
    says = serializers.CharField()


class FilmSerializer(serializers.Serializer[Any]):
    """Drawings that follow each other, all at one scale."""

    title = serializers.CharField()
    frames = FrameSerializer(many=True)
    box = serializers.SerializerMethodField()

    @extend_schema_field(serializers.ListField(child=serializers.FloatField()))
    def get_box(self, film: Film) -> list[float]:
        """Left, bottom, right and top of all frames together."""
        return list(film.box())


class DraftFilmSerializer(serializers.Serializer[Any]):
    """A film of a draft, and what all of them are called; none where the model has nothing to move."""

    titles = serializers.ListField(child=serializers.CharField())
    film = FilmSerializer(allow_null=True)


class DraftSerializer(serializers.Serializer[Any]):
    """A draft worked out."""

    kind = serializers.CharField()
    headline = serializers.CharField()
    note = serializers.CharField()
    push = serializers.BooleanField()
    load_words = serializers.CharField()
    mass_kg = serializers.FloatField()
    prediction = PredictionOfDraftSerializer(allow_null=True)
    views = ViewSerializer(many=True)
    facts = FactSerializer(many=True)
    curves = CurveSerializer(many=True)
    says = serializers.ListField(child=serializers.CharField())
    mark_n = serializers.FloatField(allow_null=True)
    mark_words = serializers.CharField()
    values = serializers.DictField(child=serializers.FloatField())
