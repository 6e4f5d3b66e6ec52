"""A run's rubric filled in, team by team. Nothing here writes."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from django.db.models import prefetch_related_objects

from bench.selectors import DesignCard, cards_of
from challenges.models import Run
from girder_core.families import SELF_MASS, aim_kg, foretells
from girder_core.kit import Relation
from girder_core.results import Attempt, Criterion, Source, best_load, evidence_of, level_from, points
from results.selectors import with_gains


def criteria_of(run: Run) -> tuple[Criterion, ...]:
    """The run's rubric; empty without one."""
    return tuple(
        Criterion(
            criterion["key"],
            criterion["name"],
            Source(criterion["source"]),
            tuple(criterion["levels"]),
            criterion["weight"],
        )
        for criterion in run.rubric
    )


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
    family = run.core_family()
    held = [best.held_kg for card in cards if (best := best_load(card.results()))]
    aim = aim_kg(run.setup) or max(held, default=0.0)
    rows = []
    for versions in by_team.values():
        latest = versions[-1]
        given = {mark.criterion: mark.level for card in versions for mark in card.design.marks.all()}
        said = {answer.question for card in versions for answer in card.design.reflections.all()}
        attempts = [_attempt(card, family.reading_keys) for card in versions]
        evidence = evidence_of(attempts, aim, [question in said for question in family.reflect])
        levels = {
            line.key: Judged(given[line.key], True) if line.key in given else Judged(level_from(line, evidence), False)
            for line in criteria
        }
        rows.append(TeamMarks(latest, levels, points(criteria, {key: judged.level for key, judged in levels.items()})))
    return rows


def _attempt(card: DesignCard, keys: Collection[str]) -> Attempt:
    results, run = card.results(), card.design.run
    told = foretells(run.core_family(), run.setup)
    return Attempt(
        tested=card.tested,
        held=best_load(results),
        predicted=card.prediction.foretold().amount if card.prediction else None,
        reached=told.came_to(results) if told else None,
        relation=card.prediction.foretold().relation if card.prediction else Relation.AMOUNT,
        gain=card.gain,
        own_weight=SELF_MASS in card.readings if SELF_MASS in keys else None,
        endings=tuple(bool(result.mode or result.reason) for result in results if result.scored and result.loaded),
        changed=bool(card.design.changed) if card.design.parent_id else None,
    )


def last_rubric(run: Run) -> Run | None:
    """The latest other run of the same teacher and kind of challenge that has a rubric, to begin from."""
    others = Run.objects.filter(school_class__owner=run.school_class.owner_id, family=run.family).exclude(rubric=[])
    return others.exclude(pk=run.pk).select_related("school_class").order_by("-date", "-pk").first()
