"""Recipes that teachers of a school, or of a district, hand on to each other."""

from __future__ import annotations

from django.db import models

from challenges.models import Recipe
from people.models import School, Teacher


class SharedRecipe(models.Model):
    """A recipe in a school's library: its terms as a recipe's file has them, and what it came to without a name."""

    school = models.ForeignKey(School, on_delete=models.CASCADE, related_name="shared_recipes")
    # Whether the schools of the district see it too.
    to_district = models.BooleanField(default=False)
    by = models.ForeignKey(Teacher, null=True, on_delete=models.SET_NULL, related_name="shared_recipes")
    # Of which it is a copy; shared again, it takes the place of what was shared before.
    recipe = models.ForeignKey(Recipe, null=True, on_delete=models.SET_NULL, related_name="shared_as")
    entry = models.JSONField()
    # ``girder_core.results.SharedHistory``; null where too few designs were tested to be told.
    history = models.JSONField(null=True)
    # ``challenges.elsewhere``: what a class elsewhere may expect of it; null where nothing is loaded, or little known.
    elsewhere = models.JSONField(null=True)
    shared_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-shared_at", "-id"]
        constraints = [models.UniqueConstraint(fields=["school", "recipe"], name="shared_once")]

    def __str__(self) -> str:
        return f"{self.entry['name']}, {self.school}"
