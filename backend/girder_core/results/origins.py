"""How a score came about, the place that follows from it, and the chances of another contest."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from girder_core.ground import Entered, Origin, Rule
from girder_core.measure import System, format_mass, sentences
from girder_core.results import again
from girder_core.results.came_to import amount, plain_value
from girder_core.results.comparison import Comparison, Place
from girder_core.results.prospects import RANGE
from girder_core.results.ranking_charts import places_text, range_text
from girder_core.results.rules import SCHOOL_WORDS, Rules, School, TrialRule
from girder_core.results.scoring import RULE_VERSION, Score
from girder_core.trial import Interval, TrialResult

_OF_TRIALS: Mapping[TrialRule, Rule] = {
    TrialRule.BEST: Rule("the best of the trials", "h = max(hᵢ)", "Score", RULE_VERSION),
    TrialRule.MEAN: Rule("the mean of the trials", "h = Σ hᵢ / n", "Score", RULE_VERSION),
    TrialRule.LAST: Rule("the last trial", "h = h_last", "Score", RULE_VERSION),
}
RATIO = Rule("what it held, divided by its own weight", "R = h / w", "Score", RULE_VERSION)
MARGIN = Rule("what it held, divided by the target", "M = h / T", "Score", RULE_VERSION)
MIXED = Rule(
    "for each way of scoring, its result over the best result of the class in that, times its share of 100 points",
    "P = Σ pᵢ",
    "Score",
    RULE_VERSION,
)
PENALTY = Rule("less the share that a broken rule takes off", "S = s · (1 − q)", "Score", RULE_VERSION)
TODAY = Rule(
    "one place below each design whose result surely lies higher; and as far down as there are others that may",
    "best = 1 + #(lowⱼ > highᵢ), worst = 1 + #(highⱼ > lowᵢ)",
    "Comparison",
    RULE_VERSION,
)
FIRST = Rule(
    "all designs are built and tested again many times by the dice, each as strong and as scattered as its trials let "
    "it be; how often this one comes first",
    "p = first / draws",
    "Would they win again",
    again.RULE_VERSION,
)
TRUE_PLACE = Rule(
    "in each of those draws the designs have a true order; nine in ten of this one's places lie in the range",
    "5 % and 95 % of rank(θᵢ)",
    "Would they win again",
    again.RULE_VERSION,
)
PASSES = Rule(
    "in each of those contests, how often it holds the target",
    "p = P(yᵢ ≥ T)",
    "Would they win again",
    again.RULE_VERSION,
)
AHEAD = Rule(
    "how often this one comes out ahead of the next one down, if both are tested again",
    "p = P(yᵢ > yⱼ)",
    "Would they win again",
    again.RULE_VERSION,
)


@dataclass(frozen=True)
class Parts:
    """What the score of a design is made of.

    Attributes:
        held: for each trial that counts, how the load came about that it held.
        own: how its own weight came about; None where it was not taken.
        fact: how what else wins was measured, a height or what was left standing; None where nothing was.
        trials: the results of those trials.
        entered: for each trial whose it is, and when it began.
    """

    held: Sequence[Origin] = ()
    own: Origin | None = None
    fact: Origin | None = None
    trials: Sequence[TrialResult] = ()
    entered: Sequence[Entered] = ()


def score_origin(score: Score, rules: Rules, parts: Parts, system: System = System.METRIC) -> Origin:
    """How a score came about.

    Args:
        score: it.
        rules: the run's scoring.
        parts: what it is made of.
        system: the reader's units.
    Returns:
        Its origin, down to what was counted, weighed and read.
    """
    whole = score.penalised and rules.school is not School.MIX
    plain = plain_value(score, rules)
    made = _BY_SCHOOL[rules.school](plain, score, rules, parts, system)
    if whole:
        share = Origin("What a broken rule takes off", f"{rules.penalty:.0%}", "q", rules.penalty, source="as agreed")
        made = Origin("Result", amount(score.value, rules, system), "S", score.value, PENALTY,
                      (replace(made, symbol="s"), share))  # fmt: skip
    return replace(
        made, name="Result", value=amount(score.value, rules, system), si=score.value,
        note=sentences(made.note, _bounds(score.interval, rules, system)),
    )  # fmt: skip


def _bounds(interval: Interval, rules: Rules, system: System) -> str:
    low = amount(interval.low, rules, system)
    if interval.open_above:
        return f"By what was measured it is {low} or more."
    return f"By what was measured it lies between {low} and {amount(interval.high, rules, system)}."


def of_trials_origin(each: Sequence[Origin], rule: TrialRule, name: str, text: str = "") -> Origin:
    """How the figure that counts came about of several trials.

    Args:
        each: how that of each trial came about, in order.
        rule: which trials count.
        name: what the figure is.
        text: it in words; that of the trial that counts, unless given.
    Returns:
        Its origin.
    """
    if len(each) == 1:
        return replace(each[0], name=name, symbol="h")
    figures = [own.si or 0.0 for own in each]
    value = {TrialRule.BEST: max(figures), TrialRule.MEAN: sum(figures) / len(figures), TrialRule.LAST: figures[-1]}
    shown = text or each[figures.index(max(figures))].value
    if rule is TrialRule.LAST:
        return Origin(name, text or each[-1].value, "h", value[rule], _OF_TRIALS[rule],
                      (replace(each[-1], symbol="h_last"),))  # fmt: skip
    inputs = tuple(replace(own, symbol=f"h{i}") for i, own in enumerate(each, start=1))
    return Origin(name, shown, "h", value[rule], _OF_TRIALS[rule], inputs)


def _held(plain: float, score: Score, rules: Rules, parts: Parts, system: System) -> Origin:
    return of_trials_origin(parts.held, rules.trial_rule, "What it held", format_mass(score.held_kg, system))


def _ratio(plain: float, score: Score, rules: Rules, parts: Parts, system: System) -> Origin:
    own = parts.own
    inputs = (_held(plain, score, rules, parts, system), *((replace(own, symbol="w"),) if own else ()))
    return Origin("Result", amount(plain, rules, system), "R", plain, RATIO, inputs)


def _margin(plain: float, score: Score, rules: Rules, parts: Parts, system: System) -> Origin:
    target = rules.minimum_kg or 0.0
    goal = Origin("The target", format_mass(target, system), "T", target, source="as agreed")
    inputs = (_held(plain, score, rules, parts, system), goal)
    return Origin("Result", amount(plain, rules, system), "M", plain, MARGIN, inputs)


def _pieces(plain: float, score: Score, rules: Rules, parts: Parts, system: System) -> Origin:
    counted = [trial.pieces_held for trial in parts.trials]
    each = [
        Origin(f"Trial {i}", f"{held} pieces", "", float(held), source="counted, as long as all stayed up",
               entered=entered)
        for i, (held, entered) in enumerate(zip(counted, parts.entered, strict=True), start=1)
    ]  # fmt: skip
    return of_trials_origin(each, rules.trial_rule, "Pieces", amount(plain, rules, system))


def _survived(plain: float, score: Score, rules: Rules, parts: Parts, system: System) -> Origin:
    rounds = [
        (trial.survived, entered) for trial, entered in zip(parts.trials, parts.entered, strict=True) if trial.survived
    ]
    if not rounds:
        return _measured(plain, score, rules, parts, system)
    each = [
        Origin(f"Trial {i}", amount(bounds.low, rules, system), "", bounds.low,
               source="the greatest it came through, round by round", entered=entered)
        for i, (bounds, entered) in enumerate(rounds, start=1)
    ]  # fmt: skip
    return of_trials_origin(each, rules.trial_rule, "Survived", amount(plain, rules, system))


def _measured(plain: float, score: Score, rules: Rules, parts: Parts, system: System) -> Origin:
    text = amount(plain, rules, system)
    return parts.fact or Origin("Result", text, "", plain, source="as measured")


def _mix(plain: float, score: Score, rules: Rules, parts: Parts, system: System) -> Origin:
    inputs = tuple(
        Origin(SCHOOL_WORDS[school].label, f"{points:.1f} points", f"p{i}", points,
               source="its result over the best of the class, times its share")
        for i, (school, points) in enumerate(score.shares.items(), start=1)
    )  # fmt: skip
    return Origin("Result", amount(plain, rules, system), "P", plain, MIXED, inputs)


_BY_SCHOOL = {
    School.MOST_HELD: _held,
    School.STRENGTH_TO_WEIGHT: _ratio,
    School.THRESHOLD: _margin,
    School.TALLEST: _measured,
    School.CAPACITY: _pieces,
    School.SURVIVED: _survived,
    School.LEFT_STANDING: _measured,
    School.SPARED: _measured,
    School.FOR_ITS_PIECES: _measured,
    School.MIX: _mix,
}


def standing_origins(
    comparison: Comparison, at: int, rules: Rules, system: System = System.METRIC
) -> tuple[Origin, ...]:
    """How a design's place came about, and what is expected of it.

    Args:
        comparison: the comparison.
        at: the design's place in it, from 0.
        rules: the rules it was made under.
        system: the reader's units.
    Returns:
        Its place today; and with two and more designs the chance that it wins again (that it holds the target, where
        one decides), the range of its true place, and the chance that it is ahead of the next one down again.
    """
    place, prospect = comparison.places[at], comparison.places[at].prospect
    today = Origin("Place today", places_text(place), "", None, TODAY, tuple(_ends(p, rules, system)
                   for p in comparison.places))  # fmt: skip
    known = (*_told(comparison, system), *_believed(comparison))
    wins = Origin("Would win again", f"{prospect.first:.0%}", "p", prospect.first, FIRST, known)
    if prospect.passes is not None:
        wins = Origin("Would hold the target again", f"{prospect.passes:.0%}", "p", prospect.passes, PASSES, known)
    if len(comparison.places) < 2:
        return (today,) if prospect.passes is None else (today, wins)
    origins = [
        today,
        wins,
        Origin("True place", range_text(prospect.ranks), "", None, TRUE_PLACE, known,
               note=f"It holds {RANGE:.0%} of what may be true."),
    ]  # fmt: skip
    if prospect.ahead is not None:
        nxt = comparison.places[at + 1].entry.name
        origins.append(
            Origin(f"Ahead of {nxt} again", f"{prospect.ahead:.0%}", "p", prospect.ahead, AHEAD, known,
                   note=place.against_next.reason if place.against_next else "")
        )  # fmt: skip
    return tuple(origins)


def _ends(place: Place, rules: Rules, system: System) -> Origin:
    bounds = place.score.interval
    high = "no end" if bounds.open_above else amount(bounds.high, rules, system)
    return Origin(place.entry.name, f"{amount(bounds.low, rules, system)} to {high}", source="as measured")


def _told(comparison: Comparison, system: System) -> tuple[Origin, ...]:
    """What each design's trials say of its strength."""
    return tuple(
        Origin(place.entry.name, "; ".join(_said(trial, system) for trial in place.entry.trials if trial.scored) or "–",
               source="each trial from what it held to what was too much")
        for place in comparison.places
    )  # fmt: skip


