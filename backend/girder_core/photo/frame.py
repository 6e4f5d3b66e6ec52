"""A picture that is measured in, and the marks that were seen in it."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

SHAPE = 0.005
"""A picture whose sides are in another ratio, by more than this share, shows another part of what the lens does [-]."""


@dataclass(frozen=True)
class Seen:
    """A mark in a picture: its id and its corners [px], from its own top left one clockwise, x right and y down."""

    id: int
    corners: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Frame:
    """The picture that marks were seen in.

    Attributes:
        width_px, height_px: its size.
        focal_px: the focal length that the camera told [px]; None where nobody knows it.
        camera: what the camera calls itself, and which of its lenses it was; empty where it says nothing.
    """

    width_px: int
    height_px: int
    focal_px: float | None = None
    camera: str = ""

    @property
    def middle(self) -> Array:
        """Its middle [px]; whole numbers are the middles of pixels."""
        return np.array([(self.width_px - 1) / 2, (self.height_px - 1) / 2])

    @property
    def long_px(self) -> int:
        """Its long side [px]."""
        return max(self.width_px, self.height_px)

    @property
    def shape(self) -> float:
        """Its long side by its short one [-]."""
        return self.long_px / max(1, min(self.width_px, self.height_px))

    def taken_like(self, camera: str, shape: float) -> bool:
        """Whether it may have been taken by this camera, whose pictures are so long by so high [-]."""
        return self.camera == camera and abs(self.shape / shape - 1) <= SHAPE

    @property
    def half_diagonal_px(self) -> float:
        """From its middle to a corner [px]."""
        return math.hypot(self.width_px, self.height_px) / 2
