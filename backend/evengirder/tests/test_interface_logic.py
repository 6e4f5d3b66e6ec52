"""The interface's logic without a browser: vitest, against the core's words and the real server's rules."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import tempfile
from datetime import date
from pathlib import Path
from typing import Any

from django.test import Client

from challenges.library import take
from designs import services as designing
from e2e.served import ServedTest, shared_servers
from evengirder.tests.told import reads_back, told
from people.tests.support import checked_in, recipe, run, school_class, teacher

FRONTEND = Path(__file__).resolve().parents[3] / "frontend"
LONGEST_S = 600.0
BRIDGES = ("bridge", "lossy_bridge", "sender_bridge", "begun_bridge")
"""Runs of a bridge; files of tests run at the same time, so those that test trials have a run each."""
IN_ROUNDS = {
    "shake_tower": "harbour-watchtower", "wall": "storm-wall", "boat": "clay-lighters",
    "boat_to_check_in": "clay-lighters",
}  # fmt: skip


class InterfaceLogic(ServedTest):
    """One run of vitest; each of its cases is named, and each that fails is a failure here."""

    takes_s = 100

    def world(self) -> dict[str, Any]:
        """A teacher with runs to test at, and how to reach the server as that teacher."""
        ada = teacher()
        quick = {"gap_m": "30 cm", "hold_s": "1 s", "bench_limit_kg": "3 kg"}
        runs = {}
        kept, classed = recipe(ada, setup=quick), school_class(ada, ("Tern", "Auk", "Rail", "Skua"))
        for name in BRIDGES:
            bridges = designing.open_run(kept, classed, date(2026, 11, 3))
            designs = [checked_in(design).pk for design in bridges.designs.all()]
            runs[name] = {"run": bridges.pk, "designs": designs}
        for name, key in IN_ROUNDS.items():
            made = designing.open_run(take(ada, key), classed, date(2026, 11, 3))
            runs[name] = {"run": made.pk, "designs": [design.pk for design in made.designs.all()]}
        fresh = run(teacher("Bea"), setup=quick)
        client = Client()
        client.force_login(ada)
        bea = Client()
        bea.force_login(fresh.school_class.owner)
        return {
            "server": shared_servers()[0].address,
            "session": client.cookies["sessionid"].value,
            "runs": runs,
            "other": {"session": bea.cookies["sessionid"].value, "run": fresh.pk,
                      "designs": [design.pk for design in fresh.designs.all()]},
        }  # fmt: skip

    def test_every_case(self) -> None:
        node = shutil.which("npx")
        if node is None or not (FRONTEND / "node_modules" / "vitest").is_dir():
            raise AssertionError("vitest is not installed. Run these tests with ./girder test, which installs it.")
        only = os.environ.get("GIRDER_VITEST", "").split()
        with tempfile.TemporaryDirectory() as folder:
            given, report, back = (Path(folder) / name for name in ("told.json", "report.json", "typed.json"))
            given.write_text(json.dumps({**told(), "world": self.world()}))
            env = {**os.environ, "GIRDER_TOLD": str(given), "GIRDER_TYPED": str(back), "CI": "1", "NO_COLOR": "1"}
            done = subprocess.run(
                [node, "vitest", "run", "--reporter=verbose", "--reporter=json", f"--outputFile.json={report}",
                 *only],
                cwd=FRONTEND, env=env, capture_output=True, text=True, timeout=LONGEST_S,
            )  # fmt: skip
            print(done.stdout, flush=True)
            if not report.exists():
                raise AssertionError(f"vitest did not run:\n{done.stdout[-4000:]}\n{done.stderr[-4000:]}")
            results = json.loads(report.read_text())
            typed = json.loads(back.read_text()) if back.exists() else []
        cases = [case for file in results["testResults"] for case in file["assertionResults"]]
        for file in results["testResults"]:
            with self.subTest(file["name"]):
                self.assertTrue(file["assertionResults"], file.get("message") or "no case ran")
        for case in cases:
            with self.subTest(case["fullName"]):
                self.assertEqual(case["status"], "passed", "\n".join(case.get("failureMessages") or []))
        self.assertEqual(done.returncode, 0, f"{done.stdout[-3000:]}\n{done.stderr[-3000:]}")
        self.assertGreater(len(cases), 0)
        self.assertTrue(typed or only)
        for sample in typed:
            with self.subTest(f"{sample['text']} is read back"):
                self.assertTrue(reads_back(sample["text"], sample["kind"], sample["value"]), sample)
