"""Results from a table: read, understood, previewed, taken in whole, or refused line by line."""

from __future__ import annotations

import base64
import io
from typing import Any

from django.test import SimpleTestCase, TestCase
from openpyxl import Workbook

from bench.models import Trial
from designs.models import Reading
from girder_core.ground import GirderError
from girder_core.trial import Outcome
from people.tests.support import Api, run, teacher
from records.table_file import Table, read_table

CSV = """Team;nut;How it ended;Own weight (g)
Tern;12;crimped;30,5
auk;20;no more load;41
"""


def xlsx(*rows: list[Any], merge: str = "", before: str = "") -> bytes:
    """A workbook with the rows on a sheet “Results”; ``before`` is the name of a sheet before it, with a title only."""
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    if before:
        sheet.title = before
        sheet.append(["Bridge day"])
        sheet = book.create_sheet()
    sheet.title = "Results"
    for row in rows:
        sheet.append(row)
    if merge:
        sheet.merge_cells(merge)
    data = io.BytesIO()
    book.save(data)
    return data.getvalue()


class Tables(SimpleTestCase):
    def cells(self, table: Table) -> list[tuple[str, ...]]:
        return [row.cells for row in table.rows]

    def test_separators_decimal_commas_and_letters(self) -> None:
        for text in ("Team,Held\nTern,12\n", "Team;Held\nTern;12\n", "Team\tHeld\nTern\t12\n"):
            self.assertEqual(self.cells(read_table(text.encode())), [("Tern", "12")])
        self.assertEqual(self.cells(read_table("Team;Weight\nØrret;30,5\n".encode())), [("Ørret", "30,5")])
        self.assertEqual(self.cells(read_table("Team;Weight\nØrret;30,5\n".encode("cp1252"))), [("Ørret", "30,5")])
        self.assertEqual(self.cells(read_table(b'Team,Note\nTern,"a, b"\n')), [("Tern", "a, b")])

    def test_titles_empty_rows_and_lines(self) -> None:
        table = read_table(b"Bridge day\n\nTeam,Held\nTern,12\n\nAuk,13\n")
        self.assertEqual(table.header, ("Team", "Held"))
        self.assertEqual([row.line for row in table.rows], [4, 6])

    def test_a_workbook_with_a_merged_header_and_formulas(self) -> None:
        made = xlsx(
            ["Team", "Load", None], [None, "nut", "bag"], ["Tern", 12, 1.5], ["Auk", "=B3+1", None], merge="B1:C1"
        )
        table = read_table(made)
        self.assertEqual(table.header, ("Team", "Load nut", "Load bag"))
        # A formula that no spreadsheet has worked out yet holds nothing.
        self.assertEqual(self.cells(table), [("Tern", "12", "1.5"), ("Auk", "", "")])

    def test_what_is_no_table(self) -> None:
        for data, code in (
            (b"", "not_a_table"), (b"one\ntwo\n", "not_a_table"), (b"%PDF-1.7 ...", "not_a_table"),
            (b"PK\x03\x04 no workbook", "not_a_table"), (b"a,b\n\x00,1\n", "not_a_table"),
            (b"Team,Held\n" + b"Tern,1\n" * 50_000, "too_many_rows"), (b"x" * (11 * 1024 * 1024), "file_too_large"),
        ):  # fmt: skip
            with self.assertRaises(GirderError) as caught:
                read_table(data)
            self.assertEqual(caught.exception.code, code, data[:20])

    def test_a_sheet_is_found_or_named(self) -> None:
        made = xlsx(["Team", "nut"], ["Tern", 12], before="Cover")
        table = read_table(made)
        self.assertEqual((table.sheet, table.sheets, table.header), ("Results", ("Cover", "Results"), ("Team", "nut")))
        self.assertEqual(read_table(made, "Results"), table)
        for asked, code in (("Cover", "not_a_table"), ("Wall", "no_such_sheet")):
            with self.assertRaises(GirderError) as caught:
                read_table(made, asked)
            self.assertEqual(caught.exception.code, code)


