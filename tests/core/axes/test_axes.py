"""Scales and their alignment."""

import math
import unittest
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from vantric.core.axes import linear_scale, proportional
from vantric.core.axes.scale import MANTISSAS
from vantric.errors import ScaleError

positive = st.one_of(st.floats(1e-300, 1e300), st.integers(1, 10**9).map(float), st.floats(0.001, 1e6))


class Alone(unittest.TestCase):
    def test_ticks_are_exact_decimals(self) -> None:
        self.assertEqual(linear_scale(0, 0.6).ticks, (0.0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6))
        self.assertEqual(linear_scale(0, 3834).ticks, (0.0, 1000.0, 2000.0, 3000.0))
        self.assertTrue(all(math.copysign(1, tick) > 0 for tick in linear_scale(-1e-9, 5).ticks))

    @given(positive)
    def test_ticks_are_nice_few_and_within(self, high: float) -> None:
        scale = linear_scale(0, high)
        self.assertTrue(4 <= len(scale.ticks) <= 10, scale)
        self.assertTrue(scale.ticks[0] == 0 and scale.ticks[-1] <= high)
        step = Fraction(scale.step)
        power = Fraction(10) ** math.floor(math.log10(scale.step) + 1e-9)
        self.assertTrue(any(abs(step / power / mantissa - 1) < Fraction(1, 10**12) for mantissa in MANTISSAS), scale)

    @given(st.integers(1, 10**12))
    def test_counts_have_whole_ticks(self, total: int) -> None:
        ticks = linear_scale(0, total, whole=True).ticks
        self.assertTrue(all(tick == int(tick) for tick in ticks))
        self.assertEqual(len(set(ticks)), len(ticks))

    def test_fraction_takes_arrays(self) -> None:
        self.assertEqual(linear_scale(0, 8).fraction([0, 2, 8]).tolist(), [0, 0.25, 1])

    def test_limits_that_make_no_axis(self) -> None:
        for low, high in [(1, 1), (2, 1), (0, float("nan")), (0, float("inf"))]:
            with self.subTest(low=low, high=high), self.assertRaises(ScaleError):
                linear_scale(low, high)


class Together(unittest.TestCase):
    @given(positive, positive, st.floats(0, 0.5))
    def test_the_meeting_values_and_the_zeros_are_one_height(self, left: float, right: float, headroom: float) -> None:
        pair = proportional(left, right, headroom=headroom)
        for share in (0.0, 0.25, 1.0):
            heights = pair.primary.fraction(left * share), pair.secondary.fraction(right * share)
            self.assertAlmostEqual(float(heights[0]), float(heights[1]), delta=1e-9)
        self.assertAlmostEqual(float(pair.primary.fraction(left)), 1 - headroom, delta=1e-9)
        self.assertLessEqual(max(pair.primary.ticks), left)
        self.assertLessEqual(max(pair.secondary.ticks), right)
        self.assertEqual(pair.coverage, (1 - headroom, 1 - headroom))

    def test_whether_the_ticks_meet_is_told(self) -> None:
        self.assertTrue(proportional(500, 100).shared_ticks)
        self.assertFalse(proportional(231, 100).shared_ticks)
        self.assertFalse(proportional(600, 100).shared_ticks)

    def test_bad_wishes(self) -> None:
        for left, headroom in [(0, 0.05), (-1, 0.05), (float("nan"), 0.05), (1, 1), (1, -0.1), (1.7e308, 0.5)]:
            with self.subTest(left=left, headroom=headroom), self.assertRaises(ScaleError):
                proportional(left, 100, headroom=headroom)
