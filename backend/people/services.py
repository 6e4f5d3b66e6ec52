"""What can be done with classes and teams: one verb per change."""

from __future__ import annotations

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError as DjangoValidationError
from django.db import IntegrityError, transaction

from girder_core.errors import GirderError
from people.identity import suggest
from people.models import SchoolClass, Teacher, Team


def sign_up(email: str, name: str, password: str) -> Teacher:
    """Make a teacher's account; ``bad_account`` names what is wrong with the entries."""
    email, name = email.strip().lower(), name.strip()
    try:
        validate_password(password, Teacher(email=email, name=name))
    except DjangoValidationError as error:
        raise GirderError(
            "bad_account", " ".join(error.messages), fields={"password": " ".join(error.messages)}
        ) from None
    try:
        with transaction.atomic():
            return Teacher.objects.create_user(email, password, name=name)
    except IntegrityError:
        sentence = "There is an account with this address already. Sign in instead."
        raise GirderError("bad_account", sentence, fields={"email": sentence}) from None


def add_class(teacher: Teacher, name: str) -> SchoolClass:
    """A new class of this teacher; ``name_taken`` when there is one of that name."""
    name = _clean(name, "class")
    try:
        with transaction.atomic():
            return SchoolClass.objects.create(owner=teacher, name=name)
    except IntegrityError:
        raise _taken("You have a class of that name already.") from None


def add_team(school_class: SchoolClass, name: str = "") -> Team:
    """A new team; without a name it is called after the next free sea bird, and it gets the next free mark."""
    with transaction.atomic():
        SchoolClass.objects.select_for_update().get(pk=school_class.pk)
        teams = list(school_class.teams.all())
        free = suggest([team.name for team in teams], [team.mark for team in teams])
        name = _clean(name, "team") if name.strip() else free.name
        if name.lower() in {team.name.lower() for team in teams}:
            raise _taken("This class has a team of that name already.")
        return Team.objects.create(
            school_class=school_class, name=name, mark=free.mark, colour=free.colour, position=len(teams) + 1
        )


def rename_team(team: Team, name: str) -> Team:
    """Give a team another name; ``name_taken`` when its class has one of that name."""
    team.name = _clean(name, "team")
    try:
        with transaction.atomic():
            team.save(update_fields=["name"])
    except IntegrityError:
        raise _taken("This class has a team of that name already.") from None
    return team


def _clean(name: str, what: str) -> str:
    cleaned = " ".join(name.split())
    if not cleaned:
        sentence = f"Give the {what} a name."
        raise GirderError("name_missing", sentence, fields={"name": sentence})
    return cleaned


def _taken(sentence: str) -> GirderError:
    return GirderError("name_taken", sentence, fields={"name": sentence})
