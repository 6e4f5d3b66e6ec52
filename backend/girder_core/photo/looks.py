"""What a picture is good for: why it cannot be measured in, or what is worth knowing before one does."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.measure import plural
from girder_core.photo.cards import Card, cards_seen
from girder_core.photo.fitting import see
from girder_core.photo.frame import Array, Frame, Seen
from girder_core.photo.lens import Lens
from girder_core.photo.view import View

LEAST_PX = 640
"""A picture's longer side has so many pixels at least [px]; ours."""
PANORAMA = 2.4
"""A picture so much longer than high was put together from several [-]; ours: cameras' own end at 21:9."""
DARK = 0.16
"""A picture whose brightest parts are darker than this, of 1, was taken in the dark [-]; ours."""
BLURRED = 0.2
"""Where the steepest edges take more than five pixels, a card that is not found may be there [-]; ours."""
SCREEN_STEPS = 0.6
"""A fine regular pattern on white paper, so many of 255 steps of brightness high or more, is a screen's [-]; ours, from
made-up pictures: paper shows 0.1 at most."""
SMALL_MARK_PX = 18.0
"""Marks smaller than this are read by luck [px]; ours."""


class Hidden(StrEnum):
    """Why a mark of a card was not read."""

    CUT = "cut"
    GLARE = "glare"
    BLURRED = "blurred"
    COVERED = "covered"


_WHY = {
    Hidden.CUT: "beyond the edge of the picture",
    Hidden.GLARE: "in a glare",
    Hidden.BLURRED: "blurred",
    Hidden.COVERED: "covered by something",
}


@dataclass(frozen=True)
class Look:
    """What was found in a picture, before anybody judged it.

    Attributes:
        frame: the picture.
        marks: those that were read, of whatever card.
        bright: how bright its brightest parts are, 0 to 1.
        sharp: the steepest change from one pixel to the next, as a share of the contrast there, 0 to 1.
        mirrored: whether marks can be read in its mirror image alone.
        screen_steps: how high the finest regular pattern on a card's white paper is, of 255 [-].
        hidden: why marks of the cards that were seen were not read, by their ids.
        segments: straight edges, (x, y, x, y) [px].
    """

    frame: Frame
    marks: tuple[Seen, ...] = ()
    bright: float = 1.0
    sharp: float = 1.0
    mirrored: bool = False
    screen_steps: float = 0.0
    hidden: Mapping[int, Hidden] = field(default_factory=dict)
    segments: tuple[tuple[float, float, float, float], ...] = ()


def judged(look: Look, lens: Lens | None = None) -> View:
    """The view that a picture gives.

    Args:
        look: what was found in it.
        lens: the tablet's, where it was calibrated.
    Returns:
        Where the camera stood.
    Errors:
        ``picture_small``, ``picture_panorama``, ``picture_mirrored``, ``picture_dark``, ``picture_blurred``,
        ``no_card``; those of ``see``.
    """
    wide, tall = look.frame.width_px, look.frame.height_px
    if max(wide, tall) < LEAST_PX:
        raise _refused("picture_small", wide=wide, tall=tall, least=LEAST_PX)
    if max(wide, tall) > PANORAMA * min(wide, tall):
        raise _refused("picture_panorama")
    if not cards_seen(mark.id for mark in look.marks):
        raise _refused(_none_found(look))
    return see(look.marks, look.frame, lens)


def taken_as_it_is(look: Look, days_ago: int | None = None, taken: str = "", confirmed: bool = False) -> None:
    """Ask about a picture that may not be of what stands there now.

    Args:
        look: what was found in it.
        days_ago: how many days before today the camera says that it was taken [-]; None where it says nothing.
        taken: that day in words.
        confirmed: true where the teacher was asked and says that it is right.
    Returns:
        Nothing: it is taken.
    Errors:
        ``picture_of_screen``, ``picture_old`` (ask), in one sentence after the other where both are so.
    """
    doubts = ["picture_of_screen"] if look.screen_steps > SCREEN_STEPS else []
    doubts += ["picture_old"] if days_ago else []
    if doubts and not confirmed:
        sentence = " ".join(_SENTENCES[doubt].format(taken=taken) for doubt in doubts)
        raise NeedsConfirmation(doubts[0], sentence, fields={"photo": sentence})


