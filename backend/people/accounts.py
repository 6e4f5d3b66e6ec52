"""Accounts and their doors: joining, signing in, another password, other sessions, and leaving."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.contrib.auth import login, logout, update_session_auth_hash
from django.contrib.auth.hashers import make_password
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core import signing
from django.core.exceptions import ValidationError as DjangoValidationError
from django.db import IntegrityError, transaction
from django.db.models import QuerySet
from django.http import HttpRequest
from django.utils import timezone
from django.utils.crypto import constant_time_compare, salted_hmac

from evengirder.database import let_go
from girder_core.ground import GirderError
from people.codes import mixed, new_code
from people.colleagues import make_account_by
from people.models import Code, School, SignedIn, Teacher
from people.throttle import account_door, address_door, browser_door, is_from_here, joining_door, knock, opened

OPEN, INVITED, CLOSED = "open", "invited", "closed"
"""Who can make an account: anybody, who has a code, nobody (``GIRDER_SIGN_UP``)."""
KNOWN, KNOWN_S = "girder-known", 180 * 24 * 3600
"""The cookie by which a browser is known that was signed in, and for how long [s]."""
RESET_LASTS, INVITATION_LASTS = timedelta(hours=1), timedelta(days=14)
JUST_NOW = timedelta(minutes=10)
"""For so long after signing in with a school's account nothing more is asked."""


def sign_up(email: str, name: str, password: str) -> Teacher:
    """Make a teacher's account; ``bad_account`` names what is wrong with the entries."""
    email, name = email.strip().lower(), name.strip()
    _good_password(password, Teacher(email=email, name=name))
    kept = _mixed_password(password)
    try:
        with transaction.atomic():
            return Teacher.objects.create(email=email, name=name, password=kept)
    except IntegrityError:
        sentence = "There is an account with this address already. Sign in instead."
        raise GirderError("bad_account", sentence, fields={"email": sentence}) from None


def join(request: HttpRequest, email: str, name: str, password: str, code: str) -> None:
    """Make an account for somebody who is not signed in.

    Whether there is one with this address already is not told: nothing changes then, and the answer is the same.
    Errors: ``bad_account``, ``joining_closed``, ``bad_code``, ``too_many_tries``.
    """
    knock(joining_door(request))
    email, name = email.strip().lower(), name.strip()
    _good_password(password, Teacher(email=email, name=name))
    kept = _mixed_password(password)
    with transaction.atomic():
        school, administers = _comes_by(code)
        made = Teacher(email=email, name=name, password=kept, school=school, administers=administers)
        Teacher.objects.bulk_create([made], ignore_conflicts=True)


def _comes_by(code: str) -> tuple[School | None, bool]:
    """Into which school a code leads somebody who has no account yet, and whether to administer it; the code is used
    up. Errors: ``joining_closed``, ``bad_code``."""
    if settings.SIGN_UP == CLOSED and not open_codes(code).filter(school__isnull=False).exists():
        raise GirderError("joining_closed", "No accounts are made here. Ask who runs this server.")
    if settings.SIGN_UP == OPEN and not code.strip():
        return None, False
    into = make_account_by(code)
    if into is not None:
        return into.owner.school, False
    used = use_code(code, teacher=None)
    return used.school, used.administers


def sign_in(request: HttpRequest, email: str, password: str) -> Teacher:
    """Sign a teacher in; an account that was to be deleted is back with that.

    Errors: ``wrong_sign_in``, ``too_many_tries``, ``demo_elsewhere``.
    """
    email = email.strip().lower()
    teacher = Teacher.objects.filter(email=email, is_active=True).first()
    browser = _known_browser(request, teacher)
    doors = (browser_door(browser, email) if browser else account_door(email), address_door(request))
    knock(*doors)
    if not _is_right(teacher, password) or teacher is None:
        raise GirderError("wrong_sign_in", "Address and password do not go together. Try again.")
    opened(*doors)
    if teacher.is_demo and settings.SHARED and not is_from_here(request):
        raise GirderError(
            "demo_elsewhere", "The demo school opens on the machine that serves Even Girder alone: everybody knows its "
            "password. Sign in with an account of your own.",
        )  # fmt: skip
    enter(request, teacher)
    return teacher


def sign_out(request: HttpRequest) -> None:
    """End the session of a request."""
    SignedIn.objects.filter(session_key=str(request.session.session_key)).delete()
    logout(request)


def _is_right(teacher: Teacher | None, password: str) -> bool:
    if teacher is None:
        # It takes as long as if there were one.
        _mixed_password(password)
        return False
    let_go()
    return teacher.check_password(password)


