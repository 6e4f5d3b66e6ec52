"""A rubric: criteria with levels and weights, filled from results where results tell, and by hand elsewhere."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from girder_core.ground import GirderError
from girder_core.kit import Relation
from girder_core.results.comparison import VerdictKind
from girder_core.results.factors import Foresight, foresee
from girder_core.results.gains import Gain
from girder_core.results.scoring import BestLoad
from girder_core.trial import Interval


class Source(StrEnum):
    """Where a criterion's level comes from."""

    HAND = "hand"
    TARGET = "target"
    GAIN = "gain"
    PREDICTION = "prediction"
    RECORD = "record"


SOURCE_WORDS: Mapping[Source, str] = {
    Source.HAND: "by hand",
    Source.TARGET: "what it held, against the target",
    Source.GAIN: "what the next version gained",
    Source.PREDICTION: "how near the prediction came",
    Source.RECORD: "what is written down",
}


@dataclass(frozen=True)
class Criterion:
    """One line of a rubric.

    Attributes:
        key: stable name.
        name: what it is called.
        source: where its level comes from; a level given by hand always goes before it.
        levels: what each level means, the lowest first; two to six.
        weight: how much it counts beside the others, not negative.
    """

    key: str
    name: str
    source: Source
    levels: tuple[str, ...]
    weight: float

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise GirderError("criterion_unnamed", "Each criterion needs a name.", criterion=self.key)
        if not 2 <= len(self.levels) <= 6 or not all(level.strip() for level in self.levels):
            raise GirderError(
                "criterion_levels", f"“{self.name}” needs two to six levels in words.", criterion=self.key
            )
        if not (self.weight >= 0 and math.isfinite(self.weight)):
            raise GirderError("weight_negative", f"The weight of “{self.name}” cannot be negative.", criterion=self.key)


PROPOSED = (
    Criterion("works", "Does what it should", Source.TARGET,
              ("does not stand", "holds part of it", "nearly", "holds what was asked"), 2),
    Criterion("improves", "Gets better from version to version", Source.GAIN,
              ("no second version", "tried again", "better, perhaps by chance", "clearly better"), 2),
    Criterion("foresees", "Foresees", Source.PREDICTION, ("no prediction", "far off", "near", "right"), 1),
    Criterion("records", "Writes down", Source.RECORD, ("nothing", "a little", "most", "all of it"), 1),
    Criterion("explains", "Explains with forces", Source.HAND,
              ("not yet", "names a force", "says where it goes", "says why it failed there"), 2),
    Criterion("together", "Works together and safely", Source.HAND,
              ("not yet", "with help", "mostly", "all the time"), 1),
)  # fmt: skip
"""What a rubric begins with (ours); every word and weight is free to be changed."""


@dataclass(frozen=True)
class Evidence:
    """What results tell of a team, for a rubric; None where they tell nothing.

    Attributes:
        margin: what was held over the target, or the share of the best where there is none [-].
        gain: of its latest version.
        versions: how many it tested.
        said: whether it predicted anything.
        error: how far the prediction was off, as a share [-].
        recorded: share of what should be written down that is [-].
    """

    margin: float | None = None
    gain: Gain | None = None
    versions: int = 0
    said: bool = False
    error: float | None = None
    recorded: float | None = None


@dataclass(frozen=True)
class Attempt:
    """A version of a team's design as a rubric looks at it.

    Attributes:
        tested: whether it has a trial that counts.
        held: its best load; None when nothing was loaded to an end.
        predicted: what the team said last [kg, or the size that is foretold], if anything.
        reached: what it came to where sizes are foretold, and what was too much for it; None where loads are.
        gain: over the version before it, where there is one.
        own_weight: whether its own weight stands in the record; None where that is not asked.
        endings: for each trial that counts whether it is written down how it ended.
        changed: whether it is written down what changed; None for a first version.
        relation: whether the team said that much, or more, less, or about as much.
    """

    tested: bool
    held: BestLoad | None = None
    predicted: float | None = None
    gain: Gain | None = None
    own_weight: bool | None = None
    endings: tuple[bool, ...] = ()
    changed: bool | None = None
    relation: Relation = Relation.AMOUNT
    reached: Interval | None = None


