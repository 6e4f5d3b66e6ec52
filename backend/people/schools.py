"""Schools, apart from each other: made by whoever runs the server, joined by a code, administered by one of them."""

from __future__ import annotations

from django.db import IntegrityError, transaction
from django.db.models import Q
from django.http import HttpRequest
from django.utils import timezone
from django.utils.text import slugify

from girder_core.ground import GirderError
from people.accounts import confirm, end_sessions, invitation, not_the_last, reset_code, use_code
from people.colleagues import end
from people.models import Code, Colleague, District, School, Teacher
from people.throttle import joining_door, knock, took_back

MOST_INVITATIONS = 50


def add_school(name: str, district: str = "") -> School:
    """Make a school, in a district that is made with its first one. Errors: ``name_missing``, ``name_taken``."""
    name = " ".join(name.split())
    if not slugify(name):
        raise GirderError("name_missing", "Give the school a name.")
    within = District.objects.get_or_create(name=" ".join(district.split()))[0] if district.strip() else None
    try:
        with transaction.atomic():
            return School.objects.create(name=name, key=slugify(name)[:40], district=within)
    except IntegrityError:
        raise GirderError("name_taken", f"There is a school {slugify(name)[:40]} already.") from None


def administered_by(teacher: Teacher) -> School:
    """The school that a teacher administers; ``not_administrator`` for all others."""
    school = teacher.school
    if school is None or not teacher.administers:
        asked = ", ".join(one.name for one in school.administrators()) if school else ""
        raise GirderError("not_administrator", f"That is for who administers your school. Ask {asked}." if asked
                          else "You administer no school.")  # fmt: skip
    return school


def invite(school: School, by: Teacher, administers: bool = False) -> str:
    """Invite somebody into a school; gives the code, which works once within two weeks and is kept nowhere.

    Errors: ``too_many`` that nobody used yet.
    """
    Code.objects.filter(school=school, until__lt=timezone.now()).delete()
    if school.invitations.count() >= MOST_INVITATIONS:
        raise GirderError("too_many", "There are enough invitations that nobody used yet. Take one back first.")
    return invitation(school, administers, by)


def take_back(invitation: Code) -> None:
    """An invitation works no more."""
    invitation.delete()


def share_work(teacher: Teacher, shares: bool) -> None:
    """Whether the file of the school that its administrator takes may hold this teacher's classes, recipes and runs."""
    teacher.shares_work = shares
    teacher.save(update_fields=["shares_work"])


def join_school(request: HttpRequest, teacher: Teacher, code: str) -> School:
    """Come into a school by a code, with all that is one's own; parts that lead out of it end.

    Errors: ``other_school``, ``bad_code``, ``too_many_tries``.
    """
    if teacher.school is not None:
        raise GirderError("other_school", f"You are in {teacher.school.name} already; one account is in one school.")
    door = joining_door(request)
    knock(door)
    with transaction.atomic():
        used = use_code(code, teacher=None)
        if used.school is None:
            sentence = "This code makes an account; it is no invitation into a school."
            raise GirderError("bad_code", sentence, fields={"code": sentence})
        settle(teacher, used.school, used.administers)
    took_back(door)
    return used.school


def settle(teacher: Teacher, school: School, administers: bool = False) -> None:
    """A teacher is in this school from now on. What was shared with colleagues out of it is so no more."""
    with transaction.atomic():
        teacher.school, teacher.administers = school, administers
        teacher.save(update_fields=["school", "administers"])
        parts = Colleague.objects.filter(ended_at=None).filter(
            Q(teacher=teacher) & ~Q(school_class__owner__school=school)
            | Q(school_class__owner=teacher) & ~Q(teacher__school=school)
        )
        for part in parts:
            end(part)


def appoint(teacher: Teacher, administers: bool) -> Teacher:
    """Let somebody administer the school, or no more; ``last_administrator``."""
    with transaction.atomic():
        if not administers:
            not_the_last(teacher)
        teacher.administers = administers
        teacher.save(update_fields=["administers"])
    return teacher


def shut(teacher: Teacher) -> None:
    """Nobody signs in to this account any more; after a while it is gone with all that is its own, and till then it can
    be let in again. Errors: ``last_administrator``."""
    with transaction.atomic():
        not_the_last(teacher)
        teacher.is_active, teacher.administers, teacher.leaving_at = False, False, timezone.now()
        teacher.save(update_fields=["is_active", "administers", "leaving_at"])
        Code.objects.filter(Q(teacher=teacher) | Q(by=teacher)).delete()
        end_sessions(teacher)


def let_in_again(teacher: Teacher) -> None:
    """An account that was shut is as it was; it administers nothing. One that its owner deleted is the owner's alone to
    bring back."""
    if teacher.is_active:
        return
    teacher.is_active, teacher.leaving_at = True, None
    teacher.save(update_fields=["is_active", "leaving_at"])


def new_password_for(teacher: Teacher, by: Teacher) -> str:
    """A code by which this teacher sets another password, to be handed over; the teacher is told who made it."""
    if not teacher.is_active:
        raise GirderError("shut", f"{teacher.name} was removed. Let the account in again first.")
    return reset_code(teacher, by)


def leave_all(request: HttpRequest, teacher: Teacher, password: str) -> School:
    """The administrator deletes the school: after a while it is gone with all its accounts, and till then everybody is
    told, and goes on. Errors: ``not_administrator``, ``wrong_password``, ``too_many_tries``."""
    school = administered_by(teacher)
    confirm(request, teacher, password)
    if school.leaving_at is None:
        school.leaving_at = timezone.now()
        school.save(update_fields=["leaving_at"])
    return school


def stay_after_all(school: School) -> School:
    """The school is not deleted after all."""
    school.leaving_at = None
    school.save(update_fields=["leaving_at"])
    return school
