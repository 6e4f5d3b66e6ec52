"""From the marks of cards to the view: where the camera stood, the lens, where each card lies, how well all is known.

All cards lie in one plane, each as it was printed, somewhere in it. Everything is estimated at once, by least squares
with what is known beforehand of cameras as further observations; the inverse of the normal matrix says how well (Triggs
et al. 2000; Hartley and Zisserman 2004, chapters 4, 5 and 8).
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from girder_core.ground import GirderError
from girder_core.photo.cards import Card, cards_seen, set_of
from girder_core.photo.frame import Array, Frame, Seen
from girder_core.photo.lens import FOCAL_SHARE, Lens, known_before
from girder_core.photo.view import CARDS, FOCAL, GROWTH, LENS, MIDDLE, View, pinhole, straight

NOISE_PX, NOISE_COUNTS = 0.07, 6
"""How far off the corner of a mark usually is [px], and how many observations that is worth [-]; ours, from made-up
pictures (docs/photo.md)."""
GROWTH_PX = 0.4
"""How far all marks look larger or smaller than they are: standard deviation [px]; ours."""
OUTLIER = 6.0
"""A mark so many times as far off as the others is left out [-]."""
BENT, BENT_PX = 0.003, 1.0
"""A card whose marks lie so far off a plane, as a share of its size and in pixels, is not flat; ours."""
FIRST_LOOKS = 8
"""Steps after which the better of two first guesses is told [-]."""


@dataclass(frozen=True, eq=False)
class _Fit:
    """What is fitted: corners as printed, the card that each belongs to, where they were seen."""

    frame: Frame
    printed: Array
    outward: Array
    card: NDArray[np.int_]
    seen: Array

    def placed(self, theta: Array) -> Array:
        """The corners in the plane of the first card."""
        printed = self.printed + theta[GROWTH] * self.outward
        flat = np.zeros((len(printed), 3))
        flat[:, :2] = printed
        for i in range(1, 1 + (len(theta) - CARDS) // 3):
            x, y, turn = theta[CARDS + 3 * (i - 1) : CARDS + 3 * i]
            own = self.card == i
            c, s = math.cos(turn), math.sin(turn)
            flat[own, :2] = printed[own] @ np.array([[c, s], [-s, c]]) + (x, y)
        return flat

    def off_px(self, theta: Array, start: Array) -> Array:
        """How far each corner is from where it should be (n, 2) [px]."""
        middle = self.frame.middle + theta[MIDDLE]
        return straight(self.seen, theta, self.frame) - middle - pinhole(self.placed(theta), theta, start)


def see(marks: Sequence[Seen], frame: Frame, lens: Lens | None = None) -> View:
    """Where the camera stood that saw these marks.

    Args:
        marks: those that were found; ids of no card are passed over.
        frame: the picture.
        lens: the tablet's, where it was calibrated; it counts only where this picture can be its own.
    Returns:
        The view, resting on all cards that were seen.
    Errors:
        ``no_card``; ``card_twice`` where one mark was seen twice; ``two_sets`` where cards of two sets are in the
        picture; ``card_bent`` where a card is not flat, or two do not lie in one plane.
    Source:
        Triggs, McLauchlan, Hartley and Fitzgibbon (2000), Bundle adjustment: a modern synthesis; the first guess is the
        direct linear transformation of Hartley and Zisserman (2004), 4.1, and Zhang (2000) for the pose.
    """
    # While somebody moves a point the marks stay, and so does what follows from them.
    anybodys = _seen(tuple(marks), frame)
    if lens is None:
        return anybodys
    if not anybodys.can_be_through(lens):
        return replace(anybodys, through_another=True)
    return _seen(tuple(marks), frame, lens)


@lru_cache(maxsize=32)
def _seen(marks: tuple[Seen, ...], frame: Frame, lens: Lens | None = None) -> View:
    own = _of_one_set(marks)
    _whole(own, frame)
    view = _fitted(own, frame, (), lens)
    off = _off_by_mark(own, view, frame)
    # A mark that something half covers is far off while the others agree.
    usual = max(NOISE_PX, float(np.median(list(off.values()))))
    odd = tuple(sorted(mark for mark, far in off.items() if far > OUTLIER * usual))
    if odd and len(own) - len(odd) >= 3 and 4 * len(odd) <= len(own):
        view = _fitted([mark for mark in own if mark.id not in odd], frame, odd, lens)
        off = _off_by_mark([mark for mark in own if mark.id not in odd], view, frame)
    corners = np.array([mark.corners for mark in own]).reshape(-1, 2)
    size = float(np.ptp(corners, axis=0).max())
    if max(off.values()) > max(BENT_PX, BENT * size):
        sentence = (
            "The card in this picture is not flat, or two cards do not lie in one plane. Stick it to something stiff, "
            "and photograph it again."
            if len(view.cards) == 1
            else "The cards in this picture do not lie in one plane, or one of them is bent. Take away those that do "
            "not stand as what you measure does."
        )
        raise GirderError("card_bent", sentence, off_px=max(off.values()))
    return view


def through(lens: Lens, view: View, marks: Sequence[Seen]) -> View:
    """A view as it is if its picture was taken through this lens, without asking whether it can have been.

    Args:
        lens: it.
        view: what the picture gave without it.
        marks: those that were seen.
    Returns:
        The view, resting on the same marks and the lens.
    """
    fit = _fit([mark for mark in _of_one_set(marks) if mark.id in view.read], view.frame, view.cards)
    before = known_before(view.frame, lens)
    _, theta, covariance = _solved(fit, view.known, view.start, before, view.noise_px)
    return replace(view, known=theta, covariance=covariance, lens=lens)


def _of_one_set(marks: Sequence[Seen]) -> list[Seen]:
    found = cards_seen(mark.id for mark in marks)
    if not found:
        raise GirderError("no_card", "There is no scale card in this picture.")
    known = {id_ for ids in found.values() for id_ in ids}
    own = sorted((mark for mark in marks if mark.id in known), key=lambda mark: mark.id)
    twice = {mark.id for i, mark in enumerate(own) if i and own[i - 1].id == mark.id}
    if twice:
        name = next(card.name for card, ids in found.items() if twice & set(ids))
        raise GirderError("card_twice", f"The {name} is in this picture twice. Take one of the two away.")
    numbers = sorted({number for ids in found.values() if (number := set_of(ids[0])) is not None})
    if len(numbers) > 1:
        raise GirderError(
            "two_sets",
            f"Cards of two sets are in this picture: set {numbers[0]} and set {numbers[1]}. Leave those of one.",
            sets=numbers,
        )
    return own


def _whole(marks: Sequence[Seen], frame: Frame) -> None:
    """Refuses corners that no picture shows: outside of it, or of no shape."""
    corners = np.array([mark.corners for mark in marks], dtype=float)
    edges = np.roll(corners, -1, axis=1) - corners
    turns = edges[:, :, 0] * np.roll(edges, -1, axis=1)[:, :, 1] - edges[:, :, 1] * np.roll(edges, -1, axis=1)[:, :, 0]
    far = np.abs(corners - frame.middle).max()
    if not (np.isfinite(corners).all() and far < 2 * frame.half_diagonal_px and (turns > 1).all()):
        raise GirderError("no_card", "The marks of that card have no sensible shape.")


def _off_by_mark(marks: Sequence[Seen], view: View, frame: Frame) -> dict[int, float]:
    fit = _fit(marks, frame, view.cards)
    off = np.hypot(*fit.off_px(view.known, view.start).T).reshape(-1, 4).max(axis=1)
    return {mark.id: float(far) for mark, far in zip(marks, off, strict=True)}


def _fit(marks: Sequence[Seen], frame: Frame, cards: Sequence[Card]) -> _Fit:
    places: dict[int, tuple[int, Sequence[tuple[float, float]]]] = {
        mark.id: (i, mark.corners) for i, card in enumerate(cards) for mark in card.marks
    }
    printed = np.array([places[mark.id][1] for mark in marks], dtype=float)
    outward = np.sign(printed - printed.mean(axis=1, keepdims=True))
    card = np.repeat([places[mark.id][0] for mark in marks], 4)
    seen = np.array([mark.corners for mark in marks], dtype=float).reshape(-1, 2)
    return _Fit(frame, printed.reshape(-1, 2), outward.reshape(-1, 2), card, seen)


def _fitted(marks: Sequence[Seen], frame: Frame, left_out: tuple[int, ...], lens: Lens | None) -> View:
    found = cards_seen(mark.id for mark in marks)
    seen = {mark.id: np.array(mark.corners) for mark in marks}
    # The one that fills most of the picture is the surest to begin with.
    cards = tuple(sorted(found, key=lambda card: -_extent([seen[id_] for id_ in found[card]])))
    fit, before = _fit(marks, frame, cards), known_before(frame, lens)
    best: tuple[float, Array, Array, Array] | None = None
    for start, theta in _starts(fit, frame, cards, seen):
        solved = _solved(fit, theta, start, before, NOISE_PX, FIRST_LOOKS)
        if best is None or solved[0] < best[0] - 1e-6:
            best = (*solved, start)
    if best is None:
        raise GirderError("no_card", "The card in this picture is seen from too far aside.")
    _, theta, _, start = best
    noise = NOISE_PX
    for _ in range(2):
        off = fit.off_px(theta, start)
        free = max(1, off.size - _free(cards))
        noise = math.sqrt((NOISE_COUNTS * NOISE_PX**2 + float((off**2).sum())) / (NOISE_COUNTS + free))
        _, theta, covariance = _solved(fit, theta, start, before, noise)
    return View(frame, cards, tuple(mark.id for mark in marks), left_out, noise, theta, covariance, start, lens)


def _free(cards: Sequence[Card]) -> int:
    """How many parameters the corners themselves tell, roughly: eight of a plane, three of each further card."""
    return 8 + 3 * (len(cards) - 1)


def _extent(corners: Sequence[Array]) -> float:
    return float(np.prod(np.ptp(np.concatenate(corners), axis=0)))


def _solved(
    fit: _Fit, theta: Array, start: Array, before: tuple[Array, Array], noise: float, most: int = 200
) -> tuple[float, Array, Array]:
    """The least cost from a start, the parameters there, and their covariance."""
    known, open_ = before
    apart = np.linalg.inv(np.linalg.cholesky(open_))
    # Growth is known in pixels; a metre has so many where the first card is.
    px_per_m = math.exp(theta[FOCAL]) / max(1e-3, math.exp(theta[5]))
    scales = np.concatenate(
        [[0.01] * 3, [0.01] * 3, np.sqrt(np.diag(open_)), [GROWTH_PX / px_per_m], [0.01] * (len(theta) - CARDS)]
    )

    def cost(free: Array) -> Array:
        now = free * scales
        told = apart @ (now[LENS:GROWTH] - known)
        return np.concatenate([fit.off_px(now, start).ravel() / noise, told, [now[GROWTH] * px_per_m / GROWTH_PX]])

    done = least_squares(cost, theta / scales, method="lm", max_nfev=most, ftol=1e-7, xtol=1e-7, gtol=1e-7)
    normal = done.jac.T @ done.jac
    covariance: Array = np.linalg.pinv(normal) * np.outer(scales, scales)
    return float(done.cost), done.x * scales, covariance


def _starts(fit: _Fit, frame: Frame, cards: Sequence[Card], seen: Mapping[int, Array]) -> list[tuple[Array, Array]]:
    """First guesses: the plane as its first card shows it, and the same tilted the other way."""
    of = [
        (np.array([mark.corners for mark in card.marks if mark.id in seen]).reshape(-1, 2),
         np.concatenate([seen[mark.id] for mark in card.marks if mark.id in seen]))
        for card in cards
    ]  # fmt: skip
    plane = _homography(of[0][0], of[0][1] - frame.middle)
    long = frame.long_px
    made = []
    focal = frame.focal_px or FOCAL_SHARE * long
    turn, place = _pose(plane, focal)
    if turn is not None:
        for way in (turn, _other_way(turn, place)):
            theta = np.zeros(CARDS + 3 * (len(cards) - 1))
            theta[3:7] = place[0] / place[2], place[1] / place[2], math.log(place[2]), math.log(focal)
            for i, (printed, pixels) in enumerate(of[1:]):
                rays = np.column_stack([(pixels - frame.middle) / focal, np.ones(len(pixels))]) @ way
                origin = place @ way
                there = (origin[2] / rays[:, 2])[:, None] * rays - origin
                theta[CARDS + 3 * i : CARDS + 3 * i + 3] = _laid(printed, there[:, :2])
            made.append((way, theta))
    return made


def _homography(points: Array, pixels: Array) -> Array:
    """The direct linear transformation, with both sides normalised (Hartley 1997)."""

    def normal(xy: Array) -> Array:
        middle = xy.mean(axis=0)
        size = math.sqrt(2) / max(1e-12, float(np.hypot(*(xy - middle).T).mean()))
        return np.array([[size, 0, -size * middle[0]], [0, size, -size * middle[1]], [0, 0, 1]])

    one, other = normal(points), normal(pixels)
    a = np.column_stack([points, np.ones(len(points))]) @ one.T
    b = np.column_stack([pixels, np.ones(len(pixels))]) @ other.T
    zero = np.zeros_like(a)
    rows = np.concatenate([np.hstack([a, zero, -b[:, :1] * a]), np.hstack([zero, a, -b[:, 1:2] * a])])
    solution = np.linalg.svd(rows)[2][-1].reshape(3, 3)
    plane: Array = np.linalg.inv(other) @ solution @ one
    return plane


def _pose(plane: Array, focal: float) -> tuple[Array, Array] | tuple[None, Array]:
    """Turn and place of the plane's frame before the camera (Zhang 2000)."""
    columns = np.diag([1 / focal, 1 / focal, 1.0]) @ plane
    columns = columns / math.sqrt(np.linalg.norm(columns[:, 0]) * np.linalg.norm(columns[:, 1]))
    if columns[2, 2] < 0:
        columns = -columns
    if columns[2, 2] <= 0 or not np.isfinite(columns).all():
        return None, columns[:, 2]
    left, _, right = np.linalg.svd(
        np.column_stack([columns[:, 0], columns[:, 1], np.cross(columns[:, 0], columns[:, 1])])
    )
    turn = left @ np.diag([1, 1, np.sign(np.linalg.det(left @ right))]) @ right
    return turn, columns[:, 2]


