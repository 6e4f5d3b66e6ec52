"""How entries of a trial are read from a body, so that one that cannot be kept takes no other with it."""

from __future__ import annotations

import json
from typing import Any

from evengirder.entry import SoundJSONParser
from girder_core.ground import GirderError, sound_json


# An entry that is as usual is kept by ``bench.quick`` and never comes here.
class EntriesParser(SoundJSONParser):
    """One entry that cannot be kept is refused by name, and not the others that came with it: what it says is taken
    out here, so that the rules refuse it as one that says nothing they know."""

    def parse(self, stream: Any, media_type: str | None = None, parser_context: Any = None) -> Any:
        text = stream.read()
        try:
            return sound_json(text)
        except GirderError:
            try:
                body = json.loads(text)
                for event in body["events"]:
                    if not _is_sound(event["data"]):
                        event["data"] = {"what cannot be written down": True}
                return sound_json(json.dumps(body))
            except (ValueError, TypeError, KeyError, RecursionError):
                # No entries are in it at all; what was wrong at first is said.
                return sound_json(text)


def _is_sound(data: Any) -> bool:
    try:
        sound_json(json.dumps(data))
    except GirderError:
        return False
    return True
