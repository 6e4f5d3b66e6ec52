"""Check-in that was typed while the server could not be asked: written down all at once, or not at all."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from django.db import transaction

from designs import services
from designs.models import Design, Reading
from girder_core.ground import NeedsConfirmation
from girder_core.measure import TypedReading, sentences


@dataclass(frozen=True)
class KeptReading:
    """A reading as it was typed, and the text of the one that stood there then; empty for none."""

    key: str
    typed: TypedReading
    before: str

    def is_there(self, reading: Reading) -> bool:
        """Whether it is this reading, word for word."""
        return all(getattr(reading, part) == text for part, text in asdict(self.typed).items())


@dataclass(frozen=True)
class KeptAnswer:
    """An answer to a question of check-in, and what stood there then."""

    key: str
    value: bool
    before: bool | None


def write_kept(
    design: Design, readings: Sequence[KeptReading], answers: Sequence[KeptAnswer], check_in: bool, confirmed: bool
) -> Design:
    """Write down what was kept of a design's check-in. What stands there by now is left as it is.

    Errors: ``written_meanwhile``, asked in one: what somebody else wrote since, and what looks like a slip;
    ``confirmed`` says that what was typed counts all the same. And those of readings, answers and check-in.
    """
    with transaction.atomic():
        Design.objects.select_for_update(of=("self",)).get(pk=design.pk)
        standing = design.counting_readings()
        fresh = [kept for kept in readings if kept.key not in standing or not kept.is_there(standing[kept.key])]
        told = {kept.key: kept.value for kept in answers if design.answers.get(kept.key) is not kept.value}
        if not confirmed:
            _ask(design, fresh, [kept for kept in answers if kept.key in told])
        for kept in fresh:
            services.take_reading(design, kept.key, kept.typed, confirmed=True)
        if told:
            services.answer(design, told)
        if check_in:
            # What was read before it is looked up anew.
            services.check_in(Design.objects.select_related("run", "team").get(pk=design.pk))
    return design


def _ask(design: Design, readings: Sequence[KeptReading], answers: Sequence[KeptAnswer]) -> None:
    """Ask about all that somebody else wrote meanwhile, or that looks like a slip."""
    family, standing = design.run.core_family(), design.counting_readings()
    asked: list[str] = []
    for kept in readings:
        now = standing[kept.key].text if kept.key in standing else ""
        label = family.reading_keys[kept.key].label if kept.key in family.reading_keys else kept.key
        if now != kept.before:
            asked.append(f"{label}: {now or 'nothing'} by now, {kept.typed.text} here.")
        try:
            services.measured(design, kept.key, kept.typed, confirmed=False)
        except NeedsConfirmation as doubt:
            asked.append(f"{label}: {doubt.sentence}")
    questions = {question.key: question.text for question in family.questions}
    words: Mapping[Any, str] = {True: "yes", False: "no", None: "no answer"}
    for answer in answers:
        now_says = design.answers.get(answer.key)
        if now_says is not answer.before:
            text = questions.get(answer.key, answer.key)
            asked.append(f"{text} {words[now_says].capitalize()} by now, {words[answer.value]} here.")
    if asked:
        raise NeedsConfirmation(
            "written_meanwhile", sentences(f"{design.team.name} was not checked in as it was typed here.", *asked)
        )
