"""Made-up pictures with known truth: what a camera would show of flat things that stand where they are put.

Every pixel is asked by several rays what it sees, through a lens that bends as OpenCV's model does (k1 and k2, from the
ray to the pixel: the other way round than ``girder_core.photo`` fits it). So a picture is exact but for what it is
asked to be spoilt by. They stand in for a camera in the demo, in rehearsals and in tests.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage, signal

from girder_core.photo import BAR_M, BAR_OFF_M, FIELDS, PAPER_M, Card, fields_of

Array = NDArray[np.float64]
Paint = Callable[[Array, Array], tuple[Array, NDArray[np.bool_]]]
"""What a place of a patch looks like: from x and y [m] its colour (n, 3), 0 to 1, and whether anything is there."""

_STRIP = 48
"""Rows of the picture that are worked out at once."""


@dataclass(frozen=True)
class Patch:
    """Something flat: where its origin is [m], its directions to the right and up, its extent [m], how it looks."""

    origin: tuple[float, float, float]
    right: tuple[float, float, float]
    up: tuple[float, float, float]
    box: tuple[float, float, float, float]
    paint: Paint

    def at(self, x: float, y: float) -> Array:
        """A place of it in the room [m]."""
        return np.array(self.origin) + x * np.array(self.right) + y * np.array(self.up)


@dataclass(frozen=True)
class Camera:
    """A camera: where it is and where it looks [m], how it is held, and what it is.

    Attributes:
        place, target: where it is, and a point in the middle of its picture.
        roll_rad: turned about its line of sight.
        width_px, height_px, focal_px: its picture and its focal length.
        k1, k2: its distortion, as OpenCV's ``distCoeffs``.
    """

    place: tuple[float, float, float]
    target: tuple[float, float, float]
    width_px: int = 4000
    height_px: int = 3000
    focal_px: float = 3300.0
    k1: float = 0.0
    k2: float = 0.0
    roll_rad: float = 0.0

    def turn(self) -> Array:
        """From directions in the room to the camera's own: right, down, ahead."""
        ahead = np.array(self.target) - np.array(self.place)
        ahead = ahead / np.linalg.norm(ahead)
        up = np.array([0.0, 1.0, 0.0]) if abs(ahead[1]) < 0.999 else np.array([0.0, 0.0, -1.0])
        right = np.cross(ahead, up)
        right = right / np.linalg.norm(right)
        down = np.cross(ahead, right)
        c, s = math.cos(self.roll_rad), math.sin(self.roll_rad)
        return np.array([c * right + s * down, c * down - s * right, ahead])

    def pixels(self, points: Array) -> Array:
        """Where points of the room (n, 3) [m] are in its picture (n, 2) [px]."""
        there = (points - np.array(self.place)) @ self.turn().T
        flat = there[:, :2] / there[:, 2:]
        r2 = (flat**2).sum(axis=1, keepdims=True)
        middle = np.array([(self.width_px - 1) / 2, (self.height_px - 1) / 2])
        shown: Array = middle + self.focal_px * flat * (1 + self.k1 * r2 + self.k2 * r2**2)
        return shown

    def rays(self, x: Array, y: Array) -> Array:
        """The directions that pixels look in, in the room (n, 3)."""
        bent = np.stack([x - (self.width_px - 1) / 2, y - (self.height_px - 1) / 2], axis=-1) / self.focal_px
        flat = bent.copy()
        for _ in range(8 if self.k1 or self.k2 else 0):
            r2 = (flat**2).sum(axis=-1, keepdims=True)
            flat = bent / (1 + self.k1 * r2 + self.k2 * r2**2)
        looking = np.concatenate([flat, np.ones((*flat.shape[:-1], 1))], axis=-1) @ self.turn()
        return np.asarray(looking, dtype=float)


