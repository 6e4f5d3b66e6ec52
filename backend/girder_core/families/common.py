"""What several families share: set-up fields, modes that spoil a trial, gear on the bench, words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from girder_core.families.constraints import Question
from girder_core.families.model import (
    SELF_MASS,
    Metric,
    Mode,
    Quota,
    Range,
    ReadingSpec,
    SchoolChoice,
    SetupField,
    Term,
)
from girder_core.ground import Drawing, Role, Shape, block, line, measure
from girder_core.kit import Material
from girder_core.measure import Kind, Plausible, format_length
from girder_core.photo import Way
from girder_core.results import School
from girder_core.trial import AT_BENCH_LIMIT, OUT_OF_LOAD, BenchMeasure

Triple = tuple[float, float, float]


def ages(youngest: Triple, younger: Triple, older: Triple, oldest: Triple) -> tuple[Range, ...]:
    """Sensible ranges per age band.

    Args:
        youngest: low, typical and high for ages 5 to 7 [SI].
        younger: for ages 8 to 10 [SI].
        older: for ages 11 to 13 [SI].
        oldest: for ages 14 to 18 [SI].
    Returns:
        The four ranges in order.
    """
    return tuple(Range(*triple) for triple in (youngest, younger, older, oldest))


def hold(typical_s: float = 6, why: str = "A step counts when it stays up this long.") -> SetupField:
    """The agreed wait after each step.

    Args:
        typical_s: what is usual [s].
        why: what it is for.
    Returns:
        The field.
    """
    pause = (max(1.0, typical_s - 2), typical_s, typical_s + 6)
    return SetupField(
        "hold_s", "Wait after each step", Kind.TIME, 1, 120, 5, why, ages=ages(pause, pause, pause, pause), harder=1,
        step=1, term="Counts", says="when it stays up {} after each step",
    )  # fmt: skip


def target(bands: tuple[Range, ...], step_kg: float, optional: bool = True) -> SetupField:
    """The target load.

    Args:
        bands: sensible ranges per age [kg].
        step_kg: proposals are multiples of it [kg].
        optional: whether a recipe may do without.
    Returns:
        The field.
    """
    return SetupField(
        "target_kg", "Target load", Kind.MASS, 0.001, 500, None if optional else bands[1].typical,
        "Something to aim at; the load kit is sized by it.", optional, bands, 1, step_kg, "Aim for", "{}",
    )  # fmt: skip


def bench_limit(default_kg: float = 10) -> SetupField:
    """The most a bench may carry.

    Args:
        default_kg: when the recipe says nothing [kg].
    Returns:
        The field.
    """
    return SetupField(
        "bench_limit_kg", "Most load on this bench", Kind.MASS, 0.01, 500, default_kg,
        "Testing stops here even if the structure still stands.",
    )  # fmt: skip


def tape(bands: tuple[Range, ...]) -> SetupField:
    """The tape allowed.

    Args:
        bands: sensible ranges per age [m].
    Returns:
        The field.
    """
    return SetupField(
        "tape_max_m", "Tape allowed", Kind.LENGTH, 0.0, 20.0, None, "Without a limit, tape becomes the structure.",
        True, bands, -1, 0.02, "Tape", "{} at most, for joints only",
    )  # fmt: skip


def length(
    key: str, label: str, how: str, low: float, high: float, what: str, needed: bool = True, aside: bool = False
) -> ReadingSpec:
    """A length reading.

    Args:
        key: of the reading.
        label: what it is called.
        how: how it is taken.
        low: plausible from [m].
        high: plausible to [m].
        what: what it is a reading of.
        needed: whether check-in asks for it.
        aside: whether it is asked for only by whoever wants it.
    Returns:
        The reading.
    """
    return ReadingSpec(key, label, Kind.LENGTH, how, Plausible(low, high, what), needed, aside=aside)


def floor_shape(key: str, label: str, how: str, high_m2: float, what: str) -> ReadingSpec:
    """A reading of an area, from the lengths of its shape or a picture; taken by whoever wants it.

    Args:
        key: name.
        label: what it is called.
        how: how it is taken.
        high_m2: the largest that needs no second look [m²].
        what: what it is, for questions.
    Returns:
        The reading, which check-in does not wait for.
    """
    return ReadingSpec(key, label, Kind.AREA, how, Plausible(1e-5, high_m2, what), needed=False, aside=True)


SHAPES = "For a shape that is no rectangle: its lengths, its corners, or squares counted on squared paper."


def counted(key: str, label: str, how: str, low: float, high: float, what: str, after: bool = False) -> ReadingSpec:
    """A counted reading.

    Args:
        key: of the reading.
        label: what it is called.
        how: how it is counted.
        low: plausible from [-].
        high: plausible to [-].
        what: what it is a count of.
        after: whether it is counted after the test.
    Returns:
        The reading.
    """
    return ReadingSpec(key, label, Kind.COUNT, how, Plausible(low, high, what), may_follow=after)


def own_weight(low_kg: float, high_kg: float, what: str, how: str = "") -> ReadingSpec:
    """The reading of the own weight.

    Args:
        low_kg: plausible from [kg].
        high_kg: plausible to [kg].
        what: what is weighed.
        how: how it is taken, if not as usual.
    Returns:
        The reading; it may be taken after the test.
    """
    how = how or "The whole structure on the scale, before it is loaded."
    return ReadingSpec(SELF_MASS, "Own weight", Kind.MASS, how, Plausible(low_kg, high_kg, what), may_follow=True)


TAPE_USED = length("tape", "Tape used", "Length of all tape on it.", 0.005, 5.0, "the tape used", needed=False)
STANDS = Question("stands", "Does it stand by itself?", True, "It does not stand by itself.", blocks=True)

KNOCKED = Mode("knocked", "k", "Somebody knocked the bench", "It was disturbed from outside.")
WRONG_LOAD = Mode("wrong_load", "w", "Wrong load or order", "This trial was not loaded like the others.")
PILE_TOPPLED = Mode("pile_toppled", "p", "Pile or platform tipped", "The load fell, the structure did not fail.")
DROPPED = Mode(
    "dropped", "d", "Load dropped or pushed on", "A dropped load acts far harder than the same load set down."
)
LOADING_ERRORS = (PILE_TOPPLED, KNOCKED, DROPPED, WRONG_LOAD)

NO_MORE_LOAD = Mode(OUT_OF_LOAD, "n", "No more load", "Everything in the kit is on it.")
CONTAINER_FULL = Mode("container_full", "f", "Platform full", "Nothing more fits.")
BENCH_LIMIT = Mode(AT_BENCH_LIMIT, "b", "Bench limit reached", "More would not be safe on this bench.")
RUN_OUTS = (NO_MORE_LOAD, CONTAINER_FULL, BENCH_LIMIT)

LEAN = Mode("lean", "l", "Leaning", "It leans or twists to one side.")
CRACK = Mode("crack", "c", "Crack heard or seen", "A crack, a tear or a noise.")
JOINT_OPENING = Mode("joint_opening", "j", "Joint opening", "Tape, glue or a band is letting go.")
BUCKLE = Mode("buckle", "u", "Wall buckling", "A wall, edge or leg bows out.")
BEND = Mode("bend", "b", "Bending", "It sags visibly.")

MOST_HELD = SchoolChoice(School.MOST_HELD, "Plain and quick; heavy structures have the edge.")
RATIO = SchoolChoice(School.STRENGTH_TO_WEIGHT, "Rewards using little material well.")
PASS = SchoolChoice(School.THRESHOLD, "Everybody can pass; the margin shows who passed easily.")
MIXED = SchoolChoice(School.MIX, "Several aims at once; the weights say what matters most.")

HELD = Metric("held", "Load held", "The last step that stayed up for the agreed wait.")
TIMES = Metric("ratio", "Times its own weight", "Load held divided by own weight.")

TAPE_ROLL = Material("tape-roll", "masking tape, 10 m roll", "m", pack_size=10, spare_share=0.1)
"""Bought in rolls; how much a team gets is the set-up's tape limit."""


