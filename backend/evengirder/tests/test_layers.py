"""Who may do what among the apps' modules. Which app knows which is a contract in pyproject.toml."""

import ast
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

WRITES = {"save", "create", "bulk_create", "bulk_update", "get_or_create", "update_or_create", "delete"}


def modules(*ends: str) -> Iterator[tuple[str, ast.Module]]:
    """The apps' modules of these kinds (``views`` is ``bench.views`` and ``bench.run_views``), with their code."""
    for file in sorted(Path(settings.BACKEND).glob("*/*.py")):
        if file.stem.endswith(ends):
            yield f"{file.parent.name}.{file.stem}", ast.parse(file.read_text("utf-8"))


def imported(tree: ast.Module) -> set[str]:
    """The modules of this project's that code imports, whole or in part."""
    imported = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.ImportFrom) and node.module and not node.module.startswith("rest_framework"):
            imported |= {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)}
    return imported


class Layers(SimpleTestCase):
    def refuses(self, importers: tuple[str, ...], imports: str) -> None:
        seen = 0
        for name, tree in modules(*importers):
            seen += 1
            wrong = {module for module in imported(tree) if module.split(".")[-1].endswith(imports)}
            self.assertEqual(wrong, set(), name)
        self.assertGreater(seen, 4)

    def test_no_view_imports_a_view(self) -> None:
        self.refuses(("views",), "views")

    def test_nothing_below_the_views_imports_a_serializer(self) -> None:
        below = ("selectors", "services", "shown", "drawn", "reasons", "rubric", "history", "experience")
        self.refuses(below, "serializers")

    def test_every_write_is_a_service(self) -> None:
        for name, tree in modules("views", "selectors", "serializers", "shown"):
            calls = [node.func for node in ast.walk(tree) if isinstance(node, ast.Call)]
            writes = [call.attr for call in calls if isinstance(call, ast.Attribute) and call.attr in WRITES]
            self.assertEqual(writes, [], name)
