"""From typed values to a worked draft: reading, expectation, experience of the class, headline, what would help."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from girder_core.drafting.model import DraftKind, Expected, Param, Shown, Values, in_words
from girder_core.ground import GirderError, Point
from girder_core.measure import System, format_value, near_step, parse, read_in, reader, typed_text
from girder_core.physics import (
    NOTHING_N,
    STOCKS,
    Calibration,
    Help,
    Prediction,
    Stock,
    calibrated,
    rank_helps,
    with_model_error,
)

MOST_HELPS = 6
LEAST_GAIN = 1e-3
"""A change that gains less than this share is no help [-]."""


@dataclass(frozen=True)
class Worked:
    """A draft worked out.

    Attributes:
        values: what it was worked out from, after reading.
        expected: prediction and own mass, with the class's experience in it where it is applied.
        shown: drawings, figures, sentences.
        headline: the answer, in a sentence.
        note: the range, and the first thing that would help.
    """

    values: Values
    expected: Expected
    shown: Shown
    headline: str
    note: str


def start_values(
    kind: DraftKind,
    setup: Mapping[str, float | None],
    readings: Mapping[str, float],
    system: System = System.METRIC,
) -> dict[str, str]:
    """Where a draft begins: defaults, then the run's set-up, then what was measured at check-in.

    Args:
        kind: the kind of draft.
        setup: set-up quantities of the run [SI]; empty without a run.
        readings: readings of the design by key [SI].
        system: the units to write them in.
    Returns:
        A value for every parameter, as if it had been typed; what lies outside a parameter's bounds is not
        moved, so that ``read_values`` says it at its field.
    """
    defaults = {}
    begun: dict[str, float] = {}
    for param in kind.params:
        if param.kind is None:
            defaults[param.key] = param.options[0].key
            continue
        known = (readings.get(param.reading), setup.get(param.setup))
        value = next((number for number in known if number is not None), None)
        if value is None:
            value = min(param.default, begun.get(param.under[0], math.inf))
        begun[param.key] = value
        defaults[param.key] = typed_text(value, param.kind, system)
    return defaults


def read_values(
    kind: DraftKind,
    typed: Mapping[str, str],
    stocks: Mapping[str, Stock] = STOCKS,
    moves: Mapping[str, Point] | None = None,
) -> Values:
    """Read typed values; what is left out takes its default.

    Args:
        kind: the kind of draft.
        typed: text by parameter.
        stocks: materials there are, by key.
        moves: joints that were moved [m].
    Returns:
        The values.
    Errors:
        ``bad_draft`` with a sentence per field.
    """
    problems: dict[str, str] = {}
    numbers: dict[str, float] = {}
    words: dict[str, str] = {}
    chosen: dict[str, Stock] = {}
    for param in kind.params:
        text = typed.get(param.key, "").strip()
        if param.forms:
            stock = stocks.get(text or param.options[0].key)
            if stock is None or stock.form not in param.forms:
                problems[param.key] = "There is no such material for this. Choose one from the list."
            else:
                chosen[param.key], words[param.key] = stock, stock.key
        elif param.kind is None:
            key = text or param.options[0].key
            if key not in {option.key for option in param.options}:
                problems[param.key] = f"Choose one of: {', '.join(option.label for option in param.options)}."
            words[param.key] = key
        else:
            numbers[param.key] = param.default
            if text:
                try:
                    numbers[param.key] = parse(text, param.kind).si
                except GirderError as error:
                    problems[param.key] = error.sentence
    for param in kind.params:
        if param.kind is None or param.key in problems or not param.counts(words):
            continue
        value, slack = numbers[param.key], 1e-9
        least, most = param.accepts
        if not least - slack <= value <= most + slack:
            low, high = format_value(least, param.kind), format_value(most, param.kind)
            much = "more" if value > most else "less"
            hint = " Is the unit right?" if value > 5 * most or 0 < value < least / 5 else ""
            problems[param.key] = f"{param.label}: from {low} to {high}; this is {much}.{hint}"
            continue
        other, sentence = param.under
        if other and other not in problems and value > numbers[other] + slack:
            problems[param.key] = sentence.format(format_value(numbers[other], param.kind))
    for name, point in (moves or {}).items():
        if not all(math.isfinite(ordinate) and abs(ordinate) < 10 for ordinate in point):
            problems[f"moves.{name}"] = f"Joint {name} is nowhere near the truss. Put it back."
    if problems:
        raise GirderError("bad_draft", next(iter(problems.values())), fields=problems)
    return Values(numbers, words, chosen, dict(moves or {}))


def draft(
    kind: DraftKind,
    typed: Mapping[str, str],
    stocks: Mapping[str, Stock] = STOCKS,
    moves: Mapping[str, Point] | None = None,
    system: System | None = None,
    calibration: Calibration | None = None,
) -> Worked:
    """Work a draft out.

    Args:
        kind: the kind of draft.
        typed: text by parameter.
        stocks: materials there are, by key.
        moves: joints that were moved [m].
        system: the reader's units; without them those of ``measure.reader``.
        calibration: the class's experience, where it is to be applied.
    Returns:
        The worked draft; ``what_helps`` holds single natural steps, the largest gain first.
    Errors:
        ``bad_draft``, or a formula's own code, with the sentence at the parameter that it belongs to.
    """
    system = system or reader()
    with read_in(lambda: system):
        return _draft(kind, read_values(kind, typed, stocks, moves), system, calibration)


def _draft(kind: DraftKind, values: Values, system: System, calibration: Calibration | None) -> Worked:
    try:
        expected = _expected(kind, values, calibration)
        if expected.prediction:
            helps = rank_helps(_helps(kind, values, expected, calibration))[:MOST_HELPS]
            expected = replace(expected, prediction=replace(expected.prediction, what_helps=helps))
        shown = kind.show(values, expected, system)
    except GirderError as error:
        raise _at_its_field(kind, error) from None
    headline, note = _told(kind.pushes(values.words), expected, shown, system)
    return Worked(values, expected, shown, headline, note)


def gives_way(
    kind: DraftKind,
    typed: Mapping[str, str],
    stocks: Mapping[str, Stock] = STOCKS,
    moves: Mapping[str, Point] | None = None,
) -> tuple[float, float, float] | None:
    """How far the middle of a draft comes down for each newton of its load.

    Args:
        kind: the kind of draft.
        typed: its values as typed.
        stocks: materials by key.
        moves: joints that were moved.
    Returns:
        With the loosest, the usual and the stiffest stock [m/N]; None where the model says nothing of it.
    """
    if kind.gives is None:
        return None
    try:
        return kind.gives(read_values(kind, typed, stocks, moves))
    except GirderError:
        # A stock that went since, or a set-up that the model does not reach.
        return None


def expectation(
    kind: DraftKind,
    typed: Mapping[str, str],
    stocks: Mapping[str, Stock] = STOCKS,
    moves: Mapping[str, Point] | None = None,
) -> Expected:
    """Prediction and own mass alone, by the model with its own error, and without a class's experience.

    Args:
        kind: the kind of draft.
        typed: text by parameter.
        stocks: materials there are, by key.
        moves: joints that were moved [m].
    Returns:
        What is expected.
    Errors:
        As ``draft``.
    """
    values = read_values(kind, typed, stocks, moves)
    try:
        return _expected(kind, values, None)
    except GirderError as error:
        raise _at_its_field(kind, error) from None


def _expected(kind: DraftKind, values: Values, calibration: Calibration | None) -> Expected:
    plain = kind.expect(values)
    if plain.prediction is None:
        return plain
    if calibration is None:
        return replace(plain, prediction=with_model_error(plain.prediction, kind.errs_log))
    return replace(plain, prediction=calibrated(plain.prediction, calibration))


def _at_its_field(kind: DraftKind, error: GirderError) -> GirderError:
    """The error with its sentence at the parameter that sets the formula's argument."""
    argument = str(error.data.get("field", ""))
    key = kind.blame.get(argument, argument)
    fields = {key: error.sentence} if kind.param(key) else {}
    data = {name: value for name, value in error.data.items() if name not in ("field", "fields")}
    return GirderError(error.code, error.sentence, fields=fields or error.data.get("fields", {}), **data)