@dataclass(frozen=True)
class Spoilt:
    """What is wrong with a picture.

    Attributes:
        blur_px: standard deviation of an unsharp lens [px].
        shake_px: how far the camera moved along a line meanwhile [px].
        noise: standard deviation of the noise, of 255.
        uneven: how much darker one side is than the other, 0 to 1.
        light: how bright it is; 1 is as it should be.
        glare: middle (as shares of the picture) and radius (as a share of its width) of a bright spot; empty for none.
    """

    blur_px: float = 0.8
    shake_px: float = 0.0
    noise: float = 2.0
    uneven: float = 0.2
    light: float = 1.0
    glare: tuple[float, float, float] | tuple[()] = ()


def render(
    camera: Camera,
    patches: Sequence[Patch],
    seed: int,
    spoilt: Spoilt = Spoilt(),
    ground: tuple[float, float, float] = (0.55, 0.56, 0.55),
    rays: int = 3,
) -> NDArray[np.uint8]:
    """What the camera shows of the patches, the nearer before the farther.

    Args:
        camera: it.
        patches: what stands before it.
        seed: of the noise.
        spoilt: what is wrong with the picture.
        ground: colour where nothing is, 0 to 1.
        rays: so many times so many rays look from each pixel.
    Returns:
        The picture (height, width, 3), red first.
    """
    picture = np.empty((camera.height_px, camera.width_px, 3), dtype=np.float32)
    picture[:] = ground
    boxes = [_rows_and_columns(camera, patch) for patch in patches]
    for top in range(0, camera.height_px, _STRIP):
        rows = range(top, min(top + _STRIP, camera.height_px))
        here = [(patch, box) for patch, box in zip(patches, boxes, strict=True)
                if box[1] > rows.start and box[0] < rows.stop]  # fmt: skip
        if not here:
            continue
        left, right = min(box[2] for _, box in here), max(box[3] for _, box in here)
        looked = _ways(camera, np.array(rows, dtype=float), np.arange(left, right, dtype=float), rays)
        seen = _looked_at(camera, [patch for patch, _ in here], looked.reshape(-1, 3), ground)
        picture[rows.start : rows.stop, left:right] = seen.reshape(rays * rays, len(rows), right - left, 3).mean(axis=0)
    return _developed(picture, spoilt, np.random.default_rng(seed))


def _rows_and_columns(camera: Camera, patch: Patch) -> tuple[int, int, int, int]:
    """The rows and columns of the picture in which a patch can be; all where some of it is behind the camera."""
    x0, y0, x1, y1 = patch.box
    edge = np.linspace(0, 1, 17)
    rim = [(x0 + (x1 - x0) * t, y) for t in edge for y in (y0, y1)] + [
        (x, y0 + (y1 - y0) * t) for t in edge for x in (x0, x1)
    ]
    points = np.array([patch.at(x, y) for x, y in rim])
    if (((points - np.array(camera.place)) @ camera.turn().T)[:, 2] < 0.02).any():
        return 0, camera.height_px, 0, camera.width_px
    pixels = camera.pixels(points)
    low, high = pixels.min(axis=0) - 3, pixels.max(axis=0) + 3
    wide, tall = camera.width_px, camera.height_px
    left, right = (int(np.clip(v, 0, wide)) for v in (low[0], high[0]))
    top, bottom = (int(np.clip(v, 0, tall)) for v in (low[1], high[1]))
    return top, bottom, left, max(right, left)


def _ways(camera: Camera, rows: Array, columns: Array, rays: int) -> Array:
    """The directions in which pixels look, (rays², rows, columns, 3): within a pixel they change evenly."""
    y, x = np.meshgrid(np.append(rows, rows[-1] + 1), np.append(columns, columns[-1] + 1), indexing="ij")
    whole = camera.rays(x, y)
    here, right, down = whole[:-1, :-1], np.diff(whole, axis=1)[:-1], np.diff(whole, axis=0)[:, :-1]
    inner = (np.arange(rays) + 0.5) / rays - 0.5
    return np.stack([here + v * down + u * right for v in inner for u in inner])


