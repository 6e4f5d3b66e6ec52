"""Shapes of the schools API."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from challenges.entries import FAMILY_KEYS
from challenges.models import AGE_BANDS
from girder_core.measure import System
from people.models import Code, Teacher, gone_on
from people.serializers import NewInvitationSerializer
from schools.models import SharedRecipe
from schools.sharing import came_to, may_take_back


class SchoolTeacherSerializer(serializers.ModelSerializer[Teacher]):
    """Somebody in a school, as its administrator sees them: how much there is of theirs, and nothing of it."""

    class_count = serializers.IntegerField()
    run_count = serializers.IntegerField()
    test_count = serializers.IntegerField()
    gone_on = serializers.SerializerMethodField()
    me = serializers.SerializerMethodField()

    class Meta:
        model = Teacher
        fields = [
            "id", "name", "email", "administers", "shares_work", "is_active", "last_login", "class_count", "run_count",
            "test_count", "gone_on", "me",
        ]  # fmt: skip

    def get_gone_on(self, teacher: Teacher) -> str | None:
        """When a removed account is gone for good."""
        return gone_on(teacher.leaving_at).isoformat() if teacher.leaving_at else None

    def get_me(self, teacher: Teacher) -> bool:
        return bool(teacher.pk == self.context["me"])


class SchoolInvitationSerializer(serializers.ModelSerializer[Code]):
    """An invitation into a school that nobody used yet."""

    by = serializers.CharField(source="by.name", default="who runs the server")

    class Meta:
        model = Code
        fields = ["id", "administers", "by", "until"]


class SchoolCountsSerializer(serializers.Serializer[Any]):
    """How much there is in a school."""

    teachers = serializers.IntegerField()
    classes = serializers.IntegerField()
    runs = serializers.IntegerField()
    tests = serializers.IntegerField()
    shared = serializers.IntegerField()


class SchoolSerializer(serializers.Serializer[Any]):
    """A school's page; counts, teachers and invitations for who administers it alone."""

    name = serializers.CharField(source="school.name")
    district = serializers.CharField(source="school.district.name", default="")
    administers = serializers.BooleanField()
    administrators = serializers.ListField(child=serializers.CharField())
    gone_on = serializers.DateTimeField(source="school.gone_on", allow_null=True)
    counts = SchoolCountsSerializer(allow_null=True)
    teachers = SchoolTeacherSerializer(many=True)
    invitations = SchoolInvitationSerializer(many=True)


class SchoolPageSerializer(serializers.Serializer[Any]):
    """The school of who asks, if any; an invitation, or a code for a password, when one was just made; and what became
    of the classes of somebody who was removed."""

    school = SchoolSerializer(allow_null=True)
    shares_work = serializers.BooleanField()
    made = NewInvitationSerializer(allow_null=True)
    code = serializers.CharField(allow_blank=True)
    went = serializers.ListField(child=serializers.CharField())


class JoinSchoolSerializer(serializers.Serializer[Any]):
    code = serializers.CharField(max_length=60)


class SharesWorkSerializer(serializers.Serializer[Any]):
    shares_work = serializers.BooleanField()


class AdministersSerializer(serializers.Serializer[Any]):
    administers = serializers.BooleanField()


class InAgainSerializer(serializers.Serializer[Any]):
    """Whether an account is to be let in."""

    let_in = serializers.BooleanField()


class ShareSerializer(serializers.Serializer[Any]):
    """A recipe to be shared, and how far."""

    recipe = serializers.IntegerField()
    to_district = serializers.BooleanField(default=False)


class CameToSerializer(serializers.Serializer[Any]):
    """What a shared recipe came to: how many designs, in how many runs, and the rest in words."""

    designs = serializers.IntegerField()
    runs = serializers.IntegerField()
    says = serializers.CharField()


class SharedRecipeSerializer(serializers.ModelSerializer[SharedRecipe]):
    """A recipe that somebody shares."""

    name = serializers.CharField(source="entry.name")
    question = serializers.CharField(source="entry.question")
    family = serializers.ChoiceField(source="entry.family", choices=FAMILY_KEYS)
    age_band = serializers.ChoiceField(source="entry.age_band", choices=AGE_BANDS)
    minutes = serializers.IntegerField(source="entry.minutes")
    school = serializers.CharField(source="school.name")
    # Within a school people know each other; beyond it a recipe is the school's.
    by = serializers.SerializerMethodField()
    came_to = serializers.SerializerMethodField()
    mine = serializers.SerializerMethodField()
    may_take_back = serializers.SerializerMethodField()

    class Meta:
        model = SharedRecipe
        fields = [
            "id", "recipe", "name", "question", "family", "age_band", "minutes", "school", "by", "to_district",
            "came_to", "mine", "may_take_back",
        ]  # fmt: skip

    @property
    def _reader(self) -> Teacher:
        reader: Teacher = self.context["reader"]
        return reader

    def get_by(self, shared: SharedRecipe) -> str:
        return shared.by.name if shared.by and shared.school_id == self._reader.school_id else ""

    @extend_schema_field(CameToSerializer(allow_null=True))
    def get_came_to(self, shared: SharedRecipe) -> dict[str, Any] | None:
        told = came_to(shared, System(self._reader.units))
        return dict(CameToSerializer(told).data) if told else None

    def get_mine(self, shared: SharedRecipe) -> bool:
        return shared.by_id == self._reader.pk

    def get_may_take_back(self, shared: SharedRecipe) -> bool:
        return may_take_back(shared, self._reader)
