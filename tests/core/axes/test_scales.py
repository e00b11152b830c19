"""Two axes that agree: every promise of the policies, and the grid against plain exhaustive search."""

import json
import math
import statistics
import unittest
from fractions import Fraction
from itertools import product
from typing import Any

import numpy as np
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

import vantric as vt
from tests.cli.test_cli import Result
from tests.effort import examples
from tests.folder import InFolder
from vantric import align
from vantric.core.axes import ScalePair
from vantric.core.axes.scale import MANTISSAS
from vantric.core.composition import scales_chart
from vantric.core.layout import make_plan
from vantric.errors import ScaleError, VantricError

sizes = st.floats(-6, 9).map(lambda power: float(f"{10**power:.4g}"))
signed = st.tuples(sizes, st.sampled_from([-1.0, 1.0, 0.0])).map(lambda pair: pair[0] * pair[1])
ranges = st.tuples(signed, signed).map(lambda pair: (min(pair), max(pair)))
zeros = st.tuples(st.booleans(), st.booleans())


def exhaustive(
    one: tuple[float, ...], other: tuple[float, ...], zero: tuple[bool, bool], headroom: float, number: Any = Fraction
) -> float:
    """Return by plain search, in exact fractions or in floats, the largest smaller coverage of any grid."""
    slack = 0 if number is Fraction else 1e-9
    sides = []
    for (low, high), include in zip((one, other), zero, strict=True):
        a, b = number(repr(low)), number(repr(high))
        if include:
            a, b = min(a, number(0)), max(b, number(0))
            b = number(1) if a == b else b
        elif a == b:
            by = abs(a) / 20 or number(1)
            a, b = a - by, b + by
        power = math.floor(math.log10(b - a))
        steps = [
            number(mantissa * Fraction(10) ** exponent)
            for exponent in range(power - 1, power + 2)
            for mantissa in MANTISSAS
        ]
        sides.append([(a / step, b / step, a != 0, b != 0) for step in steps])
    best, h = number(0), number(repr(headroom))
    for (u0, v0, below0, above0), (u1, v1, below1, above1) in product(*sides):
        middle = (u1 + v1 - u0 - v0) / 2
        near = any(not shows and u - 11 <= 0 <= v + 11 for shows, u, v in zip(zero, (u0, u1), (v0, v1), strict=True))
        more = 12 if near else 2
        for shift in (0,) if zero == (True, True) else range(math.floor(middle) - more, math.ceil(middle) + more + 1):
            low, high = min(u0, u1 - shift), max(v0, v1 - shift)
            below = h if (below0 and u0 == low) or (below1 and u1 - shift == low) else number(0)
            above = h if (above0 and v0 == high) or (above1 and v1 - shift == high) else number(0)
            height = (high - low) / (1 - below - above)
            start, end = low - below * height, high + above * height
            touch = height / 1_000_000_000  # a zero so near would be seen on the frame
            places = zip(zero, (0, -shift), strict=True)
            if any(not shows and start - touch <= place <= end + touch for shows, place in places):
                continue
            if 4 <= math.floor(end + slack) - math.ceil(start - slack) + 1 <= 10:
                best = max(best, min((v0 - u0) / height, (v1 - u1) / height))
    return float(best)


def zero_rules(*data: tuple[float, ...], wishes: tuple[bool, ...]) -> tuple[bool, bool]:
    """Return the wishes; a range over zero shows it."""
    shown = [wish or low <= 0 <= high for wish, (low, high) in zip(wishes, data, strict=True)]
    return shown[0], shown[1]


def coverage(one: tuple[float, float], other: tuple[float, float], zero: tuple[bool, bool], headroom: float) -> float:
    """Return the smaller coverage that `align` finds; zero where it says that there is no grid."""
    try:
        return min(align(one, other, primary_zero=zero[0], secondary_zero=zero[1], headroom=headroom).coverage)
    except ScaleError:
        return 0.0


