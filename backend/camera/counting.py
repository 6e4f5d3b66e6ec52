"""The adapter for loose pieces on a sheet: where the sheet is, what lies on it, and where middles of round things are.

Pieces are found in two ways that know nothing of each other. What differs from the sheet is cut where it is narrow;
that tells how large a piece is, and finds what is not round. Then every edge votes for the middles of circles of about
that size; rims that touch, shadows and pale metal are told apart by that.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from camera.detector import Array, Grey, sharpness
from girder_core.photo import (
    LEAST_LEFT,
    LEAST_PIECE,
    LEAST_PLAIN,
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

Colour = NDArray[np.float32]
"""A picture in CIE L*a*b* (height, width, 3)."""
Mask = NDArray[np.uint8]
"""Of 0 and 1."""
Blob = tuple[float, float, float, int]
"""The middle of a place that is far from its own rim, how far, and in which part of the mask it is [px]."""

WORKING_PX = 1600
"""Pieces are looked for in a picture so large."""
PIECE_PX = 16.0
"""Middles are voted for in one so large that a piece has this radius."""
LEAST_STRENGTH = 7.0
"""What differs less from the sheet than this is sheet [CIE 1976 colour difference]."""
NARROW = 0.8
"""Where the mask is narrower than this share of the smaller of two parts, they are two."""
SHADED = 0.9
"""A piece has no less than so much of the radius that the mask has, shadows and all."""
SMALLEST, LARGEST = 0.6, 1.3
"""Middles of circles are voted for from so much of the usual radius to so much."""
ALIKE_HUE = 6.0
"""What differs less from the sheet than this, but for how light it is, may be sheet [CIE 1976 colour difference]."""
WIDE_PX = 15.0
"""Light is smoothed over so much where it is looked for shadows."""
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
    small = _resized(picture, factor)
    grey: Grey = np.asarray(cv2.cvtColor(small, cv2.COLOR_RGB2GRAY), dtype=np.uint8)
    ground = _ground(small, grey, None if hidden is None else _resized(hidden, factor))
    mask, plain = _without_thin(ground.on_it)
    pieces = looked_over(_pieces(replace(ground, on_it=mask)))
    whole = tuple(
        Piece((one.x + 0.5) / factor - 0.5, (one.y + 0.5) / factor - 0.5, one.radius_px / factor, one.doubt)
        for one in pieces
    )
    bright = float(np.percentile(grey[::4, ::4], 98)) / 255
    return Spread(wide, tall, whole, ground.share, bright, sharpness(grey), plain, ground.uneven, ground.alike)


@dataclass(frozen=True)
class _Ground:
    """A picture apart into sheet and what lies on it: its colours, the mask of what lies there, the sheet; ``uneven``
    and ``alike`` as in ``Spread``."""

    lab: Colour
    on_it: Mask
    sheet: Mask
    uneven: float
    alike: float

    @property
    def share(self) -> float:
        return float(self.sheet.mean())

    def cut(self, x: float, y: float, radius: float) -> bool:
        """Whether the rim of the sheet, or of the picture, runs through a circle."""
        tall, wide = self.sheet.shape
        turn = np.linspace(0, 2 * np.pi, 24, endpoint=False)
        u, v = np.rint(x + 0.9 * radius * np.cos(turn)), np.rint(y + 0.9 * radius * np.sin(turn))
        inside = (u >= 0) & (u < wide) & (v >= 0) & (v < tall)
        own = self.sheet[v[inside].astype(int), u[inside].astype(int)]
        return not inside.all() or not own.all()


def _ground(picture: NDArray[np.uint8], grey: Grey, hidden: Mask | None) -> _Ground:
    lab: Colour = cv2.cvtColor(
        np.asarray(cv2.medianBlur(picture, 3), dtype=np.float32) / 255, cv2.COLOR_RGB2LAB
    ).astype(np.float32)  # fmt: skip
    uneven = _unevenness(grey)
    free = np.ones(grey.shape, bool) if hidden is None else hidden == 0
    region = free
    for _ in range(3):
        light, strength, noise = _light(lab, region)
        sheet = _sheet(strength < max(6.0, 3.5 * noise), region)
        on_it = (strength > max(LEAST_STRENGTH, 3.5 * noise)) & sheet
        other = _another_sheet(on_it, int(sheet.sum()))
        smaller = sheet if other is None else other & free
        if other is None and sheet.sum() >= 0.9 * region.sum():
            break
        region = smaller
    # A sheet that all but fills the picture fills it: what lies at its rim is seen.
    whole = sheet.sum() > 0.97 * free.sum()
    sheet = free if whole else _shrunk(sheet, 7)
    usual = float(np.median(uneven[(strength < max(6.0, 3 * noise)) & sheet])) if sheet.any() else 1.0
    rough = uneven > 3 * usual + 1.5
    on_it = ((strength > max(LEAST_STRENGTH, 3.5 * noise)) & sheet) | (rough & (sheet if whole else _shrunk(sheet, 9)))
    plain = np.where(sheet[..., None], lab, light)
    opened = cv2.morphologyEx(on_it.astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    filled = _filled(_mask(opened), 30)
    off = lab - light
    alike = (np.hypot(off[..., 1], off[..., 2]) < ALIKE_HUE) & free & ~_grown(sheet, 9)
    return _Ground(
        plain.astype(np.float32), filled, sheet.astype(np.uint8), _shaded(off[..., 0], sheet & (filled == 0)),
        float(alike.mean()),
    )  # fmt: skip


def _light(lab: Colour, region: NDArray[np.bool_]) -> tuple[Colour, NDArray[np.float32], float]:
    """How the sheet would look without anything on it, how much each place differs from that, and by how much the
    sheet itself does: a surface of second order through the commonest colour of a region."""
    tall, wide = region.shape
    y, x = np.mgrid[0:tall, 0:wide].astype(np.float32)
    x, y = x / wide * 2 - 1, y / tall * 2 - 1
    terms = np.stack([np.ones_like(x), x, y, x * y, x * x, y * y], axis=-1)
    step = max(1, int(np.sqrt(region.sum() / 20000)))
    some = np.zeros_like(region)
    some[::step, ::step] = region[::step, ::step]
    at, colours = terms[some], lab[some]
    if len(at) < 50:
        flat = np.broadcast_to(np.median(lab.reshape(-1, 3), axis=0), lab.shape)
        return flat, np.zeros(region.shape, np.float32), 1.0
    boxes = np.floor(colours / 6).astype(int)
    commonest, counts = np.unique(boxes, axis=0, return_counts=True)
    keep = (np.abs(colours - (6 * commonest[np.argmax(counts)] + 3)) < (20, 8, 8)).all(axis=1)
    for i in range(12):
        order = 3 if i < 3 else 6
        fit = np.linalg.lstsq(at[keep][:, :order], colours[keep], rcond=None)[0]
        off = np.abs(colours - at[:, :order] @ fit)
        noise = 1.4826 * np.median(off[keep], axis=0) + 0.4
        near = (off < np.maximum(4 * noise, (5, 3, 3))).all(axis=1)
        if (near == keep).all() and i >= 3:
            break
        keep = near
    light = (terms[..., :order] @ fit).astype(np.float32)
    return light, np.sqrt(((lab - light) ** 2).sum(axis=-1)), float(np.hypot.reduce(noise))


def _unevenness(grey: Grey) -> NDArray[np.float32]:
    """By how much the picture changes near each place [of 255]."""
    plain = grey.astype(np.float32)
    middle = cv2.GaussianBlur(plain, (0, 0), 2)
    return np.asarray(np.sqrt(np.maximum(cv2.GaussianBlur(plain * plain, (0, 0), 2) - middle * middle, 0)))


def _sheet(like: NDArray[np.bool_], region: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """The sheet: the largest part that looks like one, with what lies in it. A sheet bulges outwards everywhere."""
    opened = cv2.morphologyEx((like & region).astype(np.uint8), cv2.MORPH_OPEN, np.ones((5, 5), np.uint8))
    rim = _largest_rim(_mask(opened))
    return region if rim is None else (_hull(rim, region.shape) > 0) & region


def _another_sheet(on_it: NDArray[np.bool_], whole: int) -> NDArray[np.bool_] | None:
    """What lies on a sheet, where that is itself one: a table was taken for the sheet."""
    opened = cv2.morphologyEx(on_it.astype(np.uint8), cv2.MORPH_OPEN, np.ones((5, 5), np.uint8))
    rim = _largest_rim(_mask(opened))
    if rim is None or cv2.contourArea(rim) < 0.12 * whole:
        return None
    bulges = cv2.contourArea(rim) > 0.85 * cv2.contourArea(cv2.convexHull(rim))
    return _hull(rim, on_it.shape) > 0 if bulges else None


def _largest_rim(mask: Mask) -> NDArray[np.int32] | None:
    rims, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    return np.asarray(max(rims, key=cv2.contourArea), dtype=np.int32) if rims else None


def _hull(rim: NDArray[np.int32], shape: tuple[int, ...]) -> Mask:
    mask = np.zeros(shape, np.uint8)
    cv2.fillConvexPoly(mask, cv2.convexHull(rim), 1)
    return mask


def _shrunk(mask: NDArray[np.bool_], by: int) -> NDArray[np.bool_]:
    kernel = np.ones((by, by), np.uint8)
    return np.asarray(cv2.erode(mask.astype(np.uint8), kernel, borderType=cv2.BORDER_CONSTANT, borderValue=1) > 0)


def _grown(mask: NDArray[np.bool_], by: int) -> NDArray[np.bool_]:
    return np.asarray(cv2.dilate(mask.astype(np.uint8), np.ones((by, by), np.uint8)) > 0)


def _shaded(off: NDArray[np.float32], plain: NDArray[np.bool_]) -> float:
    """By how much the lightness of a plain sheet differs from place to place, beyond what evenly changing light does
    [CIE L*]."""
    share = cv2.GaussianBlur(plain.astype(np.float32), (0, 0), WIDE_PX)
    calm = cv2.GaussianBlur(np.where(plain, off, 0).astype(np.float32), (0, 0), WIDE_PX) / np.maximum(share, 1e-3)
    known = calm[plain & (share > 0.5)]
    return float(np.quantile(known, 0.99) - np.quantile(known, 0.01)) if known.size else 0.0


def _without_thin(mask: Mask) -> tuple[Mask, float]:
    """A mask without what is thinner than the least piece where much of it is, such as the lines of ruled paper; and
    which share of it is not."""
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * int(0.8 * LEAST_PIECE * WORKING_PX) + 1,) * 2)
    opened = _mask(cv2.morphologyEx(mask, cv2.MORPH_OPEN, disc))
    share = float(opened.sum() / max(1, mask.sum()))
    return (opened if share < LEAST_PLAIN else mask), share


def _filled(mask: Mask, small: float) -> Mask:
    """A mask without holes that are round or small: a nut's hole is its own, the room between three coins is not."""
    rims, inner = cv2.findContours(mask, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    for i, rim in enumerate(rims):
        if inner[0][i][3] >= 0:
            area = cv2.contourArea(rim)
            if area < small or area > 0.7 * np.pi * cv2.minEnclosingCircle(rim)[1] ** 2:
                cv2.drawContours(mask, rims, i, 1, -1)
    return mask


def _pieces(ground: _Ground) -> tuple[Piece, ...]:
    blobs = _blobs(ground.on_it)
    if not blobs:
        return ()
    radius = _usual(blobs)
    # Now that it is known how large a piece is: cracks and holes that are small against it are its own.
    close = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * int(0.1 * radius) + 1,) * 2)
    mask = _filled(_mask(ground.on_it), 0.3 * radius**2)
    mask = _filled(_mask(cv2.morphologyEx(mask, cv2.MORPH_CLOSE, close)), 0.3 * radius**2)
    blobs = _blobs(mask)
    least = 0.45 * _usual(blobs)
    blobs = [blob for blob in blobs if blob[2] > least]
    radius = float(np.median([deep for _, _, deep, _ in blobs]))
    parts = [part for *_, part in blobs]
    alone = [blob for blob in blobs if parts.count(blob[3]) == 1]
    factor, votes = _scaled_votes(ground.lab, radius)
    if len(alone) < max(3, 0.1 * len(blobs)):
        # Heaped ones look larger than they are, but not by half: what is so much smaller are the holes of nuts.
        voted = _voted_radius(votes, 0.5 * radius * factor) / factor
        if voted > 0.7 * radius:
            radius = voted
            factor, votes = _scaled_votes(ground.lab, radius)
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
    found = told_apart(spots, usual)
    size = _shared(mask, found) if found else radius
    mask, large = _without_large(mask, found, size)
    found = _with_faint(mask, found, spots, size)
    return (*found, *large, *_left_over(mask, found, size))


