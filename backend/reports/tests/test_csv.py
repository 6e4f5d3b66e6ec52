import csv
import io
from datetime import date

from django.test import SimpleTestCase, TestCase

from designs.services import open_run
from people.services import add_team
from people.tests.support import Api, Ledger, checked_in, recipe, run, school_class, teacher
from reports.csv_file import safe_cell
from reports.tables import LEDGER_HEADER, results_header

FORMULA = "=cmd()|' /C calc'!A0"


class Cells(SimpleTestCase):
    def test_what_a_spreadsheet_would_run_is_neutralised(self) -> None:
        for text in (FORMULA, "+1", "-1", "@SUM(A1)", "\tx", "\rx", "  =1+1"):
            self.assertEqual(safe_cell(text), f"'{text}")

    def test_numbers_and_plain_words_stay_as_they_are(self) -> None:
        self.assertEqual([safe_cell(v) for v in ("Tern", 1.5, -2, None, "a=b")], ["Tern", 1.5, -2, "", "a=b"])


class Downloads(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada, teams=(FORMULA, "<script>x</script>"))
        self.first = checked_in(self.run_.designs.all()[0], "30 g")
        ledger = Ledger(self.api, self.first)
        ledger.hold("platform")
        ledger.hold("nut", 30)
        ledger.add("observe", sign="crack")
        ledger.add("place", item="nut", count=2)
        ledger.add("undo", event=ledger.sent[-1]["id"])
        ledger.add("place", item="nut", count=1)
        ledger.add("fail", mode="crimp", note="+ridge")

    def rows(self, name: str) -> list[dict[str, str]]:
        response = self.api.call("GET", f"runs/{self.run_.pk}/{name}.csv")[1]
        text = response.content.decode("utf-8-sig")
        self.assertIn("attachment", response["Content-Disposition"])
        return list(csv.DictReader(io.StringIO(text)))

    def test_results(self) -> None:
        tested, untested = self.rows("results")
        self.assertEqual(list(tested), results_header(self.run_))
        for column in ("gap_m", "overlap_left_m", "tape_m", "self_mass_kg"):
            self.assertIn(column, tested)
        self.assertEqual(tested["team"], f"'{FORMULA}")
        self.assertEqual(untested["team"], "<script>x</script>")
        self.assertAlmostEqual(float(tested["held_kg"]), 0.490)
        self.assertAlmostEqual(float(tested["broke_at_kg"]), 0.505)
        self.assertAlmostEqual(float(tested["times_own_weight"]), 0.490 / 0.030)
        self.assertEqual((tested["failure_or_reason"], tested["outcome"]), ("Crimped", "broke"))
        self.assertIn("Crack heard or seen at 0.4900 kg", tested["signs"])
        self.assertEqual((untested["outcome"], untested["held_kg"]), ("waiting", ""))

    def test_every_quantity_says_its_unit_in_the_header(self) -> None:
        for column in results_header(self.run_):
            if column.split("_")[0] in ("held", "broke", "gap", "overlap", "tape", "self") and "after" not in column:
                self.assertTrue(column.endswith(("_kg", "_m")), column)

    def test_ledger_holds_every_event_the_undone_ones_too(self) -> None:
        rows = self.rows("ledger")
        self.assertEqual(list(rows[0]), LEDGER_HEADER)
        kinds = ["place", "settle", "place", "settle", "observe", "place", "undo", "place", "fail"]
        self.assertEqual([row["kind"] for row in rows], kinds)
        self.assertEqual([row["sequence"] for row in rows], [str(n) for n in range(1, 10)])
        self.assertEqual((rows[-1]["detail"], rows[-1]["note"]), ("Crimped", "'+ridge"))
        self.assertEqual([row["stands"] for row in rows], [*["stands"] * 5, "struck", *["stands"] * 3])
        self.assertEqual({row["author"] for row in rows}, {"Ada"})
        self.assertAlmostEqual(float(rows[2]["step_kg"]), 0.450)

    def test_what_a_force_log_said_stands_beside_its_load(self) -> None:
        ledger = Ledger(self.api, checked_in(self.run_.designs.all()[1]))
        said = {"source": "force_log", "says": "It held 12 N and broke at 7 s."}
        ledger.add("load_reading", mass="12 N", resolution="0.1 N", **said)
        (row,) = [row for row in self.rows("ledger") if row["kind"] == "load_reading"]
        self.assertEqual((row["detail"], row["note"]), ("12 N", said["says"]))

    def test_an_empty_run_still_has_its_header(self) -> None:
        other = teacher("Bo")
        made = school_class(other, teams=())
        add_team(made, "Tern")
        empty = open_run(recipe(other), made, date(2026, 11, 3))
        response = Api(other).call("GET", f"runs/{empty.pk}/ledger.csv")[1]
        self.assertEqual(response.content.decode("utf-8-sig").strip(), ",".join(LEDGER_HEADER))