class Grid(unittest.TestCase):
    def promises(self, pair: ScalePair, data: tuple[tuple[float, float], ...], zero: tuple[bool, bool]) -> None:
        one, other = pair.primary, pair.secondary
        np.testing.assert_allclose(one.fraction(one.ticks), other.fraction(other.ticks), rtol=1e-9, atol=1e-9)
        self.assertTrue(4 <= len(one.ticks) == len(other.ticks) <= 10, pair)
        if zero == (True, True):
            self.assertAlmostEqual(float(one.fraction(0)), float(other.fraction(0)), delta=1e-9)
        for scale, (low, high), shows in zip((one, other), data, zero, strict=True):
            self.assertEqual(scale.lower <= 0 <= scale.upper, shows)
            digits = f"{scale.step:.15e}".split("e")[0].rstrip("0").rstrip(".")
            self.assertIn(digits, {"1", "2", "2.5", "5"})
            self.assertTrue(np.all(np.diff(scale.ticks) > 0))
            slack = 1e-9 * (scale.upper - scale.lower)
            self.assertTrue(scale.lower - slack <= low and high <= scale.upper + slack)
            self.assertTrue(scale.lower - slack <= scale.ticks[0] and scale.ticks[-1] <= scale.upper + slack)
            self.assertFalse(any(tick == 0 and math.copysign(1, tick) < 0 for tick in scale.ticks))

    @settings(max_examples=examples(300), deadline=None)
    @given(ranges, ranges, zeros)
    def test_every_promise(self, one: tuple[float, float], other: tuple[float, float], zero: tuple[bool, bool]) -> None:
        zero = zero_rules(one, other, wishes=zero)
        try:
            pair = align(one, other, primary_zero=zero[0], secondary_zero=zero[1])
        except ScaleError as error:
            self.assertRegex(str(error), "_zero=False and .* conflict")
            self.assertEqual(exhaustive(one, other, zero, 0.05), 0)
            return
        self.promises(pair, (one, other), zero)

    @settings(max_examples=examples(60), deadline=None, phases=[Phase.explicit, Phase.reuse, Phase.generate])
    @given(ranges, ranges, zeros, st.sampled_from([0.0, 0.05, 0.1]))
    def test_the_optimum_is_that_of_plain_search(
        self, one: tuple[float, float], other: tuple[float, float], zero: tuple[bool, bool], headroom: float
    ) -> None:
        zero = zero_rules(one, other, wishes=zero)
        best = exhaustive(one, other, zero, headroom)
        self.assertAlmostEqual(coverage(one, other, zero, headroom), best, delta=1e-6 * max(best, 1e-3))

    def test_eight_hundred_ranges_by_plain_search(self) -> None:
        chance = np.random.default_rng(21)
        for number in range(examples(800)):
            powers, signs = chance.uniform(-4, 7, 4), chance.choice([-1.0, 0.0, 1.0], 4, p=[0.2, 0.3, 0.5])
            one, other = (tuple(sorted(pair)) for pair in (signs * 10**powers).reshape(2, 2).tolist())
            wishes = ((True, True), (True, False), (False, True), (False, False))[number % 4]
            zero = zero_rules(one, other, wishes=wishes)
            found = coverage(one, other, zero, 0.05)  # type: ignore[arg-type]
            best = exhaustive(one, other, zero, 0.05, number=float)
            self.assertAlmostEqual(found, best, delta=1e-6 * max(best, 1e-3), msg=f"{one} {other} {zero}")

    def test_minor_ticks_are_drawn(self) -> None:
        pair = align((1, 5000), (0, 3), primary_log=True, policy="separate")
        self.assertEqual(pair.primary.minor[:3], (2, 5, 20))
        rules = make_plan(scales_chart(pair)).rules
        ticks = [rule for rule in rules if rule.role == "axis"]  # those of the secondary are the grid
        self.assertEqual(len(ticks), len(pair.primary.ticks) + len(pair.primary.minor))
        self.assertEqual(sum(rule.role == "grid" for rule in rules), len(pair.secondary.ticks) - 1)

    def test_a_median_of_nine_tenths(self) -> None:
        chance = np.random.default_rng(11)
        found = [min(align((0, x), (0, y), headroom=0).coverage) for x, y in 10 ** chance.uniform(-3, 6, (600, 2))]
        self.assertGreater(statistics.median(found), 0.88)
        self.assertGreater(min(found), 0.6)

    def test_extremes_never_fail(self) -> None:
        chance = np.random.default_rng(12)
        ends = [0.0, 1e-300, -1e-300, 1e300, -1e300, 1.0, -1.0, 1e15, 1e15 + 1]
        pairs = [(min(a, b), max(a, b)) for a, b in product(ends, repeat=2)]
        for number in range(examples(1500)):
            if number < 500:
                one, other = (pairs[at] for at in chance.integers(0, len(pairs), 2))
            else:
                powers, signs = chance.uniform(-300, 300, 4), chance.choice([-1.0, 1.0], 4)
                values = signs * 10**powers
                one, other = sorted(values[:2].tolist()), sorted(values[2:].tolist())
            pair = align(tuple(one), tuple(other))  # type: ignore[arg-type]
            heights = [scale.fraction(scale.ticks) for scale in (pair.primary, pair.secondary)]
            np.testing.assert_allclose(heights[0], heights[1], rtol=1e-9, atol=1e-9)

    def test_exact_decimals(self) -> None:
        for high in (0.3, 0.6, 0.9, 7e-7, 3e11):
            for tick in align((0, high), (0, 9)).primary.ticks:
                self.assertEqual(tick, float(f"{tick:.3g}"), "a decimal, rounded once")


