"""How true lengths are that are measured in made-up pictures: cards found, errors, what the stated ranges hold, time.

    python benchmarks/photo.py --scenes 200 --seed 1 --wide 4000

Each scene has one card or four in one plane, seen at up to 50° from aside, through a lens that bends, unsharp, noisy,
unevenly lit, printed at 97 to 103 %. Two points of the plane are measured whose distance is known; where they are in
the picture is known but for ``--pointing`` pixels. Prints one line for each number of cards.
"""

from __future__ import annotations

import argparse
import math
import os
import sys
import time
from pathlib import Path
from typing import Any

# One core, as the figures say.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

import cv2
import numpy as np

from camera.detector import marks_in
from camera.scenes import Camera, Spoilt, card_patch, render
from girder_core.ground import GirderError
from girder_core.measure import COVERAGE_FACTOR, Quantity
from girder_core.photo import SETS, Frame, Pointed, cards, length, see

Scene = tuple[Any, Camera, Any, set[int], float]


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    asked.add_argument("--scenes", type=int, default=100)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--wide", type=int, default=4000)
    asked.add_argument("--pointing", type=float, default=0.5)
    told = asked.parse_args()
    cv2.setNumThreads(1)
    for count in (1, 4):
        print(_line(count, told), flush=True)


def _line(count: int, told: argparse.Namespace) -> str:
    chance = np.random.default_rng([told.seed, count])
    wide, tall = told.wide, told.wide * 3 // 4
    missed = wrong = inside = good = done = refused = 0
    errors, seconds, stated = [], [], []
    while done < told.scenes:
        scene = _scene(chance, count, wide, tall)
        if scene is None:
            continue
        done += 1
        picture, camera, ends, own, printed = scene
        grey: Any = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
        began = time.process_time()
        found = marks_in(grey)
        wrong += sum(mark.id not in own for mark in found)
        missed += not found
        if not found:
            continue
        true = float(np.linalg.norm(ends[0] - ends[1]))
        pixels = camera.pixels(ends) + chance.normal(0, told.pointing, (2, 2)) if told.pointing else camera.pixels(ends)
        try:
            view = see(found, Frame(wide, tall))
            size = length(view, Pointed(tuple(map(tuple, pixels)), told.pointing), Quantity(printed)).quantity
        except GirderError as error:
            refused += 1
            print(error.code, error.data)
            continue
        seconds.append(time.process_time() - began)
        off = abs(size.value - true)
        errors.append(off / true)
        stated.append(COVERAGE_FACTOR * size.standard_uncertainty / true)
        inside += off <= COVERAGE_FACTOR * size.standard_uncertainty
        good += off <= (0.01 * true + 1e-3 if count == 1 else 0.004 * true + 0.5e-3)
    n = len(errors)
    return (
        f"{count} card(s): found {100 * (done - missed) / done:.1f} %, wrong ids {wrong}, refused {refused}; "
        f"within what is asked {100 * good / n:.1f} %; error 50 % {100 * np.median(errors):.3f} %, "
        f"95 % {100 * np.quantile(errors, 0.95):.3f} %; stated ±{100 * np.median(stated):.3f} %, "
        f"holding {100 * inside / n:.1f} %; {np.median(seconds):.2f} s of processor time, "
        f"95 % {np.quantile(seconds, 0.95):.2f} s"
    )


def _scene(chance: Any, count: int, wide: int, tall: int) -> Scene | None:
    """A picture, its camera, the two ends [m], the ids of its marks, and how large they were printed; None if cut."""
    tilt, round_ = math.radians(chance.uniform(0, 50)), chance.uniform(0, 2 * math.pi)
    far = chance.uniform(0.5, 1.6)
    place = far * np.array([math.sin(tilt) * math.cos(round_), math.sin(tilt) * math.sin(round_), math.cos(tilt)])
    camera = Camera(
        tuple(place), (0, 0, 0), wide, tall, wide * chance.uniform(0.65, 1.05), chance.uniform(-0.12, 0.08),
        chance.uniform(-0.02, 0.02), chance.uniform(-0.4, 0.4),
    )  # fmt: skip
    printed = chance.uniform(0.97, 1.03)
    number = int(chance.integers(1, SETS + 1))
    chosen = cards(number)[:4] if count == 4 else (cards(number)[chance.integers(0, 2)],)
    patches, corners = [], []
    for card in chosen:
        (x, y), turn = chance.uniform([-0.4, -0.3], [0.4, 0.3]), chance.uniform(-0.3, 0.3)
        c, s = math.cos(turn), math.sin(turn)
        patch = card_patch(card, (x, y, 0.0), (c, s, 0.0), (-s, c, 0.0), printed)
        patches.append(patch)
        corners.append(np.array([patch.at(printed * u, printed * v) for m in card.marks for u, v in m.corners]))
    middles = np.array([patch.origin for patch in patches])
    sizes = np.array([math.hypot(card.width_m, card.height_m) / 2 + 0.01 for card in chosen])
    for i in range(count):
        for j in range(i):
            if np.linalg.norm(middles[i] - middles[j]) < sizes[i] + sizes[j]:
                return None
    way, half = chance.uniform(0, math.pi), chance.uniform(0.05, 0.4)
    middle = chance.uniform([-0.15, -0.1], [0.15, 0.1])
    ends = np.array([[*(middle + k * half * np.array([math.cos(way), math.sin(way)])), 0.0] for k in (-1, 1)])
    shown = camera.pixels(np.concatenate([*corners, ends]))
    if (shown < 8).any() or (shown > np.array([wide, tall]) - 8).any():
        return None
    if count == 4 and np.ptp(shown[:-2], axis=0).max() < 0.3 * wide:
        return None
    spoilt = Spoilt(
        blur_px=chance.uniform(0.5, 2.0) * wide / 4000, noise=chance.uniform(1, 6), uneven=chance.uniform(0, 0.6),
        light=chance.uniform(0.5, 1.0),
    )  # fmt: skip
    picture = render(camera, patches, int(chance.integers(1 << 30)), spoilt)
    return picture, camera, ends, {mark.id for card in chosen for mark in card.marks}, printed


if __name__ == "__main__":
    main()
