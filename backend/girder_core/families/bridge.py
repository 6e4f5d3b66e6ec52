"""Bridges: a sheet, card, straw, stick, string or tube bridge over a gap, loaded at midspan or over the deck."""

from __future__ import annotations

from collections.abc import Mapping

from girder_core.families.model import (
    SELF_MASS,
    ConstraintResult,
    Family,
    Mode,
    Question,
    ReadingSpec,
    SetupField,
    Status,
)
from girder_core.readings import Plausible
from girder_core.safety import ALWAYS, FALLING_LOAD, SCISSORS, SMALL_OBJECTS, SNAPPING
from girder_core.uncertainty import COVERAGE_FACTOR, Quantity
from girder_core.units import Kind, format_length

_SETUP = (
    SetupField("gap_m", "Gap between the supports", Kind.LENGTH, 0.02, 5.0, 0.30, "The clear gap to be bridged."),
    SetupField(
        "overlap_min_m", "Least overlap on each support", Kind.LENGTH, 0.0, 1.0, None,
        "Below this a sagging bridge pulls itself off its supports.", optional=True,
    ),
    SetupField(
        "overlap_max_m", "Most overlap on each support", Kind.LENGTH, 0.0, 1.0, None,
        "Above this the ends are held down and a different structure is tested.", optional=True,
    ),
    SetupField(
        "tape_max_m", "Tape allowed", Kind.LENGTH, 0.0, 20.0, None,
        "Without a limit, tape becomes the structure.", optional=True,
    ),
    SetupField("hold_s", "Wait after each step", Kind.TIME, 1, 120, 5, "A step counts when it stays up this long."),
    SetupField(
        "target_kg", "Target load", Kind.MASS, 0.001, 500, None, "Something to aim at; it does not decide the rank.",
        optional=True,
    ),
    SetupField(
        "bench_limit_kg", "Most load on this bench", Kind.MASS, 0.01, 500, 10,
        "Testing stops here even if the bridge still stands.",
    ),
)  # fmt: skip

_READINGS = (
    ReadingSpec(
        "gap", "Clear gap", Kind.LENGTH, "From the inner edge of one support to the inner edge of the other.",
        Plausible(0.02, 3.0, "the clear gap"),
    ),
    ReadingSpec(
        "overlap_left", "Rests on the left", Kind.LENGTH, "Inner edge of the left support to the bridge's end.",
        Plausible(0.002, 0.5, "the overlap on the left"),
    ),
    ReadingSpec(
        "overlap_right", "Rests on the right", Kind.LENGTH,
        "Inner edge of the right support to the bridge's end.",
        Plausible(0.002, 0.5, "the overlap on the right"),
    ),
    ReadingSpec(
        "tape", "Tape used", Kind.LENGTH, "Length of all tape on the bridge.", Plausible(0.005, 5.0, "the tape used"),
        needed=False,
    ),
    ReadingSpec(
        SELF_MASS, "Own weight", Kind.MASS, "The whole bridge on the scale, before it is loaded.",
        Plausible(0.0005, 0.5, "a classroom bridge"), may_follow=True,
    ),
)  # fmt: skip

_QUESTIONS = (
    Question(
        "stands", "Does it span the gap with nothing on it?", True, "It does not span the gap by itself.", blocks=True
    ),
    Question("piers", "Does anything prop it up between the supports?", False, "It is propped up in the gap."),
    Question("papered", "Is the deck covered over with tape?", False, "The deck is covered over with tape."),
)

FAILURE_MODES = (
    Mode("crimp", "c", "Crimped", "A fold or the top edge buckled; thin walls in compression crumple."),
    Mode("snap", "s", "Snapped", "A part broke or tore through."),
    Mode("joint", "j", "Joint or tape opened", "Parts came apart where they were joined."),
    Mode("twist", "t", "Twisted", "The bridge rolled over sideways."),
    Mode("slip", "l", "Slipped off a support", "An end came off its support."),
    Mode("sag", "g", "Sagged to the limit", "It bent so far that it touched down or passed the agreed sag."),
)
LOADING_ERRORS = (
    Mode("pile_toppled", "p", "Pile or platform tipped", "The load fell, the bridge did not fail."),
    Mode("knocked", "k", "Somebody knocked the bench", "The bridge was disturbed from outside."),
    Mode("support_moved", "m", "A support moved", "The gap was no longer the same."),
    Mode("wrong_load", "w", "Wrong load or order", "This trial was not loaded like the others."),
)
RUN_OUT_REASONS = (
    Mode("no_more_load", "n", "No more load", "Everything in the kit is on the bridge."),
    Mode("container_full", "f", "Platform full", "Nothing more fits on the platform."),
    Mode("bench_limit", "b", "Bench limit reached", "More would not be safe on this bench."),
)
OBSERVATIONS = (
    Mode("bend", "b", "Bending", "It sags visibly."),
    Mode("crack", "c", "Crack heard or seen", "A crack, a tear or a noise."),
    Mode("lean", "l", "Leaning", "It leans or twists to one side."),
    Mode("buckle", "u", "Edge buckling", "A fold or edge is starting to crumple."),
    Mode("joint_opening", "j", "Joint opening", "Tape or glue is letting go."),
)


