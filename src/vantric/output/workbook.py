"""The workbook of one section or of several: table, chart data, findings and notes, a sheet each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from vantric.core.charts import PanelChart
from vantric.core.messages.formatter import Formatter
from vantric.core.messages.message import Message
from vantric.core.numbers.number_format import text_line, with_unit
from vantric.output.sections import Section, local_of
from vantric.output.workbook_chart import native_chart
from vantric.output.workbook_live import (
    CLASS,
    CUT_ROW,
    FIRST,
    FREQUENCY,
    HEAD_ROW,
    LABEL,
    RUNNING,
    RUNNING_PERCENT,
    LiveTable,
    can_live,
    live_sheets,
)
from vantric.output.workbook_sheets import WorkbookSheet, WorkbookWriter, form_of, half_up, place, reference
from vantric.rendering.themes import LIGHT
from vantric.tables.table import Table, shown_number

MOST_DRAWN = 200  # rows
#: More labels at the bars of a native chart cover each other: it has no placement.
_MOST_LABELED = 40
#: Ticks of the percent axis of a live chart.
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


def live_chart(book: WorkbookWriter, live: LiveTable, chart: Any, description: str, *, alone: bool = True) -> None:
    """Write the sheet of chart data, and the chart beside the table."""
    rows = min(live.layout.rows, MOST_DRAWN)
    parts = [str(name) for name in live.table.strata.columns] if live.table.strata is not None else []
    data = book.sheet(
        Message("chart data") if alone else Message("data of", subject=live.table.origin.by or live.sheet.name)
    )
    columns = _Columns(len(parts) or (2 if live.layout.cuts else 1))
    _data(data, live, rows, columns, parts, chart)
    bars = _bars(book, data, live, rows, columns, parts)
    bars.combine(_lines(book, data, live, rows, columns))
    _dressed(bars, live, chart)
    bars.set_size({"width": 960, "height": 560})
    live.sheet.page.insert_chart(HEAD_ROW, CLASS + 2, bars, {"description": description[:2000], "object_position": 2})


def _data(sheet: WorkbookSheet, live: LiveTable, rows: int, columns: _Columns, parts: list[str], chart: Any) -> None:
    table, layout = live.table, live.layout
    bars = ("vital few", "useful many") if layout.cuts else ("frequency",)
    heads = [Message("category"), *(parts or map(Message, bars)), Message("cumulative")]
    for index, name in enumerate(heads):
        sheet.text(_HEAD, index, name, bold=True)
    sheet.text(_HEAD, columns.said, Message("cumulative percent"), bold=True)
    pareto, strata, local = live.sheet.name, table.strata_rows(), sheet.book.local
    nearly = f"> {local.number('99.9%')}"
    for index, row in enumerate(table.rows[:rows]):
        line, own = _TOP + index, FIRST + index

        def cell(column: int, own: int = own) -> str:
            return f"'{pareto}'!{place(own, column)}"

        sheet.formula(line, columns.label, f"={cell(LABEL)}", live.labels[index])
        if parts:
            for number, column in enumerate(columns.bars):
                sheet.formula(line, column, f"={live.part(number, index)}", strata[index][number], num_format=live.form)
        else:
            inside = row.abc == "A"
            vital = f'=IF({cell(CLASS)}="A",{cell(FREQUENCY)},0)' if layout.cuts else f"={cell(FREQUENCY)}"
            amount = float(row.frequency)
            sheet.formula(
                line, columns.bars[0], vital, amount if inside or not layout.cuts else 0, num_format=live.form
            )
            if layout.cuts:
                useful = f'=IF({cell(CLASS)}="A",0,{cell(FREQUENCY)})'
                sheet.formula(line, columns.bars[1], useful, 0 if inside else amount, num_format=live.form)
        sheet.formula(line, columns.running, f"={cell(RUNNING)}", row.cumulative_frequency, num_format=live.form)
        share = cell(RUNNING_PERCENT)
        almost = f'IF(AND({share}<1-1E-12,ROUND({share},3)=1),"{nearly}",{_percent(f"ROUND(100*{share},1)", local)})'
        text = f'=IF({share}="","",{almost})'
        rounded = half_up(row.cumulative_percent, 1)
        near = row.cumulative_percent < 100 and rounded == 100
        plain = local.number(f"{rounded:.15g}%")
        sheet.formula(line, columns.said, text, nearly if near else plain)
    _scale(sheet, live, rows, columns)
    sheet.page.freeze_panes(1, 1)
    sheet.widths([("Category", live.labels[:rows])])


def _scale(sheet: WorkbookSheet, live: LiveTable, rows: int, columns: _Columns) -> None:
    """Write the cutoff, constant over all rows, and the percent scale in the row behind the last."""
    total, table = f"'{live.sheet.name}'!{live.layout.total}", live.table
    if live.layout.cuts:
        cut = f"'{live.sheet.name}'!{place(CUT_ROW, 1, fixed=True)}"
        local = sheet.book.local
        word = local.say("cutoff")
        name = f'="{word} "&{_percent(f"ROUND(100*{cut},2)", local)}'
        sheet.formula(_HEAD, columns.cut, name, f"{word} {local.number(f'{float(table.cuts[0]):.15g}%')}", bold=True)
        height = float(table.total) * float(table.cuts[0]) / 100
        for line in range(_TOP, _TOP + rows + 1):
            sheet.formula(line, columns.cut, f"={cut}*{total}", height, num_format=live.form)
    for percent, column in zip(_SCALE, columns.scale, strict=True):
        sheet.text(_HEAD, column, sheet.book.local.number(f"{percent}%"), bold=True)
        share = f"={percent / 100:.15g}*{total}"
        sheet.formula(_TOP + rows, column, share, float(table.total) * percent / 100, num_format=live.form)


def _percent(number: str, local: Formatter) -> str:
    """Return the expression of a number with the percent sign of a language."""
    before, _, after = with_unit("#", local.style.percent_unit).partition("#")
    return "&".join([*([f'"{before}"'] if before else []), number, *([f'"{after}"'] if after else [])])


def _range(sheet: WorkbookSheet, column: int, rows: int) -> str:
    """Return the cells of a series, the empty place behind the last category too."""
    return reference(sheet.name, (_TOP, column), (_TOP + rows, column))


def _bars(
    book: WorkbookWriter, data: WorkbookSheet, live: LiveTable, rows: int, columns: _Columns, parts: list[str]
) -> Any:
    chart = book.book.add_chart({"type": "column", **({"subtype": "stacked"} if parts else {})})
    colors = _PARTS if parts else (_STRONG, _QUIET)
    show = rows <= _MOST_LABELED and not parts
    zeros_hidden = ";".join([live.form, live.form, '""'])
    for number, column in enumerate(columns.bars):
        labels = {"value": True, "position": "outside_end", "num_format": zeros_hidden, "font": {"size": 8}}
        chart.add_series(
            {
                "name": reference(data.name, (_HEAD, column)),
                "categories": _range(data, columns.label, rows),
                "values": _range(data, column, rows),
                "gap": 25,
                "overlap": 100,
                "fill": {"color": colors[number % len(colors)]},
                "border": {"none": True},
                **({"data_labels": labels} if show else {}),
            }
        )
    return chart


def _lines(book: WorkbookWriter, data: WorkbookSheet, live: LiveTable, rows: int, columns: _Columns) -> Any:
    chart = book.book.add_chart({"type": "line"})
    categories = _range(data, columns.label, rows)
    line: dict[str, Any] = {}
    if rows <= _MOST_LABELED:
        custom = [{"value": f"={reference(data.name, (_TOP + index, columns.said))}"} for index in range(1, rows)]
        first, last = {"delete": True}, {"delete": True}  # the first would be on the label of its bar
        line = {
            "data_labels": {
                "value": True,
                "position": "above",
                "custom": [first, *custom, last],
                "font": {"color": _SAID, "size": 8},
            }
        }
    chart.add_series(
        {
            "name": reference(data.name, (_HEAD, columns.running)),
            "categories": categories,
            "values": _range(data, columns.running, rows),
            "line": {"color": _LINE, "width": 2},
            "marker": {"type": "circle", "size": 5, "fill": {"color": _LINE}, "border": {"color": "#FFFFFF"}},
            **line,
        }
    )
    if live.layout.cuts:
        chart.add_series(
            {
                "name": reference(data.name, (_HEAD, columns.cut)),
                "categories": categories,
                "values": _range(data, columns.cut, rows),
                "marker": {"type": "none"},
                "line": {"color": _CUT, "width": 1.5, "dash_type": "dash"},
            }
        )
    for column in columns.scale:
        chart.add_series(
            {
                "name": reference(data.name, (_HEAD, column)),
                "categories": categories,
                "values": _range(data, column, rows),
                "line": {"none": True},
                "marker": {"type": "long_dash", "size": 7, "fill": {"color": _INK}, "border": {"color": _INK}},
                "data_labels": {"series_name": True, "value": False, "position": "right", "font": {"size": 9}},
            }
        )
    return chart


def _dressed(bars: Any, live: LiveTable, chart: Any) -> None:
    """Give the chart its titles, its axes and its legend."""
    bars.set_title({"name": f"='{live.sheet.name}'!$A$1", "name_font": {"size": 14, "color": _INK}, "overlay": False})
    bars.set_x_axis(
        {
            "name": chart.category_title,
            "num_font": {"rotation": -45},
            "line": {"color": _AXIS},
            "name_font": {"bold": False},
            "major_tick_mark": "none",
        }
    )
    bars.set_y_axis(
        {
            "name": chart.primary_title,
            "min": 0,
            "num_format": live.form,
            "name_font": {"bold": False},
            "major_gridlines": {"visible": True, "line": {"color": _GRID}},
            "line": {"color": _AXIS},
        }
    )
    number = len(bars.series) + 1 + bool(live.layout.cuts)
    bars.set_legend({"position": "top", "delete_series": list(range(number, number + len(_SCALE)))})
    bars.set_plotarea({"layout": {"x": 0.09, "y": 0.16, "width": 0.83, "height": 0.58}})
    bars.show_blanks_as("gap")


#: Pixels of a chart in a sheet, and the lines that it covers.
_WIDE, _HIGH, _LINES_HIGH = 860, 500, 27
_TITLES = ("primary_title", "secondary_title", "category_title")


def workbook(sections: Sequence[Section], title: str = "") -> bytes:
    """Return sections as one workbook; its title is that of the first if none is given.

    Raises
    ------
    TargetError
        If a table has more rows than a sheet can hold.
    """
    book = WorkbookWriter(
        title or (sections[0].title if sections else ""),
        sections[0].sentence if sections else "",
        local=local_of(sections),
    )
    remarks: list[tuple[str, str]] = []
    for section in sections:
        remarks += [(section.title, text) for text in _section(book, section, alone=len(sections) == 1)]
    _findings(book, sections)
    _notes(book, sections, remarks)
    return book.content()


def _section(book: WorkbookWriter, section: Section, *, alone: bool) -> list[str]:
    if section.kind == "text":
        return []
    if section.live is not None and can_live(section.live):
        views = section.views()
        chart = views[0].chart
        if not isinstance(chart, PanelChart):
            live = live_sheets(book, section.live, section.title, chart.style, alone=alone)
            live_chart(book, live, chart, section.sentence, alone=alone)
            return [Message("said of then")]
    return _still(book, section, alone=alone)


def _still(book: WorkbookWriter, section: Section, *, alone: bool) -> list[str]:
    """Write tables as they are, and the charts beside them."""
    grids = section.grids()
    views = section.views()
    chart: Any = (views[0].native or (lambda: views[0].chart))() if views else None
    sheet = book.sheet(section.title or Message("table"))
    top = _headed(sheet, section)
    wide = len(grids[0].columns) if grids else 0
    if grids:
        sheet.table(grids[0], top)
        _total(sheet, grids[0], top + 1 + grids[0].rows)
    for grid in grids[1:]:
        more = book.sheet(grid.title or section.title)
        more.text(0, 0, grid.title or section.title, bold=True, font_size=14)
        more.table(grid, 2)
    if chart is None or not any(item.series for item in getattr(chart, "panels", (chart,))):
        return []
    data = book.sheet(Message("chart data") if alone else Message("data of", subject=section.title))
    return _charts(book, sheet, chart, data, (top, wide + 1))


def _charts(
    book: WorkbookWriter, sheet: WorkbookSheet, chart: Any, data: WorkbookSheet, pair: tuple[int, int]
) -> list[str]:
    """Write the chart of a section, or each of its panels, beside its table; return what differs from the picture."""
    texts: list[str] = [Message("fixed axes")]
    row, head = pair[0], 0
    panels = chart.panels if isinstance(chart, PanelChart) else (chart,)
    titles = _titles(panels)
    for panel in panels:
        titled = replace(panel, **{name: getattr(panel, name) or text for name, text in titles.items()})
        drawn = native_chart(book, titled, data, head)
        texts += drawn.remarks
        high = _HIGH if len(panels) == 1 else _HIGH * 2 // 3
        drawn.chart.set_size({"width": _WIDE, "height": high})
        text = book.local.text(panel.description or chart.description or panel.title)
        sheet.page.insert_chart(row, pair[1], drawn.chart, {"description": text[:2000], "object_position": 2})
        row += high // 20 + 2
        head += len(panel.categories) + 2
    return list(dict.fromkeys(texts))


def _titles(panels: Sequence[Any]) -> dict[str, str]:
    """Return the titles of the axes for panels that leave them to others: theirs, or the names of the series."""
    titles = {name: next((text for panel in panels if (text := getattr(panel, name))), "") for name in _TITLES}
    for side, second in (("primary", False), ("secondary", True)):
        names = (series.name for panel in panels for series in panel.series if series.secondary == second)
        titles[f"{side}_title"] = titles[f"{side}_title"] or next(names, "")
    return titles


def _headed(sheet: WorkbookSheet, section: Section) -> int:
    """Write title, sentence and base, and return the row of the headings."""
    sheet.text(0, 0, section.title, bold=True, font_size=14)
    row = 1
    for text in filter(None, (text_line(section.sentence), section.base)):
        sheet.text(row, 0, text, font_color=LIGHT.color("note"))
        row += 1
    return row + 1


def _total(sheet: WorkbookSheet, grid: Table, row: int) -> None:
    """Write what is below each column: sums as formulas where they are sums."""
    if not any(grid.total):
        return
    for index, (text, column) in enumerate(zip(grid.total, grid.columns, strict=True)):
        there = [value for value in column.values if isinstance(value, (int, float)) and not isinstance(value, bool)]
        number = shown_number(text)
        if column.kind in ("whole", "number") and there and number is not None and _near(sum(there), number):
            cells = f"{place(row - grid.rows, index)}:{place(row - 1, index)}"
            sheet.formula(row, index, f"=SUM({cells})", sum(there), bold=True, top=1, num_format=form_of(column))
        elif text.endswith("%") and number is not None:
            sheet.value(row, index, number / 100, bold=True, top=1, num_format="0.0%")
        else:
            sheet.text(row, index, text, bold=True, top=1, align="right" if column.kind != "text" else "left")


def _near(value: float, other: float) -> bool:
    """Whether a number is the other within its shown digits."""
    decimals = len(f"{other!r}".partition(".")[2])
    return abs(value - other) <= 0.5 * 0.1**decimals + 1e-9 * abs(value)


def _findings(book: WorkbookWriter, sections: Sequence[Section]) -> None:
    """Write what the review says of each section."""
    sheet = book.sheet(Message("findings"))
    several = len(sections) > 1
    names = [*(["section"] if several else []), "severity", "finding", "fix", "where label", "code"]
    heads = list(map(Message, names))
    rows = [
        [
            *([part.title] if several else []),
            Message(finding.severity),
            finding.message,
            finding.fix,
            finding.where,
            finding.code,
        ]
        for part in sections
        for finding in part.findings
    ]
    sheet.headings(0, heads, frozenset(range(len(heads))))
    nothing = [""] * names.index("finding") + [Message("nothing found")]
    for line, row in enumerate(rows or [nothing], 1):
        for index, text in enumerate(row):
            sheet.text(line, index, text, text_wrap=True, valign="top")
    for index, name in enumerate(names):
        wide = {"finding": 70, "fix": 50, "section": 28, "where label": 20, "code": 24}.get(name, 10)
        sheet.page.set_column(index, index, wide)


def _notes(book: WorkbookWriter, sections: Sequence[Section], remarks: Sequence[tuple[str, str]]) -> None:
    sheet = book.sheet(Message("notes"))
    sheet.headings(0, [Message("what"), Message("note label")], frozenset({0, 1}))
    sheet.page.set_column(0, 0, 24)
    sheet.page.set_column(1, 1, 110)
    line = 1
    for section in sections:
        pairs = [(Message("shows"), section.sentence), (Message("base"), section.base), *section.notes]
        pairs += [(Message("since last time"), text) for text in section.changed]
        pairs += [(Message("chart label"), text) for title, text in remarks if title == section.title]
        if len(sections) > 1:
            sheet.text(line, 0, section.title, bold=True)
            line += 1
        for name, text in pairs:
            if text:
                sheet.text(line, 0, name, valign="top")
                sheet.text(line, 1, text, text_wrap=True, valign="top")
                line += 1
