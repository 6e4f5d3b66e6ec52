"""A picture that is measured in, as it comes from a camera: what is in it, and a small copy with what was pointed at.

Runs in a process of its own (``evengirder.aside``). Its words are the lines to draw, as JSON: ``[[[x, y], …], …]`` in
pixels of the upright picture, none for a first look.
"""

from __future__ import annotations

import json
import math
import sys
from collections.abc import Sequence
from datetime import date

import cv2
import numpy as np
from PIL import ExifTags, Image, ImageDraw, ImageOps

from camera.detector import Grey, hidden_marks, marks_in, mirrored, screen_steps, segments_in, sharpness
from camera.found import CAMERA_NAME, MEMORY_BYTES, Found, Line, packed
from designs.picture_file import LONGEST_SIDE, opened, written_anew
from girder_core.ground import GirderError
from girder_core.photo import Frame, Hidden, Look, see

WORKING_PX = 4096
"""A picture is looked at with no longer side than this: 12 megapixels stay whole."""
_DIAGONAL_MM = math.hypot(36, 24)


def looked(data: bytes) -> tuple[Image.Image, Grey, Look, date | None]:
    """Look at a picture: it itself, upright, its grey values, what is in it, and the day that its camera wrote into it.

    Errors: ``bad_photo``.
    """
    picture, taken, focal_mm, camera = upright(data)
    wide, tall = picture.size
    grey: Grey = np.asarray(picture.convert("L"))
    frame = Frame(wide, tall, focal_mm / _DIAGONAL_MM * math.hypot(wide, tall) if focal_mm else None, camera)
    marks = tuple(marks_in(grey))
    hidden: dict[int, Hidden] = {}
    steps = 0.0
    if marks:
        try:
            view = see(marks, frame)
        except GirderError:
            # Whoever judges says so.
            pass
        else:
            hidden, steps = hidden_marks(grey, view), screen_steps(grey, view)
    look = Look(
        frame, marks, float(np.percentile(grey[::4, ::4], 98)) / 255, sharpness(grey), not marks and mirrored(grey),
        steps, hidden, tuple(segments_in(grey)) if marks else (),
    )  # fmt: skip
    return picture, grey, look, taken


def found_in(data: bytes, lines: Sequence[Line]) -> Found:
    """Look at a picture, and make a small copy with what was pointed at.

    Args:
        data: the file.
        lines: what was pointed at.
    Errors:
        ``bad_photo``.
    """
    picture, _, look, taken = looked(data)
    return Found(look, taken, *small_of(picture, lines))


def small_of(picture: Image.Image, lines: Sequence[Line]) -> tuple[bytes, int, int]:
    """A copy as photographs are kept, with what was pointed at drawn into it, and its size [px]."""
    factor = min(1.0, LONGEST_SIDE / max(picture.size))
    small = picture.copy()
    small.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    _draw(small, [[(x * factor, y * factor) for x, y in line] for line in lines])
    return written_anew(small), *small.size


def upright(data: bytes) -> tuple[Image.Image, date | None, float, str]:
    """The picture, upright and no larger than it is looked at; when it was taken, its focal length [mm of 35], and what
    the camera and its lens call themselves."""
    with opened(data) as picture:
        first = picture.getexif()
        told = first.get_ifd(ExifTags.IFD.Exif)
        # One that was cut to a part of itself has another focal length than its camera says.
        whole = told.get(ExifTags.Base.ExifImageWidth, picture.width) == picture.width
        if max(picture.size) > 1.5 * WORKING_PX:
            # The decoder itself leaves out what is not looked at.
            picture.draft("RGB", (WORKING_PX // 2, WORKING_PX // 2))
        plain = picture if picture.mode == "RGB" else picture.convert("RGB")
        plain.thumbnail((WORKING_PX, WORKING_PX))
        return ImageOps.exif_transpose(plain), _day(told), _focal(told, whole), _camera(first, told)


def _day(told: dict[int, object]) -> date | None:
    try:
        return date.fromisoformat(str(told.get(ExifTags.Base.DateTimeOriginal, ""))[:10].replace(":", "-"))
    except ValueError:
        return None


def _camera(first: Image.Exif, told: dict[int, object]) -> str:
    """Its maker, its model and the focal length of the lens, which tell one tablet's lenses apart; empty where it says
    nothing."""
    parts = [first.get(ExifTags.Base.Make), first.get(ExifTags.Base.Model), told.get(ExifTags.Base.FocalLength)]
    said = " ".join(" ".join(str(part).split()) for part in parts if part not in (None, ""))
    return "".join(letter for letter in said if letter.isprintable())[:CAMERA_NAME]


def _focal(told: dict[int, object], whole: bool) -> float:
    if not whole:
        return 0.0
    try:
        focal = float(str(told.get(ExifTags.Base.FocalLengthIn35mmFilm, 0)))
    except ValueError:
        return 0.0
    return focal if 10 <= focal <= 200 else 0.0


_LINE, _RIM = (176, 58, 36), (255, 252, 244)


def _draw(picture: Image.Image, lines: list[list[tuple[float, float]]]) -> None:
    pen = ImageDraw.Draw(picture)
    for colour, width in ((_RIM, 7), (_LINE, 3)):
        for line in lines:
            if len(line) > 1:
                pen.line(line, fill=colour, width=width, joint="curve")
            for x, y in line:
                pen.ellipse((x - 9, y - 9, x + 9, y + 9), outline=colour, width=width)


if __name__ == "__main__":
    from evengirder.aside_child import answer

    cv2.setNumThreads(1)
    answer(lambda data: packed(found_in(data, json.loads(sys.argv[1]))), MEMORY_BYTES)
