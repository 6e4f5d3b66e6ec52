"""What a class's trials say about the model: measured over predicted, by material."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field

from django.db.models import Prefetch

from bench.models import Trial
from bench.remembered import results_of, with_length
from challenges.models import Run
from designs.models import Design, Draft
from drafting.shelf import in_force, shelf
from girder_core.drafting import draft_kind
from girder_core.ground import GRAVITY_M_S2
from girder_core.physics import PRIOR_LOG, Calibration, ModelBelief, calibrate, model_belief, told_by_class
from girder_core.trial import Outcome, middle_kg


@dataclass(frozen=True)
class Experience:
    """What a class's designs of one material held of the model.

    Attributes:
        material, name: the stock's key and name.
        calibration: from the trials there are now, of this class and of the teacher's others; None when none is left to
            learn from.
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


@dataclass
class _Told:
    """What the trials of a class with one material say: those that broke, those that ran out, and how far off the model
    may be beforehand."""

    pairs: list[tuple[str, float, float]] = field(default_factory=list)
    at_least: list[tuple[float, float]] = field(default_factory=list)
    errs_log: float = PRIOR_LOG

    def learnt(self, belief: ModelBelief | None = None) -> Calibration:
        told = [(measured, predicted) for _, measured, predicted in self.pairs]
        return calibrate(told, self.at_least, self.errs_log, belief)


def experience_of(run: Run) -> list[Experience]:
    """The experience of the run's class with its family, over all its runs and beside the teacher's other classes, in a
    constant number of queries."""
    told = _told(run)
    own = {material: known for (pk, material), known in told.items() if pk == run.school_class_id}
    others = {key: known for key, known in told.items() if key[0] != run.school_class_id and known.pairs}
    applied = in_force(run.school_class, run.family)
    stocks = shelf(run.school_class.owner)
    materials = []
    for material in sorted({*(material for material, known in own.items() if known.pairs), *applied,
                            *(material for _, material in others)}):  # fmt: skip
        known = own.get(material, _Told(errs_log=next((o.errs_log for (_, m), o in others.items() if m == material),
                                                      PRIOR_LOG)))  # fmt: skip
        elsewhere = [(other, *told_by_class(one.learnt())) for (_, other), one in others.items()]
        belief = model_belief(known.errs_log, material, elsewhere)
        name = stocks[material].name if material in stocks else "a material that is gone"
        learnt = known.learnt(belief) if known.pairs or any(m == material for _, m in others) else None
        materials.append(Experience(material, name, learnt, applied.get(material), tuple(known.pairs)))
    return materials


def _told(run: Run) -> dict[tuple[int, str], _Told]:
    """What the trials of each of the teacher's classes say of the run's family, by class and material."""
    designs = Design.objects.filter(
        run__school_class__owner=run.school_class.owner_id,
        run__family=run.family,
        drafts__isnull=False,
        run__tryout=False,
    ).distinct()
    rows = designs.select_related("run", "team").prefetch_related(
        Prefetch("drafts", Draft.objects.order_by("id")),
        Prefetch("trials", with_length(Trial.objects.believed().order_by("number"))),
    )
    results = results_of([trial for design in rows for trial in design.trials.all()])
    told: dict[tuple[int, str], _Told] = defaultdict(_Told)
    for design in rows:
        for trial in design.trials.all():
            kept = [draft for draft in design.drafts.all() if draft.drafted_at <= trial.started_at]
            if not kept or kept[-1].push or not kept[-1].typical_n:
                continue
            result, draft, predicted = results[trial.pk], kept[-1], kept[-1].typical_n / GRAVITY_M_S2
            own = told[design.run.school_class_id, draft.material]
            own.errs_log = draft_kind(draft.kind).errs_log
            if result.outcome is Outcome.BROKE and (measured := middle_kg(result)):
                own.pairs.append((design.team.name, measured, predicted))
            elif result.outcome is Outcome.RAN_OUT and result.held.value > 0:
                own.at_least.append((result.held.value, predicted))
    return told
