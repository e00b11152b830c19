"""A finished workbook with faults that the review must find: in its formulas, its charts, their axes."""

from __future__ import annotations

from random import Random
from typing import Any

from vantric.demo.workbooks import made_book

_DEFECTS = (("Pinhole", 88), ("Warping", 61), ("Edge chip", 44), ("Scratch", 38), ("Stain", 12), ("Press crack", 7))
_CAUSES = (("Mold worn", 52), ("Glaze too thin", 40), ("Kiln too fast", 31), ("Handling", 9))


def flawed_book(dice: Random) -> bytes:
    """Return a workbook of two sheets with a chart each.

    The percents of the first are divided by a sum with the Total row in it, which its chart draws as a bar; the axis of
    the second begins at 20, and its cumulative line floats free of the bars.
    """

    def fill(book: Any) -> None:
        defects, causes = book.worksheets[0], book.create_sheet("Causes")
        defects.title = "Defects"
        last = _table(defects, "Defects of March 2026", "Defect", _DEFECTS, "=B{row}/SUM(B$4:B${total})")
        _chart(defects, "Defects of March 2026", last + 1)
        last = _table(causes, "Causes of March 2026", "Cause", _CAUSES, "=B{row}/B${total}")
        bars = _chart(causes, "Causes of March 2026", last)
        bars.y_axis.scaling.min = 20

    return made_book(fill)


def _table(page: Any, title: str, label: str, counts: tuple[tuple[str, int], ...], percent: str) -> int:
    """Write a table with formulas below a title; return the last row of its categories."""
    page.append([title])
    page.append([])
    page.append([label, "Pieces", "Percent", "Cumulative percent"])
    total = 4 + len(counts)
    for row, (name, number) in enumerate(counts, 4):
        cumulative = f"=SUM(B$4:B{row})/B${total}"
        page.append([name, number, percent.format(row=row, total=total), cumulative])
        for column in (3, 4):
            page.cell(row, column).number_format = "0.0%"
    page.append(["Total", f"=SUM(B4:B{total - 1})"])
    return total - 1


def _chart(page: Any, title: str, last: int) -> Any:
    """Add a chart of bars with a cumulative line on the secondary axis; return its bars."""
    from openpyxl.chart import BarChart, LineChart, Reference

    bars, line = BarChart(), LineChart()
    labels = Reference(page, min_col=1, min_row=4, max_row=last)
    for part, column in ((bars, 2), (line, 4)):
        part.add_data(Reference(page, min_col=column, min_row=3, max_row=last), titles_from_data=True)
        part.set_categories(labels)
    bars.title, bars.y_axis.title, line.y_axis.title = title, "Pieces", "Cumulative percent"
    bars.x_axis.title = "Defect"
    bars.x_axis.delete = bars.y_axis.delete = line.y_axis.delete = False
    bars.y_axis.scaling.min, line.y_axis.scaling.max, line.y_axis.scaling.min = 0, 1, 0
    line.y_axis.axId, line.y_axis.crosses = 200, "max"
    bars += line
    page.add_chart(bars, "F3")
    return bars
