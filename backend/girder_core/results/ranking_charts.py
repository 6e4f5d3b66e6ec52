"""Charts of a comparison: the ranking with the verdicts between, and load against own weight."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping

from girder_core.measure import COVERAGE_FACTOR, Kind, System, format_mass, plural, units
from girder_core.results.came_to import amount, counts_as, least, plain_value
from girder_core.results.charting import (
    Chart,
    Drawn,
    Free,
    Ink,
    axis_of,
    block,
    figures,
    grouped,
    line,
    long_of,
    scale,
    short,
    team_mark,
    ticks,
    with_doubt,
    write,
)
from girder_core.results.comparison import Comparison, Place, VerdictKind
from girder_core.results.prospects import RankRange
from girder_core.results.rules import SCHOOL_WORDS, Rules, School, needs_trial
from girder_core.trial import UNCONFIRMED, Outcome

VERDICT_WORDS: Mapping[VerdictKind, str] = {
    VerdictKind.CLEAR: "clearly better",
    VerdictKind.LIKELY: "probably better",
    VerdictKind.TOO_CLOSE: "could go either way",
    VerdictKind.CANNOT_SAY: "cannot tell yet",
    VerdictKind.TIED: "share the place",
    VerdictKind.BY_TIE_RULE: "equal, and lighter",
}
"""A verdict between two neighbours, in few words."""


OPEN_VERDICTS = frozenset({VerdictKind.TOO_CLOSE, VerdictKind.CANNOT_SAY})
"""Verdicts that leave the order open."""


def places_text(place: Place) -> str:
    """The places that a design may have.

    Args:
        place: its place in the comparison.
    Returns:
        Such as "2" or "1–3".
    """
    return range_text(place.ranks)


def range_text(ranks: RankRange) -> str:
    """A range of places in figures.

    Args:
        ranks: the best and the worst.
    Returns:
        Such as "2" or "1–3".
    """
    return str(ranks.best) if ranks.best == ranks.worst else f"{ranks.best}–{ranks.worst}"


_LEFT, _RIGHT, _TOP = 292.0, 136.0, 34.0
_DOT, _DOTS_AT = 4.2, 104.0
"""Radius of a dot of ten, and how far from the right edge the first stands."""


def ranking_chart(
    comparison: Comparison, rules: Rules, labels: Mapping[str, str], endings: Mapping[str, str], system: System,
    width: float = 730.0, row: float = 60.0,
) -> Chart:  # fmt: skip
    """The ranking: places, a bar as far as is known, hatched what is not, and the verdicts between.

    Args:
        comparison: the comparison.
        rules: the rules it was made under.
        labels: what each design is called, by key.
        endings: how each ended, by key; empty where it is not told.
        system: units for masses and lengths.
        width: of the chart.
        row: height of one design.
    Returns:
        The chart. A bar that is open above ends in a point.
    """
    axis, places = axis_of(rules, system), comparison.places
    tops = [p.score.value if p.score.interval.open_above else p.score.interval.high for p in places]
    most = 1.14 * max([*tops, *(plain_value(p.score, rules) for p in places), 1e-9])
    span, height = width - _LEFT - _RIGHT, _TOP + len(places) * row + 10

    def at(value: float) -> float:
        return _LEFT + max(0.0, value) / most * span

    drawn = scale(at, most, axis, _TOP - 8, height, 6)
    passes = rules.school is School.THRESHOLD
    if passes and most > 1:
        drawn.append(line(Ink.TARGET, (at(1), _TOP - 8), (at(1), height)))
    several = len(places) > 1
    for i, place in enumerate(places):
        y = _TOP + i * row + 4
        drawn += _ranked(place, rules, labels, endings, system, y, row, width, at)
        if several or passes:
            drawn += _wins_again(place, width - _DOTS_AT, y + 0.2 * row)
    if several or passes:
        words = "would pass again" if passes else "would win again"
        drawn.append(write(Ink.SOFT, width - _DOTS_AT - _DOT, _TOP - 12, words))
    mean = comparison.scatter
    if mean is not None:
        repeated = f"{mean.designs} {plural('design', mean.designs)} tested more than once"
        scatter = f"Trials of one design scatter by {100 * mean.cv:.0f} % here ({repeated})."
    else:
        done = "tested" if needs_trial(rules) else "measured"
        scatter = f"Nobody was {done} twice; how much trials scatter is taken from {comparison.belief.basis}."
    does = "hold the target" if passes else "win"
    dots = f" Dots: how often in ten it would {does} if all were built and tested again." if several or passes else ""
    return Chart(
        "ranking", "", "", f"{bars_mean(rules)} ↕ which of two is the better design.{dots} {scatter}",
        "Ranking with what is not known hatched", width, height, tuple(drawn),
        ("Places", "Team", "Result", "Held", "Broke at", "Own weight", "Times its own weight", "How it ended",
         "Against the next", "Would pass again" if passes else "Would win again", "True place, nine times in ten"),
        tuple(_ranking_row(place, rules, labels, endings, system) for place in places),
    )  # fmt: skip


def _wins_again(place: Place, x: float, y: float) -> list[Drawn]:
    """Ten dots, as many of them full as it would win of ten, and the same in figures."""
    chance = _again(place)
    full = round(10 * chance)
    dots = [Drawn("circle", Ink.TRIAL if i < full else Ink.TRIAL_OPEN, ((x + 10 * i, y),), _DOT) for i in range(10)]
    figure = write(Ink.WORDS, x - _DOT, y + 22, in_ten(chance), 15, bold=True, why=f"again:{place.entry.key}")
    return [*dots, figure]


def _again(place: Place) -> float:
    """The chance that matters of another contest: to hold the target where one decides, else to come first."""
    return place.prospect.first if place.prospect.passes is None else place.prospect.passes


def in_ten(chance: float) -> str:
    """A chance in figures.

    Args:
        chance: from 0 to 1 [-].
    Returns:
        Such as "6 in 10", "over 9 in 10".
    """
    if chance >= 0.95:
        return "over 9 in 10"
    return "under 1 in 10" if chance < 0.05 else f"{max(1, round(10 * chance))} in 10"


def bars_mean(rules: Rules) -> str:
    """What solid and hatched mean in a ranking.

    Args:
        rules: the rules it was made under.
    Returns:
        A sentence or two.
    """
    if rules.school is School.SURVIVED:
        return "Solid: survived. Hatched: not known, up to what was too much."
    if rules.school in (School.SPARED, School.FOR_ITS_PIECES):
        return "Solid: counted."
    if rules.school in (School.TALLEST, School.LEFT_STANDING):
        return "Solid: measured. Hatched: as far as the measuring can be off."
    if rules.school is School.MIX:
        return "Solid: points. Hatched: what is not known of the parts."
    return (
        "Solid: held. Hatched: what is not known, up to what broke it, and as far as the masses can be off. A point: "
        "it ran out of load."
    )


def _ranked(
    place: Place, rules: Rules, labels: Mapping[str, str], endings: Mapping[str, str], system: System,
    y: float, row: float, width: float, at: Callable[[float], float],
) -> list[Drawn]:  # fmt: skip
    key, score = place.entry.key, place.score
    bar, interval = min(34.0, 0.44 * row), score.interval
    end = width - _RIGHT if interval.open_above else at(interval.high)
    first = Ink.FIRST if place.ranks.best == 1 else Ink.WORDS
    drawn = [
        write(first, 0, y + 26, places_text(place), 34, bold=True, why=f"today:{key}"),
        team_mark(84, y + 15, 26, key),
        write(Ink.WORDS, 106, y + 15, short(labels[key], 18), 20, bold=True),
        write(Ink.SOFT, 106, y + 34, _below_name(place, rules, endings, system)),
        block(Ink.KNOWN, _LEFT, y, max(_LEFT + 1, at(score.value)), y + bar),
    ]
    if rules.school is School.MIX:
        edges, parts = 0.0, []
        for school, points in score.shares.items():
            if edges > 0:
                drawn.append(line(Ink.GAP, (at(edges), y), (at(edges), y + bar)))
            edges += points
            parts.append(f"{SCHOOL_WORDS[school].label.lower()} {figures(points, 3)}")
        drawn.append(write(Ink.SOFT, _LEFT + 9, y + bar + 14, " + ".join(parts), 13))
    if interval.open_above:
        x = at(score.value)
        drawn.append(
            Drawn("area", Ink.UNKNOWN, ((x, y), (end - 14, y), (end, y + bar / 2), (end - 14, y + bar), (x, y + bar)))
        )
        ended = "came through all" if rules.school is School.SURVIVED else "ran out of load"
        if not score.penalised:
            drawn.append(write(Ink.WORDS, end - 20, y + bar + 16, ended, anchor="end", bold=True))
    else:
        drawn.append(block(Ink.UNKNOWN, at(interval.low), y, max(end, at(interval.low) + 1), y + bar))
    carried = at(plain_value(score, rules)) if score.penalised else 0.0
    ink, x, size = _room(_result(place, rules, system), at(score.value), max(end, carried), width - _DOTS_AT - 12, bar)
    # All figures stand on one line, whatever their size.
    drawn.append(
        write(ink, x, y + 0.72 * bar, _result(place, rules, system), size, bold=True, why=f"result:{key}")
    )  # fmt: skip
    if score.penalised:
        drawn += _taken_off(place, rules, system, y, bar, at)
    verdict = place.against_next
    if verdict is not None:
        ink = Ink.UNSURE if verdict.kind in OPEN_VERDICTS else Ink.SURE
        drawn.append(
            write(ink, _LEFT + 9, y + row - 6, f"↕ {VERDICT_WORDS[verdict.kind]}", bold=True, why=f"ahead:{key}")
        )
    return drawn


def _taken_off(
    place: Place, rules: Rules, system: System, y: float, bar: float, at: Callable[[float], float]
) -> list[Drawn]:
    """What a penalty takes off: the bar ends at what counts, a line leads on to what was carried."""
    score, middle = place.score, y + bar / 2
    counts, carried = at(score.value), at(plain_value(score, rules))
    said = counts_as(score, rules, system) + ("; ran out of load" if score.at_least else "")
    return [
        line(Ink.AXIS, (counts, middle), (carried, middle)),
        line(Ink.AXIS, (carried, middle - 6), (carried, middle + 6)),
        write(Ink.UNSURE, _LEFT + 9, y + bar + 14, said, 13, bold=True),
    ]


def _room(words: str, solid: float, end: float, most: float, bar: float) -> tuple[Ink, float, float]:
    """Where the result of a bar can be read, and how large: on the bar, else behind it, else on what is not known.

    ``solid`` is where what is known ends, ``end`` where the bar ends, ``most`` how far words may go.
    """
    sizes = [share * bar for share in (0.72, 0.62, 0.5)]
    for size in sizes:
        if long_of(words, size) <= solid - _LEFT - 18:
            return Ink.ON_BAR, _LEFT + 9, size
    for size in (*sizes, 0.45 * bar, 0.4 * bar):
        if long_of(words, size) <= most - end - 8:
            return Ink.WORDS, end + 8, size
    left = max(solid, _LEFT) + 8
    return Ink.WORDS, left, min(sizes[0], (most - left) / long_of(words, 1.0))


def _result(place: Place, rules: Rules, system: System) -> str:
    score, value = place.score, plain_value(place.score, rules)
    if rules.school is School.STRENGTH_TO_WEIGHT:
        words = f"{figures(value, 3)} ×"
    elif rules.school is School.THRESHOLD:
        words = f"{value:.2f} ×"
    else:
        words = f"{value:.0f}" if rules.school is School.MIX else amount(value, rules, system)
    if rules.school is School.THRESHOLD:
        words += ", passes" if score.interval.low >= 1 else ", passes, just" if score.value >= 1 else ", not yet"
    return words


def _below_name(place: Place, rules: Rules, endings: Mapping[str, str], system: System) -> str:
    score = place.score
    if place.entry.unconfirmed:
        return UNCONFIRMED
    if rules.school is School.SURVIVED and (went := _went(place, endings)):
        return went.lower()
    if rules.school is School.LEFT_STANDING:
        return _attacked(place, rules)
    if rules.school in (School.SPARED, School.FOR_ITS_PIECES):
        return _seen(place)
    if not _holds(rules):
        return f"own weight {format_mass(score.self_mass.value, system)}" if score.self_mass else ""
    how = "" if score.at_least else endings.get(place.entry.key, "").lower()
    held = least(score.at_least, format_mass(score.held_kg, system))
    return f"{held}, {how}" if how else held


def _attacked(place: Place, rules: Rules) -> str:
    """The attackers' side of a wall: what they brought down, and how many of their throws struck."""
    down = f"attackers: {100 * max(0.0, 1 - plain_value(place.score, rules)):.0f} % down"
    thrown = [trial for trial in place.entry.trials if trial.scored and trial.rounds]
    if not thrown:
        return down
    return f"{down}, {thrown[-1].hits} of {len(thrown[-1].rounds)} hit"


