"""What the documents say is so: commands exist, pictures are there, every formula is listed."""

import inspect
import json
import os
import pkgutil
import re
import socket
import subprocess
import sys
import tempfile
from importlib import import_module
from pathlib import Path

from django.test import SimpleTestCase

import girder_core
from girder_core.ground import Rule

ROOT = Path(__file__).resolve().parents[3]
DOCUMENTS = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted((ROOT / "docs").glob("*.md"))]
OF_A_KIND = ("families", "drafting")
"""Rooms with a module for each kind, which offers no formula; what else is in them is listed."""
BESIDES = [
    "families", "families.constraints", "families.standing", "families.keys", "families.telling", "drafting",
    "drafting.engine",
]  # fmt: skip


def girder(*arguments: str, **environment: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, str(ROOT / "launcher"), *arguments]
    return subprocess.run(command, capture_output=True, text=True, env={**os.environ, **environment}, timeout=60)


class Commands(SimpleTestCase):
    def test_every_documented_command_exists(self) -> None:
        usage = girder("help").stdout
        named = {word for file in DOCUMENTS for word in re.findall(r"\./girder ([a-z-]+)", file.read_text("utf-8"))}
        self.assertGreaterEqual(named, {"start", "test", "check"})
        for word in named - {"help"}:
            self.assertIn(f"./girder {word} ", usage)

    def test_an_unknown_command_fails_and_helps(self) -> None:
        done = girder("fly")
        self.assertEqual(done.returncode, 2)
        self.assertIn("./girder start", done.stdout)

    def test_ci_runs_the_documented_commands(self) -> None:
        script = (ROOT / ".ci" / "run").read_text("utf-8")
        self.assertIn("./girder check", script)
        self.assertIn("./girder test", script)

    def test_reset_asks_first(self) -> None:
        # On a state of its own: nothing of whoever runs this is at stake.
        with tempfile.TemporaryDirectory() as state:
            demo = Path(state) / "stamps" / "demo"
            demo.parent.mkdir()
            demo.write_text("there")
            command = [sys.executable, str(ROOT / "launcher"), "reset"]
            env = {**os.environ, "GIRDER_STATE": state}
            for said in ("no\n", "", "YES\n"):
                done = subprocess.run(command, capture_output=True, text=True, input=said, timeout=60, env=env)
                self.assertEqual(done.returncode, 1)
                self.assertIn("nothing was deleted", done.stdout)
                self.assertTrue(demo.exists())
            done = subprocess.run(command, capture_output=True, text=True, input="yes\n", timeout=60, env=env)
            self.assertIn("deleted; the next start", done.stdout)
            self.assertFalse(demo.exists())


class _NoCluster:
    """A database cluster that is never there."""

    def __init__(self, *_: object, **__: object) -> None: ...

    def start(self) -> None: ...

    def remove(self) -> None: ...


