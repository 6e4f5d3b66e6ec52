"""What is known of a lens before a picture is looked at: of any tablet's, and of one that was calibrated.

Calibrated are its focal length and how it bends lines, which are the same whichever way up the tablet is held. Where
its middle lies and how far it is askew turn with the tablet, and a lens that is held steady by springs moves its middle
from picture to picture; so those stay as open as anybody's.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from scipy.stats import chi2

from girder_core.photo.frame import Array, Frame

BENT_1, BENT_2, OFF_MIDDLE, ASKEW = 0.08, 0.03, 0.004, 0.0005
"""Standard deviations of what is known of a lens that nobody calibrated: its two terms of distortion at half the
picture's diagonal [-], how far its middle is from that of the picture (as a share of its long side) [-], and the two
terms of one that is not square to its picture [-]; ours."""
FOCAL_SHARE, FOCAL_OPEN, FOCAL_TOLD = 0.85, 0.35, 0.04
"""The focal length of a camera nobody knows, as a share of the picture's long side, and how far it may be off (as a
logarithm), unknown and told by the camera [-]."""
FOCUSED = (0.01, 0.002, 0.002)
"""How far one lens differs from picture to picture as it focuses: its focal length (as a logarithm) and its two terms
of distortion [-]. Of a thin lens of 4 mm the first is 1 % longer at 0.3 m than at 1 m; the terms are ours."""
CALIBRATED = 3
"""The focal length and two terms of distortion are what is calibrated."""
UNLIKELY = float(chi2.ppf(0.999, CALIBRATED))
"""A picture is so far from a lens by chance once in a thousand times [-]."""


@dataclass(frozen=True)
class Lens:
    """A tablet's lens, as several pictures of cards told it.

    Attributes:
        known: the logarithm of its focal length as a share of the picture's long side, and its two terms of distortion
            [-].
        covariance: of these.
        shape: the picture's long side by its short one [-].
        camera: what the camera calls itself; empty where it says nothing.
    """

    known: tuple[float, float, float]
    covariance: tuple[tuple[float, float, float], ...]
    shape: float
    camera: str = ""

    def takes(self, frame: Frame) -> bool:
        """Whether a picture like this may be one of its own."""
        return frame.taken_like(self.camera, self.shape)

    def in_one_picture(self) -> Array:
        """What it may be off by in a single picture, (3, 3)."""
        widened: Array = np.array(self.covariance) + np.diag(np.square(FOCUSED))
        return widened


def known_before(frame: Frame, lens: Lens | None = None) -> tuple[Array, Array]:
    """What is known of the lens of a picture beforehand.

    Args:
        frame: the picture.
        lens: the tablet's, where it was calibrated.
    Returns:
        (7,) the parameters of the lens, in the order and units of ``View.known``, and (7, 7) their covariance.
    """
    long = frame.long_px
    focal, open_ = (frame.focal_px, FOCAL_TOLD) if frame.focal_px else (FOCAL_SHARE * long, FOCAL_OPEN)
    known = np.array([math.log(focal), *[0.0] * 6])
    covariance = np.diag(np.square([open_, BENT_1, BENT_2, *[OFF_MIDDLE * long] * 2, *[ASKEW] * 2]))
    if lens is not None:
        known[:CALIBRATED] = lens.known
        known[0] += math.log(long)
        covariance[:CALIBRATED, :CALIBRATED] = lens.in_one_picture()
    return known, covariance
