"""The chart of a live Pareto table: bars, cumulative line, cutoff and percent scale stand on one axis of counts.

A percent scale of its own would need a fixed end, and would part from the bars when a count is edited. So the line
shows cumulative frequencies, and the scale on the right is made of points at 0, 20 ... 100 % of the total, over a place
behind the last category: whatever is typed, the line starts at the top of the first bar and ends at 100 %.
"""

from __future__ import annotations

from typing import Any

from vantric.drawing.theme import LIGHT
from vantric.reports.local import Fixed
from vantric.reports.workbooks.formulas import (
    CLASS,
    CUT_ROW,
    FIRST,
    FREQUENCY,
    HEAD_ROW,
    LABEL,
    RUNNING,
    RUNNING_PERCENT,
)
from vantric.reports.workbooks.livesheets import Live
from vantric.reports.workbooks.sheets import Book, Sheet, half_up, place, reference

MOST_DRAWN = 200  # rows
_MOST_LABELED = 40
_SCALE = (0, 20, 40, 60, 80, 100)
_STRONG, _QUIET, _LINE, _CUT, _INK, _GRID, _AXIS, _SAID = map(
    LIGHT.color, ("strong", "quiet", "line", "cut", "title", "grid", "axis", "point-value")
)
_PARTS = tuple(LIGHT.color(f"series-{number}") for number in range(1, 8))
_HEAD, _TOP = 0, 1


class _Columns:
    """Where the series are on the sheet of chart data."""

    def __init__(self, parts: int) -> None:
        self.label, self.bars = 0, range(1, 1 + parts)
        self.running, self.cut, self.said = 1 + parts, 2 + parts, 3 + parts
        self.scale = range(4 + parts, 4 + parts + len(_SCALE))


def live_chart(book: Book, live: Live, chart: Any, description: str, *, alone: bool = True) -> None:
    """Write the sheet of chart data, and the chart beside the table."""
    rows = min(live.layout.rows, MOST_DRAWN)
    parts = [str(name) for name in live.table.strata.columns] if live.table.strata is not None else []
    data = book.sheet(Fixed("Chart data") if alone else f"Data of {live.table.origin.by or live.sheet.name}")
    columns = _Columns(len(parts) or (2 if live.layout.cuts else 1))
    _data(data, live, rows, columns, parts, chart)
    bars = _bars(book, data, live, rows, columns, parts)
    bars.combine(_lines(book, data, live, rows, columns))
    _dressed(bars, live, chart)
    bars.set_size({"width": 960, "height": 560})
    live.sheet.page.insert_chart(HEAD_ROW, CLASS + 2, bars, {"description": description[:2000], "object_position": 2})


def _data(sheet: Sheet, live: Live, rows: int, columns: _Columns, parts: list[str], chart: Any) -> None:
    table, layout = live.table, live.layout
    bars = ("Vital few", "Useful many") if layout.cuts else ("Frequency",)
    heads = [Fixed("Category"), *(parts or map(Fixed, bars)), Fixed("Cumulative")]
    for at, name in enumerate(heads):
        sheet.text(_HEAD, at, name, bold=True)
    sheet.text(_HEAD, columns.said, Fixed("Cumulative percent"), bold=True)
    pareto, strata = live.sheet.name, table.strata_rows()
    for at, row in enumerate(table.rows[:rows]):
        line, own = _TOP + at, FIRST + at

        def cell(column: int, own: int = own) -> str:
            return f"'{pareto}'!{place(own, column)}"

        sheet.formula(line, columns.label, f"={cell(LABEL)}", live.labels[at])
        if parts:
            for number, column in enumerate(columns.bars):
                sheet.formula(line, column, f"={live.part(number, at)}", strata[at][number], num_format=live.form)
        else:
            inside = row.abc == "A"
            vital = f'=IF({cell(CLASS)}="A",{cell(FREQUENCY)},0)' if layout.cuts else f"={cell(FREQUENCY)}"
            amount = float(row.frequency)
            sheet.formula(line, columns.bars[0], vital, amount if inside or not layout.cuts else 0,
                          num_format=live.form)  # fmt: skip
            if layout.cuts:
                useful = f'=IF({cell(CLASS)}="A",0,{cell(FREQUENCY)})'
                sheet.formula(line, columns.bars[1], useful, 0 if inside else amount, num_format=live.form)
        sheet.formula(line, columns.running, f"={cell(RUNNING)}", row.cumulative_frequency, num_format=live.form)
        shown = cell(RUNNING_PERCENT)
        text = f'=IF({shown}="","",IF(AND({shown}<1-1E-12,ROUND({shown},3)=1),"> 99.9 %",ROUND(100*{shown},1)&" %"))'
        rounded = half_up(row.cumulative_percent, 1)
        near = row.cumulative_percent < 100 and rounded == 100
        plain = f"{rounded:.15g} %"
        sheet.formula(line, columns.said, text, "> 99.9 %" if near else plain)
    _scale(sheet, live, rows, columns)
    sheet.page.freeze_panes(1, 1)
    sheet.widths([("Category", live.labels[:rows])])