def _shared(mask: Mask, found: Sequence[Piece]) -> float:
    """The radius of a usual piece that was found. Rims tell it best, as shadows are in the mask; but the clearest rim
    of a nut may lie within it, and then what differs from the sheet is more than such circles hold."""
    count, place, boxes, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    held = np.zeros(count, bool)
    held[[int(place[round(piece.y), round(piece.x)]) for piece in found]] = True
    area = float(boxes[1:, cv2.CC_STAT_AREA][held[1:]].sum())
    return max(
        float(np.median([piece.radius_px for piece in found])), SHADED * math.sqrt(area / (math.pi * len(found)))
    )


def _without_large(mask: Mask, found: Sequence[Piece], size: float) -> tuple[Mask, list[Piece]]:
    """A mask without what holds no piece for sure and is too large for a heap of them, and one dot on each of these."""
    _, place, boxes, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    sure = {int(place[round(piece.y), round(piece.x)]) for piece in found}
    left, large = mask.copy(), []
    for part in range(1, len(boxes)):
        if part not in sure and held_by_area(float(boxes[part, cv2.CC_STAT_AREA]), math.pi * size**2, 1) == 0:
            own = place == part
            _, _, _, (x, y) = cv2.minMaxLoc(cv2.distanceTransform(_mask(own), cv2.DIST_L2, 5))
            large.append(Piece(float(x), float(y), size, Doubt.OVER))
            left[own] = 0
    return left, large


