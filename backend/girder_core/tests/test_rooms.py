"""The rooms of the core have one door each, and docs/architecture.md draws what is true.

That none looks up is a contract in pyproject.toml, held by ``./girder check``.
"""

import ast
import re
import unittest
from collections import defaultdict
from importlib import import_module
from pathlib import Path

import girder_core

ROOT = Path(girder_core.__file__).parent
BACKEND = ROOT.parent
DIAGRAM = BACKEND.parent / "docs" / "architecture.md"
ROOMS = re.findall(r"^    (\w+) ", girder_core.__doc__ or "", re.MULTILINE)
"""The rooms from the ground up, as the map of the core names them."""


def room_of(file: Path) -> str:
    """The room that a file of the core belongs to; nothing for a file of anything else."""
    inside = file.relative_to(BACKEND).parts
    return inside[1].removesuffix(".py") if inside[0] == ROOT.name and len(inside) > 1 else ""


def imports(file: Path) -> list[tuple[int, str]]:
    """The modules that a file imports from, each with its line."""
    tree = ast.parse(file.read_text("utf-8"))
    from_ = [(node.lineno, node.module or "") for node in ast.walk(tree) if isinstance(node, ast.ImportFrom)]
    whole = [
        (node.lineno, alias.name) for node in ast.walk(tree) if isinstance(node, ast.Import) for alias in node.names
    ]
    return from_ + whole


def arrows() -> dict[str, set[str]]:
    """Which rooms each room imports from."""
    uses: dict[str, set[str]] = defaultdict(set)
    for file in ROOT.rglob("*.py"):
        room = room_of(file)
        for _, module in imports(file):
            parts = module.split(".")
            if room in ROOMS and parts[0] == ROOT.name and len(parts) > 1 and parts[1] != room:
                uses[room].add(parts[1])
    return uses


def without_detours(uses: dict[str, set[str]]) -> set[tuple[str, str]]:
    """The arrows that are left when one that a longer way goes round is not drawn."""

    def reached(room: str) -> set[str]:
        return uses[room] | {far for near in uses[room] for far in reached(near)}

    return {
        (room, below)
        for room in ROOMS
        for below in uses[room]
        if not any(below in reached(other) for other in uses[room])
    }


def drawn() -> set[tuple[str, str]]:
    """The arrows of the diagram."""
    block = re.search(r"```mermaid\n(.*?)```", DIAGRAM.read_text("utf-8"), re.DOTALL)
    return set(re.findall(r"(\w+) --> (\w+)", block[1])) if block else set()


class Rooms(unittest.TestCase):
    def test_the_map_names_every_room(self) -> None:
        there = {file.name.removesuffix(".py") for file in ROOT.iterdir() if not file.name.startswith("__")}
        self.assertEqual(set(ROOMS), there - {"tests"})

    def test_a_room_has_one_door(self) -> None:
        asked = 0
        for file in BACKEND.rglob("*.py"):
            # The core's own tests may look into a room.
            if ROOT / "tests" in file.parents:
                continue
            for line, module in imports(file):
                parts = module.split(".")
                if parts[0] == ROOT.name and len(parts) > 1 and parts[1] not in ("tests", room_of(file)):
                    asked += 1
                    self.assertEqual(len(parts), 2, f"{file.name}:{line} goes into {parts[1]} by {module}")
        self.assertGreater(asked, 300)

    def test_a_door_leads_to_what_is_there(self) -> None:
        for room in ROOMS:
            module = import_module(f"girder_core.{room}")
            if (ROOT / room).is_dir():
                self.assertGreater(len(module.__all__), 0)
                for name in module.__all__:
                    self.assertTrue(hasattr(module, name), f"{room}.{name}")

    def test_the_map_of_a_room_names_every_module(self) -> None:
        for room in ROOMS:
            if (ROOT / room).is_dir():
                doc = import_module(f"girder_core.{room}").__doc__ or ""
                for file in (ROOT / room).glob("[!_]*.py"):
                    if room in ("families", "drafting") and file.stem not in doc:
                        # “bridge … wall: one family each”.
                        self.assertIn("one family each" if room == "families" else "one kind each", doc)
                    else:
                        self.assertRegex(doc, rf"(?m)^    .*\b{file.stem}\b", f"{room}: {file.name} is not on its map")

    def test_the_diagram_shows_what_is_imported(self) -> None:
        self.assertEqual(drawn(), without_detours(arrows()))
