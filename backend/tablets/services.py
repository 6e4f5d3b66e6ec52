"""What is done at a lesson's door: it is opened and shut by the teacher, and tablets come in, choose a team and go."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import Any

from django.db import IntegrityError, transaction
from django.http import HttpRequest
from django.utils import timezone

from bench.models import LedgerEvent
from challenges.models import Run
from designs import build_services
from designs import services as designing
from designs.models import Design
from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.planning import at_a_tablet
from people.codes import NEVER, new_code, plain
from people.models import Team
from people.throttle import knock, lesson_door, took_back
from results import services as after
from results.services import answers_of
from tablets.models import Door, LatePrediction, Tablet, TeamsMay

CODE_LETTERS = 6
AFTER_THE_LESSON = timedelta(hours=1)
"""How long a door stays open after the minutes that its lesson was planned for."""
SEEN_EVERY = timedelta(seconds=30)
FORGOTTEN_AFTER = timedelta(days=1)
AUTHOR_LETTERS = 80
"""Of who wrote an entry."""
MOST_TABLETS = 150
"""Tablets in one lesson: whoever has its code cannot fill the list of who is in, or the disk."""


def open_door(run: Run) -> Door:
    """Open the door of a run's lesson; one that is open stays as it is, one of a lesson that is over gets a new code,
    and whoever came in by the old one is out."""
    forget_old()
    with transaction.atomic():
        there = Door.objects.select_for_update().filter(run=run).first()
        if there is not None and there.is_open:
            return there
        Door.objects.filter(run=run).delete()
        return _new_door(run)


def keep_open(run: Run) -> Door:
    """Let an open door stay open for another lesson's length from now."""
    door = open_door(run)
    door.until = _closes(run)
    door.save(update_fields=["until"])
    return door


def close_door(run: Run) -> None:
    """Everybody out: the code opens nothing any more, and no tablet that came in by it is in."""
    Door.objects.filter(run=run).delete()


def put_out(run: Run, tablet: int) -> None:
    """Put one tablet out; it can come back by the code."""
    Tablet.objects.filter(door__run=run, pk=tablet).delete()


def _new_door(run: Run) -> Door:
    while True:
        try:
            with transaction.atomic():
                return Door.objects.create(run=run, code=plain(new_code(1, of=CODE_LETTERS)), until=_closes(run))
        except IntegrityError:
            # Once in some hundred million times another lesson has this code just now.
            continue


def _closes(run: Run) -> datetime:
    return timezone.now() + timedelta(minutes=run.minutes) + AFTER_THE_LESSON


def come_in(request: HttpRequest, code: str) -> str:
    """Let a tablet in by a lesson's code; gives its pass, which nobody else has.

    Errors: ``bad_code``, ``lesson_over``, ``lesson_full``, ``too_many_tries``.
    """
    tries = lesson_door(request)
    knock(tries)
    typed = plain(code)
    door = Door.objects.filter(code=typed, run__removed_at__isnull=True, run__school_class__owner__leaving_at=None)
    found = door.first()
    if found is None:
        strange = [letter.upper() for letter in NEVER if letter in typed]
        sentence = (
            f"No code has {' or '.join(strange)} in it: look at it once more."
            if strange
            else "There is no lesson with this code. Look at it once more, or ask for today’s."
        )
        raise GirderError("bad_code", sentence, fields={"code": sentence})
    took_back(tries)
    if not found.is_open:
        sentence = "This code was for a lesson that is over. Ask your teacher for today’s."
        raise GirderError("lesson_over", sentence, fields={"code": sentence})
    if found.tablets.count() >= MOST_TABLETS:
        raise GirderError(
            "lesson_full", f"{MOST_TABLETS} tablets are in this lesson. Ask your teacher to put some out."
        )
    own = secrets.token_urlsafe(24)
    Tablet.objects.create(door=found, mixed=mixed(own))
    return own


def mixed(own: str) -> str:
    """A tablet's pass as it is kept."""
    return hashlib.sha256(own.encode()).hexdigest()


def choose_team(tablet: Tablet, team: Team, confirmed: bool) -> Tablet:
    """Say which team a tablet is of, once: ``team_chosen`` for another one. Where another tablet is of it already, it
    is asked first: ``team_taken``."""
    if tablet.team is not None and tablet.team_id != team.pk:
        raise GirderError("team_chosen", f"This tablet is {tablet.team.name}’s. Leave first, then choose again.")
    others = Tablet.objects.filter(door=tablet.door_id, team=team).exclude(pk=tablet.pk).order_by("joined_at")
    if not confirmed and (first := others.first()) is not None:
        ago = max(0, round((timezone.now() - first.joined_at).total_seconds() / 60))
        since = f"{ago} min ago" if ago else "just now"
        raise NeedsConfirmation(
            "team_taken", f"A tablet joined as {team.name} {since}. Is this the second one of the same team?"
        )
    run = tablet.door.run
    with transaction.atomic():
        if not Design.objects.filter(run=run, team=team).exists():
            designing.add_missing_teams(run)
        tablet.team = team
        tablet.save(update_fields=["team"])
    return tablet


