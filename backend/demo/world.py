"""Fennick Bay Middle School after the winter storms: who is there, what they built, and what their bridges held.

A trial is told in short: ``P`` the platform, ``b2`` two bags, ``n5`` five nuts, each held; a trailing ``~`` on the last
step says it has not settled yet. ``?crack`` notes a sign, ``!crimp`` ends with a failure, ``#no_more_load`` with a
run-out, ``%knocked`` as void.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date

TEACHER_EMAIL = "marit@fennick-bay.example"
TEACHER_NAME = "Marit"
TEACHER_PASSWORD = "slip-and-net-loft"

RECIPE = {
    "name": "Slip gangway",
    "question": "The storm took the gangway over the boat slip. Whose card gangway carries most for its own weight?",
    "family": "bridge",
    "setup": {
        "gap_m": "360 mm",
        "overlap_min_m": "22 mm",
        "overlap_max_m": "48 mm",
        "tape_max_m": "32 cm",
        "hold_s": "6 s",
        "target_kg": "0.8 kg",
        "bench_limit_kg": "4 kg",
    },
    "kit": [
        {"name": "hanging tray", "shape": "platform", "count": 1, "roll_of": 1, "batch_count": 1,
         "batch_mass": "62 g", "scale_resolution": "1 g", "diameter": "90 mm", "thickness": "6 mm"},
        {"name": "M12 hex nut", "shape": "nut", "count": 60, "roll_of": 1, "batch_count": 20,
         "batch_mass": "342 g", "scale_resolution": "1 g", "diameter": "20 mm", "thickness": "10 mm"},
        {"name": "bag of 20 nuts", "shape": "bag", "count": 3, "roll_of": 20, "batch_count": 1,
         "batch_mass": "348 g", "scale_resolution": "1 g", "diameter": "70 mm", "thickness": "34 mm"},
    ],
    "school": "strength_to_weight",
    "trial_rule": "best",
    "breach_policy": "penalty",
    "penalty": 0.1,
    "build_minutes": 22,
}  # fmt: skip


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
    answers: dict[str, bool] = field(default_factory=lambda: {"stands": True, "piers": False, "papered": False})
    trials: tuple[str, ...] = ()
    checked_in: bool = True


@dataclass(frozen=True)
class RunTold:
    """A run: its class, its day, whether the build clock ran, and what was built."""

    school_class: str
    day: date
    built: tuple[Built, ...]


FINISHED = RunTold(
    "7 Plover",
    date(2026, 10, 8),
    (
        Built("Fulmar", "29.4 g", tape="21 cm", says="700 g", note="Two deep folds, lip at each end",
              trials=("P b1 n8 n6 n4 ?crack n2 !crimp", "P b1 n8 n6 n4 n1 !crimp")),
        Built("Guillemot", "35.8 g", tape="30 cm", says="900 g", note="Box with one diaphragm",
              trials=("P b2 n10 n6 n4 ?bend n3 !joint", "P b2 n10 n6 n3 n3 n2 !joint")),
        Built("Gannet", "41.2 g", tape="26 cm", says="1 kg", note="Six pleats along the span",
              trials=("P b3 n10 n10 n5 n5 ?lean n5 !twist",)),
        Built("Skua", "26.7 g", tape="12 cm", says="400 g", note="One trough, edges turned up",
              trials=("P n10 n5 ?buckle n3 !crimp", "P n10 n5 n3 n2 !crimp")),
        Built("Kittiwake", "47.9 g", tape="32 cm", says="1.2 kg", note="Tube with a flat deck",
              trials=("P b3 n20 n10 n10 n10 n10 #no_more_load",)),
        Built("Razorbill", "33.5 g", tape="18 cm", says="800 g", note="Four pleats, wide",
              trials=("P b1 n10 n8 n4 %pile_toppled", "P b1 n10 n8 n4 n2 !slip")),
    ),
)  # fmt: skip

HALF_DONE = RunTold(
    "8 Tern",
    date(2026, 11, 19),
    (
        Built("Fulmar", "27.6 g", tape="24 cm", says="850 g", note="Seven pleats, 22 mm deep",
              trials=("P b1 n10 n10 n5 ?crack n5 n3 n3~ !crimp",)),
        Built("Guillemot", "33.1 g", tape="31 cm", says="1.1 kg", note="Box, closed with tape",
              trials=("P b1 n10 n5 ?bend n5 n3 n3~ !joint",)),
        Built("Gannet", "64.8 g", tape="28 cm", says="1.5 kg", note="Three tubes under a deck",
              trials=("P b3 n20 n20 ?bend n10 n10 #no_more_load",)),
        Built("Skua", "30.9 g", tape="16 cm", says="600 g", note="Deep trough with lips",
              trials=("P b1 n10 n3~ %pile_toppled", "P b1 n10 n5 n5 ?lean n4~ !twist")),
        Built("Kittiwake", "38.4 g", tape="18 cm", says="1.1 kg", note="Ten shallow pleats",
              trials=("P b1 n20 n10 n5 ?crack n5 n3~",)),
        Built("Razorbill", "41.7 g", rests=("57 mm", "41 mm"), tape="30 cm", says="1 kg", note="Pleats, doubled deck",
              trials=("P b1 n20 n10 n3~ !slip",)),
        Built("Petrel", "30.2 g", tape="22 cm", says="950 g", note="Tube and two edge beams"),
        Built("Dunlin", note="Glue still drying", answers={}, checked_in=False),
    ),
)  # fmt: skip