def _helps(kind: DraftKind, values: Values, expected: Expected, calibration: Calibration | None) -> list[Help]:
    """Each natural step of each parameter, and each choice that may help, one at a time."""
    before = expected.prediction
    assert before is not None
    changes = []
    for words, param, value, choice, changed in _steps(kind, values):
        try:
            after = _expected(kind, changed, calibration)
        except GirderError:
            continue
        gain = after.prediction.typical_n - before.typical_n if after.prediction is not None else 0.0
        if gain > LEAST_GAIN * before.typical_n:
            changes.append(Help(words, gain, after.mass_kg - expected.mass_kg, param.key, value, choice))
    return changes


def _steps(kind: DraftKind, values: Values) -> Iterator[tuple[str, Param, float, str, Values]]:
    """What could be changed: the words, the parameter, its value or choice then, and all values then."""
    for param in kind.params:
        if not param.counts(values.words):
            continue
        for option, words in param.switch.items():
            if values.words[param.key] != option:
                yield words, param, 0.0, option, replace(values, words={**values.words, param.key: option})
        if param.kind is None or not param.nudge:
            continue
        least, most = param.accepts
        step = near_step(param.nudge, param.kind)
        for sign, words in ((1, param.more), (-1, param.less)):
            value = values[param.key] + sign * step
            if words and least <= value <= most:
                yield (
                    words.format(format_value(step, param.kind)),
                    param,
                    value,
                    "",
                    replace(values, numbers={**values.numbers, param.key: value}),
                )


