"""How the figures of a load kit came about: what one object weighs, what all weigh, what would last."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from girder_core.ground import NOBODY, Entered, Origin, Rule
from girder_core.kit.lasting import RUNS_OUT, Cover, LoadEstimate, spread_log, strongest_needs
from girder_core.kit.loading import Kit, LoadItem
from girder_core.kit.quotas import Line
from girder_core.measure import Kind, System, batch_origin, format_mass, in_doubt, said_origin

TOTAL = Rule("how many there are of each, times what one weighs", "K = Σ nᵢ · mᵢ", "Load")
LASTS = Rule(
    "each design falls anywhere in the expected range; what the strongest of them outlasts in one class of ten",
    "L = T · exp(σ · Φ⁻¹(0.9^(1/n)))",
    "Load",
)
CHANCE = Rule(
    "each design falls anywhere in the expected range; how often at least one of them holds the whole load",
    "p = 1 − Φ(ln(K / T) / σ)ⁿ",
    "Load",
)
PLACED = Rule("the kit, or what the bench carries where that is less", "K = min(M, G)", "Load")
SPREAD = Rule("the high end of the range is what one design in ten exceeds", "σ = ln(H / T) / Φ⁻¹(0.9)", "Load")
OF_TEAMS = Rule("what a team gets, for all teams", "x = n · q", "Kit list")
OF_BENCHES = Rule("what a bench gets, for all benches, and what is there once", "B = b · g + c", "Kit list")
SPARES = Rule("a share of what teams get, whole pieces rounded up", "S = ⌈s · (F + P)⌉", "Kit list")
NEEDED = Rule("what teams build and try out with, what benches get, and the spares", "N = F + P + B + S", "Kit list")
PACKS = Rule("what is needed, less what is there, in whole packs", "K = ⌈(N − O) / Q⌉", "Kit list")


@dataclass(frozen=True)
class Known:
    """How the mass of a load object is known.

    Attributes:
        batch: objects on the scale, what it showed [kg] and its step [kg]; None where no batch was weighed.
        source: how it is known otherwise.
    """

    batch: tuple[int, float, float] | None = None
    source: str = "stated"


def item_origin(item: LoadItem, known: Known, system: System = System.METRIC, symbol: str = "m") -> Origin:
    """How the mass of one load object is known.

    Args:
        item: the object.
        known: how.
        system: the reader's units.
        symbol: what formulas call it.
    Returns:
        Its origin.
    """
    name = f"One {item.name}"
    if known.batch:
        return batch_origin(name, item.mass, *known.batch, system, symbol)
    return said_origin(name, item.mass, Kind.MASS, known.source, system, symbol)


def counted_origin(
    name: str, counts: Mapping[str, int], kit: Kit, known: Mapping[str, Known], system: System = System.METRIC,
    symbol: str = "K", rule: Rule = TOTAL, entered: Entered = NOBODY,
) -> Origin:  # fmt: skip
    """How the mass of counted load objects came about.

    Args:
        name: what it is.
        counts: how many of each, by key.
        kit: the load kit.
        known: how the mass of each is known, by key.
        system: the reader's units.
        symbol: what formulas call it.
        rule: how it is worked out.
        entered: who counted, and when.
    Returns:
        Its origin.
    """
    inputs: list[Origin] = []
    for i, (key, count) in enumerate(((key, count) for key, count in counts.items() if count), start=1):
        item = kit.item(key)
        inputs += [
            Origin(f"{item.name}, counted", str(count), f"n{i}", float(count), source="counted", entered=entered),
            item_origin(item, known.get(key, Known()), system, f"m{i}"),
        ]
    total = kit.mass(counts)
    value = format_mass(total.value, system)
    note = in_doubt(total, Kind.MASS, system)
    return Origin(name, value, symbol, total.value, rule, tuple(inputs), note=note)


def cover_origins(
    kit: Kit, cover: Cover, estimate: LoadEstimate | None, teams: int, known: Mapping[str, Known],
    system: System = System.METRIC, bench_limit_kg: float | None = None,
) -> tuple[Origin, ...]:  # fmt: skip
    """How it was worked out whether a kit lasts.

    Args:
        kit: the load at one bench.
        cover: what was worked out.
        estimate: where each design is expected to give way; None where nothing is known of that.
        teams: how many designs are tested.
        known: how the mass of each object is known, by key.
        system: the reader's units.
        bench_limit_kg: most the bench may carry [kg].
    Returns:
        The kit's mass; where something is expected, the chance that the strongest outlasts it, and what would last.
    """
    total = counted_origin("All load on one bench", {item.key: item.count for item in kit.items}, kit, known, system)
    if estimate is None or cover.chance is None:
        return (total,)
    typical, high = (
        Origin(name, format_mass(kg, system), symbol, kg, source=estimate.basis)
        for name, kg, symbol in (
            ("Expected of a design", estimate.typical_kg, "T"), ("High end of that", estimate.high_kg, "H"),
        )
    )  # fmt: skip
    sigma = spread_log(estimate)
    spread = Origin("Spread of designs", f"{sigma:.2f}", "σ", sigma, SPREAD, (high, typical))
    count = Origin("Teams", str(teams), "n", float(teams), source="as planned")
    needs, placed = strongest_needs(estimate, teams), total
    if bench_limit_kg is not None and bench_limit_kg < kit.total_kg():
        limit = Origin(
            "The bench carries", format_mass(bench_limit_kg, system), "G", bench_limit_kg, source="as agreed"
        )
        placed = Origin("What can be placed", limit.value, "K", bench_limit_kg, PLACED,
                        (replace(total, symbol="M"), limit))  # fmt: skip
    return (
        total,
        Origin("The strongest outlasts it", f"{cover.chance:.0%}", "p", cover.chance, CHANCE,
               (placed, typical, spread, count)),
        Origin("What would last", format_mass(needs, system), "L", needs, LASTS, (typical, spread, count),
               note=f"It lasts in {1 - RUNS_OUT:.0%} of classes."),
    )  # fmt: skip


def line_origins(line: Line, teams: int, benches: int) -> tuple[Origin, ...]:
    """How much of a material is needed, and how many packs that is.

    Args:
        line: of the kit list.
        teams: how many teams.
        benches: how many benches.
    Returns:
        What is needed; and what is bought, where anything is.
    """
    own = line.material

    def each(name: str, figure: float, symbol: str) -> Origin:
        return Origin(name, f"{figure:g}", symbol, figure, source="as planned")

    count = each("Teams", teams, "n")
    for_teams = (
        Origin("For final structures", f"{line.final:g}", "F", line.final, OF_TEAMS,
               (count, each("A team gets", own.final, "q"))),
        Origin("To try out with", f"{line.practice:g}", "P", line.practice, OF_TEAMS,
               (count, each("A team gets", own.practice, "q"))),
    )  # fmt: skip
    gear = Origin("At the benches and once for all", f"{line.benches:g}", "B", line.benches, OF_BENCHES,
                  (each("Benches", benches, "b"), each("A bench gets", own.per_bench, "g"),
                   each("Once", own.per_class, "c")))  # fmt: skip
    spares = Origin("Spares", f"{line.spares:g}", "S", line.spares, SPARES,
                    (*for_teams, each("Share kept back", own.spare_share, "s")))  # fmt: skip
    needed = Origin(own.name, line.needed_words, "N", line.needed, NEEDED, (*for_teams, gear, spares))
    if not line.packs:
        return (needed,)
    there = (needed, each("There already", own.owned, "O"), each("In a pack", own.pack_size, "Q"))
    return needed, Origin(f"Packs of {own.name}", str(line.packs), "K", float(line.packs), PACKS, there)


def estimate_origin(estimate: LoadEstimate, entered: Entered = NOBODY, system: System = System.METRIC) -> Origin:
    """Where a structure was expected to give way, and what that rested on.

    Args:
        estimate: the expectation [kg].
        entered: whose trial it was made for, and when.
        system: the reader's units.
    Returns:
        Its origin.
    """
    low, typical, high = (format_mass(kg, system) for kg in (estimate.low_kg, estimate.typical_kg, estimate.high_kg))
    return Origin("Expected to give way", f"{low} to {high}, typically {typical}", "", estimate.typical_kg,
                  source=f"from {estimate.basis}", entered=entered)  # fmt: skip
