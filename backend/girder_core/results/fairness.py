"""What was not like with like in a comparison, whether it could have decided who won, and what to test again."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from girder_core.measure import COVERAGE_FACTOR, System, format_length, format_mass, plural, times_in_ten
from girder_core.results.came_to import amount, plain_value
from girder_core.results.comparison import Comparison, Entry, Place, VerdictKind, listed
from girder_core.results.prospects import LIKELY, worth_testing
from girder_core.results.rules import Rules, School
from girder_core.trial import UNCONFIRMED, Outcome

COARSE = 0.2
"""A last step above this share of what was held is coarse (ours) [-]."""
LITTLE = 0.02
"""A gain in a chance below this is not worth a trial (ours) [-]."""


@dataclass(frozen=True)
class Difference:
    """Something that differed besides the designs themselves.

    Attributes:
        key: the design it concerns.
        says: a sentence.
        decides: whether that design contends for the first place, so that the difference could have decided it.
        mend: what to do about it; empty when nothing can be done any more.
    """

    key: str
    says: str
    decides: bool
    mend: str


def contenders(comparison: Comparison) -> frozenset[str]:
    """The designs between which the first place lies.

    Args:
        comparison: the comparison.
    Returns:
        Keys of the leader, of all whose range reaches the first place, and of the one behind the leader.
    """
    near = [place for i, place in enumerate(comparison.places) if i < 2 or place.ranks.best == 1]
    return frozenset(place.entry.key for place in near)


def like_with_like(comparison: Comparison, system: System = System.METRIC) -> tuple[Difference, ...]:
    """What differed between the compared designs besides the designs themselves.

    Args:
        comparison: the comparison.
        system: units for the sentences.
    Returns:
        A line per difference: another gap (beyond the tape's doubt), more or fewer trials that count, a coarse last
        step, an own weight taken in another way, a broken constraint, whatever else is remarked. What could have
        decided the win comes first.
    """
    entries, near = [place.entry for place in comparison.places], contenders(comparison)
    usual = {of: _usual_gap([entry for entry in entries if entry.gap_of == of]) for of in {e.gap_of for e in entries}}
    often = sorted(place.score.trials for place in comparison.places)
    lines = [
        Difference(place.entry.key, says, place.entry.key in near, mend)
        for place in comparison.places
        for says, mend in _odd(place, usual[place.entry.gap_of], often[len(often) // 2], system)
    ]
    return tuple(sorted(lines, key=lambda line: not line.decides))


def _odd(place: Place, gap_m: float | None, trials: int, system: System) -> tuple[tuple[str, str], ...]:
    entry = place.entry
    return (*_gap(entry, gap_m, system), *_how_often(place, trials), *_told(entry), *_coarse(entry, system),
            *_remarks(entry))  # fmt: skip


class Varied(StrEnum):
    """What a fair test can vary that would else be a difference besides the designs."""

    ARRANGEMENT = "arrangement"
    GAP = "gap"


def varied_on_purpose(name: str, levels: Sequence[str], arrangements: Mapping[str, str]) -> frozenset[Varied]:
    """What a fair test varies by its own words, so that nobody is blamed for it.

    Args:
        name: what is varied, as the teacher wrote it.
        levels: its levels, likewise.
        arrangements: the ways of setting a test up, by key, with all that is said of each.
    Returns:
        The arrangement where two levels name two of the ways; the gap where name or levels speak of a gap or a span.
        What only happens to go with the levels is no purpose: it stays a difference.
    """
    ways = {key: _words(f"{key} {said}") for key, said in arrangements.items()}
    named = {way for level in levels if (way := _meant(_words(level), ways))}
    spoken = set().union(*(_words(text) for text in (name, *levels)))
    return frozenset(
        {*({Varied.ARRANGEMENT} if len(named) > 1 else ()), *({Varied.GAP} if spoken & _GAP_WORDS else ())}
    )


_GAP_WORDS = frozenset({"gap", "gaps", "span", "spans"})
_SMALL_WORDS = frozenset({"the", "and", "all", "with", "its", "from", "for", "one"})


def _words(text: str) -> frozenset[str]:
    """The words of a text that say something."""
    return frozenset(re.findall(r"[^\W\d_]{3,}", text.lower())) - _SMALL_WORDS


def _meant(level: frozenset[str], ways: Mapping[str, frozenset[str]]) -> str | None:
    """The way that a level speaks of, if it speaks of one more than of any other."""
    shared = {key: len(level & words) for key, words in ways.items()}
    most = max(shared.values(), default=0)
    best = [key for key, count in shared.items() if count == most]
    return best[0] if most > 0 and len(best) == 1 else None


def usual_arrangement(arrangements: Sequence[str]) -> str:
    """How most trials were set up.

    Args:
        arrangements: that of each trial that counts, in the order of testing.
    Returns:
        The one that most have; of several that as many have, the one used last. Empty without a trial.
    """
    counts = Counter(arrangements)
    return max(reversed(arrangements), key=counts.__getitem__, default="")


@dataclass(frozen=True)
class Circumstances:
    """How a design came to its result, besides what it is.

    Attributes:
        wet_reasons: why trials were made before its joints were dry, one per such trial.
        arrangements: that of each of its trials that count.
        not_kept: what the fair test keeps the same and was not kept so.
        unconfirmed: whether its team tested it by itself, and nobody has confirmed what came of it.
    """

    wet_reasons: Sequence[str] = ()
    arrangements: Sequence[str] = ()
    not_kept: Sequence[str] = ()
    unconfirmed: bool = False


def circumstantial(circumstances: Circumstances, usual: str, names: Mapping[str, str]) -> tuple[str, ...]:
    """What to remark of a design that was not tested like the others.

    Args:
        circumstances: how it was tested.
        usual: how most trials of the run were set up.
        names: what each arrangement is called.
    Returns:
        Sentences that go on from the design's name.
    """
    otherwise = [used for used in dict.fromkeys(circumstances.arrangements) if used != usual]
    return (
        *((f"tested by the team itself, {UNCONFIRMED}.",) if circumstances.unconfirmed else ()),
        *(f"tested before its joints were dry ({reason})." for reason in circumstances.wet_reasons),
        *(f"tested {names.get(used, 'otherwise')}, most others {names.get(usual, 'otherwise')}." for used in otherwise),
        *(f"not kept as agreed: {control}." for control in circumstances.not_kept),
    )


def own_weight_note(after_test: bool, added_up: bool) -> str:
    """What to remark of an own weight that was not taken like the others'.

    Args:
        after_test: whether it was taken only after the test.
        added_up: whether it was added up from materials.
    Returns:
        Words that go on from "own weight"; empty when it was weighed before the test.
    """
    if after_test:
        return "was taken only after the test"
    return "was added up from materials" if added_up else ""


def _usual_gap(entries: Sequence[Entry]) -> float | None:
    gaps = sorted(entry.gap.value for entry in entries if entry.gap)
    return gaps[len(gaps) // 2] if gaps else None


def _gap(entry: Entry, usual: float | None, system: System) -> list[tuple[str, str]]:
    if usual is None or entry.gap is None:
        return []
    doubt = COVERAGE_FACTOR * entry.gap.standard_uncertainty
    if abs(entry.gap.value - usual) <= max(doubt, 1e-9):
        return []
    own, others = format_length(entry.gap.value, system), format_length(usual, system)
    return [(f"{entry.name} was tested over {own}, the others over {others}.",
             f"Test {entry.name} again over {others}.")]  # fmt: skip


def _how_often(place: Place, usual: int) -> list[tuple[str, str]]:
    own = place.score.trials
    # Whether another trial is worth it is asked of all at once, by ``retests``.
    return [] if own == usual else [(f"{place.entry.name} was tested {_times(own)}, most others {_times(usual)}.", "")]


def _times(count: int) -> str:
    return {1: "once", 2: "twice"}.get(count, f"{count} times")


def _told(entry: Entry) -> list[tuple[str, str]]:
    return [(f"{entry.name}: own weight {entry.self_mass_note}.", "")] if entry.self_mass_note else []


def _coarse(entry: Entry, system: System) -> list[tuple[str, str]]:
    return [
        (
            f"{entry.name} broke on a step of {format_mass(trial.last_step_kg, system)}, which is coarse for what it "
            "held.",
            f"Test {entry.name} again in smaller steps above {format_mass(0.8 * trial.held.value, system)}.",
        )
        for trial in entry.trials
        if trial.outcome is Outcome.BROKE and trial.last_step_kg > COARSE * max(trial.held.value, 1e-12)
    ]


def _remarks(entry: Entry) -> list[tuple[str, str]]:
    return [(f"{entry.name}: {remark}", "") for remark in (*entry.remarks, *entry.breaches)]


def retests(comparison: Comparison, rules: Rules, system: System = System.METRIC) -> tuple[str, ...]:
    """What to test again, and how, so that it is better known who is best.

    Args:
        comparison: the comparison.
        rules: the rules it was made under.
        system: units for the sentences.
    Returns:
        Sentences, the most telling first: which next trial would tell most, and what a round for all who may be the
        best would; more load for a run-out, smaller steps, a weighing, a void trial. None when nothing would help.
    """
    lines: list[str] = []
    for upper, lower in zip(comparison.places[:3], comparison.places[1:4], strict=False):
        judged = upper.against_next
        if judged is None or judged.kind in (VerdictKind.CLEAR, VerdictKind.BY_TIE_RULE):
            continue
        lines.extend(_more_load(upper, lower, rules, system))
    # What ran out shows no more with the same load, however often it is tested.
    lines = lines or _worth(comparison, rules)
    lines.extend(line.mend for line in like_with_like(comparison, system) if line.decides and line.mend)
    for entry, reason in comparison.unranked:
        if reason.code == "void":
            lines.append(f"{entry.name}: its trial is void; test it again.")
        elif reason.code == "no_self_mass":
            lines.append(f"{entry.name}: weigh what is left of it, or add its own weight up from materials.")
    return tuple(dict.fromkeys(lines))


def _worth(comparison: Comparison, rules: Rules) -> list[str]:
    """Which next trial would tell most about who is best, and how much a round of trials would."""
    entries = [place.entry for place in comparison.places]
    worth = worth_testing([entry.candidate() for entry in entries], rules, comparison.belief)
    if worth is None or worth.now >= LIKELY:
        return []
    known = f"Whoever is called the best now truly is {times_in_ten(worth.now)}"
    if worth.after - worth.now < LITTLE:
        return [f"{known}. A few more trials would hardly change that."]
    names, each = [entries[i].name for i in worth.running], f"{worth.rounds} {plural('trial', worth.rounds)}"
    lines = [
        f"{known}; after {each} more of {listed(names)}{' each' if len(names) > 1 else ''} it would be "
        f"{times_in_ten(worth.after)}, and the answer would be sure enough to call {times_in_ten(worth.settled)}."
    ]
    if worth.then - worth.now >= LITTLE:
        lines.insert(0, f"Test {entries[worth.design].name} once more: no other single trial tells more.")
    return lines


def _more_load(upper: Place, lower: Place, rules: Rules, system: System) -> list[str]:
    """For run-outs, how much more load would bring them to an end or past the one before."""
    if rules.school not in (School.MOST_HELD, School.STRENGTH_TO_WEIGHT) or not lower.score.at_least:
        return []
    if upper.score.at_least:
        names = f"{upper.entry.name} and {lower.entry.name}"
        return [f"{names} both outlasted the load: test them again with more of it, until they break."]
    passing = upper.score.value / (1 - rules.penalty if lower.score.penalised else 1.0)
    if rules.school is School.STRENGTH_TO_WEIGHT and lower.score.self_mass is not None:
        passing *= lower.score.self_mass.value
    more = passing - lower.score.held_kg
    if more <= 0:
        return []
    ran_out = amount(plain_value(lower.score, rules), rules, system)
    return [f"{lower.entry.name} ran out of load at {ran_out}: test it again with {format_mass(more, system)} more."]
