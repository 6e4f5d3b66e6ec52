"""The whole grid of claims as a table: ``python -m girder_core.tests.claims [CLASSES]`` (in backend/, core-venv)."""

from __future__ import annotations

import math
import sys
from dataclasses import replace

import numpy as np

from girder_core.results import School, TrialRule, VerdictKind
from girder_core.tests.claims.classes import MOST, Cell, Tally, bins, tallied, varied

KINDS = (VerdictKind.LIKELY, VerdictKind.CLEAR)


def grid() -> list[Cell]:
    """Every kind of class that is tried."""
    usual = [
        Cell(teams, scatter, spread, trials)
        for teams in (5, 8, 12)
        for scatter in (0.08, 0.2, 0.35)
        for spread in (0.0, 0.2, 0.4, 0.6)
        for trials in ((1,), (2,), (3,), (4,), (2, 1, 1, 1, 1), (5, 1, 1))
    ]
    middle = Cell(8, 0.2, 0.4, (2,))
    return [
        *usual,
        *(replace(middle, step=step) for step in (0.2, 0.5)),
        *(replace(middle, kit=kit) for kit in (1.5, 1.0)),
        *(replace(middle, rules=replace(MOST, trial_rule=rule)) for rule in (TrialRule.MEAN, TrialRule.LAST)),
        replace(middle, rules=replace(MOST, school=School.STRENGTH_TO_WEIGHT)),
        replace(middle, trials=(1,), rules=replace(MOST, school=School.STRENGTH_TO_WEIGHT)),
    ]


def told(cell: Cell, tally: Tally) -> str:
    """A row of the table."""
    said = " | ".join(f"{100 * tally.share(kind):.0f} % | {100 * tally.wrongly(kind):.0f} %" for kind in KINDS)
    how = f"{cell.rules.school.value}, {cell.rules.trial_rule.value}"
    kit = "all break" if cell.kit == float("inf") else f"ends at {cell.kit:g}"
    return (
        f"| {cell.teams} | {cell.scatter:.2f} | {cell.spread:.1f} | {', '.join(map(str, cell.trials))} | {cell.step:g} "
        f"| {kit} | {how} | {said} | {100 * tally.covered():.0f} % |"
    )


def main() -> None:
    classes = int(sys.argv[1]) if len(sys.argv) > 1 else 100
    print("| teams | scatter | spread | trials each | step | load | scored | likely | of these wrong | clear "
          "| of these wrong | true place in range |")  # fmt: skip
    print("| --- " * 12 + "|")
    apart, equal = Tally(), Tally()
    for number, cell in enumerate(grid()):
        tally = tallied(cell, classes, number)
        print(told(cell, tally), flush=True)
        whole = equal if cell.spread == 0 else apart
        whole.neighbours += tally.neighbours
        for kind in KINDS:
            whole.said[kind] += tally.said[kind]
            whole.wrong[kind] += tally.wrong[kind]
        whole.designs, whole.in_range = whole.designs + tally.designs, whole.in_range + tally.in_range
        if cell.spread > 0:
            for name in ("better", "ahead", "first"):
                getattr(whole, name).extend(getattr(tally, name))
    for name, whole in (("Designs differ", apart), ("All equal", equal)):
        said = ", ".join(f"{kind.value} {100 * whole.share(kind):.1f} %, wrong {100 * whole.wrongly(kind):.1f} %"
                         for kind in KINDS)  # fmt: skip
        print(f"\n{name}: {said}; true place in range {100 * whole.covered():.1f} %")
    for name, called in (("better", "truly better"), ("ahead", "ahead again"), ("first", "first again")):
        print(f"\n| {called}: said | how many | mean of what was said | came true |\n| --- | --- | --- | --- |")
        for low, count, mean, came in bins(getattr(apart, name)):
            print(f"| {low:.1f} to {low + 0.1:.1f} | {count} | {100 * mean:.1f} % | {100 * came:.1f} % |")
    levels(classes)


def levels(classes: int) -> None:
    """What is said of something that was varied, without any effect and with one of a half more."""
    print("\n| designs at each level | scatter | spread | trials each | no effect: likely | clear | half as much "
          "again: likely | clear | bounds hold |")  # fmt: skip
    print("| --- " * 9 + "|")
    kinds = [((2, 2), 0.3), ((3, 3), 0.2), ((3, 3), 0.5), ((6, 6), 0.2), ((2, 6), 0.4), ((3, 3, 3), 0.3), ((8, 8), 0.4)]
    for designs, spread in kinds:
        for scatter, trials in ((0.2, 1), (0.2, 3), (0.35, 1)):
            row: list[str] = []
            for effect in (0.0, math.log(1.5)):
                dice, truth = np.random.default_rng(3), (0.0,) * (len(designs) - 1) + (effect,)
                said = [
                    varied(designs, truth, scatter, (spread,) * len(designs), trials, dice) for _ in range(5 * classes)
                ]
                row += [f"{100 * sum(s.sure == sure for s in said) / len(said):.1f} %" for sure in ("likely", "clear")]
            bounds = [s.times for s in said if s.best == str(len(designs) - 1) and s.times is not None]
            share = sum(times.low <= 1.5 <= times.high for times in bounds) / max(1, len(bounds))
            print(f"| {', '.join(map(str, designs))} | {scatter} | {spread} | {trials} | {' | '.join(row)} "
                  f"| {100 * share:.0f} % |", flush=True)  # fmt: skip


if __name__ == "__main__":
    main()
