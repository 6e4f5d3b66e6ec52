"""Workbooks that unfold to more than they are: refused in a sentence, by a process that is gone afterwards."""

from __future__ import annotations

import io
import zipfile

from django.test import SimpleTestCase

from girder_core.ground import GirderError
from records.results_import import table_of
from records.tests.test_results_import import xlsx

SHEET = "xl/worksheets/sheet1.xml"


def doctored(part: str, old: bytes, new: bytes) -> bytes:
    """A small workbook with a piece of one of its parts replaced."""
    made = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(xlsx(["Team", "nut"], ["Tern", 12]))) as book,
        zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as changed,
    ):
        for name in book.namelist():
            text = book.read(name)
            if name == part:
                assert old in text
                text = text.replace(old, new)
            changed.writestr(name, text)
    return made.getvalue()


class Hostile(SimpleTestCase):
    def refused(self, data: bytes) -> str:
        with self.assertRaises(GirderError) as caught:
            table_of(data, "")
        return caught.exception.code

    def test_a_row_of_a_hundred_million(self) -> None:
        data = doctored(SHEET, b'<row r="2"', b'<row r="100000000"')
        self.assertLess(len(data), 8000)
        self.assertEqual(self.refused(data), "not_a_table")

    def test_a_cell_of_a_hundred_megabytes(self) -> None:
        data = doctored(SHEET, b'<c r="A2"', b'<c r="A2" x="' + b" " * 100_000_000 + b'"')
        self.assertLess(len(data), 500_000)
        self.assertEqual(self.refused(data), "file_too_large")

    def test_one_that_lies_about_its_size(self) -> None:
        data = bytearray(doctored(SHEET, b'<c r="A2"', b'<c r="A2" x="' + b" " * 100_000_000 + b'"'))
        with zipfile.ZipFile(io.BytesIO(data)) as book:
            true = book.getinfo(SHEET).file_size.to_bytes(4, "little")
        self.assertGreater(data.count(true), 0)
        self.assertIn(self.refused(bytes(data.replace(true, (1000).to_bytes(4, "little")))), ("not_a_table",))

    def test_entities_that_multiply(self) -> None:
        bomb = b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "' + b"a" * 1000 + b'">'
        for n in range(1, 9):
            bomb += f'<!ENTITY a{n} "{"&a;" if n == 1 else f"&a{n - 1};" * 10}">'.encode()
        bomb += b"]>"
        data = doctored(SHEET, b'<row r="2"', b'<row r="3"><c r="A3" t="str"><v>&a8;</v></c></row><row r="4"')
        with zipfile.ZipFile(io.BytesIO(data)) as book:
            sheet = book.read(SHEET)
        whole = bomb + sheet[sheet.index(b"<worksheet") :]
        self.assertIn(self.refused(doctored(SHEET, sheet_of(xlsx(["Team", "nut"], ["Tern", 12])), whole)),
                      ("not_a_table", "file_too_large"))  # fmt: skip

    def test_columns_that_are_formatted_to_the_end_are_no_harm(self) -> None:
        data = doctored(SHEET, b"</sheetData>", b'<row r="1048576"><c r="A1048576"/></row></sheetData>')
        table = table_of(data, "")
        self.assertEqual([row.cells for row in table.rows], [("Tern", "12")])


def sheet_of(data: bytes) -> bytes:
    with zipfile.ZipFile(io.BytesIO(data)) as book:
        return book.read(SHEET)