def _said(trial: TrialResult, system: System) -> str:
    bounds = trial.interval if trial.loaded else trial.survived
    if bounds is None:
        return "as measured"
    low, high = (format_mass(kg, system) if trial.loaded else f"{kg:g}" for kg in (bounds.low, bounds.high))
    return f"{low} or more" if bounds.open_above else f"{low} to {high}"


def _believed(comparison: Comparison) -> tuple[Origin, ...]:
    belief = comparison.belief
    return (
        Origin("Scatter of trials, beforehand", f"{belief.typical:.0%}", "σ", belief.typical,
               source=f"from {belief.basis}", note=f"It may as well be {belief.unsure_log:.0%} more or less."),
        Origin("Draws", f"{again.DRAWS}", "draws", float(again.DRAWS), source="by dice that fall alike each time"),
    )  # fmt: skip


def footnotes(rules: Rules) -> tuple[tuple[str, Rule], ...]:
    """The formulas behind the figures of a comparison, for paper.

    Args:
        rules: the run's scoring.
    Returns:
        What the result is made of, the place today, and the chance to win again, or to hold the target where one
        decides; each with what it is called.
    """
    of_school = {School.STRENGTH_TO_WEIGHT: RATIO, School.THRESHOLD: MARGIN, School.MIX: MIXED}
    result = of_school.get(rules.school, _OF_TRIALS[rules.trial_rule])
    decides = rules.school is School.THRESHOLD
    wins = ("Would hold the target again", PASSES) if decides else ("Would win again", FIRST)
    return ("Result", result), ("Places", TODAY), wins
