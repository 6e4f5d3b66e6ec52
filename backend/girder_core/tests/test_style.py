"""The core keeps its own rules: documented arguments, nothing that reaches outside."""

import ast
import inspect
import pkgutil
import re
import unittest
from importlib import import_module
from pathlib import Path

import girder_core

ROOT = Path(girder_core.__file__).parent
SOURCES = [path for path in ROOT.rglob("*.py") if "tests" not in path.parts]
BANNED = {"open", "print", "input", "eval", "exec", "compile", "__import__"}
"""What needs no import to reach outside; what does is a contract in pyproject.toml."""


def modules() -> list[str]:
    modules = pkgutil.walk_packages(girder_core.__path__, "girder_core.")
    return [module.name for module in modules if ".tests" not in module.name]


class Docstrings(unittest.TestCase):
    def test_every_public_function_documents_each_argument(self) -> None:
        checked = 0
        for name in modules():
            module = import_module(name)
            for label, function in inspect.getmembers(module, inspect.isfunction):
                if function.__module__ != name or label.startswith("_"):
                    continue
                checked += 1
                doc = function.__doc__ or ""
                for argument in inspect.signature(function).parameters:
                    self.assertIn(f"        {argument}: ", doc, f"{name}.{label} does not document {argument}")
                self.assertIn("Returns:", doc, f"{name}.{label}")
        self.assertGreater(checked, 20)

    def test_arguments_that_carry_a_unit_say_it_in_brackets(self) -> None:
        units = {"_kg": "[kg]", "_m": "[m]", "_s": "[s]", "_n": "[N]", "_pa": "[Pa]", "_hz": "[Hz]", "_m2": "[m²]",
                 "_m4": "[m⁴]", "_n_m": "[N/m]", "_m_s": "[m/s]", "_n_s": "[N/s]",
                 "_kg_m": "[kg/m]", "_kg_m2": "[kg/m²]", "_kg_m3": "[kg/m³]"}  # fmt: skip
        for name in modules():
            for label, function in inspect.getmembers(import_module(name), inspect.isfunction):
                if function.__module__ != name or label.startswith("_"):
                    continue
                for argument in inspect.signature(function).parameters:
                    for suffix in sorted(units, key=len, reverse=True):
                        if argument.endswith(suffix):
                            unit = units[suffix]
                            described = re.search(rf"        {argument}: (.*(?:\n {{12}}.*)*)", function.__doc__ or "")
                            self.assertIn(unit, described[1] if described else "", f"{name}.{label}({argument})")
                            break


class Builtins(unittest.TestCase):
    def test_nothing_from_outside_the_rules(self) -> None:
        self.assertGreater(len(SOURCES), 10)
        for path in SOURCES:
            for node in ast.walk(ast.parse(path.read_text("utf-8"))):
                if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
                    self.assertNotIn(node.func.id, BANNED, f"{path.name}:{node.lineno}: bring it from outside the core")


class Validation(unittest.TestCase):
    """Figures from outside say how they came about."""

    LONG = re.compile(r"(?<![\w.])(\d+\.\d{7,}(?:e-?\d+)?|\d{9,})")
    # Exact by definition, as its own first line says.
    BY_DEFINITION = frozenset({"test_si_brochure_units.py"})

    def test_a_long_figure_has_its_formula_beside_it(self) -> None:
        explained = 0
        for file in sorted((ROOT / "tests" / "validation").glob("test_*.py")):
            source = file.read_text("utf-8")
            lines = source.splitlines()
            functions = [node for node in ast.walk(ast.parse(source)) if isinstance(node, ast.FunctionDef)]
            for number, line in enumerate(lines, start=1):
                if file.name in self.BY_DEFINITION or not self.LONG.search(line.split("#")[0]):
                    continue
                around = [function for function in functions if function.lineno <= number <= (function.end_lineno or 0)]
                self.assertTrue(around, f"{file.name}:{number}: a long figure outside a test")
                body = "\n".join(lines[around[-1].lineno : number])
                self.assertIn(
                    "# Worked out apart from this code:", body, f"{file.name}:{number}: how did it come about?"
                )
                explained += 1
        self.assertGreater(explained, 20)
