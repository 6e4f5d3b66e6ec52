"""What is drawn over a picture so that somebody sees what the program took for the plane: the rims of cards, a grid."""

from __future__ import annotations

import numpy as np

from girder_core.photo.cards import PAPER_M
from girder_core.photo.frame import Array
from girder_core.photo.view import View

MOST_LINES = 60
_ALONG = 25


def rim_of(view: View, card: int) -> Array:
    """The rim of a card's paper.

    Args:
        view: where the camera stood.
        card: its place among the view's cards.
    Returns:
        (n, 2) once round it [px].
    """
    wide, high = view.cards[card].width_m / 2 + PAPER_M, view.cards[card].height_m / 2 + PAPER_M
    share = np.linspace(-1, 1, 7)[:-1]
    sides = [np.column_stack([share * wide, np.full(6, -high)]), np.column_stack([np.full(6, wide), share * high])]
    return view.pixels(view.on_plane(card, np.concatenate([*sides, *(-side for side in sides)])))


def plane_grid(view: View, step_m: float) -> list[Array]:
    """Lines at even distances in the plane of the cards, as far as the picture shows them.

    Args:
        view: where the camera stood.
        step_m: from one to the next [m], as if the cards were printed at their size.
    Returns:
        Each line as (n, 2) points [px].
    """
    reach = step_m * min(MOST_LINES // 4, int(np.ceil(1.6 * view.away_m / step_m)))
    places = np.arange(-reach, reach + step_m / 2, step_m)
    run = np.linspace(-reach, reach, 4 * _ALONG)
    lines = []
    for across in (0, 1):
        for place in places:
            points = np.column_stack([run, np.full(len(run), place)])[:, :: 1 if across else -1]
            shown = points[view.shows(points)]
            if len(shown) > 1:
                lines.append(view.pixels(shown)[:: max(1, len(shown) // _ALONG)])
    return lines
