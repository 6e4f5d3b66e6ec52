"""Bridges: a sheet, card, straw, stick, string or tube bridge over a gap, loaded at midspan or over the deck."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import BALANCE_3, FORCES_HS, FORCES_MS, MATERIALS_2, STRUCTURE_HS
from girder_core.families.derived import floor
from girder_core.families.model import (
    Bench,
    FactorIdea,
    Family,
    LoadIdea,
    Metric,
    Mode,
    Outcome,
    Pace,
    Picture,
    Saying,
    SchoolChoice,
    Setup,
    SetupField,
    Term,
)
from girder_core.ground import Drawing, Role, block, measure
from girder_core.kit import Material, Stuff
from girder_core.measure import Kind, format_length
from girder_core.results import School
from girder_core.safety import ALWAYS, SCISSORS, SNAPPING

_SETUP = (
    SetupField(
        "gap_m", "Gap between the supports", Kind.LENGTH, 0.02, 5.0, 0.30, "The clear gap to be bridged.",
        ages=c.ages((0.18, 0.22, 0.28), (0.22, 0.28, 0.36), (0.28, 0.36, 0.44), (0.34, 0.42, 0.50)), harder=1,
        step=0.02, term="Spans", says="{} with nothing under it",
    ),
    SetupField(
        "overlap_min_m", "Least overlap on each support", Kind.LENGTH, 0.0, 1.0, None,
        "Below this a sagging bridge pulls itself off its supports.", optional=True,
        ages=c.ages((0.02, 0.024, 0.03), (0.02, 0.024, 0.03), (0.016, 0.022, 0.03), (0.014, 0.02, 0.03)), harder=-1,
        step=0.002, term="Rests", says="at least {} on each side",
    ),
    SetupField(
        "overlap_max_m", "Most overlap on each support", Kind.LENGTH, 0.0, 1.0, None,
        "Above this the ends are held down and a different structure is tested.", optional=True,
        ages=c.ages((0.05, 0.06, 0.07), (0.045, 0.055, 0.065), (0.04, 0.048, 0.06), (0.036, 0.044, 0.056)), harder=-1,
        step=0.002, term="Rests", says="at most {} on each side",
    ),
    c.tape(c.ages((0.2, 0.4, 0.6), (0.2, 0.36, 0.5), (0.16, 0.32, 0.44), (0.1, 0.24, 0.36))),
    c.hold(),
    c.target(c.ages((0.1, 0.24, 0.5), (0.25, 0.5, 0.9), (0.45, 0.8, 1.4), (0.8, 1.4, 2.4)), 0.05),
    c.bench_limit(),
)  # fmt: skip

_READINGS = (
    c.length("gap", "Clear gap", "From the inner edge of one support to the inner edge of the other.", 0.02, 3.0,
             "the clear gap"),
    c.length("overlap_left", "Rests on the left", "Inner edge of the left support to the bridge's end.", 0.002, 0.5,
             "the overlap on the left"),
    c.length("overlap_right", "Rests on the right", "Inner edge of the right support to the bridge's end.", 0.002, 0.5,
             "the overlap on the right"),
    c.length("length", "Deck length", "The whole deck, from end to end.", 0.03, 4.0, "the deck's length", False, True),
    c.length("width", "Deck width", "Across the deck, at its narrowest.", 0.005, 1.0, "the deck's width", False, True),
    c.floor_shape("area", "Deck’s shape", c.SHAPES, 2.0, "the deck’s area"),
    c.TAPE_USED,
    c.own_weight(0.0005, 0.5, "a classroom bridge", "The whole bridge on the scale, before it is loaded."),
)  # fmt: skip

FAILURE_MODES = (
    Mode("crimp", "c", "Crimped", "A fold or the top edge buckled; thin walls in compression crumple.",
         ("Where is the top squeezed most, and is anything doubled there?",
          "Would deeper folds, or more of them, stand up better?")),
    Mode("snap", "s", "Snapped", "A part broke or tore through.",
         ("Was there a hole, a crease or a cut where it broke?", "Can the pull be shared by more material there?")),
    Mode("joint", "j", "Joint or tape opened", "Parts came apart where they were joined.",
         ("Was the joint pulled, peeled or slid?", "Could the parts overlap more, so that tape is slid, not peeled?")),
    Mode("twist", "t", "Twisted", "The bridge rolled over sideways.",
         ("Are both sides equally stiff?", "Would a closed shape or a cross tie stop it from rolling?")),
    Mode("slip", "l", "Slipped off a support", "An end came off its support.",
         ("Did it bend so much that it pulled itself in?", "Is as much of it resting as the rules allow?")),
    Mode("sag", "g", "Sagged to the limit", "It bent so far that it touched down or passed the agreed sag.",
         ("What makes it deeper without more material?", "Do the folds run along the span?")),
)  # fmt: skip
LOADING_ERRORS = (
    c.PILE_TOPPLED,
    c.KNOCKED,
    Mode("support_moved", "m", "A support moved", "The gap was no longer the same."),
    c.WRONG_LOAD,
)
OBSERVATIONS = (c.BEND, c.CRACK, c.LEAN, c.BUCKLE, c.JOINT_OPENING)


def draw(setup: Setup) -> Drawing:
    """The supports and the gap with a deck across.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing; the deck's depth is only indicated.
    """
    gap = setup["gap_m"] or 0.3
    rest = setup.get("overlap_min_m") or setup.get("overlap_max_m") or 0.08 * gap
    height, wide, deck = 0.42 * gap, max(0.22 * gap, 1.3 * rest), gap / 14
    return Drawing(
        (
            block(Role.GROUND, -wide, -height - 0.03 * gap, gap + 2 * wide, 0.03 * gap),
            block(Role.SUPPORT, -wide, -height, wide, height),
            block(Role.SUPPORT, gap, -height, wide, height),
            block(Role.STRUCTURE, -rest, 0, gap + 2 * rest, deck),
            block(Role.LOAD, 0.42 * gap, deck, 0.16 * gap, 0.12 * gap),
            measure((0, -0.45 * height), (gap, -0.45 * height)),
        ),
        f"A deck over a gap of {format_length(gap)} between two supports, loaded in the middle.",
    )


def conflicts(setup: Setup, materials: Sequence[Material]) -> Mapping[str, str]:
    """A gap longer than the material reaches.

    Args:
        setup: set-up quantities [SI].
        materials: what it is built from.
    Returns:
        Sentence by field.
    """
    return c.out_of_reach(setup.get("gap_m"), 2 * (setup.get("overlap_min_m") or 0.0), materials, "gap_m", "The gap")


BRIDGE = Family(
    key="bridge",
    name="Bridge",
    built="A bridge that spans a gap between two supports and carries load in the middle.",
    tested="Load goes on in the middle, step by step, until it fails.",
    question="Whose bridge carries most for its own weight?",
    setup=_SETUP,
    readings=_READINGS,
    limits=(
        Limit("gap", "gap_m", True, "the gap of this challenge", agreed=True),
        Limit("overlap_left", "overlap_min_m", True, "the least overlap"),
        Limit("overlap_left", "overlap_max_m", False, "the most overlap"),
        Limit("overlap_right", "overlap_min_m", True, "the least overlap"),
        Limit("overlap_right", "overlap_max_m", False, "the most overlap"),
        Limit("tape", "tape_max_m", False, "the tape allowed"),
    ),
    questions=(
        Question("stands", "Does it span the gap with nothing on it?", True, "It does not span the gap by itself.",
                 blocks=True),
        Question("piers", "Does anything prop it up between the supports?", False, "It is propped up in the gap."),
        Question("papered", "Is the deck covered over with tape?", False, "The deck is covered over with tape."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=LOADING_ERRORS,
    run_out_reasons=c.RUN_OUTS,
    observations=OBSERVATIONS,
    outcome=Outcome(size="gap"),
    bench=Bench(
        measures=(c.SAG,),
        picture=Picture.SPAN,
        arrangements=c.own_arrangements(
            ("hung", "h", "Hung at midspan", "A tray or cup hangs from the middle."),
            ("patch", "p", "On a patch", "Set down on a small plate in the middle."),
            ("spread", "s", "Spread over the deck", "Laid evenly from end to end; bending is half."),
            ("point", "o", "At one point", "Everything bears on one spot in the middle."),
        ),
    ),
    metrics=(c.HELD, c.TIMES, Metric("gap", "Clear gap", "Measured between the supports.")),
    schools=(
        c.RATIO, c.MOST_HELD, c.PASS, c.MIXED,
        SchoolChoice(School.TALLEST, "The longest clear gap wins, among those that hold the target."),
        SchoolChoice(School.CAPACITY, "Counts the pieces that stayed on; a wide deck has the edge."),
    ),
    derived=floor("area", "length", "width"),
    quotas=(
        c.some("manila card, 620 × 300 mm", "sheet", (1, 1, 1, 1), (1, 1, 1, 1), pack=20, size_m=0.62, harder=0),
        c.SCISSORS_TOOL, c.RULER, c.tool("equal supports", per_bench=2), c.tool("hanging tray with hook", per_bench=1),
        c.MAT, c.GOGGLES, c.SCALE,
    ),
    load=(LoadIdea("M12 hex nut", "nut", 0.017, 0.020, 0.010, 10),),
    platform="hanging tray",
    pace=Pace(swap_s=40, place_s=2),
    vocabulary=(c.SPAN, c.LOAD_TERM, c.COMPRESSION, c.TENSION, c.BUCKLING, Term("deck", "What you would walk on."),
                c.OWN_WEIGHT),
    young="A flat card bends. Fold it, and it stands up to more. Which folds are strongest?",
    older="When a bridge bends, its top is squeezed and its bottom pulled. Material far from the middle of its depth "
    "resists most, so folds that make it deep make it stiff. Thin walls under a squeeze buckle before they crush.",
    ideas=("Turn up two edges.", "Fold pleats along the span.", "Roll a tube under the deck.", "Close a box.",
           "Spread the load with a stiff plate."),
    factors=(
        FactorIdea("folds", ("two", "four", "eight"), "Does depth or number matter more?"),
        FactorIdea("section", ("trough", "pleats", "tube", "box"), "Which shape does most with one sheet?"),
        FactorIdea("load", ("in the middle", "spread out"), "Spread over the span, the bending is half."),
    ),
    controls=("the same gap", "the same card", "the same tape", "the same load objects", "loaded in the middle",
              "the same wait"),
    sayings={
        Stuff.STICK: Saying(
            young="One straw or stick bends. Three of them in a triangle do not. Where does your bridge need them?",
            older="A stick is strong when it is pulled, and bows out sideways when it is squeezed; a short one bows "
            "late. In a bridge the top is squeezed and the bottom pulled. Triangles keep their shape even when their "
            "joints turn, so a deep row of triangles carries more than the same sticks lying flat.",
            ideas=("Make triangles.", "Use two sticks side by side where it is squeezed.", "Make it deeper, not wider.",
                   "Tie the two sides together.", "Look at the joints first: most bridges of sticks open there."),
            factors=(
                FactorIdea("side", ("flat deck", "triangles"), "The same sticks, lying or standing."),
                FactorIdea("depth", ("shallow", "deep"), "Does height help more than width?"),
                FactorIdea("load", ("in the middle", "spread out"), "Spread over the span, the bending is half."),
            ),
            controls=("the same gap", "the same number of sticks", "the same tape", "the same load objects",
                      "loaded in the middle", "the same wait"),
        ),
    },
    reflect=(
        "Where did it begin to give way, and how could you tell?",
        "Which part carried most, and which hardly anything?",
        "What would you change first, and what should that do?",
    ),
    standards=(MATERIALS_2, BALANCE_3, FORCES_MS, FORCES_HS, STRUCTURE_HS),
    cautions=(SNAPPING, SCISSORS, ALWAYS),
    draw=draw,
    footprint=lambda setup: c.edges_footprint(setup["gap_m"] or 0.3, "Inner edges of both supports, and the middle."),
    conflicts=conflicts,
)  # fmt: skip
