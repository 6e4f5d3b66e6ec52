"""What a teacher does with a run's board."""

from __future__ import annotations

from challenges.models import Run
from live.models import Board, new_token


def open_board(run: Run) -> Board:
    """The board of a run; the same link as long as it is open."""
    return Board.objects.get_or_create(run=run)[0]


def renew_board(run: Run) -> Board:
    """A new link; whoever has the old one sees nothing from now on."""
    board = open_board(run)
    board.token = new_token()
    board.save(update_fields=["token"])
    return board


def close_board(run: Run) -> None:
    """Take the link back."""
    Board.objects.filter(run=run).delete()


def show_screen(run: Run, screen: str) -> Board:
    """Put one of its screens on."""
    board = open_board(run)
    board.screen = screen
    board.save(update_fields=["screen"])
    return board
