"""The page before the door: how a tablet comes to trust this server's certificates. Served without encryption, because
whoever reads it does not trust them yet; it holds nothing that is secret, and takes nothing."""

from __future__ import annotations

import os
from collections.abc import Awaitable, Callable, MutableMapping
from html import escape
from pathlib import Path
from typing import Any

from cryptography import x509

from doorstep.authority import fingerprint_of

Scope = MutableMapping[str, Any]
Send = Callable[[MutableMapping[str, Any]], Awaitable[None]]
Receive = Callable[[], Awaitable[MutableMapping[str, Any]]]

AUTHORITY = "/even-girder-authority.crt"
POLICY = "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"

STEPS = (
    (
        "iPad, iPhone",
        (
            "Open this page in Safari, touch “Get the certificate”, and allow it.",
            "In Settings, at the top, touch “Profile Downloaded”, then Install.",
            "In Settings, General, About, Certificate Trust Settings, switch it on.",
        ),
    ),
    (
        "Android",
        (
            "Touch “Get the certificate”.",
            "In Settings, look for “certificate”, and choose to install a CA certificate from the storage.",
            "Pick the file; the tablet warns, which is right: read the fingerprint below first.",
        ),
    ),
    (
        "Chromebook, Windows, Mac",
        (
            "Get the certificate, and open it.",
            "Install it as a trusted root authority: on Windows for the current user, on a Mac in Keychain Access "
            "(then set it to “Always Trust”), on a Chromebook under Privacy and security, Manage certificates.",
            "Firefox has a list of its own: Settings, look for “certificates”, Authorities, Import.",
        ),
    ),
)


def page_of(certificate: x509.Certificate, secure: str) -> str:
    """The page, for an authority and the address that is to be opened once it is trusted."""
    ways = "".join(
        f"<section><h2>{escape(name)}</h2><ol>{''.join(f'<li>{escape(step)}</li>' for step in steps)}</ol></section>"
        for name, steps in STEPS
    )
    ends = certificate.not_valid_after_utc.strftime("%Y-%m-%d")
    return f"""<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>Even Girder: trust this server</title>
<style>
body {{ font: 1.05rem/1.5 system-ui, sans-serif; background: #f7f3ea; color: #22303a; margin: 0; padding: 1.5rem; }}
main {{ max-width: 46rem; margin: auto; }}
h1 {{ font-size: 1.7rem; margin: 0 0 .5rem; }} h2 {{ font-size: 1.15rem; margin: 1.25rem 0 .25rem; }}
ol {{ margin: 0; padding-left: 1.4rem; }}
a.does {{ display: inline-block; padding: .7rem 1.2rem; border-radius: 4px; background: #9c3d2a; color: #fff;
  text-decoration: none; font-weight: 600; margin: .5rem .75rem .5rem 0; }}
a.then {{ color: #9c3d2a; font-weight: 600; }}
code {{ font: .95rem/1.6 ui-monospace, monospace; overflow-wrap: anywhere; }}
.soft {{ color: #4c5a63; }}
</style></head><body><main>
<h1>Let this tablet trust Even Girder</h1>
<p>What goes between this tablet and Even Girder is encrypted. The certificate for it was made by the machine in your
school that serves it, so a tablet has to be told once that it may be trusted.</p>
<p><a class="does" href="{AUTHORITY}">Get the certificate</a>
<a class="then" href="{escape(secure)}">It is installed: open Even Girder</a></p>
{ways}
<h2>Is it the right one?</h2>
<p>The fingerprint (SHA-256) that the tablet shows must be the one that the machine printed when it was started:</p>
<p><code>{fingerprint_of(certificate)}</code></p>
<p class="soft">It is good until {ends}, for addresses of local networks and this machine's name alone: it cannot be
used to pass for any other site. On tablets that your school manages, ask who manages them to install it; its rules come
first. To be rid of it, remove it in the same place.</p>
</main></body></html>"""


class Doorstep:
    """The ASGI application: the page, the certificate, and nothing else."""

    def __init__(self, certificate: Path, port: int) -> None:
        self._file = certificate.read_bytes()
        self._certificate = x509.load_pem_x509_certificate(self._file)
        self._port = port

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one request."""
        if scope["type"] != "http":
            return
        if scope["method"] not in ("GET", "HEAD"):
            await _answer(send, 405, "text/plain", b"Only to be read.")
        elif scope["path"] == AUTHORITY:
            await _answer(send, 200, "application/x-x509-ca-cert", self._file)
        elif scope["path"] == "/":
            page = page_of(self._certificate, f"https://{_asked_as(scope)}:{self._port}")
            await _answer(send, 200, "text/html; charset=utf-8", page.encode())
        else:
            await _answer(send, 404, "text/plain", b"There is nothing here but the first page.")


def _asked_as(scope: Scope) -> str:
    """By which address the server was asked, from the connection itself: what a browser says of it is not repeated."""
    server = scope.get("server")
    return str(server[0]) if server else "127.0.0.1"


async def _answer(send: Send, status: int, kind: str, body: bytes) -> None:
    headers = [
        (b"content-type", kind.encode()), (b"content-length", str(len(body)).encode()), (b"cache-control", b"no-store"),
        (b"content-security-policy", POLICY.encode()), (b"x-content-type-options", b"nosniff"),
    ]  # fmt: skip
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": body})


def application() -> Doorstep:
    """As the launcher has it served: ``GIRDER_AUTHORITY`` is the file, ``GIRDER_PORT`` where the server listens."""
    return Doorstep(Path(os.environ["GIRDER_AUTHORITY"]), int(os.environ["GIRDER_PORT"]))
