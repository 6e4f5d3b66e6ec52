"""Typed text to SI base units, and SI back to words.

Inside the application everything is m, kg, s. This module is the border: it reads what a teacher types
("36 cm", "14 1/4 in", "38,4 g") and writes what a teacher reads. The factors come from pint, exactly.
"""

from __future__ import annotations

import math
import re
import unicodedata
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum
from fractions import Fraction
from functools import cache
from itertools import pairwise

import pint

from girder_core.ground import GRAVITY_M_S2, GirderError, two_figures

_PINT: pint.UnitRegistry[Decimal] = pint.UnitRegistry(non_int_type=Decimal)


class Kind(StrEnum):
    """What a typed value measures."""

    LENGTH = "length"
    MASS = "mass"
    TIME = "time"
    COUNT = "count"
    FREQUENCY = "frequency"
    AREA = "area"
    VOLUME = "volume"


class System(StrEnum):
    """Which units a teacher wants to read."""

    METRIC = "metric"
    US = "us"


_SI_NAME = {
    Kind.LENGTH: "metre", Kind.MASS: "kilogram", Kind.TIME: "second", Kind.COUNT: "dimensionless",
    Kind.FREQUENCY: "hertz", Kind.AREA: "metre ** 2", Kind.VOLUME: "metre ** 3",
}  # fmt: skip

# Every spelling a teacher may type, by kind, with the name pint knows it by.
_SPELLINGS: dict[Kind, dict[str, str]] = {
    Kind.LENGTH: {
        **dict.fromkeys(["mm", "millimetre", "millimetres", "millimeter", "millimeters"], "millimetre"),
        **dict.fromkeys(["cm", "centimetre", "centimetres", "centimeter", "centimeters"], "centimetre"),
        **dict.fromkeys(["dm", "decimetre", "decimetres", "decimeter", "decimeters"], "decimetre"),
        **dict.fromkeys(["m", "metre", "metres", "meter", "meters"], "metre"),
        **dict.fromkeys(["in", "inch", "inches", '"', "″", "”", "''"], "inch"),
        **dict.fromkeys(["ft", "foot", "feet", "'", "′", "’"], "foot"),
    },
    Kind.MASS: {
        **dict.fromkeys(["mg", "milligram", "milligrams"], "milligram"),
        **dict.fromkeys(["g", "gr", "gram", "grams", "gramme", "grammes"], "gram"),
        **dict.fromkeys(["kg", "kilo", "kilos", "kilogram", "kilograms"], "kilogram"),
        **dict.fromkeys(["oz", "ounce", "ounces"], "ounce"),
        **dict.fromkeys(["lb", "lbs", "pound", "pounds"], "pound"),
    },
    Kind.TIME: {
        **dict.fromkeys(["s", "sec", "second", "seconds"], "second"),
        **dict.fromkeys(["min", "minute", "minutes"], "minute"),
    },
    # A count has no unit; what is counted may be named by these words.
    Kind.COUNT: dict.fromkeys(["", "×", "x", "pcs", "pieces", "times"], "dimensionless"),
    Kind.FREQUENCY: dict.fromkeys(["hz", "hertz", "1/s"], "hertz"),
    Kind.AREA: {
        **dict.fromkeys(["mm²", "mm2", "sq mm"], "millimetre ** 2"),
        **dict.fromkeys(["cm²", "cm2", "sq cm", "square centimetres", "square centimeters"], "centimetre ** 2"),
        **dict.fromkeys(["m²", "m2", "sq m", "square metres", "square meters"], "metre ** 2"),
        **dict.fromkeys(["in²", "in2", "sq in", "square inches"], "inch ** 2"),
    },
    Kind.VOLUME: {
        **dict.fromkeys(["cm³", "cm3", "ml"], "centimetre ** 3"),
        **dict.fromkeys(["l", "litre", "litres", "liter", "liters"], "litre"),
        **dict.fromkeys(["in³", "in3", "cu in"], "inch ** 3"),
    },
}
_SYMBOL = {
    "millimetre": "mm", "centimetre": "cm", "decimetre": "dm", "metre": "m", "inch": "in", "foot": "ft",
    "milligram": "mg", "gram": "g", "kilogram": "kg", "ounce": "oz", "pound": "lb", "second": "s", "minute": "min",
    "dimensionless": "", "hertz": "Hz", "millimetre ** 2": "mm²", "centimetre ** 2": "cm²", "metre ** 2": "m²",
    "inch ** 2": "in²", "centimetre ** 3": "cm³", "litre": "L", "inch ** 3": "in³",
}  # fmt: skip