def _seen(place: Place) -> str:
    """On how many looks a hideout gave somebody away; empty where it was not looked at one by one."""
    looked = [trial for trial in place.entry.trials if trial.outcome is Outcome.DONE and trial.rounds]
    return f"seen on {looked[-1].hits} of {len(looked[-1].rounds)} looks" if looked else ""


def _went(place: Place, endings: Mapping[str, str]) -> str:
    """What went on a shake table or in a drop, and how far into its last round; empty where all was come through."""
    ended = [trial for trial in place.entry.trials if trial.outcome is Outcome.BROKE and trial.rounds]
    how = endings.get(place.entry.key, "")
    if not ended or not how:
        return ""
    lasted_s = ended[-1].rounds[-1].lasted_s
    return how if lasted_s is None else f"{how} after {lasted_s:.1f} s"


def _holds(rules: Rules) -> bool:
    """Whether a load that was held stands behind every score."""
    return needs_trial(rules) and rules.school is not School.TALLEST


def _ranking_row(
    place: Place, rules: Rules, labels: Mapping[str, str], endings: Mapping[str, str], system: System
) -> tuple[str, ...]:
    score, mass = place.score, place.score.self_mass
    loaded = needs_trial(rules)
    broke = "did not break" if score.broke_kg is None else format_mass(score.broke_kg, system)
    result = place.words(rules, system)
    how = _went(place, endings) or endings.get(place.entry.key, "")
    if rules.school is School.LEFT_STANDING:
        how = _attacked(place, rules)
    if rules.school in (School.SPARED, School.FOR_ITS_PIECES):
        how = _seen(place)
    off = counts_as(score, rules, system)
    ratio = figures(score.held_kg / mass.value, 3) if loaded and mass is not None and mass.value > 0 else "–"
    return (
        places_text(place), labels[place.entry.key], f"{result}; {off}" if off else result,
        format_mass(score.held_kg, system) if loaded else "–", broke if loaded else "–",
        with_doubt(mass, system) if mass else "not taken", ratio, how,
        place.against_next.reason if place.against_next else "", in_ten(_again(place)),
        range_text(place.prospect.ranks),
    )  # fmt: skip


