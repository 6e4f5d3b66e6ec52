"""Drop houses: a house of joined panels, dropped from rising heights until its pieces come apart."""

from __future__ import annotations

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import COLLISION_HS, ENERGY_4, ENERGY_MS, MATERIALS_2
from girder_core.families.model import (
    Bench,
    FactorIdea,
    Family,
    Metric,
    Mode,
    Outcome,
    Pace,
    ReadingSpec,
    SchoolChoice,
    Setup,
    SetupField,
    Term,
)
from girder_core.ground import Drawing, Role, area, block, line, measure
from girder_core.measure import Kind, Plausible, format_length
from girder_core.results import School
from girder_core.safety import ALWAYS, DROPPING, SCISSORS
from girder_core.trial import BenchMeasure, Loose, drop_rounds

_SETUP = (
    SetupField(
        "first_drop_m", "First drop", Kind.LENGTH, 0.02, 2.0, 0.2, "Low enough for every house to survive.",
        ages=c.ages((0.1, 0.16, 0.22), (0.12, 0.2, 0.28), (0.16, 0.24, 0.34), (0.2, 0.3, 0.4)), harder=1, step=0.02,
        term="Dropped", says="first from {}",
    ),
    SetupField(
        "drop_step_m", "Higher each time", Kind.LENGTH, 0.01, 1.0, 0.15, "The step is the resolution of the result.",
        ages=c.ages((0.08, 0.12, 0.16), (0.1, 0.14, 0.18), (0.1, 0.14, 0.2), (0.1, 0.16, 0.22)), harder=1, step=0.02,
        term="Then", says="{} higher each time",
    ),
    SetupField(
        "drop_max_m", "Highest drop", Kind.LENGTH, 0.05, 3.0, 1.4, "The bench stops here.",
        ages=c.ages((0.7, 0.9, 1.1), (0.8, 1.0, 1.2), (0.9, 1.2, 1.4), (1.0, 1.3, 1.48)), harder=1, step=0.02,
        term="Highest", says="{}",
    ),
    SetupField(
        "panels", "Least number of panels", Kind.COUNT, 3, 60, 6, "A house is joined; one folded piece is not.",
        ages=c.ages((4, 5, 6), (5, 6, 8), (6, 7, 9), (6, 8, 12)), harder=1, step=1, term="Joined",
        says="from at least {} panels",
    ),
    c.tape(c.ages((0.3, 0.6, 0.9), (0.3, 0.5, 0.8), (0.2, 0.4, 0.7), (0.16, 0.3, 0.5))),
)  # fmt: skip

FAILURE_MODES = (
    Mode("joint", "j", "A joint opened", "Panels came apart where they were joined.",
         ("Was the joint peeled or sheared?", "Could a tab take the blow instead of the tape?")),
    Mode("panel", "p", "A panel cracked or folded", "The material gave way.",
         ("Which panel met the floor first?", "What if it met it with an edge, or with a cushion?")),
    Mode("roof", "r", "The roof came off", "It went on when the walls stopped.",
         ("How is the roof tied down to the walls?",)),
)  # fmt: skip


def draw(setup: Setup) -> Drawing:
    """A house above the floor, with the first and the highest drop.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing; the house itself is only indicated.
    """
    first, top = setup["first_drop_m"] or 0.2, setup["drop_max_m"] or 1.2
    wide = 0.14 * top
    walls = [block(Role.STRUCTURE, -wide, first, 2 * wide, 1.2 * wide)]
    roof = area(
        Role.STRUCTURE, (-1.2 * wide, first + 1.2 * wide), (1.2 * wide, first + 1.2 * wide), (0, first + 2 * wide)
    )
    return Drawing(
        (
            block(Role.GROUND, -0.5 * top, -0.03 * top, top, 0.03 * top),
            block(Role.SUPPORT, -0.3 * top, 0, 0.6 * top, 0.015 * top),
            *walls, roof,
            line(Role.GHOST, (-0.4 * top, top), (0.4 * top, top)),
            measure((-0.42 * top, 0), (-0.42 * top, first)),
            measure((0.42 * top, 0), (0.42 * top, top)),
        ),
        f"A house dropped first from {format_length(first)}, at last from {format_length(top)}.",
    )  # fmt: skip


