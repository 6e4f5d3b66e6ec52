"""What a formula accepts: refusals in a sentence, alike for every module of physics."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from girder_core.ground.errors import GirderError

Number = float | NDArray[np.float64]
"""A plain float, or an array of samples where a prediction is run many times."""

GRAVITY_M_S2 = 9.80665
"""Standard gravity (3rd CGPM, 1901; exact)."""


def refuse(field: str, sentence: str, code: str = "out_of_domain", **data: Any) -> GirderError:
    """The error for a value that a formula does not hold for.

    Args:
        field: name of the argument.
        sentence: what is wrong and what to change.
        code: stable machine name.
        data: further figures.
    Returns:
        The error, to be raised.
    """
    return GirderError(code, sentence, field=field, fields={field: sentence}, **data)


def positive(field: str, value: Number, label: str) -> None:
    """Refuse what is not a number above zero.

    Args:
        field: name of the argument.
        value: the number, or samples of it.
        label: what people call it, to begin a sentence.
    Returns:
        Nothing.
    Errors:
        ``out_of_domain``.
    """
    if not _all_are(value, lambda number: number > 0):
        raise refuse(field, f"{label} must be more than zero.")


def not_negative(field: str, value: Number, label: str) -> None:
    """Refuse what is not a number of zero or more.

    Args:
        field: name of the argument.
        value: the number, or samples of it.
        label: what people call it, to begin a sentence.
    Returns:
        Nothing.
    Errors:
        ``out_of_domain``.
    """
    if not _all_are(value, lambda number: number >= 0):
        raise refuse(field, f"{label} cannot be less than zero.")


def finite(field: str, value: Number, label: str) -> None:
    """Refuse what is no number.

    Args:
        field: name of the argument.
        value: the number, or samples of it.
        label: what people call it, to begin a sentence.
    Returns:
        Nothing.
    Errors:
        ``out_of_domain``.
    """
    if not _all_are(value, lambda number: True):
        raise refuse(field, f"{label} must be a number.")


def _all_are(value: Number, such: Callable[[Any], Any]) -> bool:
    """Whether all of them are numbers, and such; one plain number, as nearly all are, without making an array of it."""
    if isinstance(value, (float, int)):
        return math.isfinite(value) and bool(such(value))
    return bool(np.all(np.isfinite(value)) and np.all(such(np.asarray(value))))


def whole(field: str, value: float, low: int, label: str) -> None:
    """Refuse what is not a whole number of at least ``low``.

    Args:
        field: name of the argument.
        value: the number.
        low: the least allowed.
        label: what people call it, to begin a sentence.
    Returns:
        Nothing.
    Errors:
        ``out_of_domain``.
    """
    if not math.isfinite(value) or value != int(value) or value < low:
        raise refuse(field, f"{label} must be a whole number, at least {low}.")


def two_figures(value: float) -> float:
    """A value rounded to two significant figures, because an estimate deserves no more.

    Args:
        value: any finite number.
    Returns:
        The rounded number.
    """
    return 0.0 if value == 0 else round(value, 1 - math.floor(math.log10(abs(value))))


def typical(value: Number) -> float:
    """The middle one of samples, or the number itself.

    Args:
        value: a number or samples of it.
    Returns:
        One number, in the same unit.
    """
    return float(np.median(value))
