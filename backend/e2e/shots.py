"""The pictures in docs/screenshots, taken from the demo: ``python -m e2e.shots FOLDER [NAME ...]``.

Run by ``./girder shots``, which gives it a database of its own.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from uuid import UUID, uuid4

import django
from PIL import Image

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "evengirder.settings")
# The demo's own photographs go as its database goes.
PHOTOGRAPHS = tempfile.TemporaryDirectory(prefix="girder-photographs-")
os.environ["GIRDER_MEDIA_ROOT"] = PHOTOGRAPHS.name
django.setup()

from django.utils import timezone  # noqa: E402 — Django first

from bench.models import Trial  # noqa: E402
from bench.services import append_events, start_trial  # noqa: E402
from challenges.models import Recipe, Run  # noqa: E402
from demo.build import load  # noqa: E402
from demo.pictures import take_pictures  # noqa: E402
from demo.world import TEACHER_EMAIL, TEACHER_NAME, TEACHER_PASSWORD  # noqa: E402
from designs.models import Design  # noqa: E402 — Django first
from e2e.browser import Browser  # noqa: E402
from e2e.served import PHONE, TABLET_IN_PORTRAIT, Server  # noqa: E402
from live.services import open_board  # noqa: E402
from people.tests.support import checked_in  # noqa: E402
from tablets.models import Tablet  # noqa: E402
from tablets.services import at_station, choose_team, let_teams, open_door  # noqa: E402

SHEET = "drafting-kinds"
"""One picture of several drafts: answer and drawing of each."""
ANSWER = (0, 150, 744, 552)
"""Where on a draft's page these stand [px]."""


