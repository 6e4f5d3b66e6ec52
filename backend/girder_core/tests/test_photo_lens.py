"""A tablet's lens, calibrated from pictures of a card: what is found, what is refused, what it is good for."""

import math
import unittest
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from scipy.optimize import brentq

from girder_core.ground import GirderError
from girder_core.measure import Kind, Quantity, System
from girder_core.photo import (
    Frame,
    Lens,
    Look,
    Pointed,
    better_told,
    calibrated,
    judged,
    length,
    lens_told,
    notes_on,
    see,
)
from girder_core.photo.calibrating import LEAST_PICTURES, MOST_PICTURES, Picture
from girder_core.photo.lens import FOCUSED, known_before
from girder_core.photo.sizes import with_lens_known
from girder_core.tests.photographed import (
    TWELVE_MEGAPIXELS,
    eye,
    for_calibration,
    lens_drawn,
    pair,
    seen,
    standing,
)

TRUE = Quantity(1.0)
BENDING = {"focal_px": 3100.0, "k1": -0.08, "k2": 0.01}


def straightened(lens: dict[str, float], r: float) -> float:
    """Where a ray that is seen at r half-diagonals from the middle would be without distortion, by Brown's model."""
    half = TWELVE_MEGAPIXELS.half_diagonal_px / lens["focal_px"]
    return float(brentq(lambda u: u * (1 + lens["k1"] * u**2 + lens["k2"] * u**4) - r * half, 0.0, 1.2)) / half


def lens_of(seed: int = 1, count: int = 6, lens: dict[str, float] = BENDING) -> Lens:
    lens_ = calibrated(for_calibration(lens, np.random.default_rng(seed), count)).lens
    assert lens_ is not None
    return lens_


class Found(unittest.TestCase):
    def test_how_it_bends_lines_is_what_its_model_says_turned_round(self) -> None:
        for seed in range(4):
            truth = lens_drawn(np.random.default_rng([seed, 3]))
            lens = lens_of(seed, 6, truth)
            covariance = np.array(lens.covariance)
            self.assertAlmostEqual(
                lens.known[0], math.log(truth["focal_px"] / 4000), delta=3.5 * math.sqrt(covariance[0, 0])
            )
            for r in (0.4, 0.7, 0.9):
                terms = np.array([r**3, r**5])
                off = math.sqrt(float(terms @ covariance[1:, 1:] @ terms))
                # Two terms do not follow the other way round of a bent lens better than to 1 in 10,000.
                self.assertAlmostEqual(
                    float(terms @ lens.known[1:]), straightened(truth, r) - r, delta=3.5 * off + 2e-4, msg=f"{seed} {r}"
                )
                self.assertLess(off, 0.003)

    def test_more_pictures_tell_it_better(self) -> None:
        few, many = (np.diag(np.array(lens_of(5, count).covariance)) for count in (5, 12))
        # What focusing differs by is averaged out, too.
        self.assertTrue((many < 0.7 * few).all(), (few, many))

    def test_it_is_told_in_a_sentence(self) -> None:
        self.assertRegex(
            lens_told(lens_of()), r"^It moves the corners of a picture by \d\.\d\d% ± \d\.\d\d% inwards\.$"
        )
        pincushion = Lens((0.0, -0.02, 0.004), ((1e-6, 0, 0), (0, 1e-6, 0), (0, 0, 1e-6)), 4 / 3)
        self.assertIn("1.60% ± 0.28% outwards", lens_told(pincushion))


