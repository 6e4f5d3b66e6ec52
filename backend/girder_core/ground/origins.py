"""Where a figure comes from: the formula in words and symbols, what went into it, and who read that, when and how.

Whoever works a figure out says how beside it; the interface and the papers only show it. An input is a figure too and
may have been worked out itself, so an origin is a tree whose leaves were read, counted, typed or chosen.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass


@dataclass(frozen=True)
class Rule:
    """How something is worked out.

    Attributes:
        words: the formula as one would say it.
        symbols: the formula as one would write it.
        section: the heading in docs/formulas.md under which it stands, up to the colon.
        version: of the rules, where they have one.
    """

    words: str
    symbols: str
    section: str
    version: str = ""


@dataclass(frozen=True)
class Entered:
    """Whose entry something is, and when it was made, as ISO 8601 writes it; empty where that is not known."""

    by: str = ""
    at: str = ""


NOBODY = Entered()
"""Nobody's entry: it follows from others, or is the same for all."""


@dataclass(frozen=True)
class Origin:
    """A figure and how it came about.

    Attributes:
        name: what it is.
        value: as people read it.
        symbol: what the formula calls it; empty where it has none.
        si: the same as a number [SI]; None where it is none.
        rule: how it was worked out; None for what was read, counted, typed or chosen.
        inputs: what went into it.
        source: how it was come by, where nothing was worked out.
        entered: whose entry it is.
        note: how far off it may be, or what else should be known.
    """

    name: str
    value: str
    symbol: str = ""
    si: float | None = None
    rule: Rule | None = None
    inputs: tuple[Origin, ...] = ()
    source: str = ""
    entered: Entered = NOBODY
    note: str = ""

    @property
    def formula(self) -> str:
        """Its formula in symbols, with its own symbol before it; empty where nothing was worked out."""
        if self.rule is None:
            return ""
        said, equals, made_of = self.rule.symbols.partition(" = ")
        return f"{self.symbol or said} = {made_of}" if equals and "," not in said else self.rule.symbols

    def every(self) -> Iterator[Origin]:
        """It and everything that went into it, from the top."""
        yield self
        for origin in self.inputs:
            yield from origin.every()
