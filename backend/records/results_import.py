"""Results that were written on paper or in a spreadsheet, brought into a run: all of them, or none.

Each row is a trial of a team, or several where the columns of a trial stand there more than once. It goes through the
same services as at check-in and at the bench, so the same rules hold, and what is refused there is said here with its
line. A preview does all of it and takes it back.
"""

from __future__ import annotations

import re
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.utils import timezone

from bench import services as bench
from challenges.models import Run
from designs import services as designing
from designs.models import Design
from evengirder.aside import read_aside
from evengirder.lane import Told, quietly
from girder_core.families import SELF_MASS
from girder_core.ground import GirderError
from girder_core.kit import PLATFORM
from girder_core.measure import Kind, TypedReading, units
from records.table_file import Row, Table, is_workbook, read_table, too_much, unpacked

TEAM, END, NOTE, PREDICTED, PILE = "team", "end", "note", "predicted", "pile"
HELD, BROKE = "held", "broke_at"
PER_TRIAL = (HELD, BROKE, END, PILE)
"""What a trial has of its own, besides counts; columns of these may stand in a row more than once."""
_STEP = {Kind.LENGTH: "1 mm", Kind.MASS: "1 g", Kind.COUNT: "1", Kind.TIME: "1 s", Kind.FREQUENCY: "0.1 Hz",
         Kind.AREA: "1 mm"}  # fmt: skip
_UNIT = re.compile(r"[(\[]\s*([^)\]]+?)\s*[)\]]|\bin\s+(\w+)$")
_NUMBERED = re.compile(r"\b(?:trial|test|try)\s*\d")
_BARE = re.compile(r"[-+−]?\s*\d+(?:[.,]\d+)?")
MOST_MESSAGES = 60


@dataclass(frozen=True)
class Target:
    """Something that a column can mean."""

    key: str
    label: str


@dataclass(frozen=True)
class LineError:
    """What is wrong with a row: its line in the file, the column, a sentence."""

    line: int
    column: str
    sentence: str


@dataclass(frozen=True)
class Taken:
    """What came of bringing a table in: how many trials and readings, and what stood in the way."""

    trials: int
    readings: int
    errors: tuple[LineError, ...]


def table_of(data: bytes, sheet: str) -> Table:
    """The table in a file, a workbook read aside; errors as ``read_table``."""
    if not is_workbook(data):
        return read_table(data, sheet)
    return unpacked(read_aside("records.table_file", data, sheet, too_much=too_much()))


def targets(run: Run) -> list[Target]:
    """What a column of a table can mean in this run."""
    family, kit = run.core_family(), run.core_kit()
    targets = [Target(TEAM, "Team")]
    if family.loaded:
        targets += [
            Target(f"held:{item.key}", f"Held: how many {item.name}") for item in kit.items if item.key != PLATFORM
        ]
        if not family.bench.counts_pieces:
            targets += [Target(HELD, "Held, as a mass"), Target(BROKE, "Broke at, as a mass")]
        targets += [Target(END, "How it ended"), Target(PILE, "Pile on the scale"), Target(PREDICTED, "Team predicted")]
    targets += [Target(f"reading:{spec.key}", spec.label) for spec in family.readings]
    return [*targets, Target(NOTE, "Note")]


def guess(run: Run, header: Sequence[str]) -> list[str]:
    """For each column what it most likely means; empty where nothing fits."""
    known = targets(run)
    words = {
        TEAM: ("team", "group"), END: ("ended", "failure", "how", "mode"), PILE: ("pile",), NOTE: ("note", "remark"),
        PREDICTED: ("predict", "guess"), BROKE: ("broke at", "broke under", "failed at"),
        HELD: ("held", "load", "carried"), f"reading:{SELF_MASS}": ("own weight", "self", "mass of"),
    }  # fmt: skip
    taken: list[str] = []
    for name in header:
        plain = _UNIT.sub("", name).strip().lower()
        by_label = [
            column.key for column in known if column.label.lower() == plain or column.key.partition(":")[2] == plain
        ]
        by_item = [column.key for column in known if column.key.startswith("held:") and _item(column).lower() in plain]
        by_word = [key for key, names in words.items() if any(word in plain for word in names)]
        if _NUMBERED.search(plain):
            by_word.append(HELD)
        again = any(sign.isdigit() for sign in plain)
        matching = [
            key
            for key in (*by_label, *by_item, *by_word)
            if key in {t.key for t in known} and (key not in taken or (again and _per_trial(key)))
        ]
        taken.append(matching[0] if matching and plain else "")
    return taken


def _per_trial(key: str) -> bool:
    return key.startswith("held:") or key in PER_TRIAL


