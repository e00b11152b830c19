"""The tails of the hypergeometric distribution beside those of SciPy and beside exact fractions."""

import math
import unittest
from fractions import Fraction

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import hypergeom

from tests.effort import examples
from vantric.core.statistics.significance_tests import hypergeometric_tails


class Tails(unittest.TestCase):
    @given(st.integers(1, 200), st.data())
    @settings(max_examples=examples(200), deadline=None)
    def test_they_are_exact(self, total: int, data: st.DataObject) -> None:
        marked, drawn = data.draw(st.integers(0, total)), data.draw(st.integers(0, total))
        hit = data.draw(st.integers(max(0, drawn + marked - total), min(drawn, marked)))

        def chance(number: int) -> Fraction:
            return Fraction(
                math.comb(marked, number) * math.comb(total - marked, drawn - number), math.comb(total, drawn)
            )

        [lower], [upper] = hypergeometric_tails(np.array([float(hit)]), np.array([float(marked)]), drawn, total)
        self.assertAlmostEqual(lower, float(sum(map(chance, range(hit + 1)))), delta=1e-12)
        self.assertAlmostEqual(upper, float(sum(map(chance, range(hit, min(drawn, marked) + 1)))), delta=1e-12)

    def test_large_ones_are_those_of_scipy(self) -> None:
        rng = np.random.default_rng(3)
        for total in (10**4, 10**6, 10**8, 10**11):
            drawn = float(rng.integers(total // 10, total // 2))
            marked = rng.integers(total // 100, total // 3, size=5).astype(float)
            hits = np.floor(marked * drawn / total * (1 + rng.normal(0, 3 / np.sqrt(marked))))
            lower, upper = hypergeometric_tails(hits, marked, drawn, float(total))
            np.testing.assert_allclose(lower, hypergeom.cdf(hits, total, marked, drawn), rtol=1e-4, atol=1e-12)
            np.testing.assert_allclose(upper, hypergeom.sf(hits - 1, total, marked, drawn), rtol=1e-4, atol=1e-12)

    def test_what_is_far_away_is_zero_or_one(self) -> None:
        lower, upper = hypergeometric_tails(np.array([0.0, 5e5]), np.array([5e5, 5e5]), 5e5, 1e6)
        self.assertLess(lower[0], 1e-300)
        self.assertEqual((upper[0], lower[1]), (1.0, 1.0))
        self.assertLess(upper[1], 1e-300)


if __name__ == "__main__":
    unittest.main()
