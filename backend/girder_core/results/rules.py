"""What wins, which trials count, what a broken rule does: the terms by which a run is scored, and their words."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

from girder_core.ground import GirderError
from girder_core.measure import Kind
from girder_core.trial import TrialResult


class School(StrEnum):
    """What wins."""

    MOST_HELD = "most_held"
    STRENGTH_TO_WEIGHT = "strength_to_weight"
    THRESHOLD = "threshold"
    TALLEST = "tallest"
    CAPACITY = "capacity"
    SURVIVED = "survived"
    LEFT_STANDING = "left_standing"
    SPARED = "spared"
    FOR_ITS_PIECES = "for_its_pieces"
    MIX = "mix"


class TrialRule(StrEnum):
    """Which trials of a design count."""

    BEST = "best"
    MEAN = "mean"
    LAST = "last"


class BreachPolicy(StrEnum):
    """What a broken constraint does."""

    REFUSE = "refuse"
    PENALTY = "penalty"
    NOTE = "note"


class TieRule(StrEnum):
    """Who is first when two scores are equal."""

    LIGHTER = "lighter"
    SHARED = "shared"


@dataclass(frozen=True)
class Words:
    """What a choice is called, and why one would make it."""

    label: str
    why: str


SCHOOL_WORDS: Mapping[School, Words] = {
    School.MOST_HELD: Words("Most load held", "Plain and quick; heavy structures have the edge."),
    School.STRENGTH_TO_WEIGHT: Words("Times its own weight", "Rewards using little material well."),
    School.THRESHOLD: Words("Pass the target", "Everybody can pass; the margin shows who passed easily."),
    School.TALLEST: Words("Tallest or longest", "Size wins, among those that hold what they must."),
    School.CAPACITY: Words("Most pieces", "Room is counted, not mass."),
    School.SURVIVED: Words("Highest level survived", "Each level is harder; the last one survived counts."),
    School.LEFT_STANDING: Words("Most left standing", "The share that survives an attack."),
    School.SPARED: Words("Smallest that hides all", "Every block left over counts, once all are hidden."),
    School.FOR_ITS_PIECES: Words("Most hidden for its blocks", "Figures hidden for every ten blocks in it."),
    School.MIX: Words("A weighted mix", "Several aims at once; the weights say what matters most."),
}
TRIAL_RULE_WORDS: Mapping[TrialRule, Words] = {
    TrialRule.BEST: Words("Best trial counts", "A mishap does not sink a team."),
    TrialRule.MEAN: Words("Mean of the trials counts", "Fair to steady work; needs every trial."),
    TrialRule.LAST: Words("Last trial counts", "The final build is what is judged."),
}
BREACH_WORDS: Mapping[BreachPolicy, Words] = {
    BreachPolicy.PENALTY: Words("Ranked with a penalty", "A share is taken off the score."),
    BreachPolicy.NOTE: Words("Ranked, with a note", "The breach is shown beside the result."),
    BreachPolicy.REFUSE: Words("Not tested until mended", "Check-in holds it back from the bench."),
}
TIE_WORDS: Mapping[TieRule, Words] = {
    TieRule.LIGHTER: Words("The lighter is first", "Equal results with less material are the better design."),
    TieRule.SHARED: Words("They share the place", "Nobody wins by a gram."),
}


@dataclass(frozen=True)
class Rules:
    """How a run is scored.

    Attributes:
        school: what wins.
        trial_rule: which trials count.
        breach_policy: what a broken constraint does.
        penalty: share taken off per design with a breach [-].
        tie_rule: equal scores: the lighter first (then a shared place), or a shared place at once.
        weights: for a mix, how much each school counts; they need not sum to anything in particular.
        minimum_kg: the target [kg], which a threshold asks for and the tallest has to hold, if there is one.
        survived_kind: what the reading of what was survived measures.
    """

    school: School
    trial_rule: TrialRule
    breach_policy: BreachPolicy
    penalty: float = 0.0
    tie_rule: TieRule = TieRule.LIGHTER
    weights: Mapping[School, float] = field(default_factory=dict)
    minimum_kg: float | None = None
    survived_kind: Kind = Kind.COUNT

    def __post_init__(self) -> None:
        if not 0 <= self.penalty < 1:
            raise GirderError(
                "penalty_out_of_range", "A penalty takes off a share: from nothing to just under all of it."
            )
        if any(weight < 0 for weight in self.weights.values()):
            raise GirderError("weight_negative", "A weight in the mix cannot be negative.")
        if School.MIX in self.weights:
            raise GirderError("mix_in_mix", "A mix cannot contain itself.")
        if self.school is School.MIX and not math.fsum(self.weights.values()) > 0:
            raise GirderError("weights_sum_to_zero", "The weights of the mix sum to zero. Give at least one a weight.")
        if self.school is School.THRESHOLD and self.minimum_kg is None:
            raise GirderError("threshold_missing", "A threshold needs a target load to pass. Set one.")


def needs_trial(rules: Rules) -> bool:
    """Whether a score under these rules needs a trial at the bench, or only readings.

    Args:
        rules: the run's scoring.
    Returns:
        False when what wins is measured and nothing has to be held.
    """
    if rules.school is School.MIX:
        return any(needs_trial(replace(rules, school=school)) for school, weight in rules.weights.items() if weight > 0)
    if rules.school is School.TALLEST:
        return rules.minimum_kg is not None
    return rules.school not in _MEASURED


_MEASURED = (School.SURVIVED, School.LEFT_STANDING, School.SPARED, School.FOR_ITS_PIECES)
"""What wins by these is counted or measured, at the bench or on paper; no load stands behind it."""


def rule_matters(rules: Rules, trials: Sequence[Sequence[TrialResult]]) -> bool:
    """Whether it could make a difference which trials of a design count.

    Args:
        rules: the run's scoring.
        trials: all trials of each design.
    Returns:
        True where a score needs trials, and where any design has more than one that counts.
    """
    return needs_trial(rules) or any(sum(trial.scored for trial in own) > 1 for own in trials)


def possible_schools(
    offered: Sequence[School], weights: Mapping[School, float], minimum_kg: float | None
) -> list[School]:
    """By which of the offered ways a run can be scored.

    Args:
        offered: what the kind of challenge offers.
        weights: of a mix.
        minimum_kg: the target [kg], if there is one.
    Returns:
        All but a mix without weights and a target that is not set.
    """
    lacking = {School.MIX: not weights, School.THRESHOLD: minimum_kg is None}
    return [school for school in offered if not lacking.get(school, False)]
