"""The command line of Even Girder: set up, serve, test. Standard library only: it runs before anything is installed."""

from __future__ import annotations

import sys

if sys.version_info < (3, 11):  # noqa: UP036 — this is what tells an older Python
    sys.exit(f"girder: Python {sys.version.split()[0]} is too old; 3.11 or newer is needed.")

from collections.abc import Callable

import rehearsals
import serve
import upkeep
import verify
from say import Problem, warn

USAGE = """Even Girder

  ./girder start     install what is missing, serve, print address and demo sign-in; Ctrl-C stops
  ./girder start --share [--tls | --cert FILE --key FILE]
                     the same for the network of the school: tablets reach it; encrypted with certificates of its own
                     (--tls) or with the school's
  ./girder stop      stop it from another terminal
  ./girder test      the whole test suite; with names, only those (./girder test bench.tests);
                     --quick leaves out the browser, printed documents, and what takes its time
  ./girder check     lint, types, imports, licences, and drift of schema and migrations
  ./girder types     write the API schema and its TypeScript types again
  ./girder notice    write NOTICE again: what comes from outside, and under which licence
  ./girder shots     take the pictures in docs/screenshots again
  ./girder dev       serve with reloading, for working on it
  ./girder measure   run a script of backend/benchmarks against what is running (./girder measure acknowledge)
  ./girder invite    print a code by which somebody makes an account, where they are made by invitation
  ./girder reset-password ADDRESS
                     print a code by which the teacher of this address sets another password
  ./girder school    list, add, administrator, export or delete: schools that share this server and are apart on it
  ./girder doctor    look at settings, database, clocks, disks, certificate, age of backups (--json)
  ./girder backup    write database and photographs to one file (--to FOLDER, --keep N, --for age1… to encrypt)
  ./girder verify-backup FILE
                     restore it beside everything else, count, and throw that away (--identity KEYFILE)
  ./girder restore FILE
                     bring it back; --over in place of a database in use, which is set aside
  ./girder upgrade   bring the database to this version, with a backup before, while it is served; start does so too
  ./girder profile   look where the processes that serve spend their time (--seconds N, --to FOLDER)
  ./girder rehearse one-school, several-schools or district
                     set up what docs/deploy.md describes, work with it, break it, bring it back (as root)
  ./girder reset     delete the database, after asking (--yes: without)

  GIRDER_PORT chooses the port, GIRDER_STATE the folder for what is installed and built, GIRDER_WORKERS how many
  processes serve (two)."""


def main(arguments: list[str]) -> int:
    """Carry out one command."""
    command, rest = (arguments[0], arguments[1:]) if arguments else ("help", [])
    commands: dict[str, Callable[[], int]] = {
        "start": lambda: serve.start(rest),
        "stop": serve.stop,
        "test": lambda: verify.test(rest),
        "check": verify.check,
        "types": verify.types,
        "notice": verify.notice,
        "shots": lambda: verify.shots(rest),
        "dev": serve.dev,
        "measure": lambda: serve.measure(rest),
        "invite": lambda: serve.managed("invite"),
        "reset-password": lambda: serve.managed("reset_password", *rest),
        "school": lambda: serve.managed("school", *rest),
        "doctor": lambda: upkeep.doctor(rest),
        "backup": lambda: upkeep.backup(rest),
        "verify-backup": lambda: upkeep.verify_backup(rest),
        "restore": lambda: upkeep.restore(rest),
        "upgrade": lambda: upkeep.upgrade(rest),
        "profile": lambda: upkeep.profile(rest),
        "rehearse": lambda: rehearsals.rehearse(rest),
        "reset": lambda: serve.reset("--yes" in rest),
    }
    if command not in commands:
        print(USAGE)
        return 0 if command in ("help", "-h", "--help") else 2
    try:
        return commands[command]()
    except Problem as problem:
        warn(str(problem))
        return 1
    except KeyboardInterrupt:
        warn("stopped")
        return 130
    except OSError as error:
        full = " The disk is full; make room and try again." if error.errno == 28 else ""
        warn(f"{error}.{full}")
        return 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