class Launcher(SimpleTestCase):
    """Parts of the launcher that answer without installing anything."""

    def setUp(self) -> None:
        sys.path.insert(0, str(ROOT / "launcher"))
        self.addCleanup(sys.path.remove, str(ROOT / "launcher"))

    def test_a_taken_port_is_said(self) -> None:
        serve, say = import_module("serve"), import_module("say")
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            os.environ["GIRDER_PORT"] = str(taken.getsockname()[1])
            self.addCleanup(os.environ.pop, "GIRDER_PORT", None)
            with self.assertRaises(say.Problem) as caught:
                serve.choose_port()
        self.assertIn("is taken", str(caught.exception))

    def test_the_core_is_tested_apart_and_everything_else_together(self) -> None:
        verify = import_module("verify")
        named = verify._django_tests()
        self.assertNotIn("girder_core", named)
        self.assertEqual(set(named) - set(verify._django_tests(quick=True)), {"e2e"})
        for package in ("bench", "challenges", "demo", "drafting", "e2e", "evengirder", "people", "reports"):
            self.assertIn(package, named)

    def test_a_browser_is_asked_for_by_its_own_tests_alone(self) -> None:
        verify = import_module("verify")
        asked: list[str] = []
        for owner, name in ((verify.machine, "need_browser"), (verify.project, "built_interface")):
            self.addCleanup(setattr, owner, name, getattr(owner, name))
            setattr(owner, name, lambda name=name: asked.append(name))
        quiet = {
            (verify.machine, "need_document_libraries"): None, (verify.machine, "need_document_reader"): None,
            (verify.project, "python_environment"): Path("/nowhere"), (verify.project, "node_modules"): {"PATH": ""},
        }  # fmt: skip
        for (owner, name), answer in quiet.items():
            self.addCleanup(setattr, owner, name, getattr(owner, name))
            setattr(owner, name, lambda *_, answer=answer: answer)
        for name, stand_in in (
            ("Cluster", _NoCluster),
            ("_run", lambda *_: True),
            ("database_environment", lambda cluster: {}),
        ):
            self.addCleanup(setattr, verify, name, getattr(verify, name))
            setattr(verify, name, stand_in)
        self.assertEqual((verify.test(["bench.tests"]), asked), (0, []))
        self.assertEqual((verify.test(["e2e.test_page"]), asked), (0, ["need_browser", "built_interface"]))

    def test_oracles_are_for_tests_alone(self) -> None:
        folder = ROOT / "backend" / "requirements"
        core_tests = (folder / "core-test.txt").read_text("utf-8").lower()
        for package in ("anastruct", "pynitefea", "sectionproperties"):
            self.assertIn(f"{package}==", core_tests)
            for other in ("app.txt", "core.txt", "test.txt"):
                self.assertNotIn(f"{package}==", (folder / other).read_text("utf-8").lower())

    def test_a_full_disk_and_an_old_python_are_said(self) -> None:
        machine, say = import_module("machine"), import_module("say")
        for name, impossible in (("DISK_NEEDED_GB", 10**9), ("PYTHON_NEEDED", (99, 0))):
            self.addCleanup(setattr, machine, name, getattr(machine, name))
            setattr(machine, name, impossible)
        for check, words in ((machine.check_disk, "free on the disk"), (machine.check_python, "is too old")):
            with self.assertRaises(say.Problem) as caught:
                check()
            self.assertIn(words, str(caught.exception))

    def test_without_apt_the_missing_package_is_named(self) -> None:
        machine, say = import_module("machine"), import_module("say")
        path = os.environ["PATH"]
        self.addCleanup(os.environ.__setitem__, "PATH", path)
        os.environ["PATH"] = "/nowhere"
        with self.assertRaises(say.Problem) as caught:
            machine.apt_install(["postgresql"])
        self.assertIn("postgresql missing, and there is no apt-get here", str(caught.exception))

    def test_a_stamp_is_fresh_until_a_file_changes(self) -> None:
        paths = import_module("paths")
        file = paths.ROOT / "backend" / "e2e" / "__init__.py"
        before = paths.fingerprint(file)
        self.assertEqual(before, paths.fingerprint(file))
        self.assertNotEqual(before, paths.fingerprint(file.parent))


class Pictures(SimpleTestCase):
    def test_links_lead_to_files_and_every_picture_is_linked(self) -> None:
        readme = (ROOT / "README.md").read_text("utf-8")
        for file in DOCUMENTS:
            for link in re.findall(r"\]\(([^)#]+)\)", file.read_text("utf-8")):
                if "://" not in link:
                    self.assertTrue((file.parent / link).exists(), f"{file.name}: {link}")
        for picture in (ROOT / "docs" / "screenshots").glob("*.png"):
            self.assertIn(picture.name, readme)


class Slips(SimpleTestCase):
    def test_every_test_that_is_said_to_see_a_slip_put_right_is_there(self) -> None:
        page = (ROOT / "docs" / "slips.md").read_text("utf-8")
        rows = [line for line in page.splitlines() if line.startswith("| ") and "| seen working by" not in line]
        rows = [row for row in rows if "---" not in row]
        self.assertGreater(len(rows), 20)
        for row in rows:
            named = re.findall(r"`([\w./]+)`", row.rsplit("|", 2)[1])
            self.assertTrue(named, row)
            for name in named:
                path = ROOT / name if "/" in name else ROOT / "backend" / f"{name.replace('.', '/')}.py"
                self.assertTrue(path.is_file(), name)