def _with_faint(mask: Mask, found: Sequence[Piece], spots: Sequence[Spot], size: float) -> tuple[Piece, ...]:
    """The pieces that were found, and those with a faint rim where one more may lie."""
    more = list(found)
    for spot in sorted(spots, key=lambda one: -one.rim):
        if may_be_one_more(*_free(mask, more, spot.x, spot.y, size)):
            more.append(Piece(spot.x, spot.y, size, Doubt.CUT if spot.cut else Doubt.FAINT))
    return tuple(more)


def _free(mask: Mask, found: Sequence[Piece], x: float, y: float, radius: float) -> tuple[float, float]:
    """Which share of a circle, its rim left out, is free of pieces, and which share of that differs from the sheet."""
    part, away = _about(mask, x, y, 0.9 * radius)
    inside = away(x, y) <= 0.9 * radius
    own = inside.copy()
    for piece in found:
        # What was found of a nut may be its hole.
        beyond = 1.12 * max(piece.radius_px, radius)
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
        rim = _largest_rim(_mask(parts[y : y + tall, x : x + wide] == i))
        hull = 0.0 if rim is None else cv2.contourArea(cv2.convexHull(rim))
        # Two coins side to side do not bulge outwards everywhere.
        if rim is not None and cv2.contourArea(rim) > CONVEX * hull:
            # The circle goes through middles of pixels, half a pixel within the rim.
            shares.append(area / (np.pi * (cv2.minEnclosingCircle(rim)[1] + 0.5) ** 2))
    return float(np.median(shares)) if shares else 1.0


