"""What every kind of draft fills: its parameters, what is expected of it, and what is drawn.

A kind is data and two functions. ``expect`` gives the prediction and the own mass of one set of values, and is run many
times to find what would help; ``show`` draws, and is run once.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from girder_core.drafting.films import Motion
from girder_core.ground import GRAVITY_M_S2, Drawing, Point
from girder_core.measure import Kind, System, format_about
from girder_core.physics import PRIOR_LOG, Form, Prediction, Stock


@dataclass(frozen=True)
class Option:
    """One of a few things to choose from: its key, and what it is called."""

    key: str
    label: str


@dataclass(frozen=True)
class Param:
    """Something that can be set on a draft.

    Attributes:
        key: name, with its unit where it has one.
        label: what it is called.
        kind: what it measures; None for a choice.
        low, high, default: what a slider reaches, and the first value [SI].
        under: another parameter that it cannot exceed, and the sentence that says so, with a place for its value.
        least, most: what is accepted beyond the slider, for challenges that are set up larger or smaller [SI].
        step: what a slider moves by [SI].
        options: the choices, where it is one; the first is the default.
        forms: for a choice among stocks, the forms that serve.
        why: what it does, in a sentence.
        only: another choice and the values of it for which this parameter counts.
        nudge: one natural step [SI]; 0 where no step is tried.
        more, less: what one step up and down is called; {} stands for how much that is.
        switch: for a choice, options that may help, and what choosing them is called.
        setup: set-up quantity of a run that it starts from.
        reading: check-in reading that it starts from.
        fine: whether it belongs to what is set once and rarely changed.
    """

    key: str
    label: str
    kind: Kind | None = None
    low: float = 0.0
    high: float = 0.0
    default: float = 0.0
    step: float = 0.0
    options: tuple[Option, ...] = ()
    forms: tuple[Form, ...] = ()
    why: str = ""
    only: tuple[str, tuple[str, ...]] = ("", ())
    nudge: float = 0.0
    more: str = ""
    less: str = ""
    setup: str = ""
    reading: str = ""
    fine: bool = False
    under: tuple[str, str] = ("", "")
    switch: Mapping[str, str] = field(default_factory=dict)
    least: float | None = None
    most: float | None = None

    @property
    def accepts(self) -> tuple[float, float]:
        """Least and most that is worked out [SI]."""
        return (self.low if self.least is None else self.least), (self.high if self.most is None else self.most)

    def counts(self, words: Mapping[str, str]) -> bool:
        """Whether it matters with these choices."""
        other, wanted = self.only
        return not other or words.get(other) in wanted


@dataclass(frozen=True)
class Values:
    """A draft's values.

    Attributes:
        numbers: quantities by parameter [SI].
        words: choices by parameter.
        stocks: materials by parameter.
        moves: joints that were moved, by name [m].
        share: for a film, which share is drawn of the load at which it gives way [-]; over 1 it has given way.
    """

    numbers: Mapping[str, float]
    words: Mapping[str, str]
    stocks: Mapping[str, Stock]
    moves: Mapping[str, Point] = field(default_factory=dict)
    share: float = 1.0

    @property
    def gone(self) -> bool:
        """Whether it is drawn after it has given way."""
        return self.share > 1

    @property
    def on(self) -> float:
        """The share of that load that is drawn on it, 1 at most [-]."""
        return min(1.0, self.share)

    def __getitem__(self, key: str) -> float:
        return self.numbers[key]

    def count(self, key: str) -> int:
        """A whole number."""
        return round(self.numbers[key])

    def when(self, key: str, other: str, *wanted: str) -> float:
        """A quantity that is there only with these choices of another parameter; else nothing [SI]."""
        return self.numbers[key] if self.words[other] in wanted else 0.0


@dataclass(frozen=True)
class Expected:
    """What is expected of a draft.

    Attributes:
        prediction: every way it can fail; None where nothing is loaded or it cannot stand.
        mass_kg: its own mass [kg].
    """

    prediction: Prediction | None
    mass_kg: float


@dataclass(frozen=True)
class View:
    """One drawing to scale, with a title; ``key`` tells the interface where it belongs."""

    key: str
    title: str
    drawing: Drawing


@dataclass(frozen=True)
class Fact:
    """One figure worth reading: what it is, its value [SI] and kind, or plain words.

    ``kind`` is length, mass, force, frequency, angle (in degrees), share, count, ratio or words.
    """

    label: str
    kind: str
    value: float = 0.0
    words: str = ""


@dataclass(frozen=True)
class Curve:
    """How one quantity follows another.

    Attributes:
        title: what it shows.
        across, up: what the axes are; kinds as in ``Fact``.
        across_kind, up_kind: of the axes.
        points: along the curve [SI].
        here: where this draft stands; None where it is off the curve.
        marks: further points with words.
    """

    title: str
    across: str
    across_kind: str
    up: str
    up_kind: str
    points: tuple[Point, ...]
    here: Point | None = None
    marks: tuple[tuple[Point, str], ...] = ()


@dataclass(frozen=True)
class Lesson:
    """A small figure that explains one thing: its words and its drawing."""

    words: str
    drawing: Drawing


@dataclass(frozen=True)
class Shown:
    """What a draft shows beside its ladder.

    Attributes:
        views: drawings to scale.
        facts: figures.
        curves: graphs.
        says: sentences; the first stands under the headline where there is no prediction.
        mark_n: a load worth a mark on the ladder [N]; None for none.
        mark_words: what that load is.
        headline: replaces the usual one, where the answer is not a load.
    """

    views: tuple[View, ...]
    facts: tuple[Fact, ...] = ()
    curves: tuple[Curve, ...] = ()
    says: tuple[str, ...] = ()
    mark_n: float | None = None
    mark_words: str = ""
    headline: str = ""


@dataclass(frozen=True)
class DraftKind:
    """A kind of draft.

    Attributes:
        key, name: stable name; what people call it.
        about: what can be tried here, in a sentence.
        families: families of challenge it serves, by key.
        load_words: what the ladder's loads are.
        push: whether the ladder's loads are forces that push, instead of weights.
        push_where: choices by which they are, where it depends.
        params: what can be set.
        expect, show: see the module.
        lessons: small figures that explain.
        films: what can be seen of it in motion, the one that says most first.
        blame: argument of a formula to the parameter that sets it, where the names differ.
        material: the parameter whose stock a class's experience is kept by.
        gives: how far the middle comes down for each newton of the load, with the loosest, usual and stiffest
            stock [m/N]; None where the model says nothing of it.
        errs_log: how far its model is off from one class to the next, standard deviation of the logarithm [-]; from how
            facts of the trade lie against it, ours.
    """

    key: str
    name: str
    about: str
    families: tuple[str, ...]
    load_words: str
    params: tuple[Param, ...]
    expect: Callable[[Values], Expected]
    show: Callable[[Values, Expected, System], Shown]
    material: str
    errs_log: float = PRIOR_LOG
    lessons: tuple[Lesson, ...] = ()
    films: tuple[Motion, ...] = ()
    push: bool = False
    push_where: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    blame: Mapping[str, str] = field(default_factory=dict)
    gives: Callable[[Values], tuple[float, float, float]] | None = None

    def param(self, key: str) -> Param | None:
        """The parameter of this key."""
        return next((param for param in self.params if param.key == key), None)

    def words_for(self, typed: Mapping[str, str]) -> str:
        """What the ladder's loads are with these choices."""
        return "push at its middle" if self.pushes(typed) and not self.push else self.load_words

    def pushes(self, typed: Mapping[str, str]) -> bool:
        """Whether its loads are pushes with these choices, and so nothing that a bench piles up."""
        return self.push or any(typed.get(key) in values for key, values in self.push_where.items())


