"""``python -m doorstep``: what the launcher has to know before it shares the server, as JSON.

``addresses`` (the outward one first), ``names``; with ``--home`` also the files of a certificate for them and the
fingerprint of its authority. ``--code TEXT``, any number of times: codes for a camera, as text for a terminal.
"""

from __future__ import annotations

import argparse
import json
from pathlib import Path

from doorstep.addresses import names, reached_at
from doorstep.authority import certificate_for
from doorstep.codes import for_terminal


def main() -> None:
    """Print what was asked for."""
    asked = argparse.ArgumentParser()
    asked.add_argument("--home", type=Path)
    asked.add_argument("--code", action="append", default=[])
    given = asked.parse_args()
    addresses = reached_at()
    told: dict[str, object] = {"addresses": addresses, "names": names(), "codes": [*map(for_terminal, given.code)]}
    if given.home is not None:
        made = certificate_for(given.home, addresses, names())
        files = {"certificate": str(made.certificate), "key": str(made.key), "authority": str(made.authority)}
        told |= {**files, "fingerprint": made.fingerprint, "left_out": made.left_out}
    print(json.dumps(told))


main()