class Limits(unittest.TestCase):
    def test_one_side_is_solved_around_the_other(self) -> None:
        pair = align((0, 650), (0, 30), primary_limits=(0, 700))
        self.assertEqual((pair.primary.lower, pair.primary.upper), (0, 700))
        np.testing.assert_allclose(
            pair.primary.fraction(pair.primary.ticks), pair.secondary.fraction(pair.secondary.ticks)
        )
        half = align((0, 650), (3, 30), primary_zero=True, secondary_zero=False, secondary_limits=(None, 40))
        self.assertEqual(half.secondary.upper, 40)
        self.assertTrue(0 < half.secondary.lower < 3)

    @settings(max_examples=examples(120), deadline=None)
    @given(st.floats(1, 1e4), st.floats(1, 1e4), st.floats(1.0, 2.0))
    def test_fixed_limits_hold_or_are_refused(self, one: float, other: float, more: float) -> None:
        try:
            pair = align((0, one), (0, other), primary_limits=(0, one * more))
        except ScaleError as error:
            self.assertIn("conflict", str(error))
            return
        self.assertEqual((pair.primary.lower, pair.primary.upper), (0, one * more))
        np.testing.assert_allclose(
            pair.primary.fraction(pair.primary.ticks), pair.secondary.fraction(pair.secondary.ticks), atol=1e-9
        )
        self.assertGreaterEqual(pair.secondary.upper, other)

    def test_what_cannot_be(self) -> None:
        inf, nan = math.inf, math.nan
        for one, other, wish, words in [
            ((5, 1), (0, 1), {}, "primary side run downward: 5 is above 1"),
            ((0, nan), (0, 1), {}, "not finite"),
            ((0, 1), (0, inf), {}, "data of the secondary side are not finite"),
            ((0, 1), (0, 1), {"policy": "gird"}, "not 'gird'; did you mean 'grid'"),
            ((0, 1), (0, 1), {"headroom": 0.5}, "headroom"),
            (
                (0, 1),
                (1, 9),
                {"primary_log": True},
                "a log axis shows values above zero only, and the primary side holds 0",
            ),
            ((0, 9), (0, 1), {"primary_limits": (0, 5)}, "cut its data off, which run from 0 to 9"),
            ((0, 9), (0, 1), {"primary_limits": (5, 0)}, "limits of the primary side run downward"),
            ((7, 7), (0, 1), {"primary_limits": (7, 7)}, "limits of the primary side are one value, 7;"),
            ((0, 9), (0, 1), {"primary_limits": (0, inf)}, "not finite"),
            (
                (0, 9),
                (0, 1),
                {"primary_limits": (0, 9.7), "secondary_limits": (0, 1.3)},
                "limits of the primary and of the secondary side conflict",
            ),
            ((0, 9), (0, 1), {"meet": (9, 1), "policy": "grid"}, "meet and policy='grid' conflict"),
            ((-3, 9), (0, 1), {"primary_zero": False}, "primary_zero=False and the data of the primary side conflict"),
            ((5, 9), (0, 1), {"primary_zero": False, "primary_limits": (-1, 10)}, "and the limits of the primary side"),
            ((1, 1000), (0, 1), {"primary_zero": False, "policy": "separate"}, "zero=False and the headroom conflict"),
            ((5, 9), (6, 8), {"policy": "proportional", "primary_zero": False}, "zero and zero are one height"),
            ((5, 9), (6, 8), {"primary_log": True, "primary_zero": True}, "primary_zero and primary_log conflict"),
            ((5, 9), (6, 8), {"policy": "common", "primary_zero": False, "secondary_zero": True}, "one common scale"),
            ((5, 9), (6, 8), {"clip": True}, "clip is for fixed limits"),
            (
                (0, 400),
                (0, 100),
                {"meet": (650, 100), "primary_limits": (0, 500)},
                "limits of the primary side and the range of the secondary side conflict",
            ),
            (
                (0, 9),
                (0, 1),
                {"headroom": 0.2, "primary_limits": (0, 10), "secondary_limits": (0, 1)},
                "headroom and the fixed limits conflict",
            ),
            (
                (0, 9),
                (0, 1),
                {"primary_limits": (-10, 10), "secondary_limits": (-1, 4)},
                "limits of the primary and of the secondary side conflict",
            ),
            ((0, 9), (0, 1), {"policy": "common", "primary_log": True}, "two kinds of axis conflict"),
            (
                (0, 9),
                (0, 1),
                {"policy": "common", "primary_limits": (0, 10), "secondary_limits": (0, 20)},
                "different limits on its two sides conflict",
            ),
            (
                (1, 9),
                (1, 2),
                {"policy": "proportional", "primary_log": True, "secondary_log": True},
                "policy='proportional' and a log side conflict",
            ),
            ((0, 9), (0, 1), {"policy": "proportional", "meet": (9, -1)}, "conflicts with zero on zero"),
            ((0, 9), (0, 1), {"policy": "proportional", "meet": (0, 1)}, "other than zero"),
            (
                (0, 9),
                (0, 1),
                {"policy": "proportional", "primary_limits": (0, 10), "secondary_limits": (0, 5)},
                "upper limits of the two sides conflict",
            ),
        ]:
            with self.subTest(one=one, other=other, wish=wish), self.assertRaisesRegex(VantricError, words) as caught:
                align(one, other, **wish)  # type: ignore[arg-type]
            self.assertNotIn("\n", str(caught.exception))
        clipped = align((0, 9), (0, 1), primary_limits=(0, 5), clip=True)
        self.assertEqual((clipped.primary.upper, clipped.clipped), (5, (True, False)))
        self.assertEqual([(f.code, f.where) for f in vt.review(clipped)], [("clipped-data", "primary axis")])
        self.assertEqual(vt.review(align((0, 9), (0, 1))), [])


