"""A truss over a gap: pattern, panels, depth, members and joints; any joint can be moved."""

from __future__ import annotations

from dataclasses import replace

from girder_core.drafting.films import load_grows
from girder_core.drafting.model import (
    DraftKind,
    Expected,
    Fact,
    Lesson,
    Shown,
    Values,
    View,
    choice,
    count,
    in_words,
    length,
    loosest_to_stiffest,
    stock,
)
from girder_core.ground import (
    Drawing,
    GirderError,
    Point,
    Role,
    Shape,
    area,
    arrow,
    block,
    circle,
    label,
    line,
    measure,
)
from girder_core.measure import System, format_length, plural
from girder_core.physics import (
    PATTERNS,
    Bounds,
    Form,
    PlaneTruss,
    Prediction,
    capacity,
    deck_load,
    joint_strength,
    mechanism,
    member_of,
    moved,
    pattern,
    total_length_m,
    truss_sag_m,
    trusses_share,
)

_PARAMS = (
    choice("pattern", "Pattern", {name: name for name in ("Warren", *(n for n in PATTERNS if n != "Warren"))},
           "Where the diagonals lie."),
    count("panels", "Panels", 2, 12, 4, "Shorter members buckle later; more joints can open.",
          only=("pattern", ("Warren", "Warren with verticals", "Pratt", "Howe", "bowstring")), nudge=2,
          more="Two panels more", less="Two panels fewer"),
    length("span_m", "Gap", 0.1, 2.0, 0.36, 0.01, "", setup="gap_m", reading="gap", nudge=0.02,
           more="Gap {} longer", less="Gap {} shorter", least=0.02, most=5.0),
    length("depth_m", "Depth", 0.02, 0.6, 0.08, 0.005, "Chords carry less in a deeper truss.", nudge=0.01,
           more="{} deeper", less="{} shallower"),
    stock("member", "Members", (Form.ROD, Form.TUBE), "craft-stick"),
    count("doubled", "Pieces in each member", 1, 4, 1, "", nudge=1, more="One piece more in each member",
          less="One piece fewer"),
    choice("bonded", "These pieces are", {"loose": "side by side", "glued": "glued along their length"},
           "Flat sticks that are glued face to face act as one thick stick.",
           switch={"glued": "Glue the pieces along their length"}),
    stock("joint", "Joints", (Form.JOINT, Form.TAPE), "glue", "What the end of one member holds."),
    length("lap_m", "Pieces lie on each other by", 0.003, 0.06, 0.01, 0.001,
           "Glue holds by its area; a short lap peels open.", nudge=0.005, more="Laps {} longer",
           less="Laps {} shorter", fine=True),
    count("trusses", "Trusses side by side", 1, 4, 1, "They share the deck, not quite evenly.", nudge=1,
          more="One truss more", less="One truss fewer"),
    choice("top", "Top", {"braced": "held by pieces across at every joint", "free": "held by nothing across"},
           "A long squeezed top sways out to the side.", switch={"braced": "Pieces across from top to top"}),
    choice("placement", "Load", {"centre": "in the middle", "uniform": "all over the deck"}),
    length("off_m", "Load off midspan", 0.0, 0.9, 0.0, 0.01, "", only=("placement", ("centre",)), fine=True),
    length("apart_m", "Outer trusses stand apart", 0.01, 0.5, 0.08, 0.005, "", fine=True),
    length("aside_m", "Load off the middle line", 0.0, 0.25, 0.0, 0.005, "The nearer truss carries more.", nudge=0.005,
           less="Load {} nearer the middle line", fine=True),
    choice("rests", "It stands", {"between": "anywhere on the deck", "joints": "on joints only"},
           "Between its joints, a piece is bent like a plank.", switch={"joints": "The load on the joints only"}),
)  # fmt: skip


def truss_of(values: Values) -> PlaneTruss:
    """The truss with its moved joints and the members' stiffness.

    Args:
        values: the draft's.
    Returns:
        The truss.
    Errors:
        Those of ``trusses.pattern`` and ``trusses.moved``.
    """
    made = pattern(values.words["pattern"], values["span_m"], values["depth_m"], values.count("panels"))
    for name, to in values.moves.items():
        if name in made.joints:
            made = moved(made, name, to)
    member = values.stocks["member"]
    area_m2 = member_of(member, values.count("doubled")).area_m2
    return replace(made, axial_stiffness_n=member.elastic_modulus_pa.typical * area_m2)


