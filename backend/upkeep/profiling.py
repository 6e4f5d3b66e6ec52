"""Where the processes that serve spend their time: looked at from outside, a hundred times a second, while they work.

Nothing in them is changed, and they go on as fast as before. What is seen is which function called which; nothing of
what people typed.
"""

from __future__ import annotations

import subprocess
import sys
from collections import Counter
from pathlib import Path

LOOKS = 100
"""So often a second a process is looked at."""
SERVED = "evengirder.asgi"


class ProfileProblem(Exception):
    """Why it cannot be looked at, in a sentence."""


def serving() -> list[int]:
    """The processes on this machine that serve: those of the application that are no other's keeper."""
    found, keepers = [], set()
    for place in Path("/proc").iterdir():
        if not place.name.isdecimal():
            continue
        try:
            command = (place / "cmdline").read_bytes().split(b"\0")
            parent = int((place / "stat").read_text().rpartition(")")[2].split()[1])
        except (OSError, IndexError):
            continue
        if any(word.startswith(SERVED.encode()) for word in command):
            found.append(int(place.name))
            keepers.add(parent)
    return sorted(pid for pid in found if pid not in keepers)


def look(pids: list[int], seconds: int, folder: Path) -> list[Path]:
    """Look at processes at the same time; for each a file of stacks: ``outer;inner count`` a line, the common format.

    Errors: ``ProfileProblem`` where the system does not let one look.
    """
    folder.mkdir(parents=True, exist_ok=True)
    program = str(Path(sys.executable).with_name("py-spy"))
    files = [folder / f"stacks-{pid}.txt" for pid in pids]
    looking = [
        subprocess.Popen(  # noqa: S603 — what is looked with is ours
            [program, "record", "--nonblocking", "--idle", "--format", "raw", "--rate", str(LOOKS), "--duration",
             str(seconds), "--pid", str(pid), "--output", str(file)],
            stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True,
        ) for pid, file in zip(pids, files, strict=True)
    ]  # fmt: skip
    for pid, one in zip(pids, looking, strict=True):
        _, said = one.communicate()
        if one.returncode != 0:
            last = (said.strip().splitlines() or ["it did not say why"])[-1]
            raise ProfileProblem(f"Process {pid} cannot be looked at: {last} Root can, where the system lets it.")
    return files


def longest(files: list[Path], many: int = 15) -> list[tuple[str, float]]:
    """In which functions most of the time goes by, each with its share; waiting counts as time too."""
    own: Counter[str] = Counter()
    for file in files:
        for line in file.read_text().splitlines():
            stack, _, count = line.rpartition(" ")
            own[stack.rpartition(";")[2]] += int(count)
    whole = sum(own.values())
    return [(name, count / whole) for name, count in own.most_common(many)]
