"""What the server is told by its environment: each variable once, with what it means, read and checked in one place.

A variable that holds a secret may be given as a file instead: ``GIRDER_DB_PASSWORD_FILE`` names one whose content is
the password. So a secret stands neither in a unit nor in what ``ps`` shows.
"""

from __future__ import annotations

import ipaddress
import json
import os
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

Network = ipaddress.IPv4Network | ipaddress.IPv6Network
YES, NO = ("1", "true", "yes"), ("", "0", "false", "no")
IN_A_FILE = "_FILE"


class Unreadable(Exception):
    """A variable says what cannot be meant: its name, and why in a sentence."""

    def __init__(self, name: str, sentence: str) -> None:
        super().__init__(f"{name}: {sentence}")
        self.name, self.sentence = name, sentence


@dataclass(frozen=True)
class Variable:
    """One variable.

    Attributes:
        name: as the environment has it.
        means: what it says, for the table in docs/deploy.md.
        default: what holds where it is not given; None where it has to be.
        read: its text as the settings use it; raises ``ValueError`` with a sentence.
        secret: whether it may be named by a file instead, and is never shown.
    """

    name: str
    means: str
    default: str | None
    read: Callable[[str], Any]
    secret: bool = False


def _flag(text: str) -> bool:
    if text.lower() in YES:
        return True
    if text.lower() in NO:
        return False
    raise ValueError(f"“{text}” is neither yes ({', '.join(YES)}) nor no ({', '.join(word for word in NO if word)}).")


def _names(text: str) -> list[str]:
    return [name.strip() for name in text.split(",") if name.strip()]


def _origins(text: str) -> list[str]:
    found = _names(text)
    for origin in found:
        parts = urlsplit(origin)
        if parts.scheme not in ("http", "https") or not parts.hostname or parts.path or parts.query:
            raise ValueError(f"“{origin}” is no origin; one is like https://girder.school.example.")
    return found


def _networks(text: str) -> list[Network]:
    try:
        return [ipaddress.ip_network(name) for name in _names(text)]
    except ValueError as error:
        raise ValueError(f"{error}; a network is like 10.0.0.0/24, a single address like 10.0.0.7.") from None


def _address(text: str) -> str:
    parts = urlsplit(text)
    if text and (parts.scheme not in ("http", "https") or not parts.hostname):
        raise ValueError(f"“{text}” is no address; one is like https://store.school.example.")
    return text


def _place(text: str) -> tuple[str, int] | None:
    host, _, port = text.rpartition(":")
    if not text:
        return None
    if not host or not (port.isascii() and port.isdecimal() and 0 < int(port) < 65536):
        raise ValueError(f"“{text}” is no host and port; they are like db.school.example:5432.")
    return host, int(port)


def _word(text: str) -> str:
    if text and len(text) < 16:
        raise ValueError("It is shorter than 16 characters. Make one with: openssl rand -base64 24")
    return text


def _number(low: int, high: int) -> Callable[[str], int]:
    def read(text: str) -> int:
        if not (text.isascii() and text.isdecimal()) or not low <= int(text) <= high:
            raise ValueError(f"“{text}” is no number from {low} to {high}.")
        return int(text)

    return read


def _one_of(*words: str) -> Callable[[str], str]:
    def read(text: str) -> str:
        if text not in words:
            raise ValueError(f"“{text}” is none of: {', '.join(words)}.")
        return text

    return read


def _key(text: str) -> str:
    if len(text) < 32:
        raise ValueError("It is shorter than 32 characters. Make one with: openssl rand -base64 48")
    return text


def _folder(text: str) -> str:
    if text and not Path(text).is_absolute():
        raise ValueError(f"“{text}” is no absolute path.")
    return text


_WAY = ("school", "name", "issuer", "client_id", "client_secret_file")


def _sign_ons(text: str) -> list[dict[str, str]]:
    """The sign-ons of schools: a JSON file with a list, whose secrets lie in files of their own."""
    if not text:
        return []
    try:
        listed = json.loads(Path(_folder(text)).read_text("utf-8"))
    except (OSError, ValueError) as error:
        raise ValueError(f"{text} cannot be read: {error}.") from None
    if not isinstance(listed, list):
        raise ValueError(f"{text} holds no list.")
    ways = []
    for number, way in enumerate(listed, start=1):
        at = f"{text}, entry {number}"
        if not isinstance(way, dict) or set(way) != set(_WAY) or not all(isinstance(one, str) for one in way.values()):
            raise ValueError(f"{at}: it needs a text for each of {', '.join(_WAY)}, and nothing else.")
        host = urlsplit(way["issuer"]).hostname
        if not way["issuer"].startswith("https://") and host not in ("localhost", "127.0.0.1"):
            # What the issuer says is believed because of how it came.
            raise ValueError(f"{at}: the issuer’s address begins with https://.")
        try:
            secret = Path(way["client_secret_file"]).read_text("utf-8").rstrip("\r\n")
        except OSError as error:
            raise ValueError(f"{at}: {error}.") from None
        ways.append({**way, "secret": secret})
    if len({way["school"] for way in ways}) != len(ways):
        raise ValueError(f"{text}: a school has one sign-on.")
    return ways


