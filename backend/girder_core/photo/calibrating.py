"""From several pictures of cards to a tablet's lens, once for all its later pictures.

Each picture was taken through the lens as it was focused then, so its own lens differs a little from the one that is
looked for. What it says of its own, widened by how far that may be, counts with what all the others say, and with what
is known of anybody's lens.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from girder_core.ground import GirderError
from girder_core.measure import plural
from girder_core.photo.fitting import see, through
from girder_core.photo.frame import Array, Frame, Seen
from girder_core.photo.lens import CALIBRATED, FOCUSED, UNLIKELY, Lens, known_before
from girder_core.photo.view import View

LEAST_PICTURES, MOST_PICTURES = 5, 20
TILTED_RAD, FAR_OUT = 0.4, 0.75
"""Some pictures have to be tilted by so much [rad], or they tell no focal length; some marks have to lie so far out, as
a share of the way from the middle to a corner, or they do not tell how lines bend there [-]; ours."""
FOCAL_OPEN, RIM_OPEN = 0.02, 0.004
"""Where the logarithm of the focal length, and what the lens does to the corners, are known to so much, its focusing
leaves as much open; ours [-]."""
_ROUNDS, _SETTLED = 20, 1e-3
"""So many steps at most, until what changes is less than such a share of what is left open [-]; four or five do."""

Picture = tuple[Sequence[Seen], Frame]
"""The marks that were seen in a picture, and the picture."""


@dataclass(frozen=True)
class Calibration:
    """What pictures told of a lens.

    Attributes:
        lens: it; None where there are too few.
        wanted: what a next picture should be, in a sentence; empty where the lens is known well.
    """

    lens: Lens | None
    wanted: str


def calibrated(pictures: Sequence[Picture]) -> Calibration:
    """The lens that pictures of scale cards were taken through.

    Args:
        pictures: at least five for a lens, from different sides.
    Returns:
        The lens, and what is still wanted.
    Errors:
        ``many_pictures`` for more than twenty; ``pictures_differ`` where one was taken by another camera, has another
        shape, or cannot have been taken through the lens of the others; those of ``see``.
    Source:
        Newton's method for what all say together when each picture's own lens, place and cards are integrated out by
        Laplace's approximation (Gelman et al. 2013, Bayesian Data Analysis, 5.6 and 13.3); what pictures of a plane
        tell of a lens is Zhang (2000).
    """
    if len(pictures) > MOST_PICTURES:
        raise GirderError("many_pictures", f"{MOST_PICTURES} pictures are the most.")
    _alike([frame for _, frame in pictures])
    views = [see(marks, frame) for marks, frame in pictures]
    if len(views) < LEAST_PICTURES:
        left = LEAST_PICTURES - len(views)
        return Calibration(None, f"{left} more {plural('picture', left)}. {_wanted(views, pictures)}".rstrip())
    known = _first_said(views)
    frame = views[0].frame
    widened = np.linalg.inv(np.diag(np.square(FOCUSED)))
    beforehand, rest = _beforehand(frame)
    sure = np.linalg.inv(rest)
    for _ in range(_ROUNDS):
        own = _lens(known, np.zeros_like(rest), frame)
        said = [through(own, view, marks).told_of_lens for view, (marks, _) in zip(views, pictures, strict=True)]
        # How the sum of what they leave falls, and how that bends.
        slope = sure @ (beforehand - known) + widened @ sum(his - known for his, _ in said)
        covariance = np.linalg.inv(sure + sum(widened - widened @ left @ widened for _, left in said))
        step = covariance @ slope
        known = known + step
        if (np.abs(step) < _SETTLED * np.sqrt(np.diag(covariance))).all():
            break
    return Calibration(_lens(known, covariance, frame), _wanted(views, pictures) or _more(covariance))


def _alike(frames: Sequence[Frame]) -> None:
    for i, frame in enumerate(frames):
        if not frame.taken_like(frames[0].camera, frames[0].shape):
            raise _differs(i)


def _differs(i: int) -> GirderError:
    return GirderError(
        "pictures_differ",
        f"Picture {i + 1} was not taken as the others were: by another camera or lens, zoomed, or cut. Leave it out.",
        picture=i,
    )


def _lens(known: Array, covariance: Array, frame: Frame) -> Lens:
    focal, one, two = (float(part) for part in known)
    rows = tuple((float(a), float(b), float(c)) for a, b, c in covariance)
    return Lens((focal, one, two), rows, frame.shape, frame.camera)


def _beforehand(frame: Frame) -> tuple[Array, Array]:
    """What is known of anybody's lens, as ``Lens.known`` has it, and the covariance."""
    known, covariance = known_before(frame)
    known[0] -= np.log(frame.long_px)
    return known[:CALIBRATED], covariance[:CALIBRATED, :CALIBRATED]


def _first_said(views: Sequence[View]) -> Array:
    """What pictures say together, each taken for as straight as it is where it was fitted by itself.

    Errors: ``pictures_differ`` for the one that is farthest from what the others say, if that is too far.
    """
    focused = np.diag(np.square(FOCUSED))
    sums, weights = [], []
    for view in views:
        known, covariance = view.told_of_lens
        beforehand, rest = _beforehand(view.frame)
        # What it says without what was known beforehand, widened by its focusing.
        own = np.linalg.inv(covariance) - np.linalg.inv(rest)
        narrower = np.linalg.inv(np.eye(CALIBRATED) + own @ focused)
        weights.append(narrower @ own)
        sums.append(narrower @ (np.linalg.solve(covariance, known) - np.linalg.solve(rest, beforehand)))
    beforehand, rest = _beforehand(views[0].frame)
    whole, said = np.linalg.inv(rest) + sum(weights), np.linalg.solve(rest, beforehand) + sum(sums)
    far = []
    for view, weight, own_sum in zip(views, weights, sums, strict=True):
        known, covariance = view.told_of_lens
        others = np.linalg.inv(whole - weight)
        off = known - others @ (said - own_sum)
        far.append(float(off @ np.linalg.solve(covariance + others + focused, off)))
    if max(far) > UNLIKELY:
        raise _differs(int(np.argmax(far)))
    return np.asarray(np.linalg.solve(whole, said))


def _wanted(views: Sequence[View], pictures: Sequence[Picture]) -> str:
    """What no picture shows yet."""
    tilted = max((view.tilt_rad for view in views), default=0.0)
    far_out = max(
        (float(np.hypot(*(np.array(mark.corners) - frame.middle).T).max()) / frame.half_diagonal_px
         for marks, frame in pictures for mark in marks),
        default=0.0,
    )  # fmt: skip
    if views and tilted < TILTED_RAD:
        return "Take some from aside, from all four sides, with the tablet tilted towards the card."
    if views and far_out < FAR_OUT:
        return "Go nearer, so that the card reaches into the corners of the picture."
    return ""


def _more(covariance: Array) -> str:
    """What would make the lens known better, where that is worth it."""
    if covariance[0, 0] > FOCAL_OPEN**2:
        return "One more from aside, from where none was taken yet, and it is known better."
    if covariance[1:, 1:].sum() > RIM_OPEN**2:
        return "One more with the card in another corner of the picture, and it is known better."
    return ""
