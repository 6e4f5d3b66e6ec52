"""Put the made-up school into the database, through the services that the screens call."""

from __future__ import annotations

import uuid
from dataclasses import asdict
from datetime import UTC, datetime, timedelta
from typing import Any

from django.db import transaction

from bench import services as bench
from challenges.library import take
from challenges.models import Recipe
from demo.world import (
    CLASSES,
    COLLEAGUE_EMAIL,
    COLLEAGUE_NAME,
    DISTRICT,
    ELSEWHERE,
    HALF_DONE,
    NEIGHBOUR,
    NEIGHBOUR_EMAIL,
    NEIGHBOUR_NAME,
    RUNS,
    SCHOOL,
    TEACHER_EMAIL,
    TEACHER_NAME,
    TEACHER_PASSWORD,
    Built,
    RunTold,
)
from designs import build_services as building
from designs import services as designing
from designs.models import Design
from girder_core.kit import PLATFORM
from girder_core.measure import Kind, TypedReading
from girder_core.results import PROPOSED
from people import schools
from people.accounts import sign_up
from people.models import SchoolClass, Teacher
from people.services import add_class, add_team
from results import services as after
from schools.sharing import share

_NAMES = uuid.uuid5(uuid.NAMESPACE_DNS, "fennick-bay.example")
_STEPS = {Kind.LENGTH: "1 mm", Kind.MASS: "0.1 g", Kind.COUNT: "1", Kind.TIME: "1 s", Kind.FREQUENCY: "0.1 Hz"}
_ENDS = {"!": ("fail", "mode"), "#": ("run_out", "reason"), "%": ("void", "reason"), "?": ("observe", "sign")}


def load(neighbours: bool = True) -> Teacher:
    """Build the demo world; when it is there already, leave it as it is. Without neighbours it is one teacher alone."""
    earlier = Teacher.objects.filter(email=TEACHER_EMAIL).first()
    if earlier is not None:
        return earlier
    with transaction.atomic():
        teacher = sign_up(TEACHER_EMAIL, TEACHER_NAME, TEACHER_PASSWORD)
        classes = {name: add_class(teacher, name) for name in CLASSES}
        birds = [built.team for built in HALF_DONE.built]
        for name, teams in CLASSES.items():
            for bird in birds[:teams]:
                add_team(classes[name], bird)
        recipes: dict[str, Recipe] = {}
        for story in RUNS:
            if story.recipe not in recipes:
                recipes[story.recipe] = take(teacher, story.recipe)
            _build_run(classes[story.school_class], recipes[story.recipe], story)
        if neighbours:
            _build_schools(teacher)
    return teacher


def _build_schools(teacher: Teacher) -> None:
    """The school, which the teacher administers, with a colleague who has only just come; and the neighbours' one."""
    own, next_door = (schools.add_school(name, DISTRICT) for name in (SCHOOL, NEIGHBOUR))
    schools.settle(teacher, own, administers=True)
    schools.settle(sign_up(COLLEAGUE_EMAIL, COLLEAGUE_NAME, TEACHER_PASSWORD), own)
    neighbour = sign_up(NEIGHBOUR_EMAIL, NEIGHBOUR_NAME, TEACHER_PASSWORD)
    schools.settle(neighbour, next_door, administers=True)
    recipe = take(neighbour, ELSEWHERE[0].recipe)
    for story in ELSEWHERE:
        school_class = add_class(neighbour, story.school_class)
        for built in story.built:
            add_team(school_class, built.team)
        _build_run(school_class, recipe, story)
    share(recipe, neighbour, to_district=True)


def _build_run(school_class: SchoolClass, recipe: Recipe, story: RunTold) -> None:
    run = designing.open_run(recipe, school_class, story.day)
    if story.rubric:
        after.set_rubric(run, [asdict(criterion) for criterion in PROPOSED])
    by_team = {design.team.name: design for design in run.designs.select_related("team", "run")}
    clock = datetime.combine(story.day, datetime.min.time(), UTC) + timedelta(hours=9, minutes=40)
    for built in story.built:
        clock = _build_design(by_team[built.team], built, clock)
    for built in story.built:
        design = by_team[built.team]
        for question, text in zip(run.core_family().reflect, built.said, strict=False):
            after.reflect(design, question, text)
        for criterion, level in built.marks.items():
            after.mark(design, criterion, level)
        if built.again is not None:
            clock = _build_design(designing.next_version(design, built.changed), built.again, clock)