# A number with optional thousands spaces, decimal point or comma, or a fraction with or without whole part.
_NUMBER = re.compile(
    r"""^\s*(?P<sign>[-+−]?)\s*
        (?: (?P<whole>\d+)[\s-]+(?P<num>\d+)/(?P<den>\d+)
          | (?P<only_num>\d+)/(?P<only_den>\d+)
          | (?P<decimal>(?:\d{1,3}(?:[\s\u00a0\u202f]\d{3})+|\d+)(?:[.,]\d+)?|[.,]\d+) )
        \s*(?P<unit>[^\d\s.,].*?)?\s*$""",
    re.VERBOSE,
)
# One of several figures with their units, as in "1 ft 2 in".
_PART = re.compile(r"""\s*([\d.,][\d\s.,/\u00a0\u202f-]*?)\s*(''|["'′″’”]|[^\W\d_]+\.?)(?=[\s\d]|$)""")
_AMBIGUOUS_COMMA = re.compile(r"^[1-9]\d{0,2},\d{3}(\D|$)")


@dataclass(frozen=True)
class TypedValue:
    """A value as it was typed, and what it means.

    Attributes:
        text: what was typed, untouched.
        value: the number in the typed unit.
        unit: the unit's symbol, such as ``"cm"``.
        si: the same in the SI base unit of its kind [m, kg or s].
    """

    text: str
    value: float
    unit: str
    si: float


def si_per(unit: str, kind: Kind) -> float:
    """SI base units in one of the named unit.

    Args:
        unit: any accepted spelling, such as ``"in"``.
        kind: what the unit measures.
    Returns:
        The size of one of it [m, kg or s per unit]; exact up to the rounding of a float.
    Errors:
        ``unknown_unit`` when the spelling is not one of this kind.
    Source:
        International yard and pound agreement of 1959, through pint: 1 in = 0.0254 m, 1 lb = 0.45359237 kg.
    """
    return float(_size(_unit_name(unit, kind), kind))


@cache
def _size(name: str, kind: Kind) -> Decimal:
    """SI base units in one of a unit; worked out once, because it takes a millisecond."""
    return Decimal(_PINT.Quantity(Decimal(1), name).to(_SI_NAME[kind]).magnitude)


def _unit_name(unit: str, kind: Kind) -> str:
    name = _SPELLINGS[kind].get(unit.strip().rstrip(".").lower())
    if name is None:
        symbols = sorted({_SYMBOL[n] for n in _SPELLINGS[kind].values()})
        raise GirderError(
            "unknown_unit",
            f"“{unit}” is not a unit of {kind} used here. " + _advice(symbols),
            unit=unit,
            accepted=symbols,
        )
    return name


def _advice(symbols: list[str]) -> str:
    named = [symbol for symbol in symbols if symbol]
    return f"Use one of {', '.join(named)}." if named else "Type a plain number."


def spellings(kind: Kind) -> frozenset[str]:
    """Every spelling of a unit that is read.

    Args:
        kind: what it measures.
    Returns:
        The spellings, in small letters.
    """
    return frozenset(_SPELLINGS[kind])


@dataclass(frozen=True)
class OwnUnit:
    """A unit of length that somebody made up, such as a cube: its name and the size of one [m]."""

    name: str
    size_m: float


