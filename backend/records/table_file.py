"""A table that was typed elsewhere: CSV, pasted, or a sheet of a workbook; cells are text, rows have lines.

A workbook is read in a process of its own (``evengirder.aside``): what a few kilobytes unfold to is not known before.
"""

from __future__ import annotations

import csv
import io
import json
import sys
import zipfile
from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass, replace

from openpyxl import load_workbook

from girder_core.ground import GirderError

MOST_ROWS = 2000
MOST_COLUMNS = 60
LARGEST_BYTES = 10 * 1024 * 1024
MOST_UNPACKED = 64 * 1024 * 1024
LAST_ROW = 1_048_576
"""A worksheet has no more rows (ECMA-376 leaves it open; common practice of every spreadsheet)."""


@dataclass(frozen=True)
class Row:
    """One row: the line it stands on in the file, and its cells as text."""

    line: int
    cells: tuple[str, ...]


@dataclass(frozen=True)
class Table:
    """The columns' names, and the rows below them that are not empty; of a workbook also its sheets, and which."""

    header: tuple[str, ...]
    rows: tuple[Row, ...]
    sheets: tuple[str, ...] = ()
    sheet: str = ""


def read_table(data: bytes, sheet: str = "") -> Table:
    """The table in a file's bytes; of a workbook the sheet of this name, or the first that holds a table.

    Errors: ``file_too_large``, ``not_a_table``, ``too_many_rows``, ``no_such_sheet``.
    """
    if len(data) > LARGEST_BYTES:
        raise GirderError("file_too_large", "This file is larger than 10 MB. Is it the right one?")
    if data[:5] == b"%PDF-":
        raise GirderError("not_a_table", "This is a PDF. Save the table as CSV or XLSX first.")
    return _of_workbook(data, sheet) if is_workbook(data) else _with_header(_of_text(data))


def is_workbook(data: bytes) -> bool:
    """Whether a file is a workbook by its first bytes, and not a text."""
    return data[:2] == b"PK"


def _of_workbook(data: bytes, asked: str) -> Table:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(part.file_size for part in packed.infolist()) > MOST_UNPACKED:
                raise too_much()
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheets = {sheet.title: sheet for sheet in book.worksheets}
        if asked and asked not in sheets:
            raise GirderError("no_such_sheet", f"This workbook has no sheet “{asked}”.")
        for name in [asked] if asked else sheets:
            # What the file says of its own size is not always true.
            sheets[name].reset_dimensions()
            rows = _collected(_filled(sheets[name].iter_rows(values_only=True, max_col=MOST_COLUMNS)))
            if asked or _header_at(rows) is not None:
                return replace(_with_header(rows), sheets=tuple(sheets), sheet=name)
        raise GirderError("not_a_table", "No sheet of this workbook holds a table.")
    except (GirderError, MemoryError):
        raise
    except Exception:
        # Whatever the reader stumbles over in a file that is none.
        raise GirderError("not_a_table", "This is not a workbook that can be read. Save it as XLSX or CSV.") from None


def too_much() -> GirderError:
    """A workbook that unfolds to more than a table can be."""
    return GirderError(
        "file_too_large", "This workbook takes more memory or time than a table of results does. Copy the table into a "
        "new workbook, or save it as CSV.",
    )  # fmt: skip


def _filled(rows: Iterable[Sequence[object]]) -> Iterable[tuple[int, list[str]]]:
    """Rows that hold something, with their numbers; a column formatted to its end has a million empty ones."""
    for n, row in enumerate(rows, start=1):
        if n > LAST_ROW:
            raise GirderError(
                "not_a_table", f"This workbook has a row after {LAST_ROW:,}; no spreadsheet has that many."
            )
        if any(cell is not None for cell in row):
            yield n, [_plain(cell) for cell in row]


def _plain(cell: object) -> str:
    """A cell as somebody would have typed it."""
    if cell is None:
        return ""
    if isinstance(cell, float):
        return f"{cell:.12g}"
    return " ".join(str(cell).split())


def _of_text(data: bytes) -> list[Row]:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("cp1252", "replace")
    if "\x00" in text:
        raise GirderError("not_a_table", "This is no table. CSV and XLSX can be read.")
    first = "\n".join(text.splitlines()[:20])
    # The mark that stands most often between cells; a comma may be part of a number, so it comes last.
    mark = max(("\t", ";", ","), key=lambda mark: (min(first.count(mark), 1) * (mark != ","), first.count(mark)))
    reader = csv.reader(io.StringIO(text), delimiter=mark)
    try:
        return _collected((reader.line_num, [" ".join(cell.split()) for cell in cells]) for cells in reader)
    except csv.Error as error:
        raise GirderError("not_a_table", f"Line {reader.line_num}: {error}.") from None


def _collected(lines: Iterable[tuple[int, list[str]]]) -> list[Row]:
    """The rows that are not empty; too many are refused before they are all held."""
    rows: list[Row] = []
    for line, cells in lines:
        while cells and not cells[-1]:
            cells.pop()
        if cells:
            rows.append(Row(line, tuple(cells[:MOST_COLUMNS])))
        if len(rows) > MOST_ROWS + 2:
            raise GirderError(
                "too_many_rows", f"This table has more than {MOST_ROWS} rows; no class has so many results. Is it the "
                "right file?",
            )  # fmt: skip
    return rows


def _with_header(rows: Sequence[Row]) -> Table:
    """The first row with two names is the header; one that was merged over several columns goes on to its right."""
    start = _header_at(rows)
    if start is None:
        raise GirderError("not_a_table", "There is no table in it: no row has two cells.")
    names, rest = list(rows[start].cells), list(rows[start + 1 :])
    width = max(len(row.cells) for row in rows[start:])
    names += [""] * (width - len(names))
    gaps = [i for i, name in enumerate(names) if not name and i > 0]
    second = rest[0].cells if rest else ()
    if gaps and any(i < len(second) and second[i] for i in gaps) and not any(_number(cell) for cell in second):
        # A header of two rows: the upper name was merged over the lower ones.
        upper = ""
        for i in range(width):
            upper = names[i] or upper
            below = second[i] if i < len(second) else ""
            names[i] = f"{upper} {below}".strip() if below else names[i]
        rest = rest[1:]
    even_rows = [Row(row.line, row.cells + ("",) * (width - len(row.cells))) for row in rest]
    return Table(tuple(name or f"column {i + 1}" for i, name in enumerate(names)), tuple(even_rows))


def _header_at(rows: Sequence[Row]) -> int | None:
    return next((i for i, row in enumerate(rows) if sum(bool(cell) for cell in row.cells) >= 2), None)


def _number(cell: str) -> bool:
    return any(sign.isdigit() for sign in cell)


def packed(table: Table) -> bytes:
    """A table as ``unpacked`` reads it."""
    return json.dumps(asdict(table)).encode()


def unpacked(answer: bytes) -> Table:
    """The table that was packed."""
    said = json.loads(answer)
    rows = tuple(Row(row["line"], tuple(row["cells"])) for row in said["rows"])
    return Table(tuple(said["header"]), rows, tuple(said["sheets"]), said["sheet"])


if __name__ == "__main__":
    from evengirder.aside_child import answer

    answer(lambda data: packed(read_table(data, *sys.argv[1:])))
