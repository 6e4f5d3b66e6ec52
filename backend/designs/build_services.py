"""What can be done while a class builds: keep drafts, show the model, count practice, dry glue."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from django.db import transaction
from django.utils import timezone

from designs.models import Design, Draft
from drafting.shelf import shelf
from girder_core.drafting import draft_kind, expectation, material_of, summary
from girder_core.ground import GirderError


def keep_draft(design: Design, kind_key: str, typed: Mapping[str, str], moves: Mapping[str, Sequence[float]]) -> Draft:
    """Keep a draft with a design. What it stands on at the bench is the latest kept before the trial.

    Errors: ``draft_not_for_this`` for a kind that does not serve the run's family; those of a draft.
    """
    kind = draft_kind(kind_key)
    if design.run.family not in kind.families:
        raise GirderError("draft_not_for_this", "That kind of draft is for another kind of challenge.")
    placed = {name: (float(x), float(y)) for name, (x, y) in moves.items()}
    drafted = expectation(kind, typed, shelf(design.run.school_class.owner), placed)
    kept = summary(drafted.prediction) if drafted.prediction else {"governing": "", "mode": ""}
    return Draft.objects.create(
        design=design, kind=kind.key, typed=dict(typed), moves={name: list(at) for name, at in placed.items()},
        material=material_of(kind, typed), push=kind.pushes(typed), mass_kg=drafted.mass_kg, **kept,
    )  # fmt: skip


def show_model(design: Design) -> Design:
    """Note that the model's range is shown for this design; the first time counts."""
    if design.model_shown_at is not None:
        return design
    with transaction.atomic():
        locked = Design.objects.select_for_update(of=("self",)).get(pk=design.pk)
        if locked.model_shown_at is None:
            locked.model_shown_at = timezone.now()
            locked.save(update_fields=["model_shown_at"])
    return locked


def count_practice(design: Design, used: int) -> Design:
    """Write down how many practice pieces a team has used."""
    if not 0 <= used <= 1000:
        raise GirderError(
            "bad_count", "Type how many practice pieces were used: zero or more.", fields={"used": "Zero or more."}
        )
    design.practice_used = used
    design.save(update_fields=["practice_used"])
    return design


def set_glue(design: Design, glued: bool) -> Design:
    """Start the drying clock of a design now, or take it away; ``no_drying`` where the recipe has none."""
    if glued and not design.run.drying_minutes:
        raise GirderError("no_drying", "This recipe has no drying time.")
    design.glued_at = timezone.now() if glued else None
    design.save(update_fields=["glued_at"])
    return design
