"""The board of a run: a link that shows and cannot change anything, and which of its screens is on."""

from __future__ import annotations

import secrets

from django.db import models

from challenges.models import Run

MOTION = "motion"
SCREENS = [
    ("bench", "The bench"), ("ranking", "Ranking so far"), ("brief", "The brief"), ("clock", "The build clock"),
    ("cautions", "Cautions"), ("photos", "Photographs"), (MOTION, "In motion"),
]  # fmt: skip


def new_token() -> str:
    """A token that cannot be guessed."""
    return secrets.token_urlsafe(16)


class Board(models.Model):
    """Read-only link to a run. Whoever has the token sees the board; a new token shuts out the old one."""

    run = models.OneToOneField(Run, on_delete=models.CASCADE, related_name="board")
    token = models.CharField(max_length=40, unique=True, default=new_token)
    screen = models.CharField(max_length=12, choices=SCREENS, default="bench")
    opened_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"board of {self.run}"
