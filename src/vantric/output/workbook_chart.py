"""Any chart as a native chart of a workbook: its series as cells, its scales as they were solved."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from vantric.base.lazily import dataclass
from vantric.core.axes import Scale
from vantric.core.charts import Chart
from vantric.core.charts.series import Series
from vantric.core.messages.message import Message
from vantric.core.numbers.number_format import distinct_lines, one_line, text_line
from vantric.output.workbook_sheets import WorkbookSheet, WorkbookWriter, amount_form, reference
from vantric.rendering.themes import LIGHT

MOST_DRAWN = 2000  # categories
#: The same for charts of series.
_MOST_LABELED = 24
_PALETTE = tuple(LIGHT.color(f"series-{number}") for number in range(1, 8))
_LINES = (LIGHT.color("line"), LIGHT.color("line-2"), *(LIGHT.color(f"series-{number}") for number in range(3, 8)))
_MARKERS = {
    "round": "circle",
    "square": "square",
    "diamond": "diamond",
    "triangle": "triangle",
    "cross": "x",
    "pointer": "triangle",
}
_DASHES = {"dashed": "dash", "dotted": "round_dot", "dash-dot": "dash_dot"}
_BARS = ("bars", "stems")
_TOGETHER = {"stacked": "stacked", "percent": "percent_stacked"}


@dataclass(frozen=True)
class NativeChart:
    """A native chart, and what of it differs from the picture."""

    chart: Any
    remarks: tuple[str, ...]


@dataclass(frozen=True)
class _Place:
    """Where the cells of a chart are: its sheet, the row of its headings, and how many rows are drawn."""

    sheet: WorkbookSheet
    head: int
    rows: int

    def name(self, column: int) -> str:
        return reference(self.sheet.name, (self.head, column))

    def cells(self, column: int) -> str:
        return reference(self.sheet.name, (self.head + 1, column), (self.head + self.rows, column))


def native_chart(book: WorkbookWriter, chart: Chart, data: WorkbookSheet, head: int) -> NativeChart:
    """Write the series of a chart at a row of a sheet, and return the chart over them."""
    rows = min(len(chart.categories), MOST_DRAWN)
    where = _Place(data, head, rows)
    _write(chart, where)
    texts: list[str] = [] if rows == len(chart.categories) else [Message("first categories", number=rows)]
    groups = _groups(chart)
    if chart.horizontal and len(groups) > 1:
        texts.append(Message("no horizontal"))
    flat = chart.horizontal and len(groups) == 1 and groups[0][0] == "column"
    if any(series.kind == "area" for series in chart.series) and not any(kind == "area" for kind, _ in groups):
        texts.append(Message("no areas"))
    if any(series.kind in ("steps", "stems") for series in chart.series):
        texts.append(Message("no steps"))
    values = [_group(book, chart, kind, series, where, flat=flat) for kind, series in groups]
    first = values[0]
    if chart.references:
        line = values[1] if len(values) > 1 else book.book.add_chart({"type": "line"})
        _references(chart, where, line)
        values = [first, line]
    unlisted: list[int] = []
    if len(values) > 1 and not flat:
        unlisted = _on_the_same_axes(values, where, len(chart.series) + len(chart.references))
        first.combine(values[1])
    _axes(chart, values, flat=flat)
    title = text_line(chart.title)
    first.set_title({"name": title, "name_font": {"size": 14}} if title else {"none": True})
    alone = len(chart.series) + len(chart.references) < 2
    first.set_legend({"none": True} if alone else {"position": "top", "delete_series": unlisted})
    return NativeChart(first, tuple(texts))


def _on_the_same_axes(values: Sequence[Any], where: _Place, written: int) -> list[int]:
    """Have both kinds share two pairs of axes where either has series on both; return what the legend leaves out.

    The library gives the second kind axes of its own as soon as one of its series is on the secondary side, and writes
    those of the secondary side only: a series of it on the primary side would then have none.
    """
    first, second = values
    mixed = any(not series["y2_axis"] for series in second.series)
    if not second.is_secondary or not (mixed or first.is_secondary):
        return []
    second.is_secondary = False
    nothing = {"name": " ", "categories": where.cells(0), "values": where.cells(1 + written)}
    if not first.is_secondary:
        first.add_series({**nothing, "y2_axis": True})
        return [len(first.series) - 1]
    if not mixed:  # axes are numbered by what is written before
        second.add_series(nothing)
        return [len(first.series)]
    return []


def _write(chart: Chart, where: _Place) -> None:
    sheet = where.sheet
    sheet.text(where.head, 0, one_line(chart.category_title) or Message("category"), bold=True)
    for row, label in enumerate(chart.categories, where.head + 1):
        sheet.text(row, 0, label)
    names = distinct_lines([_named(item) for item in chart.series])
    for index, (name, series) in enumerate(zip(names, chart.series, strict=True), 1):
        sheet.text(where.head, index, name, bold=True)
        form = series_form(chart, series)
        for row, value in enumerate(series.values, where.head + 1):
            if value == value:  # a blank cell would be saved beside the chart as zero: there is none
                sheet.value(row, index, value, num_format=form)
    for index, line in enumerate(chart.references, 1 + len(chart.series)):
        sheet.text(where.head, index, one_line(line.text) or Message("reference head"), bold=True)
        for row in range(where.head + 1, where.head + where.rows + 1):
            sheet.value(row, index, line.ends[0])


def _named(series: Series) -> str:
    return (
        f"{series.name} ({series.unit})"
        if series.unit and series.unit.casefold() != series.name.casefold()
        else series.name
    )


def series_form(chart: Chart, series: Series) -> str:
    """Return the number format of a series; percents are numbers up to 100, as they are drawn."""
    style = series.style or (chart.secondary_style if series.secondary else chart.style)
    return amount_form([value for value in series.values if value == value], style.prefix, style.suffix, most=4)


def _groups(chart: Chart) -> list[tuple[str, list[Series]]]:
    """Return the series by what workbooks draw them as, at most two kinds, what is behind first.

    What is drawn first has a series on the primary side: the library would put all others on that of a first kind.
    """
    bars = [series for series in chart.series if series.kind in _BARS]
    areas = [series for series in chart.series if series.kind == "area"]
    lines = [series for series in chart.series if series.kind not in (*_BARS, "area")]
    if bars and areas and (lines or chart.references):
        lines, areas = [*areas, *lines], []
    pairs = [("area", areas), ("column", bars), ("line", lines)]
    groups = [(kind, series) for kind, series in pairs if series]
    return sorted(groups, key=lambda pair: all(series.secondary for series in pair[1]))


def _group(
    book: WorkbookWriter, chart: Chart, kind: str, series: Sequence[Series], where: _Place, *, flat: bool
) -> Any:
    mode = chart.mode_of("secondary" if all(entry.secondary for entry in series) else "primary")
    subtype = {"subtype": _TOGETHER[mode]} if kind == "column" and mode in _TOGETHER and len(series) > 1 else {}
    native = book.book.add_chart({"type": "bar" if flat else kind, **subtype})
    for item in series:
        column = 1 + chart.series.index(item)
        native.add_series(
            {
                "name": where.name(column),
                "categories": where.cells(0),
                "values": where.cells(column),
                **({"y2_axis": True} if item.secondary and chart.secondary_axis else {}),
                **_look(chart, kind, item, where),
            }
        )
    return native


def _look(chart: Chart, kind: str, series: Series, where: _Place) -> dict[str, Any]:
    alike = [other for other in chart.series if (other.kind in _BARS) == (series.kind in _BARS)]
    index = alike.index(series)
    own = series.color
    labels = _labels(chart, series, where)
    if kind == "line":
        color = own or _LINES[index % len(_LINES)]
        dashed = _DASHES.get(getattr(series, "pattern", "") or "")
        pattern = {"dash_type": dashed} if dashed else {}
        line = {"none": True} if series.kind == "points" else {"color": color, "width": 2, **pattern}
        shape = _MARKERS.get(getattr(series, "marker", "") or "round", "circle")
        marker = {"type": shape, "size": 6, "fill": {"color": color}, "border": {"color": "#FFFFFF"}}
        return {"line": line, "marker": marker, **labels}
    color = own or _PALETTE[index % len(_PALETTE)]
    fill = {"color": color, "transparency": 50} if kind == "area" else {"color": color}
    if kind == "area":
        return {"fill": fill}
    overlap = (
        {"overlap": 100}
        if chart.mode_of("secondary" if series.secondary else "primary") in ("stacked", "percent", "overlaid")
        else {}
    )
    return {"fill": fill, "border": {"none": True}, "gap": 400 if series.kind == "stems" else 40, **overlap, **labels}


def _labels(chart: Chart, series: Series, where: _Place) -> dict[str, Any]:
    """Return the labels of a series where the picture has some and there is room."""
    if where.rows > _MOST_LABELED or not series.texts or len(chart.series) > 3:
        return {}
    return {"data_labels": {"value": True, "font": {"size": 8}, "num_format": series_form(chart, series)}}


def _references(chart: Chart, where: _Place, line: Any) -> None:
    for index, line_reference in enumerate(chart.references, 1 + len(chart.series)):
        line.add_series(
            {
                "name": where.name(index),
                "categories": where.cells(0),
                "values": where.cells(index),
                "line": {"color": LIGHT.color("reference"), "width": 1.5, "dash_type": "dash"},
                "marker": {"type": "none"},
                **({"y2_axis": True} if line_reference.axis == "secondary" and chart.secondary_axis else {}),
            }
        )


def _axes(chart: Chart, values: Sequence[Any], *, flat: bool) -> None:
    """Give the axes their solved limits and steps, and their titles."""
    first = values[0]
    category = {
        "name": one_line(chart.category_title),
        "name_font": {"bold": False},
        **({"reverse": True} if flat else {}),
    }
    value = {
        **_scale(chart.scales.primary),
        "name": _axis_title(chart.primary_title, chart.scales.primary),
        "name_font": {"bold": False},
        "major_gridlines": {"visible": True, "line": {"color": LIGHT.color("grid")}},
    }
    first.set_x_axis(value if flat else category)  # the axes of bars to the right are named the other way about
    first.set_y_axis(category if flat else value)
    second = {
        **_scale(chart.scales.secondary),
        "name": _axis_title(chart.secondary_title, chart.scales.secondary),
        "name_font": {"bold": False},
    }
    for item in values:
        if item.is_secondary:
            item.set_y2_axis(second)


def _axis_title(title: str, scale: Scale) -> str:
    """Return the title of an axis, which says where it is logarithmic."""
    plain = text_line(title)
    return f"{plain} (log)".strip() if scale.kind == "log" and "log" not in plain.casefold() else plain


def _scale(scale: Scale) -> dict[str, Any]:
    """Return limits and step of an axis."""
    limits: dict[str, Any] = {"min": scale.lower, "max": scale.upper}
    if scale.kind == "log":
        return {**limits, "log_base": 10, "crossing": scale.lower}
    return {**limits, "major_unit": scale.step} if scale.step else limits
