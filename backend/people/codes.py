"""Codes that people read to each other: no letter is taken for another, and case and dashes do not count."""

from __future__ import annotations

import hashlib
import re
import secrets

LETTERS = "abcdefghjkmnpqrstuvwxyz23456789"
"""Without those that look like others: thirty-one, 4.95 bits each."""
NEVER = "01ilo"
"""What is in no code, though it is often typed for what is."""


def new_code(groups: int, of: int) -> str:
    """A code that cannot be guessed, in groups with dashes between them."""
    return "-".join("".join(secrets.choice(LETTERS) for _ in range(of)) for _ in range(groups))


def mixed(code: str) -> str:
    """A code as it is kept (SHA-256)."""
    return hashlib.sha256(plain(code).encode()).hexdigest()


def plain(typed: str) -> str:
    """What of a typed code counts: letters and digits, in lower case."""
    return re.sub(r"[^a-z0-9]", "", typed.lower())