def expect(values: Values) -> Expected:
    """What the truss is expected to hold, or the trusses that share a deck.

    Args:
        values: the draft's.
    Returns:
        Prediction and own mass.
    Errors:
        ``mechanism``, naming a joint that moves; those of ``truss_of``.
    """
    truss = truss_of(values)
    determinacy = truss.determinacy()
    if determinacy.kind == "mechanism":
        raise mechanism(determinacy)
    member, joint = values.stocks["member"], values.stocks["joint"]
    strength = joint_strength(joint, member, values["lap_m"])
    if strength is None:
        raise GirderError("no_joint", f"{joint.name} makes no joint.", fields={"joint": "Choose another joint."})
    return Expected(_capacity(values, truss, strength, values.words["top"] == "braced"), _mass_kg(values, truss))


def _capacity(values: Values, truss: PlaneTruss, strength_n: Bounds, braced: bool) -> Prediction:
    return capacity(
        truss, _shares(values, truss), values.stocks["member"], strength_n,
        values.count("doubled"), bonded=values.words["bonded"] == "glued",
        between_joints=values.words["rests"] == "between", braced=braced,
        trusses=values.count("trusses"), heaviest_share=_heaviest(values),
    )  # fmt: skip


def _heaviest(values: Values) -> float | None:
    """Share of the load on the nearest of several trusses."""
    trusses = values.count("trusses")
    return trusses_share(trusses, values["apart_m"], values["aside_m"]) if trusses > 1 else None


def _shares(values: Values, truss: PlaneTruss) -> dict[str, float]:
    """Shares of a unit load by joint."""
    return deck_load(truss, values.words["placement"], values.when("off_m", "placement", "centre"))


def _mass_kg(values: Values, truss: PlaneTruss) -> float:
    """Own mass of all trusses, without what lies across [kg]."""
    member = values.stocks["member"]
    area_m2 = member_of(member, values.count("doubled")).area_m2
    return member.density_kg_m3.typical * area_m2 * total_length_m(truss) * values.count("trusses")


def gives(values: Values) -> tuple[float, float, float]:
    """How far the middle of the deck comes down for each newton of the load.

    Args:
        values: the draft's.
    Returns:
        With the loosest, the usual and the stiffest members [m/N]; what joints give is not in it.
    Errors:
        ``mechanism``; those of ``truss_of``.
    Source:
        Direct stiffness, as ``truss_sag_m``.
    """
    truss = truss_of(values)
    usual = truss_sag_m(truss, _shares(values, truss), 1.0, values.count("trusses"), _heaviest(values))
    return loosest_to_stiffest(usual, values.stocks["member"])


