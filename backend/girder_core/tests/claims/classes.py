"""Made-up classes whose truth is known, put through the comparison as a real one would be."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from girder_core.measure import Quantity
from girder_core.results import (
    BreachPolicy,
    Comparison,
    Entry,
    FactorEffect,
    Member,
    Rules,
    School,
    TrialRule,
    VerdictKind,
    compare,
    factor_effect,
)
from girder_core.trial import Interval, Outcome, TrialResult

MOST = Rules(School.MOST_HELD, TrialRule.BEST, BreachPolicy.NOTE)


@dataclass(frozen=True)
class Cell:
    """A kind of class.

    Attributes:
        teams: how many there are.
        scatter: of trials of one design, standard deviation of the logarithm [-].
        spread: of the designs' true strengths, the same [-].
        trials: of each design; shorter lists go round.
        step: of the load, as a share of the typical strength [-].
        kit: where the load runs out, as a share of the typical strength [-].
        rules: how it is scored.
    """

    teams: int
    scatter: float
    spread: float
    trials: tuple[int, ...] = (1,)
    step: float = 0.05
    kit: float = math.inf
    rules: Rules = MOST


@dataclass(frozen=True)
class Played:
    """A class that was tested: the comparison, each design's true score, and what one more contest would show."""

    comparison: Comparison
    truth: dict[str, float]
    again: dict[str, float]
    target: float = 0.0


def trial(strength: float, step: float, kit: float) -> TrialResult:
    """What loading in equal steps shows of a structure of this strength [kg]."""
    held = step * math.floor(strength / step)
    if held >= kit:
        load = Quantity(kit)
        return TrialResult(
            Outcome.RAN_OUT, placed={"nut": 1}, load_on=load, held=load, interval=Interval(kit, math.inf)
        )
    broke = held + step
    return TrialResult(
        Outcome.BROKE, placed={"nut": 1}, load_on=Quantity(broke), held=Quantity(held), broke_at=Quantity(broke),
        interval=Interval(held, broke), last_step_kg=step,
    )  # fmt: skip


def play(cell: Cell, dice: np.random.Generator) -> Played:
    """One class of a kind."""
    counts = [cell.trials[i % len(cell.trials)] for i in range(cell.teams)]
    strength = np.exp(dice.normal(0.0, cell.spread, cell.teams))
    weight = np.exp(dice.normal(0.0, 0.2, cell.teams)) * 0.04
    usual = sorted(counts)[len(counts) // 2]
    entries, truth, again = [], {}, {}
    for i, n in enumerate(counts):
        shown = strength[i] * np.exp(dice.normal(0.0, cell.scatter, n))
        trials = tuple(trial(value, cell.step, cell.kit) for value in shown)
        key = f"d{i}"
        entries.append(Entry(key, f"T{i}", trials, Quantity(float(weight[i]))))
        repeat = strength[i] * np.exp(dice.normal(0.0, cell.scatter, usual))
        worth = 1 / weight[i] if cell.rules.school is School.STRENGTH_TO_WEIGHT else 1.0
        truth[key] = float(strength[i] * worth)
        counted = {TrialRule.BEST: repeat.max(), TrialRule.MEAN: repeat.mean(), TrialRule.LAST: repeat[-1]}
        again[key] = float(counted[cell.rules.trial_rule] * worth)
    return Played(compare(entries, cell.rules), truth, again, cell.rules.minimum_kg or 0.0)


def varied(designs: Sequence[int], truth: Sequence[float], scatter: float, spreads: Sequence[float], trials: int,
           dice: np.random.Generator) -> FactorEffect:  # fmt: skip
    """A class whose designs lie around the truth of their level, and what is said of what was varied."""
    members = []
    for level, (count, middle, spread) in enumerate(zip(designs, truth, spreads, strict=True)):
        for i in range(count):
            strength = math.exp(middle + spread * dice.normal())
            shown = [trial(strength * math.exp(scatter * dice.normal()), 0.05, math.inf) for _ in range(trials)]
            said = tuple(Interval(result.held.value, result.held.value + 0.05) for result in shown)
            best = max(result.held.value for result in shown)
            members.append(Member(f"{level}-{i}", f"T{i}", str(level), best, False, (), said))
    return factor_effect(members, [str(level) for level in range(len(designs))])


@dataclass
class Tally:
    """How often what was said of neighbours came true."""

    neighbours: int = 0
    said: dict[VerdictKind, int] = field(default_factory=lambda: {VerdictKind.CLEAR: 0, VerdictKind.LIKELY: 0})
    wrong: dict[VerdictKind, int] = field(default_factory=lambda: {VerdictKind.CLEAR: 0, VerdictKind.LIKELY: 0})
    designs: int = 0
    in_range: int = 0
    classes: int = 0
    better: list[tuple[float, bool]] = field(default_factory=list)
    ahead: list[tuple[float, bool]] = field(default_factory=list)
    first: list[tuple[float, bool]] = field(default_factory=list)
    passes: list[tuple[float, bool]] = field(default_factory=list)

    def share(self, kind: VerdictKind) -> float:
        """How many neighbours it was said of [-]."""
        return self.said[kind] / max(1, self.neighbours)

    def wrongly(self, kind: VerdictKind) -> float:
        """How many of those it was wrong of [-]."""
        return self.wrong[kind] / max(1, self.said[kind])

    def covered(self) -> float:
        """How many designs have their true place in the range that was said [-]."""
        return self.in_range / max(1, self.designs)

    def add(self, played: Played, equal: bool, dice: np.random.Generator) -> None:
        """Count a class. Where all are equal, which of two is the better is drawn."""
        places, truth = played.comparison.places, played.truth
        if equal:
            truth = {key: float(dice.random()) for key in truth}
        self.classes += 1
        best_again = max(played.again, key=played.again.__getitem__)
        for place in places:
            rank = 1 + sum(value > truth[place.entry.key] for value in truth.values())
            self.designs += 1
            self.in_range += place.prospect.ranks.best <= rank <= place.prospect.ranks.worst
            self.first.append((place.prospect.first, place.entry.key == best_again))
            if place.prospect.passes is not None:
                self.passes.append((place.prospect.passes, played.again[place.entry.key] >= played.target))
        for upper, lower in pairwise(places):
            right = truth[upper.entry.key] > truth[lower.entry.key]
            self.neighbours += 1
            if upper.against_next is not None and upper.against_next.kind in self.said:
                self.said[upper.against_next.kind] += 1
                self.wrong[upper.against_next.kind] += not right
            better, ahead = upper.prospect.better, upper.prospect.ahead
            if better is not None and ahead is not None:
                self.better.append((better, right))
                self.ahead.append((ahead, played.again[upper.entry.key] > played.again[lower.entry.key]))


def tallied(cell: Cell, classes: int, seed: int) -> Tally:
    """Many classes of a kind."""
    dice, tally = np.random.default_rng(seed), Tally()
    for _ in range(classes):
        tally.add(play(cell, dice), cell.spread == 0, dice)
    return tally


def bins(said: Sequence[tuple[float, bool]], width: float = 0.1) -> Iterator[tuple[float, int, float, float]]:
    """Chances that were said, in bins: lower end, how many, mean of what was said, share that came true."""
    chances, came = np.array([p for p, _ in said]), np.array([hit for _, hit in said], dtype=float)
    which = np.minimum((chances / width).astype(int), round(1 / width) - 1)
    for i in range(round(1 / width)):
        inside = which == i
        if inside.any():
            yield i * width, int(inside.sum()), float(chances[inside].mean()), float(came[inside].mean())
