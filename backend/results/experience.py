"""What a class's trials say about the model: measured over predicted, by material."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

from django.db.models import Prefetch

from bench.models import LedgerEvent, Trial
from challenges.models import Run
from designs.models import Design, Draft
from drafting.shelf import in_force, shelf
from girder_core.drafting import draft_kind
from girder_core.ground import GRAVITY_M_S2
from girder_core.physics import Calibration, calibrate
from girder_core.trial import Outcome, middle_kg


@dataclass(frozen=True)
class Experience:
    """What a class's designs of one material held of the model.

    Attributes:
        material, name: the stock's key and name.
        calibration: from the trials there are now; None when none is left to learn from.
        applied: what is in force; None for the model alone.
        pairs: measured and predicted [kg], a trial each, with the team's name.
    """

    material: str
    name: str
    calibration: Calibration | None
    applied: Calibration | None
    pairs: tuple[tuple[str, float, float], ...]

    @property
    def says(self) -> str:
        """The finding in a sentence."""
        correction = self.calibration or self.applied
        return correction.says(f"designs of {self.name}") if correction else ""


def experience_of(run: Run) -> list[Experience]:
    """The experience of the run's class with its family, over all its runs, in a constant number of queries."""
    designs = Design.objects.filter(run__school_class=run.school_class, run__family=run.family).select_related(
        "run", "team"
    )
    designs = designs.filter(drafts__isnull=False).distinct()
    rows = designs.prefetch_related(
        Prefetch("drafts", Draft.objects.order_by("id")),
        Prefetch("trials", Trial.objects.order_by("number")),
        Prefetch("trials__events", LedgerEvent.objects.order_by("sequence")),
    )
    pairs: dict[str, list[tuple[str, float, float]]] = defaultdict(list)
    at_least: dict[str, list[tuple[float, float]]] = defaultdict(list)
    errs: dict[str, float] = {}
    for design in rows:
        setup = design.run.trial_setup()
        for trial in design.trials.all():
            kept = [draft for draft in design.drafts.all() if draft.drafted_at <= trial.started_at]
            if not kept or kept[-1].push or not kept[-1].typical_n:
                continue
            result, draft, predicted = trial.result(setup), kept[-1], kept[-1].typical_n / GRAVITY_M_S2
            errs[draft.material] = draft_kind(draft.kind).errs_log
            if result.outcome is Outcome.BROKE and (measured := middle_kg(result)):
                pairs[draft.material].append((design.team.name, measured, predicted))
            elif result.outcome is Outcome.RAN_OUT and result.held.value > 0:
                at_least[draft.material].append((result.held.value, predicted))
    applied = in_force(run.school_class, run.family)
    stocks = shelf(run.school_class.owner)
    materials = []
    for material in sorted({*pairs, *applied}):
        tested = pairs.get(material, [])
        name = stocks[material].name if material in stocks else "a material that is gone"
        told = [(measured, predicted) for _, measured, predicted in tested]
        learnt = calibrate(told, at_least[material], errs[material]) if told else None
        materials.append(Experience(material, name, learnt, applied.get(material), tuple(tested)))
    return materials
