"""What small samples say, held against statistics packages and worked examples."""

import math
import unittest
from itertools import permutations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from lifelines import KaplanMeierFitter, LogNormalFitter
from scipy import stats
from statsmodels.stats.proportion import proportion_confint
from statsmodels.stats.weightstats import DescrStatsW

from girder_core.ground import GirderError
from girder_core.results import fit_in_words, fit_loads, mean_of, survival
from girder_core.results.samples import Spread, rank_correlation, wilson
from girder_core.tests import tries
from girder_core.trial import Interval

loads = st.floats(0.05, 30).map(lambda value: round(value, 3))


class Means(unittest.TestCase):
    def test_worked_means(self) -> None:
        # Student's t, any statistics text: t(0.975, 2) = 4.3027, t(0.975, 4) = 2.7764 (from memory).
        for values, mean, sd, low, high in (
            ([5.2, 4.8, 6.1], 5.3666667, 0.6658328, 3.7126463, 7.0206871),
            ([0.81, 0.77, 0.92, 0.85, 0.79], 0.828, 0.0593296, 0.7543326, 0.9016674),
        ):
            middle = mean_of(values)
            for got, wanted in zip(
                (middle.mean, middle.sd, middle.low, middle.high), (mean, sd, low, high), strict=True
            ):
                self.assertAlmostEqual(got or 0, wanted, places=6)

    @settings(max_examples=tries(25))
    @given(st.lists(loads, min_size=2, max_size=9))
    def test_as_statsmodels_has_it(self, values: list[float]) -> None:
        mean, theirs = mean_of(values), DescrStatsW(values, ddof=1)
        low, high = theirs.tconfint_mean()
        assert mean.low is not None and mean.high is not None and mean.sd is not None
        np.testing.assert_allclose([mean.mean, mean.low, mean.high], [theirs.mean, low, high], atol=1e-9)
        self.assertAlmostEqual(mean.sd, float(np.std(values, ddof=1)))

    def test_one_value_has_no_scatter_and_none_no_mean(self) -> None:
        self.assertEqual(mean_of([1.2]).sd, None)
        # The mean of three times 21.906 is a hair off in binary; it does not scatter for that.
        self.assertEqual(mean_of([21.906] * 3).sd, 0.0)
        with self.assertRaises(GirderError):
            mean_of([])


class Shares(unittest.TestCase):
    def test_worked_example(self) -> None:
        shares = wilson(7, 10)
        # Wilson 1927; the figures by hand from the formula.
        self.assertAlmostEqual(shares.low, 0.3967781, places=6)
        self.assertAlmostEqual(shares.high, 0.8922087, places=6)

    @settings(max_examples=tries(25))
    @given(st.integers(1, 60).flatmap(lambda n: st.tuples(st.integers(0, n), st.just(n))))
    def test_as_statsmodels_has_it(self, pair: tuple[int, int]) -> None:
        shares = wilson(*pair)
        np.testing.assert_allclose([shares.low, shares.high], proportion_confint(*pair, method="wilson"), atol=1e-9)

    def test_what_cannot_be(self) -> None:
        for pair in ((1, 0), (5, 4), (-1, 3)):
            with self.assertRaises(GirderError):
                wilson(*pair)


class Ranks(unittest.TestCase):
    def test_small_samples_take_every_order(self) -> None:
        correlation = rank_correlation([10, 12, 15, 20, 26, 31], [8, 13, 11, 22, 19, 40])
        assert correlation is not None
        self.assertAlmostEqual(correlation.rho, 1 - 6 * 4 / (6 * 35))
        # 24 of the 720 orders do as well, counted below; the t approximation would say 0.019.
        self.assertAlmostEqual(correlation.p, 24 / 720)
        self.assertTrue(correlation.exact)

    @settings(max_examples=tries(25))
    @given(st.integers(4, 6).flatmap(lambda n: st.lists(st.tuples(loads, loads), min_size=n, max_size=n)))
    def test_the_share_of_orders_counted_one_by_one(self, pairs: list[tuple[float, float]]) -> None:
        x, y = [a for a, _ in pairs], [b for _, b in pairs]
        correlation = rank_correlation(x, y)
        if correlation is None:
            self.assertTrue(len(set(x)) == 1 or len(set(y)) == 1)
            return
        self.assertAlmostEqual(correlation.rho, float(stats.spearmanr(x, y).statistic))
        every = [abs(np.corrcoef(stats.rankdata(x), order)[0][1]) for order in permutations(stats.rankdata(y))]
        self.assertAlmostEqual(correlation.p, float(np.mean(np.array(every) >= abs(correlation.rho) - 1e-9)))

    def test_larger_ones_go_by_the_t_approximation(self) -> None:
        dice = np.random.default_rng(2)
        x = dice.normal(size=30)
        y = x + dice.normal(size=30)
        correlation, theirs = rank_correlation(x.tolist(), y.tolist()), stats.spearmanr(x, y)
        assert correlation is not None
        self.assertAlmostEqual(correlation.rho, theirs.statistic)
        self.assertAlmostEqual(correlation.p, theirs.pvalue)
        self.assertFalse(correlation.exact)
        perfect = rank_correlation(list(range(12)), list(range(12)))
        assert perfect is not None
        self.assertEqual((perfect.rho, perfect.p), (1.0, 0.0))

    def test_three_pairs_say_nothing(self) -> None:
        self.assertIsNone(rank_correlation([1, 2, 3], [1, 2, 3]))
        self.assertIsNone(rank_correlation([1, 1, 1, 1], [1, 2, 3, 4]))
        with self.assertRaises(GirderError):
            rank_correlation([1], [1, 2])


