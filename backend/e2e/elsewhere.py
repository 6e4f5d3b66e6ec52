"""What another device in the network can do: ``python -m e2e.elsewhere ADDRESS [AUTHORITY]``, with what it is to try as
JSON on its standard input; says as JSON how each was answered."""

from __future__ import annotations

import json
import ssl
import sys
import urllib.error
import urllib.request
from http.cookiejar import CookieJar
from typing import Any


class Device:
    """A browser's manners in little: it keeps cookies, says where it comes from, and hands the token back."""

    def __init__(self, address: str, authority: str = "") -> None:
        self.address, self.cookies = address, CookieJar()
        context = ssl.create_default_context(cafile=authority or None)
        self._opener = urllib.request.build_opener(
            urllib.request.HTTPCookieProcessor(self.cookies), urllib.request.HTTPSHandler(context=context)
        )

    def ask(self, method: str, path: str, body: Any = None) -> dict[str, Any]:
        """Status, JSON of the answer where it is any, and headers; ``refused`` where there was no answer at all."""
        token = next((one.value or "" for one in self.cookies if one.name == "csrftoken"), "")
        headers = {"Content-Type": "application/json", "Origin": self.address, "X-CSRFToken": token,
                   "Referer": f"{self.address}/"}  # fmt: skip
        data = None if body is None else json.dumps(body).encode()
        asked = urllib.request.Request(self.address + path, data, headers, method=method)
        try:
            with self._opener.open(asked, timeout=60) as answer:
                return _told(answer.status, answer.read(), answer.headers)
        except urllib.error.HTTPError as error:
            return _told(error.code, error.read(), error.headers)
        except urllib.error.URLError as error:
            return {"refused": type(error.reason).__name__}


def _told(status: int, text: bytes, headers: Any) -> dict[str, Any]:
    try:
        said = json.loads(text)
    except ValueError:
        said = text.decode(errors="replace")
    return {"status": status, "said": said, "headers": {name.lower(): value for name, value in headers.items()}}


if __name__ == "__main__":
    device = Device(*sys.argv[1:])
    print(json.dumps([device.ask(*request) for request in json.load(sys.stdin)]))
