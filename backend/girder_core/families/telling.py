"""A result in words: in few for the queue, in a sentence for the page after a trial, and what a design is made for."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from girder_core.families.model import USUAL_SIZES_M, Family, Setup, aim_kg
from girder_core.measure import System, format_mass, format_value, plural
from girder_core.trial import BenchMeasure, Outcome, Shows, TrialResult


def result_in_words(
    family: Family, setup: Setup, result: TrialResult, system: System = System.METRIC, in_pieces: bool = False
) -> str:
    """What a trial that counts came to, in few words.

    Args:
        family: the kind of challenge.
        setup: what the recipe sets [SI].
        result: of the trial.
        system: units for masses and lengths.
        in_pieces: whether loads are told as a number of pieces, for a young class.
    Returns:
        Such as "1.240 kg", "at least 620 g", "level 3", "812 mm", "18 left".
    """
    procedure = family.procedure(setup)
    least = "at least " if result.outcome is Outcome.RAN_OUT else ""
    if procedure.shows is Shows.LOAD:
        if family.bench.counts_pieces or in_pieces:
            return f"{least}{result.pieces_held} {plural('piece', result.pieces_held)}"
        return least + format_mass(result.held.value, system)
    if procedure.shows is Shows.SURVIVED:
        return least + procedure.sized(result.survived.low if result.survived else 0.0, system)
    if not result.stood:
        return "fell"
    if procedure.hit_or_miss and result.outcome is Outcome.BROKE:
        return procedure.broke.lower()
    for measure in family.bench.measures:
        if measure.needed and measure.key in result.measures:
            return measured_in_words(measure, result.measures[measure.key].value, system)
    return "stood" if procedure.shows is Shows.WAIT else ""


def measured_in_words(measure: BenchMeasure, value: float, system: System = System.METRIC) -> str:
    """What was measured at the bench, as a result in few words.

    Args:
        measure: what was measured.
        value: the value [SI unit of its kind].
        system: units for lengths and masses.
    Returns:
        Such as "812 mm", "18 left", "yes".
    """
    words = ("no", "yes")[value > 0] if measure.yes_no else format_value(value, measure.kind, system)
    return measure.result.format(words)


def sizes_drawn(family: Family, setup: Setup, readings: Mapping[str, float]) -> dict[str, float]:
    """What the bench's picture of a design is drawn with.

    Args:
        family: the kind of challenge.
        setup: what the recipe sets [SI].
        readings: what was measured, by key of reading [SI].
    Returns:
        Sizes [m] by key of reading: as measured; until then as the set-up asks for; else a usual one.
    """
    asked: dict[str, float] = {}
    for limit in family.limits:
        value = setup.get(limit.field)
        if value is not None:
            asked.setdefault(limit.reading, value)
    usual = USUAL_SIZES_M[family.bench.picture]
    return {key: readings.get(key, asked.get(key, size)) for key, size in usual.items()}


def headline(
    family: Family,
    setup: Setup,
    team: str,
    result: TrialResult,
    system: System = System.METRIC,
    in_pieces: bool = False,
) -> str:
    """The sentence above a trial that has just ended.

    Args:
        family: the kind of challenge.
        setup: what the recipe sets [SI].
        team: who built it.
        result: of the trial, which counts.
        system: units for masses and lengths.
        in_pieces: whether loads are told as a number of pieces, for a young class.
    Returns:
        Such as "Gannet held 1.240 kg.", "Tern survived level 3.", "Auk fell."
    """
    procedure = family.procedure(setup)
    fell = not result.stood or (procedure.hit_or_miss and result.outcome is Outcome.BROKE)
    said = procedure.failed_headline if procedure.failed_headline and fell else procedure.headline
    words = result_in_words(family, setup, result, system, in_pieces)
    return said.format(team=team, result=words, hits=f"{result.hits} {plural(procedure.struck, result.hits)}")


def how_it_ended(family: Family, result: TrialResult) -> str:
    """How a trial ended, or what spoiled it, as the bench lists it.

    Args:
        family: the kind of challenge.
        result: of the trial.
    Returns:
        Such as "Crimped", "Somebody knocked the bench"; empty while it runs or where nothing was named.
    """
    return family.words().get(result.mode or result.reason or "", "")


def trial_line(
    family: Family, setup: Setup, result: TrialResult, system: System = System.METRIC, in_pieces: bool = False
) -> str:
    """How a trial stands, in a line.

    Args:
        family: the kind of challenge.
        setup: what the recipe sets [SI].
        result: of the trial.
        system: units for masses and lengths.
        in_pieces: whether loads are told as a number of pieces, for a young class.
    Returns:
        Such as "490 g, crimped", "void, somebody knocked the bench", "under way".
    """
    came: Mapping[Outcome, str] = {Outcome.RUNNING: "under way", Outcome.VOID: "void"}
    words = came.get(result.outcome) or result_in_words(family, setup, result, system, in_pieces)
    return ", ".join(part for part in (words, how_it_ended(family, result).lower()) if part)


def ended_in_words(family: Family, setup: Setup, result: TrialResult) -> str:
    """What an ended test in rounds is called before its figure.

    Args:
        family: the kind of challenge.
        setup: what the recipe sets [SI].
        result: of the trial.
    Returns:
        Such as "Went. Joint opened", "The attack is over"; empty while it runs.
    """
    procedure = family.procedure(setup)
    how = how_it_ended(family, result)
    said = {
        Outcome.BROKE: procedure.broke,
        Outcome.RAN_OUT: "Stopped, still whole",
        Outcome.VOID: "Void, not scored",
        Outcome.DONE: procedure.done,
    }.get(result.outcome, "")
    return f"{said}. {how}" if said and how else said


def strength_in_words(family: Family, setup: Setup, result: TrialResult, system: System = System.METRIC) -> str:
    """Between which sizes of a round the strength lies, once a test in rounds is over.

    Args:
        family: the kind of challenge.
        setup: what the recipe sets [SI].
        result: of the trial.
        system: units for lengths.
    Returns:
        A sentence or two; empty where sizes say nothing of a strength.
    """
    procedure, bounds = family.procedure(setup), result.survived
    if procedure.shows is not Shows.SURVIVED or bounds is None:
        return ""
    if result.outcome is Outcome.RAN_OUT:
        return f"At least {procedure.sized(bounds.low, system)}."
    if result.outcome is not Outcome.BROKE:
        return ""
    lasted = result.rounds[-1].lasted_s if result.rounds else None
    between = f"Its strength lies between {procedure.sized(bounds.low, system)} and "
    between += f"{procedure.sized(bounds.high, system)}."
    return f"{between} It went after {lasted:.1f} s." if lasted else between


@dataclass(frozen=True)
class Aim:
    """A load that a structure is made for: what a rule along the foot of the bench says of it, and how much [kg]."""

    label: str
    kg: float


def aims(setup: Setup, system: System = System.METRIC) -> tuple[Aim, ...]:
    """What structures of a run are made for.

    Args:
        setup: what the recipe sets [SI].
        system: units for the labels.
    Returns:
        The target, and with a margin the target times it; nothing without a target.
    """
    target, whole = setup.get("target_kg"), aim_kg(setup)
    if not target or whole is None:
        return ()
    if whole <= target:
        return (Aim(f"target {format_mass(target, system)}", target),)
    return (
        Aim(f"made for {format_mass(target, system)}", target),
        Aim(f"with its margin {format_mass(whole, system)}", whole),
    )


def ways_on(family: Family, results: Sequence[TrialResult]) -> tuple[str, ...]:
    """What a team may ask itself for its next version: the questions that belong to how its last test ended.

    Args:
        family: the kind of challenge.
        results: of a design's trials, in order.
    Returns:
        The questions of the latest trial that named how it failed; none where none did.
    """
    ended = [result.mode for result in results if result.mode]
    modes = {mode.key: mode for mode in (*family.failure_modes, *family.run_out_reasons)}
    mode = modes.get(ended[-1]) if ended else None
    return mode.redesign if mode else ()
