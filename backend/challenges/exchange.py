"""Recipes as files: one documented JSON object, out and in. docs/recipe.schema.json is its schema.

A file is read whole before anything is kept. What is wrong with it is said line by line, as far as lines are known.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import yaml
from django.db import transaction

from challenges.entries import TypedRecipeSerializer
from challenges.models import Recipe
from challenges.plans import read_entry
from challenges.services import save_recipe
from evengirder.errors import flatten
from girder_core.families import FAMILIES
from girder_core.ground import GirderError, sound_json
from girder_core.measure import plural
from people.models import Teacher

FORMAT = "even-girder-recipe"
VERSION = 1
LARGEST_BYTES = 256 * 1024
MOST_MESSAGES = 40


def exported(recipe: Recipe) -> dict[str, Any]:
    """A recipe as it is written to a file."""
    return {"format": FORMAT, "version": VERSION, "recipe": dict(recipe.typed)}


def imported(teacher: Teacher, text: str) -> Recipe:
    """Make a recipe from a file's text, or nothing at all.

    Errors: ``file_too_large``, ``not_json``, ``not_a_recipe``, ``newer_version``, ``bad_recipe_file``; messages stand
    in ``fields`` by path, each with its line.
    """
    entry = read_file(text)
    with transaction.atomic():
        return save_recipe(teacher, entry)


def read_file(text: str) -> dict[str, Any]:
    """The typed entry in a file's text; errors as in ``imported``."""
    if len(text.encode()) > LARGEST_BYTES:
        raise GirderError(
            "file_too_large",
            f"This file is larger than {LARGEST_BYTES // 1024} kB, so it is no recipe. Nothing was changed.",
        )
    data = parsed_json(text)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise GirderError("not_a_recipe", "This file is not a recipe of Even Girder. Nothing was changed.")
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise GirderError("not_a_recipe", "The file does not say which version of the format it has.")
    if version > VERSION:
        raise GirderError(
            "newer_version",
            f"This file has version {version} of the format; here up to {VERSION} is known. It was written by a newer "
            "Even Girder: update this one, or export the recipe again from an older one.",
        )
    recipe = data.get("recipe")
    if not isinstance(recipe, dict):
        raise GirderError("not_a_recipe", "The file has no recipe in it. Nothing was changed.")
    problems: dict[str, str] = {f"{key}": "A recipe file has no such entry." for key in data if key not in _TOP}
    entry, unread = _checked(recipe)
    problems |= {f"recipe.{path}": sentence for path, sentence in unread.items()}
    if problems:
        raise _refused(text, problems)
    return entry


_TOP = {"format", "version", "recipe"}


def parsed_json(text: str) -> Any:
    """What a file's text holds; errors as ``sound_json``."""
    try:
        return sound_json(text)
    except GirderError as error:
        raise GirderError(error.code, f"{error.sentence} Nothing was changed.", **error.data) from None


def _checked(recipe: Mapping[str, Any]) -> tuple[dict[str, Any], dict[str, str]]:
    """The entry as the API would take it, and what is wrong with it by path."""
    serializer = TypedRecipeSerializer(data=recipe)
    problems = {name: "A recipe has no such entry." for name in recipe if name not in serializer.fields}
    kind = recipe.get("family")
    if not isinstance(kind, str) or kind not in FAMILIES:
        problems["family"] = f"There is no kind of challenge called “{kind}” here."
    if not serializer.is_valid():
        problems = flatten(serializer.errors) | problems
    if problems:
        return {}, problems
    entry: dict[str, Any] = serializer.validated_data
    unread = dict(read_entry(entry).problems)
    return entry, unread


def _refused(text: str, problems: Mapping[str, str]) -> GirderError:
    lines = _lines(text)
    ordered = sorted(((_line_of(path, lines), path, sentence) for path, sentence in problems.items()))
    shown = ordered[:MOST_MESSAGES]
    messages = {path: f"Line {line}: {sentence}" if line else sentence for line, path, sentence in shown}
    more = f" The first {MOST_MESSAGES} of {len(ordered)} are listed." if len(ordered) > len(shown) else ""
    return GirderError(
        "bad_recipe_file", f"This recipe file has {len(ordered)} {plural('thing', len(ordered))} to put right. "
        f"Nothing was changed.{more}", fields=messages,
    )  # fmt: skip


def _line_of(path: str, lines: Mapping[str, int]) -> int:
    """The line of a path, or of the nearest thing around it."""
    while path and path not in lines:
        path = path.rpartition(".")[0]
    return lines.get(path, 0)


def _lines(text: str) -> dict[str, int]:
    """On which line each value of the file stands. JSON is read as YAML for this, which knows its lines."""
    try:
        node = yaml.compose(text.replace("\t", " "), Loader=yaml.SafeLoader)
    except (yaml.YAMLError, RecursionError):
        return {}
    lines: dict[str, int] = {}

    def walk(node: Any, path: str) -> None:
        if isinstance(node, yaml.MappingNode):
            for key, value in node.value:
                inner = f"{path}.{key.value}".lstrip(".")
                lines[inner] = key.start_mark.line + 1
                walk(value, inner)
        elif isinstance(node, yaml.SequenceNode):
            for index, value in enumerate(node.value):
                lines[f"{path}.{index}"] = value.start_mark.line + 1
                walk(value, f"{path}.{index}")

    if node is not None:
        walk(node, "")
    return lines