def some(name: str, unit: str, final: tuple[float, float, float, float],
         practice: tuple[float, float, float, float] = (0, 0, 0, 0), *, pack: float = 1, size_m: float = 0.0,
         spare: float = 0.1, harder: int = -1, hazards: tuple[str, ...] = ()) -> Quota:  # fmt: skip
    """A building material with its quota per team.

    Args:
        name: what it is called.
        unit: what one of it is.
        final: for the structure, by age band.
        practice: to try out with, by age band.
        pack: how many in a pack.
        size_m: length of one [m], where it matters.
        spare: spares as a share.
        harder: -1 where a harder challenge gives less.
        hazards: by key.
    Returns:
        The quota.
    """
    material = Material(
        key(name), name, unit, spare_share=spare, pack_size=pack, size_m=size_m, buildable=True, hazards=hazards
    )
    return Quota(material, final, practice, harder)


def tool(name: str, per_team: float = 0, per_bench: float = 0, per_class: float = 0, pack: float = 1,
         hazards: tuple[str, ...] = ()) -> Quota:  # fmt: skip
    """Gear that is used and given back.

    Args:
        name: what it is called.
        per_team: how many each team has.
        per_bench: how many each test bench has.
        per_class: how many are needed once.
        pack: how many in a pack.
        hazards: by key.
    Returns:
        The quota.
    """
    material = Material(
        key(name), name, "piece", per_bench=per_bench, per_class=per_class, pack_size=pack, hazards=hazards
    )
    return Quota(material, (per_team,) * 4)


