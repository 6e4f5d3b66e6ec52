"""Signing in with the account of one's school, by OpenID Connect. ``GIRDER_SIGN_ON`` names the file that says where.

What a school's provider says of somebody counts for that school alone: it makes accounts in it and signs in to those in
it, and to no other, whatever address it tells.
"""

from __future__ import annotations

from typing import Any, NoReturn

from allauth.core.exceptions import ImmediateHttpResponse
from allauth.socialaccount.adapter import DefaultSocialAccountAdapter, get_adapter
from allauth.socialaccount.providers.base import AuthProcess
from allauth.socialaccount.providers.openid_connect.views import callback
from django.conf import settings
from django.db import IntegrityError, transaction
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import path
from django.utils.http import urlencode
from requests import RequestException, Session

from evengirder.database import let_go
from girder_core.ground import GirderError
from people.accounts import enter
from people.models import School, Teacher


def ways() -> list[dict[str, str]]:
    """The schools whose accounts sign in here, by key and by what the button says."""
    return [{"school": way["school"], "name": way["name"]} for way in settings.SIGN_ONS]


def begin(request: HttpRequest, school: str, then: str) -> str:
    """The address at which somebody signs in to their school, to come back to a page of ours.

    Errors: ``sign_on_away`` where the school does not answer; 404 for one that has no sign-on.
    """
    if school not in {way["school"] for way in settings.SIGN_ONS}:
        raise Http404
    let_go()
    try:
        provider = get_adapter().get_provider(request, school)
        answer = provider.redirect(request, AuthProcess.LOGIN, next_url=then)
    except RequestException:
        raise GirderError("sign_on_away", "Your school’s sign-in does not answer just now. Try again.") from None
    return str(answer["Location"])


class Doorkeeper(DefaultSocialAccountAdapter):  # type: ignore[misc]
    """Decides who comes in by a school's sign-on; what travels between the servers is the library's."""

    def pre_social_login(self, request: HttpRequest, sociallogin: Any) -> NoReturn:
        """Sign somebody in whom their school vouches for, or say why not; goes to a page in either case."""
        teacher = _teacher_of(request, sociallogin)
        enter(request, teacher)
        raise ImmediateHttpResponse(HttpResponseRedirect(sociallogin.get_redirect_url(request) or "/"))

    def on_authentication_error(self, request: HttpRequest, *_: Any, **__: Any) -> NoReturn:
        """The school did not vouch for anybody."""
        _turn_away("failed")

    def get_requests_session(self) -> Session:
        """What asks the provider; meanwhile others have the database's connection."""
        let_go()
        return super().get_requests_session()  # type: ignore[no-any-return]


def _teacher_of(request: HttpRequest, sociallogin: Any) -> Teacher:
    school = School.objects.filter(key=sociallogin.account.provider).first()
    if school is None:
        _turn_away("no_school")
    said, signed = (sociallogin.account.extra_data.get(part) or {} for part in ("userinfo", "id_token"))
    if said and signed and said.get("sub") != signed.get("sub"):
        # OpenID Connect Core 1.0, 5.3.2: such an answer must not be used.
        _turn_away("failed")
    if sociallogin.is_existing:
        known: Teacher = sociallogin.user
        if not known.is_active:
            _turn_away("shut")
        if known.school_id != school.pk:
            _turn_away("elsewhere")
        return known
    claims = {**signed, **said}
    email = str(claims.get("email") or "").strip().lower()
    if not email or claims.get("email_verified") not in (True, "true"):
        _turn_away("no_address")
    return _welcomed(request, sociallogin, school, email, str(claims.get("name") or claims.get("given_name") or ""))


def _welcomed(request: HttpRequest, sociallogin: Any, school: School, email: str, name: str) -> Teacher:
    """The account of somebody who comes in this way for the first time: the one of this address in the school, or a
    new one."""
    with transaction.atomic():
        teacher = Teacher.objects.filter(email=email).first()
        if teacher is not None and teacher.school_id != school.pk:
            _turn_away("elsewhere")
        if teacher is not None and not teacher.is_active:
            _turn_away("shut")
        if teacher is None:
            teacher = Teacher(email=email, name=(name.strip() or email.partition("@")[0])[:80], school=school)
            teacher.set_unusable_password()
            try:
                with transaction.atomic():
                    teacher.save()
            except IntegrityError:
                _turn_away("failed")
        sociallogin.connect(request, teacher)
    return teacher


def _turn_away(why: str) -> NoReturn:
    """Back to the sign-in, which says why (``features/people/SchoolSignOns.tsx``)."""
    raise ImmediateHttpResponse(HttpResponseRedirect(f"/?{urlencode({'sign_on': why})}"))


def came_back(request: HttpRequest, provider_id: str) -> HttpResponse:
    """Somebody comes back from their school."""
    answer: HttpResponse = callback(request, provider_id)
    return answer


urlpatterns = [path("sign-on/<slug:provider_id>/back", came_back, name="openid_connect_callback")]
