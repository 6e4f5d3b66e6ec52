"""Between a typed plan, the core's plan, and what a recipe keeps.

``sheet`` fills a planner sheet from a few answers and the teacher's own entries; ``read_entry`` reads a complete entry
literally, as it is saved, exported and imported. Every bad field is named at once.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, fields
from typing import Any

from challenges.elsewhere import expected
from challenges.kits import kit_of, material_of, read_kit
from challenges.models import Terms, rules_of
from girder_core.families import Family, check_setup, family_of
from girder_core.families import key as key_of
from girder_core.ground import GirderError
from girder_core.kit import Container, Kit, Material, unit_of
from girder_core.measure import Kind, System, units
from girder_core.planning import Answers, Consequences, Factor, Plan, Proposal, consequences, propose, tidy_controls
from girder_core.results import BreachPolicy, School
from girder_core.safety import AgeBand

ANSWERS = ("family", "age_band", "minutes", "teams", "students", "difficulty")
"""The fields of an entry that a teacher answers; everything else can be proposed."""

Typed = Mapping[str, Any]
Problems = dict[str, str]


@dataclass(frozen=True)
class ReadEntry:
    """A typed entry as it was understood: the kept terms, the core's plan, what follows, and every problem."""

    terms: dict[str, Any]
    plan: Plan
    follows: Consequences
    problems: Mapping[str, str]


def read_entry(typed: Typed, elsewhere: Typed | None = None) -> ReadEntry:
    """Read a complete typed plan literally; what is wrong is in ``problems`` by field, the rest still worked out, with
    what a recipe keeps from elsewhere."""
    problems: Problems = {}
    if not typed["name"].strip():
        problems["name"] = "Give the recipe a name."
    family = family_of(typed["family"])
    answers = _answers(typed, System.METRIC, problems)
    setup = _setup(family, typed["setup"], problems)
    kept_kit = _kit(family, typed, problems)
    kit = kit_of(kept_kit) if any(entry["key"] != "platform" for entry in kept_kit) else None
    materials = _materials(typed.get("materials") or [], problems)
    container = _container(typed.get("container"), problems)
    factor = _factor(typed.get("factor"), problems)
    goal = {field: typed[field] for field in Terms.GOAL}
    problems |= goal_problems(family, goal, setup)
    plan = Plan(
        answers=answers,
        setup=setup,
        materials=materials,
        kit=kit,
        build_minutes=typed["build_minutes"],
        benches=typed["benches"],
        two_lessons=typed["two_lessons"],
        drying_minutes=typed["drying_minutes"],
        next_lesson_hours=typed["next_lesson_hours"],
        container=container,
        factor=factor,
        declared=tuple(typed["declared"]),
        confirmed=tuple(typed["confirmed"]),
        expected=expected(elsewhere, setup, materials),
    )
    follows = consequences(plan)
    terms = {
        **{field: typed[field] for field in Terms.COPIED if field in typed},
        "name": " ".join(typed["name"].split()),
        "setup": setup,
        "kit": kept_kit,
        "materials": [_kept_material(material) for material in materials],
        "container": asdict(container) if container else None,
        "factor": {"name": factor.name, "levels": list(factor.levels)} if factor else None,
        "controls": list(tidy_controls(typed["controls"])),
    }
    # What was not understood is said once, at its own field, and not again by what follows from it.
    return ReadEntry(terms, plan, follows, {**follows.problems, **problems})


def _answers(typed: Typed, system: System, problems: Problems) -> Answers:
    values = {
        "family": typed["family"], "age": AgeBand(typed["age_band"]), "minutes": typed["minutes"],
        "difficulty": typed.get("difficulty", 0), "system": system,
    }  # fmt: skip
    try:
        return Answers(teams=typed["teams"], students=typed.get("students"), **values)
    except GirderError as error:
        problems[str(error.data.get("field", "teams"))] = error.sentence
        return Answers(teams=max(1, typed["teams"]), **values)


