"""How long a planner sheet takes: ``python benchmarks/plan.py [ROUNDS]``, from the backend folder; no database needed.

Prints for each family the median and the slowest of so many rounds of ``propose`` and ``consequences`` together, as a
browser asks for them at every settled edit. Machines differ: compare rows, not milliseconds.
"""

from __future__ import annotations

import statistics
import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from girder_core.families import FAMILIES, family_of
from girder_core.planning import Answers, Plan, consequences, propose
from girder_core.safety import AgeBand
from girder_core.tests.support import kit_of_proposal


def once(key: str) -> float:
    """Seconds for one sheet of a family."""
    asked = Answers(key, AgeBand.AGES_11_13, 50, 8)
    started = time.perf_counter()
    proposal = propose(asked)
    day = proposal.day
    plan = Plan(
        asked, {p.key: p.value for p in proposal.setup}, proposal.materials, kit_of_proposal(family_of(key), proposal),
        day.build_minutes, day.benches, day.two_lessons,
    )  # fmt: skip
    consequences(plan)
    return time.perf_counter() - started


def main(rounds: int) -> None:
    for key in FAMILIES:
        times = [once(key) for _ in range(rounds)]
        print(f"{key:16} median {1000 * statistics.median(times):6.1f} ms   slowest {1000 * max(times):6.1f} ms")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 20)
