"""Series and categories: what a user may hand over, and what is refused in one line."""

import math
import unittest
from collections.abc import Callable
from datetime import date, datetime
from itertools import pairwise

import numpy as np
import pandas as pd
from hypothesis import given
from hypothesis import strategies as st

import vantric as vt
from vantric.core.composition.categories import read_categories
from vantric.core.layout.category_labels import MONTHS, set_period_labels, side_period_labels
from vantric.core.layout.text_layout import Sizes, TextWriter, table_measure
from vantric.core.numbers.periods import period_kind, period_label, period_labels, period_start
from vantric.errors import ChartError, VantricError

PEN, SIZES = TextWriter(table_measure), Sizes(1.0)


class Refusing(unittest.TestCase):
    def says(self, words: str, call: Callable[[], object]) -> None:
        with self.assertRaisesRegex(VantricError, words) as caught:
            call()
        self.assertNotIn("\n", str(caught.exception))


class Values(Refusing):
    def test_any_numbers_do_and_missing_ones_are_nan(self) -> None:
        for values in (
            [1, None, 2.5],
            (1, math.nan, 2.5),
            np.array([1, np.nan, 2.5]),
            pd.Series([1, pd.NA, 2.5]),
            iter([1, None, 2.5]),
        ):
            with self.subTest(kind=type(values).__name__):
                found = vt.Line("Rate", values).values
                self.assertEqual((found[0], found[2]), (1.0, 2.5))
                self.assertTrue(math.isnan(found[1]))
        self.assertEqual(vt.Bars("n", range(3)).values, (0.0, 1.0, 2.0))
        self.assertEqual(vt.Bars("n", [10**20]).values, (1e20,))

    def test_what_is_no_number_is_named_with_its_place(self) -> None:
        for values, words in (
            ([1, "two"], "value 2 of series 'Fired' is not a number: 'two'"),
            (["3"], "value 1 of series 'Fired' is not a number"),
            ([1, math.inf], "value 2 of series 'Fired' is not finite"),
            ("12", "the values of series 'Fired' are text"),
            (5, "the values of series 'Fired' are not a list"),
            ([[1]], "value 1 of series 'Fired' is not a number"),
        ):
            self.says(words, lambda values=values: vt.Bars("Fired", values))

    def test_options_that_are_none_name_the_nearest(self) -> None:
        for made, words in (
            (lambda: vt.Line("a", [1], "vlaue"), "not 'vlaue'; did you mean 'value'"),
            (
                lambda: vt.Line("a", [1], axis="secondry"),
                "axis is one of .*, not 'secondry'; did you mean 'secondary'",
            ),
            (lambda: vt.Line("a", [1], marker="sqare"), "marker is one of .*; did you mean 'square'"),
            (lambda: vt.Line("a", [1], label_place="abov"), "did you mean 'above'"),
            (lambda: vt.Line("a", [1], pattern="dahsed"), "pattern is one of .*, not 'dahsed'; did you mean 'dashed'"),
            (lambda: vt.Bars("a", [1], pattern="dashed"), "pattern is one of 'plain', 'hatched'"),
            (lambda: vt.Bars("a", [1], bar_width=1.5), "bar_width is a number above 0 and at most 1, not 1.5"),
            (lambda: vt.Line("a", [1], line_width=0), "line_width is a number above 0 and at most 20"),
            (lambda: vt.Line("a", [1], marker_size=99), "marker_size is a number above 0 and at most 40"),
        ):
            self.says(words, made)

    def test_lines_cannot_be_stacked(self) -> None:
        with self.assertRaises(TypeError):
            vt.Line("a", [1], stack="x")

    def test_a_series_says_what_it_is(self) -> None:
        one = vt.Steps("Energy", [1, 2], axis="secondary", unit="kWh", labels="percent-of-series")
        self.assertEqual(repr(one), "<Steps 'Energy' of 2 values on the secondary axis>")
        self.assertEqual(one.changed(), {"labels": "percent of series", "axis": "secondary", "unit": "kWh"})
        self.assertEqual(one, vt.Steps("Energy", (1.0, 2.0), axis="secondary", unit="kWh", labels="percent of series"))
        self.assertNotEqual(one, vt.Line("Energy", (1, 2), axis="secondary", unit="kWh", labels="percent of series"))
        self.assertEqual(vt.Bars("a", [1, 2], labels=["x", 3]).labels, ("x", "3"))


