"""How long a draft takes over HTTP: ``python benchmarks/drafting.py ADDRESS EMAIL PASSWORD [ROUNDS]``.

Against a server that ``./girder start`` runs on this machine; loopback only, one request after the other, bounded.
Prints median and 95th percentile per kind of draft, as a browser asks while a slider is moved.
"""

from __future__ import annotations

import http.cookiejar
import json
import statistics
import sys
import time
import urllib.parse
import urllib.request
from typing import Any


class Client:
    """A signed-in teacher."""

    def __init__(self, address: str, email: str, password: str) -> None:
        host = urllib.parse.urlparse(address).hostname
        if host not in ("127.0.0.1", "localhost", "::1"):
            sys.exit("This measures a server on this machine only.")
        self.address = address.rstrip("/")
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.get("session")
        self.post("session", {"email": email, "password": password})

    def get(self, path: str) -> Any:
        with self.opener.open(f"{self.address}/api/{path}", timeout=30) as answer:
            return json.load(answer)

    def post(self, path: str, body: Any) -> Any:
        token = next((cookie.value for cookie in self.jar if cookie.name == "csrftoken"), "") or ""
        headers = {"Content-Type": "application/json", "X-CSRFToken": token, "Referer": self.address}
        url = f"{self.address}/api/{path}"
        request = urllib.request.Request(url, json.dumps(body).encode(), headers)  # noqa: S310 — loopback, see above
        with self.opener.open(request, timeout=30) as answer:
            return json.load(answer)


def main(address: str, email: str, password: str, rounds: int) -> None:
    client = Client(address, email, password)
    for kind in client.get("draft-kinds"):
        times = []
        for i in range(rounds + 3):
            # Another value each time, as from a slider, so that no cache helps.
            typed = dict(kind["start"])
            for key in ("span_m", "height_m", "wall_m", "circle_m", "block_m", "side_m"):
                if key in typed and typed[key].endswith(" mm"):
                    typed[key] = f"{float(typed[key][:-3]) + 0.1 * i:g} mm"
            started = time.perf_counter()
            client.post("drafts", {"kind": kind["key"], "typed": typed})
            times.append(time.perf_counter() - started)
        times = sorted(times[3:])
        middle, high = statistics.median(times), times[int(0.95 * (len(times) - 1))]
        print(f"{kind['key']:13} median {1000 * middle:5.0f} ms   95 % {1000 * high:5.0f} ms")


if __name__ == "__main__":
    where, who, word = sys.argv[1:4]
    main(where, who, word, int(sys.argv[4]) if len(sys.argv) > 4 else 60)
