"""Made-up pictures of loose pieces seen from above, with known truth: for tests and benchmarks of counting."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from girder_core.photo import Piece

Array = NDArray[Any]
Lying = tuple[float, float, float]
"""A middle and a radius [px]."""
KINDS = ("coin", "nut", "washer", "marble", "block")
_FINE = 2
"""So many rows and columns are drawn for each pixel."""


@dataclass(frozen=True)
class Sheet:
    """What pieces lie on, and how it is photographed.

    Attributes:
        wide, tall: of the picture [px].
        colour: of the sheet, 0 to 1.
        shadow: how dark shadows are, 0 to 1.
        uneven: how much darker one side is than the other, 0 to 1.
        noise: standard deviation of the noise, of 255.
        blur: standard deviation of an unsharp lens [px].
    """

    wide: int = 1200
    tall: int = 900
    colour: tuple[float, float, float] = (0.90, 0.89, 0.86)
    shadow: float = 0.3
    uneven: float = 0.3
    noise: float = 3.0
    blur: float = 1.0


def scattered(
    chance: np.random.Generator, count: int, radii: tuple[float, float], touching: float, sheet: Sheet
) -> list[Lying]:
    """Pieces side by side: so many, with radii from one to another [px], and which share is put against another."""
    lying: list[Lying] = []
    for _ in range(20_000):
        if len(lying) == count:
            break
        r = chance.uniform(*radii)
        x, y = chance.uniform((1.4 * r, 1.4 * r), (sheet.wide - 1.4 * r, sheet.tall - 1.4 * r))
        if lying and chance.uniform() < touching:
            u, v, s = lying[int(chance.integers(len(lying)))]
            way, apart = chance.uniform(0, 2 * math.pi), (r + s) * chance.uniform(1.0, 1.01)
            x, y = u + apart * math.cos(way), v + apart * math.sin(way)
        inside = 1.2 * r < x < sheet.wide - 1.2 * r and 1.2 * r < y < sheet.tall - 1.2 * r
        if inside and all(math.hypot(x - u, y - v) >= r + s for u, v, s in lying):
            lying.append((x, y, r))
    return lying


def photographed(chance: np.random.Generator, kind: str, lying: list[Lying], sheet: Sheet) -> NDArray[np.uint8]:
    """A picture of such pieces (tall, wide, 3), red first."""
    shape = sheet.tall * _FINE, sheet.wide * _FINE
    grain = cv2.GaussianBlur(chance.standard_normal((sheet.tall // 2, sheet.wide // 2)), (0, 0), 2)
    picture = np.asarray(sheet.colour) * (1 + 0.02 * cv2.resize(grain, shape[::-1]))[..., None]
    light = chance.uniform(0, 2 * math.pi)
    to_light = math.cos(light), math.sin(light)
    off, soft = (0.35, 0.25) if kind == "marble" else (0.12, 0.08)
    shade: Array = np.zeros(shape, np.float32)
    painted = []
    for x, y, r in lying:
        left, top = int((x - r) * _FINE) - 2, int((y - r) * _FINE) - 2
        side = 2 * int(r * _FINE) + 5
        v, u = np.mgrid[top : top + side, left : left + side]
        there, colour = _PAINTED[kind](chance, ((u + 0.5) / _FINE - x) / r, ((v + 0.5) / _FINE - y) / r, to_light)
        inside = there & (u >= 0) & (v >= 0) & (u < shape[1]) & (v < shape[0])
        painted.append((v[inside], u[inside], colour[inside]))
        away = [round(off * r * _FINE * part) for part in to_light]
        shade[np.clip(v[inside] - away[1], 0, shape[0] - 1), np.clip(u[inside] - away[0], 0, shape[1] - 1)] = 1.0
    if lying:
        shade = cv2.GaussianBlur(shade, (0, 0), _FINE * max(2.0, soft * lying[0][2]))
    picture = picture * (1 - sheet.shadow * shade)[..., None]
    for rows, columns, colours in painted:
        picture[rows, columns] = colours
    picture = picture.reshape(sheet.tall, _FINE, sheet.wide, _FINE, 3).mean(axis=(1, 3))
    across = np.linspace(-1, 1, sheet.wide) * to_light[0] + np.linspace(-1, 1, sheet.tall)[:, None] * to_light[1]
    picture *= (1 - sheet.uneven * (0.5 + 0.35 * across))[..., None]
    picture = cv2.GaussianBlur(picture, (0, 0), sheet.blur) * 255 + chance.normal(0, sheet.noise, picture.shape)
    return np.asarray(np.clip(picture, 0, 255), dtype=np.uint8)


def _coin(chance: np.random.Generator, u: Array, v: Array, light: tuple[float, float]) -> tuple[Array, Array]:
    far = np.hypot(u, v)
    metal = np.array([(0.72, 0.70, 0.68), (0.72, 0.48, 0.33), (0.80, 0.68, 0.40)][int(chance.integers(3))])
    relief = cv2.GaussianBlur(chance.standard_normal(u.shape), (0, 0), 2 * _FINE)
    tilt = chance.normal(0, 0.25, 2)
    shade = 1 + 0.12 * relief / (relief.std() + 1e-9) * (far < 0.85) + tilt[0] * u + tilt[1] * v
    shade += 0.25 * ((far > 0.88) & (far < 0.97)) * (u * light[0] + v * light[1])
    return far <= 1, chance.uniform(0.6, 1.0) * shade[..., None] * metal


def _metal(chance: np.random.Generator, u: Array, v: Array) -> Array:
    grey = np.array((0.55, 0.56, 0.58)) * chance.uniform(0.6, 1.2)
    return np.asarray((1 + chance.normal(0, 0.15) * u + chance.normal(0, 0.15) * v)[..., None] * grey)


def _nut(chance: np.random.Generator, u: Array, v: Array, light: tuple[float, float]) -> tuple[Array, Array]:
    far = np.hypot(u, v)
    around = np.mod(np.arctan2(v, u) + chance.uniform(0, 1), math.pi / 3) - math.pi / 6
    there = (far * np.cos(around) <= math.cos(math.pi / 6)) & (far >= 0.5)
    return there, _metal(chance, u, v) - 0.1 * ((far < 0.58) * (u * light[0] + v * light[1]))[..., None]


def _washer(chance: np.random.Generator, u: Array, v: Array, light: tuple[float, float]) -> tuple[Array, Array]:
    far = np.hypot(u, v)
    return (far <= 1) & (far >= 0.45), _metal(chance, u, v)


def _marble(chance: np.random.Generator, u: Array, v: Array, light: tuple[float, float]) -> tuple[Array, Array]:
    glass = [(0.1, 0.3, 0.6), (0.1, 0.5, 0.25), (0.6, 0.15, 0.1), (0.5, 0.55, 0.58), (0.75, 0.6, 0.15)]
    own = np.array(glass[int(chance.integers(5))])
    towards = u * light[0] + v * light[1]
    lit = np.clip(0.6 * towards + 0.5 * np.sqrt(np.clip(1 - u**2 - v**2, 0, 1)), 0, None)
    colour = own * (0.45 + 0.6 * lit)[..., None]
    turn = chance.uniform(0, 2 * math.pi)
    swirl = np.sin(4 * u * math.cos(turn) + 4 * v * math.sin(turn) + 3 * np.hypot(u, v)) > 0.6
    colour[swirl] = 0.4 * colour[swirl] + 0.5
    bright = np.exp(-((u - 0.4 * light[0]) ** 2 + (v - 0.4 * light[1]) ** 2) / 0.01)
    through = 0.25 * np.exp(-((u + 0.5 * light[0]) ** 2 + (v + 0.5 * light[1]) ** 2) / 0.15)
    return np.hypot(u, v) <= 1, colour + bright[..., None] + through[..., None] * own


def _block(chance: np.random.Generator, u: Array, v: Array, light: tuple[float, float]) -> tuple[Array, Array]:
    turn = chance.uniform(0, math.pi)
    along, across = math.cos(turn) * u + math.sin(turn) * v, math.cos(turn) * v - math.sin(turn) * u
    own = np.array([(0.7, 0.2, 0.2), (0.2, 0.4, 0.7), (0.8, 0.7, 0.2), (0.3, 0.6, 0.3)][int(chance.integers(4))])
    colour = np.broadcast_to(own * chance.uniform(0.8, 1.1), (*u.shape, 3))
    return (np.abs(along) < 0.85) & (np.abs(across) < 0.5), colour


_PAINTED = {"coin": _coin, "nut": _nut, "washer": _washer, "marble": _marble, "block": _block}


def missed_and_extra(pieces: tuple[Piece, ...], lying: list[Lying]) -> tuple[int, int]:
    """How many pieces have no dot, and how many dots lie on none or on one that has another."""
    found: set[int] = set()
    for piece in pieces:
        near = [i for i, (x, y, r) in enumerate(lying) if math.hypot(piece.x - x, piece.y - y) < 0.8 * r]
        found.update(near[:1])
    return len(lying) - len(found), len(pieces) - len(found)


def unsaid(pieces: tuple[Piece, ...], lying: list[Lying]) -> int:
    """How many mistakes nobody is asked about: pieces without a dot, and without one that has to be looked at within
    three radii; and sure dots that lie on no piece, or on one that has another."""
    doubted = [piece for piece in pieces if piece.doubt is not None]

    def away(x: float, y: float, among: tuple[Piece, ...] | list[Piece]) -> float:
        return min((math.hypot(one.x - x, one.y - y) for one in among), default=math.inf)

    missed = sum(away(x, y, pieces) >= 0.8 * r and away(x, y, doubted) > 3 * r for x, y, r in lying)
    sure = tuple(piece for piece in pieces if piece.doubt is None)
    return missed + missed_and_extra(sure, lying)[1]
