"""Made-up pictures that ship, to practise with where there is no camera: what they show, and what is true of it.

They are worked out when somebody asks, each in a process of its own: ``python -m camera.standins key set way``, the
way being how far what it shows gave way [m].
"""

from __future__ import annotations

import io
import math
import sys
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise

import numpy as np
from django.http import Http404
from PIL import ExifTags, Image
from scipy import spatial

from camera.bricks import WALL_HIGH_M, WALL_LONG_M, bricks, left_m2, left_outlines
from camera.found import MEMORY_BYTES, TOO_MUCH
from camera.scenes import Array, Camera, Paint, Patch, Spoilt, card_patch, plain, render
from evengirder.aside import read_aside
from girder_core.photo import cards

X, Y, Z = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)
BACK = (0.0, 0.0, -1.0)
WIDE_PX, TALL_PX = 2000, 1500
_SECONDS = 40
TABLET = "Made-up tablet"
"""What the camera of all of them calls itself: a lens that was calibrated with them is no real tablet's."""


@dataclass(frozen=True)
class StandIn:
    """A made-up picture: what it shows, and what is true of it by the key of a reading [SI].

    ``patches`` are drawn for a set, and for how far it gave way [m]: ``gave``, unless somebody says otherwise.
    ``ends`` are the two ends of each length that is true, in the room [m]; of an area its outlines, corner by corner.
    """

    says: str
    camera: Camera
    patches: Callable[[int, float], Sequence[Patch]]
    true: Mapping[str, float]
    ends: Mapping[str, Sequence[tuple[float, float, float]]]
    outlines: tuple[int, ...] = ()
    gave: float = 0.0