def _mixed_password(password: str) -> str:
    """A password as it is kept. Mixing takes long on purpose; the database is let go meanwhile."""
    let_go()
    return make_password(password)


def enter(request: HttpRequest, teacher: Teacher) -> None:
    """Sign somebody in who showed who they are; an account that was to be deleted is back with that."""
    if teacher.leaving_at is not None:
        teacher.leaving_at = None
        teacher.save(update_fields=["leaving_at"])
    login(request, teacher, backend="django.contrib.auth.backends.ModelBackend")
    request.session.save()
    _note(request, teacher)


def _note(request: HttpRequest, teacher: Teacher) -> None:
    SignedIn.objects.update_or_create(
        session_key=str(request.session.session_key),
        defaults={
            "teacher": teacher, "browser": browser_words(request.META.get("HTTP_USER_AGENT", "")),
            "began_at": timezone.now(),
        },
    )  # fmt: skip


def change_password(request: HttpRequest, teacher: Teacher, old: str, new: str) -> None:
    """Give a teacher another password; all other sessions end. Errors: ``wrong_password``, ``bad_account``,
    ``too_many_tries``."""
    confirm(request, teacher, old)
    _good_password(new, teacher)
    teacher.password = _mixed_password(new)
    with transaction.atomic():
        teacher.save(update_fields=["password"])
        end_sessions(teacher, but=str(request.session.session_key))
        before = str(request.session.session_key)
        update_session_auth_hash(request, teacher)
        request.session.save()
        SignedIn.objects.filter(session_key=before).delete()
        _note(request, teacher)


def confirm(request: HttpRequest, teacher: Teacher, password: str) -> None:
    """Make sure that it is the teacher who sits there, by the password, or, where the school signs in, because that was
    only just now. Errors: ``wrong_password``, ``sign_in_again``, ``too_many_tries``."""
    if not teacher.has_usable_password():
        here = SignedIn.objects.filter(teacher=teacher, session_key=str(request.session.session_key)).first()
        if here is None or here.began_at < timezone.now() - JUST_NOW:
            raise GirderError("sign_in_again", "Sign out, sign in again with your school’s account, and come back here "
                              "within ten minutes.")  # fmt: skip
        return
    doors = (browser_door("signed in", teacher.email),)
    knock(*doors)
    if not _is_right(teacher, password):
        sentence = "That is not your password."
        raise GirderError("wrong_password", sentence, fields={"password": sentence})
    opened(*doors)


def reset_code(teacher: Teacher, by: Teacher | None = None) -> str:
    """A code by which this teacher can set another password, once, within an hour. Who made it is told the teacher,
    unless it was who runs the server."""
    with transaction.atomic():
        Code.objects.filter(teacher=teacher).delete()
        if by is not None:
            teacher.reset_by, teacher.reset_at = by.name, timezone.now()
            teacher.save(update_fields=["reset_by", "reset_at"])
        return _new_code(RESET_LASTS, teacher=teacher, by=by)


def first_invitation() -> str:
    """A code for the first account; empty where a teacher has one, or anybody may make one."""
    if settings.SIGN_UP != INVITED or Teacher.objects.filter(is_active=True, is_demo=False).exists():
        return ""
    return invitation()


def invitation(school: School | None = None, administers: bool = False, by: Teacher | None = None) -> str:
    """A code by which somebody can make an account, once, within two weeks: in no school, or in this one."""
    return _new_code(INVITATION_LASTS, school=school, administers=administers, by=by)


def reset_password(request: HttpRequest, email: str, code: str, new: str) -> Teacher:
    """Set another password with a code, and sign in. Errors: ``bad_code``, ``bad_account``, ``too_many_tries``."""
    teacher = Teacher.objects.filter(email=email.strip().lower(), is_active=True).first()
    knock(account_door(email), address_door(request))
    if teacher is None:
        raise _bad_code()
    _good_password(new, teacher)
    teacher.password = _mixed_password(new)
    with transaction.atomic():
        use_code(code, teacher)
        teacher.save(update_fields=["password"])
        end_sessions(teacher)
    opened(account_door(email), address_door(request))
    enter(request, teacher)
    return teacher


def sessions_of(teacher: Teacher) -> list[SignedIn]:
    """Where a teacher is signed in, the latest first."""
    alive = Session.objects.filter(expire_date__gt=timezone.now()).values("session_key")
    return list(SignedIn.objects.filter(teacher=teacher, session_key__in=alive))