def predict(design: Design, text: str, typed_ago_s: float) -> None:
    """Say what the team's design will hold. What was typed before the test began and comes after it is kept and marked,
    and does not count; errors as ``designs.services.predict``."""
    latest = design.predictions.order_by("-id").first()
    if latest is not None and latest.text == text:
        # It is here already, and its answer was lost on the way.
        return
    try:
        designing.predict(design, text)
    except GirderError as error:
        typed_at = timezone.now() - timedelta(seconds=typed_ago_s)
        first = LedgerEvent.objects.filter(trial__design=design).order_by("received_at").first()
        if error.code != "prediction_too_late" or first is None or typed_at >= first.received_at:
            raise
        if not LatePrediction.objects.filter(design=design, text=text).exists():
            LatePrediction.objects.create(design=design, text=text, typed_at=typed_at)


def late_in(run: Run) -> list[dict[str, str]]:
    """What came too late in a run, as the teacher is shown it."""
    late = LatePrediction.objects.filter(design__run=run, design__removed_at__isnull=True)
    return [{"team": one.design.team.name, "text": one.text} for one in late.select_related("design__team")]


def go(tablet: Tablet) -> None:
    """Leave a lesson: the tablet's pass is one no more."""
    tablet.delete()


def saw(tablet: Tablet) -> None:
    """Remember that a tablet is there, now and then."""
    now = timezone.now()
    if now - tablet.seen_at >= SEEN_EVERY:
        Tablet.objects.filter(pk=tablet.pk).update(seen_at=now)


def note(design: Design, text: str, before: str) -> Design:
    """Write down what the team tries. Where another tablet wrote something else meanwhile, nothing is lost and it is
    told: ``changed_meanwhile``, with what stands there as ``data["stands"]``."""
    with transaction.atomic():
        locked = Design.objects.select_for_update(of=("self",)).get(pk=design.pk)
        if locked.note not in (" ".join(before.split()), " ".join(text.split())):
            raise _meanwhile(locked.note)
        return designing.note(locked, text)


def _meanwhile(stands: str) -> GirderError:
    sentence = f"Another tablet of your team, or your teacher, wrote meanwhile: “{stands}”"
    return GirderError("changed_meanwhile", sentence, stands=stands)


def say_who(tablet: Tablet, who: str) -> None:
    """Say who is at a tablet, by first names; empty for nobody in particular. Errors: as ``planning.at_a_tablet``."""
    tablet.who = ", ".join(at_a_tablet(who))
    tablet.save(update_fields=["who"])


def let_teams(run: Run, may: Mapping[str, bool]) -> None:
    """Say what teams may do at their tablets; what is not named stays as it is."""
    TeamsMay.objects.update_or_create(run=run, defaults=dict(may))


def require(run: Run, what: str) -> None:
    """Refuse what the teacher has not opened to the teams of a run: ``not_open_to_teams``."""
    if not getattr(may(run), what):
        raise GirderError("not_open_to_teams", "Your teacher has not opened this to teams.")


def may(run: Run) -> TeamsMay:
    """What teams of a run may do at their tablets."""
    return TeamsMay.objects.filter(run=run).first() or TeamsMay(run=run)


def at_station(team: Team) -> str:
    """Who writes in a ledger where a team does: no child's name, which is forgotten with the lesson."""
    return f"{team.name}, at its station"[:AUTHOR_LETTERS]


def reflect(design: Design, question: str, text: str, before: str) -> None:
    """Write down what the team answers; ``changed_meanwhile`` where it stands otherwise by now than it was read."""
    text = text.strip()
    with transaction.atomic():
        Design.objects.select_for_update(of=("self",)).get(pk=design.pk)
        stands = answers_of(design).get(question, "")
        if stands not in (before.strip(), text):
            raise _meanwhile(stands)
        after.reflect(design, question, text)


def keep_draft(design: Design, typed: Mapping[str, Any]) -> None:
    """Keep a team's draft with its design; ``draft_too_late`` once its test has begun. Errors: as
    ``designs.build_services.keep_draft``."""
    if any(result.begun for result in design.results()):
        raise GirderError("draft_too_late", "The test has begun; a draft comes before it.")
    build_services.keep_draft(design, typed["kind"], typed["typed"], typed["moves"])


def next_version(design: Design, changed: str) -> None:
    """Open the team's next version; one that was opened by the same words already, as after a lost answer, is the one.

    Errors: as ``designs.services.next_version``.
    """
    if design.version == 1 or design.changed != " ".join(changed.split()):
        designing.next_version(design, changed)


def forget_old() -> None:
    """Forget doors of lessons that have long been over, with the tablets that came in by them."""
    Door.objects.filter(until__lt=timezone.now() - FORGOTTEN_AFTER).delete()


def tablets_of(door: Door) -> list[dict[str, Any]]:
    """The tablets that are in, as the teacher is shown them."""
    now = timezone.now()
    return [
        {
            "id": tablet.pk,
            "team": tablet.team.name if tablet.team else "",
            "who": tablet.who,
            "joined_at": tablet.joined_at,
            "seen_s": max(0.0, (now - tablet.seen_at).total_seconds()),
        }
        for tablet in door.tablets.select_related("team")
    ]