class Categories(Refusing):
    def test_text_stands_as_given_and_numbers_ascend(self) -> None:
        found = read_categories(["b", "a", None])
        self.assertEqual((found.labels, found.places), (("b", "a", ""), (0, 1, 2)))
        found = read_categories([10, 2, 1.5])
        self.assertEqual((found.labels, found.places), (("1.5", "2.0", "10.0"), (2, 1, 0)))
        self.assertEqual(read_categories(np.array([3, 1, 2])).labels, ("1", "2", "3"))
        self.assertEqual(found.sorted(vt.Bars("n", [7, 8, 9], ["x", "y", "z"])).texts, ("z", "y", "x"))

    def test_dates_stand_in_order_and_none_is_left_out(self) -> None:
        found = read_categories([date(2026, 4, 1), date(2026, 1, 1), date(2026, 2, 1)])
        self.assertEqual(found.period, "month")
        self.assertEqual(found.labels, ("2026-01", "2026-02", "2026-03", "2026-04"))
        self.assertEqual(found.places, (1, 2, None, 0))
        values = found.sorted(vt.Line("n", [4, 1, 2])).values
        self.assertEqual(values[:2] + values[3:], (1.0, 2.0, 4.0))
        self.assertTrue(math.isnan(values[2]))
        days = read_categories([datetime(2026, 1, 30, 8), datetime(2026, 2, 2)])
        self.assertEqual((days.period, len(days.labels)), ("day", 4))
        stamps = read_categories(pd.to_datetime(["2026-01-05", "2026-01-06"]))
        self.assertEqual(stamps.labels, ("2026-01-05", "2026-01-06"))

    def test_periods_as_text_are_known(self) -> None:
        for texts, period, count in (
            (["2026-Q3", "2025-Q4"], "quarter", 4),
            (["2025-W52", "2026-W02"], "week", 3),
            (["2026-02", "2025-12"], "month", 3),
            (["2026-03-01", "2026-02-27"], "day", 3),
            (["2026-13", "2026-01"], "", 2),
            (["2026", "2025"], "", 2),
            (["2026-01", "x"], "", 2),
        ):
            with self.subTest(texts=texts):
                found = read_categories(texts)
                self.assertEqual((found.period, len(found.labels)), (period, count))
        self.assertEqual(read_categories(["2024", "2026"], "year").labels, ("2024", "2025", "2026"))
        self.assertEqual(read_categories(["2026-01-15", "2026-04-02"], "quarter").labels, ("2026-Q1", "2026-Q2"))

    def test_what_cannot_be_categories(self) -> None:
        for call, words in (
            (lambda: read_categories([]), "at least one category"),
            (lambda: read_categories("abc"), "at least one category"),
            (lambda: read_categories(["a", "b", "a"]), "the category 'a' is given twice"),
            (lambda: read_categories(["2026-01", "2026-01"]), "'2026-01' is given twice"),
            (lambda: read_categories([1, 1.0]), "is given twice"),
            (lambda: read_categories(["2026-01-01", "31.12.26"], "month"), "category 2 is not a date: '31.12.26'"),
            (lambda: read_categories(["2026-01"], "fortnight"), "'fortnight' is not a period"),
            (lambda: read_categories([date(1, 1, 1), date(9999, 1, 2)]), "more than 50,000 days; take a longer"),
            (lambda: vt.Chart(["2026-01-10", "2026-01-20"], [vt.Bars("a", [1, 2])], period="month"), "given twice"),
        ):
            self.says(words, call)

    @given(st.dates(date(1900, 1, 1), date(2100, 1, 1)), st.sampled_from(["day", "week", "month", "quarter", "year"]))
    def test_the_first_day_of_a_period_is_in_it(self, day: date, period: str) -> None:
        label = period_label(day, period)
        start = period_start(label)
        self.assertLessEqual(start, day)
        self.assertEqual(period_label(start, period), label)
        if period != "year":
            self.assertEqual(period_kind([label]), period)

    def test_what_is_no_period(self) -> None:
        for text in ("2026-1", "2026-Q5", "2026-W60", "2026-02-30", "soon"):
            self.assertEqual(period_kind([text]), "")
            with self.assertRaises(ValueError):
                period_start(text)


