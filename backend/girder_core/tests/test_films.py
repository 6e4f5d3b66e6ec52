"""Films: what moves follows from the model, at one scale, and tells nothing that is kept back."""

import math
import unittest
from dataclasses import replace

from girder_core.drafting import KINDS, DraftKind, expectation, film, films_of, kinds_for, read_values, start_values
from girder_core.drafting.boat import hull_of, water_of
from girder_core.drafting.model import Expected, Values
from girder_core.drafting.ring import plan_of
from girder_core.families import FAMILIES
from girder_core.ground import Film, GirderError, Role, Shape
from girder_core.measure import System
from girder_core.physics import payload_to_rim_kg
from girder_core.safety import AgeBand


def begun(key: str, **typed: str) -> tuple[DraftKind, Values, Expected]:
    kind = KINDS[key]
    text = {**start_values(kind, {}, {}), **typed}
    return kind, read_values(kind, text), expectation(kind, text)


def shown(key: str, number: int = 0, **typed: str) -> Film:
    kind, values, expected = begun(key, **typed)
    made = film(kind, values, expected, number=number)
    assert made is not None
    return made


def most_kg(values: Values) -> float:
    return payload_to_rim_kg(hull_of(values), water_of(values))


def of(role: Role, shapes: tuple[Shape, ...], kind: str = "area") -> list[Shape]:
    return [shape for shape in shapes if shape.role is role and shape.kind == kind]


class Every(unittest.TestCase):
    def test_every_kind_of_challenge_moves(self) -> None:
        for family in FAMILIES.values():
            with self.subTest(family.key):
                self.assertIs(family.film is None, bool(kinds_for(family.key)))
        for kind in KINDS.values():
            self.assertTrue(kind.films, kind.key)

    def test_each_film_is_drawn_at_one_scale(self) -> None:
        drawn = 0
        for kind in KINDS.values():
            for typed in self.choices(kind):
                try:
                    _, values, expected = begun(kind.key, **typed)
                except GirderError:
                    # Some choices cannot be built at the first sizes: a raft of foil sinks.
                    continue
                for number in range(len(films_of(kind, values))):
                    made = film(kind, values, expected, number=number)
                    with self.subTest(kind.key, typed=typed, number=number):
                        assert made is not None
                        self.assertGreater(len(made.frames), 2)
                        left, bottom, right, top = made.box()
                        for frame in made.frames:
                            box = frame.drawing.box()
                            self.assertTrue(left <= box[0] and bottom <= box[1] and box[2] <= right and box[3] <= top)
                            self.assertTrue(frame.says.endswith("."))
                        # Something moves.
                        self.assertNotEqual(made.frames[0].drawing.shapes, made.frames[-1].drawing.shapes)
                        drawn += 1
        self.assertGreater(drawn, 20)

    @staticmethod
    def choices(kind: DraftKind) -> list[dict[str, str]]:
        """As it begins, and each choice that decides which films there are."""
        deciding = {motion.only[0]: motion.only[1] for motion in kind.films if motion.only[0]}
        return [{}, *({key: option} for key, options in deciding.items() for option in options)]

    def test_nothing_is_told_of_what_goes_first_where_a_class_has_yet_to_say(self) -> None:
        for kind in KINDS.values():
            _, values, expected = begun(kind.key)
            quiet = film(kind, values, expected, tells=False)
            assert quiet is not None
            names = [state.name.lower() for state in expected.prediction.limit_states] if expected.prediction else []
            for frame in quiet.frames:
                self.assertFalse([name for name in names if name in frame.says.lower()], kind.key)


class Modelled(unittest.TestCase):
    def test_a_bridge_sags_in_proportion_to_its_load(self) -> None:
        """Linear beam theory: at half the load half the sag (Gere and Goodno, Mechanics of Materials, ch. 9)."""
        kind, values, expected = begun("sheet_bridge")
        lows = []
        for share in (0.25, 0.5, 1.0):
            views = kind.show(replace(values, share=share), expected, System.METRIC).views
            deck = of(Role.STRUCTURE, next(view for view in views if view.key == "side").drawing.shapes)[0]
            lows.append(-min(y for _, y in deck.points))
        self.assertAlmostEqual(lows[0] / lows[2], 0.25, places=6)
        self.assertAlmostEqual(lows[1] / lows[2], 0.5, places=6)

    def test_a_boat_pushes_aside_what_it_weighs(self) -> None:
        """Archimedes: a straight-sided box of water as long, as wide and as deep as it sits weighs what it weighs."""
        values = begun("boat", hull="box")[1]
        made = shown("boat", hull="box")
        hull, afloat = hull_of(values), 0
        cargoes = [1.05 * most_kg(values) * i / (len(made.frames) - 1) for i in range(len(made.frames))]
        for frame, cargo in zip(made.frames, cargoes, strict=True):
            keel = min(y for _, y in of(Role.STRUCTURE, frame.drawing.shapes)[0].points)
            if cargo > most_kg(values):
                continue
            displaced = water_of(values) * hull.length_m * hull.beam_m * -keel
            self.assertAlmostEqual(displaced, hull.mass_kg + cargo, delta=0.002 * (hull.mass_kg + cargo) + 1e-6)
            afloat += 1
        self.assertGreater(afloat, 10)

    def test_a_ring_closes_on_no_wider_and_no_tighter_circle(self) -> None:
        plan = plan_of(begun("ring")[1])
        sizes = [of(Role.GHOST, frame.drawing.shapes, "circle")[0].radius_m for frame in shown("ring").frames]
        self.assertEqual(sizes, sorted(sizes))
        self.assertGreaterEqual(sizes[0], plan.smallest_radius_m - 1e-9)
        self.assertLessEqual(sizes[-1], plan.largest_radius_m + 1e-9)
        self.assertGreater(sizes[-1] / sizes[0], 1.1)

    def test_a_tower_that_goes_over_keeps_its_length(self) -> None:
        """However far it leans, it is the same tower: points stay as far apart as they were."""
        kind, values, expected = begun("tower")
        number = [motion.view for motion in films_of(kind, values)].index("tipped")
        made = film(kind, values, expected, number=number)
        assert made is not None
        spans = []
        for frame in made.frames:
            legs = of(Role.STRUCTURE, frame.drawing.shapes, "line")
            spans.append(math.dist(legs[0].points[0], legs[-1].points[-1]))
        for span in spans:
            self.assertAlmostEqual(span, spans[0])

    def test_a_figure_is_seen_over_a_wall_from_where_the_line_of_sight_clears_it(self) -> None:
        """Plain geometry: the line from the eye to the head clears the wall's outer top corner."""
        family = FAMILIES["hideout"]
        setup = family.usual(AgeBand.AGES_8_10)
        assert family.film is not None
        tall, wide = setup["figure_height_m"] or 0, setup["figure_width_m"] or 0
        inner = 1.1 * wide
        clears_deg = math.degrees(math.atan2(0.2 * tall, inner))
        for i, frame in enumerate(family.film(setup).frames):
            with self.subTest(degrees=5 * i):
                seen = any(shape.role is Role.WEAKEST for shape in frame.drawing.shapes)
                self.assertEqual(seen, 5 * i >= clears_deg)
                self.assertEqual("seen" in frame.says, seen)