def own_unit(name: str, size: str) -> OwnUnit:
    """A unit in which a young class counts lengths.

    Args:
        name: what one is called, in the singular.
        size: how long one is, as typed with its unit.
    Returns:
        The unit, its name in small letters.
    Errors:
        ``bad_unit`` for a name that is a unit already or has no letters, or a size that is no small length; its
        ``fields`` names ``name`` or ``size``.
    """
    name = name.strip().lower()
    if not name.isalpha() or name in spellings(Kind.LENGTH):
        raise _bad_unit("name", "Call it by a word of its own, such as cube.")
    try:
        size_m = parse(size, Kind.LENGTH).si
    except GirderError as error:
        raise _bad_unit("size", error.sentence) from None
    if not 0.001 <= size_m <= 1:
        raise _bad_unit("size", "One of them is between 1 mm and 1 m long.")
    return OwnUnit(name, size_m)


def _bad_unit(field: str, sentence: str) -> GirderError:
    return GirderError("bad_unit", sentence, fields={field: sentence})


LEAST, MOST, LONGEST_TEXT = Fraction(1, 10**9), 10**9, 100
"""Figures that are typed lie between these or are zero [-], and are no longer than so many signs (ours): a slip of
hundreds of zeros must not become a quantity that nothing can be worked out with."""


def parse(text: str, kind: Kind, default_unit: str | None = None, own: Mapping[str, float] | None = None) -> TypedValue:
    """Read a typed value with its unit.

    Accepts decimals with point or comma, thousands set apart by spaces, fractions ("14 1/4 in", "1½ in"), and figures
    in smaller and smaller units ("1 ft 2 in", "3 cm 5 mm"), which are then told in the first one.

    Args:
        text: what was typed.
        kind: what it should measure.
        default_unit: unit taken when none is typed; with none, a bare number is refused.
        own: further units by name, each with its size [m, kg or s]; such as a cube of 20 mm.
    Returns:
        The typed value with its SI value; negative numbers are read, not judged.
    Errors:
        ``not_a_number``, ``unit_missing``, ``unknown_unit``, ``ambiguous_comma`` (is 1,250 a thousand or one and
        a quarter?), ``not_whole`` for a count that is no whole number, ``out_of_all_range`` for what is greater, or
        nearer to nothing, than anything that is measured here.
    """
    if len(text or "") > LONGEST_TEXT:
        raise GirderError("not_a_number", _like(f"{text[:20]}…", "is too long for a number with a unit", kind))
    figures = _plain_fractions(text or "")
    parts = _parts(figures) if kind in _BY_PARTS else ()
    if len(parts) > 1:
        return _added(text, [_one(part, text, kind, None, own) for part in parts], kind)
    return _one(figures, text, kind, default_unit, own)[0]


_BY_PARTS = (Kind.LENGTH, Kind.MASS, Kind.TIME)


def _plain_fractions(text: str) -> str:
    """The same with "½" as " 1/2"."""
    signs = (unicodedata.normalize("NFKC", sign) if unicodedata.category(sign) == "No" else sign for sign in text)
    return "".join(f" {sign.replace('⁄', '/')}" if "⁄" in sign and len(sign) > 1 else sign for sign in signs)


def _parts(text: str) -> tuple[str, ...]:
    """Figures with their units, one by one; none where the text is not made of such."""
    found, at = [], 0
    while at < len(text.rstrip()):
        match = _PART.match(text, at)
        if match is None:
            return ()
        found.append(f"{match[1]} {match[2]}")
        at = match.end()
    return tuple(found)


def _added(text: str, parts: Sequence[tuple[TypedValue, float]], kind: Kind) -> TypedValue:
    """Several figures with their units as one value, in the first one's unit."""
    for (_, size), (later, smaller) in pairwise(parts):
        if smaller >= size or later.si >= size:
            raise GirderError("not_a_number", _like(text, "does not go from larger to smaller units", kind), text=text)
    total = math.fsum(part.si for part, _ in parts)
    first, size = parts[0]
    return TypedValue(text, total / size, first.unit, total)


