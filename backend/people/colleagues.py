"""Colleagues in a class: invited, let in, given another part, sent away; and leaving of oneself."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db import transaction
from django.http import HttpRequest
from django.utils import timezone

from girder_core.ground import GirderError
from people.codes import mixed, new_code
from people.models import LEAD, OWNER, ClassInvitation, Colleague, SchoolClass, Teacher
from people.throttle import joining_door, knock, took_back

INVITATION_LASTS = timedelta(days=14)
MOST_COLLEAGUES, MOST_INVITATIONS = 20, 20


def invite(school_class: SchoolClass, by: Teacher, part: str) -> str:
    """Invite somebody into a class; gives the code, which works once within two weeks and is kept nowhere.

    Errors: ``too_many`` invitations that nobody used yet, or colleagues.
    """
    ClassInvitation.objects.filter(until__lt=timezone.now()).delete()
    if school_class.invitations.count() >= MOST_INVITATIONS or _there(school_class).count() >= MOST_COLLEAGUES:
        raise GirderError("too_many", "There are enough colleagues and invitations. Take one back first.")
    # Twenty letters are 99 bits.
    code = new_code(5, of=4)
    ClassInvitation.objects.create(
        school_class=school_class, part=part, by=by, mixed=mixed(code), until=timezone.now() + INVITATION_LASTS
    )
    return code


def _there(school_class: SchoolClass) -> Any:
    return school_class.colleagues.filter(ended_at=None)


def invited(request: HttpRequest, code: str) -> ClassInvitation:
    """The invitation of a code. Errors: ``bad_code``, ``too_many_tries``."""
    door = joining_door(request)
    knock(door)
    found = (
        ClassInvitation.objects.select_related("school_class__owner", "by")
        .filter(
            mixed=mixed(code), until__gt=timezone.now(), school_class__removed_at=None,
            school_class__owner__leaving_at=None,
        )
        .first()
    )  # fmt: skip
    if found is None:
        sentence = "This invitation does not work: it was used, taken back, or is too old. Ask for a new one."
        raise GirderError("bad_code", sentence, fields={"code": sentence})
    took_back(door)
    return found


def accept(invitation: ClassInvitation, teacher: Teacher) -> Colleague:
    """Come into the class that one was invited into; the invitation is used up. Errors: ``own_class``."""
    if invitation.school_class.owner_id == teacher.pk:
        raise GirderError("own_class", "This is your own class. Send the invitation to a colleague.")
    if invitation.school_class.owner.school_id != teacher.school_id:
        raise GirderError("other_school", "This class is of another school, and what is in it stays there.")
    with transaction.atomic():
        used, _ = ClassInvitation.objects.filter(pk=invitation.pk).delete()
        if not used:
            raise GirderError("bad_code", "Somebody else has just used this invitation. Ask for a new one.")
        there, _ = Colleague.objects.update_or_create(
            school_class=invitation.school_class, teacher=teacher, defaults={"part": invitation.part, "ended_at": None}
        )
    return there


def take_back(invitation: ClassInvitation) -> None:
    """An invitation works no more."""
    invitation.delete()


def give_part(colleague: Colleague, part: str) -> Colleague:
    """Give a colleague another part."""
    with transaction.atomic():
        colleague.part = part
        colleague.save(update_fields=["part"])
        if part != LEAD:
            _take_back_theirs(colleague)
    return colleague


def end(colleague: Colleague) -> None:
    """A colleague is not in the class any more, sent away or gone by oneself."""
    with transaction.atomic():
        colleague.ended_at = timezone.now()
        colleague.save(update_fields=["ended_at"])
        _take_back_theirs(colleague)


def _take_back_theirs(colleague: Colleague) -> None:
    """Who leads a class no more has nobody on the way into it either."""
    colleague.school_class.invitations.filter(by=colleague.teacher_id).delete()


def leave(school_class: SchoolClass, teacher: Teacher) -> None:
    """Leave somebody else's class; ``own_class`` for one's own."""
    own = _there(school_class).filter(teacher=teacher).first()
    if own is None:
        raise GirderError("own_class", "This is your own class. Give it to a colleague first, or delete it.")
    end(own)


def parts_of(teacher: Teacher) -> dict[int, str]:
    """The part that a teacher has in each class of others, by the class's number."""
    return dict(Colleague.objects.filter(teacher=teacher, ended_at=None).values_list("school_class", "part"))


def part_in(school_class: SchoolClass, teacher: Teacher) -> str:
    """What a teacher is in a class; empty for nothing."""
    return OWNER if school_class.owner_id == teacher.pk else parts_of(teacher).get(school_class.pk, "")


def together(school_class: SchoolClass) -> dict[str, Any]:
    """Who has a part in a class, and which invitations are out."""
    waiting = school_class.invitations.filter(until__gt=timezone.now()).select_related("by")
    return {
        "owner": school_class.owner.name,
        "colleagues": list(_there(school_class).select_related("teacher")),
        "invitations": list(waiting),
    }


def make_account_by(code: str) -> SchoolClass | None:
    """The class that a code invites into, if it makes an account, which it does once."""
    waiting = ClassInvitation.objects.filter(mixed=mixed(code), until__gt=timezone.now(), made_account=False)
    found = waiting.select_related("school_class__owner__school").first()
    return found.school_class if found is not None and waiting.update(made_account=True) else None
