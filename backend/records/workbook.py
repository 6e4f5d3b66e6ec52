"""A run as a workbook: results, every step, readings, rubric, kit. One row per thing, units in the headers."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable, Iterator, Sequence

from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter

from bench.selectors import designs_of
from challenges.models import Run
from challenges.shown import shown_terms
from girder_core.measure import System
from reports.asked import Table
from reports.csv_file import safe_cell
from reports.tables import KIT_HEADER, LEDGER_HEADER, kit_rows, ledger_rows, result_rows, results_header
from results.rubric import criteria_of, marks_of

READINGS_HEADER = ["team", "version", "reading", "value_si", "standard_uncertainty_si", "unit", "typed",
                   "starts_at_or_tare", "resolution", "after_test", "repeats_the_one_before", "taken_at"]  # fmt: skip
_SI = {"length": "m", "mass": "kg", "time": "s", "frequency": "Hz", "count": "1", "area": "m²", "volume": "m³"}


def reading_rows(run: Run) -> Iterator[list[object]]:
    """One row per reading, those that were replaced included."""
    specs = run.core_family().reading_keys
    for design in designs_of(run):
        for reading in design.readings.all():
            spec = specs.get(reading.key)
            yield [
                design.team.name, design.version, reading.key, reading.value_si, reading.standard_uncertainty_si,
                _SI[spec.kind.value] if spec else None, reading.text, reading.zero_text or reading.tare_text,
                reading.resolution_text,
                "yes" if reading.after_test else "no", "yes" if reading.again else "no", reading.taken_at.isoformat(),
            ]  # fmt: skip


def rubric_table(run: Run) -> tuple[list[str], list[list[object]]]:
    """The rubric as a table: a row for each team, for each criterion the level in words and where it comes from."""
    criteria = criteria_of(run)
    header = [
        "team",
        *(f"{criterion.name} ({part})" for criterion in criteria for part in ("level", "from")),
        "points_of_100",
    ]
    rows: list[list[object]] = []
    for row in marks_of(run) if criteria else []:
        cells: list[object] = [row.card.design.team.name]
        for criterion in criteria:
            judged = row.levels[criterion.key]
            cells.append(None if judged.level is None else criterion.levels[judged.level])
            cells.append("hand" if judged.by_hand else None if judged.level is None else "results")
        rows.append([*cells, None if row.points is None else round(row.points, 1)])
    return header, rows


def workbook(run: Run, system: System, told: Callable[[Sequence[str], Iterable[Sequence[object]]], Table]) -> bytes:
    """The workbook of a run as the bytes of an XLSX file; ``told`` makes of each table the one that is wanted."""
    book = Workbook()
    first = book.active
    if first is not None:
        book.remove(first)
    _sheet(book, "results", *told(results_header(run), result_rows(run)))
    _sheet(book, "steps", *told(LEDGER_HEADER, ledger_rows(run)))
    _sheet(book, "readings", *told(READINGS_HEADER, reading_rows(run)))
    if criteria_of(run):
        _sheet(book, "rubric", *told(*rubric_table(run)))
    shown = shown_terms(run, run.school_class.teams.count(), system)
    _sheet(book, "kit", *told(KIT_HEADER, kit_rows(shown)))
    data = io.BytesIO()
    book.save(data)
    return data.getvalue()


def _sheet(book: Workbook, title: str, header: Sequence[str], rows: Iterable[Sequence[object]]) -> None:
    sheet = book.create_sheet(title)
    sheet.append([safe_cell(cell) for cell in header])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    sheet.freeze_panes = "A2"
    widths = [len(title) for title in header]
    for row in rows:
        cells = [safe_cell(cell) for cell in row]
        sheet.append(cells)
        widths = [max(width, len(str(cell))) for width, cell in zip(widths, cells, strict=True)]
    for i, width in enumerate(widths, start=1):
        sheet.column_dimensions[get_column_letter(i)].width = min(40, width + 2)
