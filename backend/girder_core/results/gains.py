"""From one version to the next: what it gained, how sure that is, what the class gained, and how much was changed."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass

from scipy import special

from girder_core.results.comparison import VerdictKind, verdict
from girder_core.results.samples import CONFIDENCE
from girder_core.results.scoring import Score
from girder_core.trial import Interval


@dataclass(frozen=True)
class Gain:
    """What a version gained over the one before.

    Attributes:
        value: later over earlier, less one [-]; infinite where the earlier scored nothing.
        bounds: of it, from the bounds of both [-].
        at_least: whether the later one ran out, so that the gain is a lower bound.
        kind: how sure it is that the two differ at all.
        reason: why, in a sentence.
    """

    value: float
    bounds: Interval
    at_least: bool
    kind: VerdictKind
    reason: str


def gain(parent: Score, child: Score, better: float, ahead: float) -> Gain:
    """What the next version gained over the one before, and whether that is more than trials scatter.

    Args:
        parent: score of the earlier version.
        child: score of the later version.
        better: chance that the later one is truly the better [-].
        ahead: chance that it would be ahead if both were built and tested again [-].
    Returns:
        The gain with the verdict between the two, by the same rules as between two teams.
    """
    before, after = "version before", "new version"
    if child.value >= parent.value:
        judged = verdict(after, before, (child.at_least, parent.at_least), better, ahead)
    else:
        judged = verdict(before, after, (parent.at_least, child.at_least), 1 - better, 1 - ahead)
    if parent.value <= 0:
        return Gain(math.inf, Interval(-1.0, math.inf), child.at_least, judged.kind, _plain(judged.reason))
    low = -1.0 if parent.interval.open_above else child.interval.low / parent.interval.high - 1
    high = math.inf if parent.interval.low <= 0 else child.interval.high / parent.interval.low - 1
    value = child.value / parent.value - 1
    return Gain(value, Interval(low, high), child.at_least, judged.kind, _plain(judged.reason))


def _plain(reason: str) -> str:
    """A verdict's sentence with articles: versions are not names."""
    sentence = re.sub(r"\b(version before|new version)\b", r"the \1", reason)
    return sentence[0].upper() + sentence[1:]


@dataclass(frozen=True)
class ClassGain:
    """What the second versions of a class gained.

    Attributes:
        n: how many pairs could be compared.
        improved: how many came out higher.
        typical: geometric mean of later over earlier, less one [-]; None without a pair.
        bounds: 95 % bounds of it [-]; None with fewer than two pairs.
        kind: clear when the bounds leave nothing out, likely at one sigma, else too close; cannot say below two pairs.
        says: the headline.
    """

    n: int
    improved: int
    typical: float | None
    bounds: Interval | None
    kind: VerdictKind
    says: str


ONE_SIGMA = 0.16


def class_gain_of(gains: Sequence[Gain]) -> ClassGain:
    """What a class gained, from the gain of each later version.

    Args:
        gains: of every version that came after one.
    Returns:
        As ``class_gain``, over the pairs whose earlier version came to an end and scored something: of the others the
        gain is not known.
    """
    known = [gain for gain in gains if gain.bounds.low > -1]
    ratios = [1 + gain.value for gain in known if math.isfinite(gain.value) and gain.value > -1]
    return class_gain(ratios, sum(gain.at_least for gain in known))


def class_gain(ratios: Sequence[float], at_least: int = 0) -> ClassGain:
    """Whether going again made a class better.

    Args:
        ratios: later over earlier score of each pair, all > 0; pairs whose earlier version ran out are left out, since
            what that one could have held is not known.
        at_least: how many of the later ones ran out.
    Returns:
        The geometric mean with Student's t bounds of the logarithms.
    Source:
        Paired comparison on a logarithmic scale (any statistics text).
    """
    n, improved = len(ratios), sum(ratio > 1 for ratio in ratios)
    if n == 0:
        return ClassGain(0, 0, None, None, VerdictKind.CANNOT_SAY, "No second version can be compared yet.")
    logs = [math.log(ratio) for ratio in ratios]
    mean = math.fsum(logs) / n
    typical = math.exp(mean) - 1
    more = f"{'at least ' if at_least else ''}{abs(typical):.0%} {'more' if typical >= 0 else 'less'}"
    if n == 1:
        says = f"One second version: {more}. One pair says nothing about a whole class."
        return ClassGain(1, improved, typical, None, VerdictKind.CANNOT_SAY, says)
    sd = math.sqrt(math.fsum((log - mean) ** 2 for log in logs) / (n - 1))
    se = sd / math.sqrt(n)
    half = float(special.stdtrit(n - 1, 0.5 + CONFIDENCE / 2)) * se
    p = 2 * float(special.stdtr(n - 1, -abs(mean) / se)) if se > 0 else (0.0 if mean else 1.0)
    kind = VerdictKind.CLEAR if p <= 1 - CONFIDENCE else VerdictKind.LIKELY if p <= ONE_SIGMA else VerdictKind.TOO_CLOSE
    sure = {
        VerdictKind.CLEAR: "clear",
        VerdictKind.LIKELY: "likely, not clear",
        VerdictKind.TOO_CLOSE: "no more than chance",
    }[kind]
    says = f"{improved} of {n} second versions did better; typically {more}, {sure}."
    bounds = Interval(math.exp(mean - half) - 1, math.exp(mean + half) - 1)
    return ClassGain(n, improved, typical, bounds, kind, says)


_BETWEEN = re.compile(r"[;\n+]|,(?!\d)|\.\s|\band\b|\bplus\b|\balso\b", re.IGNORECASE)


def changes_in(text: str) -> tuple[str, ...]:
    """The single changes in what a team says it changed.

    Args:
        text: in the team's words.
    Returns:
        One entry a change, parted at "and", "plus", "also", commas, semicolons, plus signs and line ends. It is a hint
        for a question to the team, and no judgement.
    """
    parts = (part.strip(" .\t") for part in _BETWEEN.split(text))
    return tuple(part for part in parts if len(part) > 1)
