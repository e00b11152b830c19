"""Exact amounts, natural order, and numbers as people read them."""

import math
import unittest
from decimal import Decimal
from fractions import Fraction
from unittest.mock import patch

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.geometry import read_back
from vantric.core.composition.series_labels import value_texts
from vantric.core.numbers.amounts import Amounts
from vantric.core.numbers.label_order import natural_key, natural_places
from vantric.core.numbers.number_format import (
    NumberStyle,
    counted,
    digits_text,
    distinct_lines,
    listed,
    marks_of,
    number_text,
    number_texts,
    one_line,
    percent_text,
)
from vantric.core.numbers.parsing import parse_amount

exact_values = st.lists(
    st.one_of(st.integers(0, 2**80), st.decimals(0, 10**12, places=4, allow_nan=False), st.integers(0, 9)),
    min_size=1,
    max_size=40,
)


class AmountsTest(unittest.TestCase):
    @given(exact_values)
    def test_sums_of_integers_and_decimals_are_exact(self, values: list[int | Decimal]) -> None:
        amounts = Amounts.of(values)
        true = sum(map(Fraction, values))
        self.assertEqual(Fraction(amounts.total_units, 10**amounts.scale), true)
        running = amounts.cumulative()
        self.assertEqual(running.units[-1], amounts.total_units)
        self.assertTrue(all(a <= b for a, b in zip(running.units[:-1], running.units[1:], strict=True)))
        if true:
            self.assertEqual(running.percents(amounts.total_units)[-1], 100.0)

    @given(st.lists(st.floats(0, 1e12), min_size=1, max_size=3000), st.randoms())
    def test_sums_of_floats_do_not_depend_on_their_order(self, values: list[float], shuffle: object) -> None:
        amounts = Amounts.of(values)
        mixed = list(values)
        shuffle.shuffle(mixed)  # type: ignore[attr-defined]
        self.assertEqual(Amounts.of(mixed).total, amounts.total)
        running = amounts.cumulative().units
        self.assertEqual(running[-1], amounts.total)
        self.assertTrue(np.all(running <= amounts.total))
        true = float(sum(map(Fraction, values[: len(values) // 2 + 1])))
        self.assertAlmostEqual(running[len(values) // 2], true, delta=1e-12 * max(true, 1e-300))

    def test_integers_go_beyond_64_bits(self) -> None:
        amounts = Amounts.of([2**62, 2**62, 2**62])
        self.assertEqual(amounts.total, 3 * 2**62)
        self.assertEqual(amounts.cumulative().values(), [2**62, 2**63, 3 * 2**62])
        self.assertEqual(Amounts.of(np.array([2**63, 2**63], dtype=np.uint64)).total, 2**64)
        self.assertEqual(Amounts.of(np.array([2**62, 2**62])).total, 2**63)

    def test_decimals_stay_decimals(self) -> None:
        amounts = Amounts.of([Decimal("0.10")] * 10)
        self.assertEqual((amounts.total, amounts.scale, amounts.exact), (1, 1, True))
        self.assertEqual(Amounts.of([Decimal("1.25"), 2]).values(), [1.25, 2])
        self.assertEqual(Amounts.of([Decimal("1" * 40 + ".5")]).decimal_total(), Decimal("1" * 40 + ".5"))

    @given(st.lists(st.decimals(allow_nan=False, allow_infinity=False, places=None, min_value=0, max_value=10**30)))
    def test_a_column_of_decimals_has_the_numbers_that_each_has(self, values: list[Decimal]) -> None:
        amounts = Amounts.of(values)
        expected = [int(value) if value == value.to_integral_value() else float(Fraction(value)) for value in values]
        self.assertEqual(amounts.values(), expected)
        self.assertEqual(list(map(type, amounts.values())), list(map(type, expected)))
        self.assertEqual(amounts.floats().tolist(), [float(value) for value in expected])
        self.assertEqual(amounts.joined(0.125).values(), [*expected, 0.125])

    def test_seven_of_a_hundred_is_seven_percent(self) -> None:
        self.assertEqual(Amounts.of([7, 93]).percents(100).tolist(), [7.0, 93.0])

    def test_what_is_no_amount_says_why(self) -> None:
        for value, reason in [
            (-1, "negative"),
            (float("nan"), "missing"),
            (float("inf"), "not finite"),
            (None, "missing"),
            ("", "missing"),
            ("  ", "missing"),
            ("1,5", "not a number: '1,5'"),
            ("nan", "not a number"),
            ("1_000", "not a number"),
            ("٣", "not a number"),
            ("1e999999999", "out of range"),
            (Decimal("NaN"), "missing"),
            (Decimal("Infinity"), "not finite"),
            ([], "not a number"),
            ("x" * 99, "...'"),
        ]:
            with self.subTest(value=value), self.assertRaisesRegex(ValueError, reason):
                parse_amount(value)

    def test_what_is_an_amount(self) -> None:
        for value, number in [
            (" 12 ", 12),
            ("1e3", 1000),
            (".5", 0.5),
            (True, 1),
            (np.int8(3), 3),
            (np.float32(0.5), 0.5),
        ]:
            self.assertEqual(parse_amount(value), number)

    def test_sums_of_very_many_floats(self) -> None:
        values = np.random.default_rng(5).lognormal(0, 6, 70_000)
        total = Amounts.of(values).total
        self.assertAlmostEqual(total / math.fsum(values), 1, delta=1e-13)
        self.assertEqual(Amounts.of(values[::-1].copy()).total, total)
        self.assertEqual(Amounts.of(values).cumulative().units[-1], total)

    def test_one_more_at_the_end(self) -> None:
        self.assertEqual(Amounts.of([1, 2]).joined(3).values(), [1, 2, 3])
        self.assertEqual(Amounts.of([Decimal("0.5")]).joined(0.125).values(), [0.5, 0.125])
        self.assertEqual(Amounts.of([0.5]).joined(1).values(), [0.5, 1.0])
        self.assertEqual(Amounts.of([2**70]).joined(1).total, 2**70 + 1)


class NaturalOrder(unittest.TestCase):
    def test_numbers_in_labels_compare_by_value(self) -> None:
        labels = ["10", "2", "Kiln 10", "kiln 2", "Kiln 1b", "Kiln 1", "007", "7", "", "9" * 5000]
        expected = ["", "2", "007", "7", "10", "9" * 5000, "Kiln 1", "Kiln 1b", "kiln 2", "Kiln 10"]
        self.assertEqual(sorted(labels, key=natural_key), expected)

    @given(st.lists(st.text(max_size=8) | st.text("aB019\n\0\U0010fffe", max_size=12), unique=True))
    def test_the_order_is_total(self, labels: list[str]) -> None:
        self.assertEqual(len({natural_key(label) for label in labels}), len(labels))
        with patch("vantric.core.numbers.label_order._BLOCK", 3):
            places = natural_places(labels, range(len(labels)))
        self.assertEqual([labels[place] for place in places], sorted(labels, key=natural_key))
        backwards = list(reversed(labels))
        self.assertEqual(sorted(labels, key=natural_key), sorted(backwards, key=natural_key))


class Shown(unittest.TestCase):
    def test_numbers(self) -> None:
        for value, text in [
            (0, "0"),
            (12480, "12,480"),
            (0.25, "0.25"),
            (2.0, "2"),
            (0.1 + 0.2, "0.3"),
            (2**63, "9,223,372,036,854,775,808"),
            (1e-9, "1e-9"),
            (1.5e20, "1.5e+20"),
            (10**30, "1e+30"),
        ]:
            self.assertEqual(number_text(value), text)

    def test_a_column_has_one_number_of_decimals(self) -> None:
        self.assertEqual(number_texts([13493.7, 1255.28, 3, 1e-9]), ["13,493.70", "1,255.28", "3.00", "1e-9"])
        self.assertEqual(number_texts([1000, 2]), ["1,000", "2"])

    def test_a_percent_never_claims_more_than_is_so(self) -> None:
        for value, marks, text in [
            (38.0952, (), "38.1%"),
            (99.96, (), "99.96%"),
            (99.9996, (), "99.9996%"),
            (100.0, (), "100.0%"),
            (79.98, (80,), "79.98%"),
            (79.98, (), "80.0%"),
            (80.0, (80,), "80.0%"),
            (79.99999999999999, (80,), "80.0%"),
            (0.02, (), "0.02%"),
            (8203.94, (), "8,203.9%"),
            (0.0, (), "0.0%"),
        ]:
            self.assertEqual(percent_text(value, marks=marks), text)

    @given(st.floats(0, 100), st.integers(0, 2))
    def test_a_shown_percent_is_near_and_reaches_100_only_when_it_is(self, value: float, decimals: int) -> None:
        shown = float(percent_text(value, decimals=decimals).removesuffix("%"))
        self.assertLessEqual(abs(shown - value), 0.5 * 10**-decimals + 1e-12)
        self.assertEqual(shown == 100, value > 100 - 1e-10)

    def test_words(self) -> None:
        self.assertEqual([counted(1, "record"), counted(0, "record")], ["1 record", "0 records"])
        self.assertEqual([listed(["a"]), listed(["a", "b"]), listed(["a", "b", "c"])], ["a", "a and b", "a, b and c"])
        self.assertEqual(listed(list("abcdef"), most=2), "a, b and 4 more")

    def test_labels_stand_in_one_line(self) -> None:
        self.assertEqual(one_line(" a\n\tb\x1b[31m\x00\u202e c "), "a b[31m c")
        self.assertEqual(one_line("abcdef", longest=4), "abc…")
        self.assertEqual(distinct_lines(["Scratch", " Scratch", "a  b"]), ["Scratch", "␣Scratch", "a b"])


class AtMarks(unittest.TestCase):
    @given(
        st.lists(
            st.integers(-(10**9), 10**9) | st.floats(-1e7, 1e7).map(lambda x: round(x, 4)), min_size=1, max_size=12
        ),
        st.booleans(),
        st.sampled_from(["", "$", "€ "]),
        st.sampled_from([None, 0, 1, 2]),
    )
    def test_no_number_is_off_by_more_than_half_of_its_last_digit(
        self, values: list[float], si: bool, prefix: str, decimals: int | None
    ) -> None:
        style = NumberStyle(si=si, prefix=prefix, decimals=decimals)
        for texts in (value_texts(values, style), style.amounts(values)):
            for text, value in zip(texts, values, strict=True):
                shown, half = read_back(text, si=si)
                self.assertLessEqual(abs(shown - value), half * (1 + 1e-9) + 1e-12 * abs(value), text)
                self.assertFalse(text.strip(f"{prefix}.0 ") == "-0")

    def test_thousands_keep_their_zeros(self) -> None:
        self.assertEqual(number_text(1200.3, most_decimals=0), "1,200")
        self.assertEqual(
            value_texts([40500, 30400, 10200, 5000], NumberStyle(si=True)), ["40.5 k", "30.4 k", "10.2 k", "5.0 k"]
        )
        self.assertEqual(NumberStyle(prefix="$").amount(-3838), "-$3,838")
        self.assertEqual(digits_text(1226250.4), "1,226,250")


class Marks(unittest.TestCase):
    @given(
        st.sampled_from(["1,234.56", "1.234,56", "1 234,56", "1'234.56", "1234.56", "1234,56"]),
        st.integers(-(10**12), 10**12) | st.decimals(-(10**9), 10**9, places=3).map(float),
        st.integers(0, 6),
    )
    def test_what_is_shown_is_read_back(self, example: str, value: float, decimals: int) -> None:
        thousands, decimal = marks_of(example)
        shown = NumberStyle(show_numbers=example, decimals=decimals, prefix="€ ", suffix=" t").amount(value)
        text = shown.replace("€ ", "").removesuffix(" t")
        plain = (text.replace(thousands, "") if thousands else text).replace(decimal, ".")
        self.assertLessEqual(abs(Decimal(plain) - Decimal(repr(value))), Decimal(5).scaleb(-decimals - 1))