class Policies(unittest.TestCase):
    @settings(max_examples=examples(150), deadline=None)
    @given(ranges, ranges, st.tuples(sizes, sizes))
    def test_proportional(
        self, one: tuple[float, float], other: tuple[float, float], meet: tuple[float, float]
    ) -> None:
        pair = align(one, other, policy="proportional", meet=meet)
        self.assertAlmostEqual(
            float(pair.primary.fraction(meet[0])), float(pair.secondary.fraction(meet[1])), delta=1e-9
        )
        self.assertAlmostEqual(float(pair.primary.fraction(0)), float(pair.secondary.fraction(0)), delta=1e-9)
        for scale, top, (low, high) in ((pair.primary, meet[0], one), (pair.secondary, meet[1], other)):
            self.assertTrue(all(tick <= top * (1 + 1e-9) for tick in scale.ticks))
            slack = 1e-9 * (scale.upper - scale.lower)
            self.assertTrue(scale.lower - slack <= low and high <= scale.upper + slack)

    def test_proportional_is_that_of_a_pareto_chart(self) -> None:
        pair = align((0, 231), (0, 100), policy="proportional")
        self.assertEqual((pair.primary.upper, pair.secondary.ticks), (231 / 0.95, (0, 20, 40, 60, 80, 100)))
        self.assertFalse(pair.shared_ticks)

    def test_common_and_separate(self) -> None:
        pair = align((0, 40), (5, 100), policy="common")
        self.assertEqual(pair.primary, pair.secondary)
        self.assertEqual((pair.shared_ticks, pair.policy), (True, "common"))
        self.assertAlmostEqual(pair.coverage[0], 0.38)
        apart = align((0, 40), (5, 6), policy="separate", primary_zero=True, secondary_zero=False)
        self.assertGreater(apart.secondary.lower, 4.8)
        self.assertAlmostEqual(apart.coverage[1], 0.9)

    def test_log_sides(self) -> None:
        few = align((3, 700), (0, 1), primary_log=True, policy="separate").primary
        self.assertEqual(few.ticks, (5, 10, 20, 50, 100, 200, 500))
        many = align((1, 1e30), (0, 1), primary_log=True, policy="separate").primary
        self.assertTrue(4 <= len(many.ticks) <= 11)
        self.assertEqual(len({round(math.log10(b / a)) for a, b in zip(many.ticks, many.ticks[1:], strict=False)}), 1)
        less = align((3, 7), (0, 1), primary_log=True, policy="separate").primary
        self.assertEqual(less.ticks, (3, 4, 5, 6, 7))
        shared = align((1, 5e6), (0, 30), primary_log=True)
        np.testing.assert_allclose(
            shared.primary.fraction(shared.primary.ticks), shared.secondary.fraction(shared.secondary.ticks), atol=1e-9
        )
        self.assertTrue(all(math.log10(tick) == round(math.log10(tick)) for tick in shared.primary.ticks))
        both = align((1, 1e5), (1e-3, 1e3), primary_log=True, secondary_log=True)
        np.testing.assert_allclose(
            both.primary.fraction(both.primary.ticks), both.secondary.fraction(both.secondary.ticks), atol=1e-9
        )
        self.assertEqual(float(shared.primary.fraction(0)), -math.inf)