def length(
    key: str, name: str, low: float, high: float, default: float, step: float, why: str = "", **rest: object
) -> Param:
    """A parameter that is a length.

    Args:
        key: name.
        name: what it is called.
        low: least [m].
        high: most [m].
        default: first value [m].
        step: of the slider [m].
        why: what it does.
        rest: further attributes of ``Param``.
    Returns:
        The parameter.
    """
    return Param(key, name, Kind.LENGTH, low, high, default, step, why=why, **rest)  # type: ignore[arg-type]


def count(key: str, name: str, low: float, high: float, default: float, why: str = "", **rest: object) -> Param:
    """A parameter that is a whole number.

    Args:
        key: name.
        name: what it is called.
        low: least.
        high: most.
        default: first value.
        why: what it does.
        rest: further attributes of ``Param``.
    Returns:
        The parameter.
    """
    return Param(key, name, Kind.COUNT, low, high, default, 1, why=why, **rest)  # type: ignore[arg-type]


def mass(
    key: str, name: str, low: float, high: float, default: float, step: float, why: str = "", **rest: object
) -> Param:
    """A parameter that is a mass.

    Args:
        key: name.
        name: what it is called.
        low: least [kg].
        high: most [kg].
        default: first value [kg].
        step: of the slider [kg].
        why: what it does.
        rest: further attributes of ``Param``.
    Returns:
        The parameter.
    """
    return Param(key, name, Kind.MASS, low, high, default, step, why=why, **rest)  # type: ignore[arg-type]


def choice(key: str, name: str, options: Mapping[str, str], why: str = "", **rest: object) -> Param:
    """A parameter that is a choice; the first option is taken at first.

    Args:
        key: name.
        name: what it is called.
        options: what each key is called.
        why: what it does.
        rest: further attributes of ``Param``.
    Returns:
        The parameter.
    """
    choices = tuple(Option(choice, words) for choice, words in options.items())
    return Param(key, name, None, options=choices, why=why, **rest)  # type: ignore[arg-type]


def stock(key: str, name: str, forms: tuple[Form, ...], default: str, why: str = "", **rest: object) -> Param:
    """A parameter that is a material.

    Args:
        key: name.
        name: what it is called.
        forms: forms of stock that serve.
        default: key of the stock taken at first.
        why: what it does.
        rest: further attributes of ``Param``.
    Returns:
        The parameter.
    """
    return Param(key, name, None, forms=forms, options=(Option(default, ""),), why=why, **rest)  # type: ignore[arg-type]


def loosest_to_stiffest(usual: float, of: Stock) -> tuple[float, float, float]:
    """How far something gives with its loosest, usual and stiffest stock.

    Args:
        usual: with the usual one [any unit].
        of: the stock.
    Returns:
        The three, in the same unit: a way under a load goes with one over the stiffness.
    """
    stiff = of.elastic_modulus_pa
    return usual * stiff.typical / stiff.low, usual, usual * stiff.typical / stiff.high


def in_words(load_n: float, push: bool, system: System) -> str:
    """A load in a sentence: as the mass that weighs as much, or as a force where it pushes.

    Args:
        load_n: the load [N].
        push: whether it is a force and not a weight.
        system: the reader's units.
    Returns:
        Such as "1.2 kg" or "14 N".
    """
    if not math.isfinite(load_n):
        return "any load"
    if push:
        return f"{load_n:.2g} N" if load_n < 100 else f"{load_n:.0f} N"
    return format_about(load_n / GRAVITY_M_S2, system)