def _sticks(lines: Sequence[tuple[float, float, float, float]], thick_m: float, colour: Sequence[float]) -> Paint:
    """Sticks between pairs of points, seen from the front."""

    def paint(x: Array, y: Array) -> tuple[Array, np.ndarray]:
        there = np.zeros(len(x), dtype=bool)
        shade = np.ones(len(x))
        for x0, y0, x1, y1 in lines:
            long = math.hypot(x1 - x0, y1 - y0)
            along = np.clip(((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / long**2, 0, 1)
            off = np.hypot(x - x0 - along * (x1 - x0), y - y0 - along * (y1 - y0))
            own = (off <= thick_m / 2) & ~there
            shade[own] = 1.05 - 0.5 * (off[own] / thick_m) ** 2
            there |= own
        return shade[:, None] * np.array(colour), there

    return paint


def _wood(x: Array, y: Array) -> tuple[Array, np.ndarray]:
    """A table's top."""
    grain = 0.03 * np.sin(60 * y + 3 * np.sin(7 * x)) + 0.02 * np.sin(300 * y + 11 * np.sin(3 * x))
    return np.array([0.58, 0.46, 0.33]) * (1 + grain)[:, None], np.ones(len(x), dtype=bool)


def _table() -> Patch:
    return Patch((0.0, 0.0, 0.25), X, BACK, (-0.9, -0.35, 0.9, 0.65), _wood)


def _dot(x: Array, y: Array) -> tuple[Array, np.ndarray]:
    """A round sticker with two dark quarters, that can be followed."""
    dark = (x > 0) == (y > 0)
    return np.where(dark, 0.1, 0.96)[:, None] * np.ones(3), np.hypot(x, y) <= DOT_M / 2


DOT_M = 0.016


def _sticker(x: float, y: float) -> Patch:
    half = DOT_M / 2
    return Patch((x, y, 0.001), X, Y, (-half, -half, half, half), _dot)


MAST_M, MAST_WIDE_M, MAST_X_M, LEAN_M = 0.537, 0.14, 0.12, 0.0113


def mast(number: int, lean_m: float = 0.0) -> list[Patch]:
    """A mast beside the standing card of a set, with a sticker near its top."""
    half, thick = MAST_WIDE_M / 2, 0.012
    rungs = np.linspace(thick / 2, MAST_M - thick / 2, 5)
    lines = [(s * half, 0.0, s * half, MAST_M) for s in (-1, 1)]
    lines += [(-half, y, half, y) for y in rungs]
    lines += [(-half, low, half, high) if i % 2 else (half, low, -half, high)
              for i, (low, high) in enumerate(pairwise(rungs))]  # fmt: skip
    box = (-half - thick / 2, 0.0, half + thick / 2, MAST_M)
    stand = cards(number)[0]
    # It turns about its foot.
    turn = math.asin(lean_m / MAST_TOP_M)
    right, up = (math.cos(turn), -math.sin(turn), 0.0), (math.sin(turn), math.cos(turn), 0.0)
    return [
        _table(),
        card_patch(stand, (-0.25, stand.height_m / 2 + 0.012, 0.0), X, Y),
        Patch((MAST_X_M, 0.0, 0.0), right, up, box, _sticks(lines, thick, (0.80, 0.66, 0.42))),
        _sticker(MAST_X_M + lean_m, math.cos(turn) * MAST_TOP_M),
    ]


MAST_TOP_M = MAST_M - 0.02
"""How high up the mast its sticker is."""
GAP_M, SAG_M = 0.318, 0.0047


def _deck(sag_m: float, gap_m: float) -> Paint:
    """A deck that hangs through, by a sine from support to support."""

    def paint(x: Array, y: Array) -> tuple[Array, np.ndarray]:
        over = np.clip((x - OVERLAP_M) / gap_m, 0.0, 1.0)
        own = y - DEEP_M + sag_m * np.sin(np.pi * over)
        return np.tile(np.array((0.86, 0.78, 0.58)), (len(x), 1)), (own >= 0) & (own <= DEEP_M)

    return paint


OVERLAP_M, DEEP_M = 0.03, 0.02


def gangway(number: int, sag_m: float = 0.0, gap_m: float = GAP_M) -> list[Patch]:
    """A deck over a gap, with the cards of a set on its supports and a sticker at midspan."""
    left, right = cards(number)[2:]
    block = (0.0, 0.0, 0.2, 0.16)
    return [
        _table(),
        Patch((-gap_m / 2 - 0.2, 0.0, 0.0), X, Y, block, plain(0.36, 0.40, 0.42)),
        Patch((gap_m / 2, 0.0, 0.0), X, Y, block, plain(0.36, 0.40, 0.42)),
        Patch(
            (-gap_m / 2 - OVERLAP_M, 0.16 - DEEP_M, 0.0),
            X,
            Y,
            (0.0, 0.0, gap_m + 2 * OVERLAP_M, 2 * DEEP_M),
            _deck(sag_m, gap_m),
        ),
        _sticker(0.0, 0.17 - sag_m),
        card_patch(left, (-gap_m / 2 - 0.1, 0.08, 0.001), X, Y),
        card_patch(right, (gap_m / 2 + 0.1, 0.08, 0.001), X, Y),
    ]


WALL_X_M = -0.12


def wall(number: int, _: float = 0.0, attacked: bool = False) -> list[Patch]:
    """A wall of blocks beside the standing card of a set, whole or attacked."""
    stand = cards(number)[0]
    return [
        _table(),
        card_patch(stand, (-0.25, stand.height_m / 2 + 0.012, 0.0), X, Y),
        Patch((WALL_X_M, 0.0, 0.0), X, Y, (0.0, 0.0, WALL_LONG_M, WALL_HIGH_M), bricks(attacked)),
    ]


def _of_wall(outlines: Sequence[Sequence[tuple[float, float]]]) -> list[tuple[float, float, float]]:
    return [(WALL_X_M + x, y, 0.0) for outline in outlines for x, y in outline]


SPREAD, NUT_M = 23, 0.022
"""How many nuts lie on the made-up sheet, and how wide one is across its corners [m]."""


def _spread() -> Array:
    """Where nuts lie (n, 3): x and y on the sheet [m], and how they are turned; some touch."""
    chance = np.random.default_rng(12)
    lying: list[tuple[float, float, float]] = []
    while len(lying) < SPREAD:
        x, y = chance.uniform((-0.12, -0.08), (0.12, 0.08))
        if len(lying) % 3 == 2:
            # Against the one before.
            way = chance.uniform(0, 2 * math.pi)
            x, y = lying[-1][0] + NUT_M * math.cos(way), lying[-1][1] + NUT_M * math.sin(way)
        apart = all(math.hypot(x - u, y - v) >= 0.99 * NUT_M for u, v, _ in lying)
        if apart and abs(x) < 0.125 and abs(y) < 0.085:
            lying.append((x, y, chance.uniform(0, 1)))
    return np.array(lying)


def _nuts(x: Array, y: Array) -> tuple[Array, np.ndarray]:
    """A sheet of paper with hex nuts on it, each with a narrow shadow."""
    lying = _spread()
    own = lying[spatial.cKDTree(lying[:, :2]).query(np.column_stack([x, y]), workers=1)[1]]
    dx, dy = (x - own[:, 0]) / (NUT_M / 2), (y - own[:, 1]) / (NUT_M / 2)
    far = np.hypot(dx, dy)
    around = np.mod(np.arctan2(dy, dx) + own[:, 2], math.pi / 3) - math.pi / 6
    metal = (far * np.cos(around) <= math.cos(math.pi / 6)) & (far >= 0.52)
    shade = (np.hypot(dx - 0.1, dy + 0.14) < 0.95) & (far > 0.5)
    light = np.where(metal, 0.55 + 0.14 * dy - 0.1 * dx + 0.1 * (far < 0.6), np.where(shade, 0.7, 1.0))
    colour = np.where(metal[:, None], (0.98, 1.0, 1.04), (0.90, 0.89, 0.86))
    return light[:, None] * colour, np.ones(len(x), dtype=bool)


def nuts(_: int, __: float = 0.0) -> list[Patch]:
    """Loose nuts on a sheet on the table, seen from above."""
    return [
        Patch((0.0, -0.001, 0.0), X, BACK, (-0.25, -0.2, 0.25, 0.2), plain(0.42, 0.33, 0.25)),
        Patch((0.0, 0.0, 0.0), X, BACK, (-0.1485, -0.105, 0.1485, 0.105), _nuts),
    ]


def _flat(number: int, _: float) -> list[Patch]:
    """The standing card of a set, which lies on something grey."""
    return [card_patch(cards(number)[0], (0.0, 0.0, 0.0), X, Y)]


_SMALL_PX = 1400
"""Pictures for a lens are smaller, because there are six of them."""


def _for_lens(place: tuple[float, float, float], target: tuple[float, float, float], roll_rad: float) -> StandIn:
    """A picture to calibrate the made-up tablet's lens with: the one that the others were taken through, too."""
    camera = replace(
        _AT_MAST, place=place, target=target, roll_rad=roll_rad, width_px=_SMALL_PX, height_px=_SMALL_PX * 3 // 4,
        focal_px=_AT_MAST.focal_px * _SMALL_PX / WIDE_PX,
    )  # fmt: skip
    return StandIn("The standing card, which lies flat", camera, _flat, {}, {})


_AT_SHEET = Camera((0.015, 0.34, 0.03), (0.0, 0.0, 0.0), 1600, 1200, 1368.0, -0.04, 0.003)
_AT_MAST = Camera((0.10, 0.42, 1.15), (-0.04, 0.27, 0.0), WIDE_PX, TALL_PX, 1710.0, -0.045, 0.004)
_AT_WALL = Camera((0.05, 0.36, 1.05), (0.05, 0.11, 0.0), WIDE_PX, TALL_PX, 1710.0, -0.045, 0.004)
_AT_GANGWAY = Camera((0.16, 0.34, 0.80), (0.0, 0.10, 0.0), WIDE_PX, TALL_PX, 1710.0, -0.05, 0.003)
STANDINS: Mapping[str, StandIn] = {
    "mast": StandIn(
        "A mast of dowels, with the standing card beside it",
        _AT_MAST,
        mast,
        {"height": MAST_M},
        {"height": ((0.12, 0.0, 0.0), (0.12, MAST_M, 0.0))},
    ),
    "gangway": StandIn(
        "A gangway over a gap, with the cards on its supports",
        _AT_GANGWAY,
        gangway,
        {"gap": GAP_M},
        {"gap": ((-GAP_M / 2, 0.1, 0.0), (GAP_M / 2, 0.1, 0.0))},
    ),
    # Somebody touched the tablet in between.
    "mast-leaning": StandIn(
        "The same mast, leaning to the right",
        replace(_AT_MAST, target=(-0.039, 0.2695, 0.0)),
        mast,
        {"lean": LEAN_M},
        {},
        gave=LEAN_M,
    ),
    "gangway-loaded": StandIn(
        "The same gangway, sagging",
        replace(_AT_GANGWAY, target=(0.0012, 0.1005, 0.0)),
        gangway,
        {"sag": SAG_M},
        {},
        gave=SAG_M,
    ),
    "wall": StandIn(
        "A wall of blocks before the attack, with the standing card beside it",
        _AT_WALL,
        wall,
        {"area": WALL_LONG_M * WALL_HIGH_M},
        {"area": _of_wall([[(0.0, 0.0), (WALL_LONG_M, 0.0), (WALL_LONG_M, WALL_HIGH_M), (0.0, WALL_HIGH_M)]])},
    ),
    "wall-attacked": StandIn(
        "What an attack left of the same wall",
        replace(_AT_WALL, place=(0.10, 0.34, 1.02)),
        partial(wall, attacked=True),
        {"area_left": left_m2()},
        {"area_left": _of_wall(left_outlines())},
        tuple(map(len, left_outlines())),
    ),
    "nuts": StandIn("Loose nuts on a sheet of paper", _AT_SHEET, nuts, {"count": SPREAD}, {}),
    # From above, from four sides, and with the card in a corner of the picture.
    "lens-1": _for_lens((0.0, 0.01, 0.30), (0.0, 0.0, 0.0), math.pi / 2),
    "lens-2": _for_lens((0.20, 0.0, 0.27), (0.0, 0.0, 0.0), math.pi / 2),
    "lens-3": _for_lens((-0.20, 0.0, 0.27), (0.0, 0.0, 0.0), math.pi / 2),
    "lens-4": _for_lens((0.0, 0.22, 0.30), (0.0, 0.01, 0.0), 0.0),
    "lens-5": _for_lens((0.0, -0.22, 0.30), (0.0, -0.01, 0.0), 0.0),
    "lens-6": _for_lens((0.06, 0.04, 0.31), (0.05, 0.035, 0.0), math.pi / 2),
}
"""By their keys."""


def made(key: str, number: int, gave: float | None = None) -> bytes:
    """A stand-in as the JPEG that a tablet would send, with a set's cards in it, that gave way so far [m]."""
    shown = STANDINS[key]
    return drawn(shown.camera, shown.patches(number, shown.gave if gave is None else gave), number)


def drawn(camera: Camera, patches: Sequence[Patch], seed: int) -> bytes:
    """What is there as the JPEG that a tablet would send."""
    spoilt = Spoilt(blur_px=0.7, noise=1.5, uneven=0.15)
    picture = render(camera, patches, seed, spoilt, (0.80, 0.81, 0.79), 2)
    data = io.BytesIO()
    told = Image.Exif()
    told[ExifTags.Base.Make], told[ExifTags.Base.Model] = TABLET.split()
    Image.fromarray(picture).save(data, "JPEG", quality=88, exif=told)
    return data.getvalue()


def standin(key: str, number: int, gave: float | None = None) -> bytes:
    """The same, made in a process of its own; what is none is not found."""
    if key not in STANDINS:
        raise Http404
    words = (key, str(number), str(STANDINS[key].gave if gave is None else gave))
    return read_aside("camera.standins", b"", *words, too_much=TOO_MUCH, seconds=_SECONDS)


if __name__ == "__main__":
    from evengirder.aside_child import answer

    answer(lambda _: made(sys.argv[1], int(sys.argv[2]), float(sys.argv[3])), MEMORY_BYTES)