class Suggestions(unittest.TestCase):
    def test_units_first_then_reach(self) -> None:
        found = vt.suggest_axes({"Fired": [100, 200], "Rejects": [2, 5]}, units={"Fired": "tiles", "Rejects": "%"})
        self.assertEqual((found.primary, found.secondary, found.policy), (("Fired",), ("Rejects",), "grid"))
        self.assertEqual(found.reason, "“Rejects” is in % and “Fired” is in tiles: different units share no axis.")
        small = vt.suggest_axes({"First": [900, None, 1000], "Second": [30.0, 40]})
        self.assertEqual((small.primary, small.secondary), (("First",), ("Second",)))
        self.assertEqual(small.reason, "“Second” would use 4% of the height beside “First”: less than a tenth.")
        like = vt.suggest_axes({"Planned": [10, 20], "Achieved": [9, 25]})
        self.assertEqual((like.secondary, like.policy), ((), "common"))
        self.assertIn("even “Planned” keeps 80% of the height", like.reason)

    def test_what_cannot_be_placed(self) -> None:
        for series, units, words in [
            ({}, None, "no series"),
            ({"a": [None]}, None, "'a' holds no number"),
            ({"a": [math.inf]}, None, "not finite"),
            ({"a": [1], "b": [2], "c": [3]}, {"a": "x", "b": "y", "c": "z"}, "3 units .* need more than two axes"),
            ({"a": [1]}, {"b": "x"}, "no series 'b'"),
        ]:
            with self.assertRaisesRegex(ScaleError, words):
                vt.suggest_axes(series, units=units)  # type: ignore[arg-type]


class Command(InFolder):
    def test_text_json_and_csv(self) -> None:
        result = Result("scales", "0:650", "0:100", "--policy", "proportional")
        self.assertEqual((result.status, result.err), (0, ""))
        self.assertIn("1 on the secondary side is 6.5 on the primary; its 0 is at 0.", result.out)
        told = json.loads(Result("scales", "-40:120", "-3:2", "--format", "json").out)
        self.assertEqual(
            list(told)[:7], ["format", "version", "policy", "primary", "secondary", "coverage", "shared_ticks"]
        )
        self.assertEqual(list(told["primary"]), ["lower", "upper", "step", "kind", "ticks"])
        self.assertEqual((told["primary"]["ticks"], told["shared_ticks"]), ([-50, 0, 50, 100], True))
        rows = Result("scales", "0:650", "0:100", "--format", "csv").out.splitlines()
        self.assertEqual(rows[:2], ["side,tick,height", "primary,0,0.0"])
        log = Result("scales", "1:5000", "0:30", "--primary-log")
        self.assertIn("(log)", log.out)

    def test_pictures(self) -> None:
        target = self.folder / "axes.png"
        self.assertEqual(Result("scales", "0:650", "0:4", "--out", target).status, 0)
        self.assertTrue(target.read_bytes().startswith(b"\x89PNG"))
        for policy in ("grid", "proportional", "common", "separate"):
            pair = align((0, 650), (0, 420), policy=policy)
            plan = make_plan(scales_chart(pair))
            self.assertEqual(plan.scales, pair)
            self.assertEqual(
                len([rule for rule in plan.rules if rule.role == "grid"]),
                len([t for t in pair.secondary.ticks if t > pair.secondary.lower]),
            )

    def test_bad_input(self) -> None:
        for arguments, words in [
            (["5:1", "0:1"], "run downward"),
            (["a:b", "0:1"], "a range is two numbers, such as 0:650; 'a:b' is not"),
            (["0:1", "0:1:2"], "'0:1:2' is not"),
            (["0:1", ":1"], "':1' is not"),
            (["0:1", "0:1", "--log", "left"], "there is no option --log; use --primary-log"),
            (["0:1", "0:1", "--primary-log"], "above zero only"),
            (["0:9", "0:1", "--primary-limits", ":5"], "cut its data off"),
        ]:
            result = Result("scales", *arguments)
            self.assertEqual((result.status, result.out, result.err.count("\n")), (2, "", 1), result.err)
            self.assertIn(words, result.err)
