"""The interface's React-free functions, called from a test."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path
from typing import Any

FRONTEND = Path(__file__).resolve().parents[2] / "frontend"


def call_all(module: str, name: str, arguments: list[list[Any]]) -> list[Any]:
    """Results of one function of ``src/<module>`` for many lists of arguments, in one go."""
    body = json.dumps({"module": module, "calls": [[name, args] for args in arguments]})
    done = subprocess.run(
        ["node", "tests/call.mjs"], cwd=FRONTEND, input=body, capture_output=True, text=True, timeout=60
    )
    if done.returncode != 0:
        raise AssertionError(done.stderr)
    results: list[Any] = json.loads(done.stdout)
    return results


def call(module: str, name: str, *arguments: Any) -> Any:
    """The result of one call."""
    return call_all(module, name, [list(arguments)])[0]
