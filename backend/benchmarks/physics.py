"""How long the physics takes: ``.girder/core-venv/bin/python backend/benchmarks/physics.py [ROUNDS]``.

Runs in the core's test environment, which holds the frame package that the truss is compared with. Prints a truss of
101 members against that package, and one prediction of 2,000 samples for every kind of draft with its slowest round.
Machines differ, and this one may be busy: compare rows, not milliseconds.
"""

from __future__ import annotations

import statistics
import sys
import time
from collections.abc import Callable
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from Pynite import FEModel3D

from girder_core.drafting import KINDS, draft, read_values
from girder_core.physics import PlaneTruss, pattern


def timed(work: Callable[[], object], rounds: int) -> list[float]:
    """Seconds of each round, in order of length."""
    times = []
    for _ in range(rounds):
        started = time.perf_counter()
        work()
        times.append(time.perf_counter() - started)
    return sorted(times)


def ours(truss: PlaneTruss, load: str) -> float:
    """Largest force [N]."""
    fresh = PlaneTruss(truss.joints, truss.members, truss.supports, 1e6)
    return max(abs(force) for force in fresh.solve({load: (0.0, -100.0)}).member_forces_n.values())


def theirs(truss: PlaneTruss, load: str) -> float:
    """The same by the frame package, members free to turn at both ends [N]."""
    model = FEModel3D()
    model.add_material("m", 1e9, 4e8, 0.3, 1.0)
    model.add_section("s", 1e-3, 1e-8, 1e-8, 1e-8)
    for name, (x, y) in truss.joints.items():
        model.add_node(name, x, y, 0.0)
        held = truss.supports.get(name, "")
        model.def_support(name, "x" in held, "y" in held, True, True, True, True)
    for a, b in truss.members:
        model.add_member(f"{a}-{b}", a, b, "m", "s")
        model.def_releases(f"{a}-{b}", Ryi=True, Rzi=True, Ryj=True, Rzj=True)
    model.add_node_load(load, "FY", -100.0)
    model.analyze_linear()
    return max(abs(float(model.members[f"{a}-{b}"].max_axial())) for a, b in truss.members)


def main(rounds: int) -> None:
    # Pratt: 4n − 3 members for n panels; 26 panels have 101.
    truss = pattern("Pratt", 2.6, 0.15, 26)
    assert len(truss.members) == 101, len(truss.members)
    assert abs(ours(truss, "B13") / theirs(truss, "B13") - 1) < 1e-6
    mine = timed(lambda: ours(truss, "B13"), rounds)
    other = timed(lambda: theirs(truss, "B13"), max(3, rounds // 10))
    a, b = statistics.median(mine), statistics.median(other)
    print(f"101-member truss: {1000 * a:.2f} ms, frame package {1000 * b:.0f} ms: {b / a:.0f} times as fast")
    for kind in KINDS.values():
        values = read_values(kind, {})
        times = timed(lambda kind=kind, values=values: kind.expect(values), rounds)  # type: ignore[misc]
        whole = timed(lambda kind=kind: draft(kind, {}), rounds)  # type: ignore[misc]
        print(
            f"{kind.key:13} prediction, 2,000 samples: median {1000 * statistics.median(times):5.1f} ms, "
            f"slowest {1000 * times[-1]:5.1f}; whole draft: median {1000 * statistics.median(whole):5.1f}, "
            f"95 % {1000 * whole[int(0.95 * (len(whole) - 1))]:5.1f}"
        )


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 40)