def _one(
    figure: str, text: str, kind: Kind, default_unit: str | None, own: Mapping[str, float] | None
) -> tuple[TypedValue, float]:
    """One figure with its unit, and the size of that unit [SI]."""
    match = _NUMBER.match(figure)
    if match is None:
        raise GirderError("not_a_number", _like(text, "is not a number with a unit", kind), text=text)
    unit = match["unit"] or ("" if kind is Kind.COUNT else default_unit)
    if unit is None:
        raise GirderError("unit_missing", _like(text, "has no unit", kind), text=text)
    if _AMBIGUOUS_COMMA.match(match["decimal"] or ""):
        raise GirderError(
            "ambiguous_comma",
            f"“{text}” could be a thousand or a decimal. Leave the comma out, or use a point for decimals.",
            text=text,
        )
    value = _number(match)
    if value and not LEAST <= abs(value) <= MOST:
        raise GirderError("out_of_all_range", f"“{text[:20]}” is no value that is measured here. Check the figure.")
    for own_name, size in (own or {}).items():
        if unit.strip().lower() in (own_name, f"{own_name}s"):
            return TypedValue(text, float(value), own_name, float(value) * size), size
    name = _unit_name(unit, kind)
    if kind is Kind.COUNT and value.denominator != 1:
        raise GirderError("not_whole", f"“{text}” is a count; give a whole number.", text=text)
    one = _size(name, kind)
    si = float(Decimal(value.numerator) / Decimal(value.denominator) * one)
    return TypedValue(text, float(value), _SYMBOL[name], si), float(one)


_EXAMPLE = {Kind.LENGTH: "36 cm", Kind.MASS: "38 g", Kind.TIME: "25 s", Kind.COUNT: "12", Kind.FREQUENCY: "1.4 Hz",
            Kind.AREA: "412 cm²", Kind.VOLUME: "650 cm³"}  # fmt: skip


def _like(text: str, wrong: str, kind: Kind) -> str:
    return f"“{text}” {wrong}. Type it like {_EXAMPLE[kind]}."


_FORCES = dict.fromkeys(["n", "newton"], 1 / GRAVITY_M_S2) | {"kn": 1000 / GRAVITY_M_S2}


def parse_load(text: str) -> TypedValue:
    """Read a load, typed as a mass or as the force that a gauge shows.

    Args:
        text: what was typed: "1.2 kg", "12 N".
    Returns:
        The typed value; its SI value is a mass, for a force the one that weighs as much [kg].
    Errors:
        As ``parse`` for a mass.
    Source:
        Standard gravity, 9.80665 m/s² (3rd CGPM, 1901).
    """
    return parse(text, Kind.MASS, own=_FORCES)


def _number(match: re.Match[str]) -> Fraction:
    denominator = match["den"] or match["only_den"]
    if denominator is not None:
        if int(denominator) == 0:
            raise GirderError("not_a_number", "A fraction cannot have zero below the line.")
        value = Fraction(int(match["num"] or match["only_num"]), int(denominator)) + int(match["whole"] or 0)
    else:
        value = Fraction(re.sub(r"[\s\u00a0\u202f]", "", match["decimal"]).replace(",", "."))
    return -value if match["sign"] in ("-", "−") else value


_reader: ContextVar[Callable[[], System]] = ContextVar("reader", default=lambda: System.METRIC)


def reader() -> System:
    """The units of whoever reads what is said here and now; metric where nobody is known.

    Returns:
        The system that the innermost ``read_in`` asks for.
    """
    return _reader.get()()


