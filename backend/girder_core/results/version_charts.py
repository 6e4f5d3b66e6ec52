"""From version to version: the chart of what teams gained, and a gain in few words."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from girder_core.results.came_to import least
from girder_core.results.charting import (
    Chart,
    Drawn,
    Ink,
    line,
    short,
    team_mark,
    write,
)
from girder_core.results.comparison import VerdictKind
from girder_core.results.gains import Gain


@dataclass(frozen=True)
class Chain:
    """The versions of a team: key of the latest design, its team, and what each later version gained, where known."""

    key: str
    name: str
    gains: Sequence[tuple[int, Gain | None]]


_SHARES = (0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 3.0, 4.0, 6.0)


def versions_chart(chains: Iterable[Chain]) -> Chart | None:
    """From version to version: a line for each team, on a scale of shares, so that small and large designs compare.

    Args:
        chains: the teams with their versions.
    Returns:
        The chart; None where no later version can be compared. A line breaks off where a gain is not known.
    """
    lines = [(chain, points) for chain in chains if len(points := _points(chain)) > 1]
    if not lines:
        return None
    width, height, left, right = 380.0, 330.0, 46.0, 92.0
    shares = [share for _, points in lines for _, share in points]
    high, low = max([*shares, 1.1]), min([*shares, 0.9])
    last = max(version for _, points in lines for version, _ in points)

    def x(version: int) -> float:
        return left + (version - 1) / max(1, last - 1) * (width - left - right)

    def y(share: float) -> float:
        # A doubling takes as much height as a halving.
        return 24 + (math.log(high) - math.log(share)) / (math.log(high) - math.log(low)) * (height - 64)

    drawn: list[Drawn] = []
    for share in (share for share in _SHARES if 0.98 * low <= share <= 1.02 * high):
        drawn.append(line(Ink.AXIS if share == 1 else Ink.GRID, (left, y(share)), (width - right, y(share))))
        drawn.append(write(Ink.SOFT, left - 8, y(share) + 5, f"{share:g} ×", anchor="end"))
    for version in range(1, last + 1):
        drawn.append(write(Ink.WORDS, x(version), height - 8, f"v{version}", anchor="middle", bold=True))
    ends = sorted(((y(points[-1][1]), chain, points) for chain, points in lines), key=lambda end: end[0])
    above = -math.inf
    for at, chain, points in ends:
        # Names that would lie on each other move apart.
        above = max(at, above + 18)
        gain = chain.gains[len(points) - 2][1]
        sure = gain is not None and gain.kind is VerdictKind.CLEAR
        ink = Ink.TEAM_SURE if sure else Ink.TEAM_OPEN
        drawn.append(line(ink, *((x(version), y(share)) for version, share in points), key=chain.key))
        drawn.append(team_mark(width - right + 14, above, 15, chain.key))
        drawn.append(write(Ink.WORDS, width - right + 26, above + 5, short(chain.name, 9), 14, bold=True))
    return Chart(
        "versions", "From version to version", "",
        "Each line is a team; version 1 is 1. Thick: a clear change. Dashed: likely, or no more than chance.",
        "Results from version to version", width, height, tuple(drawn), ("Team", "Version", "Against version 1"),
        tuple((chain.name, str(version), f"{100 * share:.0f} %")
              for chain, points in lines for version, share in points),
    )  # fmt: skip


def _points(chain: Chain) -> list[tuple[int, float]]:
    """Versions with what each scored over what version 1 did."""
    points = [(1, 1.0)]
    for version, gain in chain.gains:
        if gain is None or not math.isfinite(gain.value) or gain.value <= -1:
            break
        points.append((version, points[-1][1] * (1 + gain.value)))
    return points


GAIN_WORDS: Mapping[VerdictKind, str] = {
    VerdictKind.CLEAR: "clear",
    VerdictKind.LIKELY: "likely, not clear",
    VerdictKind.TOO_CLOSE: "no more than chance",
    VerdictKind.CANNOT_SAY: "cannot tell",
    VerdictKind.TIED: "equal",
    VerdictKind.BY_TIE_RULE: "equal",
}
"""How sure a gain is, in few words."""


def gain_in_words(gain: Gain) -> str:
    """A gain in few words.

    Args:
        gain: what a version gained.
    Returns:
        Such as "at least +35 %, likely, not clear"; "gain not known" where the version before scored nothing.
    """
    if not math.isfinite(gain.value):
        return "gain not known"
    sign = "−" if gain.value < 0 else "+"
    return least(gain.at_least, f"{sign}{abs(100 * gain.value):.0f} %, {GAIN_WORDS[gain.kind]}")
