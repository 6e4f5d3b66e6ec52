"""What the screens and documents show of a plan, put together from the core. Nothing here writes."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from challenges.models import Terms, rules_of
from challenges.plans import ANSWERS, Sheet, plan_of
from girder_core.families import Saying, Standard, family_of
from girder_core.ground import Drawing, GirderError
from girder_core.measure import System
from girder_core.planning import BriefLine, Consequences, Plan, brief_lines, consequences
from girder_core.safety import Caution


@dataclass(frozen=True)
class ShownPlan:
    """A plan with what follows from it, as the API and the documents show it."""

    plan: Plan
    follows: Consequences
    goal: dict[str, Any]
    system: System

    @cached_property
    def brief(self) -> tuple[BriefLine, ...]:
        family = family_of(self.plan.answers.family)
        try:
            rules = rules_of(self.goal, self.plan.setup, family)
        except GirderError:
            # A goal that does not hold together is told at its field; the brief waits for it.
            return ()
        return brief_lines(family, self.plan.setup, rules, self.plan.build_minutes, self.system)

    @cached_property
    def saying(self) -> Saying:
        """What to explain and to try, by what is built with."""
        return family_of(self.plan.answers.family).saying(self.plan.materials)

    @property
    def cautions(self) -> tuple[Caution, ...]:
        """What can hurt someone: the lesson's own cautions, or, where they cannot be worked out, those of its kind."""
        sheet = self.follows.safety
        return tuple(sheet.cautions if sheet else family_of(self.plan.answers.family).cautions)

    @cached_property
    def drawing(self) -> Drawing:
        return family_of(self.plan.answers.family).draw(self.plan.setup)

    @cached_property
    def standards(self) -> tuple[Standard, ...]:
        return family_of(self.plan.answers.family).standards_for(self.plan.answers.age)


def shown_terms(terms: Terms, teams: int, system: System) -> ShownPlan:
    """A kept recipe or run, for so many teams."""
    plan = plan_of(terms, teams, system)
    return ShownPlan(plan, consequences(plan), terms.goal(), system)


@dataclass(frozen=True)
class ShownSheet(ShownPlan):
    """A planner sheet as the API shows it."""

    sheet: Sheet

    @property
    def entry(self) -> dict[str, Any]:
        entry = self.sheet.entry
        every = {f"setup.{name}" for name in entry["setup"]} | set(entry) - {*ANSWERS, "setup"}
        return {**entry, "proposed": sorted(every - set(self.sheet.own))}

    @property
    def own(self) -> list[str]:
        return self.sheet.own

    @property
    def reasons(self) -> dict[str, str]:
        return self.sheet.reasons

    @property
    def moved(self) -> dict[str, int]:
        return self.sheet.moved

    @property
    def problems(self) -> dict[str, str]:
        return dict(self.sheet.read.problems)

    @property
    def kit(self) -> list[dict[str, Any]]:
        kept: list[dict[str, Any]] = self.sheet.read.terms["kit"]
        return kept


def shown_sheet(sheet: Sheet, system: System) -> ShownSheet:
    """A filled sheet with its consequences."""
    goal = {field: sheet.entry[field] for field in Terms.GOAL}
    return ShownSheet(sheet.read.plan, sheet.read.follows, goal, system, sheet)
