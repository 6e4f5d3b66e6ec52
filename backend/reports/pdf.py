"""Documents as PDF: designed for paper, with real text and the fonts that ship with the application."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any
from urllib.parse import unquote, urlparse

from django.template.loader import render_to_string
from weasyprint import HTML
from weasyprint.text.fonts import FontConfiguration
from weasyprint.urls import URLFetcher, URLFetcherResponse

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


def render(documents: Sequence[str], about: Printed) -> bytes:
    """The documents, bound in this order, as one PDF."""
    page = context(about)
    return _bound([(key, DOCUMENTS[key](page)) for key in documents if has_document(key, about.terms)], page, about)


def render_outcome(document: str, about: Printed, outcome: Outcome) -> bytes:
    """A paper about what came of a run, as a PDF."""
    page = context(about)
    return _bound([(document, OUTCOMES[document](page, outcome))], page, about)


def _bound(parts: Sequence[tuple[str, Context]], shared: Context, about: Printed) -> bytes:
    bodies = [render_to_string(f"reports/{key}.html", {**shared, **own}) for key, own in parts]
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
    made = HTML(string=page, url_fetcher=FontsOnly()).write_pdf(font_config=FontConfiguration())
    assert isinstance(made, bytes)
    return made


def _page(paper: str, flat: bool = False) -> str:
    width, height = PAPERS[paper][::-1] if flat else PAPERS[paper]
    return f"{width}mm {height}mm"