def _scale(sheet: Sheet, live: Live, rows: int, columns: _Columns) -> None:
    """Write the cutoff, constant over all rows, and the percent scale in the row behind the last."""
    total, table = f"'{live.sheet.name}'!{live.layout.total}", live.table
    if live.layout.cuts:
        cut = f"'{live.sheet.name}'!{place(CUT_ROW, 1, fixed=True)}"
        word = sheet.book.local.word(Fixed("Cutoff"))
        name = f'="{word} "&ROUND(100*{cut},2)&" %"'
        sheet.formula(_HEAD, columns.cut, name, f"{word} {float(table.cuts[0]):.15g} %", bold=True)
        height = float(table.total) * float(table.cuts[0]) / 100
        for line in range(_TOP, _TOP + rows + 1):
            sheet.formula(line, columns.cut, f"={cut}*{total}", height, num_format=live.form)
    for percent, column in zip(_SCALE, columns.scale, strict=True):
        sheet.text(_HEAD, column, f"{percent} %", bold=True)
        share = f"={percent / 100:.15g}*{total}"
        sheet.formula(_TOP + rows, column, share, float(table.total) * percent / 100, num_format=live.form)


def _range(sheet: Sheet, column: int, rows: int) -> str:
    """Return the cells of a series, the empty place behind the last category too."""
    return reference(sheet.name, (_TOP, column), (_TOP + rows, column))


def _bars(book: Book, data: Sheet, live: Live, rows: int, columns: _Columns, parts: list[str]) -> Any:
    chart = book.book.add_chart({"type": "column", **({"subtype": "stacked"} if parts else {})})
    colors = _PARTS if parts else (_STRONG, _QUIET)
    show = rows <= _MOST_LABELED and not parts
    zeros_hidden = ";".join([live.form, live.form, '""'])
    for number, column in enumerate(columns.bars):
        labels = {"value": True, "position": "outside_end", "num_format": zeros_hidden, "font": {"size": 8}}
        chart.add_series({
            "name": reference(data.name, (_HEAD, column)), "categories": _range(data, columns.label, rows),
            "values": _range(data, column, rows), "gap": 25, "overlap": 100,
            "fill": {"color": colors[number % len(colors)]}, "border": {"none": True},
            **({"data_labels": labels} if show else {}),
        })  # fmt: skip
    return chart


def _lines(book: Book, data: Sheet, live: Live, rows: int, columns: _Columns) -> Any:
    chart = book.book.add_chart({"type": "line"})
    categories = _range(data, columns.label, rows)
    said: dict[str, Any] = {}
    if rows <= _MOST_LABELED:
        custom = [{"value": f"={reference(data.name, (_TOP + at, columns.said))}"} for at in range(1, rows)]
        first, last = {"delete": True}, {"delete": True}  # the first would be on the label of its bar
        said = {"data_labels": {"value": True, "position": "above", "custom": [first, *custom, last],
                                "font": {"color": _SAID, "size": 8}}}  # fmt: skip
    chart.add_series({
        "name": reference(data.name, (_HEAD, columns.running)), "categories": categories,
        "values": _range(data, columns.running, rows), "line": {"color": _LINE, "width": 2},
        "marker": {"type": "circle", "size": 5, "fill": {"color": _LINE}, "border": {"color": "#FFFFFF"}}, **said,
    })  # fmt: skip
    if live.layout.cuts:
        chart.add_series({
            "name": reference(data.name, (_HEAD, columns.cut)), "categories": categories,
            "values": _range(data, columns.cut, rows), "marker": {"type": "none"},
            "line": {"color": _CUT, "width": 1.5, "dash_type": "dash"},
        })  # fmt: skip
    for column in columns.scale:
        chart.add_series({
            "name": reference(data.name, (_HEAD, column)), "categories": categories,
            "values": _range(data, column, rows), "line": {"none": True},
            "marker": {"type": "long_dash", "size": 7, "fill": {"color": _INK}, "border": {"color": _INK}},
            "data_labels": {"series_name": True, "value": False, "position": "right", "font": {"size": 9}},
        })  # fmt: skip
    return chart


def _dressed(bars: Any, live: Live, chart: Any) -> None:
    """Give the chart its titles, its axes and its legend."""
    bars.set_title({"name": f"='{live.sheet.name}'!$A$1", "name_font": {"size": 14, "color": _INK}, "overlay": False})
    bars.set_x_axis({"name": chart.category_title, "num_font": {"rotation": -45}, "line": {"color": _AXIS},
                     "name_font": {"bold": False}, "major_tick_mark": "none"})  # fmt: skip
    bars.set_y_axis({"name": chart.primary_title, "min": 0, "num_format": live.form, "name_font": {"bold": False},
                     "major_gridlines": {"visible": True, "line": {"color": _GRID}},
                     "line": {"color": _AXIS}})  # fmt: skip
    shown = len(bars.series) + 1 + bool(live.layout.cuts)
    bars.set_legend({"position": "top", "delete_series": list(range(shown, shown + len(_SCALE)))})
    bars.set_plotarea({"layout": {"x": 0.09, "y": 0.16, "width": 0.83, "height": 0.58}})
    bars.show_blanks_as("gap")