def check_constraints(
    setup: Mapping[str, float | None], readings: Mapping[str, Quantity], answers: Mapping[str, bool]
) -> list[ConstraintResult]:
    """Hold a bridge's readings and answers against the recipe.

    Args:
        setup: the run's set-up, SI by field key.
        readings: the readings that count, by reading key [m, kg].
        answers: answers to the family's questions.
    Returns:
        One result per constraint the recipe makes. A reading within its expanded uncertainty of the limit is
        ``doubtful``: the doubt is the instrument's, so it does not count as a breach.
    """
    results = [_at_least("gap", "Gap", readings.get("gap"), setup.get("gap_m"), "the gap of this challenge")]
    for side in ("left", "right"):
        key = f"overlap_{side}"
        measured, label = readings.get(key), f"Rests on the {side}"
        results.append(_at_least(f"{key}_min", label, measured, setup.get("overlap_min_m"), "the least overlap"))
        # What is not measured yet is said once, not for either limit.
        if measured is not None or setup.get("overlap_min_m") is None:
            results.append(_at_most(f"{key}_max", label, measured, setup.get("overlap_max_m"), "the most overlap"))
    results.append(_at_most("tape", "Tape", readings.get("tape"), setup.get("tape_max_m"), "the tape allowed"))
    kept = [result for result in results if result is not None]
    for question in _QUESTIONS:
        answer = answers.get(question.key)
        if answer is None:
            status, sentence = Status.MISSING, question.text
        elif answer is question.good:
            status, sentence = Status.KEPT, "Checked."
        else:
            status, sentence = Status.BREACHED, question.breach
        kept.append(ConstraintResult(question.key, question.text, status, sentence))
    return kept


def _at_least(
    key: str, label: str, measured: Quantity | None, limit: float | None, what: str
) -> ConstraintResult | None:
    return _limit(key, label, measured, limit, what, sign=1)


def _at_most(
    key: str, label: str, measured: Quantity | None, limit: float | None, what: str
) -> ConstraintResult | None:
    return _limit(key, label, measured, limit, what, sign=-1)


def _limit(
    key: str, label: str, measured: Quantity | None, limit: float | None, what: str, sign: int
) -> ConstraintResult | None:
    """A one-sided limit; ``sign`` is 1 for "at least" and -1 for "at most"."""
    if limit is None:
        return None
    if measured is None:
        return ConstraintResult(key, label, Status.MISSING, "Not measured yet.")
    found = f"{format_length(measured.value)} against {what}, {format_length(limit)}."
    short = sign * (limit - measured.value)
    if short <= 1e-9:
        return ConstraintResult(key, label, Status.KEPT, f"Measured {found}")
    if short <= COVERAGE_FACTOR * measured.standard_uncertainty:
        return ConstraintResult(key, label, Status.DOUBTFUL, f"Too close for this tape: {found} Taken as kept.")
    return ConstraintResult(key, label, Status.BREACHED, f"{'Below' if sign > 0 else 'Over'} the limit: {found}")


BRIDGE = Family(
    key="bridge",
    name="Bridge",
    built="A bridge that spans a gap between two supports and carries load in the middle.",
    setup=_SETUP,
    readings=_READINGS,
    questions=_QUESTIONS,
    failure_modes=FAILURE_MODES,
    loading_errors=LOADING_ERRORS,
    run_out_reasons=RUN_OUT_REASONS,
    observations=OBSERVATIONS,
    check=check_constraints,
    cautions=(SNAPPING, FALLING_LOAD, SMALL_OBJECTS, SCISSORS, ALWAYS),
)