@contextmanager
def read_in(system: Callable[[], System]) -> Iterator[None]:
    """Until it ends, sentences are for a reader of these units: refusals too, deep down where nobody knows the reader.

    Args:
        system: asked when the first figure is written, and not before.
    Returns:
        A context; sentences made within it follow the reader.
    """
    before = _reader.set(system)
    try:
        yield
    finally:
        _reader.reset(before)


_SHARES = (1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 4, 8)


def near_step(step: float, kind: Kind, system: System | None = None) -> float:
    """A step that is round in the reader's units.

    Args:
        step: one that is round in metric units [SI unit of its kind].
        kind: what it is a step of.
        system: which units the reader wants; without it those of ``reader``.
    Returns:
        In US units the nearest common share of an inch or ounce that is not much smaller, of lengths and masses [SI].
    """
    if (system or reader()) is System.METRIC or not step or kind not in (Kind.LENGTH, Kind.MASS):
        return step
    unit = si_per("in" if kind is Kind.LENGTH else "oz", kind)
    return unit * next((share for share in _SHARES if share * unit >= 0.6 * step), _SHARES[-1])


def format_mass(mass_kg: float, system: System | None = None) -> str:
    """A mass in words for a sentence.

    Args:
        mass_kg: the mass [kg].
        system: which units the reader wants; without it those of ``reader``.
    Returns:
        Grams below one kilogram and kilograms above; ounces below one pound and pounds above.
    """
    if (system or reader()) is System.US:
        pounds = mass_kg / si_per("lb", Kind.MASS)
        return f"{pounds:.2f} lb" if abs(pounds) >= 1 else f"{mass_kg / si_per('oz', Kind.MASS):.2f} oz"
    return f"{mass_kg:.3f} kg" if abs(mass_kg) >= 1 else f"{_trim(mass_kg * 1000)} g"


def format_about(mass_kg: float, system: System | None = None) -> str:
    """An expected mass in words: two figures, because an estimate deserves no more.

    Args:
        mass_kg: the mass [kg].
        system: which units the reader wants; without it those of ``reader``.
    Returns:
        Such as "450 g" or "1.2 kg".
    """
    rounded = two_figures(mass_kg)
    if rounded >= 1 and (system or reader()) is not System.US:
        return f"{rounded:.3g} kg"
    return format_mass(rounded, system)


def format_length(length_m: float, system: System | None = None) -> str:
    """A length in words for a sentence.

    Args:
        length_m: the length [m].
        system: which units the reader wants; without it those of ``reader``.
    Returns:
        Millimetres below one metre and metres above, to the millimetre; inches to two decimals, and from three feet on
        feet and inches.
    """
    if (system or reader()) is System.US:
        inches = length_m / si_per("in", Kind.LENGTH)
        feet, rest = divmod(round(abs(inches), 2), 12)
        if feet < 3:
            return f"{inches:.2f} in"
        sign = "-" if inches < 0 else ""
        return f"{sign}{feet:.0f} ft {rest:.2f}".rstrip("0").rstrip(".") + " in" if rest else f"{sign}{feet:.0f} ft"
    if abs(length_m) >= 1:
        return f"{length_m:,.3f}".replace(",", " ").rstrip("0").rstrip(".") + " m"
    return f"{_trim(length_m * 1000)} mm"


_POWERS = {Kind.AREA: ("cm²", "in²"), Kind.VOLUME: ("cm³", "in³")}


def format_power(value: float, kind: Kind, system: System | None = None) -> str:
    """An area or a volume in words for a sentence.

    Args:
        value: the area [m²] or the volume [m³].
        kind: which of both.
        system: which units the reader wants; without it those of ``reader``.
    Returns:
        Three figures in square or cubic centimetres or inches; a litre and more in litres.
    """
    system = system or reader()
    unit = _POWERS[kind][system is System.US]
    if kind is Kind.VOLUME and system is System.METRIC and value >= 0.001:
        unit = "L"
    size = value / si_per(unit, kind)
    return f"{float(f'{size:.3g}'):,g} {unit}".replace(",", " ")