def _told(push: bool, expected: Expected, shown: Shown, system: System) -> tuple[str, str]:
    prediction = expected.prediction
    if prediction is None:
        return shown.headline or "It does not stand.", shown.says[0] if shown.says else ""

    def words(load_n: float) -> str:
        return in_words(load_n, push, system)

    if shown.headline:
        return shown.headline, shown.says[0] if shown.says else ""
    if prediction.typical_n <= NOTHING_N:
        headline, note = "It cannot carry itself.", f"{prediction.governing.name} under nothing but its own weight."
        if prediction.high_n > NOTHING_N:
            headline = "It can hardly carry itself."
            note = f"Nine times in ten it holds less than {words(prediction.high_n)} besides its own weight."
    else:
        headline = f"{prediction.governing.name} first, at about {words(prediction.typical_n)}."
        note = f"Eight times in ten between {words(prediction.low_n)} and {words(prediction.high_n)}."
        if prediction.low_n <= NOTHING_N:
            note = f"Nine times in ten less than {words(prediction.high_n)}; at worst it cannot carry itself."
    if prediction.what_helps:
        best = prediction.what_helps[0]
        note += f" {best.change}: {words(best.gain_n)} more."
    if prediction.correction != 1.0:
        note += f" It is the model times {prediction.correction:.2g}, as designs in your classes held."
    return headline, note


def material_of(kind: DraftKind, typed: Mapping[str, str]) -> str:
    """The stock by which a class's experience is kept.

    Args:
        kind: the kind of draft.
        typed: text by parameter.
    Returns:
        Its key.
    """
    param = kind.param(kind.material)
    assert param is not None
    return typed.get(kind.material) or param.options[0].key


def summary(prediction: Prediction) -> dict[str, float | str]:
    """What is kept of a prediction with a design.

    Args:
        prediction: the model's own, without a class's experience.
    Returns:
        Range and governing limit state in plain values [N].
    """
    return {
        "low_n": prediction.low_n,
        "typical_n": prediction.typical_n,
        "high_n": prediction.high_n,
        "governing": prediction.governing.name,
        "mode": prediction.governing.mode,
    }
