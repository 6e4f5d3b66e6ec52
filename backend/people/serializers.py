"""Shapes of the people API."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from people.accounts import CLOSED, INVITED, OPEN
from people.models import (
    OWNER,
    PARTS,
    UNIT_SYSTEMS,
    ClassInvitation,
    Colleague,
    School,
    SchoolClass,
    SignedIn,
    Teacher,
    Team,
)

FOR_ALL = "for all"
"""In a serializer's context: what it shows is for whoever looks, signed in or not."""
CLASS_PARTS = [*PARTS, (OWNER, "its own teacher")]
SIGN_UP = [(way, way) for way in (OPEN, INVITED, CLOSED)]


class OwnSchoolSerializer(serializers.ModelSerializer[School]):
    """The school that somebody is in, its district, and when it is gone if it was deleted."""

    district = serializers.CharField(source="district.name", default="")
    gone_on = serializers.DateTimeField(allow_null=True)

    class Meta:
        model = School
        fields = ["name", "district", "gone_on"]


class TeacherSerializer(serializers.ModelSerializer[Teacher]):
    school = OwnSchoolSerializer(allow_null=True)
    # Whoever signs in with the school's account may have none.
    has_password = serializers.BooleanField(source="has_usable_password")

    class Meta:
        model = Teacher
        fields = ["id", "email", "name", "units", "school", "administers", "reset_by", "reset_at", "has_password"]


class SignOnSerializer(serializers.Serializer[Any]):
    """A school whose own accounts sign in here: its key, and what the button says."""

    school = serializers.SlugField()
    name = serializers.CharField()


class BeginSignOnSerializer(serializers.Serializer[Any]):
    """The school to sign in with, and the page to come back to."""

    school = serializers.SlugField()
    then = serializers.RegexField(r"^/(?!/)[\w/.-]*$", max_length=200, default="/")


class ElsewhereAddressSerializer(serializers.Serializer[Any]):
    """Where to go."""

    address = serializers.URLField()


class SessionSerializer(serializers.Serializer[Any]):
    """Who is signed in, if anybody, and who can make an account here."""

    teacher = TeacherSerializer(allow_null=True)
    sign_up = serializers.ChoiceField(choices=SIGN_UP)
    # Schools whose own accounts sign in here.
    sign_ons = SignOnSerializer(many=True)


def _password() -> serializers.CharField:
    return serializers.CharField(trim_whitespace=False, max_length=200)


class SignInSerializer(serializers.Serializer[Any]):
    email = serializers.EmailField(max_length=254)
    password = _password()


class SignUpSerializer(SignInSerializer):
    name = serializers.CharField(max_length=80)
    # Where accounts are made by invitation.
    code = serializers.CharField(max_length=60, allow_blank=True, default="")


class ResetSerializer(serializers.Serializer[Any]):
    """Another password, by a code."""

    email = serializers.EmailField(max_length=254)
    code = serializers.CharField(max_length=60)
    new = _password()


class PasswordSerializer(serializers.Serializer[Any]):
    # Empty where there is none (``people.accounts.confirm``).
    password = serializers.CharField(trim_whitespace=False, max_length=200, allow_blank=True)


class NewPasswordSerializer(serializers.Serializer[Any]):
    old = _password()
    new = _password()


class SignedInSerializer(serializers.ModelSerializer[SignedIn]):
    """A place where somebody is signed in, and whether it is this one."""

    here = serializers.SerializerMethodField()

    class Meta:
        model = SignedIn
        fields = ["id", "browser", "began_at", "here"]

    def get_here(self, signed_in: SignedIn) -> bool:
        return bool(signed_in.session_key == self.context["here"])


class PreferenceSerializer(serializers.Serializer[Any]):
    units = serializers.ChoiceField(choices=UNIT_SYSTEMS)


