"""The workbook of one section or of several: table, chart data, findings and notes, a sheet each."""

from __future__ import annotations

from collections.abc import Sequence
from copy import copy
from typing import Any

from vantric.core.charting import PanelChart
from vantric.core.numbers.shown import one_line
from vantric.drawing.theme import LIGHT
from vantric.reports.local import PLAIN, Fixed, Local
from vantric.reports.sections import Section
from vantric.reports.table import Table, shown_number
from vantric.reports.workbooks.livechart import live_chart
from vantric.reports.workbooks.livesheets import can_live, live_sheets
from vantric.reports.workbooks.nativechart import native_chart
from vantric.reports.workbooks.sheets import Book, Sheet, form_of, place

_WIDE, _HIGH, _LINES_HIGH = 860, 500, 27
_TITLES = ("primary_title", "secondary_title", "category_title")
_FIXED = "The axes of this chart end where they were worked out to end: set them anew if you type beyond them."


def workbook(sections: Sequence[Section], title: str = "") -> bytes:
    """Return sections as one workbook; its title is that of the first if none is given.

    Raises
    ------
    TargetError
        If a table has more rows than a sheet can hold.
    """
    book = Book(title or (sections[0].title if sections else ""), sections[0].sentence if sections else "",
                local=_local(sections))  # fmt: skip
    remarks: list[tuple[str, str]] = []
    for one in sections:
        remarks += [(one.title, said) for said in _section(book, one, alone=len(sections) == 1)]
    _findings(book, sections)
    _notes(book, sections, remarks)
    return book.content()


def _local(sections: Sequence[Section]) -> Local:
    """Return the language of sections, if it is one; English if they have several."""
    found = {one.local.tongue.code: one.local for one in sections if one.kind != "text"}
    return next(iter(found.values())) if len(found) == 1 else PLAIN


def _section(book: Book, one: Section, *, alone: bool) -> list[str]:
    if one.kind == "text":
        return []
    if one.live is not None and can_live(one.live):
        views = one.views()
        chart = views[0].chart
        if not isinstance(chart, PanelChart):
            live = live_sheets(book, one.live, one.title, chart.style, alone=alone)
            live_chart(book, live, chart, one.sentence, alone=alone)
            return ["What is said here is of the counts as they were when this was written."]
    return _still(book, one, alone=alone)


def _still(book: Book, one: Section, *, alone: bool) -> list[str]:
    """Write tables as they are, and the charts beside them."""
    grids = one.grids()
    views = one.views()
    chart: Any = views[0].chart if views else None
    sheet = book.sheet(one.title or Fixed("Table"))
    top = _headed(sheet, one)
    wide = len(grids[0].columns) if grids else 0
    if grids:
        sheet.table(grids[0], top)
        _total(sheet, grids[0], top + 1 + grids[0].rows)
    for grid in grids[1:]:
        more = book.sheet(grid.title or one.title)
        more.text(0, 0, grid.title or one.title, bold=True, font_size=14)
        more.table(grid, 2)
    if chart is None or not any(one.series for one in getattr(chart, "panels", (chart,))):
        return []
    data = book.sheet(Fixed("Chart data") if alone else f"Data of {one.title}")
    return _charts(book, sheet, chart, data, (top, wide + 1))


def _charts(book: Book, sheet: Sheet, chart: Any, data: Sheet, at: tuple[int, int]) -> list[str]:
    """Write the chart of a section, or each of its panels, beside its table; return what differs from the picture."""
    said, row, head = [_FIXED], at[0], 0
    panels = chart.panels if isinstance(chart, PanelChart) else (chart,)
    titles = _titles(panels)
    for panel in panels:
        titled = copy(panel)
        vars(titled).update({name: getattr(panel, name) or text for name, text in titles.items()})
        drawn = native_chart(book, titled, data, head)
        said += drawn.remarks
        high = _HIGH if len(panels) == 1 else _HIGH * 2 // 3
        drawn.chart.set_size({"width": _WIDE, "height": high})
        text = panel.description or chart.description or panel.title
        sheet.page.insert_chart(row, at[1], drawn.chart, {"description": text[:2000], "object_position": 2})
        row += high // 20 + 2
        head += len(panel.categories) + 2
    return list(dict.fromkeys(said))


