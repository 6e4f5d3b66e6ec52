"""CSV that a spreadsheet opens without running anything in it."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence

from django.http import HttpResponse

_STARTS_FORMULA = ("=", "+", "-", "@", "\t", "\r")


_CONTROLS = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ufffe\uffff]")
"""Signs that no table can hold (XML 1.0, section 2.2), and one that nobody sees."""


def safe_cell(value: object) -> object:
    """Text that a spreadsheet would run as a formula gets an apostrophe in front, signs that no table can hold are left
    out; numbers stay numbers."""
    if isinstance(value, str):
        value = _CONTROLS.sub("", value)
    if isinstance(value, str) and value.lstrip(" ").startswith(_STARTS_FORMULA):
        return f"'{value}"
    return "" if value is None else value


def csv_response(name: str, header: Sequence[str], rows: Iterable[Sequence[object]]) -> HttpResponse:
    """A download; UTF-8 with a byte-order mark, so that spreadsheets read accents right."""
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow([safe_cell(cell) for cell in header])
    for row in rows:
        writer.writerow([safe_cell(cell) for cell in row])
    response = HttpResponse("\ufeff" + text.getvalue(), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