def out_of_reach(
    needed_m: float | None, rests_m: float, materials: Sequence[Material], field: str, what: str
) -> Mapping[str, str]:
    """A distance that no material reaches in one piece.

    Args:
        needed_m: the distance [m].
        rests_m: what has to rest on the supports on top of it [m].
        materials: what is built with; those without a size say nothing.
        field: the set-up field that is too long.
        what: what the sentence calls it.
    Returns:
        Sentence by field; empty when something reaches or no size is known.
    """
    sizes = [m.size_m for m in materials if m.buildable and m.size_m > 0]
    if needed_m is None or not sizes or needed_m + rests_m <= max(sizes) + 1e-9:
        return {}
    longest = max((m for m in materials if m.buildable), key=lambda m: m.size_m)
    rest = f" and {format_length(rests_m)} to rest on" if rests_m else ""
    return {
        field: f"{what} of {format_length(needed_m)}{rest} is longer than the {longest.name} reaches "
        f"({format_length(longest.size_m)}). Shorten it, or give longer material."
    }


STOPPED = Mode("stopped", "t", "Stopped, time is up", "It still stood; how much more it could is not known.")
LEANING = BenchMeasure(
    "lean",
    "Lean of the top",
    Kind.LENGTH,
    "How far the top went to one side since nothing was on it.",
    Plausible(0.0, 1.0, "the lean"),
    letter="n",
    short="Lean",
    way=Way.ASIDE,
    sign=LEAN.key,
)
SAG = BenchMeasure(
    "sag",
    "Sag at midspan",
    Kind.LENGTH,
    "How far the middle came down since nothing was on it.",
    Plausible(0.0, 0.5, "the sag"),
    letter="s",
    short="Sag",
    way=Way.DOWN,
)


def own_arrangements(*arrangements: tuple[str, str, str, str]) -> tuple[Mode, ...]:
    """Ways to set a trial up.

    Args:
        arrangements: key, letter, label and explanation of each, the usual one first.
    Returns:
        The arrangements.
    """
    return tuple(Mode(*arrangement) for arrangement in arrangements)


STRIP_M, DEEP_M = 0.04, 0.1
"""How much of a support's edge a footprint shows, and how deep it is drawn [m]; the rest of the support is outside."""


def centre_cross(x: float, y: float) -> tuple[Shape, Shape]:
    """Where the middle is.

    Args:
        x: [m].
        y: [m].
    Returns:
        Two crossing lines of 20 mm.
    """
    return (
        line(Role.GHOST, (x - 0.01, y), (x + 0.01, y)),
        line(Role.GHOST, (x, y - 0.01), (x, y + 0.01)),
    )


def edges_footprint(gap_m: float, says: str) -> Drawing:
    """From above: the inner edges of two supports, with their corners.

    Args:
        gap_m: clear gap [m].
        says: what it shows.
    Returns:
        The drawing, true to scale when it is printed as such.
    """
    return Drawing(
        (
            block(Role.SUPPORT, -STRIP_M, 0, STRIP_M, DEEP_M),
            block(Role.SUPPORT, gap_m, 0, STRIP_M, DEEP_M),
            *centre_cross(gap_m / 2, DEEP_M / 2),
            measure((0, -0.012), (gap_m, -0.012)),
        ),
        says,
    )


def square_footprint(side_m: float, says: str, other_m: float | None = None) -> Drawing:
    """From above: a rectangle with its middle.

    Args:
        side_m: its width [m].
        says: what it shows.
        other_m: its depth [m]; a square without it.
    Returns:
        The drawing, true to scale when it is printed as such.
    """
    deep = other_m or side_m
    return Drawing(
        (
            block(Role.SUPPORT, 0, 0, side_m, deep),
            *centre_cross(side_m / 2, deep / 2),
            measure((0, -0.012), (side_m, -0.012)),
        ),
        says,
    )


def key(name: str) -> str:
    """A stable key from a name.

    Args:
        name: what something is called.
    Returns:
        Lower-case words joined by hyphens.
    """
    words = "".join(c if c.isalnum() else " " for c in name.lower()).split()
    return "-".join(words) or "item"


SCISSORS_TOOL = tool("scissors", per_team=1, hazards=("scissors",))
RULER = tool("ruler", per_team=1)
SCALE = tool("scale, 0.1 g or 1 g steps", per_class=1)
MAT = tool("soft mat", per_bench=1)
GOGGLES = tool("safety goggles", per_bench=4)
STOPWATCH = tool("clock that all can see", per_class=1)

COMPRESSION = Term("compression", "Being squeezed.")
TENSION = Term("tension", "Being pulled.")
BUCKLING = Term("buckling", "Bowing out sideways under a squeeze, before the material itself is crushed.")
SPAN = Term("span", "The clear gap that a structure crosses.")
LOAD_TERM = Term("load", "What a structure has to carry besides itself.")
OWN_WEIGHT = Term("own weight", "What the structure itself weighs.")
JOINT = Term("joint", "A place where parts meet and hand on force.")
BASE = Term("base", "What a structure stands on; the wider, the harder to tip.")
CENTRE = Term("centre of mass", "The point where the weight seems to act; the lower, the steadier.")
FAIR_TEST = Term("fair test", "Changing one thing and keeping the rest the same.")
