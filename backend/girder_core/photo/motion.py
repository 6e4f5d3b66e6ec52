"""How far something came down or went aside from one picture to a later one, and how well that is known.

The cards stay where they are, so whatever their marks did in between is the camera's doing; what a point of the
structure did besides is its own. Most of what a view is unsure of is the same in both pictures and falls out.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from scipy.optimize import approx_fprime, least_squares

from girder_core.ground import GirderError
from girder_core.measure import Quantity
from girder_core.photo.fitting import NOISE_COUNTS, NOISE_PX, see
from girder_core.photo.frame import Array, Seen
from girder_core.photo.sizes import IN_PLANE, UNMEASURED, Size, slopes_of, steepness_checked
from girder_core.photo.view import LENS, View, columns_of, pinhole, straight

STILL, WAVED = 1e-4, 0.2
"""A tablet that stands still moves at least so much and one in hands at most: turns [rad], ways as a share of how far
away the cards are [-]; ours."""
_SCALES = 8
"""Between the two, so many sizes of its motion are thought possible, each as likely as the others."""
SHIFTED = 5.0
"""Marks that fit the motion of no camera, by so many times what they are usually off: a card was moved [-]; ours."""
_SHIFTED_PX = 0.5
"""No motion of a card that is smaller than this is told from noise [px]; ours."""
LEAST_MARKS = 2
TURNED_RAD = math.radians(50)
"""A card that looks turned by more does not stand upright [rad]; from far aside an upright one looks turned, too."""


class Way(StrEnum):
    """In which direction a motion is measured: down, or aside to either hand."""

    DOWN = "down"
    ASIDE = "aside"


@dataclass(frozen=True)
class Followed:
    """A point of a structure in two pictures.

    Attributes:
        before, after: where it was and is (x, y) [px].
        spread: covariance of where it is now against where it was ((xx, xy), (xy, yy)) [px²].
    """

    before: tuple[float, float]
    after: tuple[float, float]
    spread: tuple[tuple[float, float], tuple[float, float]]


@dataclass(frozen=True, eq=False)
class Shaken:
    """What a camera did between two pictures.

    Attributes:
        by: its turn and place now less those before, as the first six of ``View.known``.
        spread: what these may be off by: columns, each independent of the others.
        moved_px: how far the marks went on the whole [px].
        instead: what they would be if the first view were another: where it is off, so are they, and most falls out.
    """

    by: Array
    spread: Array
    moved_px: float
    instead: Callable[[Array], Array]

    def still_at(self, view: View, pixel: Array) -> Array:
        """Where a point that had not moved of itself would be in the later picture [px]; (2,) of the first, in the
        plane of the cards."""
        known = view.known.copy()
        known[:LENS] += self.by
        at: Array = replace(view, known=known).pixels(view.points(pixel[None]))[0]
        return at


def camera_moved(view: View, before: Sequence[Seen], after: Sequence[Seen]) -> Shaken:
    """What the camera did between two pictures, from the marks of the cards, which stayed where they were.

    How much a tablet may have moved is not known beforehand: from standing still to being held by hand, every size is
    tried, and counts by how well it explains the marks.

    Args:
        view: what the first picture gave.
        before: its marks.
        after: those of the later picture, of the same size.
    Returns:
        The motion.
    Errors:
        ``cards_gone`` where fewer than two marks are in both; ``card_moved`` where no camera's motion explains them;
        those of ``see`` for the later picture.
    Source:
        Gelman et al. (2013), Bayesian Data Analysis, 5.3 and 13.3: averaging over a scale, by Laplace's approximation.
    """
    later = see(after, view.frame, view.lens)
    now = {mark.id: np.array(mark.corners) for mark in after if mark.id not in later.left_out}
    both = [mark for mark in before if mark.id in view.read and mark.id not in view.left_out and mark.id in now]
    if len(both) < LEAST_MARKS:
        raise GirderError(
            "cards_gone", "The card of the first picture is not in this one. Nothing may be moved between the two."
        )
    then = np.array([mark.corners for mark in both]).reshape(-1, 2)
    gone = np.array([now[mark.id] for mark in both]).reshape(-1, 2) - then
    theta = view.known

    def against(known: Array) -> Callable[[Array], Array]:
        """How far the marks are from where a motion puts them, if this were the first view."""
        places = np.column_stack([view.points(then, known=known), np.zeros(len(then))])
        seen = straight(then + gone, known, view.frame) - straight(then, known, view.frame)
        due = pinhole(places, known, view.start) + seen

        def off(by: Array) -> Array:
            moved = known.copy()
            moved[:LENS] += by
            return (pinhole(places, moved, view.start) - due).ravel()

        return off

    off = against(theta)
    noise = math.sqrt(2) * NOISE_PX
    tried = _tried(off, noise)
    # What is off in both pictures alike falls out, so the noise is what differs.
    free, left = max(1, gone.size - LENS), off(max(tried, key=lambda one: one[0])[1])
    noise = math.sqrt((NOISE_COUNTS * noise**2 + float((left**2).sum())) / (NOISE_COUNTS + free))
    tried = _tried(off, noise)
    weights = np.exp(np.array([evidence for evidence, _, _ in tried]) - max(evidence for evidence, _, _ in tried))
    weights /= weights.sum()
    by = sum(weight * mean for weight, (_, mean, _) in zip(weights, tried, strict=True))
    covariance = sum(
        weight * (own + np.outer(mean - by, mean - by)) for weight, (_, mean, own) in zip(weights, tried, strict=True)
    )
    by, left = np.asarray(by), off(np.asarray(by))
    worst = float(np.hypot(*left.reshape(-1, 4, 2).mean(axis=1).T).max())
    if worst > max(_SHIFTED_PX, SHIFTED * math.hypot(view.noise_px, later.noise_px)):
        raise GirderError(
            "card_moved",
            "A card was moved between the first picture and this one. Take a new first picture, with nothing on it.",
            off_px=worst,
        )
    answer = covariance @ approx_fprime(by, off, 1e-6).T / noise**2

    def instead(known: Array) -> Array:
        return np.asarray(by - answer @ (against(known)(by) - left))

    return Shaken(by, columns_of(np.asarray(covariance)), float(np.hypot(*gone.mean(axis=0))), instead)


def _tried(off: Callable[[Array], Array], noise: float) -> list[tuple[float, Array, Array]]:
    """The motion at every size that is thought possible, under so much noise [px]."""
    return [_at_scale(lambda by: off(by) / noise, scale) for scale in np.geomspace(STILL, WAVED, _SCALES)]


def _at_scale(off: Callable[[Array], Array], scale: float) -> tuple[float, Array, Array]:
    """How well a motion of this size explains what was seen (a logarithm), the motion, and its covariance."""

    def cost(share: Array) -> Array:
        return np.concatenate([off(share * scale), share])

    done = least_squares(cost, np.zeros(LENS), method="lm", max_nfev=60, ftol=1e-9, xtol=1e-9, gtol=1e-9)
    normal = done.jac.T @ done.jac
    covariance = np.linalg.inv(normal) * scale**2
    return -float(done.cost) - 0.5 * float(np.linalg.slogdet(normal)[1]), done.x * scale, np.asarray(covariance)


def shifted(
    view: View, shaken: Shaken, followed: Followed, way: Way, plane_m: Quantity = IN_PLANE,
    printed: Quantity = UNMEASURED,
) -> Size:  # fmt: skip
    """How far a point came down, or went aside, since the first picture.

    Args:
        view: what the first picture gave.
        shaken: what the camera did since.
        followed: the point.
        way: down along the card, or aside to its right.
        plane_m: how far the point is before the plane of the cards, towards the camera [m].
        printed: how large the cards came out of the printer [-].
    Returns:
        The way that it went [m], with a minus for up, or to the left.
    Errors:
        ``card_lies``, ``card_turned`` where no card stands upright; ``too_steep``.
    Source:
        First-order propagation (JCGM 100:2008, 5.1.2), the correlation of the two pictures kept.
    """
    if view.cards[0].lies:
        raise GirderError(
            "card_lies", "Sag and lean are measured along a card that stands upright. That one lies on the table."
        )
    foot, head = view.pixels(np.array([(0.0, 0.0), (0.0, 0.02)]))
    if math.atan2(abs(head[0] - foot[0]), foot[1] - head[1]) > TURNED_RAD:
        raise GirderError(
            "card_turned",
            "In this picture the card stands on its side or on its head, and what is down is told by it. Stand it "
            "upright, as its words are read, and hold the tablet upright too.",
        )
    steepness_checked(view)
    scale = printed.value
    height = plane_m.value / scale
    before, after = np.array([followed.before]), np.array([followed.after])
    still = np.zeros(LENS)

    def at(known: Array | None = None, by: Array = still, risen: float = 0.0, moved: Array | float = 0.0) -> float:
        theta = view.known if known is None else known
        later = theta.copy()
        later[:LENS] += (shaken.by if known is None else shaken.instead(theta)) + by
        gone = view.points(after + moved, height + risen, later) - view.points(before, height + risen, theta)
        return float(-gone[0, 1] if way is Way.DOWN else gone[0, 0])

    def pushed(by: Array) -> float:
        return at(by=by)

    value = at() * scale
    step = max(1e-4, plane_m.standard_uncertainty / scale)
    values, vectors = np.linalg.eigh(np.array(followed.spread))
    own = [
        (at(moved=0.5 * column) - at(moved=-0.5 * column)) * math.sqrt(max(0.0, size))
        for size, column in zip(values, vectors.T, strict=True)
    ]
    parts = {
        "followed": scale * math.hypot(*own),
        "still": scale * slopes_of(pushed, still, shaken.spread),
        "marks": scale * slopes_of(at, view.known, view.spread),
        "plane": abs(at(risen=step) - at(risen=-step)) / (2 * step) * plane_m.standard_uncertainty,
        "print": abs(value) * printed.standard_uncertainty / scale,
    }
    return Size(Quantity(value, math.sqrt(math.fsum(part**2 for part in parts.values()))), parts)
