"""Tests and checks."""

from __future__ import annotations

import contextlib
import os
import subprocess
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path

import machine
import project
import vetting
from paths import BACKEND, FRONTEND, PYTHON, ROOT, STATE
from postgres import Cluster
from say import Problem, say, warn
from serve import database_environment

SCHEMA = BACKEND / "openapi.yaml"
TYPES = FRONTEND / "src" / "api" / "schema.d.ts"


def _run(command: Sequence[str | Path], cwd: Path, env: dict[str, str] | None = None) -> bool:
    return subprocess.run([str(c) for c in command], cwd=cwd, env=env).returncode == 0


CORE = "girder_core"
QUICK = "--quick"
BROWSER_TESTS = "e2e"
SIDE_BY_SIDE = 3
"""More test processes than cores, because a browser's test is mostly waiting; each has a database of its own."""


def test(arguments: Sequence[str]) -> int:
    """The whole suite; with ``--quick`` neither browser nor printing; or what the arguments name in Django's way.

    Each part asks only for what it uses: the browser and the built interface are for the browser's tests alone.
    """
    machine.check_python()
    quick, asked = QUICK in arguments, [name for name in arguments if name != QUICK]
    core_names = [name for name in asked if _package(name) == CORE]
    names = [name for name in asked if _package(name) != CORE] or ([] if core_names else _django_tests(quick))
    began = time.monotonic()
    passed = True
    with contextlib.ExitStack() as stack:
        # The core's tests take what the others leave of the machine, and say what became of them at the end.
        core = stack.enter_context(_CoreTests(core_names, bool(names), quick)) if core_names or not asked else None
        if names:
            passed = _test_django(names, bool(asked), quick)
        if core is not None:
            passed = core.passed() and passed
    say(f"the tests took {time.monotonic() - began:.0f} s")
    return 0 if passed else 1


def _package(name: str) -> str:
    return name.split(".")[0]


def _test_django(names: Sequence[str], one_by_one: bool, quick: bool) -> bool:
    """Django's tests of these names, in as many processes as are of use."""
    project.python_environment("test")
    machine.need_document_libraries()
    machine.need_document_reader()
    if not quick:
        machine.need_network_tools()
    node = project.node_modules()
    with_browser = any(_package(name) == BROWSER_TESTS for name in names)
    if with_browser:
        machine.need_browser()
        project.built_interface()
    cluster = Cluster("test", durable=False)
    try:
        cluster.start()
        say("testing the API, the documents and the interface" + (", in a real browser too" if with_browser else ""))
        env = {**database_environment(cluster), "PATH": node["PATH"]}
        command: list[str | Path] = [PYTHON, "manage.py", "test", "--noinput"]
        if not one_by_one:
            command += ["--parallel", str(SIDE_BY_SIDE)]
        if quick:
            # Printed documents, servers in processes of their own, instruments at their real pace, the whole demo.
            command += ["--exclude-tag", "slow"]
            env["GIRDER_QUICK"] = "1"
        return _run([*command, *names], BACKEND, env)
    finally:
        cluster.remove()


class _CoreTests(contextlib.AbstractContextManager["_CoreTests"]):
    """The core's tests, in an environment that has no web framework and the packages it is held against.

    Those that run ``aside`` give way to whatever else runs, and what they say is kept until they are asked.
    """

    def __init__(self, names: Sequence[str], aside: bool, quick: bool) -> None:
        core = project.python_environment("core-test", STATE / "core-venv")
        say("testing the core alone, without the web framework")
        env = {k: v for k, v in os.environ.items() if k != "PYTHONPATH"} | project.ONE_THREAD
        env |= {"GIRDER_QUICK": "1"} if quick else {}
        absent = "import importlib.util as u, sys; sys.exit(u.find_spec('django') is not None)"
        if not _run([core, "-c", absent], BACKEND, env):
            raise Problem("The core's environment is not free of the web framework.")
        self._said = tempfile.TemporaryFile() if aside else None  # noqa: SIM115
        command = [*(["nice", "-n", "10"] if aside else []), str(core), "-m", "girder_core.tests", *names]
        self._process = subprocess.Popen(
            command, cwd=BACKEND, env=env, stdout=self._said, stderr=self._said and subprocess.STDOUT
        )

    def passed(self) -> bool:
        """Waits for them, and tells what they said."""
        passed = self._process.wait() == 0
        if self._said is not None:
            self._said.seek(0)
            say("the core alone, tested meanwhile:")
            print(self._said.read().decode(errors="replace"), flush=True)
        if not passed:
            warn("the core's tests failed")
        return passed

    def __exit__(self, *_: object) -> None:
        if self._process.poll() is None:
            self._process.terminate()
            self._process.wait()