class TeamSerializer(serializers.Serializer[Any]):
    """A team with who is in it."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    mark = serializers.CharField()
    colour = serializers.CharField()
    position = serializers.IntegerField()
    members = serializers.ListField(child=serializers.CharField())

    def to_representation(self, instance: Team) -> dict[str, Any]:
        shown = super().to_representation(instance)
        # Who is in a team is for its teacher, not for whoever looks at a board.
        return {**shown, "members": []} if self.context.get(FOR_ALL) else shown


class NewTeamSerializer(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=40, allow_blank=True, default="")


class TeamChangeSerializer(serializers.Serializer[Any]):
    """A team's name, and who is in it as typed: first names with commas between them."""

    name = serializers.CharField(max_length=40, allow_blank=True)
    members = serializers.CharField(max_length=1000, allow_blank=True, required=False)


class GroupingSerializer(serializers.Serializer[Any]):
    """How a class is parted into teams: a class list or a number of students, and how many make a team. Without either,
    who is in teams already is dealt again."""

    text = serializers.CharField(max_length=40_000, allow_blank=True, default="", trim_whitespace=False)
    students = serializers.IntegerField(min_value=0, max_value=1000, default=0)
    size = serializers.IntegerField(max_value=100, default=3)
    mixed = serializers.BooleanField(default=False)


class SchoolClassSerializer(serializers.ModelSerializer[SchoolClass]):
    teams = TeamSerializer(many=True, read_only=True)
    # What the one who asks is in it, and whose it is.
    part = serializers.SerializerMethodField()
    owner_name = serializers.CharField(source="owner.name", read_only=True)

    class Meta:
        model = SchoolClass
        fields = ["id", "name", "teams", "part", "owner_name"]

    @extend_schema_field(serializers.ChoiceField(choices=CLASS_PARTS))
    def get_part(self, school_class: SchoolClass) -> str:
        parts: dict[int, str] = self.context.get("parts", {})
        return parts.get(school_class.pk, OWNER)


class PartSerializer(serializers.Serializer[Any]):
    """What a colleague is in a class, or is to be."""

    part = serializers.ChoiceField(choices=PARTS)


class ColleagueSerializer(serializers.ModelSerializer[Colleague]):
    """Somebody who has a part in a class."""

    name = serializers.CharField(source="teacher.name")
    email = serializers.CharField(source="teacher.email")

    class Meta:
        model = Colleague
        fields = ["id", "name", "email", "part", "since"]


class OpenInvitationSerializer(serializers.ModelSerializer[ClassInvitation]):
    """An invitation that nobody used yet; its code is known to whoever was given it alone."""

    by = serializers.CharField(source="by.name")

    class Meta:
        model = ClassInvitation
        fields = ["id", "part", "by", "until"]


class NewInvitationSerializer(serializers.Serializer[Any]):
    """An invitation as it is handed on: its code, the address to open, and that for cameras, as rows of modules."""

    code = serializers.CharField()
    address = serializers.CharField()
    picture = serializers.ListField(child=serializers.CharField())


class TogetherSerializer(serializers.Serializer[Any]):
    """Who has a part in a class, and what the one who asks is in it; an invitation when one was just made."""

    owner = serializers.CharField()
    part = serializers.ChoiceField(choices=CLASS_PARTS)
    colleagues = ColleagueSerializer(many=True)
    invitations = OpenInvitationSerializer(many=True)
    made = NewInvitationSerializer(allow_null=True)


class InvitationCodeSerializer(serializers.Serializer[Any]):
    """An invitation's code as typed, and whether to come in by it or only to look at it."""

    code = serializers.CharField(max_length=60)
    accept = serializers.BooleanField(default=False)


class InvitedSerializer(serializers.Serializer[Any]):
    """What an invitation is into, and whether one is in by it."""

    school_class = serializers.IntegerField(source="school_class.pk")
    class_name = serializers.CharField(source="school_class.name")
    by = serializers.CharField(source="by.name")
    part = serializers.ChoiceField(choices=PARTS)
    accepted = serializers.BooleanField()


class NewClassSerializer(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=80)


class TeamNamesSerializer(serializers.Serializer[Any]):
    """Names of teams, one on each line, or a table whose first column they are."""

    text = serializers.CharField(max_length=8000, trim_whitespace=False)