_NICE = (1, 2, 3, 5, 8, 10, 15, 20, 25, 30, 40, 50, 60, 80, 100, 150, 200, 300, 400, 500, 800, 1000, 1500, 2000)


def rays_chart(comparison: Comparison, labels: Mapping[str, str], system: System) -> Chart | None:
    """Load held against own weight, with rays of equal ratio: the steeper, the better used.

    Args:
        comparison: the comparison.
        labels: what each design is called, by key.
        system: units for masses.
    Returns:
        The chart, each design with its bounds of load and of own weight; None with fewer than two that held a load and
        were weighed.
    """
    rows = [
        (place, place.score.self_mass)
        for place in comparison.places
        if place.score.self_mass is not None and place.score.self_mass.value > 0 and place.score.held_kg > 0
    ]
    if len(rows) < 2:
        return None
    width, height, left, right, top, bottom = 520.0, 470.0, 48.0, 50.0, 38.0, 50.0
    light, heavy = ("oz", "lb") if system is System.US else ("g", "kg")
    light_kg, heavy_kg = units.si_per(light, Kind.MASS), units.si_per(heavy, Kind.MASS)
    held = [
        place.score.held_kg * 1.08 if place.score.held_interval.open_above else place.score.held_interval.high
        for place, _ in rows
    ]
    most_mass, most_load = 1.16 * max(mass.value for _, mass in rows), 1.08 * max(held)

    def x(kg: float) -> float:
        return left + max(0.0, kg) / most_mass * (width - left - right)

    def y(kg: float) -> float:
        return height - bottom - max(0.0, kg) / most_load * (height - top - bottom)

    drawn: list[Drawn] = []
    ratios = [place.score.held_kg / mass.value for place, mass in rows]
    inside = [ratio for ratio in _NICE if 0.55 * min(ratios) <= ratio <= 1.7 * max(ratios)]
    for ratio in inside[:: max(1, math.ceil(len(inside) / 6))]:
        mass_kg = min(most_mass, most_load / ratio)
        over = mass_kg * ratio >= 0.999 * most_load
        drawn.append(line(Ink.GRID, (x(0), y(0)), (x(mass_kg), y(mass_kg * ratio))))
        drawn.append(
            write(Ink.SOFT, x(mass_kg) + (0 if over else 6), y(mass_kg * ratio) + (-7 if over else 5), f"{ratio:g} ×",
                   anchor="middle" if over else "start")
        )  # fmt: skip
    drawn.append(line(Ink.AXIS, (x(0), top), (x(0), y(0)), (width - right, y(0))))
    for tick in ticks(most_mass / light_kg):
        drawn.append(write(Ink.WORDS, x(tick * light_kg), y(0) + 21, grouped(tick), anchor="middle", bold=True))
    for tick in ticks(most_load / heavy_kg):
        drawn.append(write(Ink.WORDS, x(0) - 9, y(tick * heavy_kg) + 5, grouped(tick), anchor="end", bold=True))
    drawn.append(write(Ink.SOFT, 4, 14, f"held, {heavy}"))
    drawn.append(write(Ink.SOFT, width - right, height - 8, f"own weight, {light}", anchor="end"))
    free = Free(width)
    for place, mass in rows:
        free.keep(x(mass.value) - 11, y(place.score.held_kg) - 11, x(mass.value) + 11, y(place.score.held_kg) + 11)
    for place, mass in rows:
        key, bounds, held_kg = place.entry.key, place.score.held_interval, place.score.held_kg
        doubt, cx, cy = COVERAGE_FACTOR * mass.standard_uncertainty, x(mass.value), y(held_kg)
        if bounds.open_above:
            end = y(most_load) + 4
            drawn.append(line(Ink.TEAM_OPEN, (cx, cy), (cx, end), key=key))
            drawn.append(line(Ink.TEAM_OPEN, (cx - 6, end + 9), (cx, end), (cx + 6, end + 9), key=key))
        else:
            drawn.append(line(Ink.TEAM, (cx, y(bounds.low)), (cx, y(bounds.high)), key=key))
            drawn.append(line(Ink.TEAM, (cx - 5, y(bounds.high)), (cx + 5, y(bounds.high)), key=key))
        drawn.append(line(Ink.TEAM, (x(mass.value - doubt), cy), (x(mass.value + doubt), cy), key=key))
        drawn.append(team_mark(cx, cy, 18, key))
        drawn.append(free.label(cx, cy, labels[key], 17))
    return Chart(
        "load-against-own-weight", "", "",
        "On one ray the ratio is the same; the steeper, the better the material is used. Upright: what is not known of "
        "the strength, an arrow where it ran out of load.",
        f"Load held against own weight for {len(rows)} designs", width, height, tuple(drawn),
        ("Team", "Own weight", "Held", "Times its own weight"),
        tuple((labels[p.entry.key], with_doubt(m, system),
               least(p.score.at_least, format_mass(p.score.held_kg, system)),
               figures(p.score.held_kg / m.value, 3)) for p, m in rows),
    )  # fmt: skip