class Formulas(SimpleTestCase):
    def test_every_public_function_of_the_core_is_listed(self) -> None:
        page = (ROOT / "docs" / "formulas.md").read_text("utf-8")
        listed = 0
        rooms = [
            module.name.removeprefix("girder_core.")
            for module in pkgutil.walk_packages(girder_core.__path__, "girder_core.")
            if module.name.split(".")[1] not in ("tests", *OF_A_KIND)
        ]
        self.assertGreater(len(rooms), 40)
        for name in [*rooms, *BESIDES]:
            module = import_module(f"girder_core.{name}")
            for label, function in inspect.getmembers(module, inspect.isfunction):
                if function.__module__ == module.__name__ and not label.startswith("_"):
                    self.assertTrue(f"`{label}`" in page, f"girder_core.{name}.{label} is not in formulas.md")
                    listed += 1
        self.assertGreater(listed, 20)


class WhyANumber(SimpleTestCase):
    def test_every_rule_that_an_origin_names_has_its_heading(self) -> None:
        page = (ROOT / "docs" / "formulas.md").read_text("utf-8")
        headings = set(re.findall(r"^## ([^:\n]+):", page, re.M))
        rules: list[Rule] = []
        for module in pkgutil.walk_packages(girder_core.__path__, "girder_core."):
            if module.name.endswith(".origins"):
                for value in vars(import_module(module.name)).values():
                    rules += [rule for rule in (value.values() if isinstance(value, dict) else [value])
                              if isinstance(rule, Rule)]  # fmt: skip
        self.assertGreater(len(rules), 25)
        for rule in rules:
            self.assertIn(rule.section, headings, rule)


class Dependencies(SimpleTestCase):
    def asked_for(self) -> set[str]:
        """What is asked for by name, on the server and in the interface."""
        names = set()
        for file in (ROOT / "backend" / "requirements").glob("*.in"):
            for line in file.read_text("utf-8").splitlines():
                if line and not line.startswith(("#", "-r ")):
                    self.assertRegex(line, r"^[\w.-]+(\[\w+\])?==[\w.]+$", f"{file.name} pins every version")
                    names.add(re.split(r"[=\[]", line)[0])
        package = json.loads((ROOT / "frontend" / "package.json").read_text("utf-8"))
        for part in ("dependencies", "devDependencies"):
            for name, version in package[part].items():
                self.assertRegex(version, r"^\d[\w.-]*$", f"package.json pins {name}")
                names.add(name)
        return names

    def test_every_package_is_pinned_and_justified(self) -> None:
        page = (ROOT / "docs" / "dependencies.md").read_text("utf-8")
        named = {name for row in re.findall(r"^\| (`.*?) \|", page, re.M) for name in re.findall(r"`([^`]+)`", row)}
        self.assertEqual(named, self.asked_for())

    def test_what_is_tested_is_what_is_served(self) -> None:
        served, tested = (
            dict(re.findall(r"^([\w.-]+)==(\S+)", (ROOT / "backend" / "requirements" / file).read_text("utf-8"), re.M))
            for file in ("app.txt", "test.txt")
        )
        self.assertGreater(len(served), 20)
        self.assertEqual({name: tested.get(name) for name in served}, served)

    def test_what_is_installed_is_locked_by_its_contents(self) -> None:
        for file in (ROOT / "backend" / "requirements").glob("*.txt"):
            text = file.read_text("utf-8")
            packages = re.findall(r"^[\w.-]+(?:\[[\w,]+\])?==.*(?:\n    --hash=sha256:[0-9a-f]{64}.*)*", text, re.M)
            self.assertGreater(len(packages), 4)
            for package in packages:
                self.assertIn("--hash=sha256:", package, f"{file.name}: {package}")