def _setup(family: Family, typed: Mapping[str, str], problems: Problems) -> dict[str, float | None]:
    """Typed set-up texts to SI; where one is wrong, the family's default stands in for what follows."""
    values, unread = read_values(family, typed)
    try:
        setup = check_setup(family.key, {**values, **{name: None for name in typed if name not in values}})
    except GirderError as error:
        unread = {**error.data.get("fields", {}), **unread}
        good = {name: value for name, value in values.items() if name not in unread}
        usable = {spec.key: good.get(spec.key, spec.default) for spec in family.setup}
        setup = {name: None if value is None else float(value) for name, value in usable.items()}
    problems |= {f"setup.{name}": sentence for name, sentence in unread.items()}
    return setup


def read_values(family: Family, typed: Mapping[str, str]) -> tuple[dict[str, float | None], Problems]:
    """What the texts of a set-up mean, and which cannot be read; an empty text means that there is no such limit."""
    specs = {spec.key: spec for spec in family.setup}
    values: dict[str, float | None] = {spec.key: None for spec in family.setup}
    problems: Problems = {}
    for name, text in typed.items():
        if name in specs and text.strip():
            try:
                values[name] = units.parse(text, specs[name].kind).si
            except GirderError as error:
                problems[name] = error.sentence
        elif name not in specs:
            problems[name] = "This kind of challenge has no such setting."
    return values, problems


def _kit(family: Family, typed: Typed, problems: Problems) -> list[dict[str, Any]]:
    try:
        return read_kit(typed["kit"], family.loaded)
    except GirderError as error:
        problems |= error.data.get("fields", {})
        return []


def _materials(typed: Sequence[Typed], problems: Problems) -> tuple[Material, ...]:
    materials = []
    for index, line in enumerate(typed):
        values = {name: line[name] for name in _LINE if name in line}
        if size := str(line.get("size") or "").strip():
            try:
                values["size_m"] = units.parse(size, Kind.LENGTH).si
            except GirderError as error:
                problems[f"materials.{index}.size"] = error.sentence
        try:
            name = " ".join(line["name"].split())
            # A line whose unit nobody named takes it from its name: straws are counted in straws.
            values["unit"] = str(values.get("unit") or "").strip() or unit_of(name)
            materials.append(Material(key_of(name), **{**values, "name": name, "hazards": tuple(line["hazards"])}))
        except GirderError as error:
            problems[f"materials.{index}.{error.data.get('field', 'name')}"] = error.sentence
    return tuple(materials)


_LINE = [
    "name", "unit", "final", "practice", "per_bench", "per_class", "spare_share", "pack_size", "owned", "buildable",
]  # fmt: skip


def _kept_material(material: Material) -> dict[str, Any]:
    return {field.name: getattr(material, field.name) for field in fields(material)} | {
        "hazards": list(material.hazards)
    }


def _container(typed: Typed | None, problems: Problems) -> Container | None:
    if not typed or not any(str(typed.get(side) or "").strip() for side in ("diameter", "height")):
        return None
    sizes = []
    for side in ("diameter", "height"):
        try:
            sizes.append(units.parse(str(typed.get(side) or ""), Kind.LENGTH).si)
        except GirderError as error:
            problems[f"container.{side}"] = error.sentence
    return Container(*sizes) if len(sizes) == 2 else None


def _factor(typed: Typed | None, problems: Problems) -> Factor | None:
    if not typed or not (typed["name"].strip() or any(level.strip() for level in typed["levels"])):
        return None
    try:
        return Factor(" ".join(typed["name"].split()), tuple(" ".join(level.split()) for level in typed["levels"]))
    except GirderError as error:
        problems[str(error.data.get("field", "factor.name"))] = error.sentence
        return None


