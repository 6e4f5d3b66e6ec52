"""What would help, held to its word: over random drafts of every kind, each change is made and worked out anew."""

import math
import unittest
from random import Random
from typing import Any

from girder_core.drafting import KINDS, DraftKind, draft, expectation
from girder_core.drafting.model import Param
from girder_core.ground import GirderError
from girder_core.measure import Kind, typed_text
from girder_core.physics import STOCKS, Help
from girder_core.tests import tries

WANTED = tries(10)
"""Drafts of each kind that can be worked out; 200 where there is time for all."""


def any_of(param: Param, luck: Random) -> str:
    """A value of a parameter, mostly an ordinary one."""
    if param.forms:
        return luck.choice([key for key, stock in STOCKS.items() if stock.form in param.forms])
    if param.kind is None:
        return luck.choice(param.options).key
    if luck.random() < 0.5:
        value = param.default
    elif param.low > 0:
        value = math.exp(luck.uniform(math.log(param.low), math.log(param.high)))
    else:
        value = luck.uniform(param.low, param.high)
    return typed_text(round(value) if param.kind is Kind.COUNT else float(f"{value:.4g}"), param.kind)


def drafts(kind: DraftKind, wanted: int) -> Any:
    luck = Random(kind.key)
    found = tried = 0
    while found < wanted and tried < 60 * wanted:
        tried += 1
        typed = {param.key: any_of(param, luck) for param in kind.params}
        try:
            worked = draft(kind, typed)
        except GirderError:
            continue
        found += 1
        yield typed, worked
    assert found == wanted, f"{kind.key}: {found} of {wanted}"


def as_typed(param: Param, change: Help) -> str:
    """The change as a teacher would make it, to the last digit."""
    if param.kind is None:
        return change.choice
    if param.kind is Kind.COUNT:
        return str(round(change.value))
    return f"{change.value!r} {UNITS[param.kind]}"


class InSign(unittest.TestCase):
    def test_every_change_brings_what_it_says(self) -> None:
        for kind in KINDS.values():
            told = 0
            for typed, worked in drafts(kind, WANTED):
                before = worked.expected.prediction
                if before is None:
                    continue
                for change in before.what_helps:
                    param = kind.param(change.key)
                    assert param is not None
                    after = expectation(kind, {**typed, change.key: as_typed(param, change)}).prediction
                    assert after is not None
                    with self.subTest(f"{kind.key}: {change.change} of {typed}"):
                        gained = after.typical_n - before.typical_n
                        self.assertGreater(gained, 0)
                        self.assertAlmostEqual(gained / change.gain_n, 1, delta=1e-3 + 1e-6 * before.typical_n / gained)
                    told += 1
            self.assertGreater(told, WANTED // 2, kind.key)

    def test_another_choice_helps_too(self) -> None:
        for key, typed, words in (
            ("tripod", {"feet": "free", "circle_m": "240 mm"}, "Tie the feet together"),
            ("truss", {"top": "free"}, "Pieces across from top to top"),
            ("furniture", {"flutes": "lying"}, "Flutes up the legs"),
            ("strip_arch", {"feet": "free"}, "Tie the feet together"),
        ):
            prediction = draft(KINDS[key], typed).expected.prediction
            assert prediction is not None
            self.assertEqual(prediction.what_helps[0].change, words)

    def test_more_weight_and_less_weight_are_told_as_they_are(self) -> None:
        for kind in KINDS.values():
            for typed, worked in drafts(kind, max(3, WANTED // 8)):
                if worked.expected.prediction is None:
                    continue
                for change in worked.expected.prediction.what_helps:
                    param = kind.param(change.key)
                    assert param is not None
                    after = expectation(kind, {**typed, change.key: as_typed(param, change)})
                    self.assertAlmostEqual(
                        after.mass_kg - worked.expected.mass_kg, change.mass_kg,
                        delta=1e-9 + 1e-6 * worked.expected.mass_kg,
                    )  # fmt: skip


UNITS = {Kind.LENGTH: "m", Kind.MASS: "kg", Kind.FREQUENCY: "Hz", Kind.COUNT: ""}
