"""Put the made-up school into the database, through the services that the screens call."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime, timedelta
from typing import Any

from django.db import transaction

from bench import build_services as building
from bench import services as bench
from bench.models import Design
from challenges.library import take
from challenges.models import Recipe
from demo.world import CLASSES, HALF_DONE, RUNS, TEACHER_EMAIL, TEACHER_NAME, TEACHER_PASSWORD, Built, RunTold
from girder_core.readings import TypedReading
from girder_core.units import Kind
from people.models import SchoolClass, Teacher
from people.services import add_class, add_team, sign_up

_NAMES = uuid.uuid5(uuid.NAMESPACE_DNS, "fennick-bay.example")
_ITEMS = {"P": "platform", "b": "bag-of-20-nuts", "n": "m12-hex-nut", "t": "floor-tile"}
_STEPS = {Kind.LENGTH: "1 mm", Kind.MASS: "0.1 g", Kind.COUNT: "1", Kind.TIME: "1 s", Kind.FREQUENCY: "0.1 Hz"}
_ENDS = {"!": ("fail", "mode"), "#": ("run_out", "reason"), "%": ("void", "reason"), "?": ("observe", "sign")}


def load() -> Teacher:
    """Build the demo world; when it is there already, leave it as it is."""
    found = Teacher.objects.filter(email=TEACHER_EMAIL).first()
    if found is not None:
        return found
    with transaction.atomic():
        teacher = sign_up(TEACHER_EMAIL, TEACHER_NAME, TEACHER_PASSWORD)
        classes = {name: add_class(teacher, name) for name in CLASSES}
        birds = [built.team for built in HALF_DONE.built]
        for name, teams in CLASSES.items():
            for bird in birds[:teams]:
                add_team(classes[name], bird)
        recipes: dict[str, Recipe] = {}
        for told in RUNS:
            if told.recipe not in recipes:
                recipes[told.recipe] = take(teacher, told.recipe)
            _build_run(classes[told.school_class], recipes[told.recipe], told)
    return teacher


def _build_run(school_class: SchoolClass, recipe: Recipe, told: RunTold) -> None:
    run = bench.open_run(recipe, school_class, told.day)
    by_team = {design.team.name: design for design in run.designs.select_related("team", "run")}
    clock = datetime.combine(told.day, datetime.min.time(), UTC) + timedelta(hours=9, minutes=40)
    for built in told.built:
        clock = _build_design(by_team[built.team], built, clock)


def _build_design(design: Design, built: Built, clock: datetime) -> datetime:
    bench.note(design, built.note)
    one = design.run.core_family()
    texts = dict(built.readings)
    if one.key == "bridge":
        texts = {
            "gap": built.gap, "overlap_left": built.rests[0], "overlap_right": built.rests[1], "tape": built.tape,
            "self_mass": built.own_weight,
        }  # fmt: skip
    for key, text in texts.items():
        if text and (built.checked_in or key == "gap"):
            step = "5 mm" if key == "tape" else _STEPS[one.reading_keys[key].kind]
            bench.take_reading(design, key, TypedReading(text, step), confirmed=False)
    if built.says:
        bench.predict(design, built.says)
    if built.draft:
        building.keep_draft(design, built.draft.kind, built.draft.typed, {})
    if built.practice:
        building.count_practice(design, built.practice)
    if built.checked_in:
        bench.answer(design, built.answers or {question.key: question.good for question in one.questions})
        bench.check_in(design)
    for number, story in enumerate(built.trials, start=1):
        clock = _play(design, number, story, clock)
    return clock


def _play(design: Design, number: int, story: str, clock: datetime) -> datetime:
    name = f"{design.run}/{design.team}/{number}"
    device = uuid.uuid5(_NAMES, f"{name}/bench")
    trial = bench.start_trial(design, uuid.uuid5(_NAMES, name), device)
    events: list[dict[str, Any]] = []

    def add(kind: str, seconds: int, **data: Any) -> None:
        nonlocal clock
        clock += timedelta(seconds=seconds)
        n = len(events) + 1
        events.append(
            {"id": uuid.uuid5(_NAMES, f"{name}/{n}"), "sequence": n, "kind": kind, "data": data, "happened_at": clock}
        )

    words = story.split()
    tiles = 0
    for word, following in zip(words, [*words[1:], ""], strict=True):
        if word[0] in _ENDS:
            kind, key = _ENDS[word[0]]
            add(kind, 2, **{key: word[1:]})
            continue
        waiting = word.endswith("~") or following.startswith(("!", "%"))
        item, count = _ITEMS[word[0]], int(word[1:].rstrip("~") or 1)
        if word[0] == "t":
            # Numbered tiles go on one by one, in their order.
            for tiles in range(tiles + 1, tiles + count + 1):  # noqa: B020
                add("place", 6, item=f"{item}-{tiles}", count=1)
        else:
            add("place", 6, item=item, count=count)
        if not waiting:
            add("settle", 6, waited_s=6)
    done = bench.append_events(trial, device, events)
    if done.refused:
        raise done.refused
    bench.release(trial)
    return clock + timedelta(seconds=45)