class BringingIn(TestCase):
    def setUp(self) -> None:
        self.run_ = run(teacher(), school="most_held")
        self.api = Api(self.run_.school_class.owner)

    def table(self, data: str | bytes, meaning: list[str] | None = None, keep: bool = False) -> Any:
        raw = data if isinstance(data, bytes) else data.encode()
        body = {"data": base64.b64encode(raw).decode(), "meaning": meaning, "keep": keep}
        return self.api.send("POST", f"runs/{self.run_.pk}/results-table", body)

    def test_a_preview_keeps_nothing_and_taking_in_keeps_all(self) -> None:
        seen = self.table(CSV)
        self.assertEqual(
            [column["meaning"] for column in seen["columns"]], ["team", "held:nut", "end", "reading:self_mass"]
        )
        # The bridge's gap and rests were never measured, and check-in asks for them.
        self.assertIn("Still to do", seen["errors"][0]["sentence"])
        whole = CSV.replace("(g)\n", "(g);Clear gap;Rests on the left;Rests on the right\n").replace(
            "30,5\n", "30,5;30 cm;4 cm;4 cm\n").replace("41\n", "41;30 cm;4 cm;4 cm\n")  # fmt: skip
        seen = self.table(whole)
        self.assertEqual((seen["trials"], seen["readings"], seen["errors"], seen["kept"]), (2, 8, [], False))
        self.assertEqual((Trial.objects.count(), Reading.objects.count()), (0, 0))
        done = self.table(whole, [column["meaning"] for column in seen["columns"]], keep=True)
        self.assertTrue(done["kept"])
        ranked = self.api.get(f"runs/{self.run_.pk}/comparison")["ranked"]
        # 40 g of tray and 20 or 12 nuts of 15 g; Auk ran out, Tern broke on the nut after the twelfth.
        self.assertEqual([(row["team"]["name"], round(row["score"]["held_kg"], 3)) for row in ranked],
                         [("Auk", 0.34), ("Tern", 0.22)])  # fmt: skip
        self.assertTrue(ranked[0]["score"]["at_least"])
        self.assertAlmostEqual(ranked[1]["score"]["self_mass"]["value"], 0.0305)

    def test_each_line_is_told_what_is_wrong_and_nothing_is_kept(self) -> None:
        self.api.send("POST", "classes", {"name": "x"})
        head = "Team,nut,How it ended,Clear gap,Rests on the left,Rests on the right,Own weight\n"
        good = "Tern,3,crimped,30 cm,4 cm,4 cm,30 g\n"
        for line, column, words in (
            ("Heron,3,crimped,30 cm,4 cm,4 cm,30 g", "Team", "No team is called"),
            ("Tern,many,crimped,30 cm,4 cm,4 cm,30 g", "nut", "no whole number"),
            ("Tern,3,exploded,30 cm,4 cm,4 cm,30 g", "How it ended", "How did it end?"),
            ("Tern,900,crimped,30 cm,4 cm,4 cm,30 g", "nut", ""),
            ("Tern,3,crimped,30 kg,4 cm,4 cm,30 g", "Clear gap", ""),
            ("Tern,3,crimped,30 cm,4 cm,4 cm,30 kg", "Own weight", "30 kg"),
            ("Tern,3,crimped,30 cm,-4 cm,4 cm,30 g", "Rests on the left", ""),
        ):
            with self.subTest(line):
                done = self.table(head + good + line + "\n", keep=True)
                (error,) = done["errors"]
                self.assertEqual((error["line"], error["column"], done["kept"]), (3, column, False))
                self.assertIn(words, error["sentence"])
                self.assertEqual(Trial.objects.count(), 0)

    def test_columns_that_are_not_clear(self) -> None:
        seen = self.table("a,b\nTern,3\n")
        self.assertIn("One column has to be the team", seen["problem"])
        body = {"data": base64.b64encode(b"a,b\nTern,3\n").decode(), "meaning": ["team", "team"], "keep": True}
        for meaning, code in ((["team", "team"], "mapping_twice"), (["team", "wings"], "mapping_incomplete"),
                              (["team"], "mapping_incomplete"), (["", "held:nut"], "mapping_incomplete")):  # fmt: skip
            answer = self.api.refused("POST", f"runs/{self.run_.pk}/results-table", {**body, "meaning": meaning})
            self.assertEqual((answer[0], answer[1]["code"]), (400, code))
        answer = self.api.refused("POST", f"runs/{self.run_.pk}/results-table", {"data": "no base64!"})
        self.assertEqual(answer[1]["code"], "not_a_table")

    def test_a_workbook_comes_in_as_well(self) -> None:
        rests = ("Rests on the left (mm)", "Rests on the right (mm)")
        header = ["Team", "nut", "How it ended", "Clear gap (cm)", *rests, "Own weight (oz)"]
        made = xlsx(header, ["Tern", 4, "crimped", 30, 40, 40, 1.1])
        self.assertTrue(self.table(made, keep=True)["kept"])
        self.assertAlmostEqual(Reading.objects.get(key="self_mass").value_si, 1.1 * 0.028349523125)

    def test_loads_as_plain_masses(self) -> None:
        rests = "Clear gap;Rests on the left;Rests on the right;Own weight"
        head = f"Team;Held (g);Broke at;How it ended;{rests}\n"
        table = head + (
            "Tern;1200;1,35 kg;crimped;30 cm;4 cm;4 cm;30 g\n"
            "Auk;640;;no more load;30 cm;4 cm;4 cm;40 g\n"
            "Tern;9 N;;crimped;;;;\n"
        )
        seen = self.table(table)
        self.assertEqual([column["meaning"] for column in seen["columns"]][:4], ["team", "held", "broke_at", "end"])
        self.assertEqual((seen["errors"], seen["trials"]), ([], 3))
        self.assertTrue(self.table(table, keep=True)["kept"])
        setup = self.run_.trial_setup()
        first, second, third = (trial.result(setup) for trial in Trial.objects.order_by("design__team__name", "number"))
        self.assertEqual((first.held.value, first.outcome), (0.64, Outcome.RAN_OUT))
        assert second.broke_at is not None and third.broke_at is not None
        self.assertEqual((second.held.value, second.broke_at.value), (1.2, 1.35))
        # Where nobody wrote what broke it, one more nut of 15 g did.
        self.assertAlmostEqual(third.broke_at.value, 9 / 9.80665 + 0.015)

    def test_a_mass_that_makes_no_sense_is_told_in_its_column(self) -> None:
        head = "Team,Held,Broke at,How it ended,Clear gap,Rests on the left,Rests on the right,Own weight\n"
        for row, column in (
            ("1.2,,crimped", "Held"),
            ("1.2 kg,1.1 kg,crimped", "Broke at"),
            ("1.2 kg,1.4,crimped", "Broke at"),
            ("900 kg,,no more load", "Held"),
        ):
            with self.subTest(row):
                (error,) = self.table(f"{head}Tern,{row},30 cm,4 cm,4 cm,30 g\n", keep=True)["errors"]
                self.assertEqual((error["line"], error["column"]), (2, column))
                self.assertEqual(Trial.objects.count(), 0)

    def test_several_trials_in_a_row(self) -> None:
        rests = "Clear gap;Rests on the left;Rests on the right;Own weight"
        head = f"Team;Trial 1 (g);Trial 2 (g);Trial 3 (g);How it ended;{rests}\n"
        table = (
            head
            + "Tern;300;330;280;crimped;30 cm;4 cm;4 cm;30 g\n"
            + "Auk;640;;610;no more load;30 cm;4 cm;4 cm;40 g\n"
        )
        seen = self.table(table)
        self.assertEqual([column["meaning"] for column in seen["columns"]][:5], ["team", "held", "held", "held", "end"])
        self.assertEqual((seen["errors"], seen["trials"]), ([], 5))
        self.assertTrue(self.table(table, keep=True)["kept"])
        setup = self.run_.trial_setup()
        taken = [
            (trial.design.team.name, trial.number, trial.result(setup).held.value)
            for trial in Trial.objects.order_by("design__team__name", "number")
        ]
        self.assertEqual(
            taken, [("Auk", 1, 0.64), ("Auk", 2, 0.61), ("Tern", 1, 0.3), ("Tern", 2, 0.33), ("Tern", 3, 0.28)]
        )

    def test_each_trial_in_a_row_with_its_own_end(self) -> None:
        rests = ["Clear gap", "Rests on the left", "Rests on the right", "Own weight"]
        made = xlsx(
            ["Team", "Trial 1", None, "Trial 2", None, *rests],
            [None, "nut", "ended", "nut", "ended"],
            ["Tern", 12, "crimped", 14, "snapped", "30 cm", "4 cm", "4 cm", "30 g"],
            ["Auk", 9, "crimped", None, "twisted", "30 cm", "4 cm", "4 cm", "40 g"],
            merge="B1:C1",
        )
        seen = self.table(made)
        self.assertEqual(
            [column["meaning"] for column in seen["columns"]][:5], ["team", "held:nut", "end", "held:nut", "end"]
        )
        self.assertEqual((seen["errors"], seen["trials"]), ([], 4))
        # What is wrong with a second trial is told in its own column.
        wrong = xlsx(["Team", "nut 1", "ended 1", "nut 2", "ended 2", *rests],
                     ["Tern", 12, "crimped", 14, "exploded", "30 cm", "4 cm", "4 cm", "30 g"])  # fmt: skip
        (error,) = self.table(wrong)["errors"]
        self.assertEqual((error["line"], error["column"]), (2, "ended 2"))

    def test_a_column_that_numbers_the_trials_is_no_load(self) -> None:
        seen = self.table("Team,Trial,nut,How it ended\nTern,1,5,crimped\n")
        self.assertEqual([column["meaning"] for column in seen["columns"]], ["team", "", "held:nut", "end"])