class Survivals(unittest.TestCase):
    def test_worked_example(self) -> None:
        # Kaplan and Meier 1958 by hand: 6/7, 5/7, 5/7 * 3/4, ...; the run-out at 8 is still at risk there.
        curve = survival([3, 4.5, 5, 6, 6.5, 8, 8], [True, True, False, True, True, True, False])
        shares = [6 / 7, 5 / 7, 15 / 28, 5 / 14, 5 / 28]
        self.assertEqual([step.load_kg for step in curve.steps], [3, 4.5, 6, 6.5, 8])
        np.testing.assert_allclose([step.share for step in curve.steps], shares)
        self.assertEqual(curve.median_kg, 6.5)

    @settings(max_examples=tries(25))
    @given(st.lists(st.tuples(loads, st.booleans()), min_size=1, max_size=14))
    def test_as_lifelines_has_it(self, pairs: list[tuple[float, bool]]) -> None:
        times, failed = [t for t, _ in pairs], [f for _, f in pairs]
        curve = survival(times, failed)
        theirs = KaplanMeierFitter().fit(times, failed)
        for step in curve.steps:
            self.assertAlmostEqual(step.share, float(theirs.predict(step.load_kg)))
        self.assertEqual(len(curve.steps), len({t for t, f in pairs if f}))

    def test_too_many_run_outs_leave_the_median_open(self) -> None:
        self.assertIsNone(survival([1, 2, 3], [True, False, False]).median_kg)
        # Exactly half: 0.75 * 2/3 is a hair off 0.5 in binary.
        self.assertEqual(survival([1, 2, 3, 4], [True, True, False, False]).median_kg, 2)
        with self.assertRaises(GirderError):
            survival([], [])
        with self.assertRaises(GirderError):
            survival([1], [])


def lognormal_oracle(bounds: list[Interval]) -> tuple[float, float]:
    fitter = LogNormalFitter()
    fitter.fit_interval_censoring([b.low for b in bounds], [b.high for b in bounds])
    return float(fitter.mu_), float(fitter.sigma_)