def format_value(value: float, kind: Kind, system: System | None = None) -> str:
    """A value of any kind in words for a sentence.

    Args:
        value: the value in the SI unit of its kind [m, kg, s, Hz, m², m³ or -].
        kind: what it measures.
        system: which units the reader wants; without it those of ``reader``.
    Returns:
        The figure with its unit; a count is the bare figure; times of two minutes and more that are whole minutes
        are in minutes.
    """
    if kind is Kind.MASS:
        return format_mass(value, system)
    if kind is Kind.LENGTH:
        return format_length(value, system)
    if kind in _POWERS:
        return format_power(value, kind, system)
    if kind is Kind.TIME:
        return f"{value / 60:g} min" if value >= 120 and value % 60 == 0 else f"{value:g} s"
    return f"{value:g} Hz" if kind is Kind.FREQUENCY else f"{value:g}"


def typed_text(value: float, kind: Kind, system: System | None = None) -> str:
    """A value as a teacher could have typed it, for a field that can be edited.

    Args:
        value: the value in the SI unit of its kind [m, kg, s, Hz or -].
        kind: what it measures.
        system: which units the teacher types; without it those of ``reader``.
    Returns:
        A text that ``parse`` reads back as the value, to within a part in 10⁶; US lengths and masses to four
        decimals, because a proposal in inches is a round figure already.
    """
    system = system or reader()
    if kind in (Kind.TIME, Kind.COUNT, Kind.FREQUENCY):
        return f"{Decimal(f'{value:.7g}'):f} {_SYMBOL[_SI_NAME[kind]]}".strip()
    if kind in _POWERS:
        unit = _POWERS[kind][system is System.US]
        return f"{Decimal(f'{value / si_per(unit, kind):.7g}'):f} {unit}"
    if system is System.US:
        unit = "in" if kind is Kind.LENGTH else "lb" if value >= si_per("lb", Kind.MASS) else "oz"
        return f"{Decimal(f'{value / si_per(unit, kind):.4f}').normalize():f} {unit}"
    if kind is Kind.LENGTH:
        return f"{Decimal(f'{value * 1000:.7g}'):f} mm" if value < 10 else f"{Decimal(f'{value:.7g}'):f} m"
    return f"{Decimal(f'{value:.7g}'):f} kg" if value >= 1 else f"{Decimal(f'{value * 1000:.7g}'):f} g"


def _trim(value: float) -> str:
    return f"{value:,.1f}".replace(",", " ").removesuffix(".0")


def sentences(*said: str) -> str:
    """Sentences one after the other.

    Args:
        said: the sentences; empty ones are left out.
    Returns:
        One text.
    """
    return " ".join(sentence for sentence in said if sentence)


def times_in_ten(chance: float) -> str:
    """A chance as everybody says it.

    Args:
        chance: from 0 to 1 [-].
    Returns:
        Such as "about 6 times in 10".
    """
    if chance >= 0.99:
        return "nearly always"
    if chance >= 0.95:
        return "more than 9 times in 10"
    if chance < 0.05:
        return "hardly ever"
    times = max(1, round(10 * chance))
    return "about once in 10 times" if times == 1 else f"about {times} times in 10"


def plural(noun: str, count: float = 2) -> str:
    """A thing that is counted, in the number that plain English gives it.

    Args:
        noun: its name; what comes after a comma stays: "nut, M12".
        count: how many there are.
    Returns:
        "nut, M12" of one; of any other number, none too, "nuts, M12", "boxes", "pennies", "trays".
    Source: common practice, no source.
    """
    if count == 1:
        return noun
    head, comma, rest = noun.partition(",")
    if re.search(r"[^aeiou]y$", head):
        head = f"{head[:-1]}ies"
    else:
        head += "es" if re.search(r"(s|x|z|ch|sh)$", head) else "s"
    return head + comma + rest
