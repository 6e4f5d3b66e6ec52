"""The adapter for loose pieces on a sheet (``camera.sheet``), round ones (``camera.rims``) and others.

Pieces are found in two ways that know nothing of each other. What differs from the sheet is cut where it is narrow;
that tells how large a piece is, and finds what is not round. Then every edge votes for the middles of circles of about
that size; rims that touch, shadows and pale metal are told apart by that.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from camera.detector import Array, Grey, sharpness
from camera.rims import scaled_votes, voted_radius
from camera.sheet import WORKING_PX, Ground, Mask, filled_up, largest_rim, mask_of, resized, sheet_of, without_thin
from girder_core.photo import (
    LEAST_LEFT,
    LEAST_PIECE,
    LEAST_RIM,
    MOST_PIECES,
    Doubt,
    Piece,
    Spot,
    Spread,
    held_by_area,
    looked_over,
    may_be_one_more,
    told_apart,
)

Blob = tuple[float, float, float, int]
"""The middle of a place that is far from its own rim, how far, and in which part of the mask it is [px]."""

NARROW = 0.8
"""Where the mask is narrower than this share of the smaller of two parts, they are two."""
WITHIN, BEYOND = 0.9, 1.12
"""A circle is looked at from its middle to so much of its radius, and what was found takes so much of its own."""
SHADED = 0.9
"""A piece has no less than so much of the radius that the mask has, shadows and all."""
ALIKE, FEW = 1.6, 2
"""Pieces of one kind differ by no more than this factor; so few others may lie beside them and be larger."""
NOT_ROUND, ROUND, FILLED = 0.3, 0.6, 0.78
"""Single pieces that show less of a rim than the first are not round. No more are those that show less than the second
and fill less of the circle about them than the third; a hexagon fills 0.83 of it."""
CONVEX = 0.96
"""What fills less of its hull is more than one; two coins side to side fill 0.88 of it, with their shadows 0.95."""


def loose_in(picture: NDArray[np.uint8], hidden: Mask | None = None) -> Spread:
    """The loose pieces of a picture.

    Args:
        picture: (height, width, 3), red first.
        hidden: 1 where something lies that is none of them, such as a scale card; None for nothing.
    """
    tall, wide = picture.shape[:2]
    factor = min(1.0, WORKING_PX / max(tall, wide))
    small = resized(picture, factor)
    grey: Grey = np.asarray(cv2.cvtColor(small, cv2.COLOR_RGB2GRAY), dtype=np.uint8)
    ground = sheet_of(small, grey, None if hidden is None else resized(hidden, factor))
    mask, plain = without_thin(ground.on_it)
    pieces = looked_over(_pieces(replace(ground, on_it=mask)))
    whole = tuple(
        Piece((one.x + 0.5) / factor - 0.5, (one.y + 0.5) / factor - 0.5, one.radius_px / factor, one.doubt)
        for one in pieces
    )
    bright = float(np.percentile(grey[::4, ::4], 98)) / 255
    return Spread(wide, tall, whole, ground.share, bright, sharpness(grey), plain, ground.uneven, ground.alike)


def _pieces(ground: Ground) -> tuple[Piece, ...]:
    blobs = _blobs(ground.on_it)
    if not blobs:
        return ()
    radius = _usual(blobs)
    # Now that it is known how large a piece is: cracks and holes that are small against it are its own.
    close = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * int(0.1 * radius) + 1,) * 2)
    mask = filled_up(mask_of(ground.on_it), 0.3 * radius**2)
    mask = filled_up(mask_of(cv2.morphologyEx(mask, cv2.MORPH_CLOSE, close)), 0.3 * radius**2)
    blobs = _blobs(mask)
    least = 0.45 * _usual(blobs)
    blobs = [blob for blob in blobs if blob[2] > least]
    radius = float(np.median([deep for _, _, deep, _ in blobs]))
    parts = [part for *_, part in blobs]
    alone = [blob for blob in blobs if parts.count(blob[3]) == 1]
    factor, votes = scaled_votes(ground.lab, radius)
    if len(alone) < max(3, 0.1 * len(blobs)):
        # Heaped ones look larger than they are, but not by half: what is so much smaller are the holes of nuts.
        voted = voted_radius(votes, 0.5 * radius * factor) / factor
        if voted > 0.7 * radius:
            radius = voted
            factor, votes = scaled_votes(ground.lab, radius)
    rims = [votes.near(x * factor, y * factor, 0.5 * radius * factor) for x, y, *_ in alone or blobs]
    usual = float(np.median(rims))
    if usual < NOT_ROUND or (usual < ROUND and _share_filled(mask, alone) < FILLED):
        alike = [Piece(x, y, r, Doubt.CUT if ground.cut(x, y, r) else None) for x, y, r, _ in blobs]
        return _by_area(mask, alike, parts)
    deep = cv2.distanceTransform(mask, cv2.DIST_L2, 5)
    spots = []
    for x, y, r, rim in votes.peaks(0.5 * radius * factor, LEAST_RIM * usual):
        # The last pixel of the smaller picture may lie half a pixel beyond the larger one.
        u, v = np.clip(
            ((x + 0.5) / factor - 0.5, (y + 0.5) / factor - 0.5), 0, np.subtract(mask.shape[::-1], 1)
        ).tolist()
        # The clearest circle may be a nut's hole: a piece is no smaller than what differs from the sheet there.
        size = max(r / factor, min(radius, float(deep[round(v), round(u)])))
        spots.append(Spot(u, v, size, rim, _covered(mask, u, v, size), ground.cut(u, v, size)))
    return _round_ones(mask, spots, usual, radius)


def _round_ones(mask: Mask, spots: Sequence[Spot], usual: float, radius: float) -> tuple[Piece, ...]:
    """The round pieces among the spots, and what else differs from the sheet so much that one may lie there."""
    found = told_apart(spots, usual)
    _, place, boxes, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    areas = boxes[:, cv2.CC_STAT_AREA].astype(float)
    own = {int(place[round(piece.y), round(piece.x)]) for piece in found} - {0}
    size = _shared(found, float(sum(areas[part] for part in own))) if found else radius
    left, large = mask.copy(), []
    for part in set(range(1, len(areas))) - own:
        # What holds no piece for sure and is too large for a heap of them is one place to look at.
        if held_by_area(float(areas[part]), math.pi * size**2, 1) == 0:
            _, _, _, (x, y) = cv2.minMaxLoc(cv2.distanceTransform(mask_of(place == part), cv2.DIST_L2, 5))
            large.append(Piece(float(x), float(y), size, Doubt.OVER))
            left[place == part] = 0
    found = _with_faint(left, found, spots, size)
    return (*found, *large, *_left_over(left, found, size))


def _shared(found: Sequence[Piece], area: float) -> float:
    """The radius of a usual piece of those that were found, where so much of the mask is theirs. Rims tell it best, as
    shadows are in the mask; but the clearest rim of a nut may lie within it, and then what differs from the sheet is
    more than such circles hold."""
    usual = float(np.median([piece.radius_px for piece in found]))
    return max(usual, SHADED * math.sqrt(area / (math.pi * len(found))))


def _with_faint(mask: Mask, found: Sequence[Piece], spots: Sequence[Spot], size: float) -> tuple[Piece, ...]:
    """The pieces that were found, and those with a faint rim where one more may lie."""
    more = list(found)
    for spot in sorted(spots, key=lambda one: -one.rim):
        if may_be_one_more(*_free(mask, more, spot.x, spot.y, size)):
            more.append(Piece(spot.x, spot.y, size, Doubt.CUT if spot.cut else Doubt.FAINT))
    return tuple(more)


def _free(mask: Mask, found: Sequence[Piece], x: float, y: float, radius: float) -> tuple[float, float]:
    """Which share of a circle, its rim left out, is free of pieces, and which share of that differs from the sheet."""
    part, away = _about(mask, x, y, WITHIN * radius)
    inside = away(x, y) <= WITHIN * radius
    own = inside.copy()
    for piece in found:
        # What was found of a nut may be its hole.
        beyond = BEYOND * max(piece.radius_px, radius)
        if math.hypot(piece.x - x, piece.y - y) < beyond + radius:
            own &= away(piece.x, piece.y) > beyond
    return float(own.sum() / max(1, inside.sum())), float(part[own].mean()) if own.any() else 0.0


def _by_area(mask: Mask, pieces: Sequence[Piece], parts: Sequence[int]) -> tuple[Piece, ...]:
    """Pieces that are not round, held against the area of what differs from the sheet: two that lie side to side are
    nowhere narrow. What is too large for its pieces is shared out among as many as it would hold, all in doubt."""
    _, place, boxes, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    own = {part: [piece for piece, at in zip(pieces, parts, strict=True) if at == part] for part in set(parts)}
    area = {part: float(boxes[part, cv2.CC_STAT_AREA]) for part in own}
    usual = float(np.median([area[part] / len(there) for part, there in own.items()]))
    found: list[Piece] = []
    for part, there in own.items():
        many = held_by_area(area[part], usual, len(there))
        if many == len(there):
            found += there
            continue
        if many == 0:
            found += [replace(piece, doubt=Doubt.OVER) for piece in there]
            continue
        where = np.argwhere(place == part)[:, ::-1].astype(np.float32)
        enough = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 30, 0.5)
        cv2.setRNGSeed(1)
        _, _, middles = cv2.kmeans(where, many, None, enough, 5, cv2.KMEANS_PP_CENTERS)  # type: ignore[call-overload]
        found += [Piece(float(x), float(y), there[0].radius_px, Doubt.OVER) for x, y in middles]
    return tuple(found)


def _share_filled(mask: Mask, blobs: list[Blob]) -> float:
    """How much of the circle about it a usual piece fills; 1 where none lies by itself."""
    _, parts, boxes, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    shares = []
    for i in {part for *_, part in blobs}:
        x, y, wide, tall, area = (int(v) for v in boxes[i])
        rim = largest_rim(mask_of(parts[y : y + tall, x : x + wide] == i))
        hull = 0.0 if rim is None else cv2.contourArea(cv2.convexHull(rim))
        # Two coins side to side do not bulge outwards everywhere.
        if rim is not None and cv2.contourArea(rim) > CONVEX * hull:
            # The circle goes through middles of pixels, half a pixel within the rim.
            shares.append(area / (np.pi * (cv2.minEnclosingCircle(rim)[1] + 0.5) ** 2))
    return float(np.median(shares)) if shares else 1.0


def _usual(blobs: list[Blob]) -> float:
    """The radius of a usual piece: specks count for little, and one or two large things among many that are smaller are
    a hand or a box."""
    radii = np.sort([radius for _, _, radius, _ in blobs])
    usual = _by_weight(radii)
    smaller = radii[(radii < usual / ALIKE) & (radii >= LEAST_PIECE * WORKING_PX)]
    if (radii >= usual / ALIKE).sum() <= FEW and len(smaller) > 2 * FEW:
        return _by_weight(smaller)
    return usual


def _by_weight(radii: Array) -> float:
    """The middle one of sorted radii, each counted by its area."""
    weight = np.cumsum(radii**2)
    return float(radii[np.searchsorted(weight, weight[-1] / 2)])


def _blobs(mask: Mask) -> list[Blob]:
    """What a mask falls into where it is narrow."""
    count, parts, boxes, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    deep = cv2.distanceTransform(mask, cv2.DIST_L2, 5)
    found: list[Blob] = []
    for i in range(1, count):
        x, y, wide, tall, area = (int(v) for v in boxes[i])
        if area < 40:
            continue
        own = np.where(parts[y : y + tall, x : x + wide] == i, deep[y : y + tall, x : x + wide], 0)
        found += [(x + u, y + v, top, i) for top, u, v in _summits(own.astype(np.float32))]
    return found


def _summits(deep: NDArray[np.float32]) -> list[tuple[float, int, int]]:
    """The tops of a landscape, (height, x, y), that a valley parts from all higher ones; seen while water falls."""
    alive: list[tuple[float, int, int, bool]] = []
    for level in np.linspace(float(deep.max()), 0, 49)[1:]:
        count, land = cv2.connectedComponents((deep > level).astype(np.uint8), connectivity=8)
        tops: dict[int, list[tuple[float, int, int, bool]]] = {}
        for top in alive:
            tops.setdefault(int(land[top[2], top[1]]), []).append(top)
        alive = []
        for i in range(1, count):
            there = sorted(tops.get(i, ()), reverse=True)
            if there:
                alive.append(there[0])
                # Where two lands meet, the lower one is a summit of its own if the way to the higher led far down.
                alive += [(*top[:3], True) for top in there[1:] if top[3] or top[0] * NARROW > level]
            else:
                own = np.where(land == i, deep, -1)
                v, u = np.unravel_index(int(np.argmax(own)), own.shape)
                alive.append((float(own[v, u]), int(u), int(v), False))
    return [top[:3] for top in alive]


def _left_over(mask: Mask, found: Sequence[Piece], radius: float) -> list[Piece]:
    """Where, about a place, more differs from the sheet than what was found explains."""
    left = mask.copy()
    for piece in found:
        size = round(BEYOND * max(piece.radius_px, radius))
        cv2.circle(left, (round(piece.x), round(piece.y)), size, 0, -1)
    size, reach = round(BEYOND * radius), round(WITHIN * radius)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1,) * 2).astype(np.float32)
    disc /= disc.sum()
    share = np.array(cv2.filter2D(left.astype(float), -1, disc, borderType=cv2.BORDER_CONSTANT), dtype=float)
    more: list[Piece] = []
    while len(more) <= MOST_PIECES:
        _, most, _, (x, y) = cv2.minMaxLoc(share)
        if most < LEAST_LEFT:
            break
        more.append(Piece(float(x), float(y), radius, Doubt.OVER))
        # What is no longer left there takes its part from the shares about it.
        near = tuple(slice(max(0, at - size - reach), at + size + reach + 1) for at in (y, x))
        before = left[near].astype(float)
        cv2.circle(left, (x, y), size, 0, -1)
        share[near] -= cv2.filter2D(before - left[near], -1, disc, borderType=cv2.BORDER_CONSTANT)
    return more


def _covered(mask: Mask, x: float, y: float, radius: float) -> float:
    """Which share of a circle, its rim left out, differs from the sheet."""
    part, away = _about(mask, x, y, 0.8 * radius)
    inside = away(x, y) <= 0.8 * radius
    return float(part[inside].mean()) if inside.any() else 0.0


def _about(mask: Mask, x: float, y: float, reach: float) -> tuple[Mask, Callable[[float, float], Array]]:
    """The part of a mask about a place, and how far its pixels are from another."""
    left, top = max(0, round(x - reach)), max(0, round(y - reach))
    part = mask[top : round(y + reach) + 1, left : round(x + reach) + 1]
    v, u = np.mgrid[top : top + part.shape[0], left : left + part.shape[1]]
    return part, lambda to_x, to_y: np.hypot(u - to_x, v - to_y)
