"""Rehearsals of docs/deploy.md: a size set up here from Debian's packages, worked with, broken, and brought back."""

from __future__ import annotations

import os
from collections.abc import Callable, Mapping, Sequence

from rehearsals import district, one_school, several_schools
from say import Problem, say

REHEARSALS: Mapping[str, Callable[[one_school.Told], None]] = {
    "one-school": one_school.rehearse,
    "several-schools": several_schools.rehearse,
    "district": district.rehearse,
}


def rehearse(arguments: Sequence[str]) -> int:
    """Carry out a rehearsal by its name, and print what came of it."""
    if len(arguments) != 1 or arguments[0] not in REHEARSALS:
        raise Problem(f"Say what is rehearsed: {', '.join(REHEARSALS)}.")
    if os.geteuid() != 0:
        raise Problem("A rehearsal installs packages and serves as other users. Run it as root.")
    say(f"rehearsing {arguments[0]}")
    heard: list[tuple[str, str]] = []

    def told(what: str, came: str) -> None:
        heard.append((what, came))
        say(f"{what}: {came}")

    REHEARSALS[arguments[0]](told)
    wide = max(len(what) for what, _ in heard)
    print("\n".join(f"  {what.ljust(wide)}  {came}" for what, came in heard), flush=True)
    return 0