def _django_tests(quick: bool = False) -> list[str]:
    """The packages with tests, but for the core, which is tested in its own environment; the quick ones need no
    browser."""
    found = {file.relative_to(BACKEND).parts[0] for file in BACKEND.rglob("test_*.py")}
    return sorted(found - {CORE} - ({BROWSER_TESTS} if quick else set()))


_STRICT = ("--fail-level", "WARNING")


def check() -> int:
    """Lint, types, and drift of schema, generated types and migrations; all are run, then the failures named."""
    machine.check_python()
    project.python_environment("test")
    node = project.node_modules()
    bin_ = PYTHON.parent
    env = {**os.environ, **project.base_environment()}
    # The history in a database is not asked, so that checks need none.
    no_database = {**env, "PYTHONWARNINGS": "ignore::RuntimeWarning"}
    targets = [BACKEND, ROOT / "launcher"]
    failures = []
    checks: list[tuple[str, list[str | Path], Path, dict[str, str]]] = [
        ("ruff", [bin_ / "ruff", "check", *targets], ROOT, env),
        ("ruff format", [bin_ / "ruff", "format", "--check", "--quiet", *targets], ROOT, env),
        ("mypy", [bin_ / "mypy", "."], BACKEND, env),
        ("imports", [bin_ / "lint-imports"], BACKEND, env),
        ("mypy launcher", [bin_ / "mypy", "."], ROOT / "launcher", {**env, "PYTHONPATH": ""}),
        ("eslint and prettier", ["npm", "run", "--silent", "lint"], FRONTEND, node),
        ("tsc", ["npm", "run", "--silent", "typecheck"], FRONTEND, node),
        ("what is served on loopback", [PYTHON, "manage.py", "check", "--deploy", *_STRICT], BACKEND, env),
        (
            "what is served behind TLS",
            [PYTHON, "manage.py", "check", "--deploy", *_STRICT],
            BACKEND,
            {**env, "GIRDER_TLS": "1"},
        ),
        (
            "what is shared, encrypted",
            [PYTHON, "manage.py", "check", "--deploy", *_STRICT],
            BACKEND,
            {**env, "GIRDER_ENCRYPTS": "1", "GIRDER_SHARED": "1"},
        ),
        ("migrations", [PYTHON, "manage.py", "makemigrations", "--check", "--dry-run"], BACKEND, no_database),
    ]
    for name, command, cwd, environment in checks:
        say(f"checking {name}")
        if not _run(command, cwd, environment):
            failures.append(name)
    say("checking that schema and types are what the code says")
    with tempfile.TemporaryDirectory() as folder:
        schema, types = Path(folder) / "openapi.yaml", Path(folder) / "schema.d.ts"
        if not _generate(schema, types, env, node):
            failures.append("schema generation")
        else:
            for made, kept in ((schema, SCHEMA), (types, TYPES)):
                if not kept.exists() or made.read_text() != kept.read_text():
                    failures.append(f"{kept.relative_to(ROOT)} (run ./girder types)")
    say("checking licences, and what is known to be weak")
    if not vetting.licences():
        failures.append("licences")
    if not vetting.NOTICE.exists() or vetting.NOTICE.read_text("utf-8") != vetting.notice():
        failures.append("NOTICE (run ./girder notice)")
    if not vetting.known_weaknesses(node):
        failures.append("known weaknesses")
    if failures:
        warn(f"checks failed: {', '.join(failures)}")
        return 1
    say("all checks passed")
    return 0


def notice() -> int:
    """Write NOTICE again."""
    project.python_environment("test")
    project.node_modules()
    vetting.write_notice()
    return 0


def types() -> int:
    """Write the API schema and the TypeScript types again."""
    project.python_environment("test")
    node = project.node_modules()
    return 0 if _generate(SCHEMA, TYPES, {**os.environ, **project.base_environment()}, node) else 1


def _generate(schema: Path, types_file: Path, env: dict[str, str], node: dict[str, str]) -> bool:
    made = _run([PYTHON, "manage.py", "spectacular", "--file", schema, "--validate", "--fail-on-warn"], BACKEND, env)
    command = [FRONTEND / "node_modules" / ".bin" / "openapi-typescript", schema, "-o", types_file]
    return (
        made and subprocess.run([str(c) for c in command], cwd=FRONTEND, env=node, capture_output=True).returncode == 0
    )


def shots(arguments: Sequence[str]) -> int:
    """Take the pictures in docs/screenshots again, from the demo."""
    project.python_environment("test")
    machine.need_browser()
    project.built_interface()
    cluster = Cluster("shots", durable=False)
    try:
        cluster.start()
        env = database_environment(cluster)
        machine.run([PYTHON, "manage.py", "migrate", "-v0"], "Migrating", cwd=BACKEND, env=env)
        return 0 if _run([PYTHON, "-m", "e2e.shots", ROOT / "docs" / "screenshots", *arguments], BACKEND, env) else 1
    finally:
        cluster.remove()