def _other_way(turn: Array, place: Array) -> Array:
    """The same plane, tilted to the other side of the line of sight: what a weak perspective cannot tell apart."""
    sight = place / np.linalg.norm(place)
    normal = turn[:, 2]
    mirrored = 2 * (normal @ sight) * sight - normal
    axis = np.cross(normal, mirrored)
    size = float(np.linalg.norm(axis))
    if size < 1e-9:
        return turn
    angle = math.atan2(size, float(normal @ mirrored))
    other: Array = Rotation.from_rotvec(axis / size * angle).as_matrix() @ turn
    return other


def _laid(printed: Array, there: Array) -> tuple[float, float, float]:
    """Where a card lies in the plane, from where its corners are: x, y and turn."""
    a, b = printed - printed.mean(axis=0), there - there.mean(axis=0)
    turn = math.atan2(float((a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum()), float((a * b).sum()))
    c, s = math.cos(turn), math.sin(turn)
    x, y = there.mean(axis=0) - printed.mean(axis=0) @ np.array([[c, s], [-s, c]])
    return float(x), float(y), turn


def another_card(view: View, card: Card, at_m: tuple[float, float]) -> View:
    """How well all would be known with one more card: the information of further corners adds to what there is.

    Args:
        view: what is known now.
        card: the further card.
        at_m: where its middle would lie in the plane [m].
    Returns:
        The same view with its smaller covariance.
    Source:
        Triggs et al. (2000), section 9: the place of the new card is eliminated from the normal matrix.
    """
    corners = np.array([mark.corners for mark in card.marks])
    outward = np.sign(corners - corners.mean(axis=1, keepdims=True)).reshape(-1, 2)
    corners = corners.reshape(-1, 2)
    seen = view.pixels(corners + at_m)
    n = len(view.known)
    fit = _Fit(view.frame, corners, outward, np.full(len(corners), 1 + (n - CARDS) // 3), seen)
    theta = np.concatenate([view.known, at_m, [0.0]])
    steps = np.concatenate([np.maximum(1e-7, 0.1 * np.sqrt(np.diag(view.covariance))), [1e-4] * 3])
    rows = (
        np.column_stack(
            [
                (fit.off_px(theta + step, view.start) - fit.off_px(theta - step, view.start)).ravel() / (2 * size)
                for size, step in zip(steps, np.diag(steps), strict=True)
            ]
        )
        / view.noise_px
    )
    more = rows.T @ rows
    own, across, new = more[:n, :n], more[:n, n:], more[n:, n:]
    known = np.linalg.pinv(view.covariance) + own - across @ np.linalg.pinv(new) @ across.T
    return replace(view, covariance=np.asarray(np.linalg.pinv(known), dtype=np.float64))
