"""Short films of a draft: one thing grows, and all else in the drawing follows from the model, frame by frame."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from types import MappingProxyType
from typing import TYPE_CHECKING

from girder_core.ground import Film, Frame, GirderError
from girder_core.measure import System, format_value

if TYPE_CHECKING:
    from girder_core.drafting.model import DraftKind, Expected, Values

STEPS = 14
"""Frames of a film up to where it gives way [-] (ours)."""
GIVEN_WAY = 1.06
"""The share of the load at which it gives way, in the frames after it has [-] (ours)."""


@dataclass(frozen=True)
class Scene:
    """One frame before it is drawn: the draft as it is then, and what is said of it."""

    values: Values
    says: str


@dataclass(frozen=True)
class Motion:
    """A film that a kind of draft can show.

    Attributes:
        title: what is seen, in a few words.
        view: which of the kind's drawings moves.
        scenes: the frames, from the draft's values and what is expected of it; what gives way first is said only
            where that is asked for.
        only: a choice and the values of it for which there is this film; empty for all.
    """

    title: str
    view: str
    scenes: Callable[[DraftKind, Values, Expected, bool], Sequence[Scene]]
    only: tuple[str, tuple[str, ...]] = ("", ())

    def there(self, values: Values) -> bool:
        """Whether a draft with these choices has this film."""
        key, wanted = self.only
        return not key or values.words.get(key) in wanted


def load_grows(
    title: str, view: str, only: tuple[str, tuple[str, ...]] = ("", ()), what: str = "the load", end: str = "",
) -> Motion:  # fmt: skip
    """A film in which load goes on until the governing part gives way.

    Args:
        title: what is seen.
        view: which drawing moves.
        only: a choice and its values for which there is this film.
        what: what grows.
        end: what is said once it has given way; the way in which it does, unless given.
    Returns:
        The film.
    """

    def scenes(kind: DraftKind, values: Values, expected: Expected, tells: bool) -> Sequence[Scene]:
        growing = [
            Scene(replace(values, share=i / STEPS), f"{100 * i / STEPS:.0f} % of {what} that is too much for it.")
            for i in range(STEPS + 1)
        ]
        prediction = expected.prediction
        how = f"It gives way. {prediction.governing.name} first." if prediction and tells else "It gives way."
        return [*growing, Scene(replace(values, share=GIVEN_WAY), end or how)]

    return Motion(title, view, scenes, only)


def changes(
    title: str, view: str, key: str, ends: Callable[[Values, Expected], tuple[float, float]],
    only: tuple[str, tuple[str, ...]] = ("", ()), fixed: Mapping[str, float] = MappingProxyType({}),
) -> Motion:  # fmt: skip
    """A film in which one parameter of the draft changes.

    Args:
        title: what is seen.
        view: which drawing moves.
        key: the parameter.
        ends: its first and last value [SI], from the draft.
        only: a choice and its values for which there is this film.
        fixed: other parameters that have a value of their own in it [SI].
    Returns:
        The film; of a count each value is shown once.
    """

    def scenes(kind: DraftKind, values: Values, expected: Expected, tells: bool) -> Sequence[Scene]:
        param = kind.param(key)
        assert param is not None and param.kind is not None
        first, last = ends(values, expected)
        at = [first + (last - first) * i / STEPS for i in range(STEPS + 1)]
        if param.step == 1:
            at = [float(n) for n in range(round(first), round(last) + 1)]
        return [
            Scene(replace(values, numbers={**values.numbers, **fixed, key: value}),
                  f"{param.label}: {format_value(value, param.kind)}.")
            for value in at
        ]  # fmt: skip

    return Motion(title, view, scenes, only)


def films_of(kind: DraftKind, values: Values) -> tuple[Motion, ...]:
    """The films that a draft has with its choices.

    Args:
        kind: the kind of draft.
        values: the draft's.
    Returns:
        What can be seen of it, in the kind's order.
    """
    return tuple(motion for motion in kind.films if motion.there(values))


def film(
    kind: DraftKind, values: Values, expected: Expected, system: System = System.METRIC, number: int = 0,
    tells: bool = True,
) -> Film | None:  # fmt: skip
    """A film of a draft.

    Args:
        kind: the kind of draft.
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
        number: which of the films that there are with these choices.
        tells: whether what gives way first is said; not where a class has yet to say so itself.
    Returns:
        Its frames; those that the model cannot work out are left out. None where there is no such film.
    """
    there = films_of(kind, values)
    if not there:
        return None
    motion = there[number % len(there)]
    frames = []
    for scene in motion.scenes(kind, values, expected, tells):
        try:
            then = expected if scene.values.numbers == values.numbers else kind.expect(scene.values)
            shown = kind.show(scene.values, then, system)
        except GirderError:
            continue
        view = next((view for view in shown.views if view.key == motion.view), None)
        if view is not None:
            frames.append(Frame(view.drawing, scene.says))
    return Film(motion.title, tuple(frames)) if frames else None
