"""How truly loose pieces are counted in made-up pictures: pictures counted exactly, pieces missed, dots too many, time.

    python benchmarks/counting.py --scenes 40 --seed 1 --wide 1600

Each picture has 5 to 60 pieces of one kind on a sheet, up to four fifths of them put against others, in all light:
shadows, one side darker, noise, unsharp. ``--fill`` puts 120 of them together in heaps. Prints a line for each kind.
"""

from __future__ import annotations

import argparse
import os
import sys
import time
from pathlib import Path

# One core, as the figures say.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

import cv2
import numpy as np

from camera.counting import loose_in
from camera.tests.spread import KINDS, Sheet, missed_and_extra, photographed, scattered, unsaid


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    asked.add_argument("--scenes", type=int, default=20)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--wide", type=int, default=1600)
    asked.add_argument("--fill", action="store_true")
    told = asked.parse_args()
    cv2.setNumThreads(1)
    for kind in KINDS:
        print(_line(kind, told), flush=True)


def _line(kind: str, told: argparse.Namespace) -> str:
    exact = every = missed = extra = doubted = silent = 0
    seconds = []
    for i in range(told.scenes):
        chance = np.random.default_rng([told.seed, i, KINDS.index(kind)])
        sheet = Sheet(
            told.wide, told.wide * 3 // 4, shadow=chance.uniform(0.1, 0.5), uneven=chance.uniform(0, 0.5),
            noise=chance.uniform(1, 8), blur=chance.uniform(0.5, 2.0),
        )  # fmt: skip
        r = told.wide / 1600 * chance.uniform(14, 40)
        count, touching = int(chance.integers(5, 61)), chance.uniform(0, 0.8)
        if told.fill:
            count, touching, r = 120, 0.95, told.wide / 1600 * 24
        lying = scattered(chance, count, (r, r), touching, sheet)
        picture = photographed(chance, kind, lying, sheet)
        began = time.process_time()
        pieces = loose_in(picture).pieces
        seconds.append(time.process_time() - began)
        gone, more = missed_and_extra(pieces, lying)
        exact += gone == more == 0
        every, missed, extra = every + len(lying), missed + gone, extra + more
        doubted += sum(piece.doubt is not None for piece in pieces)
        silent += unsaid(pieces, lying) > 0
    return (
        f"{kind}: exactly {exact} of {told.scenes}; of {every} pieces {missed} missed, {extra} dots too many, "
        f"{doubted} in doubt; something wrong and not asked about in {silent}; "
        f"{np.median(seconds):.2f} s of processor time, 95 % {np.quantile(seconds, 0.95):.2f} s"
    )


if __name__ == "__main__":
    main()
