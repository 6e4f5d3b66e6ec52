"""What a size that was measured in a picture is in words: how far off it may be, why, and what would make it better."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np

from girder_core.ground import two_figures
from girder_core.measure import COVERAGE_FACTOR, Kind, Quantity, System, si_per, typed_text
from girder_core.photo.fitting import see
from girder_core.photo.frame import Frame, Seen
from girder_core.photo.lens import Lens
from girder_core.photo.motion import Shaken, Way
from girder_core.photo.sizes import UNMEASURED, Pointed, Size, size_of, with_another_card, with_lens_known
from girder_core.photo.view import View

CAUSES = {
    "marks": "how well the card’s marks were seen",
    "lens": "how well the lens is known",
    "print": "how large the card came out of the printer",
    "plane": "in which plane the edges lie",
    "pointing": "how well the ends were pointed at",
    "followed": "how well the point was followed",
    "still": "how well it is known what the tablet did",
}
"""What a size may be off by, in words."""
WORTH = 0.8
"""Another card, and a calibrated lens, are spoken of where they make the range narrower than this share of it [-];
ours."""
MOVED_PX = 15.0
"""So far the marks may go from one picture to the next without a word about it [px]; ours."""
_LONGEST_TEXT = 400


def typed_as(view: View, pointed: Pointed, size: Size, kind: Kind, printed: Quantity, system: System) -> str:
    """A size as somebody would have typed it who measured it by hand.

    Args:
        view: where the camera stood.
        pointed: what was pointed at.
        size: what it came to.
        kind: a length or an area.
        printed: how large the cards came out of the printer [-].
        system: the reader's units.
    Returns:
        A length; the corners of an area, or where they are too many for a field, or of several outlines, the area.
    """
    if kind is not Kind.AREA or len(pointed.outlines) > 1:
        return _rounded(size.quantity, kind, system)
    at = view.points(np.array(pointed.points), pointed.plane_m.value / printed.value) * printed.value
    unit = "in" if system is System.US else "mm"
    near = (at - at.min(axis=0)) / si_per(unit, Kind.LENGTH)
    text = "corners " + ", ".join(f"{x:.2f} {y:.2f}" for x, y in near) + f" {unit}"
    return text if len(text) <= _LONGEST_TEXT and len(near) <= 40 else _rounded(size.quantity, kind, system)


def plainly_typed(size: Size, kind: Kind, system: System | None = None) -> tuple[str, str]:
    """A size as the bench writes it down.

    Args:
        size: it.
        kind: a length or an area.
        system: the reader's units.
    Returns:
        The value, and the step of a ruler that would leave as much open.
    """
    return _rounded(size.quantity, kind, system), typed_text(tape_step_m(size, kind), Kind.LENGTH, system)


_WHITHER = {Way.DOWN: ("down", "up"), Way.ASIDE: ("to the right", "to the left")}


def went_told(size: Size, way: Way, system: System | None = None) -> str:
    """How far a point went, and whither, in few words.

    Args:
        size: as ``shifted`` has it, with a minus for up or to the left.
        way: in which direction it was measured.
        system: the reader's units.
    Returns:
        Such as "4.7 mm down, ± 0.1 mm"; whither is left out where that is not known.
    """
    off = COVERAGE_FACTOR * size.quantity.standard_uncertainty
    far = abs(size.quantity.value)
    whither = f" {_WHITHER[way][size.quantity.value < 0]}" if far > off else ""
    said = _rounded(Quantity(far, size.quantity.standard_uncertainty), Kind.LENGTH, system)
    return f"{said}{whither}, ± {_about(off, Kind.LENGTH, system)}"


def went_typed(size: Size, way: Way, system: System | None = None) -> tuple[str, str]:
    """A motion as somebody would have typed it at the bench who read it off a ruler.

    Args:
        size: as ``shifted`` has it.
        way: in which direction it was measured.
        system: the reader's units.
    Returns:
        The length, and the step of a ruler that would leave as much open.
    """
    return plainly_typed(went_as(size, way), Kind.LENGTH, system)


def moved_told(shaken: Shaken) -> str:
    """Whether the tablet moved between two pictures, in words.

    Args:
        shaken: what it did.
    Returns:
        A sentence; empty where it stood as still as one can ask.
    """
    if shaken.moved_px <= MOVED_PX:
        return ""
    return (
        "The tablet moved between the two pictures. That is allowed for, and would be known better if it stood still."
    )


def went_as(size: Size, way: Way) -> Size:
    """A motion as the bench writes it down, which knows no minus.

    Args:
        size: as ``shifted`` has it.
        way: in which direction it was measured.
    Returns:
        How far it came down, nothing where it rose; or how far it went aside, to either hand.
    """
    value = max(0.0, size.quantity.value) if way is Way.DOWN else abs(size.quantity.value)
    return Size(Quantity(value, size.quantity.standard_uncertainty), size.parts)


def _rounded(quantity: Quantity, kind: Kind, system: System | None) -> str:
    """No more digits than a tenth of the uncertainty bears."""
    step = 10 ** np.floor(np.log10(max(quantity.standard_uncertainty, 1e-9 + 1e-6 * quantity.value) / 3))
    return typed_text(round(quantity.value / step) * step, kind, system)


def _about(off: float, kind: Kind, system: System | None) -> str:
    return typed_text(two_figures(off), kind, system)


def size_told(size: Size, kind: Kind, system: System | None = None) -> str:
    """A size with how far off it may be, in few words.

    Args:
        size: it.
        kind: a length or an area.
        system: the reader's units.
    Returns:
        Such as "537.2 mm ± 1.8 mm".
    """
    off = COVERAGE_FACTOR * size.quantity.standard_uncertainty
    return f"{_rounded(size.quantity, kind, system)} ± {_about(off, kind, system)}"


def doubt_told(view: View, size: Size, kind: Kind, printed: Quantity, system: System | None = None) -> str:
    """How far off a size may be, mostly why, and what to do where nobody measured how large the cards are.

    Args:
        view: where the camera stood.
        size: what was measured.
        kind: a length or an area.
        printed: how large the cards came out of the printer [-].
        system: the reader's units.
    Returns:
        A sentence or two.
    """
    off = COVERAGE_FACTOR * size.quantity.standard_uncertainty
    said = f"Known to ± {_about(off, kind, system)}, mostly by {CAUSES[size.chief]}."
    if printed != UNMEASURED:
        return said
    return f"{said} Measure the bar of set {view.set_number} once, and it is known better."


def causes_told(parts: Mapping[str, float], kind: Kind, system: System | None = None) -> str:
    """What each cause leaves open of a size.

    Args:
        parts: standard uncertainties by cause [SI]; nothing for what was not measured in a picture.
        kind: a length or an area.
        system: the reader's units.
    Returns:
        A sentence, the chief cause first; empty for no parts.
    """
    chief = sorted(((part, cause) for cause, part in parts.items() if part > 0 and cause in CAUSES), reverse=True)
    said = [f"± {_about(COVERAGE_FACTOR * part, kind, system)} by {CAUSES[cause]}" for part, cause in chief]
    return f"{'; '.join(said)}." if said else ""


def better_told(
    view: View, marks: Sequence[Seen], frame: Frame, pointed: Pointed, kind: Kind, printed: Quantity,
    system: System | None = None,
) -> str:  # fmt: skip
    """What more cards and a calibrated lens bring, or brought.

    Args:
        view: where the camera stood.
        marks: what was seen.
        frame: the picture.
        pointed: what was pointed at.
        kind: a length or an area.
        printed: how large the cards came out of the printer [-].
        system: the reader's units.
    Returns:
        Sentences: how much narrower the range is for the cards that lie there beside the first, and for the lens; and
        would be with one more card or with the lens calibrated, whichever brings more. Each is left out where that is
        hardly anything.
    """
    size = size_of(view, pointed, kind, printed)

    def about(other: Size) -> str:
        return f"± {_about(COVERAGE_FACTOR * other.quantity.standard_uncertainty, kind, system)}"

    could: list[tuple[Size, str]] = []
    said = []
    if len(view.cards) > 1:
        first = {mark.id for mark in view.cards[0].marks}
        alone = size_of(see([mark for mark in marks if mark.id in first], frame, view.lens), pointed, kind, printed)
        if _narrower(size, alone):
            said.append(f"With the {view.cards[0].name} alone it would be {about(alone)}.")
    elif (more := with_another_card(view, pointed, kind, printed)) is not None:
        could.append((more, "With a second card near the far end it would be {}."))
    if view.lens is not None:
        anybodys = size_of(see(marks, frame), pointed, kind, printed)
        if _narrower(size, anybodys):
            said.append(f"Had this tablet’s lens not been calibrated, it would be {about(anybodys)}.")
    elif not view.through_another:
        known = with_lens_known(view, pointed, kind, printed)
        could.append((known, "With this tablet’s lens calibrated it would be about {}."))
    best = min(could, key=lambda one: one[0].quantity.standard_uncertainty, default=None)
    if best is not None and _narrower(best[0], size):
        said.append(best[1].format(about(best[0])))
    return " ".join(said)


def _narrower(one: Size, other: Size) -> bool:
    """Whether the first range is so much narrower than the second that it is worth a word."""
    return one.quantity.standard_uncertainty <= WORTH * other.quantity.standard_uncertainty


def lens_told(lens: Lens) -> str:
    """What was found of a lens, in a sentence.

    Args:
        lens: it.
    Returns:
        How it bends lines at the corners of a picture, and how well that is known.
    """
    bend, off = sum(lens.known[1:]), math.sqrt(float(np.array(lens.covariance)[1:, 1:].sum()))
    off = max(0.0001, COVERAGE_FACTOR * off)
    return f"It moves the corners of a picture by {abs(bend):.2%} ± {off:.2%} {'inwards' if bend > 0 else 'outwards'}."


def tape_step_m(size: Size, kind: Kind) -> float:
    """The step of a ruler that would leave as much open.

    Args:
        size: it.
        kind: a length or an area.
    Returns:
        The step, to two figures [m].
    Source:
        JCGM 100:2008, F.2.2.1: a step leaves a standard uncertainty of step / √12.
    """
    off = size.quantity.standard_uncertainty
    if kind is Kind.AREA:
        # As if the side of a square of that area had been read.
        off = off / (2 * max(1e-9, size.quantity.value) ** 0.5)
    return two_figures(max(1e-5, off * 12**0.5))
