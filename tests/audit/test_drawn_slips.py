"""Slips in the charts of a workbook, each beside a chart that looks like it and is right."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import openpyxl
from openpyxl.chart import AreaChart, BarChart, LineChart, Reference
from openpyxl.chart.shapes import GraphicalProperties
from openpyxl.drawing.colors import ColorChoice, SchemeColor

import vantric as vt
from tests.folder import InFolder

DEFECTS = [["Defect", "Count"], ["Pinhole", 80], ["Crack", 48], ["Chip", 16], ["Dent", 8], ["Stain", 8]]
MONTHS = [["Month", "Rejects"], ["Jan", 30], ["Feb", 22], ["Mar", 41], ["Apr", 35], ["May", 30], ["Jun", 28]]
PARTS = [["Line", "Early", "Late"], ["A", 30, 50], ["B", 32, 55], ["C", 31, 52], ["D", 35, 60]]


def titled(chart: Any, value: str = "Count") -> Any:
    chart.title, chart.y_axis.title, chart.x_axis.title = "What there was", value, "Of what"
    chart.y_axis.delete = chart.x_axis.delete = False
    return chart


def bars(values: tuple[int, int], labels: tuple[int, int]) -> Callable[[Any], Any]:
    """Return a chart of rows, the first and the last of the values and of the labels."""

    def make(sheet: Any) -> Any:
        chart = titled(BarChart())
        chart.add_data(Reference(sheet, min_col=2, min_row=values[0], max_row=values[1]))
        chart.set_categories(Reference(sheet, min_col=1, min_row=labels[0], max_row=labels[1]))
        return chart

    return make


def whole(chart: Any, *, stacked: bool = False, value: str = "Count") -> Callable[[Any], Any]:
    def make(sheet: Any) -> Any:
        drawn = titled(chart(), value)
        if stacked:
            drawn.grouping, drawn.overlap = "stacked", 100
        table = Reference(sheet, min_col=2, max_col=sheet.max_column, min_row=1, max_row=sheet.max_row)
        drawn.add_data(table, titles_from_data=True)
        drawn.set_categories(Reference(sheet, min_col=1, min_row=2, max_row=sheet.max_row))
        return drawn

    return make


def two_axes(least: float, *, ends: tuple[float, ...] = ()) -> Callable[[Any], Any]:
    def make(sheet: Any) -> Any:
        drawn, line = titled(BarChart(), "Made"), LineChart()
        drawn.add_data(Reference(sheet, min_col=2, min_row=1, max_row=sheet.max_row), titles_from_data=True)
        drawn.set_categories(Reference(sheet, min_col=1, min_row=2, max_row=sheet.max_row))
        line.add_data(Reference(sheet, min_col=3, min_row=1, max_row=sheet.max_row), titles_from_data=True)
        line.y_axis.axId, line.y_axis.crosses, line.y_axis.title, line.y_axis.delete = 200, "max", "Rejects in %", False
        line.y_axis.scaling.min = least
        if ends:
            drawn.y_axis.scaling.min, drawn.y_axis.scaling.max, line.y_axis.scaling.max = ends
        drawn += line
        return drawn

    return make


class Drawn(InFolder):
    def told(self, rows: Sequence[Sequence[Any]], make: Callable[[Any], Any]) -> list[tuple[str, str]]:
        book = openpyxl.Workbook()
        for row in rows:
            book.active.append(list(row))
        book.active.add_chart(make(book.active), "E2")
        path = self.folder / "book.xlsx"
        book.save(path)
        return [(one.code, one.message) for one in vt.review(path) if one.code != "no-alternative"]

    def slips(self, good: tuple[Any, Any], *flawed: tuple[Any, Any, str, str]) -> None:
        self.assertEqual(self.told(*good), [])
        for rows, make, code, words in flawed:
            with self.subTest(words):
                [(told, message)] = self.told(rows, make)
                self.assertEqual(told, code)
                self.assertIn(words, message)

    def test_rows_and_labels(self) -> None:
        self.slips(
            (DEFECTS, bars((2, 6), (2, 6))),
            (DEFECTS, bars((2, 6), (3, 7)), "unlike-ranges", "each value stands under the label of another row"),
            (DEFECTS, bars((3, 6), (2, 5)), "unlike-ranges", "each value stands under the label of another row"),
            (DEFECTS, bars((3, 6), (3, 6)), "rows-not-drawn", "begins below the table: 'Pinhole' is not drawn"),
            (DEFECTS, bars((2, 5), (2, 5)), "rows-not-drawn", "stops short of the table: 'Stain' is not drawn"),
            ([*DEFECTS, ["Total", 160]], bars((2, 7), (2, 7)), "total-as-category", "the total of all others"),
        )
        self.assertEqual(self.told([*DEFECTS, ["Total", 160]], bars((2, 6), (2, 6))), [])
        years = [["Defect", 2025], *DEFECTS[1:]]
        self.assertEqual(self.told(years, bars((2, 6), (2, 6))), [], "a year heads the numbers")

    def test_the_first_rows_are_drawn_on_purpose_where_the_title_says_so(self) -> None:
        def titled(title: str) -> Callable[[Any], Any]:
            def make(sheet: Any) -> Any:
                drawn = bars((2, 4), (2, 4))(sheet)
                drawn.title = title
                return drawn

            return make

        for title in ("Top 3 defects", "3 of 5 defects", "Die 3 häufigsten Fehler"):
            self.assertEqual(self.told(DEFECTS, titled(title)), [], title)
        for title in ("Defects of week 3", "Defects of kiln 3, 2025", "Top defects"):
            self.assertEqual([code for code, _ in self.told(DEFECTS, titled(title))], ["rows-not-drawn"], title)

    def test_a_sum_is_not_drawn_beside_its_parts(self) -> None:
        rows = [["Cause", "Pieces"], ["Firing", 75], ["Firing, heat", 45], ["Firing, dust", 30], ["Moisture", 25]]
        [(code, message)] = self.told(rows, bars((2, 5), (2, 5)))
        self.assertEqual(code, "total-as-category")
        self.assertIn("'Firing' in it adds up others that are drawn beside it", message)

    def test_stacks(self) -> None:
        total = [[*row, sum(row[1:]) if at else "Total"] for at, row in enumerate(PARTS)]
        degrees = [["Line", "Inlet temperature", "Outlet temperature"], *PARTS[1:]]
        self.slips(
            (PARTS, whole(BarChart, stacked=True)),
            (
                total,
                whole(BarChart, stacked=True),
                "total-as-category",
                "'Total' is the sum of the others and is stacked on",
            ),
            (degrees, whole(BarChart, stacked=True), "stacked-rates", "are stacked, and their sum means nothing"),
        )
        self.assertEqual(self.told(degrees, whole(BarChart)), [])

    def test_time(self) -> None:
        turned = [MONTHS[0], *MONTHS[4:], *MONTHS[1:4]]
        self.slips(
            (MONTHS, whole(LineChart)),
            (
                [*MONTHS[:2], MONTHS[3], MONTHS[2], *MONTHS[4:]],
                whole(LineChart),
                "unordered-line",
                "'Mar' and 'Feb': they are not",
            ),
            (turned, whole(LineChart), "unordered-line", "not in the order of the calendar"),
            ([*MONTHS, ["Jul", 0], ["Aug", 0], ["Sep", 0]], whole(LineChart), "future-zeros", "0 from 'Jul' on"),
        )
        self.assertEqual(
            self.told([*MONTHS[:3], ["Mar", 0], *MONTHS[4:], ["Jul", 0], ["Aug", 0]], whole(LineChart)), []
        )
        self.assertEqual(
            self.told([MONTHS[0], *sorted(MONTHS[1:], key=lambda row: -row[1])], whole(BarChart)), [], "bars"
        )
        weeks = [["Date", "Rejects"], *([f"2026-01-{day:02d}", 20 + day] for day in (5, 12, 19, 26))]
        self.assertEqual(self.told(weeks, whole(LineChart)), [])
        gap = [*weeks, ["2026-03-23", 30], ["2026-03-30", 31]]
        [(code, message)] = self.told(gap, whole(LineChart))
        self.assertEqual(code, "uneven-steps")
        self.assertIn("its dates are 7 to 56 days apart", message)

    def test_axes(self) -> None:
        rates = [
            ["Month", "Made", "Reject rate %"],
            ["Jan", 3000, 3.0],
            ["Feb", 2800, 3.4],
            ["Mar", 3100, 2.9],
            ["Apr", 3300, 3.6],
        ]
        self.slips(
            (rates, two_axes(0)),
            (rates, two_axes(2.5), "secondary-without-zero", "the bars begin at zero, and the secondary axis at 2.5"),
        )
        margins = [
            ["Month", "Made", "Margin %"],
            ["Jan", 3000, 3.0],
            ["Feb", 2800, -1.4],
            ["Mar", 3100, 2.9],
            ["Apr", 3300, 3.6],
        ]
        self.assertEqual(self.told(margins, two_axes(-2, ends=(-2000, 4000, 4))), [])
        [(code, message)] = self.told(margins, two_axes(-2, ends=(0, 4000, 4)))
        self.assertEqual(code, "zeros-apart")
        self.assertIn("its zero is not as high as that of the primary axis", message)
        self.assertEqual(self.told(MONTHS, whole(AreaChart)), [], "its title is there")
        for kind in (AreaChart, BarChart, LineChart):
            codes = [code for code, _ in self.told(MONTHS, whole(kind, value=""))]
            self.assertEqual(codes, ["untitled-axis"], kind)

    def test_areas_that_hide_others(self) -> None:
        small_behind = [["Month", "Early", "Late"], ["Jan", 30, 50], ["Feb", 32, None], ["Mar", 31, 52]]
        large_behind = [[month, late, early] for month, early, late in small_behind]
        crossing = [*large_behind, ["Apr", 20, 28]]
        said = "'Early' is hidden behind another area"
        self.slips((large_behind, whole(AreaChart)), (small_behind, whole(AreaChart), "hidden-area", said))
        self.assertEqual(self.told(crossing, whole(AreaChart)), [], "a part of each is seen")
        self.assertEqual(self.told(small_behind, whole(AreaChart, stacked=True)), [])
        three = [["Month", "A", "B", "C"], ["Jan", 1, 2, 9], ["Feb", 2, 3, 8]]
        [(_, message)] = self.told(three, whole(AreaChart))
        self.assertIn("'A' and 'B' are hidden", message)
        for fill in ({"noFill": True}, {"solidFill": ColorChoice(schemeClr=SchemeColor(val="accent1", alpha=50000))}):
            self.assertEqual(self.told(small_behind, self.filled(GraphicalProperties(**fill))), [])
        solid = GraphicalProperties(solidFill=ColorChoice(schemeClr=SchemeColor(val="accent1")))
        self.assertEqual(len(self.told(small_behind, self.filled(solid))), 1)

    @staticmethod
    def filled(fill: Any) -> Callable[[Any], Any]:
        def make(sheet: Any) -> Any:
            drawn = whole(AreaChart)(sheet)
            drawn.series[-1].graphicalProperties = fill
            return drawn

        return make

    def test_areas_on_two_axes_do_not_hide_each_other(self) -> None:
        def make(sheet: Any) -> Any:
            drawn, second = titled(AreaChart()), AreaChart()
            for chart, column in ((drawn, 2), (second, 3)):
                chart.add_data(Reference(sheet, min_col=column, min_row=1, max_row=5), titles_from_data=True)
                chart.set_categories(Reference(sheet, min_col=1, min_row=2, max_row=5))
            second.y_axis.axId, second.y_axis.crosses, second.y_axis.title = 200, "max", "Late"
            drawn += second
            return drawn

        self.assertEqual([code for code, _ in self.told(PARTS, make) if code == "hidden-area"], [])


class Lists(InFolder):
    def told(self, summary: dict[str, int], records: dict[str, int]) -> list[tuple[str, str]]:
        book = openpyxl.Workbook()
        book.active.title = "List"
        book.active.append(["Date", "Defect"])
        for at, label in enumerate(name for name, number in records.items() for _ in range(number)):
            book.active.append([f"2026-0{1 + at % 6}-{1 + at % 27:02d}", label])
        sheet = book.create_sheet("Summary")
        sheet.append(["Defect", "Count"])
        for row in summary.items():
            sheet.append(list(row))
        sheet.append(["Total", sum(summary.values())])
        path = self.folder / "list.xlsx"
        book.save(path)
        return [(one.code, one.message) for one in vt.review(path)]

    def test_a_list_and_the_summary_beside_it(self) -> None:
        records = {"Pinhole": 60, "Crack": 40, "Chip": 30, "Dent": 20}
        self.assertEqual(self.told(records, records), [])
        [(code, message)] = self.told({**records, "Crack": 23}, records)
        self.assertEqual(code, "summary-differs")
        self.assertIn("says 133 and the list beside it has 150 records of 'Defect': 'Crack' 40, not 23", message)
        other = {"Pinhole": 3, "Crack": 90, "Chip": 1, "Dent": 66}
        self.assertEqual(self.told(other, records), [], "it counts something else")