def _scaled_votes(lab: Colour, radius: float) -> tuple[float, _Votes]:
    """How much smaller the picture is that was voted in, and the votes."""
    factor = min(1.0, PIECE_PX / radius)
    return factor, _votes(_resized(lab, factor), radius * factor)


def _mask(found: object) -> Mask:
    return np.array(found, dtype=np.uint8)


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
        size = round(1.1 * max(piece.radius_px, radius))
        cv2.circle(left, (round(piece.x), round(piece.y)), size, 0, -1)
    size, reach = round(1.1 * radius), round(0.9 * radius)
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


@dataclass(frozen=True)
class _Votes:
    """What the edges of a picture voted for: for each radius and pixel which share of a rim about it is there.

    Attributes:
        radii: (n,) [px].
        each: (n, height, width), the shares.
        rim: the most of them for each pixel.
    """

    radii: Array
    each: NDArray[np.float32]
    rim: NDArray[np.float32]

    def near(self, x: float, y: float, reach: float) -> float:
        """The most within a square about a place."""
        top, left = max(0, int(y - reach)), max(0, int(x - reach))
        return float(self.rim[top : int(y + reach) + 1, left : int(x + reach) + 1].max(initial=0.0))

    def peaks(self, reach: float, least: float) -> list[tuple[float, float, float, float]]:
        """Places that have more than any within reach: x, y, radius and rim."""
        kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * int(reach) + 1,) * 2)
        rows, columns = np.nonzero((self.rim >= cv2.dilate(self.rim, kernel)) & (self.rim > least))
        return [
            (float(x), float(y), self._outermost(int(x), int(y)), float(self.rim[y, x]))
            for y, x in zip(rows, columns, strict=True)
        ]

    def _outermost(self, x: int, y: int) -> float:
        """The radius about a place: a nut's hole is a circle about the same middle, and smaller."""
        own = self.each[:, y, x]
        return float(self.radii[np.flatnonzero(own >= 0.75 * own.max())[-1]])


