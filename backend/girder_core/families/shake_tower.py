"""Shake towers: a tower on a shaking base, with or without isolation, shaken harder level by level."""

from __future__ import annotations

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import FORCES_HS, FORCES_MS, HAZARDS_4, HAZARDS_MS, MATERIALS_2
from girder_core.families.model import (
    Bench,
    FactorIdea,
    Family,
    Metric,
    Mode,
    Outcome,
    Pace,
    SchoolChoice,
    Setup,
    SetupField,
    Term,
)
from girder_core.ground import Drawing, Role, block, circle, line, measure
from girder_core.measure import Kind, format_length
from girder_core.results import School
from girder_core.safety import ALWAYS, ELASTIC, SHAKING, SNAPPING
from girder_core.trial import shake_rounds

_SETUP = (
    SetupField(
        "height_m", "Least height", Kind.LENGTH, 0.05, 2.0, 0.3, "Higher floors swing further.",
        ages=c.ages((0.16, 0.22, 0.28), (0.2, 0.28, 0.36), (0.26, 0.34, 0.44), (0.3, 0.42, 0.55)), harder=1,
        step=0.02, term="Stands", says="at least {} high",
    ),
    SetupField(
        "base_max_m", "Widest base", Kind.LENGTH, 0.03, 1.0, 0.18, "It has to fit the shaking base.",
        ages=c.ages((0.16, 0.2, 0.24), (0.14, 0.18, 0.22), (0.12, 0.16, 0.2), (0.1, 0.14, 0.18)), harder=-1,
        step=0.01, term="Base", says="at most {} wide",
    ),
    SetupField(
        "stroke_m", "Stroke of the base", Kind.LENGTH, 0.002, 0.3, 0.03, "How far the base travels from end to end.",
        ages=c.ages((0.016, 0.024, 0.032), (0.02, 0.028, 0.036), (0.024, 0.032, 0.044), (0.028, 0.038, 0.05)),
        harder=1, step=0.002, term="Shaken", says="{} from end to end",
    ),
    SetupField(
        "frequency_hz", "Frequency of level 1", Kind.FREQUENCY, 0.1, 20, 1.0, "How often it goes there and back.",
        ages=c.ages((0.5, 0.8, 1.0), (0.6, 1.0, 1.2), (0.8, 1.0, 1.4), (0.8, 1.2, 1.6)), harder=1, step=0.1,
        term="Shaken", says="{} at level 1",
    ),
    SetupField(
        "frequency_step_hz", "Faster per level", Kind.FREQUENCY, 0.05, 5, 0.4, "Each level shakes faster by this.",
        ages=c.ages((0.2, 0.3, 0.4), (0.2, 0.3, 0.5), (0.3, 0.4, 0.6), (0.3, 0.5, 0.7)), harder=1, step=0.1,
        term="Levels", says="each {} faster than the one before",
    ),
    SetupField(
        "levels", "Levels", Kind.COUNT, 1, 20, 5, "The bench stops here.",
        ages=c.ages((3, 4, 5), (3, 4, 6), (4, 5, 7), (4, 6, 8)), harder=1, step=1, term="Levels", says="{} in all",
    ),
    SetupField(
        "hold_s", "Time at each level", Kind.TIME, 1, 120, 10, "It survives a level when it stands at the end of it.",
        ages=c.ages((4, 8, 12), (6, 10, 14), (6, 10, 16), (8, 12, 20)), harder=1, step=1, term="Counts",
        says="when it stands after {}",
    ),
)  # fmt: skip

FAILURE_MODES = (
    Mode("foundation", "f", "Foundation came off", "It slid, rocked or lifted off the base.",
         ("Was it held too stiffly, or not enough?", "What if the base could slide under it?")),
    Mode("joint", "j", "A joint opened", "A band or glue let go.",
         ("Which floor moved most against the next?", "Does the joint hold when pulled both ways?")),
    Mode("toppled", "t", "Toppled", "It tipped over as a whole.",
         ("Where is its weight?", "How wide is its base against its height?")),
    Mode("racked", "r", "Folded sideways", "A storey became a diamond.",
         ("Which storey had no diagonal?", "Is one storey softer than the others?")),
)  # fmt: skip


def draw(setup: Setup) -> Drawing:
    """A tower of storeys on a sliding base.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing.
    """
    height, base, stroke = setup["height_m"] or 0.3, setup["base_max_m"] or 0.18, setup["stroke_m"] or 0.03
    plate = base + 0.1
    half, storey = 0.4 * base, height / 3
    floors = [line(Role.STRUCTURE, (-half, i * storey), (half, i * storey)) for i in range(1, 4)]
    legs = [line(Role.STRUCTURE, (s * half, 0), (s * half, height)) for s in (-1, 1)]
    braces = [line(Role.STRUCTURE, (-half, i * storey), (half, (i + 1) * storey)) for i in range(2)]
    thick = 0.05 * height
    return Drawing(
        (
            block(Role.GROUND, -plate, -3.2 * thick, 2 * plate, thick),
            *(circle(Role.SUPPORT, (x, -1.6 * thick), 0.6 * thick) for x in (-0.35 * plate, 0.35 * plate)),
            block(Role.SUPPORT, -plate / 2, -thick, plate, thick),
            *legs, *floors, *braces,
            measure((-0.75 * plate, 0), (-0.75 * plate, height)),
            measure((plate / 2, -0.5 * thick), (plate / 2 + stroke, -0.5 * thick)),
        ),
        f"A tower of at least {format_length(height)} on a base that moves {format_length(stroke)} to and fro.",
    )  # fmt: skip