VARIABLES: tuple[Variable, ...] = (
    Variable("GIRDER_SECRET_KEY", "signs sessions and forms: 32 characters or more, the same for all hosts",
             None, _key, secret=True),
    Variable("GIRDER_HOSTS", "names and addresses under which it answers, parted by commas",
             "127.0.0.1,localhost,[::1]", _names),
    Variable("GIRDER_ORIGINS", "where its pages come from, with scheme, behind a proxy: https://girder.school.example",
             "", _origins),
    Variable("GIRDER_TLS", "whether a proxy in front encrypts; then cookies go over nothing else", "", _flag),
    Variable("GIRDER_PROXIES", "networks of proxies whose word of the caller’s address is believed", "", _networks),
    Variable("GIRDER_DB_HOST", "the database’s host, or the pooler’s", "127.0.0.1", str),
    Variable("GIRDER_DB_PORT", "its port", "5432", _number(1, 65535)),
    Variable("GIRDER_DB_NAME", "the database", "evengirder", str),
    Variable("GIRDER_DB_USER", "the role; it owns the database and nothing else", "evengirder", str),
    Variable("GIRDER_DB_PASSWORD", "the role’s password", "", str, secret=True),
    Variable("GIRDER_DB_POOL", "whether a process keeps connections, so that not every request makes one", "", _flag),
    Variable("GIRDER_DB_DIRECT", "behind a pooler that lends connections by the transaction: the database itself, as"
             " host:port, for what needs a session of its own (being told of changes, locks, backups)", "", _place),
    Variable("GIRDER_MEDIA_ROOT", "the folder of photographs, read by the server’s user alone", "", _folder),
    Variable("GIRDER_S3_BUCKET", "the bucket of photographs in a store that speaks S3, instead of that folder", "",
             str),
    Variable("GIRDER_S3_ADDRESS", "where that store is, if it is not Amazon’s: https://store.school.example", "",
             _address),
    Variable("GIRDER_S3_REGION", "its region", "us-east-1", str),
    Variable("GIRDER_S3_KEY", "who asks there", "", str),
    Variable("GIRDER_S3_SECRET", "the secret to it", "", str, secret=True),
    Variable("GIRDER_STATIC_ROOT", "the folder of the built interface", "", _folder),
    Variable("GIRDER_LOGS", "the folder of logs; without one only errors are told, on the console", "", _folder),
    Variable("GIRDER_SIGN_UP", "who makes an account: anybody (open), whoever was invited (invited), nobody (closed)",
             "open", _one_of("open", "invited", "closed")),
    Variable("GIRDER_SIGN_ON", "the file that says with which schools’ own accounts one signs in (OpenID Connect)", "",
             _sign_ons),
    Variable("GIRDER_SERIAL", "whether instruments plugged into the server’s machine can be read", "", _flag),
    Variable("GIRDER_BACKUPS", "the folder of backups, whose age is watched", "", _folder),
    Variable("GIRDER_METRICS", "the word with which a watcher may read /metrics; without one nobody may", "", _word,
             secret=True),
    Variable("GIRDER_CERTIFICATE", "the certificate that the proxy uses, whose end is watched", "", _folder),
    Variable("GIRDER_DEBUG", "never in service: shows what the program does to whoever asks", "", _flag),
    Variable("GIRDER_ENCRYPTS", "set by the start command with --share --tls", "", _flag),
    Variable("GIRDER_SHARED", "set by the start command with --share", "", _flag),
    Variable("GIRDER_SHARED_AS", "set by the start command with --share: under which address", "", str),
)  # fmt: skip
"""All of them, in the order in which docs/deploy.md tells them."""

_BY_NAME: Mapping[str, Variable] = {variable.name: variable for variable in VARIABLES}


def told(name: str, env: Mapping[str, str] = os.environ) -> Any:
    """What a variable says, as the settings use it, or what holds without it.

    Errors: ``Unreadable`` where it says what cannot be meant, has to be given and is not, or names a file that cannot
    be read.
    """
    variable = _BY_NAME[name]
    text = _text(variable, env)
    if text is None:
        if variable.default is None:
            raise Unreadable(name, f"It has to be given: {variable.means}.")
        text = variable.default
    try:
        return variable.read(text)
    except ValueError as error:
        raise Unreadable(name, str(error)) from None


def _text(variable: Variable, env: Mapping[str, str]) -> str | None:
    file = env.get(variable.name + IN_A_FILE) if variable.secret else None
    if file is None:
        return env.get(variable.name)
    if variable.name in env:
        raise Unreadable(variable.name, f"It is given twice: here, and in the file {file}.")
    try:
        # A file that was written with an editor ends with a line's end, which is no part of a secret.
        return Path(file).read_text("utf-8").rstrip("\r\n")
    except (OSError, UnicodeDecodeError) as error:
        raise Unreadable(variable.name + IN_A_FILE, f"{file} cannot be read: {error}.") from None


def unknown(env: Mapping[str, str] = os.environ) -> list[str]:
    """Names in the environment that look like variables of the server, and are none: most are slips."""
    known = set(_BY_NAME) | {variable.name + IN_A_FILE for variable in VARIABLES if variable.secret} | OF_THE_LAUNCHER
    return sorted(name for name in env if name.startswith("GIRDER_") and name not in known)


OF_THE_LAUNCHER = frozenset({"GIRDER_PORT", "GIRDER_STATE", "GIRDER_WORKERS", "GIRDER_BIND"})
"""Variables of ``./girder`` and of the units, which the server does not read."""