def show(values: Values, expected: Expected, system: System) -> Shown:
    """The truss to scale, its members by pull and squeeze at the load at which it gives way.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    truss = truss_of(values)
    prediction = expected.prediction
    assert prediction is not None
    # Of several, each is drawn at its share; how evenly they share is in the range.
    load = prediction.typical_n / values.count("trusses")
    shares = _shares(values, truss)
    forces = truss.solve({name: (0.0, -share * load) for name, share in shares.items()}).member_forces_n
    weakest = prediction.governing.part
    most = max(abs(force) for force in forces.values())
    shapes: list[Shape] = []
    span, size = values["span_m"], max(values["span_m"], values["depth_m"])
    lowest = min(y for _, y in truss.joints.values())
    for name in truss.supports:
        x, y = truss.joints[name]
        shapes.append(
            area(Role.SUPPORT, (x, y), (x - 0.03 * size, y - 0.05 * size), (x + 0.03 * size, y - 0.05 * size))
        )
    for a, b in truss.members:
        force = forces[f"{a}-{b}"]
        role = Role.TENSION if force > 1e-6 * most else Role.COMPRESSION if force < -1e-6 * most else Role.SLACK
        ends = (truss.joints[a], truss.joints[b])
        if f"{a}-{b}" == weakest and values.share >= 1:
            shapes.append(line(Role.WEAKEST, *ends))
        if f"{a}-{b}" == weakest and values.gone:
            shapes += _snapped(*ends)
            continue
        shapes.append(Shape("line", role, ends, text=f"{abs(force) * values.on:.3g} N", key=f"{a}-{b}"))
    for name, share in shares.items():
        x, y = truss.joints[name]
        shapes.append(arrow((x, y - 0.02 * size), (x, y - (0.06 + 0.1 * share * values.on) * size), ""))
    for name, at in truss.joints.items():
        shapes.append(Shape("circle", Role.STRUCTURE, (at,), 0.012 * size, key=name))
    shapes.append(measure((0, lowest - 0.25 * size), (span, lowest - 0.25 * size)))
    determinacy = truss.determinacy()
    kind = (
        "Every member is needed: take any away and it moves."
        if determinacy.kind == "determinate"
        else f"It has {determinacy.self_stress_states} {plural('member', determinacy.self_stress_states)} to spare."
    )
    weak = forces.get(weakest, 0.0)
    strength = joint_strength(values.stocks["joint"], values.stocks["member"], values["lap_m"])
    assert strength is not None
    braced = values.words["top"] == "braced"
    other = in_words(_capacity(values, truss, strength, not braced).typical_n, False, system)
    sideways = (
        f"With nothing across its top, the model says about {other}."
        if braced
        else f"With pieces across from top to top at every joint, the model says about {other}."
    )
    return Shown(
        views=(
            View("truss", "Pulled and squeezed, as it gives way", Drawing(
                tuple(shapes),
                f"A {values.words['pattern']} truss over {format_length(span, system)}; weakest is {weakest}.",
            )),
        ),
        facts=(
            Fact("Own weight", "mass", expected.mass_kg),
            Fact("Times its own weight", "ratio", prediction.typical_kg / expected.mass_kg),
            Fact("Members", "count", len(truss.members)),
            Fact("Stick needed", "length", total_length_m(truss) * values.count("doubled") * values.count("trusses")),
            Fact(f"In {weakest}", "force", abs(weak), "pulled" if weak > 0 else "squeezed"),
        ),
        says=(kind, sideways, "Drag a joint to move it."),
    )  # fmt: skip


def _snapped(start: Point, end: Point) -> list[Shape]:
    """The two halves of a member that gave way, bent out of its line."""
    (x0, y0), (x1, y1) = start, end
    off = 0.12
    bent = ((x0 + x1) / 2 - off * (y1 - y0), (y0 + y1) / 2 + off * (x1 - x0))
    return [line(Role.SLACK, a, (a[0] + 0.85 * (bent[0] - a[0]), a[1] + 0.85 * (bent[1] - a[1]))) for a in (start, end)]


def _square_and_triangle() -> Drawing:
    """A frame of four sticks leans; with a diagonal it does not."""
    lean = 0.05
    gap = 0.32
    return Drawing(
        (
            line(Role.SLACK, (0, 0), (0, 0.16), (0.16, 0.16), (0.16, 0)),
            line(Role.WEAKEST, (0, 0), (lean, 0.152), (0.16 + lean, 0.152), (0.16, 0)),
            arrow((-0.06, 0.16), (-0.01, 0.16)),
            line(Role.STRUCTURE, (gap, 0), (gap, 0.16), (gap + 0.16, 0.16), (gap + 0.16, 0), (gap, 0.16)),
            arrow((gap - 0.06, 0.16), (gap - 0.01, 0.16)),
            block(Role.GROUND, -0.05, -0.012, 0.6, 0.012),
            label(Role.GHOST, (0.08, -0.05), "a square leans"),
            label(Role.GHOST, (gap + 0.08, -0.05), "a triangle cannot"),
            circle(Role.STRUCTURE, (0, 0), 0.006),
        ),
        "A square of four sticks leans over when it is pushed; with a diagonal it keeps its shape.",
    )


TRUSS = DraftKind(
    "truss", "Truss", "Straight members in triangles over a gap; one truss, or several side by side.", ("bridge",),
    "load on the deck", _PARAMS, expect, show, "member",
    lessons=(Lesson("Only a triangle keeps its shape when its corners can turn.", _square_and_triangle()),),
    films=(load_grows("Load grows, and the weakest member goes", "truss"),),
    blame={"load_pattern": "placement"},
    gives=gives,
)  # fmt: skip
