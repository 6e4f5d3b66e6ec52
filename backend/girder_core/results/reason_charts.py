"""Charts of the reasons: what was varied, what was foreseen, what went along, how trials ended, where designs fail."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from girder_core.kit import RELATION_WORDS, Relation
from girder_core.measure import Kind, System, format_mass, format_value, plural, units
from girder_core.results.came_to import least
from girder_core.results.charting import (
    Axis,
    Chart,
    Drawn,
    Free,
    Ink,
    axis_of,
    block,
    grouped,
    line,
    scale,
    short,
    team_mark,
    ticks,
    write,
)
from girder_core.results.factors import FactorEffect, Foresight, Mark, Tally, Trend
from girder_core.results.rules import Rules
from girder_core.results.samples import LoadFit, SampleMean, Survival

_W, _NAMES = 610.0, 128.0


_SURENESS = {
    "clear": "Clear.",
    "likely": "Likely, not clear.",
    "too_close": "It may well be chance.",
    "cannot_say": "Nobody can tell yet.",
}


def factor_chart(effect: FactorEffect, name: str, rules: Rules, system: System) -> Chart:
    """What was varied: a strip for each level, a dot for each trial, a mark for each design, the mean and its bounds.

    Args:
        effect: what the factor did.
        name: of the factor.
        rules: the rules under which designs were scored.
        system: units for masses and lengths.
    Returns:
        The chart.
    """
    axis, row, top = axis_of(rules, system), 74.0, 26.0
    members = [member for level in effect.levels for member in level.members]
    values = [member.value for member in members] + [mark.value for member in members for mark in member.marks]
    values += [level.mean.mean for level in effect.levels if level.mean]
    most, height = 1.15 * max([*values, 1e-9]), top + 8 + len(effect.levels) * row

    def at(value: float) -> float:
        return _NAMES + min(max(value, 0.0), most) / most * (_W - _NAMES - 20)

    drawn = scale(at, most, axis, top, height)
    for i, level in enumerate(effect.levels):
        y, mean = top + 8 + i * row, level.mean
        drawn.append(write(Ink.WORDS, 0, y + 30, short(level.name, 14), 18, bold=True))
        count = len(level.members)
        drawn.append(write(Ink.SOFT, 0, y + 50, f"{count} {plural('design', count)}", 14))
        if mean is not None:
            if mean.low is not None and mean.high is not None:
                drawn.append(block(Ink.SPREAD, at(mean.low), y + 8, at(mean.high), y + row - 12))
            drawn.append(line(Ink.MEAN, (at(mean.mean), y + 4), (at(mean.mean), y + row - 8)))
            figure = ("≥ " if level.at_least else "") + axis.text(mean.mean)
            drawn.append(write(Ink.SURE, at(mean.mean) + 6, y + row - 4, figure, 14, bold=True))
        for k, placed in enumerate(level.members):
            dy = y + 20 + (k % 3) * 13
            for mark in placed.marks:
                ink = Ink.TRIAL_OPEN if mark.at_least else Ink.TRIAL
                drawn.append(Drawn("circle", ink, ((at(mark.value), dy),), 3.4))
            drawn.append(team_mark(at(placed.value), dy, 17, placed.key))
    along = f" But these differed too: {' '.join(effect.confounders)}" if effect.confounders else ""
    return Chart(
        "factor", f"Did {name} make the difference?",
        f"{_SURENESS[effect.sure]} {effect.says} {effect.because}".strip() + along,
        "A dot is a trial, a ring one that ran out of load, a mark its design; the upright line is the mean of a "
        "level, hatched where the true mean may lie.",
        f"Results by {name}", _W, height, tuple(drawn), ("Level", "Team", "Result", "Trials"),
        tuple(
            (level.name, member.name, least(member.at_least, axis.text(member.value)),
             ", ".join(("≥ " if mark.at_least else "") + axis.text(mark.value) for mark in member.marks))
            for level in effect.levels for member in level.members
        ),
    )  # fmt: skip


_FORESEEN = {"right": "right", "too_high": "too much", "too_low": "too little", "open": "still open"}


_ARM = {Relation.MORE: 26.0, Relation.LESS: -26.0}
"""How far the arm of a comparison reaches, in the units of the chart."""


@dataclass(frozen=True)
class Sized:
    """What was foretold where nothing is loaded: what it measures, and a size in words."""

    kind: Kind
    words: Callable[[float, System], str]


def foresight_chart(
    teams: Sequence[Foresight], model: Sequence[Foresight], names: Mapping[str, str], says: str, system: System,
    sized: Sized | None = None,
) -> Chart | None:  # fmt: skip
    """What was said beforehand, by the team and by the model, against what came.

    Args:
        teams: what teams said of their designs.
        model: what the model said.
        names: of each design's team, by key.
        says: how the predictions did, in words.
        system: units for masses and lengths.
        sized: where nothing is loaded, what was foretold.
    Returns:
        The chart; None where nothing was said.
    """
    said, drawn_by = {team.key: team for team in teams}, {foresight.key: foresight for foresight in model}
    keys = list(dict.fromkeys([*said, *drawn_by]))
    if not keys:
        return None
    us = system is System.US
    axis = Axis(units.si_per("lb", Kind.MASS), "lb") if us else Axis(1.0, "kg")
    if sized:
        length = Axis(units.si_per("in", Kind.LENGTH), "in") if us else Axis(0.01, "cm")
        axis = length if sized.kind is Kind.LENGTH else Axis(1.0, "")
    in_words, came = (sized.words, "came to") if sized else (format_mass, "held")
    row, top = 34.0, 26.0
    ends = [foresight.came if foresight.bounds.open_above else foresight.bounds.high for foresight in (*teams, *model)]
    most = 1.1 * max([*ends, *(foresight.said for foresight in (*teams, *model)), 1e-9])
    height = top + 14 + len(keys) * row

    def at(kg: float) -> float:
        return _NAMES + min(max(kg, 0.0), most) / most * (_W - _NAMES - 20)

    def told(foresight: Foresight | None) -> str:
        if foresight is None:
            return "–"
        off = (
            ""
            if foresight.error is None
            else f" ({'−' if foresight.error < 0 else '+'}{abs(100 * foresight.error):.0f} %)"
        )
        compared = RELATION_WORDS.get(foresight.relation, "")
        load = f"{compared} {in_words(foresight.said, system)}".strip()
        return f"{load}, {_FORESEEN[foresight.verdict]}{off}"

    drawn, rows = scale(at, most, axis, top, height), []
    for i, key in enumerate(keys):
        y, held = top + 8 + i * row, said.get(key) or drawn_by[key]
        end = _W - 20 if held.bounds.open_above else at(held.bounds.high)
        low = at(held.came) if held.bounds.open_above else at(held.bounds.low)
        drawn += [
            team_mark(10, y + 14, 17, key),
            write(Ink.WORDS, 26, y + 20, short(names[key], 12), 16, bold=True),
            block(Ink.KNOWN, _NAMES, y + 7, at(held.came), y + 22),
            block(Ink.UNKNOWN, low, y + 7, max(low, end), y + 22),
        ]
        if key in drawn_by:
            x = at(drawn_by[key].said)
            corners = ((x - 8, y + 14.5), (x, y + 5.5), (x + 8, y + 14.5), (x, y + 23.5))
            drawn.append(Drawn("area", Ink.MODEL, corners))
        if key in said:
            x, arm = at(said[key].said), _ARM.get(said[key].relation, 0.0)
            if arm:
                drawn.append(line(Ink.AXIS, (x, y + 14.5), (x + arm, y + 14.5)))
            drawn.append(Drawn("circle", Ink.SAID, ((x, y + 14.5),), 7.5))
        words = least(held.bounds.open_above, in_words(held.came, system))
        rows.append((names[key], words, told(said.get(key)), told(drawn_by.get(key))))
    also = ", with an arm: more, or less, than that" if any(team.relation in _ARM for team in teams) else ""
    also += ", ◇ the model said" if model else ""
    return Chart(
        "foresight", "Who foresaw it?", says, f"Bar: {came}, hatched what is not known. ● the team said{also}.",
        "Predictions against results", _W, height, tuple(drawn),
        ("Team", came.capitalize(), "The team said", "The model said"), tuple(rows),
    )  # fmt: skip


@dataclass(frozen=True)
class Placed:
    """A design in a chart of scores against something measured: its key and name, both values, "at least" or not."""

    key: str
    name: str
    value: float
    score: float
    at_least: bool


def against_chart(
    key: str, label: str, kind: Kind, points: Sequence[Placed], relation: Trend, rules: Rules, system: System
) -> Chart:
    """Results against something that came out differently from team to team.

    Args:
        key: of what differs.
        label: what it is called.
        kind: what it measures.
        points: the designs.
        relation: what goes along with it.
        rules: the rules under which they were scored.
        system: units for masses and lengths.
    Returns:
        The chart.
    """
    axis = axis_of(rules, system)
    height, left, right, top, bottom = 330.0, 60.0, 20.0, 26.0, 46.0
    low, high = min(point.value for point in points), max(point.value for point in points)
    pad, most = 0.12 * (high - low) or 1.0, 1.15 * max([*(point.score for point in points), 1e-9])

    def x(value: float) -> float:
        return left + (value - low + pad) / (high - low + 2 * pad) * (_W - left - right)

    def y(score: float) -> float:
        return height - bottom - max(0.0, score) / most * (height - top - bottom)

    drawn: list[Drawn] = []
    for tick in ticks(most / axis.unit, 5):
        drawn.append(line(Ink.GRID, (left, y(tick * axis.unit)), (_W - right, y(tick * axis.unit))))
        drawn.append(write(Ink.SOFT, left - 8, y(tick * axis.unit) + 5, grouped(tick), anchor="end"))
    drawn.append(write(Ink.SOFT, 2, 14, f"result, {axis.symbol}" if axis.symbol else "result"))
    drawn.append(line(Ink.AXIS, (left, top), (left, height - bottom), (_W - right, height - bottom)))
    for value, anchor in ((low, "start"), (high, "end")):
        figure = format_value(float(f"{value:.4g}"), kind, system)
        drawn.append(write(Ink.WORDS, x(value), height - bottom + 20, figure, anchor=anchor, bold=True))
    drawn.append(write(Ink.SOFT, (left + _W) / 2, height - 6, label.lower(), anchor="middle"))
    free = Free(_W)
    for placed in points:
        free.keep(x(placed.value) - 11, y(placed.score) - 11, x(placed.value) + 11, y(placed.score) + 11)
    for placed in points:
        cx, cy = x(placed.value), y(placed.score)
        if placed.at_least:
            drawn.append(line(Ink.TEAM_OPEN, (cx, cy), (cx, cy - 26), key=placed.key))
            drawn.append(line(Ink.TEAM_OPEN, (cx - 5, cy - 18), (cx, cy - 26), (cx + 5, cy - 18), key=placed.key))
        drawn.append(team_mark(cx, cy, 18, placed.key))
        drawn.append(free.label(cx, cy, placed.name, 15))
    return Chart(
        f"against-{key}", "What teams did differently", relation.says, "An arrow: it ran out of load.",
        f"Result against {label.lower()}", _W, height, tuple(drawn), ("Team", label, "Result"),
        tuple((point.name, format_value(float(f"{point.value:.4g}"), kind, system),
               least(point.at_least, axis.text(point.score))) for point in points),
    )  # fmt: skip


def repeats_line(name: str, marks: Sequence[Mark], mean: SampleMean, rules: Rules, system: System) -> str:
    """What the trials of a design that was tested more than once came to.

    Args:
        name: of the design.
        marks: its trials.
        mean: of them.
        rules: the rules under which they were scored.
        system: units for masses and lengths.
    Returns:
        Its trials, and from two on their mean, scatter and where the true mean may lie.
    """
    axis = axis_of(rules, system)
    line = f"{name}: " + ", ".join(("≥ " if mark.at_least else "") + axis.text(mark.value) for mark in marks)
    if mean.sd is None or mean.low is None or mean.high is None or not mean.mean > 0:
        return f"{line}."
    between = f"{axis.text(max(0.0, mean.low))} to {axis.text(mean.high)}"
    return (
        f"{line}; mean {axis.text(mean.mean)}, scatter {100 * mean.sd / mean.mean:.0f} %. With {mean.n} trials the "
        f"true mean may lie anywhere from {between}."
    )


def endings_chart(ways: Sequence[Tally], words: Mapping[str, str]) -> Chart | None:
    """How trials ended: a block for each.

    Args:
        ways: how often each happened, the most frequent first.
        words: what each is called, by key.
    Returns:
        The chart; None without a trial.
    """
    if not ways:
        return None
    step = min(34.0, 300.0 / max(way.count for way in ways))
    drawn: list[Drawn] = []
    for i, mode in enumerate(ways):
        y = i * 42.0
        drawn += [block(Ink.COUNTED, k * step, y + 6, (k + 1) * step - 4, y + 30) for k in range(mode.count)]
        label, x = words.get(mode.key, mode.key), mode.count * step + 8
        drawn.append(write(Ink.WORDS, x, y + 24, label, 16, bold=True))
        names = short(", ".join(mode.names), 34)
        drawn.append(write(Ink.SOFT, x + 9.0 * len(label) + 10, y + 24, names, 16))
    first = ways[0]
    often = f"Most often: {words.get(first.key, first.key).lower()}, {first.count} times."
    return Chart(
        "how-it-ended", "How it ended", often if first.count > 1 else "Each trial ended in a way of its own.", "",
        "How trials ended", _W, 42.0 * len(ways) + 4, tuple(drawn), ("How", "Trials", "Who"),
        tuple((words.get(way.key, way.key), str(way.count), ", ".join(way.names)) for way in ways),
    )  # fmt: skip


def survival_chart(curve: Survival, fit: LoadFit | None, says: str, system: System) -> Chart | None:
    """The share of designs that stands under rising load, and the curve that was fitted to it.

    Args:
        curve: the steps.
        fit: a log-normal strength fitted to the bounds, if there is one.
        says: what the fit says.
        system: units for masses.
    Returns:
        The chart; None with fewer than two steps.
    """
    if len(curve.steps) < 2:
        return None
    height, left, right, top, bottom = 250.0, 52.0, 20.0, 12.0, 44.0
    mass = Axis(units.si_per("lb", Kind.MASS), "lb") if system is System.US else Axis(1.0, "kg")
    most = 1.3 * max([*(step.load_kg for step in curve.steps), 1e-9])

    def x(kg: float) -> float:
        return left + kg / most * (_W - left - right)

    def y(share: float) -> float:
        return top + (1 - share) * (height - top - bottom)

    drawn: list[Drawn] = []
    for share, word in ((0.0, "none"), (0.5, "half"), (1.0, "all")):
        drawn.append(line(Ink.GRID, (left, y(share)), (_W - right, y(share))))
        drawn.append(write(Ink.SOFT, left - 8, y(share) + 5, word, anchor="end"))
    for tick in ticks(most / mass.unit):
        drawn.append(
            write(Ink.WORDS, x(tick * mass.unit), height - bottom + 20, grouped(tick), anchor="middle", bold=True)
        )
    drawn.append(write(Ink.SOFT, _W - right, height - 6, f"load, {mass.symbol}", anchor="end"))
    share, corners = 1.0, [(x(0), y(1.0))]
    for step in curve.steps:
        corners += [(x(step.load_kg), y(share)), (x(step.load_kg), y(step.share))]
        share = step.share
    drawn.append(line(Ink.MEAN, *corners))
    half = ""
    if fit is not None:
        loads = [most * i / 80 for i in range(1, 81)]
        left_over = special.ndtr((fit.mu - np.log(loads)) / fit.sigma)
        drawn.append(line(Ink.FITTED, *((x(kg), y(float(left))) for kg, left in zip(loads, left_over, strict=True))))
        middle, least, greatest = (
            format_mass(float(f"{kg:.{digits}g}"), system)
            for kg, digits in ((fit.median_kg, 3), (fit.median_low_kg, 2), (fit.median_high_kg, 2))
        )
        half = f"Half of such designs fail below {middle} (somewhere between {least} and {greatest}). "
    return Chart(
        "where-they-fail", "Where designs of this class fail", half + says,
        "Steps: the designs themselves." + (" Dashed: the fitted curve." if fit else ""),
        "Share of designs that stands under rising load", _W, height, tuple(drawn), ("Load", "Share still standing"),
        tuple((format_mass(step.load_kg, system), f"{100 * step.share:.0f} %") for step in curve.steps),
    )  # fmt: skip