_SENTENCES = {
    "picture_small": "That picture has {wide} × {tall} pixels; its longer side needs {least} at least. Send it as the "
    "camera took it.",
    "picture_panorama": "That picture was put together from several, so straight lines are bent in it. Take a single "
    "one, from farther away.",
    "picture_mirrored": "This picture is mirrored, as some front cameras take them. Use the camera at the back.",
    "picture_dark": "It is too dark in this picture to read a card. Put a light on, or use the flash.",
    "picture_blurred": "This picture is blurred. Hold the tablet still, touch the card on its screen so that it is "
    "sharp, and take it again.",
    "no_card": "No scale card was found in this picture. One has to lie or stand where you measure: whole, flat, "
    "without the edge of a shadow across it, and not smaller than a tenth of the picture.",
    "picture_of_screen": "This looks like a picture of a screen, where nothing has its own size. Photograph the thing "
    "itself, or say that it is one.",
    "picture_old": "The camera says that this picture was taken on {taken}, not today. Is it of this design as it "
    "stands now?",
}


def _none_found(look: Look) -> str:
    if look.mirrored:
        return "picture_mirrored"
    if look.bright < DARK:
        return "picture_dark"
    return "picture_blurred" if look.sharp < BLURRED else "no_card"


def _refused(code: str, **values: object) -> GirderError:
    sentence = _SENTENCES[code].format(**values)
    return GirderError(code, sentence, fields={"photo": sentence})


def notes_on(look: Look, view: View) -> tuple[str, ...]:
    """What is worth knowing before one measures in a picture.

    Args:
        look: what was found in it.
        view: what that gave.
    Returns:
        Sentences; none for a picture that is as good as it can be.
    """
    notes = []
    seen = cards_seen(mark.id for mark in look.marks)
    for card in view.cards:
        missing = [mark.id for mark in card.marks if mark.id not in seen.get(card, ()) or mark.id in view.left_out]
        if missing:
            notes.append(_partly(card, missing, look.hidden))
    if view.through_another:
        notes.append(
            "This tablet’s lens was calibrated, but this picture was not taken through it as it was then: by another "
            "camera, zoomed, or cut. It is measured in as through anybody’s."
        )
    smallest = min(_side_px(mark) for mark in look.marks)
    if smallest < SMALL_MARK_PX:
        notes.append("The card is small in this picture. From nearer by, the measure is better.")
    if view.tilt_rad > 0.9:
        notes.append("The card is seen from far aside. Stand more squarely in front of it, and the measure is better.")
    return tuple(notes)


def _partly(card: Card, missing: Sequence[int], hidden: Mapping[int, Hidden]) -> str:
    whys = {_WHY[hidden.get(id_, Hidden.COVERED)] for id_ in missing}
    n = len(missing)
    return (
        f"{n} of the {len(card.marks)} {plural('mark', len(card.marks))} of the {card.name} "
        f"{'is' if n == 1 else 'are'} {' or '.join(sorted(whys))}. It does without, and would be better with "
        f"{'it' if n == 1 else 'them'}."
    )


def _side_px(mark: Seen) -> float:
    corners = np.array(mark.corners)
    return float(np.hypot(*np.diff(corners, axis=0).T).mean())


def unread(view: View) -> dict[int, Array]:
    """The marks of a view's cards that were not read, each with the corners where it should be.

    Args:
        view: what those that were read gave.
    Returns:
        By their ids (4, 2) corners [px], which may lie outside the picture.
    """
    read = set(view.read)
    return {
        mark.id: view.pixels(view.on_plane(i, np.array(mark.corners)))
        for i, card in enumerate(view.cards)
        for mark in card.marks
        if mark.id not in read
    }
