"""A small OpenID Connect provider, as a school has one: everybody who comes is the person it was told to vouch for.

What it does is OpenID Connect Core 1.0 (3.1, the code flow) with PKCE (RFC 7636), as far as a client needs it.
"""

from __future__ import annotations

import base64
import hashlib
import json
import secrets
import threading
import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any, cast
from urllib.parse import parse_qs, urlencode, urlsplit

import jwt
from cryptography.hazmat.primitives.asymmetric import rsa

CLIENT, SECRET = "even-girder", "a secret between two servers"


class Provider(ThreadingHTTPServer):
    """The provider on a port of its own.

    Attributes:
        claims: what it says of whoever signs in.
        userinfo: what its second answer says, if that is another person.
        wrong: what it does not do as it should: ``"secret"``, ``"error"``, ``"down"``.
        asked: the queries with which people came.
    """

    daemon_threads = True

    def __init__(self, **claims: Any) -> None:
        super().__init__(("127.0.0.1", 0), _Answers)
        self.claims: dict[str, Any] = claims
        self.userinfo: dict[str, Any] | None = None
        self.wrong = ""
        self.asked: list[dict[str, str]] = []
        self.codes: dict[str, dict[str, str]] = {}
        self.key = rsa.generate_private_key(public_exponent=65537, key_size=2048)
        threading.Thread(target=self.serve_forever, daemon=True).start()

    @property
    def issuer(self) -> str:
        """Its address."""
        return f"http://127.0.0.1:{self.server_address[1]}"

    def end(self) -> None:
        """It is there no more."""
        self.shutdown()
        self.server_close()


class _Answers(BaseHTTPRequestHandler):
    @property
    def own(self) -> Provider:
        return cast(Provider, self.server)

    def log_message(self, *_: Any) -> None:
        """Nobody reads it."""

    def do_GET(self) -> None:
        at = urlsplit(self.path)
        asked = {name: values[0] for name, values in parse_qs(at.query).items()}
        issuer = self.own.issuer
        if self.own.wrong == "down":
            self.send_error(503)
        elif at.path == "/.well-known/openid-configuration":
            self.answer({
                "issuer": issuer, "authorization_endpoint": f"{issuer}/authorize", "token_endpoint": f"{issuer}/token",
                "userinfo_endpoint": f"{issuer}/userinfo", "jwks_uri": f"{issuer}/jwks",
                "response_types_supported": ["code"], "subject_types_supported": ["public"],
                "id_token_signing_alg_values_supported": ["RS256"],
                "token_endpoint_auth_methods_supported": ["client_secret_post"],
            })  # fmt: skip
        elif at.path == "/authorize":
            self.own.asked.append(asked)
            code = secrets.token_urlsafe(16)
            self.own.codes[code] = asked
            back = {"error": "access_denied"} if self.own.wrong == "error" else {"code": code}
            self.send_response(302)
            self.send_header("Location", f"{asked['redirect_uri']}?{urlencode({**back, 'state': asked['state']})}")
            self.end_headers()
        elif at.path == "/userinfo":
            self.answer(self.own.userinfo or self.own.claims)
        else:
            self.send_error(404)

    def do_POST(self) -> None:
        body = self.rfile.read(int(self.headers["Content-Length"])).decode()
        given = {name: values[0] for name, values in parse_qs(body).items()}
        # A code works once.
        asked = self.own.codes.pop(given.get("code", ""), None)
        challenge = base64.urlsafe_b64encode(hashlib.sha256(given.get("code_verifier", "").encode()).digest())
        right = (
            asked is not None
            and self.own.wrong != "secret"
            and (given.get("client_id"), given.get("client_secret")) == (CLIENT, SECRET)
            and given.get("redirect_uri") == asked["redirect_uri"]
            and challenge.rstrip(b"=").decode() == asked["code_challenge"]
        )
        if not right:
            self.answer({"error": "invalid_grant"}, 400)
            return
        now = int(time.time())
        said = {"iss": self.own.issuer, "aud": CLIENT, "iat": now, "exp": now + 300, **self.own.claims}
        token = jwt.encode(said, self.own.key, algorithm="RS256")
        self.answer({"access_token": secrets.token_urlsafe(8), "token_type": "Bearer", "id_token": token})

    def answer(self, what: dict[str, Any], status: int = 200) -> None:
        content = json.dumps(what).encode()
        self.send_response(status)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(content)))
        self.end_headers()
        self.wfile.write(content)