def _item(target: Target) -> str:
    return target.label.removeprefix("Held: how many ")


def bring_in(run: Run, table: Table, meaning: Sequence[str], keep: bool, told: Told = quietly) -> Taken:
    """Bring the rows of a table into a run; without ``keep``, or when any row is refused, nothing is kept.

    Errors: ``mapping_incomplete`` without a column for the team, ``mapping_twice``; what is wrong with rows is in the
    answer.
    """
    known = {target.key for target in targets(run)}
    if len(meaning) != len(table.header) or any(key and key not in known for key in meaning):
        raise GirderError("mapping_incomplete", "Say for each column what it means, or that it is left out.")
    used = [key for key in meaning if key]
    if TEAM not in used or len(used) < 2:
        raise GirderError("mapping_incomplete", "One column has to be the team, and one more a result or a reading.")
    once = [key for key in used if not _per_trial(key)]
    if len(set(once)) < len(once):
        raise GirderError("mapping_twice", "Two columns mean the same. Leave one out.")
    columns = {key: [i for i, known_key in enumerate(meaning) if known_key == key] for key in used}
    errors: list[LineError] = []
    trials = readings = 0
    with transaction.atomic():
        for count, row in enumerate(table.rows):
            told(count, len(table.rows), f"Line {row.line}")
            try:
                with transaction.atomic():
                    done = _Line(run, table.header, columns, row).bring_in()
                trials, readings = trials + done[0], readings + done[1]
            except _Refused as problem:
                errors.append(problem.error)
        if errors or not keep:
            transaction.set_rollback(True)
    return Taken(trials, readings, tuple(errors[:MOST_MESSAGES]))


class _Refused(Exception):
    def __init__(self, error: LineError) -> None:
        super().__init__(error.sentence)
        self.error = error