def evidence_of(attempts: Sequence[Attempt], aim_kg: float, answered: Sequence[bool]) -> Evidence:
    """What results tell of a team.

    Args:
        attempts: the versions of the team, the earliest first.
        aim_kg: the target, or the best of the class where there is none [kg]; 0 when neither is known.
        answered: for each question after the lesson whether the team answered it.
    Returns:
        The margin is the most held over the aim, the gain and the prediction are the latest; the record is the share
        of what should be written down that is: own weight, how each trial ended, what changed, the answers.
    """
    tested = [attempt for attempt in attempts if attempt.tested]
    held = max((result.held.held_kg for result in tested if result.held), default=0.0)
    gains = [attempt.gain for attempt in attempts if attempt.gain is not None]
    said = [attempt for attempt in attempts if attempt.predicted is not None]
    errors = [
        _error_of(foresee("", "", attempt.predicted, came, bounds, attempt.relation))
        for attempt in said
        if attempt.predicted and (found := _came_to(attempt)) is not None
        for came, bounds in (found,)
    ]
    asked = [attempt.own_weight for attempt in attempts] + [attempt.changed for attempt in attempts]
    there = [known for known in asked if known is not None]
    there += [known for attempt in attempts for known in attempt.endings] + list(answered)
    return Evidence(
        margin=held / aim_kg if tested and aim_kg > 0 else None,
        gain=gains[-1] if gains else None,
        versions=len(tested),
        said=bool(said),
        error=errors[-1] if errors else None,
        recorded=(sum(there) / len(there) if there else 0.0) if tested else None,
    )


def _came_to(attempt: Attempt) -> tuple[float, Interval] | None:
    """What a version came to, and between what that lies and what was too much for it."""
    if attempt.reached is not None:
        return attempt.reached.low, attempt.reached
    return (attempt.held.held_kg, attempt.held.interval) if attempt.held else None


def _error_of(foresight: Foresight) -> float | None:
    """How far off a prediction was; a comparison is right, or as far off as can be."""
    if foresight.relation in (Relation.MORE, Relation.LESS) and foresight.verdict != "open":
        return 0.0 if foresight.verdict == "right" else 1.0
    return foresight.error


def level_from(criterion: Criterion, evidence: Evidence) -> int | None:
    """The level that results give in a criterion.

    Args:
        criterion: the line of the rubric.
        evidence: what is known of the team.
    Returns:
        0 for the lowest; None where results tell nothing, or where it is judged by hand. A share s of what can be
        reached gives level floor(s n) of n levels, all of it the highest (ours). A gain counts nothing without a second
        version, a third when it is none, two thirds when it may be chance, and all when it is clear. A prediction
        within 15 % counts all, within 40 % two thirds, any other a third (ours).
    """
    share = _SHARES[criterion.source](evidence)
    if share is None:
        return None
    n = len(criterion.levels)
    return min(n - 1, math.floor(min(max(share, 0.0), 1.0) * n + 1e-9)) if share < 1 else n - 1


def _gain_share(evidence: Evidence) -> float | None:
    if evidence.versions == 0:
        return None
    if evidence.gain is None:
        return 0.0 if evidence.versions < 2 else 0.4
    if evidence.gain.value <= 0:
        return 0.4
    return 1.0 if evidence.gain.kind is VerdictKind.CLEAR else 0.6


def _prediction_share(evidence: Evidence) -> float | None:
    if not evidence.said:
        return 0.0 if evidence.versions else None
    if evidence.error is None:
        return None
    off = abs(evidence.error)
    return 1.0 if off <= 0.15 else 0.6 if off <= 0.4 else 0.4


_SHARES: Mapping[Source, Callable[[Evidence], float | None]] = {
    Source.HAND: lambda evidence: None,
    Source.TARGET: lambda evidence: evidence.margin,
    Source.GAIN: _gain_share,
    Source.PREDICTION: _prediction_share,
    Source.RECORD: lambda evidence: evidence.recorded,
}


def points(criteria: Sequence[Criterion], levels: Mapping[str, int | None]) -> float | None:
    """What a team's levels add up to, of 100.

    Args:
        criteria: the rubric.
        levels: the level in each criterion, by key; those that are missing or None are not judged yet.
    Returns:
        The weighted mean of level over highest level, over the criteria that are judged; None before any is.
    Errors:
        ``level_unknown`` for a level that the criterion does not have.
    """
    total = weight = 0.0
    for criterion in criteria:
        level = levels.get(criterion.key)
        if level is None:
            continue
        if not 0 <= level < len(criterion.levels):
            raise GirderError("level_unknown", f"“{criterion.name}” has no such level.", criterion=criterion.key)
        total += criterion.weight * level / (len(criterion.levels) - 1)
        weight += criterion.weight
    return 100 * total / weight if weight > 0 else None


def rubric_of(lines: Sequence[Criterion]) -> tuple[Criterion, ...]:
    """A rubric that holds together.

    Args:
        lines: its criteria.
    Returns:
        The same.
    Errors:
        ``criterion_twice``, ``weights_sum_to_zero``.
    """
    keys = [line.key for line in lines]
    names = [line.name.strip().lower() for line in lines]
    if len(set(keys)) < len(keys) or len(set(names)) < len(names):
        raise GirderError("criterion_twice", "Two criteria have the same name. Give each its own.")
    if lines and not math.fsum(line.weight for line in lines) > 0:
        raise GirderError("weights_sum_to_zero", "The weights of the criteria sum to zero. Give at least one a weight.")
    return tuple(lines)
