"""Recipes from before the planner keep only set-up and kit as typed; complete them to what the planner reads."""

from typing import Any

from django.db import migrations


def complete(apps: Any, schema_editor: Any) -> None:
    for recipe in apps.get_model("challenges", "Recipe").objects.all():
        if "family" in recipe.typed:
            continue
        recipe.typed = {
            "family": recipe.family, "age_band": recipe.age_band, "minutes": recipe.minutes, "teams": recipe.teams,
            "students": None, "difficulty": 0, "name": recipe.name, "question": recipe.question,
            "school": recipe.school, "weights": {}, "trial_rule": recipe.trial_rule, "tie_rule": recipe.tie_rule,
            "breach_policy": recipe.breach_policy, "penalty": recipe.penalty, "materials": [], "container": None,
            "build_minutes": recipe.build_minutes, "benches": 1, "two_lessons": False, "drying_minutes": 0,
            "next_lesson_hours": 24.0, "factor": None, "controls": [], "declared": [], "confirmed": [],
            "proposed": [], **recipe.typed,
        }  # fmt: skip
        recipe.save(update_fields=["typed"])


class Migration(migrations.Migration):
    dependencies = [("challenges", "0002_plan")]
    operations = [migrations.RunPython(complete, migrations.RunPython.noop)]
