"""A challenge in a few lines that a class can read from the back of the room."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from girder_core.families import Family, Setup
from girder_core.measure import System, format_value
from girder_core.results import BREACH_WORDS, SCHOOL_WORDS, TIE_WORDS, TRIAL_RULE_WORDS, BreachPolicy, Rules, School


@dataclass(frozen=True)
class BriefLine:
    """A line of the brief: what about, and what it says."""

    term: str
    text: str


def brief_lines(
    family: Family, setup: Setup, rules: Rules, build_minutes: float, system: System = System.METRIC
) -> tuple[BriefLine, ...]:
    """The rules of a challenge, a line each.

    Args:
        family: the kind of challenge.
        setup: set-up quantities [SI].
        rules: how it is scored.
        build_minutes: minutes to build [min].
        system: units for the sentences.
    Returns:
        The set-up's lines in the family's order, those of one term joined; then time, what wins, what a broken rule
        costs.
    """
    lines: dict[str, list[str]] = {}
    for spec in family.setup:
        value = setup.get(spec.key)
        if spec.says and value is not None:
            lines.setdefault(spec.term, []).append(spec.says.format(format_value(value, spec.kind, system)))
    joined = [BriefLine(term, _joined(texts)) for term, texts in lines.items()]
    broken = BREACH_WORDS[rules.breach_policy].label.lower()
    if rules.breach_policy is BreachPolicy.PENALTY:
        broken = f"a broken rule costs {rules.penalty:.0%}".replace("%", " %")
    return (
        *joined,
        BriefLine("Time", f"{build_minutes:g} minutes to build"),
        BriefLine("Wins", goal_in_words(rules)),
        BriefLine("Rules", broken),
    )


def _joined(texts: list[str]) -> str:
    """ "at least 22 mm on each side" and "at most 48 mm on each side" share their end; say it once."""
    if len(texts) < 2:
        return texts[0]
    words = [text.split() for text in texts]
    common = 0
    while all(len(w) > common + 1 for w in words) and len({w[-1 - common] for w in words}) == 1:
        common += 1
    # A figure keeps its unit.
    while common and any(w[-1 - common][-1].isdigit() for w in words):
        common -= 1
    end = " ".join(words[0][len(words[0]) - common :])
    heads = [" ".join(w[: len(w) - common]) for w in words]
    return f"{', '.join(heads)} {end}".strip()


def goal_in_words(rules: Rules) -> str:
    """What wins, in one line.

    Args:
        rules: how it is scored.
    Returns:
        School, weights of a mix, trial rule and tie rule.
    """
    what = SCHOOL_WORDS[rules.school].label.lower()
    if rules.school is School.MIX:
        what = f"a mix of {mix_in_words(rules.weights)}"
    ties = TIE_WORDS[rules.tie_rule].label.lower()
    return f"{what}; {TRIAL_RULE_WORDS[rules.trial_rule].label.lower()}; if equal, {ties}"


def mix_in_words(weights: Mapping[School, float]) -> str:
    """The weights of a mix as shares.

    Args:
        weights: weight per school [-], not all zero.
    Returns:
        Such as "60 % times its own weight, 40 % most load held".
    """
    total = sum(weights.values())
    shares = sorted(weights.items(), key=lambda pair: -pair[1])
    return ", ".join(f"{100 * w / total:.0f} % {SCHOOL_WORDS[s].label.lower()}" for s, w in shares if w > 0)