class PeriodLabels(unittest.TestCase):
    def rows(self, labels: list[str], period: str, slot: float) -> tuple[list[str], list[str]]:
        found = set_period_labels(labels, period, MONTHS, slot, SIZES, PEN)
        for row in (found.fine, found.coarse):
            ends = [(at * slot - PEN.width(text, 15.5) / 2, at * slot + PEN.width(text, 15.5) / 2) for at, text in row]
            self.assertTrue(all(one[1] < other[0] for one, other in pairwise(ends)), row)
        return [text for _, text in found.fine], [text for _, text in found.coarse]

    def test_the_year_stands_once(self) -> None:
        months = [*period_labels(date(2025, 11, 1), date(2026, 3, 1), "month")]
        self.assertEqual(self.rows(months, "month", 80), (["Nov", "Dec", "Jan", "Feb", "Mar"], ["2025", "2026"]))
        quarters = [*period_labels(date(2025, 8, 1), date(2026, 5, 1), "quarter")]
        self.assertEqual(self.rows(quarters, "quarter", 80), (["Q3", "Q4", "Q1", "Q2"], ["2025", "2026"]))
        days = [*period_labels(date(2025, 12, 30), date(2026, 1, 2), "day")]
        self.assertEqual(self.rows(days, "day", 90), (["30", "31", "1", "2"], ["Dec 2025", "Jan 2026"]))
        weeks = ["2025-W52", "2026-W01", "2026-W02"]
        self.assertEqual(self.rows(weeks, "week", 80), (["W52", "W1", "W2"], ["2025", "2026"]))
        self.assertEqual(self.rows(["2025", "2026"], "year", 80), (["2025", "2026"], []))

    def test_many_periods_are_named_at_calendar_places(self) -> None:
        months = [*period_labels(date(2016, 1, 1), date(2025, 12, 1), "month")]
        self.assertEqual(self.rows(months, "month", 4)[0], [str(year) for year in range(2016, 2026)])
        fine, coarse = self.rows(months[:36], "month", 16)
        self.assertEqual((fine[:4], coarse), (["Jan", "Apr", "Jul", "Oct"], ["2016", "2017", "2018"]))
        days = [*period_labels(date(2026, 1, 1), date(2026, 12, 31), "day")]
        fine, coarse = self.rows(days, "day", 3)
        self.assertEqual(coarse[0], "Jan 2026" if fine[0] == "1" else "2026")
        for count in (1, 2, 30, 400, 2000, 9000):
            every = [*period_labels(date(2000, 1, 1), date(2030, 1, 1), "day")][:count]
            for slot in (0.1, 0.5, 2.0, 40.0):
                self.assertTrue(self.rows(every, "day", slot)[0], (count, slot))

    def test_beside_a_horizontal_chart_the_year_stands_where_it_changes(self) -> None:
        self.assertEqual(
            side_period_labels(["2025-11", "2025-12", "2026-01"], "month", MONTHS), ["Nov 2025", "Dec", "Jan 2026"]
        )
        self.assertEqual(side_period_labels(["2026-01-31", "2026-02-01"], "day", MONTHS), ["31 Jan 2026", "1 Feb 2026"])
        self.assertEqual(
            side_period_labels(["2025-Q4", "2026-Q1", "2026-Q2"], "quarter", ()), ["Q4 2025", "Q1 2026", "Q2"]
        )
        self.assertEqual(side_period_labels(["2026-W01", "2026-W02"], "week", ()), ["W1 2026", "W2"])
        self.assertEqual(side_period_labels(["2026"], "year", ()), ["2026"])

    def test_months_speak_any_language(self) -> None:
        months = "jan feb mrt apr mei jun jul aug sep okt nov dec"
        chart = vt.Chart(["2026-03", "2026-05"], [vt.Bars("n", [1, 2])], words={"months": months})
        texts = [mark.text for mark in chart.plan().texts]
        self.assertIn("mrt", texts)
        self.assertIn("mei", texts)
        with self.assertRaisesRegex(ChartError, "needs twelve names"):
            vt.Chart(["2026-03", "2026-05"], [vt.Bars("n", [1, 2])], words={"months": "one two"}).plan()
