"""What in a set-up does not go together, family by family; and limits held against readings."""

import math
import unittest

from girder_core.families import FAMILIES, Status, check_setup, family_of, key
from girder_core.families.common import out_of_reach
from girder_core.ground import GirderError
from girder_core.kit import Material
from girder_core.measure import Quantity
from girder_core.safety import AgeBand


def material(size_m: float, name: str = "stuff") -> Material:
    return Material(key(name), name, final=1, size_m=size_m, buildable=True)


class Reach(unittest.TestCase):
    def test_a_distance_no_material_reaches(self) -> None:
        problems = out_of_reach(0.5, 0.04, [material(0.3, "straw"), material(0.53, "stick")], "gap_m", "The gap")
        self.assertIn("longer than the stick reaches (530 mm)", problems["gap_m"])
        self.assertEqual(out_of_reach(0.5, 0.03, [material(0.53)], "gap_m", "The gap"), {})

    def test_without_a_size_or_a_distance_nothing_is_said(self) -> None:
        self.assertEqual(out_of_reach(0.5, 0.0, [material(0.0)], "gap_m", "The gap"), {})
        self.assertEqual(out_of_reach(None, 0.0, [material(0.1)], "gap_m", "The gap"), {})

    def test_the_boat_and_the_column(self) -> None:
        self.assertIn("length_max_m", family_of("boat").conflicts({"length_max_m": 0.3}, [material(0.2)]))
        self.assertIn("height_m", family_of("column").conflicts({"height_m": 0.3}, [material(0.28)]))

    def test_keys_from_names(self) -> None:
        for name, expected in (
            ("M12 hex nut", "m12-hex-nut"),
            ("  ", "item"),
            ("6 mm dowel, 300 mm", "6-mm-dowel-300-mm"),
        ):
            self.assertEqual(key(name), expected)


class Rings(unittest.TestCase):
    """n cups of width D need a circle of at least D / sin(π/n) through their middles (plane geometry)."""

    def conflicts(self, n: int, across: float, cup: float, strut: float) -> set[str]:
        setup = {"supports": float(n), "circle_m": across, "support_m": cup}
        return set(family_of("ring").conflicts(setup, [material(strut, "strut")]))

    def test_cups_that_just_fit(self) -> None:
        for n in (3, 4, 6, 8, 12):
            least = 0.06 / math.sin(math.pi / n)
            self.assertEqual(self.conflicts(n, least * 1.001, 0.06, 1.0), set())
            self.assertEqual(self.conflicts(n, least * 0.999, 0.06, 1.0), {"supports"})

    def test_six_cups_round_a_circle_stand_a_radius_apart(self) -> None:
        # Euclid, Elements IV.15: the side of the regular hexagon equals the radius.
        self.assertEqual(self.conflicts(6, 0.2001, 0.1, 1.0), set())
        self.assertEqual(self.conflicts(6, 0.1999, 0.1, 1.0), {"supports"})

    def test_struts_too_short_to_reach_the_next(self) -> None:
        # Four struts must pass the middle. Of eight, each must also run by its neighbour's cup, 25 mm from its
        # middle: the near crossing lies 25 mm/sin 45° from the support, and with x = 35.36 mm the circle's radius of
        # 150 mm is √(((L − x)/(2 tan 22.5°))² + ((L + x)/2)²) for L = 137.05 mm (by hand).
        self.assertEqual(self.conflicts(4, 0.30, 0.05, 0.149), {"circle_m"})
        self.assertEqual(self.conflicts(4, 0.30, 0.05, 0.151), set())
        self.assertEqual(self.conflicts(8, 0.30, 0.05, 0.1365), {"circle_m"})
        self.assertEqual(self.conflicts(8, 0.30, 0.05, 0.1376), set())


class Arches(unittest.TestCase):
    def test_blocks_that_cannot_close_the_opening(self) -> None:
        # Two blocks of 60 mm over each other step in by at most 60 mm on either side each: 240 mm.
        blocks = [material(0.06, "block")]
        self.assertEqual(family_of("arch").conflicts({"opening_m": 0.24, "rise_max_m": 0.04}, blocks), {})
        self.assertIn("opening_m", family_of("arch").conflicts({"opening_m": 0.25, "rise_max_m": 0.04}, blocks))


class Limits(unittest.TestCase):
    def statuses(self, key_: str, readings: dict[str, Quantity], **setup: float) -> dict[str, Status]:
        family = family_of(key_)
        full = check_setup(key_, setup)
        good = {question.key: question.good for question in family.questions}
        return {result.key: result.status for result in family.check(full, readings, good)}

    def test_a_count_is_kept_or_not_and_never_doubtful(self) -> None:
        for n, status in ((1, Status.KEPT), (2, Status.BREACHED)):
            self.assertEqual(self.statuses("column", {"columns": Quantity(n)}, columns=1)["columns"], status)

    def test_a_base_too_wide_and_one_within_the_tape_s_doubt(self) -> None:
        for wide, status in ((0.280, Status.KEPT), (0.2804, Status.DOUBTFUL), (0.29, Status.BREACHED)):
            kept = self.statuses("tower", {"base": Quantity(wide, 0.0003)}, base_max_m=0.28)
            self.assertEqual(kept["base"], status)

    def test_both_sides_of_a_table_are_held_against_one_limit(self) -> None:
        kept = self.statuses(
            "capacity_table", {"length": Quantity(0.3), "width": Quantity(0.4)}, length_max_m=0.32, height_m=0.09
        )
        self.assertEqual((kept["length"], kept["width"]), (Status.KEPT, Status.BREACHED))

    def test_every_family_holds_its_own_readings_against_its_own_proposal(self) -> None:
        """Readings just on the good side of every limit break nothing."""
        for kind in FAMILIES.values():
            setup = kind.usual(AgeBand.AGES_11_13)
            readings: dict[str, Quantity] = {}
            for limit in kind.limits:
                value = setup[limit.field]
                if value is not None and limit.reading not in readings:
                    readings[limit.reading] = Quantity(value)
            if kind.key == "bridge":
                readings |= {side: Quantity(0.03) for side in ("overlap_left", "overlap_right")}
            good = {question.key: question.good for question in kind.questions}
            results = kind.check(setup, readings, good)
            self.assertEqual({r.status for r in results} - {Status.KEPT}, set(), kind.key)
            bad = kind.check(setup, readings, {k: not v for k, v in good.items()})
            self.assertEqual(sum(r.status is Status.BREACHED for r in bad), len(kind.questions))

    def test_least_above_most_is_said_for_any_pair(self) -> None:
        with self.assertRaises(GirderError) as caught:
            check_setup("bridge", {"overlap_min_m": 0.06, "overlap_max_m": 0.02})
        self.assertIn("overlap_min_m", caught.exception.data["fields"])