class Fits(unittest.TestCase):
    def test_worked_normal_example(self) -> None:
        # Any survival analysis text; the figures by Newton steps on the score equations (from memory).
        bounds = [Interval(1.0, 1.5), Interval(1.5, 2.0), Interval(1.5, 2.0), Interval(2.0, 2.5), Interval(2.5, 3.0)]
        fit = fit_loads(bounds, Spread.NORMAL)
        assert fit is not None
        self.assertAlmostEqual(fit.mu, 1.9502081, delta=1e-5)
        self.assertAlmostEqual(fit.sigma, 0.4882948, delta=1e-5)
        self.assertAlmostEqual(fit.log_likelihood, -7.1909362, places=6)

    def test_with_run_outs_as_lifelines_has_it(self) -> None:
        bounds = [
            Interval(0.8, 0.9), Interval(1.1, 1.3), Interval(1.4, 1.5), Interval(0.6, 0.75), Interval(1.6, math.inf),
            Interval(1.2, math.inf), Interval(2.0, 2.4),
        ]  # fmt: skip
        fit = fit_loads(bounds)
        assert fit is not None
        mu, sigma = lognormal_oracle(bounds)
        self.assertAlmostEqual(fit.mu, mu, delta=2e-3)
        self.assertAlmostEqual(fit.sigma, sigma, delta=5e-3)
        self.assertEqual((fit.n, fit.ran_out), (7, 2))
        self.assertTrue(fit.median_low_kg < fit.median_kg < fit.median_high_kg)

    @settings(max_examples=tries(15))
    @given(st.integers(0, 10_000))
    def test_censored_data_as_scipy_fits_it(self, seed: int) -> None:
        dice = np.random.default_rng(seed)
        true = np.exp(dice.normal(0.3, 0.4, 12))
        bounds = [Interval(v, math.inf) if v > 2.2 else Interval(0.92 * v, 1.06 * v) for v in true]
        fit = fit_loads(bounds)
        if fit is None:
            self.assertLess(sum(not b.open_above for b in bounds), 3)
            return
        pairs = np.log([[b.low, b.high] for b in bounds])
        finite = pairs[np.isfinite(pairs[:, 1])]
        data = stats.CensoredData(interval=finite, right=pairs[~np.isfinite(pairs[:, 1])][:, 0])
        mu, sigma = stats.norm.fit(data)
        self.assertAlmostEqual(fit.mu, mu, delta=2e-3)
        self.assertAlmostEqual(fit.sigma, sigma, delta=4e-3)

    def test_exact_loads_give_the_plain_moments(self) -> None:
        values = [1.0, 1.4, 1.9, 2.3]
        fit = fit_loads([Interval(v, v) for v in values])
        assert fit is not None
        self.assertAlmostEqual(fit.mu, float(np.mean(np.log(values))), places=5)
        self.assertAlmostEqual(fit.sigma, float(np.std(np.log(values))), places=5)
        dense = stats.lognorm.logpdf(values, fit.sigma, scale=math.exp(fit.mu)).sum()
        self.assertAlmostEqual(fit.log_likelihood, float(dense), places=6)

    def test_a_run_out_only_ever_raises_what_is_expected(self) -> None:
        broke = [Interval(1.0, 1.1), Interval(1.5, 1.6), Interval(2.0, 2.2)]
        plain, more = fit_loads(broke), fit_loads([*broke, Interval(2.1, math.inf)])
        assert plain is not None and more is not None
        self.assertGreater(more.median_kg, plain.median_kg)

    def test_what_broke_on_its_first_step_counts_too(self) -> None:
        # Half of such designs fail below 1 kg; the first step is 0.8 kg, and what fails below it is only known to.
        dice, medians, without = np.random.default_rng(4), [], []
        for _ in range(tries(12)):
            true = np.exp(dice.normal(0.0, 0.4, 40))
            bounds = [Interval(0.0, 0.8) if v < 0.8 else Interval(0.97 * v, 1.03 * v) for v in true]
            told, left = fit_loads(bounds), fit_loads([bound for bound in bounds if bound.low > 0])
            assert told is not None and left is not None
            medians.append(told.median_kg)
            without.append(left.median_kg)
            self.assertEqual(told.n, 40)
        self.assertAlmostEqual(float(np.mean(medians)), 1.0, delta=0.06)
        self.assertGreater(float(np.mean(without)), 1.08)

    def test_left_censored_data_as_scipy_fits_it(self) -> None:
        bounds = [Interval(0.0, 0.5), Interval(0.0, 0.5), Interval(0.6, 0.7), Interval(0.9, 1.0), Interval(1.3, 1.5),
                  Interval(1.8, math.inf)]  # fmt: skip
        fit = fit_loads(bounds)
        assert fit is not None
        data = stats.CensoredData(left=np.log([0.5, 0.5]), interval=np.log([[0.6, 0.7], [0.9, 1.0], [1.3, 1.5]]),
                                  right=np.log([1.8]))  # fmt: skip
        mu, sigma = stats.norm.fit(data)
        self.assertAlmostEqual(fit.mu, mu, delta=2e-3)
        self.assertAlmostEqual(fit.sigma, sigma, delta=4e-3)

    def test_the_bounds_of_the_median_hold_for_few_designs(self) -> None:
        dice = np.random.default_rng(8)
        for n in (4, 8):
            inside = classes = 0
            for _ in range(tries(60)):
                held = [0.05 * math.floor(v / 0.05) for v in np.exp(dice.normal(0.0, 0.35, n))]
                fit = fit_loads([Interval(low, low + 0.05) for low in held])
                if fit is not None:
                    classes += 1
                    inside += fit.median_low_kg <= 1.0 <= fit.median_high_kg
            # 95 %, with three standard errors of so few classes.
            room = 3 * math.sqrt(0.95 * 0.05 / classes)
            self.assertGreater(inside / classes, 0.95 - room - 0.01, (n, inside, classes))

    def test_exact_loads_have_the_interval_of_a_mean(self) -> None:
        values = [1.0, 1.4, 1.9, 2.3, 1.2]
        fit = fit_loads([Interval(v, v) for v in values])
        assert fit is not None
        low, high = stats.t.interval(0.95, 4, np.mean(np.log(values)), stats.sem(np.log(values)))
        self.assertAlmostEqual(math.log(fit.median_low_kg), low, delta=1e-3)
        self.assertAlmostEqual(math.log(fit.median_high_kg), high, delta=1e-3)

    def test_in_words(self) -> None:
        broke = [Interval(1.0, 1.1), Interval(1.5, 1.6), Interval(2.0, 2.2)]
        with_run_out = [*broke, Interval(2.1, math.inf)]
        self.assertIn("A curve fitted", fit_in_words(broke, fit_loads(broke)))
        self.assertIn("1 ran out of load", fit_in_words(with_run_out, fit_loads(with_run_out)))
        self.assertIn("Too few designs broke", fit_in_words(broke[:2], None))
        self.assertIn("All ran out", fit_in_words([Interval(1, math.inf)] * 3, None))
        self.assertEqual(fit_in_words([], None), "")

    def test_too_little_says_nothing(self) -> None:
        for bounds in (
            [],
            [Interval(1, 2), Interval(3, 4)],
            [Interval(1, math.inf)] * 5,
            # All three could have broken at 1.5 kg.
            [Interval(1.0, 2.0), Interval(1.4, 1.6), Interval(1.2, 1.8)],
        ):
            self.assertIsNone(fit_loads(bounds), bounds)
