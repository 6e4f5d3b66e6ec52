"""How true sags and leans are that are followed in pairs of made-up pictures: errors, what stated ranges hold, time.

    python benchmarks/motion.py --pairs 40 --seed 1 --wide 4000

Each pair shows the made-up gangway or mast from 0.8 to 1.5 m, before and after it came down or leaned by up to 12 mm,
through a lens that bends, each unsharp, noisy, unevenly and differently lit. In between the tablet stood still, was
touched (by a thousandth of its distance), or was held by hand (by a hundredth). Prints one line for each of the three.
"""

from __future__ import annotations

import argparse
import math
import os
import sys
import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

# One core, as the figures say.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

import cv2
import numpy as np

from camera.detector import marks_in
from camera.following import followed
from camera.scenes import Camera, Patch, Spoilt, render
from camera.standins import MAST_TOP_M, MAST_X_M, STANDINS, gangway, mast
from girder_core.ground import GirderError
from girder_core.measure import COVERAGE_FACTOR, Quantity
from girder_core.photo import Followed, Frame, Way, camera_moved, see, shifted

HELD = {"stood still": 0.0, "was touched": 1e-3, "was held by hand": 1e-2}
SEEN: dict[Way, tuple[Camera, Callable[[int, float], Sequence[Patch]], tuple[float, float, float]]] = {
    Way.DOWN: (STANDINS["gangway"].camera, gangway, (0.0, 0.17, 0.001)),
    Way.ASIDE: (STANDINS["mast"].camera, mast, (MAST_X_M, MAST_TOP_M, 0.001)),
}


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    asked.add_argument("--pairs", type=int, default=40)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--wide", type=int, default=4000)
    told = asked.parse_args()
    cv2.setNumThreads(1)
    for words, held in HELD.items():
        print(_line(words, held, told), flush=True)


def _line(words: str, held: float, told: argparse.Namespace) -> str:
    chance = np.random.default_rng([told.seed, int(1e6 * held)])
    errors, stated, seconds, refused = [], [], [], 0
    for i in range(told.pairs):
        way = (Way.DOWN, Way.ASIDE)[i % 2]
        camera, patches, dot = SEEN[way]
        far = chance.uniform(0.9, 1.35)
        place = np.array(camera.target) + far * (np.array(camera.place) - np.array(camera.target))
        camera = replace(
            camera, width_px=told.wide, height_px=told.wide * 3 // 4, place=tuple(place + chance.normal(0, 0.03, 3)),
            focal_px=camera.focal_px * told.wide / camera.width_px * chance.uniform(0.9, 1.15),
            k1=chance.uniform(-0.08, 0.06), k2=chance.uniform(-0.01, 0.01), roll_rad=chance.normal(0, 0.02),
        )  # fmt: skip
        later = replace(
            camera, place=tuple(np.array(camera.place) + chance.normal(0, held, 3)),
            target=tuple(np.array(camera.target) + chance.normal(0, held, 3)),
            roll_rad=camera.roll_rad + chance.normal(0, held / 2),
        )  # fmt: skip
        true = chance.uniform(0, 0.012)
        one, other = (_grey(chance, which, patches(3, by)) for which, by in ((camera, 0.0), (later, true)))
        at = camera.pixels(np.array([dot]))[0] + chance.normal(0, 1, 2)
        began = time.process_time()
        try:
            before, after = marks_in(one), marks_in(other)
            view = see(before, Frame(camera.width_px, camera.height_px))
            shaken = camera_moved(view, before, after)
            there = followed(one, other, at, shaken.still_at(view, at))
            point = Followed((float(at[0]), float(at[1])), there.point, there.spread)
            size = shifted(view, shaken, point, way, Quantity(0.0, 0.001), Quantity(1.0)).quantity
        except GirderError as error:
            refused += 1
            print(error.code, error.data)
            continue
        seconds.append(time.process_time() - began)
        errors.append(abs(size.value - true))
        stated.append(COVERAGE_FACTOR * size.standard_uncertainty)
    inside = sum(off <= range_ for off, range_ in zip(errors, stated, strict=True))
    return (
        f"{words}: refused {refused}; error 50 % {1000 * np.median(errors):.3f} mm, "
        f"95 % {1000 * np.quantile(errors, 0.95):.3f} mm; stated ±{1000 * np.median(stated):.3f} mm, holding "
        f"{100 * inside / len(errors):.0f} %; {np.median(seconds):.2f} s of processor time, "
        f"95 % {np.quantile(seconds, 0.95):.2f} s"
    )


def _grey(chance: np.random.Generator, camera: Camera, patches: Any) -> Any:
    spoilt = Spoilt(
        blur_px=chance.uniform(0.5, 1.3) * math.sqrt(camera.width_px / 2000), noise=chance.uniform(1, 5),
        uneven=chance.uniform(0, 0.4), light=chance.uniform(0.8, 1.05),
    )  # fmt: skip
    picture = render(camera, patches, int(chance.integers(1 << 30)), spoilt, (0.8, 0.81, 0.79), 2)
    return cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)


if __name__ == "__main__":
    main()
