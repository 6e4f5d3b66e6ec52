"""Documents as PDF: designed for paper, with real text and the fonts that ship with the application."""

from __future__ import annotations

import logging
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from pathlib import Path
from typing import Any
from urllib.parse import unquote, urlparse

from django.template.loader import render_to_string
from weasyprint import HTML
from weasyprint.logger import PROGRESS_LOGGER
from weasyprint.text.fonts import FontConfiguration
from weasyprint.urls import URLFetcher, URLFetcherResponse

from evengirder.database import let_go
from evengirder.lane import Told, quietly
from reports.footprint import PAPERS
from reports.outcome import OUTCOMES, Outcome
from reports.sheets import DOCUMENTS, Context, Printed, context, has_document

FONTS = Path(__file__).parent / "fonts"


class FontsOnly(URLFetcher):  # type: ignore[misc]
    """Lets a document reach the shipped fonts and pictures within itself, and nothing else: no network, no file."""

    def fetch(self, url: str, headers: Any = None) -> URLFetcherResponse:
        if url.startswith("data:image/jpeg;base64,"):
            return super().fetch(url, headers)
        path = Path(unquote(urlparse(url).path)).resolve()
        if not url.startswith("file:") or path.parent != FONTS.resolve():
            raise ValueError(f"A document may only use the shipped fonts, not {url}")
        return super().fetch(url, headers)


class _Pages(logging.Handler):
    """Hands on which page the library lays out, to whoever made it in this thread; it tells nobody else."""

    def emit(self, record: logging.LogRecord) -> None:
        told = _told.get()
        if "Page" in record.msg and isinstance(record.args, tuple) and record.args:
            told(0, 0, f"Page {record.args[0]}")


_told: ContextVar[Told] = ContextVar("told", default=quietly)
PROGRESS_LOGGER.setLevel(logging.INFO)
PROGRESS_LOGGER.addHandler(_Pages())
PROGRESS_LOGGER.propagate = False


@contextmanager
def _telling(told: Told) -> Iterator[None]:
    before = _told.set(told)
    try:
        yield
    finally:
        _told.reset(before)


def render(documents: Sequence[str], about: Printed, told: Told = quietly) -> bytes:
    """The documents, bound in this order, as one PDF."""
    page = context(about)
    parts = [(key, DOCUMENTS[key](page)) for key in documents if has_document(key, about.terms)]
    return _bound(parts, page, about, told)


def render_outcome(document: str, about: Printed, outcome: Outcome, told: Told = quietly) -> bytes:
    """A paper about what came of a run, as a PDF."""
    page = context(about)
    return _bound([(document, OUTCOMES[document](page, outcome))], page, about, told)


def _bound(parts: Sequence[tuple[str, Context]], shared: Context, about: Printed, told: Told) -> bytes:
    bodies = []
    for done, (key, own) in enumerate(parts):
        told(done, len(parts), f"Writing: {key.replace('-', ' ')}")
        bodies.append(render_to_string(f"reports/{key}.html", {**shared, **own}))
    page = render_to_string(
        "reports/document.html",
        {
            **shared,
            "bodies": bodies,
            "fonts": FONTS.resolve().as_uri(),
            "page": _page(about.paper),
            "page_flat": _page(about.paper, flat=True),
        },
    )
    # All that the paper holds is in the page by now.
    let_go()
    with _telling(told):
        made = HTML(string=page, url_fetcher=FontsOnly()).write_pdf(font_config=FontConfiguration())
    assert isinstance(made, bytes)
    return made


def _page(paper: str, flat: bool = False) -> str:
    width, height = PAPERS[paper][::-1] if flat else PAPERS[paper]
    return f"{width}mm {height}mm"
