"""Fennick Bay Middle School after the winter storms: who is there, what they built, and how it went.

The recipes are those of the library. A trial is told in short: ``P`` the platform, ``b2`` two bags, ``n5`` five single
pieces, ``t4`` the next four numbered tiles, each held; a trailing ``~`` on the last step says it has not settled yet,
and ``n5@fp`` puts the pieces in a place of a hull. ``r3`` are three rounds come through, ``r~`` one under way, ``h``
and ``m`` throws that hit and missed. ``=height:1.12_m`` is measured at the bench. ``?crack`` notes a sign, ``!crimp``
ends with a failure, ``#no_more_load`` with a run-out, ``%knocked`` as void, ``.`` as planned.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date

TEACHER_EMAIL = "marit@fennick-bay.example"
TEACHER_NAME = "Marit"
TEACHER_PASSWORD = "slip-and-net-loft"
SCHOOL, NEIGHBOUR, DISTRICT = "Fennick Bay Middle School", "Skua Point School", "Schools of the Sound"
COLLEAGUE_EMAIL, COLLEAGUE_NAME = "jorunn@fennick-bay.example", "Jorunn"
NEIGHBOUR_EMAIL, NEIGHBOUR_NAME = "runa@skua-point.example", "Runa"
EVERYBODY = (TEACHER_EMAIL, COLLEAGUE_EMAIL, NEIGHBOUR_EMAIL)
"""All accounts; they have one password."""


@dataclass(frozen=True)
class Draft:
    """A draft that a team kept before its test: its kind, and what was typed."""

    kind: str
    typed: dict[str, str]


def pleats(folds: int, depth: str) -> Draft:
    """A gangway folded from one sheet of manila card."""
    return Draft("sheet_bridge", {**_GANGWAY, "shape": "pleated", "pleats": str(folds), "depth_m": depth})


def box(depth: str) -> Draft:
    """A gangway folded into a box."""
    return Draft("sheet_bridge", {**_GANGWAY, "shape": "box", "depth_m": depth})


_GANGWAY = {
    "sheet": "manila", "width_m": "300 mm", "span_m": "360 mm", "overlap_m": "34 mm", "placement": "patch",
    "patch_m": "90 mm",
}  # fmt: skip


def walls(shape: str) -> Draft:
    """A column folded from one sheet of sugar paper."""
    return Draft("column", {"sheet": "sugar", "shape": shape, "perimeter_m": "280 mm", "height_m": "170 mm"})


@dataclass(frozen=True)
class Built:
    """What one team built and how its trials went."""

    team: str
    own_weight: str = ""
    gap: str = "36 cm"
    rests: tuple[str, str] = ("34 mm", "33 mm")
    tape: str = ""
    says: str = ""
    note: str = ""
    readings: dict[str, str] = field(default_factory=dict)
    answers: dict[str, bool] | None = None
    trials: tuple[str, ...] = ()
    checked_in: bool = True
    draft: Draft | None = None
    practice: int = 0
    arrangement: str = ""
    # The next version: what changed, and how that one went.
    changed: str = ""
    again: Built | None = None
    # What the team answered when all was over, in the order of the questions.
    said: tuple[str, ...] = ()
    # Levels given by hand, by criterion of the rubric.
    marks: dict[str, int] = field(default_factory=dict)


@dataclass(frozen=True)
class RunTold:
    """A run: its recipe in the library, its class and day, and what was built."""

    recipe: str
    school_class: str
    day: date
    built: tuple[Built, ...]
    # Whether the run has the proposed rubric.
    rubric: bool = False


def column(team: str, height: str, grams: str, says: str, note: str, trial: str, draft: Draft | None = None) -> Built:
    """A column of one sheet, tested once."""
    readings = {"height": height, "columns": "1", "tape": "18 cm", "self_mass": grams}
    return Built(team, readings=readings, says=says, note=note, trials=(trial,), draft=draft, practice=1)


def mast(team: str, height: str, base: str, grams: str, note: str) -> Built:
    """A mast that stood for the agreed time and was measured then."""
    steps = f"r1 =height:{height.replace(' ', '_')} ."
    return Built(team, readings={"base": base, "self_mass": grams}, note=note, trials=(steps,))


def table(team: str, sides: tuple[str, str], height: str, note: str, trials: tuple[str, ...] = ()) -> Built:
    """A card table."""
    readings = {"height": height, "length": sides[0], "width": sides[1], "tape": "34 cm", "self_mass": "31.5 g"}
    return Built(team, readings=readings, note=note, trials=trials)


FINISHED = RunTold(
    "slip-gangway",
    "7 Plover",
    date(2026, 10, 8),
    (
        Built("Fulmar", "29.4 g", tape="21 cm", says="700 g", note="Two deep folds, lip at each end",
              trials=("P b1 n8 n6 n4 ?crack n2 !crimp", "P b1 n8 n6 n4 n1 !crimp"),
              said=("A dent in the fold at midspan, then it folded.", "The two folds; the floor hung between them.",
                    "Lay a strip under the dent, so that the fold cannot open."),
              marks={"explains": 3, "together": 3}, changed="a strip glued under midspan",
              again=Built("Fulmar", "31.2 g", tape="21 cm", says="900 g",
                          trials=("P b1 n20 n10 ?crack n4 n2 !crimp", "P b1 n20 n10 n4 !crimp"))),
        Built("Guillemot", "35.8 g", tape="30 cm", says="900 g", note="Box with one diaphragm",
              trials=("P b2 n10 n6 n4 ?bend n3 !joint", "P b2 n10 n6 n3 n3 n2 !joint"),
              said=("The seam of the box opened at one end.", "The walls; the diaphragm kept them upright."),
              marks={"explains": 2, "together": 2}, changed="tape across the seam and a second diaphragm",
              again=Built("Guillemot", "38.0 g", tape="34 cm", says="1.1 kg",
                          trials=("P b2 n20 n10 n3 ?bend n2 !joint",))),
        Built("Gannet", "41.2 g", tape="26 cm", says="1 kg", note="Six pleats along the span",
              trials=("P b3 n10 n10 n5 n5 ?lean n5 !twist",)),
        Built("Skua", "26.7 g", tape="12 cm", says="400 g", note="One trough, edges turned up",
              trials=("P n10 n5 ?buckle n3 !crimp", "P n10 n5 n3 n2 !crimp"),
              said=("The edge wrinkled, and then the floor went.",), marks={"explains": 1, "together": 3},
              changed="deeper edges",
              again=Built("Skua", "27.1 g", tape="13 cm", says="500 g",
                          trials=("P n20 n10 ?buckle n4 !crimp", "P n20 n10 n5 n1 !crimp"))),
        Built("Kittiwake", "47.9 g", tape="32 cm", says="1.2 kg", note="Tube with a flat deck",
              trials=("P b3 n20 n10 n10 n10 n10 #no_more_load",)),
        Built("Razorbill", "33.5 g", tape="18 cm", says="800 g", note="Four pleats, wide",
              trials=("P b1 n10 n8 n4 %pile_toppled", "P b1 n10 n8 n4 n2 !slip")),
    ),
    rubric=True,
)  # fmt: skip

HALF_DONE = RunTold(
    "slip-gangway",
    "8 Tern",
    date(2026, 11, 19),
    (
        Built("Fulmar", "27.6 g", tape="24 cm", says="850 g", note="Seven pleats, 15 mm deep",
              draft=pleats(7, "15 mm"), practice=1,
              trials=("P b1 n10 n10 n5 ?crack n5 n3 n3~ !crimp",)),
        Built("Guillemot", "33.1 g", tape="31 cm", says="1.1 kg", note="Box, closed with tape",
              draft=box("36 mm"), practice=1,
              trials=("P b1 n10 n5 ?bend n5 n3 n3~ !joint",)),
        Built("Gannet", "64.8 g", tape="28 cm", says="1.5 kg", note="Three tubes under a deck",
              trials=("P b3 n20 n20 ?bend n10 n10 #no_more_load",)),
        Built("Skua", "30.9 g", tape="16 cm", says="600 g", note="Deep trough with lips",
              trials=("P b1 n10 n3~ %pile_toppled", "P b1 n10 n5 n5 ?lean n4~ !twist")),
        Built("Kittiwake", "38.4 g", tape="18 cm", says="1.1 kg", note="Ten shallow pleats",
              draft=pleats(10, "10 mm"), practice=1,
              trials=("P b1 n20 n10 n5 ?crack n5 n3~",)),
        Built("Razorbill", "41.7 g", rests=("57 mm", "41 mm"), tape="30 cm", says="1 kg", note="Pleats, doubled deck",
              trials=("P b1 n20 n10 n3~ !slip",)),
        Built("Petrel", "30.2 g", tape="22 cm", says="950 g", note="Tube and two edge beams", practice=1),
        Built("Dunlin", note="Glue still drying", draft=pleats(5, "14 mm"), checked_in=False),
    ),
)  # fmt: skip

COLUMNS = RunTold(
    "net-loft-columns",
    "7 Plover",
    date(2026, 11, 5),
    (
        column("Fulmar", "171 mm", "4.6 g", "2 kg", "Rolled twice round, seam taped at both ends",
        "P t6 t2 ?lean t1 t1 !leaned"),
        column("Guillemot", "172 mm", "4.7 g", "1.5 kg", "Four walls, edges creased sharply",
        "P t3 t1 ?buckle t1 !crumple", walls("square")),
        column("Gannet", "170 mm", "4.5 g", "1 kg", "Three walls", "P t2 ?buckle t1 t1 !crumple", walls("triangle")),
        column("Skua", "173 mm", "4.6 g", "1.8 kg", "Rolled once round a broom handle", "P t5 t2 t1 !buckled"),
        column("Kittiwake", "170 mm", "4.8 g", "1.2 kg", "Four walls, seam inside", "P t3 t2 t1 !crumple",
        walls("square")),
        column("Razorbill", "171 mm", "4.6 g", "1 kg", "Three walls, doubled seam", "P t3 t1 %pile_toppled"),
    ),
)  # fmt: skip
MASTS = RunTold(
    "leading-light-mast",
    "8 Tern",
    date(2026, 10, 22),
    (
        mast("Fulmar", "1.12 m", "27 cm", "96 g", "Three feet, a diagonal on every side"),
        mast("Guillemot", "94 cm", "26 cm", "112 g", "Four feet, two rings"),
        mast("Gannet", "1.27 m", "29 cm", "104 g", "Three feet, long legs from two sticks"),
        mast("Skua", "88 cm", "24 cm", "83 g", "Four feet, narrow"),
        mast("Kittiwake", "1.06 m", "27 cm", "99 g", "Three feet"),
        mast("Razorbill", "1.02 m", "25 cm", "121 g", "Four feet, heavy joints low down"),
        mast("Petrel", "1.21 m", "28 cm", "93 g", "Three feet, light top"),
        Built("Dunlin", readings={"base": "22 cm", "self_mass": "77 g"}, note="Four feet close together",
              trials=("r~ ?lean !toppled",)),
    ),
)  # fmt: skip
TABLES = RunTold(
    "fish-market-table",
    "6 Whimbrel",
    date(2026, 11, 23),
    (
        table("Fulmar", ("28 cm", "21 cm"), "94 mm", "Six legs, edges folded down", ("n16 n6 ?bend n4 n2~",)),
        table("Guillemot", ("31 cm", "20 cm"), "92 mm", "Four legs and a ring"),
        table("Gannet", ("30 cm", "24 cm"), "91 mm", "Eight thin legs"),
        Built("Skua", note="Still taping legs", checked_in=False),
        Built("Kittiwake", checked_in=False),
    ),
)  # fmt: skip


def waits(team: str, note: str = "") -> Built:
    """A team that has nothing to check in yet."""
    return Built(team, note=note, checked_in=False)


def built(
    team: str, note: str, trials: tuple[str, ...] = (), says: str = "", arrangement: str = "", **readings: str
) -> Built:
    """A structure with its readings by key."""
    return Built(
        team, readings=readings, note=note, trials=trials, says=says, arrangement=arrangement, checked_in=bool(readings)
    )


def lighter(team: str, note: str, sides: tuple[str, str, str], trials: tuple[str, ...] = ()) -> Built:
    """A clay hull: length, width and lowest wall."""
    length, width, wall = sides
    return built(team, note, trials, "90 g", length=length, width=width, wall=wall, self_mass="59.6 g")


def watchtower(team: str, note: str, base: str, trials: tuple[str, ...] = (), arrangement: str = "fixed") -> Built:
    """A watchtower for the shaking base."""
    return built(team, note, trials, arrangement=arrangement, height="41 cm", base=base, self_mass="74 g")


def storm_wall(team: str, note: str, pieces: str, trials: tuple[str, ...] = ()) -> Built:
    """A wall of foam blocks."""
    return built(team, note, trials, length="44 cm", height="18.5 cm", pieces=pieces)


def burrow(team: str, note: str, sides: tuple[str, str, str], pieces: str, trials: tuple[str, ...] = ()) -> Built:
    """A shelter of foam blocks: length, width and height outside."""
    length, width, height = sides
    return built(team, note, trials, length=length, width=width, height=height, pieces=pieces,
                 inside_length="9 cm", inside_width="8 cm", inside_height="8.5 cm")  # fmt: skip


def boathouse(team: str, note: str, trials: tuple[str, ...] = ()) -> Built:
    """A boathouse of eight panels."""
    return built(team, note, trials, panels="8", tape="37 cm", self_mass="41 g")


def capstan(team: str, note: str, inner: str, trials: tuple[str, ...] = ()) -> Built:
    """A ring of six struts."""
    return built(team, note, trials, "600 g", supports="6", circle="26 cm", inner=inner, self_mass="66 g")


BOATS = RunTold(
    "clay-lighters",
    "6 Whimbrel",
    date(2026, 11, 24),
    (
        lighter("Fulmar", "Round, even wall", ("13 cm", "12.5 cm", "21 mm"),
                ("n9@mc n4@mc n2@fc ?low n2@mc !swamped",)),
        lighter("Guillemot", "Long and narrow", ("16.4 cm", "7 cm", "26 mm"), ("n7@mc n3@ms ?heel n2@ms !capsized",)),
        lighter("Gannet", "Square, thin floor", ("12 cm", "12 cm", "23 mm"), ("n9@mc n4@fp n3@as~",)),
        lighter("Skua", "Round, thick rim", ("12.2 cm", "11.8 cm", "19 mm")),
        waits("Kittiwake", "Still pinching"),
    ),
)  # fmt: skip
WATCHTOWERS = RunTold(
    "harbour-watchtower",
    "8 Tern",
    date(2026, 11, 20),
    (
        watchtower("Fulmar", "Braced on two sides", "13 cm", ("r3 ?swing !joint",)),
        watchtower("Guillemot", "Loose on its tray of marbles", "13.5 cm", ("r4 ?walk r1 !foundation",), "isolated"),
        watchtower("Gannet", "Braced on four sides", "13.8 cm", ("r6 #all_levels",)),
        watchtower("Skua", "No braces", "12 cm", ("r1 !racked",)),
        watchtower("Kittiwake", "A block at the top", "13 cm", ("r2 ?swing r~",)),
        watchtower("Razorbill", "Heavy low down", "13.6 cm"),
        waits("Petrel"),
        waits("Dunlin"),
    ),
)  # fmt: skip
BUCKETS = RunTold(
    "rain-bucket-frame",
    "6 Whimbrel",
    date(2026, 11, 12),
    (
        built("Fulmar", "Four legs, two rings", ("P b6 b3 ?buckle b2 !leg",), "500 g",
              height="25 cm", base="20 cm", tape="52 cm", self_mass="24 g"),
        built("Guillemot", "Three legs, diagonals", ("P b7 b4 ?lean b2 n4 !joint",), "400 g",
              height="24.5 cm", base="21 cm", tape="58 cm", self_mass="21 g"),
        built("Gannet", "Four legs, no rings", ("P b4 ?buckle b1 !leg",), "700 g",
              height="25.5 cm", base="19 cm", tape="44 cm", self_mass="22 g"),
        built("Skua", "Three legs, rings and diagonals", (), "600 g",
              height="24 cm", base="21 cm", tape="60 cm", self_mass="26 g"),
        waits("Kittiwake", "A leg to mend"),
    ),
)  # fmt: skip
WALLS = RunTold(
    "storm-wall",
    "5 Dotterel",
    date(2026, 11, 17),
    (
        storm_wall("Fulmar", "All joints in line", "24", ("h h ?hole m h h =left:11 .",)),
        storm_wall("Guillemot", "Staggered", "24", ("h m h h m =left:19 .",)),
        storm_wall("Gannet", "Staggered, with props behind", "24", ("h h m",)),
        storm_wall("Skua", "Two layers", "22"),
    ),
)  # fmt: skip
BOATHOUSES = RunTold(
    "boathouse-drop",
    "7 Plover",
    date(2026, 11, 18),
    (
        boathouse("Fulmar", "Tape along every edge", ("r3 ?dent r~ =apart:2 !joint",)),
        boathouse("Guillemot", "Tabs inside", ("r5 ?dent !roof",)),
        boathouse("Gannet", "Slotted corners", ("r8 #highest",)),
        boathouse("Skua", "Tape on edges, roof tied down"),
        waits("Kittiwake"),
        waits("Razorbill", "Cutting tabs"),
    ),
)  # fmt: skip
ARCHES = RunTold(
    "fish-cellar-arch",
    "7 Plover",
    date(2026, 11, 25),
    (
        built("Fulmar", "Small steps first", ("n6 n3 ?gap n2 !slid",), "300 g",
              opening="15.2 cm", rise="18 cm", blocks="32", self_mass="640 g"),
        built("Guillemot", "A block on each tail", (), "400 g",
              opening="15 cm", rise="19 cm", blocks="34", self_mass="680 g"),
        waits("Gannet", "One side keeps tipping"),
        waits("Skua"),
        waits("Kittiwake"),
        waits("Razorbill"),
    ),
)  # fmt: skip
RINGS = RunTold(
    "capstan-ring",
    "8 Tern",
    date(2026, 11, 24),
    (
        capstan("Fulmar", "Crossings near the cups", "11 cm", ("P n5 n2 ?slide n1 !slid",)),
        capstan("Guillemot", "Small opening", "7 cm", ("P n8 n3 ?bend n2 !bent",)),
        capstan("Gannet", "Middle opening", "9 cm", ("P n6~",)),
        capstan("Skua", "All struts one way up", "8 cm"),
        *(waits(team) for team in ("Kittiwake", "Razorbill", "Petrel", "Dunlin")),
    ),
)  # fmt: skip
STOOLS = RunTold(
    "harbour-stool",
    "8 Tern",
    date(2026, 11, 10),
    (
        built("Fulmar", "Slotted cross", ("n6 n3 n3 n2 ?buckle n2 !leg",), "15 kg",
              height="35 cm", width="29 cm", self_mass="1.21 kg"),
        built("Guillemot", "Nested prisms", ("n6 n4 n4 n4 n3 ?crack n3 !flutes",), "20 kg",
              height="34.5 cm", width="28.5 cm", self_mass="1.34 kg"),
        built("Gannet", "Cross with doubled top", (), "18 kg", height="34 cm", width="28 cm", self_mass="1.4 kg"),
        *(waits(team) for team in ("Skua", "Kittiwake", "Razorbill", "Petrel", "Dunlin")),
    ),
)  # fmt: skip
BURROWS = RunTold(
    "puffin-burrow",
    "6 Whimbrel",
    date(2026, 11, 26),
    (
        burrow("Fulmar", "Square, corners locked", ("13 cm", "13 cm", "11 cm"), "22",
               ("m m m m m m m m m =hidden:3 .",)),
        burrow("Guillemot", "Long, one wall shared", ("20 cm", "10 cm", "10.5 cm"), "18",
               ("m m h ?gap m m m h m m =hidden:2 .",)),
        burrow("Gannet", "Round, roof on four props", ("15 cm", "15 cm", "12 cm"), "24",
               ("m m m m m m m m m =hidden:3 !fell_in",)),
        burrow("Skua", "Square, joints in line", ("13.5 cm", "12.5 cm", "11 cm"), "20", ("m m h m",)),
        waits("Kittiwake", "Still laying the roof"),
    ),
)  # fmt: skip
RUNS = (
    FINISHED, HALF_DONE, COLUMNS, MASTS, TABLES, BOATS, WATCHTOWERS, BUCKETS, WALLS, BOATHOUSES, ARCHES, RINGS, STOOLS,
    BURROWS,
)  # fmt: skip
"""All that goes on at the school, the two bridge runs first."""
ELSEWHERE = tuple(
    RunTold("slip-gangway", name, day, tuple(
        Built(team, grams, tape="20 cm", note=note, trials=(trial,)) for team, grams, note, trial in built
    ))
    for name, day, built in (
        ("Form 8", date(2026, 9, 24), (
            ("Puffin", "32.3 g", "Eight pleats", "P b1 n10 n10 n4 !crimp"),
            ("Eider", "36.1 g", "Box, seam on top", "P b2 n10 n10 ?bend n2 !joint"),
            ("Curlew", "28.8 g", "Trough with lips", "P b1 n10 n5 !crimp"),
            ("Godwit", "40.5 g", "Two tubes", "P b3 n10 n10 n5 !twist"),
        )),
        ("Form 9", date(2026, 10, 1), (
            ("Puffin", "30.4 g", "Six pleats, doubled ends", "P b2 n10 n4 !crimp"),
            ("Eider", "34.0 g", "Box", "P b1 n10 n10 n10 !joint"),
            ("Curlew", "29.7 g", "Deep trough", "P b1 n10 n8 !slip"),
            ("Godwit", "43.9 g", "Tube under a deck", "P b3 n20 n20 n20 #no_more_load"),
        )),
    )
)  # fmt: skip
"""What was built at the neighbours' school, whose teacher shares the recipe with what it came to."""
CLASSES = {"5 Dotterel": 4, "6 Whimbrel": 5, "7 Plover": 6, "8 Tern": 8}
"""The classes and how many teams each has; teams are named after the birds in the order of the bridge runs."""