class Wanted(unittest.TestCase):
    def setUp(self) -> None:
        self.chance = np.random.default_rng(8)

    def test_how_many_more(self) -> None:
        pictures = for_calibration(BENDING, self.chance, LEAST_PICTURES)
        for n in range(LEAST_PICTURES):
            told = calibrated(pictures[:n])
            self.assertIsNone(told.lens)
            self.assertTrue(told.wanted.startswith(f"{LEAST_PICTURES - n} more picture"), told.wanted)
        self.assertIsNotNone(calibrated(pictures).lens)

    def test_all_from_above(self) -> None:
        told = calibrated(for_calibration(BENDING, self.chance, 6, wide=0.1))
        self.assertIn("from aside", told.wanted)
        tilted = calibrated(for_calibration(BENDING, self.chance, 6))
        assert told.lens and tilted.lens
        self.assertGreater(told.lens.covariance[0][0], 1.5 * tilted.lens.covariance[0][0])

    def test_all_from_far_away(self) -> None:
        pictures = [
            (seen(eye(0.8, 0.5, i * math.pi / 2, **BENDING), [standing()], 0.08, i), TWELVE_MEGAPIXELS)
            for i in range(6)
        ]  # fmt: skip
        self.assertIn("corners of the picture", calibrated(pictures).wanted)

    def test_nothing_where_it_is_known_well(self) -> None:
        # One of them reaches far out.
        far_out = eye(0.27, 0.0, k1=-0.08, k2=0.01, focal_px=3100.0, roll_rad=math.pi / 2)
        off = replace(standing(), x=0.03, y=0.015)
        pictures = [
            *for_calibration(BENDING, self.chance, 7),
            (seen(far_out, [off], 0.08, 1), TWELVE_MEGAPIXELS),
        ]  # fmt: skip
        told = calibrated(pictures)
        self.assertEqual(told.wanted, "")