def side_by_side(drafts: list[Path], sheet: Path) -> None:
    """Answers and drawings of several drafts in two columns; the single pictures are taken away."""
    left, top, right, bottom = ANSWER
    wide, high = right - left, bottom - top
    whole = Image.new("RGB", (2 * wide, high * ((len(drafts) + 1) // 2)), "#f5f0e4")
    for number, path in enumerate(drafts):
        with Image.open(path) as picture:
            whole.paste(picture.crop(ANSWER).convert("RGB"), (wide * (number % 2), high * (number // 2)))
        path.unlink()
    whole.resize((whole.width * 3 // 4, whole.height * 3 // 4)).save(sheet, optimize=True)


TEAMS = "teams"
"""One picture of a team's page at what a team is at, as phones show it and, below, tablets."""
BETWEEN = "#1f2a2e"


def in_a_row(pages: list[Path]) -> Image.Image:
    """Pictures of one size beside each other; the single ones are taken away."""
    pictures: list[Image.Image] = []
    for path in pages:
        with Image.open(path) as read:
            pictures.append(read.convert("RGB"))
        path.unlink()
    wide, high = pictures[0].size
    row = Image.new("RGB", ((wide + 10) * len(pictures) - 10, high), BETWEEN)
    for number, page in enumerate(pictures):
        row.paste(page, ((wide + 10) * number, 0))
    return row


def one_below_the_other(rows: list[Image.Image], sheet: Path) -> None:
    """Rows as wide as the first, in one picture."""
    wide = rows[0].width
    rows = [row.resize((wide, row.height * wide // row.width)) for row in rows]
    whole = Image.new("RGB", (wide, sum(row.height + 10 for row in rows) - 10), BETWEEN)
    top = 0
    for row in rows:
        whole.paste(row, (0, top))
        top += row.height + 10
    whole.save(sheet, optimize=True)


def put_right(run: int) -> UUID:
    """A trial of the run with a count that was put right, and with a note."""
    trial = Trial.objects.get(design__run=run, design__team__name="Guillemot")
    bag = trial.events.filter(kind="place", data__count=10)[0]
    entries: list[tuple[str, dict[str, object]]] = [
        ("correct", {"event": str(bag.pk), "count": bag.data["count"] - 1, "why": "counted on the photograph"}),
        ("note", {"text": "The left support had moved a little."}),
    ]
    length = trial.events.count()
    rows = [
        {"id": uuid4(), "sequence": length + n, "kind": kind, "data": data, "happened_at": timezone.now()}
        for n, (kind, data) in enumerate(entries, start=1)
    ]
    append_events(trial, uuid4(), rows, author=TEACHER_NAME)
    return trial.pk


def at_stations(run: Run) -> None:
    """Two teams that test by themselves: one whose step still has to be waited for, one whose test is over."""
    let_teams(run, {"test": True})
    door = open_door(run)
    for name, who, entries in (
        ("Petrel", "Sunniva, Ravn, Tove", [("place", {"item": "platform", "count": 1}), ("settle", {"waited_s": 12}),
                                           ("place", {"item": "m12-hex-nut", "count": 5})]),
        ("Dunlin", "Odd, Liv", [("place", {"item": "platform", "count": 1}), ("settle", {"waited_s": 12}),
                                ("place", {"item": "m12-hex-nut", "count": 20}), ("settle", {"waited_s": 12}),
                                ("observe", {"sign": "lean"}), ("place", {"item": "m12-hex-nut", "count": 10}),
                                ("fail", {"mode": "crimp"})]),
    ):  # fmt: skip
        design = Design.objects.get(run=run, team__name=name)
        if design.checked_in_at is None:
            checked_in(design, "28.4 g")
        choose_team(Tablet.objects.create(door=door, mixed=name, who=who), design.team, confirmed=True)
        trial, bench = start_trial(design, uuid4(), uuid4(), by_team=True), uuid4()
        trial.bench = None
        trial.save()
        rows = [
            {"id": uuid4(), "sequence": n, "kind": kind, "data": data, "happened_at": timezone.now()}
            for n, (kind, data) in enumerate(entries, start=1)
        ]
        refused = append_events(trial, bench, rows, author=at_station(design.team), by_team=True).refused
        if refused is not None:
            raise refused


def team_pages(address: str, code: str, folder: Path, size: tuple[int, int]) -> list[Path]:
    """A screen of this size that comes in, and the pages of three teams."""
    tablet, taken = Browser(address, *size), []

    def picture(name: str, words: str) -> None:
        tablet.sees(words)
        time.sleep(0.6)
        taken.append(folder / f"{TEAMS}-{name}.png")
        tablet.picture(taken[-1])

    try:
        tablet.open(f"/join/{code}")
        picture("join", "Your lesson’s code")
        for team, words in (("Dunlin", "How much will it hold?"), ("Kittiwake", "Did it hold?"), ("Gannet", "Trial 1")):
            tablet.click("Come in")
            tablet.sees("Which team are you?")
            if len(taken) == 1:
                picture("choose", "Fulmar")
            tablet.click(team)
            picture(team, words)
            tablet.click("Leave")
            tablet.fill("Code", code)
    finally:
        tablet.close()
    return taken


def take(folder: Path, wanted: list[str]) -> None:
    """Take the named pictures, or all."""
    # As whoever starts it finds it.
    take_pictures(load())
    run = Run.objects.get(school_class__name="8 Tern", family="bridge").pk
    finished = Run.objects.get(school_class__name="7 Plover", family="bridge").pk
    columns = Run.objects.get(family="column").pk
    drafted = Design.objects.get(run_id=run, team__name="Kittiwake").pk
    recipe = Recipe.objects.get(family="boat").pk
    board = open_board(Run.objects.get(pk=run)).token
    server = Server(os.environ["GIRDER_DB_NAME"])
    server.start()
    browser = Browser(server.address)

    def page(path: str, words: str, then: Callable[[], None] | None = None) -> Callable[[], None]:
        def show() -> None:
            browser.open(path)
            browser.sees(words)
            if then:
                then()

        return show

    def righted() -> None:
        page(f"/runs/{run}/trials/{put_right(run)}", "“counted on the photograph”")()

    def stations() -> None:
        at_stations(Run.objects.get(pk=run))
        page(f"/runs/{run}/stations", "Confirm it")()

    pictures: dict[str, Callable[[], None]] = {
        "home": page("/", "8 Tern"),
        "brief": page(f"/runs/{run}/brief", "boat slip"),
        "kit": page(f"/runs/{run}/kit", "of load on one bench"),
        "build": page(f"/runs/{run}/build", "What each team is trying"),
        "check-in": page(f"/runs/{run}/check-in", "Check in Dunlin"),
        "bench": page(f"/runs/{run}/bench", "its own weight", lambda: browser.sees("Did it hold?")),
        "board": page(f"/board/{board}", "leads"),
        "compare-why": page(f"/runs/{columns}/compare/why", "Did shape make the difference?"),
        "compare-finished": page(f"/runs/{finished}/compare", "Built and tested again"),
        "next-version": page(f"/runs/{finished}/next", "second versions did better"),
        "plan": page(f"/recipes/{recipe}", "Against the clock"),
        "library": page("/library", "Ready to take"),
        "drafting": page(f"/runs/{run}/drafting/{drafted}", "Every way it can fail"),
        "materials": page("/stocks", "A sheet of your own"),
        # Last, because they change results.
        "trials": righted,
        "stations": stations,
    }
    try:
        browser.sign_in(TEACHER_EMAIL, TEACHER_PASSWORD)
        for name, show in pictures.items():
            if wanted and name not in wanted:
                continue
            show()
            # Fonts and transitions come to rest.
            time.sleep(0.6)
            browser.picture(folder / f"{name}.png")
            print(f"took {name}.png")
        if not wanted or TEAMS in wanted:
            code = open_door(Run.objects.get(pk=run)).code
            rows = [in_a_row(team_pages(server.address, code, folder, size)) for size in (PHONE, TABLET_IN_PORTRAIT)]
            one_below_the_other(rows, folder / f"{TEAMS}.png")
            print(f"took {TEAMS}.png")
        if not wanted or SHEET in wanted:
            drafts = []
            for kind in ("hanging", "strip_arch", "plank", "tripod", "boat", "ring"):
                page(f"/drafting/{kind}", "Every way it can fail")()
                time.sleep(0.6)
                browser.picture(folder / f"{kind}.png")
                drafts.append(folder / f"{kind}.png")
            side_by_side(drafts, folder / f"{SHEET}.png")
            print(f"took {SHEET}.png")
        for name, (path, page_number) in {
            "print-plan": (f"runs/{columns}/print/plan", 1),
        }.items():
            if wanted and name not in wanted:
                continue
            paper = folder / f"{name}.pdf"
            paper.write_bytes(browser.download(f"/api/{path}"))
            size = ["-r", "75", "-singlefile", "-f", str(page_number)]
            command = ["pdftoppm", "-png", *size, str(paper), str(folder / name)]
            subprocess.run(command, check=True)
            paper.unlink()
            print(f"took {name}.png")
    finally:
        browser.close()
        server.stop()


if __name__ == "__main__":
    take(Path(sys.argv[1]), sys.argv[2:])
