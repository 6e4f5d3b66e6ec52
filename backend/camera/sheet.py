"""Where the sheet is in a picture of loose pieces, what differs from it, and what may spoil a count there: lines,
shadows. For ``camera.counting``."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from camera.detector import Grey
from girder_core.photo import LEAST_PIECE, LEAST_PLAIN

Colour = NDArray[np.float32]
"""A picture in CIE L*a*b* (height, width, 3)."""
Mask = NDArray[np.uint8]
"""Of 0 and 1."""

WORKING_PX = 1600
"""Pieces are looked for in a picture so large."""
LEAST_STRENGTH = 7.0
"""What differs less from the sheet than this is sheet [CIE 1976 colour difference]."""
HUE = 6.0
"""What differs less from the sheet than this, but for how light it is, may be sheet [CIE 1976 colour difference]."""
WIDE_PX = 15.0
"""Light is smoothed over so much where it is looked for shadows."""


@dataclass(frozen=True)
class Ground:
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


def sheet_of(picture: NDArray[np.uint8], grey: Grey, hidden: Mask | None) -> Ground:
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
    filled = filled_up(mask_of(opened), 30)
    off = lab - light
    alike = (np.hypot(off[..., 1], off[..., 2]) < HUE) & free & ~_grown(sheet, 9)
    return Ground(
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
    rim = largest_rim(mask_of(opened))
    return region if rim is None else (_hull(rim, region.shape) > 0) & region


def _another_sheet(on_it: NDArray[np.bool_], whole: int) -> NDArray[np.bool_] | None:
    """What lies on a sheet, where that is itself one: a table was taken for the sheet."""
    opened = cv2.morphologyEx(on_it.astype(np.uint8), cv2.MORPH_OPEN, np.ones((5, 5), np.uint8))
    rim = largest_rim(mask_of(opened))
    if rim is None or cv2.contourArea(rim) < 0.12 * whole:
        return None
    bulges = cv2.contourArea(rim) > 0.85 * cv2.contourArea(cv2.convexHull(rim))
    return _hull(rim, on_it.shape) > 0 if bulges else None


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


def without_thin(mask: Mask) -> tuple[Mask, float]:
    """A mask without what is thinner than the least piece where much of it is, such as the lines of ruled paper; and
    which share of it is not."""
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * int(0.8 * LEAST_PIECE * WORKING_PX) + 1,) * 2)
    opened = mask_of(cv2.morphologyEx(mask, cv2.MORPH_OPEN, disc))
    share = float(opened.sum() / max(1, mask.sum()))
    return (opened if share < LEAST_PLAIN else mask), share


def filled_up(mask: Mask, small: float) -> Mask:
    """A mask without holes that are round or small: a nut's hole is its own, the room between three coins is not."""
    rims, inner = cv2.findContours(mask, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    for i, rim in enumerate(rims):
        if inner[0][i][3] >= 0:
            area = cv2.contourArea(rim)
            if area < small or area > 0.7 * np.pi * cv2.minEnclosingCircle(rim)[1] ** 2:
                cv2.drawContours(mask, rims, i, 1, -1)
    return mask


def largest_rim(mask: Mask) -> NDArray[np.int32] | None:
    rims, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    return np.asarray(max(rims, key=cv2.contourArea), dtype=np.int32) if rims else None


def mask_of(found: object) -> Mask:
    return np.array(found, dtype=np.uint8)


def resized(picture: NDArray[Any], factor: float) -> NDArray[Any]:
    if factor >= 1:
        return picture
    return np.asarray(cv2.resize(picture, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA))
