"""After the tests: what teams answer, whether hints are shown, and the rubric."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from django.db import transaction
from django.db.models import prefetch_related_objects
from django.utils import timezone
from django.utils.text import slugify

from bench.models import Design, Reflection, RubricMark
from bench.reasons import best_load
from bench.selectors import DesignCard, cards_of, with_gains
from challenges.models import Run
from girder_core.families import SELF_MASS, aim_kg
from girder_core.ground import GirderError
from girder_core.results import Attempt, Criterion, Source, evidence_of, level_from, points, rubric_of


def reflect(design: Design, question: str, text: str) -> None:
    """Write down what a team answers; an empty answer takes it back. ``unknown_question`` for any other question."""
    if question not in design.run.core_family().reflect:
        raise GirderError("unknown_question", "This kind of challenge does not ask that.")
    text = text.strip()
    if text:
        Reflection.objects.update_or_create(
            design=design, question=question, defaults={"text": text, "written_at": timezone.now()}
        )
    else:
        Reflection.objects.filter(design=design, question=question).delete()


def hide_hints(run: Run, hidden: bool) -> None:
    """Keep redesign questions from the teams, or show them."""
    run.hints_hidden = hidden
    run.save(update_fields=["hints_hidden"])


def criteria_of(run: Run) -> tuple[Criterion, ...]:
    """The run's rubric; empty without one."""
    return tuple(
        Criterion(one["key"], one["name"], Source(one["source"]), tuple(one["levels"]), one["weight"])
        for one in run.rubric
    )


def set_rubric(run: Run, lines: Sequence[Mapping[str, Any]]) -> None:
    """Give a run a rubric, or none; what was marked by hand stays with criteria that keep their key.

    Errors: those of ``girder_core.results.rubric``.
    """
    keyed: list[Criterion] = []
    for line in lines:
        base = line.get("key") or slugify(line["name"])[:30] or "criterion"
        taken = {one.key for one in keyed}
        key = next(k for n in range(1, len(lines) + 2) if (k := base if n == 1 else f"{base}-{n}") not in taken)
        keyed.append(
            Criterion(key, line["name"].strip(), Source(line["source"]), tuple(line["levels"]), line["weight"])
        )
    rubric = rubric_of(keyed)
    with transaction.atomic():
        run.rubric = [{**asdict(one), "source": one.source.value, "levels": list(one.levels)} for one in rubric]
        run.save(update_fields=["rubric"])
        # A level that a criterion has no more says nothing.
        for one in rubric:
            RubricMark.objects.filter(design__run=run, criterion=one.key, level__gte=len(one.levels)).delete()


def mark(design: Design, criterion: str, level: int | None) -> None:
    """Give a design a level in a criterion by hand, or leave it to the results again."""
    line = next((one for one in criteria_of(design.run) if one.key == criterion), None)
    if line is None:
        raise GirderError("unknown_criterion", "The rubric of this run has no such criterion.")
    if level is None:
        RubricMark.objects.filter(design=design, criterion=criterion).delete()
        return
    points([line], {criterion: level})
    RubricMark.objects.update_or_create(design=design, criterion=criterion, defaults={"level": level})


@dataclass(frozen=True)
class Judged:
    """One level of a team: which, and whether it was given by hand."""

    level: int | None
    by_hand: bool


@dataclass(frozen=True)
class TeamMarks:
    """A team's row of the rubric; it goes by the team's latest version."""

    card: DesignCard
    levels: dict[str, Judged]
    points: float | None


def marks_of(run: Run) -> list[TeamMarks]:
    """The rubric filled in, team by team."""
    criteria = criteria_of(run)
    cards = with_gains(cards_of(run), run.rules())
    prefetch_related_objects([card.design for card in cards], "marks")
    by_team: dict[int, list[DesignCard]] = {}
    for card in cards:
        by_team.setdefault(card.design.team_id, []).append(card)
    one = run.core_family()
    held = [best[0] for card in cards if (best := best_load(card))]
    aim = aim_kg(run.setup) or max(held, default=0.0)
    rows = []
    for versions in by_team.values():
        latest = versions[-1]
        given = {one.criterion: one.level for card in versions for one in card.design.marks.all()}
        said = {answer.question for card in versions for answer in card.design.reflections.all()}
        attempts = [_attempt(card, one.reading_keys) for card in versions]
        evidence = evidence_of(attempts, aim, [question in said for question in one.reflect])
        levels = {
            line.key: Judged(given[line.key], True) if line.key in given else Judged(level_from(line, evidence), False)
            for line in criteria
        }
        rows.append(TeamMarks(latest, levels, points(criteria, {key: judged.level for key, judged in levels.items()})))
    return rows


def _attempt(card: DesignCard, keys: Collection[str]) -> Attempt:
    results = card.results()
    return Attempt(
        tested=card.scored,
        held=best_load(card),
        predicted_kg=card.prediction.load_kg if card.prediction else None,
        gain=card.gain,
        own_weight=SELF_MASS in card.readings if SELF_MASS in keys else None,
        endings=tuple(bool(one.mode or one.reason) for one in results if one.scored and one.loaded),
        changed=bool(card.design.changed) if card.design.parent_id else None,
    )


def last_rubric(run: Run) -> Run | None:
    """The latest other run of the same teacher and kind of challenge that has a rubric, to begin from."""
    others = Run.objects.filter(school_class__owner=run.school_class.owner_id, family=run.family).exclude(rubric=[])
    return others.exclude(pk=run.pk).select_related("school_class").order_by("-date", "-pk").first()
