"""docs/formulas.md as a page, each heading with an address that an origin can lead to."""

from __future__ import annotations

from functools import cache
from itertools import pairwise
from pathlib import Path

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.safestring import SafeString, mark_safe
from django.utils.text import slugify
from markdown_it import MarkdownIt

FORMULAS = Path(__file__).resolve().parents[2] / "docs" / "formulas.md"


def anchor_of(section: str) -> str:
    """The address of a heading on the page of formulas, from what stands before its colon."""
    return slugify(section.partition(":")[0])


@cache
def _page() -> SafeString:
    markdown = MarkdownIt("commonmark", {"html": False}).enable("table")
    tokens = markdown.parse(FORMULAS.read_text("utf-8"))
    for opening, words in pairwise(tokens):
        if opening.type == "heading_open":
            opening.attrSet("id", anchor_of(words.content))
    # Our own document; raw HTML in it would be shown as it is written.
    html: str = markdown.renderer.render(tokens, markdown.options, {})
    return mark_safe(html)  # noqa: S308


def formulas(request: HttpRequest) -> HttpResponse:
    """The page of formulas."""
    return render(request, "formulas.html", {"page": _page()})
