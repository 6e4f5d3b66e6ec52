"""What a design came to, in words: what it carried, and beside it what a broken rule takes off.

A score after a penalty is no load: nobody carried it. So the two are never told as one.
"""

from __future__ import annotations

from collections.abc import Sequence

from girder_core.measure import Kind, System, format_mass, format_value, plural
from girder_core.results.rules import Rules, School
from girder_core.results.scoring import Score


def amount(value: float, rules: Rules, system: System = System.METRIC) -> str:
    """A score in words.

    Args:
        value: the scored value.
        rules: the rules under which it was scored.
        system: units for masses and lengths.
    Returns:
        Such as "1.240 kg", "41.2 times its own weight", "83 of 100 points".
    """
    school = rules.school
    if school is School.STRENGTH_TO_WEIGHT:
        return f"{value:.1f} times its own weight"
    if school is School.THRESHOLD:
        return f"{value:.2f} times the target"
    if school is School.TALLEST:
        return format_value(value, Kind.LENGTH, system)
    if school is School.CAPACITY:
        return f"{value:g} pieces"
    if school is School.SURVIVED:
        words = format_value(value, rules.survived_kind, system)
        return f"level {words}" if rules.survived_kind is Kind.COUNT else words
    if school is School.LEFT_STANDING:
        return f"{100 * value:.0f} % left standing"
    if school is School.SPARED:
        return f"{value:g} {plural('block', value)} left over"
    if school is School.FOR_ITS_PIECES:
        return f"{10 * value:.2f} for ten blocks"
    if school is School.MIX:
        return f"{value:.0f} of 100 points"
    return format_mass(value, system)


def plain_value(score: Score, rules: Rules) -> float:
    """What a design came to before a penalty.

    Args:
        score: of the design.
        rules: the rules it was scored by.
    Returns:
        In the unit of the score. Of a mix its points: there each part is penalised by itself, before it is divided by
        the best of the class.
    """
    whole = score.penalised and rules.school is not School.MIX
    return score.value / (1 - rules.penalty) if whole else score.value


def came_to(score: Score, rules: Rules, system: System = System.METRIC) -> str:
    """What a design carried, reached, survived or earned, whatever a penalty takes off.

    Args:
        score: of the design.
        rules: the rules it was scored by.
        system: units for masses and lengths.
    Returns:
        Such as "at least 860 g".
    """
    return least(score.at_least, amount(plain_value(score, rules), rules, system))


def counts_as(score: Score, rules: Rules, system: System = System.METRIC) -> str:
    """What a design counts for after its penalty.

    Args:
        score: of the design.
        rules: the rules it was scored by.
        system: units for masses and lengths.
    Returns:
        Such as "counts as 774 g, 10 % off"; empty without a penalty.
    """
    if not score.penalised:
        return ""
    off = f"{100 * rules.penalty:.0f} % off"
    return off if rules.school is School.MIX else f"counts as {amount(score.value, rules, system)}, {off}"


def after_penalty(score: Score, breaches: Sequence[str], rules: Rules, system: System = System.METRIC) -> str:
    """What a penalty does to a score, and for what.

    Args:
        score: of the design.
        breaches: the rules that it breaks, a sentence each.
        rules: the rules it was scored by.
        system: units for masses and lengths.
    Returns:
        Such as "It counts as 774 g, 10 % off for a broken rule: 32 cm of tape, 20 cm are allowed."; empty without a
        penalty.
    """
    if not score.penalised:
        return ""
    why = f": {breaches[0]}" if breaches else "."
    said = counts_as(score, rules, system)
    return f"{'It has' if rules.school is School.MIX else 'It'} {said} for a broken rule{why}"


def least(at_least: bool, words: str) -> str:
    """A result in words that may be a lower bound.

    Args:
        at_least: whether it is one.
        words: the result.
    Returns:
        The words.
    """
    return f"at least {words}" if at_least else words
