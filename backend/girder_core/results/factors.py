"""Why: what was varied on purpose, what else differed, what was foreseen, and how things ended."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import combinations

from girder_core.kit import Relation
from girder_core.measure import COVERAGE_FACTOR, Quantity, times_in_ten
from girder_core.results.again import ScatterBelief, middles
from girder_core.results.prospects import CLEAR, LIKELY
from girder_core.results.samples import Correlation, SampleMean, mean_of, rank_correlation
from girder_core.trial import Interval

SURE, HINT = 0.025, 0.16
"""How rarely chance may do as much, for a trend to be called one (2.5 %) or perhaps one (outside one sigma) [-]."""
TIMES_WITHIN = 0.9
"""Share of what may be true that the bounds of an effect hold [-]."""
APART = 0.10
"""Averages that differ by this share of their mean went along with the factor (ours) [-]."""


@dataclass(frozen=True)
class Mark:
    """One trial as a factor strip draws it: its value in the unit of the score, and whether that is "at least"."""

    value: float
    at_least: bool


@dataclass(frozen=True)
class Member:
    """A design in a factor strip.

    Attributes:
        key: the caller's name for it.
        name: what sentences call it.
        level: its level of the factor.
        value: what it scores; one design counts once, however often it was tested.
        at_least: whether that is a lower bound.
        marks: its trials.
        trials: what each of them says of the score; where it is not given, the score says it.
        numbers: what else was measured of it, by name [unit of each].
        words: what else was told of it, by name.
    """

    key: str
    name: str
    level: str
    value: float
    at_least: bool
    marks: tuple[Mark, ...] = ()
    trials: tuple[Interval, ...] = ()
    numbers: Mapping[str, float] = field(default_factory=dict)
    words: Mapping[str, str] = field(default_factory=dict)

    @property
    def said(self) -> tuple[Interval, ...]:
        """What its trials say of its score."""
        return self.trials or (Interval(self.value, math.inf if self.at_least else self.value),)


@dataclass(frozen=True)
class Level:
    """One level of a factor: its designs and their mean; ``at_least`` when one of them ran out."""

    name: str
    members: tuple[Member, ...]
    mean: SampleMean | None
    at_least: bool


@dataclass(frozen=True)
class FactorEffect:
    """What a factor did.

    Attributes:
        levels: in the order in which the run names them.
        best: the level with the highest mean; empty when none has a result.
        sure: "clear", "likely", "too_close", or "cannot_say".
        says: a sentence with the answer.
        because: why it is no surer.
        confounders: what else differed from level to level, a sentence each.
        chance: how sure it is that the best level is truly better than the one furthest from it [-], the choice of that
            pair paid for; None where it could not be worked out.
        times: bounds of the one over the other, nine times in ten [-].
    """

    levels: tuple[Level, ...]
    best: str
    sure: str
    says: str
    because: str
    confounders: tuple[str, ...]
    chance: float | None
    times: Interval | None


def factor_effect(
    members: Sequence[Member], levels: Sequence[str], belief: ScatterBelief | None = None
) -> FactorEffect:
    """Level means, their spread, and whether the factor made a difference.

    Args:
        members: the designs that have a score.
        levels: the factor's levels in their order.
        belief: what is thought of the scatter of trials beforehand.
    Returns:
        The effect. Designs are what is compared, not trials: repeats of one bridge do not make more bridges. With more
        than two levels the pair that lies furthest apart is judged, its chance of being wrong multiplied by the number
        of pairs; and as either might have come out on top, half as much of that is allowed as between two designs, so
        that without any effect none is called clear in more than 2.5 %.
    Source:
        ``middles``; Bonferroni's correction (any statistics text). That the design is the unit: common practice in
        experimental design (pseudoreplication).
    """
    shown = tuple(_level(name, [member for member in members if member.level == name]) for name in levels)
    filled = [level for level in shown if level.members]
    confounders = tuple(_confounders(filled))
    if not filled:
        return FactorEffect(shown, "", "cannot_say", "No level has a result yet.", "", (), None, None)
    best = max(filled, key=_mean)
    if len(filled) == 1:
        missing = [level.name for level in shown if not level.members]
        because = f"Nothing was tested at {_either(missing)}." if missing else "The factor has one level only."
        return FactorEffect(
            shown, best.name, "cannot_say", f"Only “{best.name}” has results.", because, confounders, None, None
        )
    worst = min(filled, key=_mean)
    low, high = _mean(worst), _mean(best)
    share = f"{high / low - 1:.0%} more than" if low > 0 else "more than"
    says = f"“{best.name}” came out {'at least ' if best.at_least else ''}{share} “{worst.name}” on average."
    if math.isclose(low, high, rel_tol=1e-9):
        return FactorEffect(shown, best.name, "too_close", "All levels came out alike.", "", confounders, None, None)
    if max(len(level.members) for level in filled) < 2:
        because = "Only one design was tested at each level, so nobody knows how much designs of a level scatter."
        return FactorEffect(shown, best.name, "cannot_say", says, because, confounders, None, None)
    found = middles([[member.said for member in level.members] for level in filled], belief)
    better, times = found.compared(filled.index(best), filled.index(worst), TIMES_WITHIN)
    chance = max(0.0, 1 - len(list(combinations(filled, 2))) * (1 - better))
    sure = "clear" if chance >= _of_two_ends(CLEAR) else "likely" if chance >= _of_two_ends(LIKELY) else "too_close"
    if worst.at_least and sure == "too_close":
        because = (
            f"At “{worst.name}” the load ran out, so its mean is only “at least”; with more load it could overtake."
        )
        return FactorEffect(shown, best.name, "cannot_say", says, because, confounders, None, None)
    because = f"{_how_often(best, worst, chance)} {_how_much(times)}"
    if single := [level.name for level in (best, worst) if len(level.members) < 2]:
        because += f" Only one design was tested at {_either(single)}; more would tell."
    elif sure == "too_close":
        because += " More designs at each level would tell."
    return FactorEffect(shown, best.name, sure, says, because, confounders, chance, times)


def _of_two_ends(between_two: float) -> float:
    """Between two designs the one ahead is known beforehand; of levels either might have come out on top."""
    return (1 + between_two) / 2


def _how_often(best: Level, worst: Level, chance: float) -> str:
    designs = f"with {len(best.members)} and {len(worst.members)} designs"
    if chance <= 0.5:
        return f"Which of them is truly the better is open, {designs}."
    return f"“{best.name}” is truly the better {times_in_ten(chance)}, {designs}."


def _how_much(times: Interval) -> str:
    low, high = times.low - 1, times.high - 1
    between = f"{abs(low):.0%}{' less' if low < 0 < high else ''} and {abs(high):.0%} {'more' if high > 0 else 'less'}"
    return f"Nine times in ten the true difference is between {between}."


def _level(name: str, members: Sequence[Member]) -> Level:
    values = [member.value for member in members]
    return Level(name, tuple(members), mean_of(values) if values else None, any(member.at_least for member in members))


def _mean(level: Level) -> float:
    return level.mean.mean if level.mean else -math.inf


def _either(names: Sequence[str]) -> str:
    return " and at ".join(f"“{name}”" for name in names)


def _one_in(p: float) -> str:
    if p < 0.001:
        return "less than once in a thousand times"
    if p > 0.995:
        return "every time"
    whole, word = (1000, "thousand") if p < 0.01 else (100, "hundred")
    times = round(whole * p)
    return f"once in a {word} times" if times == 1 else f"{times} times in a {word}"


def _confounders(levels: Sequence[Level]) -> list[str]:
    """What else differed from level to level: numbers whose means lie apart, words that are not shared alike."""
    if len(levels) < 2:
        return []
    sentences = []
    names = dict.fromkeys(name for level in levels for member in level.members for name in member.numbers)
    for name in names:
        columns = {
            level.name: [member.numbers[name] for member in level.members if name in member.numbers] for level in levels
        }
        if any(not column for column in columns.values()):
            continue
        means = {key: math.fsum(column) / len(column) for key, column in columns.items()}
        high, low = max(means, key=lambda key: means[key]), min(means, key=lambda key: means[key])
        middle = abs(math.fsum(means.values()) / len(means))
        if middle > 0 and means[high] - means[low] > APART * middle and not _overlap(columns[high], columns[low]):
            more = f"{means[high] / means[low] - 1:.0%} more" if means[low] > 0 else "more"
            sentences.append(f"{name}: {more} at “{high}” than at “{low}”.")
    for name in dict.fromkeys(name for level in levels for member in level.members for name in member.words):
        usual = {
            level.name: Counter(member.words.get(name, "") for member in level.members).most_common(1)[0][0]
            for level in levels
        }
        if len(set(usual.values())) > 1:
            levels_said = ", ".join(f"“{level}” {value or 'not said'}" for level, value in usual.items())
            sentences.append(f"{name}: {levels_said}.")
    return sentences


def _overlap(high: Sequence[float], low: Sequence[float]) -> bool:
    """Whether two groups mix so much that their means lying apart is not a difference of level."""
    among = sum(value <= max(low) for value in high)
    return among > len(high) / 2


def differs(measured: Sequence[Quantity]) -> bool:
    """Whether something came out differently from design to design.

    Args:
        measured: it, of each design that has it [any one unit].
    Returns:
        False for fewer than two, and for what differs by no more than it was measured to: that was not chosen.
    """
    if len(measured) < 2:
        return False
    values = [quantity.value for quantity in measured]
    doubt = COVERAGE_FACTOR * max(quantity.standard_uncertainty for quantity in measured)
    return max(values) - min(values) > 2 * doubt


@dataclass(frozen=True)
class Trend:
    """Whether results go along with something that teams chose: its rank correlation, if any, and a sentence."""

    correlation: Correlation | None
    says: str


def trend(name: str, chosen: Sequence[float], scores: Sequence[float], looked_at: int = 1) -> Trend:
    """Whether more of what teams chose went with a higher or a lower result.

    Args:
        name: what was chosen ("Height").
        chosen: of each design [unit of the choice].
        scores: of the same designs.
        looked_at: how many things that teams chose are looked at: the more, the sooner one goes along by chance.
    Returns:
        Spearman's rank correlation with its exact p in small samples, in words. It never says "because".
    """
    correlation = rank_correlation(chosen, scores)
    if correlation is None:
        return Trend(None, f"{name}: too few different designs to see whether it goes along with the result.")
    p = min(1.0, looked_at * correlation.p)
    chance = f"Chance alone would look like this {_one_in(p)}."
    if p > HINT:
        return Trend(correlation, f"{name}: no clear trend. {chance}")
    way = "higher" if correlation.rho > 0 else "lower"
    sure = "" if p <= SURE else "perhaps "
    return Trend(correlation, f"{name}: more of it {sure}went with {way} results. {chance}")


@dataclass(frozen=True)
class Foresight:
    """What was said beforehand of one design, held against what came.

    Attributes:
        key: the caller's name for the design.
        name: what sentences call it.
        said: what was said [kg, or the size that was foretold].
        came: what it came to [the same].
        bounds: between that and what was too much for it [the same].
        error: said over that, less one [-]; None where it came to nothing, and of a comparison, which is no figure.
        verdict: "right", "too_high", "too_low", or "open" when it ran out below what was said.
    """

    key: str
    name: str
    said: float
    came: float
    bounds: Interval
    error: float | None
    verdict: str
    relation: Relation = Relation.AMOUNT


WITHIN = 0.15
"""A prediction this near counts as right (ours) [-]."""


def foresee(
    key: str, name: str, said: float, came: float, bounds: Interval, relation: Relation = Relation.AMOUNT
) -> Foresight:
    """One prediction against its result.

    Args:
        key: the caller's name for the design.
        name: what sentences call it.
        said: what was said [kg, or the size that was foretold].
        came: what it came to [the same].
        bounds: between that and what was too much for it [the same].
        relation: whether that much was said, or more, less, or about as much as that.
    Returns:
        Right within the bounds or within 15 % of what it held (ours); open when it ran out below what was said. "More"
        and "less" are right or wrong by what it held; open when it ran out below.
    """
    if relation in (Relation.MORE, Relation.LESS):
        more = came > said
        if bounds.open_above and not more:
            verdict = "open"
        elif more is (relation is Relation.MORE):
            verdict = "right"
        else:
            verdict = "too_low" if more else "too_high"
        return Foresight(key, name, said, came, bounds, None, verdict, relation)
    error = said / came - 1 if came > 0 else None
    inside = bounds.low <= said <= bounds.high
    near = error is not None and abs(error) <= WITHIN
    if bounds.open_above and said > came:
        verdict = "right" if near else "open"
    elif inside or near:
        verdict = "right"
    else:
        verdict = "too_high" if said > came else "too_low"
    return Foresight(key, name, said, came, bounds, error, verdict, relation)


@dataclass(frozen=True)
class ForesightOfAll:
    """All predictions of one kind: the median of how far off [-], whether their order was right, and a sentence."""

    typical_error: float | None
    order: Correlation | None
    says: str


def foresight_of_all(who: str, foresights: Sequence[Foresight]) -> ForesightOfAll:
    """How well a class or the model foresaw.

    Args:
        who: who said it ("The teams", "The model").
        foresights: prediction by prediction.
    Returns:
        The median of how far off they were, whether they had the order right, and a sentence.
    """
    if not foresights:
        return ForesightOfAll(None, None, f"{who} made no predictions.")
    off = sorted(
        abs(foresight.error) for foresight in foresights if foresight.error is not None and foresight.verdict != "open"
    )
    middle = (off[(len(off) - 1) // 2] + off[len(off) // 2]) / 2 if off else None
    right = sum(foresight.verdict == "right" for foresight in foresights)
    high = sum(foresight.verdict == "too_high" for foresight in foresights)
    low = sum(foresight.verdict == "too_low" for foresight in foresights)
    parts = [f"{who} got {right} of {len(foresights)} right"]
    if high or low:
        parts.append(f"{high} predicted too much, {low} too little")
    if middle is not None:
        parts.append(f"typically off by {middle:.0%}")
    closed = [each for each in foresights if not each.bounds.open_above and each.relation is Relation.AMOUNT]
    order = rank_correlation([foresight.said for foresight in closed], [foresight.came for foresight in closed])
    says = "; ".join(parts) + "."
    if order is not None:
        foreseen = order.p <= 2 * SURE and order.rho > 0
        says += " The order was foreseen." if foreseen else " The order was not foreseen any better than by chance."
    return ForesightOfAll(middle, order, says)


@dataclass(frozen=True)
class Tally:
    """How often something ended in one way, and for whom."""

    key: str
    count: int
    names: tuple[str, ...]


def tally(ended: Sequence[tuple[str, str]]) -> tuple[Tally, ...]:
    """How trials ended, the most frequent first.

    Args:
        ended: for each scored trial the way it ended and the name of its design.
    Returns:
        One line a way; equal counts in the order in which they came.
    """
    counts = Counter(way for way, _ in ended)
    return tuple(
        Tally(way, count, tuple(dict.fromkeys(name for mode, name in ended if mode == way)))
        for way, count in counts.most_common()
    )