def _looked_at(camera: Camera, patches: Sequence[Patch], rays: Array, ground: Sequence[float]) -> Array:
    place = np.array(camera.place)
    colour = np.tile(np.array(ground), (len(rays), 1))
    near = np.full(len(rays), np.inf)
    for patch in patches:
        right, up = np.array(patch.right), np.array(patch.up)
        normal = np.cross(right, up)
        with np.errstate(divide="ignore", invalid="ignore"):
            along = ((np.array(patch.origin) - place) @ normal) / (rays @ normal)
        met = (along > 0) & (along < near) & np.isfinite(along)
        off = place + along[met, None] * rays[met] - np.array(patch.origin)
        u, v = off @ right, off @ up
        x0, y0, x1, y1 = patch.box
        inside = (u >= x0) & (u <= x1) & (v >= y0) & (v <= y1)
        own = np.flatnonzero(met)[inside]
        painted, there = patch.paint(u[inside], v[inside])
        colour[own[there]] = painted[there]
        near[own[there]] = along[own[there]]
    return colour


def _developed(picture: Any, spoilt: Spoilt, chance: np.random.Generator) -> NDArray[np.uint8]:
    tall, wide = picture.shape[:2]
    if spoilt.blur_px > 0:
        picture = ndimage.gaussian_filter(picture, (spoilt.blur_px, spoilt.blur_px, 0))
    if spoilt.shake_px >= 1:
        way = np.eye(int(spoilt.shake_px) | 1, dtype=np.float32)[..., None]
        picture = signal.oaconvolve(picture, way / way.sum(), mode="same", axes=(0, 1))
    across = 1 - spoilt.uneven * np.linspace(0, 1, wide, dtype=np.float32)
    picture = picture * (spoilt.light * across)[None, :, None]
    if spoilt.glare:
        cx, cy, radius = spoilt.glare
        y, x = np.mgrid[0:tall, 0:wide].astype(np.float32)
        far = np.hypot(x - cx * wide, y - cy * tall) / (radius * wide)
        picture = picture + 1.6 * np.exp(-(far**2))[..., None].astype(np.float32)
    noise = chance.standard_normal(picture.shape, dtype=np.float32) * spoilt.noise
    return np.asarray(np.clip(np.round(picture * 255 + noise), 0, 255), dtype=np.uint8)


def plain(red: float, green: float, blue: float) -> Paint:
    """One colour all over."""
    colour = np.array([red, green, blue])
    return lambda x, y: (np.tile(colour, (len(x), 1)), np.ones(len(x), dtype=bool))


def card_patch(
    card: Card,
    origin: tuple[float, float, float],
    right: tuple[float, float, float],
    up: tuple[float, float, float],
    printed: float = 1.0,
    margin_m: float = PAPER_M,
) -> Patch:
    """A card where it was put, on its white paper.

    Args:
        card: which.
        origin: where its middle is [m].
        right, up: its directions, of length 1.
        printed: how large it came out of the printer [-].
        margin_m: of white paper round its marks [m].
    """
    marks = [
        (np.array(mark.corners[3]), mark.corners[1][0] - mark.corners[0][0], fields_of(mark.id)) for mark in card.marks
    ]

    def paint(x: Array, y: Array) -> tuple[Array, NDArray[np.bool_]]:
        x, y = x / printed, y / printed
        grey = np.full(len(x), 0.93)
        for corner, side, white in marks:
            u, v = (x - corner[0]) * (FIELDS / side), (y - corner[1]) * (FIELDS / side)
            own = np.flatnonzero((u > 0) & (u < FIELDS) & (v > 0) & (v < FIELDS))
            grey[own] = np.where(white[FIELDS - 1 - v[own].astype(int), u[own].astype(int)], 0.93, 0.06)
        if card.sheet:
            bar = (np.abs(x) <= BAR_M / 2) & (np.abs(y + BAR_OFF_M) <= 0.0015)
            grey[bar] = 0.06
        return np.repeat(grey[:, None], 3, axis=1), np.ones(len(x), dtype=bool)

    half = printed * (card.width_m / 2 + margin_m), printed * (card.height_m / 2 + margin_m)
    return Patch(origin, right, up, (-half[0], -half[1], half[0], half[1]), paint)