SHAKE_TOWER = Family(
    key="shake_tower",
    name="Shake tower",
    built="A tower that stays up on a shaking base.",
    tested="The base shakes for the agreed time; each level shakes faster, until something gives.",
    question="Whose tower survives the strongest shaking?",
    setup=_SETUP,
    readings=(
        c.length("height", "Height", "From the shaking base to the highest point.", 0.04, 2.0, "the height"),
        c.length("base", "Widest base", "The widest distance between its feet.", 0.02, 1.0, "the base"),
        c.own_weight(0.003, 1.5, "a tower"),
        c.counted("level", "Level survived", "The last level after which it still stood; 0 if it fell at the first.",
                  0, 20, "the level survived", after=True),
    ),
    limits=(
        Limit("height", "height_m", True, "the least height"),
        Limit("base", "base_max_m", False, "the widest base"),
        Limit("level", "levels", False, "the levels there are"),
    ),
    questions=(
        c.STANDS,
        Question("clamped", "Is it fixed to the base only as the rules allow?", True, "It is fixed in another way."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=(c.KNOCKED, Mode("drive", "d", "The drive slipped or stalled", "It was not shaken as agreed.")),
    run_out_reasons=(Mode("all_levels", "n", "All levels survived", "The bench shakes no faster."), c.STOPPED),
    observations=(c.LEAN, c.JOINT_OPENING, Mode("walk", "w", "Walking", "It creeps across the base."),
                  Mode("swing", "s", "Swinging strongly", "The top swings much further than the base.")),
    outcome=Outcome(survived="level"),
    bench=Bench(
        rounds=lambda setup: shake_rounds(
            setup.get("stroke_m") or 0.03, setup.get("frequency_hz") or 1.0, setup.get("frequency_step_hz") or 0.4,
            round(setup.get("levels") or 5), setup.get("hold_s") or 10.0,
        ),
        arrangements=c.own_arrangements(
            ("fixed", "f", "Fixed to the base", "It stands on the moving plate."),
            ("isolated", "i", "On an isolating layer", "Marbles or a sliding tray lie under it."),
        ),
    ),
    metrics=(Metric("level", "Level survived", "The last level after which it stood."),
             Metric("acceleration", "Peak acceleration", "Half the stroke times (2π × frequency) squared.")),
    schools=(SchoolChoice(School.SURVIVED, "The shaking decides; height is a rule, not a score."),),
    quotas=(
        c.some("4 mm dowel, 250 mm", "stick", (14, 18, 20, 20), (2, 2, 2, 2), pack=50, size_m=0.25),
        c.some("rubber band", "piece", (16, 20, 24, 24), (4, 4, 4, 4), pack=100, harder=0, hazards=("elastic",)),
        c.tool("shaking base", per_bench=1), c.tool("tray of marbles for isolation", per_bench=1), c.STOPWATCH, c.RULER,
        c.SCALE,
    ),
    pace=Pace(swap_s=40, test_s=90),
    vocabulary=(Term("frequency", "How many times it goes there and back in a second."),
                Term("stroke", "How far it travels from end to end."),
                Term("isolation", "Letting the ground move under a building."), c.BASE, c.CENTRE, c.JOINT),
    young="When the ground shakes, the top of a tower wants to stay where it was. Diagonals and a wide foot help.",
    older="The base drags the tower along; its mass resists. Each tower has a frequency of its own: shaken near it, it "
    "swings further and further. A layer that slides keeps the shaking below, if it is slow against the shaking.",
    ideas=("Brace every storey.", "Put heavy things low.", "Let the base slide on marbles.", "Make all storeys alike."),
    factors=(
        FactorIdea("isolation", ("fixed", "on marbles"), "The same tower, the ground let go or not."),
        FactorIdea("bracing", ("one side", "both sides"), "Which way does it fold?"),
        FactorIdea("top weight", ("none", "one block"), "A heavier top swings more slowly."),
    ),
    controls=("the same base", "the same stroke", "the same levels", "the same time per level", "the same sticks"),
    reflect=(
        "What went first: foot, joint or balance?",
        "At which level did it swing most, and why there?",
        "What would isolation have done for it?",
    ),
    standards=(MATERIALS_2, HAZARDS_4, HAZARDS_MS, FORCES_MS, FORCES_HS),
    cautions=(SHAKING, SNAPPING, ELASTIC, ALWAYS),
    draw=draw,
    footprint=lambda setup: c.square_footprint(setup["base_max_m"] or 0.18, "The widest base on the shaking plate."),
)  # fmt: skip