class Refused(unittest.TestCase):
    def setUp(self) -> None:
        self.chance = np.random.default_rng(4)
        self.pictures = for_calibration(BENDING, self.chance, 6)

    def refused(self, code: str, pictures: Sequence[Picture]) -> GirderError:
        with self.assertRaises(GirderError) as caught:
            calibrated(pictures)
        self.assertEqual(caught.exception.code, code)
        return caught.exception

    def test_one_that_was_zoomed_is_named(self) -> None:
        for i in (0, 3):
            zoomed = for_calibration({**BENDING, "focal_px": 5000.0, "k1": -0.03}, self.chance, i + 1)[i]
            error = self.refused("pictures_differ", [*self.pictures[:i], zoomed, *self.pictures[i:]])
            self.assertEqual(error.data["picture"], i)
            self.assertIn(f"Picture {i + 1} ", error.sentence)

    def test_another_shape_and_another_camera(self) -> None:
        for frame in (Frame(4000, 2250), replace(TWELVE_MEGAPIXELS, camera="another")):
            error = self.refused("pictures_differ", [*self.pictures, (self.pictures[0][0], frame)])
            self.assertEqual(error.data["picture"], 6)

    def test_too_many(self) -> None:
        self.refused("many_pictures", [self.pictures[0]] * (MOST_PICTURES + 1))

    def test_a_card_that_is_bent(self) -> None:
        marks = self.pictures[2][0]
        bent = [replace(mark, corners=tuple((x + 30 * (i // 2 % 2), y) for x, y in mark.corners))
                for i, mark in enumerate(marks)]  # fmt: skip
        self.refused("card_bent", [*self.pictures[:2], (bent, TWELVE_MEGAPIXELS), *self.pictures[3:]])


class Used(unittest.TestCase):
    def setUp(self) -> None:
        self.lens = lens_of()
        self.camera = eye(1.2, 0.35, 0.4, **BENDING)
        self.marks = seen(self.camera, [standing()], 0.08, 3)
        self.ends = Pointed(pair(self.camera, (-0.1, 0.1, 0.0), (0.4, 0.1, 0.0)), 0.2)

    def test_a_size_far_from_the_card_is_known_better(self) -> None:
        plain, better = (
            length(see(self.marks, TWELVE_MEGAPIXELS, lens), self.ends, TRUE).quantity for lens in (None, self.lens)
        )
        self.assertLess(better.standard_uncertainty, 0.8 * plain.standard_uncertainty)
        self.assertAlmostEqual(better.value, 0.5, delta=3 * better.standard_uncertainty)

    def test_what_it_would_bring_is_about_what_it_brings_and_both_are_said(self) -> None:
        def said(lens: Lens | None) -> str:
            view = see(self.marks, TWELVE_MEGAPIXELS, lens)
            return better_told(view, self.marks, TWELVE_MEGAPIXELS, ends, Kind.LENGTH, TRUE, System.METRIC)

        # Right through the card a second one brings little, the lens more.
        ends = Pointed(pair(self.camera, (-0.25, 0.0, 0.0), (0.25, 0.0, 0.0)), 0.05)
        plain, brought = (length(see(self.marks, TWELVE_MEGAPIXELS, lens), ends, TRUE) for lens in (None, self.lens))
        view = see(self.marks, TWELVE_MEGAPIXELS)
        promised = with_lens_known(view, ends, Kind.LENGTH, TRUE).quantity.standard_uncertainty
        self.assertLess(promised, 0.5 * plain.quantity.standard_uncertainty)
        self.assertAlmostEqual(promised / brought.quantity.standard_uncertainty, 1.0, delta=0.4)
        self.assertRegex(said(None), r"^With .* it would be (about )?± [\d.]+ mm\.$")
        self.assertRegex(said(self.lens), r"Had this tablet’s lens not been calibrated, it would be ± [\d.]+ mm\.$")

    def test_held_the_other_way_up_it_is_the_same_lens(self) -> None:
        upright = Frame(3000, 4000)
        camera = eye(1.3, 0.3, 1.0, frame=upright, **BENDING)
        marks = seen(camera, [standing()], 0.08, 9)
        view = see(marks, upright, self.lens)
        self.assertIs(view.lens, self.lens)
        size = length(view, Pointed(pair(camera, (0.0, -0.2, 0.0), (0.05, 0.4, 0.0)), 0.2), TRUE).quantity
        self.assertAlmostEqual(size.value, math.hypot(0.05, 0.6), delta=3 * size.standard_uncertainty)
        # So it is in a picture that was made smaller.
        small = Frame(2000, 1500)
        half = [replace(mark, corners=tuple((x / 2, y / 2) for x, y in mark.corners)) for mark in self.marks]
        self.assertIs(see(half, small, self.lens).lens, self.lens)

    def test_a_picture_through_another_lens_is_measured_in_without_it_and_that_is_said(self) -> None:
        zoomed = eye(1.6, 0.5, 0.4, focal_px=6200.0)
        marks = seen(zoomed, [standing()], 0.08, 3)
        look = Look(TWELVE_MEGAPIXELS, tuple(marks), 0.9, 0.9, False, 0.0)
        view = judged(look, self.lens)
        self.assertTrue(view.through_another)
        self.assertIsNone(view.lens)
        self.assertIn("was not taken through it", " ".join(notes_on(look, view)))
        self.assertNotIn("was not taken through it", " ".join(notes_on(look, judged(look))))
        np.testing.assert_array_equal(view.known, see(marks, TWELVE_MEGAPIXELS).known)
        for frame in (Frame(4000, 3000, camera="a telephone"), Frame(4000, 2400)):
            self.assertTrue(see(self.marks, frame, self.lens).through_another)

    def test_what_is_known_of_its_middle_stays_as_open_as_anybodys(self) -> None:
        (anybodys, open_), (own, known) = (known_before(TWELVE_MEGAPIXELS, lens) for lens in (None, self.lens))
        np.testing.assert_array_equal(own[3:], anybodys[3:])
        np.testing.assert_array_equal(known[3:, 3:], open_[3:, 3:])
        self.assertEqual(own[0], self.lens.known[0] + math.log(4000))
        # And its focusing is added to what the calibration leaves.
        added = np.diag(known)[:3] - np.diag(np.array(self.lens.covariance))
        np.testing.assert_allclose(added, np.square(FOCUSED))
