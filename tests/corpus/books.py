"""Finished workbooks with a table and a chart, as people make them; each option is one way of going wrong."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import xlsxwriter

import vantric as vt
from tests.corpus.making import DEFECTS, Review, Rows

Cell = Callable[[int, float, float, float], Any]  # row, count, running sum, total -> a number or a formula


def book(
    rows: Rows = DEFECTS,
    *,
    percent: str | Cell | None = "=B{r}/B${t}",
    cumulative: str | Cell = "=SUM(B$2:B{r})/B${t}",
    total: str | float | None = "=SUM(B2:B{n})",
    head: tuple[str, ...] = ("Defect", "Count", "Percent", "Cumulative %"),
    drawn: str = "2:{n}",
    line: str = "2:{n}",
    labels: str = "2:{n}",
    top: float | str | None = "total",
    bottom: float = 0,
    secondary: bool = True,
    secondary_top: float | None = 1,
    log: bool = False,
    titles: bool = True,
    form: str = "0.0%",
    alternative: str = "A Pareto chart of defects",
    kind: str = "column",
    with_line: bool = True,
    name: str = "Pareto",
    titled: str = "Count",
    swapped: bool = False,
    hidden: bool = False,
) -> Review:
    """Return the review of a workbook."""

    def review(folder: Path) -> list[Any]:
        path = folder / "book.xlsx"
        made = xlsxwriter.Workbook(path)
        page, style = made.add_worksheet(name), made.add_format({"num_format": form})
        page.write_row(0, 0, head)
        places = {"n": len(rows) + 1, "t": len(rows) + 2}
        whole, so_far = sum(count for _, count in rows), 0.0
        for at, (label, count) in enumerate(rows, 1):
            so_far += count
            page.write(at, 0, label)
            page.write(at, 1, count)
            for column, wanted in ((2, percent), (3, cumulative)):
                if wanted is None:
                    continue
                value = wanted(at + 1, count, so_far, whole) if callable(wanted) else wanted
                text = value.format(r=at + 1, **places) if isinstance(value, str) else value
                page.write(at, column, text, style)
        if total is not None:
            page.write(len(rows) + 1, 0, "Total")
            page.write(len(rows) + 1, 1, total.format(**places) if isinstance(total, str) else total)

        def cells(column: str, which: str) -> str:
            first, last = which.format(**places, m=places["n"] - 1).split(":")
            return f"='{name}'!${column}${first}:${column}${last}"

        bars = made.add_chart({"type": kind})
        bars.add_series(
            {
                "name": f"='{name}'!$B$1",
                "categories": cells("A", labels),
                "values": cells("B", drawn),
                "y2_axis": swapped,
            }
        )
        running = made.add_chart({"type": "line"})
        running.add_series(
            {
                "name": f"='{name}'!$D$1",
                "categories": cells("A", labels),
                "values": cells("D", line),
                "y2_axis": secondary and not swapped,
            }
        )
        of_counts: dict[str, Any] = {"log_base": 10} if log else {"min": bottom}
        reach = whole if top == "total" else top
        of_counts |= ({"name": titled} if titles else {}) | ({} if reach is None else {"max": reach})
        of_line: dict[str, Any] = {} if secondary_top is None else {"max": secondary_top, "min": 0}
        of_line |= ({"name": "Cumulative percent"} if titles else {}) | {"num_format": "0%", "visible": not hidden}
        main, other = (running, bars) if swapped else (bars, running)
        if with_line:
            main.combine(other)
            if secondary:
                other.set_y2_axis(of_counts if swapped else of_line)
        main.set_y_axis(of_line if swapped else of_counts)
        if titles:
            main.set_x_axis({"name": "Defect"})
        page.insert_chart("F2", main, {"description": alternative} if alternative else {})
        made.close()
        return list(vt.review(path))

    return review