def end_sessions(teacher: Teacher, only: int | None = None, but: str = "") -> None:
    """Sign a teacher out: everywhere, in one place, or everywhere but in the session of this key."""
    noted = SignedIn.objects.filter(teacher=teacher).exclude(session_key=but)
    if only is not None:
        noted = noted.filter(pk=only)
    keys = list(noted.values_list("session_key", flat=True))
    Session.objects.filter(session_key__in=keys).delete()
    SignedIn.objects.filter(session_key__in=keys).delete()


def leave(request: HttpRequest, teacher: Teacher, password: str) -> None:
    """Delete an account: all its sessions end, and after a while it is gone with all that belongs to it; till then
    signing in brings it back. Errors: ``wrong_password``, ``too_many_tries``, ``last_administrator``."""
    confirm(request, teacher, password)
    with transaction.atomic():
        not_the_last(teacher)
        teacher.leaving_at = timezone.now()
        teacher.save(update_fields=["leaving_at"])
        end_sessions(teacher)


def not_the_last(teacher: Teacher) -> None:
    """Refuse, in a transaction, where a school would be without an administrator: ``last_administrator``."""
    school = teacher.school
    if school is None or not teacher.administers:
        return
    # Two who go at once are not both let go.
    School.objects.select_for_update().get(pk=school.pk)
    if not school.administrators().exclude(pk=teacher.pk).exists():
        raise GirderError("last_administrator", f"{teacher.name} alone administers the school. Appoint another first.")


def known_cookie(request: HttpRequest, teacher: Teacher) -> str:
    """What a browser keeps by which it is known the next time, signed; other teachers of this browser stay in it."""
    kept = _known(request)
    teachers = {**kept.get("teachers", {}), str(teacher.pk): _sign_of(teacher)}
    return signing.dumps({"browser": kept.get("browser") or uuid.uuid4().hex, "teachers": teachers}, salt=KNOWN)


def _known(request: HttpRequest) -> Mapping[str, Any]:
    try:
        kept: Mapping[str, Any] = signing.loads(request.COOKIES.get(KNOWN, ""), salt=KNOWN, max_age=KNOWN_S)
    except signing.BadSignature:
        return {}
    return kept


def _known_browser(request: HttpRequest, teacher: Teacher | None) -> str:
    """The browser that a request comes from, if this teacher was signed in with it under the present password."""
    kept = _known(request)
    sign = str(kept.get("teachers", {}).get(str(teacher.pk), "")) if teacher else ""
    return str(kept["browser"]) if teacher and sign and constant_time_compare(sign, _sign_of(teacher)) else ""


def _sign_of(teacher: Teacher) -> str:
    return salted_hmac(KNOWN, teacher.password).hexdigest()[:16]


def _new_code(lasts: timedelta, **what_for: Any) -> str:
    # Twenty letters are 99 bits.
    code = new_code(5, of=4)
    Code.objects.create(mixed=mixed(code), until=timezone.now() + lasts, **what_for)
    return code


def open_codes(code: str) -> QuerySet[Code]:
    """What is kept of a code that works still: one row, or none."""
    return Code.objects.filter(mixed=mixed(code), until__gt=timezone.now())


def use_code(code: str, teacher: Teacher | None) -> Code:
    """Use a code up, in a transaction; ``bad_code`` where it works no more, or is for something else."""
    used = open_codes(code).filter(teacher=teacher).select_related("school").select_for_update(of=("self",)).first()
    if used is None:
        raise _bad_code()
    Code.objects.filter(pk=used.pk).delete()
    return used


def _bad_code() -> GirderError:
    sentence = "This code does not work: it was used, it is too old, or it is for something else. Ask for a new one."
    return GirderError("bad_code", sentence, fields={"code": sentence})


def _good_password(password: str, teacher: Teacher) -> None:
    try:
        validate_password(password, teacher)
    except DjangoValidationError as error:
        said = " ".join(error.messages)
        raise GirderError("bad_account", said, fields={"password": said}) from None


_BROWSERS = (("Edg", "Edge"), ("OPR", "Opera"), ("Firefox", "Firefox"), ("Chrom", "Chrome"), ("Safari", "Safari"))
_SYSTEMS = (("Android", "Android"), ("iPhone", "an iPhone"), ("iPad", "an iPad"), ("CrOS", "a Chromebook"),
            ("Windows", "Windows"), ("Mac", "a Mac"), ("Linux", "Linux"))  # fmt: skip


def browser_words(agent: str) -> str:
    """A browser in words, from what it says of itself; that itself is not kept."""
    browser = next((words for sign, words in _BROWSERS if sign in agent), "A browser")
    system = next((words for sign, words in _SYSTEMS if sign in agent), "")
    return f"{browser} on {system}" if system else browser