DROP_HOUSE = Family(
    key="drop_house",
    name="Drop house",
    built="A house of joined panels that survives a fall.",
    tested="It is dropped flat from rising heights; pieces that came apart are counted after each.",
    question="Whose house survives the highest drop?",
    setup=_SETUP,
    readings=(
        c.counted("panels", "Panels", "Pieces that are joined to each other.", 2, 60, "the panels"),
        c.TAPE_USED,
        c.own_weight(0.005, 2.0, "a small house"),
        ReadingSpec("survived", "Highest drop survived", Kind.LENGTH,
                    "The last drop after which every joint held; 0 if it came apart at the first.",
                    Plausible(0.0, 3.0, "the drop survived"), may_follow=True),
        c.counted("apart", "Pieces apart at the end", "Pieces that came off in the last drop.", 0, 60,
                  "the pieces apart", after=True),
    ),
    limits=(
        Limit("panels", "panels", True, "the least number of panels"),
        Limit("tape", "tape_max_m", False, "the tape allowed"),
        Limit("survived", "drop_max_m", False, "the highest drop there is"),
    ),
    questions=(
        Question("closed", "Has it walls, a floor and a roof?", True, "It is not a closed house."),
        Question("padded", "Is anything soft fixed under it?", False,
            "It has a cushion, which this recipe does not allow."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=(Mode("tumbled", "t", "It tumbled or was thrown", "It was not dropped flat."), c.KNOCKED),
    run_out_reasons=(Mode("highest", "n", "Highest drop survived", "The bench goes no higher."), c.STOPPED),
    observations=(c.CRACK, c.JOINT_OPENING, Mode("dent", "d", "A dent", "A corner is pushed in.")),
    outcome=Outcome(survived="survived"),
    bench=Bench(
        rounds=lambda setup: drop_rounds(
            setup.get("first_drop_m") or 0.2, setup.get("drop_step_m") or 0.15, setup.get("drop_max_m") or 1.4
        ),
        measures=(
            BenchMeasure("apart", "Pieces apart", Kind.COUNT, "Pieces that came off in the last drop.",
                         Plausible(0, 60, "the pieces apart"), short="Pieces", beside="pieces apart",
                         loose=Loose.THEMSELVES),
        ),
    ),
    metrics=(Metric("survived", "Highest drop survived", "All joints held."),
             Metric("apart", "Pieces apart", "Counted after the last drop.")),
    schools=(SchoolChoice(School.SURVIVED, "The fall decides; the number of panels is a rule."),),
    quotas=(
        c.some("card panel, 120 × 90 mm", "panel", (6, 8, 10, 12), (1, 2, 2, 2), pack=50, size_m=0.12, harder=0),
        c.SCISSORS_TOOL, c.tool("measuring pole with slider", per_bench=1), c.tool("hard board to land on",
        per_bench=1),
        c.GOGGLES, c.SCALE,
    ),
    pace=Pace(swap_s=30, test_s=110),
    vocabulary=(c.JOINT, Term("impact", "A short, hard push when something stops."),
                Term("tab", "A flap that is folded over and joined."), Term("shear",
                    "Sliding of one part past another.")),
    young="A fall stops all of a sudden. Which joints stay shut? Tabs help more than tape on an edge.",
    older="A higher drop brings more energy, and it must go somewhere: into bending, cracking or opening joints. A "
    "joint "
    "that slides under tape holds far more than one that is peeled; a part that gives a little lowers the peak force.",
    ideas=("Fold tabs at every edge.", "Tie the roof to the floor.", "Round off the corner that lands first."),
    factors=(
        FactorIdea("joint", ("tape on edges", "tabs", "slots"), "The same panels, joined in other ways."),
        FactorIdea("landing", ("flat", "on an edge"), "How it lands matters as much as how high."),
    ),
    controls=("the same panels", "the same tape", "the same board", "dropped flat", "the same heights"),
    reflect=(
        "Which joint opened first, and what hit the floor?",
        "What took up the shock, and what passed it on?",
        "Where would one more tab do most?",
    ),
    standards=(MATERIALS_2, ENERGY_4, ENERGY_MS, COLLISION_HS),
    cautions=(DROPPING, SCISSORS, ALWAYS),
    tallest="drop_max_m",
    draw=draw,
    footprint=lambda setup: c.square_footprint(0.25, "The landing board; the house hangs over the cross."),
)  # fmt: skip
