"""How a structure is tested at the bench, as data: what a round is called, what the large figure tells, how it ends.

The ledger, the keys of the bench, the board and the sheets read a procedure; nothing asks which one it is. Words may
hold fields in braces, which are named where they stand.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from girder_core.measure import Kind, System, format_value, units


class Shows(StrEnum):
    """What the large figure of a test tells, as long as nothing that tells the result was measured."""

    LOAD = "load"
    WAIT = "wait"
    SURVIVED = "survived"
    HITS = "hits"


@dataclass(frozen=True)
class Procedure:
    """How a structure is tested at the bench.

    Attributes:
        key: stable name.
        shows: what the large figure tells.
        lead: words before the large figure.
        out_of: words after it; ``{most}`` rounds planned, ``{made}`` made so far.
        clock_out_of: the same where the test goes against the clock.
        next: what the key of the next round says; ``{n}`` its number, ``{size}`` its size.
        next_note: the line below it; ``{n}``, ``{name}``, ``{most}``, ``{hold}`` seconds, ``{hertz}`` and
            ``{g}`` of shaking.
        clock_note: the same where the test goes against the clock.
        came_through: what the key says that tells of a round come through.
        went: what the key says that tells of a failure; empty where a test goes on to its last round.
        finish: what the key says that ends it as planned; empty where it ends by a failure or its last round.
        finish_note: the line below it.
        count: what the key says that takes the measurement which tells the result; empty for the measurement's name.
        ask: what is asked once a round was come through and nothing is measured yet; empty where nothing is.
        all_made: why there is no other round.
        waiting_for: what is still to be made before it may end as planned.
        broke: how an ended test that failed is called.
        done: how one that ended as planned is called.
        headline: the sentence of a result; ``{team}``, ``{result}``, ``{hits}`` with the word.
        failed_headline: the sentence where no round was come through and nothing has a size; empty for ``headline``.
        size_kind: what the size of a round measures.
        size_words: a size in a sentence; ``{}`` the value.
        counted: words beside the number of rounds made, as a second figure; empty for none.
        hit_or_miss: whether a round is over at once and is a hit or a miss.
        hit, miss: what the keys say that tell which; ``miss_is_well`` where a miss is what the builders want.
        struck: the word for a round that was a hit, as it is counted.
        any_size: whether a round may have a size off the plan, greater than the last.
        other: what the key says that asks for such a size.
        rises: why a typed size is refused that is no greater than the last; ``{}`` the last.
        highest: why one is refused that is greater than the bench goes; ``{}`` how far that is.
        top_load: whether one that came through may be loaded after it.
        rehearses: whether a made-up structure can be tested so.
        caution: what to say before each round; empty for nothing.
        gives_way: where made-up structures give way, low and high, as shares of the greatest round.
    """

    key: str
    shows: Shows
    lead: str = ""
    out_of: str = ""
    clock_out_of: str = ""
    next: str = ""
    next_note: str = ""
    clock_note: str = ""
    came_through: str = "It held"
    went: str = "It went"
    finish: str = ""
    finish_note: str = ""
    count: str = ""
    ask: str = ""
    all_made: str = ""
    waiting_for: str = ""
    broke: str = "Broke"
    done: str = "Measured"
    headline: str = "{team} held {result}."
    failed_headline: str = ""
    size_kind: Kind = Kind.COUNT
    size_words: str = "{}"
    counted: str = ""
    hit_or_miss: bool = False
    hit: str = "Hit"
    miss: str = "Miss"
    miss_is_well: bool = False
    struck: str = "hit"
    any_size: bool = False
    other: str = ""
    rises: str = ""
    highest: str = ""
    top_load: bool = False
    rehearses: bool = True
    caution: str = ""
    gives_way: tuple[float, float] = (0.45, 0.95)

    def size(self, value: float, system: System = System.METRIC) -> str:
        """A size of a round with its unit.

        Args:
            value: the size, as ``PlannedRound.size``.
            system: units for lengths.
        Returns:
            Such as "3", "65 cm", "10 s".
        """
        if self.size_kind is Kind.LENGTH:
            return pole_height(value, system)
        return format_value(value, self.size_kind, system)

    def sized(self, value: float, system: System = System.METRIC) -> str:
        """A size of a round in a sentence.

        Args:
            value: the size, as ``PlannedRound.size``.
            system: units for lengths.
        Returns:
            Such as "level 3", "65 cm".
        """
        return self.size_words.format(self.size(value, system))


def pole_height(height_m: float, system: System = System.METRIC) -> str:
    """A height as a measuring pole shows it.

    Args:
        height_m: the height [m].
        system: which units the reader wants.
    Returns:
        Centimetres below a metre, metres from there on, or inches to a tenth.
    """
    if system is System.US:
        return f"{height_m / units.si_per('in', Kind.LENGTH):.1f} in"
    return f"{height_m:.2f} m" if height_m >= 1 else f"{round(height_m * 100, 1):g} cm"


LOADING = Procedure("load", Shows.LOAD)
"""Load goes on, step by step, until it gives way or nothing is left to place."""

STANDING = Procedure(
    "stand",
    Shows.WAIT,
    lead="It has to stand for",
    next="Let go",
    next_note="it has to stand {hold} s",
    came_through="It stood",
    went="It fell",
    finish="Done",
    finish_note="its height counts",
    ask="It stood. How high is it?",
    all_made="It has stood already. Measure it.",
    broke="It fell",
    headline="{team} stands {result} tall.",
    failed_headline="{team} fell.",
    size_kind=Kind.TIME,
    top_load=True,
    gives_way=(0.8, 2.5),
)
"""It stands by itself for the agreed time, and then is measured."""

SHAKING = Procedure(
    "shake",
    Shows.SURVIVED,
    lead="Levels survived",
    out_of="of {most}",
    next="Shake level {n}",
    next_note="{hertz} Hz, {g} g, for {hold} s",
    came_through="Still standing",
    all_made="All levels are made. End with “all levels survived”.",
    broke="Went",
    headline="{team} survived {result}.",
    size_words="level {}",
    caution="Hands off the base while it moves.",
)
"""Its base is shaken, each level faster than the one before."""

DROPPING = Procedure(
    "drop",
    Shows.SURVIVED,
    lead="Survived a drop of",
    next="Drop from {size}",
    next_note="flat, on the board",
    came_through="All joints held",
    went="Opened",
    all_made="That was the highest drop. End with “highest drop survived”.",
    broke="Came apart",
    headline="{team} survived {result}.",
    size_kind=Kind.LENGTH,
    any_size=True,
    other="Other height",
    rises="Each drop is higher than the last, which was from {}. A lower one says nothing new.",
    highest="This bench drops from {} at most.",
    caution="Clear the drop zone: feet and hands back.",
)
"""It is dropped from rising heights."""

THROWING = Procedure(
    "throw",
    Shows.HITS,
    lead="Hits",
    out_of="of {most} throws",
    clock_out_of="of {made}",
    next="Throw {n}",
    next_note="throw {n} of {most}",
    clock_note="against the clock",
    came_through="",
    went="",
    finish="The attack is over",
    finish_note="both sides are scored",
    count="Count what is left",
    all_made="All throws are made. Count what is left standing.",
    waiting_for="Not all throws are made yet.",
    done="The attack is over",
    headline="{team} has {result}, after {hits}.",
    counted="thrown",
    hit_or_miss=True,
    rehearses=False,
    caution="Behind the line. Nobody beyond it until the thrower calls clear.",
    gives_way=(2.0, 3.0),
)
"""Balls are thrown at it, a set number or against the clock; then what is left is counted."""
