"""The scores of a run to rank ranges, verdicts with their reason, and a headline that says no more than they allow."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

from girder_core.measure import COVERAGE_FACTOR, Quantity, System, format_mass, plural, sentences, times_in_ten
from girder_core.results.again import Scatter, ScatterBelief, pooled_cv
from girder_core.results.came_to import after_penalty, amount, came_to, plain_value
from girder_core.results.prospects import CLEAR, LIKELY, Prospect, RankRange, prospects
from girder_core.results.rules import Rules, School, TieRule, needs_trial
from girder_core.results.scoring import NOTHING_MEASURED, Candidate, Facts, Score, Unranked, score_all
from girder_core.trial import UNCONFIRMED, Interval, Outcome, TrialResult, with_mark


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


LEANING = 0.65
"""From this chance of being ahead again on, it is said which of two may be the better (ours)."""


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
class Entry:
    """A design as the comparison needs it.

    Attributes:
        key: the caller's name for it.
        name: what sentences call it.
        trials: the results of all its trials, in order.
        self_mass: own weight [kg], if taken.
        breaches: labels of broken constraints.
        gap: the measured gap [m], if taken.
        gap_of: whose gap should be the same: all with the same word here; a level where the gap is varied on purpose.
        self_mass_note: empty, or how the own weight differs from the usual ("estimated from materials").
        facts: what else was measured of it.
        remarks: what else was done otherwise with it, each to go after "name: ".
        each: what was measured in each trial that counts, by itself.
        away: why it is not tested today, in a sentence; empty for one that is.
        unconfirmed: whether a result of it was found by the team alone, and nobody has confirmed it.
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
    each: tuple[Facts, ...] = ()
    away: str = ""
    gap_of: str = ""
    unconfirmed: bool = False

    def candidate(self) -> Candidate:
        """What scoring needs of it."""
        return Candidate(self.trials, self.self_mass, bool(self.breaches), self.facts, self.each)


@dataclass(frozen=True)
class Place:
    """A ranked design: what it came to, and what is to be expected of it.

    Attributes:
        entry: the design.
        score: what it counts for.
        place: its place by what was measured.
        shared: whether others share the place.
        ranks: the places that the measuring leaves open.
        against_next: how sure it is that it is better than the next one down; None for the last.
        prospect: what is to be expected if all were built and tested again.
    """

    entry: Entry
    score: Score
    place: int
    shared: bool
    ranks: RankRange
    against_next: Verdict | None
    prospect: Prospect

    def words(self, rules: Rules, system: System = System.METRIC) -> str:
        """What it came to, and that nobody has confirmed it: "at least 860 g, not confirmed yet"."""
        return with_mark(came_to(self.score, rules, system), self.entry.unconfirmed)


@dataclass(frozen=True)
class Comparison:
    """A run compared under one set of rules.

    Attributes:
        places: the ranked designs, best first.
        unranked: the others, each with the reason.
        headline: who won today, by what was measured, in a sentence.
        again: whether they would win again, in a sentence; empty with fewer than two results.
        explanation: what stands behind the headline, or what would settle it.
        scatter: pooled scatter of repeats, if any design was tested twice.
        belief: what was thought of the scatter of trials beforehand.
    """

    places: tuple[Place, ...]
    unranked: tuple[tuple[Entry, Unranked], ...]
    headline: str
    again: str
    explanation: str
    scatter: Scatter | None
    belief: ScatterBelief


def compare(
    entries: Sequence[Entry], rules: Rules, system: System = System.METRIC, belief: ScatterBelief | None = None
) -> Comparison:
    """Rank the designs of a run by what was measured, and say whether they would come out so again.

    Args:
        entries: the designs, each team's latest version.
        rules: school of scoring, trial rule, breach policy.
        system: units for the sentences.
        belief: what is thought of the scatter of trials beforehand; what is usual, unless given.
    Returns:
        The comparison. Equal scores are put in order by the tie rule; equal there too, they share the place.
    """
    scored: list[tuple[Entry, Score]] = []
    unranked: list[tuple[Entry, Unranked]] = []
    belief = belief or ScatterBelief()
    for entry, outcome in zip(entries, score_all([entry.candidate() for entry in entries], rules), strict=True):
        if isinstance(outcome, Unranked):
            away = entry.away and outcome.code in _WAITING
            unranked.append((entry, Unranked("away", entry.away) if away else outcome))
        else:
            scored.append((entry, outcome))
    scored.sort(key=lambda pair: (*_order(pair[1], rules), pair[0].name, pair[0].key))
    ties = _ties(scored, rules)
    ranges = rank_ranges([item.interval for _, item in scored], {pair: tie.kind for pair, tie in ties.items()})
    scatter = pooled_cv([failures(entry.trials) for entry in entries]) if needs_trial(rules) else None
    expected = prospects([entry.candidate() for entry, _ in scored], rules, belief)
    places: list[Place] = []
    for i, (entry, item) in enumerate(scored):
        alike = [j for j, (_, other) in enumerate(scored) if _order(other, rules) == _order(item, rules)]
        place, shared = alike[0] + 1, len(alike) > 1
        # Ties are broken by own weight, so the point place can lie outside what the intervals alone allow.
        ranks = RankRange(min(ranges[i].best, place), max(ranges[i].worst, place))
        against = None
        if i + 1 < len(scored):
            against = ties.get((i, i + 1)) or _against_next(scored[i], scored[i + 1], expected[i])
        places.append(Place(entry, item, place, shared, ranks, against, expected[i]))
    headline, explanation = _headline(places, unranked, rules, system)
    told = sentences(headline, _unconfirmed(places))
    return Comparison(tuple(places), tuple(unranked), told, _again(places), explanation, scatter, belief)