def _edges(lab: Colour) -> tuple[Array, Array]:
    """Places on edges (n, 2) and the directions across them (n, 2), one place for each step along an edge."""
    calm = cv2.GaussianBlur(lab, (0, 0), 1.0)
    gx, gy = (cv2.Sobel(calm, cv2.CV_32F, dx, 1 - dx, ksize=3) / 8 for dx in (1, 0))
    xx, yy, xy = (np.asarray((a * b).sum(axis=-1)) for a, b in ((gx, gx), (gy, gy), (gx, gy)))
    # The direction in which colour changes most, of all three together.
    angle = 0.5 * np.arctan2(2 * xy, xx - yy)
    steep = np.sqrt(np.maximum(0.5 * (xx + yy + np.hypot(xx - yy, 2 * xy)), 0)).astype(np.float32)
    across = np.stack([np.cos(angle), np.sin(angle)], axis=-1).astype(np.float32)
    y, x = np.mgrid[0 : steep.shape[0], 0 : steep.shape[1]].astype(np.float32)
    before, after = (
        cv2.remap(steep, x + sign * across[..., 0], y + sign * across[..., 1], cv2.INTER_LINEAR) for sign in (-1, 1)
    )
    ridge = (steep > max(0.7, 4 * float(np.median(steep)))) & (steep >= before) & (steep >= after)
    rows, columns = np.nonzero(ridge)
    return np.column_stack([columns, rows]).astype(float), across[rows, columns].astype(float)


def _voted(at: Array, across: Array, radius: float, shape: tuple[int, ...]) -> NDArray[np.float32]:
    """For each pixel which share of a rim of this radius about it is there."""
    tall, wide = shape
    votes = np.zeros(tall * wide)
    for sign in (-1, 1):
        x, y = np.rint(at + sign * radius * across).astype(int).T
        inside = (x >= 0) & (x < wide) & (y >= 0) & (y < tall)
        votes += np.bincount(y[inside] * wide + x[inside], minlength=tall * wide)
    spread = 1.6
    calm = cv2.GaussianBlur(votes.reshape(tall, wide).astype(np.float32), (0, 0), spread)
    return np.asarray(calm * (2 * np.pi * spread**2) / (2 * np.pi * radius), dtype=np.float32)


def _votes(lab: Colour, radius: float) -> _Votes:
    """What the edges vote for, with circles of about a radius."""
    at, across = _edges(lab)
    radii = np.arange(SMALLEST * radius, LARGEST * radius + 0.5, 1.0)
    each = np.array([_voted(at, across, float(one), lab.shape[:2]) for one in radii])
    return _Votes(radii, each, each.max(axis=0))


def _voted_radius(votes: _Votes, reach: float) -> float:
    """The radius that most of the clearest rims have, where no piece lies alone that would tell it."""
    peaks = votes.peaks(reach, max(0.35, 0.6 * float(np.quantile(votes.rim, 0.999))))
    return float(np.median([radius for _, _, radius, _ in peaks])) if peaks else reach / 0.5


def _resized(picture: NDArray[Any], factor: float) -> NDArray[Any]:
    if factor >= 1:
        return picture
    return np.asarray(cv2.resize(picture, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA))