def goal_problems(family: Family, goal: Mapping[str, Any], setup: Mapping[str, float | None]) -> Problems:
    """What is wrong with a goal for this family and set-up, sentence by field."""
    offered = {choice.school.value for choice in family.schools}
    asked = {goal["school"], *goal["weights"]} if goal["school"] == School.MIX else {goal["school"]}
    if asked - offered:
        return {"school": f"A {family.name.lower()} cannot be scored in that way."}
    try:
        rules_of(goal, setup, family)
    except GirderError as error:
        where = {"penalty_out_of_range": "penalty", "threshold_missing": "setup.target_kg"}
        return {where.get(error.code, "weights"): error.sentence}
    return {}


@dataclass(frozen=True)
class Sheet:
    """A filled planner sheet: the complete entry, which of its fields are the teacher's own, reasons, what follows."""

    entry: dict[str, Any]
    own: list[str]
    reasons: dict[str, str]
    moved: dict[str, int]
    read: ReadEntry


def sheet(asked: Typed, own: Typed, system: System, elsewhere: Typed | None = None) -> Sheet:
    """Fill a planner sheet.

    ``asked`` has family, age_band, minutes, teams, students and difficulty; ``own`` whatever the teacher typed over
    the proposals; ``elsewhere`` what a recipe keeps from other classes. Errors of the answers themselves as they come;
    bad entries are in ``read.problems``.
    """
    family = family_of(asked["family"])
    problems: Problems = {}
    answers = _answers({**asked}, system, problems)
    if problems:
        field, sentence = next(iter(problems.items()))
        raise GirderError("bad_answers", sentence, fields=problems, field=field)
    own_setup = dict(own.get("setup") or {})
    # What is wrong with a typed text is said when the whole entry is read; till then the rest goes by the usual one.
    wrong: Problems = {}
    given = _setup(family, own_setup, wrong)
    proposal = propose(
        answers, {name: value for name, value in given.items() if name in own_setup and f"setup.{name}" not in wrong}
    )
    entry = {**_proposed_entry(family, answers, proposal, asked), **{k: v for k, v in own.items() if k != "setup"}}
    if "controls" not in own:
        entry["controls"] = list(family.saying(_materials(entry["materials"], {})).controls)
    entry["setup"] = {**entry["setup"], **{name: text for name, text in own_setup.items() if name in entry["setup"]}}
    # A reason speaks of what was proposed; where the teacher's own stands, it would contradict what is seen.
    said = {name: why for name, why in proposal.reasons.items() if not _OF_REASON.get(name, frozenset()) & own.keys()}
    reasons = {f"setup.{item.key}": item.reason for item in proposal.setup} | said
    return Sheet(
        entry=entry,
        own=sorted([f"setup.{name}" for name in own_setup] + [name for name in own if name != "setup"]),
        reasons=reasons,
        moved={f"setup.{item.key}": item.moved for item in proposal.setup if item.moved},
        read=read_entry(entry, elsewhere),
    )


_OF_REASON = {
    "day": frozenset({"benches", "build_minutes", "two_lessons", "drying_minutes", "next_lesson_hours"}),
    "load": frozenset({"kit"}),
    "goal": frozenset({"school", "weights"}),
}
"""The fields of the entry that a reason of the proposal speaks of."""


def _proposed_entry(family: Family, answers: Answers, proposal: Proposal, asked: Typed) -> dict[str, Any]:
    """The complete typed entry that the proposal stands for."""
    school = family.schools[0].school
    weights = {}
    if any(choice.school is School.MIX for choice in family.schools):
        first, second = _two(family)
        weights = {first.value: 60.0, second.value: 40.0}
    return {
        "name": f"{family.name} challenge",
        "question": family.question,
        "family": family.key,
        "age_band": answers.age.value,
        "minutes": asked["minutes"],
        "teams": asked["teams"],
        "students": asked.get("students"),
        "difficulty": asked.get("difficulty", 0),
        "setup": {
            item.key: ""
            if item.value is None
            else units.typed_text(item.value, family.field(item.key).kind, answers.system)
            for item in proposal.setup
        },
        "kit": _typed_kit(family, proposal, answers.system),
        "materials": [typed_material(material, answers.system) for material in proposal.materials],
        "container": None,
        "school": school.value,
        "weights": weights,
        "trial_rule": "best",
        "tie_rule": "lighter",
        "breach_policy": BreachPolicy.PENALTY.value,
        "penalty": 0.1,
        "build_minutes": int(proposal.day.build_minutes),
        "benches": proposal.day.benches,
        "two_lessons": proposal.day.two_lessons,
        "drying_minutes": int(proposal.day.drying_minutes),
        "next_lesson_hours": proposal.day.next_lesson_hours,
        "factor": None,
        "controls": list(family.controls),
        "declared": [],
        "confirmed": [],
    }