def _unconfirmed(places: Sequence[Place]) -> str:
    """Whose results nobody has confirmed, in a sentence."""
    names = [place.entry.name for place in places if place.entry.unconfirmed]
    return f"{UNCONFIRMED.capitalize()}: {listed(names)}." if names else ""


def _against_next(upper: tuple[Entry, Score], lower: tuple[Entry, Score], expected: Prospect) -> Verdict:
    ran_out = (upper[1].at_least, lower[1].at_least)
    return verdict(upper[0].name, lower[0].name, ran_out, expected.better or 0.0, expected.ahead or 0.0)


def verdict(upper: str, lower: str, ran_out: tuple[bool, bool], better: float, ahead: float) -> Verdict:
    """How sure it is that one design is better than another.

    Args:
        upper: name of the one that came out ahead.
        lower: name of the other.
        ran_out: whether the score of the upper, and of the lower one, is "at least".
        better: chance that the upper one is truly the better [-].
        ahead: chance that it would be ahead if both were built and tested again [-].
    Returns:
        The verdict; its reason says how often which would be ahead again.
    """
    if all(ran_out):
        return Verdict(VerdictKind.CANNOT_SAY, f"{upper} and {lower} both outlasted the load.")
    if better < LIKELY and ran_out[1]:
        return Verdict(VerdictKind.CANNOT_SAY, f"{lower} ran out of load and could still pass {upper}.")
    again = f"built and tested again, {upper} would be ahead of {lower} {times_in_ten(ahead)}."
    if better >= CLEAR:
        return Verdict(VerdictKind.CLEAR, f"{upper} is clearly better: {again}")
    if better >= LIKELY:
        return Verdict(VerdictKind.LIKELY, f"{upper} is probably better: {again}")
    if ahead < 0.5:
        again = f"built and tested again, {lower} would be ahead of {upper} {times_in_ten(1 - ahead)}."
    if ahead >= LEANING:
        return Verdict(VerdictKind.TOO_CLOSE, f"{upper} may be better, but nobody can be sure: {again}")
    return Verdict(VerdictKind.TOO_CLOSE, f"It could go either way: {again}")


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


_WAITING = frozenset({"untested", "void", "not_measured"})
"""Why there is no score of a design that is still to be tested, by the reason's code."""


def _headline(
    places: Sequence[Place], unranked: Sequence[tuple[Entry, Unranked]], rules: Rules, system: System
) -> tuple[str, str]:
    """Who won today, and what stands behind that."""
    if not places:
        return "Nothing to compare yet.", "Test a design at the bench; its result appears here."
    waiting = sum(reason.code in _WAITING or reason.code == "running" for _, reason in unranked)
    leader, rest = places[0], places[1:]
    name, verb = leader.entry.name, _VERBS.get(rules.school, "carried")
    held = sentences(
        f"{name} {verb} {came_to(leader.score, rules, system)}.",
        after_penalty(leader.score, leader.entry.breaches, rules, system),
    )
    still = ("One team is" if waiting == 1 else f"{waiting} teams are") + " still to be tested." if waiting else ""
    if not rest:
        return f"{name} is the only result so far.", sentences(held, still)
    rivals = [place for place in rest if place.ranks.best == 1]
    if rivals:
        names = listed([place.entry.name for place in rivals])
        if leader.shared:
            head = f"{name} and {listed([p.entry.name for p in rest if p.shared and p.place == 1])} tie."
        elif all(place.score.at_least for place in rivals):
            head = f"{name} leads. Only {names} could still pass."
        else:
            head = f"{name} leads, but {names} came so close that the measuring leaves it open."
        return head, sentences(held, _what_would_settle(leader, rivals, rules, system), still)
    won = f"{name} leads so far" if waiting else f"{name} won today"
    judged = places[0].against_next
    if judged is not None and judged.kind is VerdictKind.BY_TIE_RULE:
        return f"{won}: equal with {rest[0].entry.name}, and lighter.", sentences(held, judged.reason, still)
    return f"{won}.", sentences(held, still)


def _again(places: Sequence[Place]) -> str:
    """Whether they would win again, in a sentence."""
    passing = [place.prospect.passes for place in places if place.prospect.passes is not None]
    if passing:
        count = len(passing)
        about = f"{round(math.fsum(passing))} of {count} {plural('design', count)}"
        return f"Built and tested again, about {about} would hold the target."
    if len(places) < 2:
        return ""
    leader, likeliest = places[0], max(places, key=lambda place: place.prospect.first)
    if likeliest.prospect.first - leader.prospect.first < 0.05:
        return f"Built and tested again, {leader.entry.name} would win {times_in_ten(leader.prospect.first)}."
    often = ""
    if leader.score.trials > likeliest.score.trials:
        often = f" {leader.entry.name} was tested more often."
    return (
        f"Built and tested again, {likeliest.entry.name} would win {times_in_ten(likeliest.prospect.first)} and "
        f"{leader.entry.name} {times_in_ten(leader.prospect.first)}.{often}"
    )


_VERBS = {
    School.TALLEST: "reached",
    School.CAPACITY: "took",
    School.SURVIVED: "survived",
    School.LEFT_STANDING: "had",
    School.SPARED: "had",
    School.FOR_ITS_PIECES: "hid",
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
                f"{place.entry.name} ran out of load at {amount(plain_value(place.score, rules), rules, system)}; "
                f"{format_mass(more, system)} more would settle it."
            )
    return " ".join(parts) or "One more trial with more load would settle it."


def listed(names: Sequence[str]) -> str:
    """Names one after the other, as in a sentence.

    Args:
        names: at least one.
    Returns:
        Such as "Tern", "Tern and Auk", "Tern, Auk and Skua".
    """
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
