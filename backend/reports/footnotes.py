"""How the figures on paper came about: their formulas, numbered, at the foot."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe

from girder_core.ground import Rule

_MARKS = "¹²³⁴⁵"
# The shipped fonts have no small letters and no brackets that round up.
_LOW, _HIGH, _ROUNDS_UP = dict(zip("ᵢⱼ₁₂", "ij12", strict=True)), dict(zip("ⁿ⁻¹", "n−1", strict=True)), "round up ("
_AS_SET: Mapping[str, str] = {
    "⌈": _ROUNDS_UP, "⌉": ")", **{sign: f"<sub>{plain}</sub>" for sign, plain in _LOW.items()},
    **{sign: f"<sup>{plain}</sup>" for sign, plain in _HIGH.items()},
}  # fmt: skip


@dataclass(frozen=True)
class Footnote:
    """A mark, what it stands at, and how that is worked out."""

    mark: str
    name: str
    rule: Rule

    @property
    def formula(self) -> SafeString:
        """The formula in symbols, small letters set by the page."""
        text = escape(self.rule.symbols)
        return mark_safe(re.sub("|".join(_AS_SET), lambda sign: _AS_SET[sign.group()], text))  # noqa: S308


def footnoted(rules: Sequence[tuple[str, Rule]]) -> list[Footnote]:
    """Footnotes in order, each with its mark."""
    return [Footnote(mark, name, rule) for mark, (name, rule) in zip(_MARKS, rules, strict=False)]