def _two(family: Family) -> tuple[School, School]:
    """The two schools that a mix starts from."""
    plain = [c.school for c in family.schools if c.school not in (School.MIX, School.THRESHOLD)]
    return plain[0], plain[1]


def _typed_kit(family: Family, proposal: Proposal, system: System) -> list[dict[str, Any]]:
    def mass(value_kg: float) -> str:
        return units.typed_text(float(f"{value_kg:.2g}"), Kind.MASS, system)

    items = [
        {
            **EMPTY_ITEM, "name": item.name, "shape": item.shape, "count": item.count, "roll_of": item.roll_of,
            "mass": units.typed_text(item.mass_kg, Kind.MASS, system), "mass_doubt": mass(0.05 * item.mass_kg),
            "diameter": units.typed_text(item.idea.diameter_m, Kind.LENGTH, system) if item.roll_of == 1 else "",
            "thickness": units.typed_text(item.idea.thickness_m, Kind.LENGTH, system) if item.roll_of == 1 else "",
        }
        for item in proposal.load
    ]  # fmt: skip
    if proposal.platform_kg > 0:
        items.insert(
            0,
            {**EMPTY_ITEM, "name": family.platform, "shape": "platform", "count": 1,
             "mass": mass(proposal.platform_kg), "mass_doubt": mass(0.1 * proposal.platform_kg)},
        )  # fmt: skip
    return items


EMPTY_ITEM: Mapping[str, Any] = {
    "name": "", "shape": "disc", "count": 1, "roll_of": 1, "known_by": "typed", "batch_count": 10, "batch_mass": "",
    "scale_resolution": "1 g", "mass": "", "mass_doubt": "", "coin": "", "masses": [], "diameter": "", "thickness": "",
}  # fmt: skip
"""A load item's line with nothing typed in it."""


def typed_material(material: Material, system: System) -> dict[str, Any]:
    """A line of the kit list as a teacher could have typed it."""
    return {
        **{name: getattr(material, name) for name in _LINE},
        "size": units.typed_text(material.size_m, Kind.LENGTH, system) if material.size_m else "",
        "hazards": list(material.hazards),
    }


def plan_of(terms: Terms, teams: int, system: System = System.METRIC) -> Plan:
    """The core's plan of a recipe or run that is kept, for so many teams."""
    kit: Kit | None = terms.core_kit() if any(entry["key"] != "platform" for entry in terms.kit) else None
    materials = tuple(material_of(kept) for kept in terms.materials)
    return Plan(
        answers=Answers(terms.family, AgeBand(terms.age_band), terms.minutes, max(1, teams), system=system),
        setup=terms.setup,
        materials=materials,
        kit=kit,
        build_minutes=terms.build_minutes,
        benches=terms.benches,
        two_lessons=terms.two_lessons,
        drying_minutes=terms.drying_minutes,
        next_lesson_hours=terms.next_lesson_hours,
        container=terms.core_container(),
        factor=Factor(terms.factor["name"], tuple(terms.factor["levels"])) if terms.factor else None,
        declared=tuple(terms.declared),
        confirmed=tuple(terms.confirmed),
        expected=expected(terms.elsewhere, terms.setup, materials),
    )
