"""Put the made-up school into the database, through the services that the screens call."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime, timedelta
from typing import Any

from django.db import transaction

from bench import services as bench
from bench.models import Design
from challenges.models import Recipe
from challenges.serializers import TypedRecipeSerializer
from challenges.services import save_recipe
from demo.world import (
    FINISHED,
    HALF_DONE,
    RECIPE,
    TEACHER_EMAIL,
    TEACHER_NAME,
    TEACHER_PASSWORD,
    Built,
    RunTold,
)
from girder_core.readings import TypedReading
from people.models import Teacher
from people.services import add_class, add_team, sign_up

_NAMES = uuid.uuid5(uuid.NAMESPACE_DNS, "fennick-bay.example")
_ITEMS = {"P": "platform", "b": "bag-of-20-nuts", "n": "m12-hex-nut"}
_ENDS = {"!": ("fail", "mode"), "#": ("run_out", "reason"), "%": ("void", "reason"), "?": ("observe", "sign")}


def load() -> Teacher:
    """Build the demo world; when it is there already, leave it as it is."""
    found = Teacher.objects.filter(email=TEACHER_EMAIL).first()
    if found is not None:
        return found
    with transaction.atomic():
        teacher = sign_up(TEACHER_EMAIL, TEACHER_NAME, TEACHER_PASSWORD)
        entry = TypedRecipeSerializer(data=RECIPE)
        entry.is_valid(raise_exception=True)
        recipe = save_recipe(teacher, entry.validated_data)
        for told in (FINISHED, HALF_DONE):
            _build_run(teacher, recipe, told)
    return teacher


def _build_run(teacher: Teacher, recipe: Recipe, told: RunTold) -> None:
    school_class = add_class(teacher, told.school_class)
    for built in told.built:
        add_team(school_class, built.team)
    run = bench.open_run(recipe, school_class, told.day)
    by_team = {design.team.name: design for design in run.designs.select_related("team", "run")}
    clock = datetime.combine(told.day, datetime.min.time(), UTC) + timedelta(hours=9, minutes=40)
    for built in told.built:
        clock = _build_design(by_team[built.team], built, clock)


def _build_design(design: Design, built: Built, clock: datetime) -> datetime:
    bench.note(design, built.note)
    texts = {
        "gap": (built.gap, "1 mm"),
        "overlap_left": (built.rests[0], "1 mm"),
        "overlap_right": (built.rests[1], "1 mm"),
        "tape": (built.tape, "5 mm"),
        "self_mass": (built.own_weight, "0.1 g"),
    }
    for key, (text, step) in texts.items():
        if text and (built.checked_in or key == "gap"):
            bench.take_reading(design, key, TypedReading(text, step), confirmed=False)
    if built.says:
        bench.predict(design, built.says)
    if built.checked_in:
        bench.answer(design, built.answers)
        bench.check_in(design)
    for number, story in enumerate(built.trials, start=1):
        clock = _play(design, number, story, clock)
    return clock


def _play(design: Design, number: int, story: str, clock: datetime) -> datetime:
    name = f"{design.run.school_class}/{design.team}/{number}"
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
    for word, following in zip(words, [*words[1:], ""], strict=True):
        if word[0] in _ENDS:
            kind, key = _ENDS[word[0]]
            add(kind, 2, **{key: word[1:]})
            continue
        waiting = word.endswith("~") or following.startswith(("!", "%"))
        add("place", 6, item=_ITEMS[word[0]], count=int(word[1:].rstrip("~") or 1))
        if not waiting:
            add("settle", 6, waited_s=6)
    done = bench.append_events(trial, device, events)
    if done.refused:
        raise done.refused
    bench.release(trial)
    return clock + timedelta(seconds=45)