def _titles(panels: Sequence[Any]) -> dict[str, str]:
    """Return the titles of the axes for panels that leave them to others: theirs, or the names of the series."""
    found = {name: next((text for one in panels if (text := getattr(one, name))), "") for name in _TITLES}
    for side, second in (("primary", False), ("secondary", True)):
        names = (series.name for one in panels for series in one.series if series.secondary == second)
        found[f"{side}_title"] = found[f"{side}_title"] or next(names, "")
    return found


def _headed(sheet: Sheet, one: Section) -> int:
    """Write title, sentence and base, and return the row of the headings."""
    sheet.text(0, 0, one.title, bold=True, font_size=14)
    row = 1
    for text in filter(None, (one_line(one.sentence), one.base)):
        sheet.text(row, 0, text, font_color=LIGHT.color("note"))
        row += 1
    return row + 1


def _total(sheet: Sheet, grid: Table, row: int) -> None:
    """Write what is below each column: sums as formulas where they are sums."""
    if not any(grid.total):
        return
    for at, (text, column) in enumerate(zip(grid.total, grid.columns, strict=True)):
        there = [one for one in column.values if isinstance(one, (int, float)) and not isinstance(one, bool)]
        shown = shown_number(text)
        if column.kind in ("whole", "number") and there and shown is not None and _near(sum(there), shown):
            cells = f"{place(row - grid.rows, at)}:{place(row - 1, at)}"
            sheet.formula(row, at, f"=SUM({cells})", sum(there), bold=True, top=1, num_format=form_of(column))
        elif text.endswith(" %") and shown is not None:
            sheet.value(row, at, shown / 100, bold=True, top=1, num_format="0.0%")
        else:
            sheet.text(row, at, text, bold=True, top=1, align="right" if column.kind != "text" else "left")


def _near(one: float, other: float) -> bool:
    """Whether a number is the other within its shown digits."""
    decimals = len(f"{other!r}".partition(".")[2])
    return abs(one - other) <= 0.5 * 0.1**decimals + 1e-9 * abs(one)


def _findings(book: Book, sections: Sequence[Section]) -> None:
    """Write what the review says of each section."""
    sheet = book.sheet(Fixed("Findings"))
    several = len(sections) > 1
    heads = list(map(Fixed, [*(["Section"] if several else []), "Severity", "Finding", "Fix", "Where", "Code"]))
    rows = [
        [*([part.title] if several else []), Fixed(one.severity), one.message, one.fix, one.where, one.code]
        for part in sections for one in part.findings
    ]  # fmt: skip
    sheet.headings(0, heads, frozenset(range(len(heads))))
    nothing = [""] * heads.index(Fixed("Finding")) + [Fixed("Nothing was found.")]
    for line, row in enumerate(rows or [nothing], 1):
        for at, text in enumerate(row):
            sheet.text(line, at, text, text_wrap=True, valign="top")
    for at, name in enumerate(heads):
        wide = {"Finding": 70, "Fix": 50, "Section": 28, "Where": 20, "Code": 24}.get(name, 10)
        sheet.page.set_column(at, at, wide)


def _notes(book: Book, sections: Sequence[Section], remarks: Sequence[tuple[str, str]]) -> None:
    sheet = book.sheet(Fixed("Notes"))
    sheet.headings(0, [Fixed("What"), Fixed("Note")], frozenset({0, 1}))
    sheet.page.set_column(0, 0, 24)
    sheet.page.set_column(1, 1, 110)
    line = 1
    for one in sections:
        said = [(Fixed("Shows"), one.sentence), (Fixed("Base"), one.base), *one.notes]
        said += [(Fixed("Since last time"), text) for text in one.changed]
        said += [(Fixed("Chart"), text) for title, text in remarks if title == one.title]
        if len(sections) > 1:
            sheet.text(line, 0, one.title, bold=True)
            line += 1
        for name, text in said:
            if text:
                sheet.text(line, 0, name, valign="top")
                sheet.text(line, 1, text, text_wrap=True, valign="top")
                line += 1
