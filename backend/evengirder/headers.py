"""Response headers that every answer carries: pages, files of the interface, the API, refusals at the door."""

from __future__ import annotations

_POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "object-src 'none'; base-uri 'self'; frame-ancestors 'none'; form-action 'self'"
)
"""Everything from this server alone. Inline styles stay allowed: the interface's style library writes them."""

HEADERS: tuple[tuple[bytes, bytes], ...] = (
    (b"content-security-policy", _POLICY.encode()),
    (b"x-content-type-options", b"nosniff"),
    (b"x-frame-options", b"DENY"),
    (b"referrer-policy", b"same-origin"),
    (b"cross-origin-opener-policy", b"same-origin"),
)
"""An answer that has one of them already keeps its own."""
