"""Check-in that was typed while the server could not be asked: written down all at once, or not at all."""

from __future__ import annotations

import uuid
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any, Generic, TypeVar

from django.db import transaction

from designs import services
from designs.models import Design, Reading
from girder_core.families import Away
from girder_core.ground import NeedsConfirmation
from girder_core.measure import TypedReading, sentences

T = TypeVar("T")


@dataclass(frozen=True)
class KeptReading:
    """A reading as it was typed, or an own weight as it was added up from materials.

    ``stood`` is the reading that stood there when it was typed, None for none; one that was typed after another of its
    key in the same keeping stands on that one. ``sent_as`` is its name, the same however often it is sent.
    """

    key: str
    sent_as: uuid.UUID
    stood: int | None
    typed: TypedReading | None = None
    uses: Sequence[Mapping[str, Any]] = ()
    again: bool = False

    def is_there(self, reading: Reading) -> bool:
        """Whether it is this reading, word for word."""
        if self.typed is None:
            return bool(reading.materials == [dict(use) for use in self.uses])
        return all(getattr(reading, part) == text for part, text in asdict(self.typed).items())

    def said(self) -> str:
        """It in a few words."""
        return _FROM_MATERIALS if self.typed is None else self.typed.text


@dataclass(frozen=True)
class Change(Generic[T]):
    """What was set to another value, and the value that stood there then."""

    value: T
    before: T

    def is_news(self, now: T) -> bool:
        """Whether it changes what stands there by now."""
        return self.value != now

    def clashes(self, now: T) -> bool:
        """Whether somebody else set it meanwhile, and to something else."""
        return self.is_news(now) and self.before != now


@dataclass(frozen=True)
class KeptCheckIn:
    """What was kept of a design's check-in, in the order in which it was typed; None for what nobody touched."""

    readings: Sequence[KeptReading] = ()
    answers: Mapping[str, Change[bool | None]] | None = None
    level: Change[str] | None = None
    controls_broken: Change[list[str]] | None = None
    away: Change[str] | None = None
    check_in: bool = False


_FROM_MATERIALS = "added up from materials"
_ANSWERS: Mapping[bool | None, str] = {True: "yes", False: "no", None: "no answer"}
_AWAY: Mapping[str, str] = {"": "here", Away.ABSENT.value: "absent", Away.WITHDRAWN.value: "withdrawn"}


def write_kept(design: Design, kept: KeptCheckIn, confirmed: bool) -> Design:
    """Write down what was kept of a design's check-in. What stands there by now is left as it is.

    Errors: ``written_meanwhile``, asked in one: what somebody else wrote since, and what looks like a slip;
    ``confirmed`` says that what was typed counts all the same. And those of the single changes.
    """
    with transaction.atomic():
        # The row that is locked is the one that is read.
        design = Design.objects.select_for_update(of=("self",)).select_related("run", "team").get(pk=design.pk)
        fresh, clashing = _fresh(design, kept.readings)
        answers = kept.answers or {}
        told = {key: answer for key, answer in answers.items() if answer.is_news(design.answers.get(key))}
        tested = design.trials.exists()
        if not confirmed:
            _ask(design, [*_about_readings(design, fresh, clashing), *_about_the_rest(design, kept, told, tested)])
        for reading in fresh:
            # What stands there by now is somebody else's: it is no repeat of that.
            _write(design, reading, again=reading.again and reading not in clashing)
        if told:
            services.answer(design, {key: bool(answer.value) for key, answer in told.items()})
        if kept.level and kept.level.is_news(design.level) and not tested:
            services.set_level(design, kept.level.value)
        if kept.controls_broken and kept.controls_broken.is_news(design.controls_broken):
            services.note_controls(design, kept.controls_broken.value)
        if kept.check_in:
            # What was read before it is looked up anew; whoever is checked in is here, so far.
            design = services.check_in(Design.objects.select_related("run", "team").get(pk=design.pk))
        if kept.away and kept.away.is_news(design.away):
            services.set_away(design, kept.away.value)
    return design


def _write(design: Design, kept: KeptReading, again: bool) -> None:
    if kept.typed is None:
        services.estimate_self_mass(design, kept.uses, confirmed=True, sent_as=kept.sent_as)
    else:
        services.take_reading(design, kept.key, kept.typed, confirmed=True, again=again, sent_as=kept.sent_as)


def _fresh(design: Design, readings: Sequence[KeptReading]) -> tuple[list[KeptReading], list[KeptReading]]:
    """Those that are still to be written, and which of them meet a reading that somebody else took meanwhile."""
    there = {one.sent_as: one.pk for one in design.readings.filter(sent_as__in=[kept.sent_as for kept in readings])}
    standing = design.counting_readings()
    fresh: list[KeptReading] = []
    clashing: list[KeptReading] = []
    goes_by: dict[str, int | None] = {}
    for kept in readings:
        now = standing.get(kept.key)
        if kept.sent_as in there:
            goes_by[kept.key] = there[kept.sent_as]
        elif now is not None and not kept.again and kept.is_there(now):
            goes_by[kept.key] = now.pk
        else:
            fresh.append(kept)
            stands = now.pk if now else None
            if goes_by.get(kept.key, kept.stood) != stands:
                clashing.append(kept)
            # The next of its key goes by this one.
            goes_by[kept.key] = stands
    return fresh, clashing


def _about_readings(design: Design, fresh: Sequence[KeptReading], clashing: Sequence[KeptReading]) -> Iterator[str]:
    """What is to be asked about readings: what somebody else took meanwhile, and what looks like a slip."""
    family, standing = design.run.core_family(), design.counting_readings()
    for kept in fresh:
        label = family.reading_keys[kept.key].label if kept.key in family.reading_keys else kept.key
        if kept in clashing:
            now = standing.get(kept.key)
            by_now = "nothing" if now is None else _FROM_MATERIALS if now.estimated() else now.text
            yield f"{label}: {by_now} by now, {kept.said()} here."
        try:
            if kept.typed is None:
                services.added_up(design, kept.uses, confirmed=False)
            else:
                services.measured(design, kept.key, kept.typed, confirmed=False)
        except NeedsConfirmation as doubt:
            yield f"{label}: {doubt.sentence}"


def _about_the_rest(
    design: Design, kept: KeptCheckIn, told: Mapping[str, Change[bool | None]], tested: bool
) -> Iterator[str]:
    """What is to be asked about all else that somebody changed meanwhile."""
    questions = {question.key: question.text for question in design.run.core_family().questions}
    for key, answer in told.items():
        if answer.clashes(now := design.answers.get(key)):
            yield f"{questions.get(key, key)} {_ANSWERS[now].capitalize()} by now, {_ANSWERS[answer.value]} here."
    if (level := kept.level) and tested and level.is_news(design.level):
        yield f"It was tested meanwhile, so its level stays {design.level or 'open'}."
    elif level and level.clashes(design.level):
        yield f"Its level is {design.level or 'open'} by now, {level.value} here."
    if (broken := kept.controls_broken) and broken.clashes(design.controls_broken):
        by_now, here = (", ".join(names) or "nothing" for names in (design.controls_broken, broken.value))
        yield f"Not kept the same: {by_now} by now, {here} here."
    if kept.away and kept.away.clashes(design.away):
        yield f"The team is {_AWAY[design.away]} by now, {_AWAY[kept.away.value]} here."


def _ask(design: Design, asked: Sequence[str]) -> None:
    if asked:
        raise NeedsConfirmation(
            "written_meanwhile", sentences(f"{design.team.name} was not checked in as it was typed here.", *asked)
        )
