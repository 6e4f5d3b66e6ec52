"""What can be done after the tests: answers, hints, the rubric, another goal, the class's experience."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any

from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone
from django.utils.text import slugify

from bench.models import Trial
from bench.selectors import tested_by_run
from challenges.models import GoalChange, Run
from challenges.plans import goal_problems
from designs.models import Design
from drafting.services import apply_correction, withdraw_correction
from girder_core.ground import GirderError
from girder_core.results import Criterion, Source, points, rubric_of
from results.experience import experience_of
from results.models import Reflection, RubricMark
from results.rubric import criteria_of


def answers_of(design: Design) -> dict[str, str]:
    """What its team has answered so far, in whichever version, by question."""
    return {given.question: given.text for given in _given(design)}


def _given(design: Design) -> QuerySet[Reflection]:
    return Reflection.objects.filter(design__run=design.run_id, design__team=design.team_id).order_by("design__version")


def reflect(design: Design, question: str, text: str) -> None:
    """Write down what a team answers; an empty answer takes it back. ``unknown_question`` for any other question.

    An answer stays with the version it was given for; a new one goes to this one.
    """
    if question not in design.run.core_family().reflect:
        raise GirderError("unknown_question", "This kind of challenge does not ask that.")
    text = text.strip()
    held = _given(design).filter(question=question).select_related("design").last()
    design = held.design if held else design
    if text:
        Reflection.objects.update_or_create(
            design=design, question=question, defaults={"text": text, "written_at": timezone.now()}
        )
    else:
        Reflection.objects.filter(design=design, question=question).delete()


def hide_hints(run: Run, hidden: bool) -> None:
    """Keep redesign questions from the teams, or show them."""
    run.hints_hidden = hidden
    run.save(update_fields=["hints_hidden"])


def set_rubric(run: Run, lines: Sequence[Mapping[str, Any]]) -> None:
    """Give a run a rubric, or none; what was marked by hand stays with criteria that keep their key.

    Errors: those of ``girder_core.results.rubric``.
    """
    keyed: list[Criterion] = []
    for line in lines:
        base = line.get("key") or slugify(line["name"])[:30] or "criterion"
        taken = {criterion.key for criterion in keyed}
        key = next(k for n in range(1, len(lines) + 2) if (k := base if n == 1 else f"{base}-{n}") not in taken)
        keyed.append(
            Criterion(key, line["name"].strip(), Source(line["source"]), tuple(line["levels"]), line["weight"])
        )
    rubric = rubric_of(keyed)
    with transaction.atomic():
        run.rubric = [
            {**asdict(criterion), "source": criterion.source.value, "levels": list(criterion.levels)}
            for criterion in rubric
        ]
        run.save(update_fields=["rubric"])
        # A level that a criterion has no more says nothing.
        for criterion in rubric:
            RubricMark.objects.filter(
                design__run=run, criterion=criterion.key, level__gte=len(criterion.levels)
            ).delete()


def mark(design: Design, criterion: str, level: int | None) -> None:
    """Give a design a level in a criterion by hand, or leave it to the results again."""
    line = next((known for known in criteria_of(design.run) if known.key == criterion), None)
    if line is None:
        raise GirderError("unknown_criterion", "The rubric of this run has no such criterion.")
    if level is None:
        RubricMark.objects.filter(design=design, criterion=criterion).delete()
        return
    points([line], {criterion: level})
    RubricMark.objects.update_or_create(design=design, criterion=criterion, defaults={"level": level})


def change_goal(run: Run, goal: Mapping[str, Any], reason: str, author: str = "") -> Run:
    """Change what wins. Once a trial has started, that needs a reason, which is kept and shown with every result.

    Errors: ``goal_locked`` without a reason; ``bad_goal`` for a goal that the family does not offer or that does not
    hold together.
    """
    problems = goal_problems(run.core_family(), goal, run.setup)
    if problems:
        raise GirderError("bad_goal", next(iter(problems.values())), fields=problems)
    with transaction.atomic():
        run = Run.objects.select_for_update(of=("self",)).select_related("school_class").get(pk=run.pk)
        before, reason = run.goal(), " ".join(reason.split())
        if before == {**goal}:
            return run
        started = Trial.objects.filter(design__run=run).exists() or tested_by_run([run])[run.pk] > 0
        if started and not reason:
            sentence = (
                "Tests have begun, so the goal is locked. Say why it changes; the reason is shown with every result."
            )
            raise GirderError("goal_locked", sentence, fields={"reason": sentence})
        for field, value in goal.items():
            setattr(run, field, value)
        run.save(update_fields=list(goal))
        if started:
            GoalChange.objects.create(run=run, before=before, after=run.goal(), reason=reason, author=author)
    return run


def use_experience(run: Run, material: str, applied: bool) -> None:
    """Apply what this class's trials say of a material, or go back to the model alone.

    Errors: ``no_experience`` when no trial of a draft with this material has broken yet, here or in another class.
    """
    if not applied:
        withdraw_correction(run.school_class, run.family, material)
        return
    experience = next(
        (learnt for learnt in experience_of(run) if learnt.material == material and learnt.calibration), None
    )
    if experience is None or experience.calibration is None:
        raise GirderError("no_experience", "No trial with a kept draft of this material has broken yet.")
    apply_correction(run.school_class, run.family, material, experience.calibration)