class _Line:
    """A row on its way in."""

    def __init__(self, run: Run, header: Sequence[str], columns: Mapping[str, Sequence[int]], row: Row) -> None:
        self.run, self.header, self.columns, self.row = run, header, columns, row
        # Which of the trials in this row is being read.
        self.nth = 0

    def at(self, key: str) -> int | None:
        """The column of a key: that of the trial being read; one that stands there once for all goes for each."""
        columns = self.columns.get(key, ())
        for_all = not _per_trial(key) or (key == END and len(columns) == 1)
        nth = 0 if for_all else self.nth
        return columns[nth] if nth < len(columns) else None

    def text(self, key: str) -> str:
        at = self.at(key)
        return "" if at is None else self.row.cells[at].strip()

    def refused(self, key: str, sentence: str) -> _Refused:
        at = self.at(key)
        return _Refused(LineError(self.row.line, "" if at is None else self.header[at], sentence))

    def bring_in(self) -> tuple[int, int]:
        """How many trials and readings it became."""
        design = self.design()
        readings = 0
        for key in self.columns:
            if key.startswith("reading:") and self.text(key):
                spec = self.run.core_family().reading_keys[key.partition(":")[2]]
                typed = TypedReading(self.measured(key), _STEP[spec.kind])
                self.asked(key, lambda typed=typed, name=spec.key: designing.take_reading(design, name, typed, False))
                readings += 1
        if self.text(PREDICTED):
            self.asked(PREDICTED, lambda: designing.predict(design, self.measured(PREDICTED)))
        if self.text(NOTE):
            designing.note(design, self.text(NOTE)[:300])
        trials = 0
        loads = [key for key in self.columns if _per_trial(key) and key not in (END, PILE)]
        one_end = len(self.columns.get(END, ())) == 1
        most = max((len(at) for key, at in self.columns.items() if _per_trial(key)), default=0)
        for nth in range(most):
            self.nth = nth
            if any(self.text(key) for key in loads) or (not one_end and self.text(END)):
                self.trial(design)
                trials += 1
        if not trials and self.text(END):
            # An ending and nothing held: it failed at once.
            self.trial(design)
            trials = 1
        return trials, readings

    def design(self) -> Design:
        """The latest version of the team that the row names."""
        name = self.text(TEAM)
        designs = self.run.designs.filter(team__name__iexact=name).select_related("run__school_class", "team")
        design = designs.order_by("-version").first()
        if design is None:
            sentence = f"No team is called “{name}” in this run." if name else "The team is missing."
            raise self.refused(TEAM, sentence)
        return design

    def measured(self, key: str) -> str:
        """A cell with its unit: its own, or the one that its column names in brackets."""
        at = self.at(key)
        text, unit = self.text(key), _UNIT.search("" if at is None else self.header[at])
        return f"{text} {unit[1] or unit[2]}" if unit and _BARE.fullmatch(text) else text

    def mass(self, key: str) -> float:
        return float(self.asked(key, lambda: units.parse_load(self.measured(key)).si))

    def asked(self, key: str, act: Any) -> Any:
        try:
            return act()
        except GirderError as error:
            raise self.refused(key, error.sentence) from None

    def trial(self, design: Design) -> None:
        family = self.run.core_family()
        if design.checked_in_at is None:
            # It was tested, so on paper it was let to the bench; whatever breaks a rule is seen in the readings.
            designing.answer(design, {q.key: q.good for q in family.questions if q.key not in design.answers})
            self.asked(TEAM, lambda: designing.check_in(design))
        counts = {key.partition(":")[2]: self.count(key) for key in self.columns if key.startswith("held:")}
        placed = {item: count for item, count in counts.items() if count}
        as_mass = bool(self.text(HELD) or self.text(BROKE))
        if self.run.core_kit().has_platform() and (placed or not as_mass):
            placed = {PLATFORM: 1, **placed}
        steps: list[tuple[str, dict[str, Any]]] = []
        for item, count in placed.items():
            # That it held for the agreed wait is what the paper says.
            waited = {"waited_s": self.run.trial_setup().hold_s}
            steps += [("place", {"item": item, "count": count}), ("settle", waited)]
        if self.text(HELD):
            steps.append(("load_reading", self.read(self.measured(HELD), held=True)))
        steps += self.end(list(placed))
        if self.text(PILE):
            steps.append(("pile_reading", {"mass": self.measured(PILE), "resolution": "1 g", "covers": "held"}))
        bench_id, now = uuid.uuid4(), timezone.now()
        trial = self.asked(TEAM, lambda: bench.start_trial(design, uuid.uuid4(), bench_id, "written on paper"))
        events = [
            {"id": uuid.uuid4(), "sequence": n, "kind": kind, "data": data, "happened_at": now}
            for n, (kind, data) in enumerate(steps, start=1)
        ]
        done = self.asked(
            END, lambda: bench.append_events(trial, bench_id, events, author=self.run.school_class.owner.name)
        )
        if done.refused is not None:
            at = next(i for i, event in enumerate(events) if str(event["id"]) == done.refused_id)
            raise self.refused(self.column_of(*steps[at]), done.refused.sentence)
        bench.release(trial)

    def column_of(self, kind: str, data: Mapping[str, Any]) -> str:
        """The column that an event comes from."""
        if kind == "load_reading":
            return HELD if data["held"] or BROKE not in self.columns else BROKE
        counted = f"held:{data.get('item', '')}"
        return counted if counted in self.columns else PILE if kind == "pile_reading" else END

    def read(self, mass: str, held: bool) -> dict[str, Any]:
        # Masses in a table are taken as read to the gram: a spreadsheet drops the zeros that would tell.
        return {"mass": mass, "resolution": "1 g", "held": held, "source": "table"}

    def count(self, key: str) -> int:
        text = self.text(key)
        if not text:
            return 0
        if not re.fullmatch(r"\d+(?:[.,]0+)?", text):
            raise self.refused(key, f"“{text}” is no whole number of objects.")
        return int(re.split(r"[.,]", text)[0])

    def end(self, placed: Sequence[str]) -> list[tuple[str, dict[str, Any]]]:
        """The last events: one more object and how it went, or why it ended with the structure standing."""
        family, text = self.run.core_family(), self.text(END).lower()
        ways = {m.label.lower(): ("fail", {"mode": m.key}) for m in family.failure_modes}
        ways |= {m.label.lower(): ("run_out", {"reason": m.key}) for m in family.run_out_reasons}
        ways |= {m.label.lower(): ("void", {"reason": m.key}) for m in family.loading_errors}
        ways |= {key: way for way in list(ways.values()) for key in way[1].values()}
        if text not in ways:
            known = ", ".join(m.label.lower() for m in (*family.failure_modes, *family.run_out_reasons))
            raise self.refused(END, f"How did it end? Known here: {known}.")
        kind, details = ways[text]
        data: dict[str, Any] = dict(details)
        if kind == "run_out":
            # Whoever wrote it was there.
            data["confirmed"] = True
        if self.text(BROKE):
            return [("load_reading", self.read(self.measured(BROKE), held=False)), (kind, data)]
        # What broke it is not on the paper: one more of the smallest that was in use.
        smallest = self.run.core_kit().smallest(placed)
        if kind != "fail" or smallest is None:
            return [(kind, data)]
        if self.text(HELD):
            mass_kg = self.mass(HELD) + smallest.mass.value
            return [("load_reading", self.read(f"{mass_kg:.9f} kg", held=False)), (kind, data)]
        return [("place", {"item": smallest.key, "count": 1}), (kind, data)]