def _build_design(design: Design, built: Built, clock: datetime) -> datetime:
    designing.note(design, built.note)
    family = design.run.core_family()
    texts = dict(built.readings)
    if family.key == "bridge":
        texts = {
            "gap": built.gap, "overlap_left": built.rests[0], "overlap_right": built.rests[1], "tape": built.tape,
            "self_mass": built.own_weight,
        }  # fmt: skip
    for key, text in texts.items():
        if text and (built.checked_in or key == "gap"):
            step = "5 mm" if key == "tape" else _STEPS[family.reading_keys[key].kind]
            designing.take_reading(design, key, TypedReading(text, step), confirmed=False)
    if built.says and family.loaded:
        designing.predict(design, built.says)
    if built.draft:
        building.keep_draft(design, built.draft.kind, built.draft.typed, {})
    if built.practice:
        building.count_practice(design, built.practice)
    if built.checked_in:
        designing.answer(design, built.answers or {question.key: question.good for question in family.questions})
        designing.check_in(design)
    for number, story in enumerate(built.trials, start=1):
        clock = _play(design, number, story, clock, built.arrangement)
    return clock


def _items(design: Design) -> dict[str, str]:
    """The letters of a story: the platform, the first bag, the first single pieces, the numbered ones."""
    kit = design.run.core_kit().items
    bags = [item.key for item in kit if item.roll_of > 1 or item.shape == "bag"]
    singles = [item.key for item in kit if item.key not in (PLATFORM, *bags) and not item.order]
    numbered = [item.key.rsplit("-", 1)[0] for item in kit if item.order]
    first = {"b": bags, "n": singles or bags, "t": numbered}
    return {"P": PLATFORM} | {letter: keys[0] for letter, keys in first.items() if keys}


def _play(design: Design, number: int, story: str, clock: datetime, arrangement: str) -> datetime:
    again = f" v{design.version}" if design.version > 1 else ""
    name = f"{design.run}/{design.team}{again}/{number}"
    device = uuid.uuid5(_NAMES, f"{name}/bench")
    trial = bench.start_trial(design, uuid.uuid5(_NAMES, name), device, arrangement=arrangement)
    items = _items(design)
    setup = design.run.trial_setup()
    plan = setup.rounds
    hold_s = round(setup.wait_s(plan is not None))
    events: list[dict[str, Any]] = []

    def add(kind: str, seconds: int, **data: Any) -> None:
        nonlocal clock
        clock += timedelta(seconds=seconds)
        n = len(events) + 1
        events.append(
            {"id": uuid.uuid5(_NAMES, f"{name}/{n}"), "sequence": n, "kind": kind, "data": data, "happened_at": clock}
        )

    words = story.split()
    tiles, under_way = 0, False
    for word, following in zip(words, [*words[1:], ""], strict=True):
        if word == ".":
            add("finish", 2)
        elif word[0] == "=":
            key, text = word[1:].split(":")
            add(
                "measure",
                8,
                key=key,
                text=text.replace("_", " "),
                resolution="1" if text.isdigit() else "1 mm",
                zero="",
            )
        elif word[0] in "hm":
            add("round", 9, hit=word[0] == "h")
        elif word[0] in _ENDS:
            kind, key = _ENDS[word[0]]
            if kind == "fail" and plan is not None and not under_way and not plan.procedure.hit_or_miss:
                # What it did not come through.
                add("round", 4)
            add(kind, 2, **{key: word[1:]})
        else:
            steps, _, seat = word.rstrip("~").partition("@")
            count, waiting = int(steps[1:] or 1), word.endswith("~") or following.startswith(("!", "%"))
            if word[0] == "r":
                for n in range(1, count + 1):
                    add("round", 6)
                    under_way = word.endswith("~") and n == count
                    if not under_way:
                        add("settle", hold_s, waited_s=hold_s)
                continue
            item = items[word[0]]
            if word[0] == "t":
                # Numbered tiles go on one by one, in their order.
                for tiles in range(tiles + 1, tiles + count + 1):  # noqa: B020
                    add("place", 6, item=f"{item}-{tiles}", count=1)
            else:
                add("place", 6, item=item, count=count, **({"seat": seat} if seat else {}))
            if not waiting:
                add("settle", hold_s, waited_s=hold_s)
    done = bench.append_events(trial, device, events, author=design.run.school_class.owner.name)
    if done.refused:
        raise done.refused
    bench.release(trial)
    return clock + timedelta(seconds=45)
