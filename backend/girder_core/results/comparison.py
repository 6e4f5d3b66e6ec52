"""The scores of a run to rank ranges, verdicts with their reason, and a headline that says no more than they allow."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

from scipy import stats

from girder_core.measure import COVERAGE_FACTOR, Quantity, System, format_mass
from girder_core.results.scoring import (
    NOTHING_MEASURED,
    Candidate,
    Facts,
    Rules,
    School,
    Score,
    TieRule,
    Unranked,
    amount,
    needs_trial,
    score_all,
)
from girder_core.trial import Interval, Outcome, TrialResult

CLEAR, LIKELY = 0.975, 0.84
"""How probable it must be that one design is the stronger, to call it clear (two-sided 5 %) or likely (one sigma)."""


@dataclass(frozen=True)
class RankRange:
    """The best and the worst place that the intervals allow."""

    best: int
    worst: int


def rank_ranges(
    intervals: Sequence[Interval], ties: Mapping[tuple[int, int], VerdictKind] = MappingProxyType({})
) -> list[RankRange]:
    """Which places each of several intervals can take.

    Args:
        intervals: bounds of the score of each design, larger is better; best first where there are ties.
        ties: what the tie rule says of pairs whose scores are equal, by their places in the list, either way round.
    Returns:
        For each: best = 1 + how many lie wholly above it, worst = 1 + how many others reach above its lower bound. Of
        two whose tie is settled the later one lies below; two that share a place lie neither above nor below.
    """
    ranges = []
    for i, own in enumerate(intervals):
        best = worst = 1
        for j, other in enumerate(intervals):
            settled = ties.get((i, j))
            if i == j or settled is VerdictKind.TIED:
                continue
            if settled is VerdictKind.BY_TIE_RULE:
                best, worst = best + (j < i), worst + (j < i)
            else:
                best, worst = best + (other.low > own.high), worst + (other.high > own.low)
        # Two that share one exact value share a place; neither lies below the other.
        ranges.append(RankRange(best, max(best, worst)))
    return ranges


@dataclass(frozen=True)
class Scatter:
    """How much repeated trials of one design differ.

    Attributes:
        cv: pooled within-design coefficient of variation [-].
        degrees_of_freedom: how many independent differences it rests on.
        designs: how many designs were tested more than once to a failure.
    """

    cv: float
    degrees_of_freedom: int
    designs: int


def pooled_cv(groups: Sequence[Sequence[float]]) -> Scatter | None:
    """Scatter of repeats, pooled over designs.

    Args:
        groups: for each design the loads of its trials to failure; run-outs left out. All > 0.
    Returns:
        sqrt(sum (n_i - 1) cv_i² / sum (n_i - 1)) over the groups of two or more; None when there is no such group.
    Source:
        Pooled variance of relative deviations, as in JCGM 100:2008, H.3.6 for variances.
    """
    squares, freedom, designs = 0.0, 0, 0
    for group in groups:
        n = len(group)
        if n < 2 or min(group) <= 0:
            continue
        mean = math.fsum(group) / n
        squares += math.fsum((value / mean - 1) ** 2 for value in group)
        freedom += n - 1
        designs += 1
    return Scatter(math.sqrt(squares / freedom), freedom, designs) if freedom else None


class VerdictKind(StrEnum):
    """How sure the order of two designs is."""

    CLEAR = "clear"
    LIKELY = "likely"
    TOO_CLOSE = "too_close"
    CANNOT_SAY = "cannot_say"
    TIED = "tied"
    BY_TIE_RULE = "by_tie_rule"


@dataclass(frozen=True)
class Verdict:
    """How sure it is that the first design beats the second, and why, in a sentence."""

    kind: VerdictKind
    reason: str


@dataclass(frozen=True)
class Contender:
    """What a verdict needs of a design: bounds of its score, how many trials or measurements stand behind it.

    ``measured`` says that the score was read off an instrument and not found by loading.
    """

    name: str
    interval: Interval
    trials: int
    measured: bool = False


def verdict(a: Contender, b: Contender, scatter: Scatter | None) -> Verdict:
    """Whether ``a`` is really stronger than ``b``.

    The bounds say what these trials held; the scatter says how far another trial might land. With bounds that overlap
    the order is open. With bounds apart it is clear when the gap is large against the scatter (Student's t with the
    scatter's degrees of freedom), and only likely when nobody was tested twice.

    Args:
        a: the design with the higher score.
        b: the other.
        scatter: pooled scatter of repeats, or None when no design was tested twice.
    Returns:
        The verdict.
    Source:
        Comparison of two means with a pooled variance (any statistics text); interval widths as rectangular
        distributions, JCGM 100:2008, 4.3.7.
    """
    if b.interval.open_above:
        if a.interval.open_above:
            return Verdict(VerdictKind.CANNOT_SAY, f"{a.name} and {b.name} both outlasted the load.")
        return Verdict(VerdictKind.CANNOT_SAY, f"{b.name} ran out of load and could still pass {a.name}.")
    if a.interval.low <= b.interval.high:
        return Verdict(VerdictKind.TOO_CLOSE, f"The bounds of {a.name} and {b.name} overlap.")
    if scatter is None and a.measured:
        return Verdict(
            VerdictKind.LIKELY,
            f"{a.name} is ahead of {b.name} by more than the measuring can be off, but each was measured once.",
        )
    if scatter is None:
        return Verdict(
            VerdictKind.LIKELY,
            f"{a.name} held more than broke {b.name}, but no design was tested twice to show how much trials scatter.",
        )
    centre_a = a.interval.low if a.interval.open_above else (a.interval.low + a.interval.high) / 2
    centre_b = (b.interval.low + b.interval.high) / 2
    variance = _variance(a, centre_a, scatter) + _variance(b, centre_b, scatter)
    t = (centre_a - centre_b) / math.sqrt(variance) if variance > 0 else math.inf
    probability = float(stats.t.cdf(t, scatter.degrees_of_freedom))
    source = f"trials of one design scatter by {scatter.cv:.0%} here"
    if probability >= CLEAR:
        return Verdict(VerdictKind.CLEAR, f"{a.name} is ahead by much more than chance: {source}.")
    if probability >= LIKELY:
        return Verdict(VerdictKind.LIKELY, f"{a.name} is probably ahead of {b.name}: {source}.")
    return Verdict(VerdictKind.TOO_CLOSE, f"{a.name} and {b.name} differ by no more than chance: {source}.")


def _variance(contender: Contender, centre: float, scatter: Scatter) -> float:
    width = 0.0 if contender.interval.open_above else contender.interval.high - contender.interval.low
    return width**2 / 12 + (scatter.cv * centre) ** 2 / contender.trials


@dataclass(frozen=True)
class Entry:
    """A design as the comparison needs it.

    Attributes:
        key: the caller's name for it.
        name: what sentences call it.
        trials: the results of all its trials, in order.
        self_mass: own weight [kg], if taken.
        breaches: labels of broken constraints.
        gap: the measured gap [m], if taken.
        self_mass_note: empty, or how the own weight differs from the usual ("estimated from materials").
        facts: what else was measured of it.
        remarks: what else was done otherwise with it, each to go after "name: ".
    """

    key: str
    name: str
    trials: tuple[TrialResult, ...]
    self_mass: Quantity | None = None
    breaches: tuple[str, ...] = ()
    gap: Quantity | None = None
    self_mass_note: str = ""
    facts: Facts = NOTHING_MEASURED
    remarks: tuple[str, ...] = ()


@dataclass(frozen=True)
class Place:
    """A ranked design: its entry, score, rank range, place, and the verdict against the next one down."""

    entry: Entry
    score: Score
    place: int
    shared: bool
    ranks: RankRange
    against_next: Verdict | None


@dataclass(frozen=True)
class Comparison:
    """A run compared under one set of rules.

    Attributes:
        places: the ranked designs, best first.
        unranked: the others, each with the reason.
        headline: who won, as far as the intervals allow, in a sentence.
        explanation: what stands behind the headline, or what would settle it.
        scatter: pooled scatter of repeats, if any design was tested twice.
    """

    places: tuple[Place, ...]
    unranked: tuple[tuple[Entry, Unranked], ...]
    headline: str
    explanation: str
    scatter: Scatter | None


def compare(entries: Sequence[Entry], rules: Rules, system: System = System.METRIC) -> Comparison:
    """Rank the designs of a run and say how sure the ranking is.

    Args:
        entries: the designs, each team's latest version.
        rules: school of scoring, trial rule, breach policy.
        system: units for the sentences.
    Returns:
        The comparison. Equal scores are put in order by the tie rule; equal there too, they share the place.
    """
    scored: list[tuple[Entry, Score]] = []
    unranked: list[tuple[Entry, Unranked]] = []
    candidates = [Candidate(entry.trials, entry.self_mass, bool(entry.breaches), entry.facts) for entry in entries]
    for entry, outcome in zip(entries, score_all(candidates, rules), strict=True):
        if isinstance(outcome, Unranked):
            unranked.append((entry, outcome))
        else:
            scored.append((entry, outcome))
    scored.sort(key=lambda pair: (*_order(pair[1], rules), pair[0].name, pair[0].key))
    ties = _ties(scored, rules)
    ranges = rank_ranges([item.interval for _, item in scored], {pair: tie.kind for pair, tie in ties.items()})
    scatter = pooled_cv([failures(entry.trials) for entry in entries]) if needs_trial(rules) else None
    measured = not needs_trial(rules)
    contenders = [Contender(entry.name, item.interval, item.trials, measured) for entry, item in scored]
    places: list[Place] = []
    for i, (entry, item) in enumerate(scored):
        alike = [j for j, (_, other) in enumerate(scored) if _order(other, rules) == _order(item, rules)]
        place, shared = alike[0] + 1, len(alike) > 1
        # Ties are broken by own weight, so the point place can lie outside what the intervals alone allow.
        ranks = RankRange(min(ranges[i].best, place), max(ranges[i].worst, place))
        against = None
        if i + 1 < len(scored):
            against = ties.get((i, i + 1)) or verdict(contenders[i], contenders[i + 1], scatter)
        places.append(Place(entry, item, place, shared, ranks, against))
    headline, explanation = _headline(places, unranked, scatter, rules, system)
    return Comparison(
        tuple(places),
        tuple(unranked),
        headline,
        explanation,
        scatter,
    )


def tie(entry: tuple[Entry, Score], other: tuple[Entry, Score], rules: Rules) -> Verdict | None:
    """What the rule for ties says of two equal scores.

    Args:
        entry: a design with its score.
        other: another.
        rules: the run's rules.
    Returns:
        Tied, where they share the place; settled by the rule, where one is lighter by more than weighing can be off;
        too close, where the rule asks for the lighter and the scales cannot tell. None for scores that are not equal,
        or that ran out and so are not known.
    """
    a, b = entry[1], other[1]
    if a.at_least or b.at_least or not math.isclose(a.value, b.value, rel_tol=1e-12):
        return None
    names = sorted((entry, other), key=lambda pair: (*_order(pair[1], rules), pair[0].name, pair[0].key))
    first, second = names[0][0].name, names[1][0].name
    if rules.tie_rule is TieRule.SHARED or (a.self_mass is None and b.self_mass is None):
        return Verdict(VerdictKind.TIED, f"{first} and {second} came out equal and share the place.")
    if a.self_mass is None or b.self_mass is None:
        return Verdict(VerdictKind.TOO_CLOSE, f"{first} and {second} came out equal, and {second} was not weighed.")
    apart = a.self_mass - b.self_mass
    if apart.value == 0:
        return Verdict(VerdictKind.TIED, f"{first} and {second} came out equal, own weight too: they share the place.")
    if abs(apart.value) <= COVERAGE_FACTOR * apart.standard_uncertainty:
        return Verdict(
            VerdictKind.TOO_CLOSE,
            f"{first} and {second} came out equal, and the scale cannot tell which is lighter.",
        )
    return Verdict(
        VerdictKind.BY_TIE_RULE, f"{first} and {second} came out equal; {first} is lighter, which settles ties here."
    )


def _ties(scored: Sequence[tuple[Entry, Score]], rules: Rules) -> dict[tuple[int, int], Verdict]:
    """What the tie rule says of each pair of equal scores; equal ones stand next to each other."""
    verdicts: dict[tuple[int, int], Verdict] = {}
    for i, row in enumerate(scored):
        for j in range(i + 1, len(scored)):
            if not math.isclose(row[1].value, scored[j][1].value, rel_tol=1e-12):
                break
            judged = tie(row, scored[j], rules)
            if judged is not None:
                verdicts[i, j] = verdicts[j, i] = judged
    return verdicts


def _order(item: Score, rules: Rules) -> tuple[float, float]:
    lighter = item.self_mass.value if item.self_mass and rules.tie_rule is TieRule.LIGHTER else math.inf
    return -item.value, lighter


def failures(trials: Sequence[TrialResult]) -> list[float]:
    """What each trial held that ended in a failure; run-outs say nothing of scatter.

    Args:
        trials: of one design.
    Returns:
        Loads above nothing [kg].
    """
    return [trial.held.value for trial in trials if trial.outcome is Outcome.BROKE and trial.held.value > 0]


def _headline(
    places: Sequence[Place],
    unranked: Sequence[tuple[Entry, Unranked]],
    scatter: Scatter | None,
    rules: Rules,
    system: System,
) -> tuple[str, str]:
    if not places:
        return "Nothing to compare yet.", "Test a design at the bench; its result appears here."
    waiting = sum(reason.code in ("untested", "running", "void", "not_measured") for _, reason in unranked)
    leader, rest = places[0], places[1:]
    verb = _VERBS.get(rules.school, "carried")
    held = f"{leader.entry.name} {verb} {'at least ' if leader.score.at_least else ''}" + (
        amount(leader.score.value, rules, system) + "."
    )
    still = ("One team is" if waiting == 1 else f"{waiting} teams are") + " still to be tested." if waiting else ""
    if not rest:
        return f"{leader.entry.name} is the only result so far.", _join(held, still)
    rivals = [place for place in rest if place.ranks.best == 1]
    tied = leader.shared
    if rivals:
        names = _names([place.entry.name for place in rivals])
        if tied:
            head = f"{leader.entry.name} and {_names([p.entry.name for p in rest if p.shared and p.place == 1])} tie."
        elif all(place.score.at_least for place in rivals):
            head = f"{leader.entry.name} leads. Only {names} could still pass."
        else:
            head = f"{leader.entry.name} leads, but it is too close to call against {names}."
        return head, _join(held, _what_would_settle(leader, rivals, rules, system), still)
    judged = places[0].against_next
    sure = judged.kind if judged else VerdictKind.LIKELY
    second = rest[0].entry.name
    if sure is VerdictKind.BY_TIE_RULE:
        head = f"{leader.entry.name} {'leads' if waiting else 'wins'}: equal with {second}, and lighter."
    elif sure is VerdictKind.CLEAR:
        head = f"{leader.entry.name} {'leads' if waiting else 'wins'}, clear of {second}."
    elif sure is VerdictKind.LIKELY:
        head = f"{leader.entry.name} {'leads' if waiting else 'wins'}, probably ahead of {second}."
    else:
        head = f"{leader.entry.name} leads, but it is too close to call against {second}."
    return head, _join(held, judged.reason if judged else "", still)


_VERBS = {
    School.TALLEST: "reached",
    School.CAPACITY: "took",
    School.SURVIVED: "survived",
    School.LEFT_STANDING: "had",
    School.MIX: "earned",
}


def _what_would_settle(leader: Place, rivals: Sequence[Place], rules: Rules, system: System) -> str:
    """What one more trial would have to show: for a run-out, how much more load; else a repeat."""
    run_outs = [place for place in rivals if place.score.at_least]
    if not run_outs or leader.score.at_least:
        return "One more trial of each would tell more."
    parts = []
    for place in run_outs if rules.school in (School.MOST_HELD, School.STRENGTH_TO_WEIGHT) else ():
        passing = leader.score.value
        if rules.school is School.STRENGTH_TO_WEIGHT and place.score.self_mass is not None:
            passing *= place.score.self_mass.value
        more = passing - place.score.held_kg
        if more > 0 and not place.score.penalised:
            parts.append(
                f"{place.entry.name} ran out of load at {amount(place.score.value, rules, system)}; "
                f"{format_mass(more, system)} more would settle it."
            )
    return " ".join(parts) or "One more trial with more load would settle it."


def _names(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _join(*sentences: str) -> str:
    return " ".join(sentence for sentence in sentences if sentence)
