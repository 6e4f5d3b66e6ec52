"""Whoever reads inches, ounces and pounds reads nothing else: no sentence of the core has a metric figure in it."""

import re
import unittest
from collections.abc import Iterator
from random import Random
from typing import Any

from girder_core.drafting import KINDS, DraftKind, draft
from girder_core.families import FAMILIES, check_setup
from girder_core.ground import Drawing, GirderError
from girder_core.measure import Kind, System, near_step, read_in, si_per
from girder_core.safety import AgeBand
from girder_core.tests import tries
from girder_core.tests.test_what_helps import any_of

METRIC = re.compile(r"\d\s?(?:mm|cm|m|km|kg|g|L|ml)\b(?!/)(?!²)")
WANTED = tries(20)
"""Drafts of each kind, those that are refused among them."""


def told_by(error: GirderError) -> Iterator[str]:
    yield error.sentence
    yield from error.data.get("fields", {}).values()


def drawn(drawing: Drawing) -> Iterator[str]:
    yield drawing.says
    yield from (shape.text for shape in drawing.shapes)


def said(kind: DraftKind, typed: dict[str, str]) -> Iterator[str]:
    """Every sentence of a draft, or of its refusal."""
    try:
        worked = draft(kind, typed)
    except GirderError as error:
        yield from told_by(error)
        return
    yield from (worked.headline, worked.note, *worked.shown.says)
    if worked.expected.prediction is not None:
        yield from (change.change for change in worked.expected.prediction.what_helps)
    for view in worked.shown.views:
        yield from drawn(view.drawing)
    for fact in worked.shown.facts:
        yield from (fact.label, fact.words)
    for curve in worked.shown.curves:
        yield from (curve.title, curve.across, curve.up, *(words for _, words in curve.marks))


class NothingMetric(unittest.TestCase):
    def setUp(self) -> None:
        self.enterContext(read_in(lambda: System.US))

    def held(self, about: Any, sentences: Iterator[str]) -> int:
        read = 0
        for sentence in sentences:
            read += 1
            self.assertNotRegex(sentence, METRIC, about)
        return read

    def test_the_check_finds_what_it_looks_for(self) -> None:
        for text in ("about 1.2 kg", "Legs of 300 mm", "1.21 m high", "10 mm longer", "0.5 L of it"):
            self.assertRegex(text, METRIC)
        for text in ("12.00 in", "paper of 160 g/m²", "3 ft 4 in", "14 N", "2 members", "8 of 10 go"):
            self.assertNotRegex(text, METRIC)

    def test_drafts_their_refusals_and_what_would_help(self) -> None:
        for kind in KINDS.values():
            luck = Random(f"{kind.key} in inches")
            read = 0
            with self.subTest(kind.key):
                for _ in range(WANTED):
                    typed = {param.key: any_of(param, luck) for param in kind.params}
                    read += self.held((kind.key, typed), said(kind, typed))
                    odd = luck.choice([param for param in kind.params if param.kind not in (None, Kind.COUNT)])
                    wild = {**typed, odd.key: luck.choice(("0.01 in", "400 in", "9000 lb", "-1 in", "0 oz"))}
                    read += self.held((kind.key, wild), said(kind, wild))
                self.assertGreater(read, 2 * WANTED)

    def test_what_a_challenge_says_and_why_its_setup_is_refused(self) -> None:
        for family in FAMILIES.values():
            for age in AgeBand:
                setup = family.usual(age)
                with self.subTest(family.key, age=age):
                    self.held(family.key, drawn(family.draw(setup)))
                    self.held(family.key, iter(family.conflicts(setup, ()).values()))
                    for field in family.setup:
                        for value in (field.low / 3, field.high * 3):
                            try:
                                check_setup(family.key, {**setup, field.key: value})
                            except GirderError as error:
                                self.held((family.key, field.key), told_by(error))

    def test_steps_are_round_in_the_reader_s_units(self) -> None:
        inch, ounce = si_per("in", Kind.LENGTH), si_per("oz", Kind.MASS)
        for step, kind, expected in ((0.01, Kind.LENGTH, inch / 4), (0.02, Kind.LENGTH, inch / 2),
                                     (0.05, Kind.LENGTH, 2 * inch), (0.2, Kind.MASS, 8 * ounce)):  # fmt: skip
            with self.subTest(step, kind=kind):
                self.assertAlmostEqual(near_step(step, kind), expected)
                self.assertEqual(near_step(step, kind, System.METRIC), step)
        self.assertEqual(near_step(5.0, Kind.TIME), 5.0)
