"""A finished workbook as the review takes it: its tables, its charts, and what could not be read."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from vantric.audit.book_tables import Book, BookSheet, BookTable, book_tables, read_book
from vantric.audit.drawn_charts import (
    ChartParts,
    DrawnAxis,
    DrawnChart,
    DrawnKind,
    DrawnSeries,
    SeriesPart,
    chart_parts,
)
from vantric.audit.formulas import CellRange, cells_in, parse_reference
from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import Note
from vantric.core.numbers.number_format import listed, quoted
from vantric.core.totals.label_kinds import may_be_total
from vantric.errors import SourceError, unknown
from vantric.reading.grid import range_of
from vantric.reading.headings import label_text, letters
from vantric.reading.settings import ReadSettings

#: The element of a chart part -> the kind of our series that comes closest.
_KINDS: dict[str, DrawnKind] = {
    "barChart": "bars",
    "bar3DChart": "bars",
    "lineChart": "line",
    "line3DChart": "line",
    "areaChart": "area",
    "area3DChart": "area",
    "scatterChart": "points",
    "pieChart": "pie",
    "pie3DChart": "pie",
    "doughnutChart": "pie",
}
#: The groupings under which bars and areas stand on one another.
_STACKED = ("stacked", "percentStacked")
#: Cells that one series may draw, and rows below a table in which its continuation is looked for.
_MOST_CELLS, _MOST_BELOW = 100_000, 50
_LAST = 1 << 20  # beyond the last row of any sheet
_NEAR_ROWS = 3  # by which labels are shifted against their values


def book_charts(book: Book, path: Path) -> tuple[list[DrawnChart], list[str]]:
    """Return the charts of a workbook, and what there is to say of charts that were not read."""
    parts = chart_parts(path)
    drawn_charts: list[DrawnChart] = []
    unread = [f"the chart in {name} is of a kind that cannot be read here" for name in parts.unknown]
    for sheet, charts, kind in _sheets(book):
        texts, left = parts.alternatives.get(sheet, ()), parts.series.get(sheet, ())
        for number, native in enumerate(charts):
            place = _place(sheet, native, kind)
            try:
                text = texts[number] if number < len(texts) else ""
                chart = _chart(book, sheet, native, place, text)
                drawn_charts.append(_completed(book, sheet, chart, left[number] if number < len(left) else ()))
            except (AttributeError, TypeError, ValueError, IndexError) as error:
                # Openpyxl meets parts of charts that it half knows.
                unread.append(f"{place} cannot be read ({type(error).__name__})")
    read = len(drawn_charts) + len(unread) - len(parts.unknown)
    if read < parts.charts:
        unread.append(f"{_number(parts, read)} cannot be read")
    return drawn_charts, unread


def _drawn_from(
    book: Book, charts: Sequence[DrawnChart], sheets: Sequence[BookSheet], cells: str | None
) -> list[DrawnChart]:
    """Return the charts that draw something of sheets, or of a range on them; of whole sheets those on them too."""
    top, bottom, left, right = (0, _LAST, 0, _LAST) if cells is None else range_of(cells)
    names = {sheet.name for sheet in sheets}

    def draws(chart: DrawnChart) -> bool:
        blocks = [block for series in chart.series for block in _blocks(book, chart.sheet, series.where) or ()]
        return any(
            block.sheet in names
            and block.top - 1 <= bottom
            and block.bottom - 1 >= top
            and block.left - 1 <= right
            and block.right - 1 >= left
            for block in blocks
        )

    return [chart for chart in charts if draws(chart) or (cells is None and chart.sheet in names)]


def _number(parts: ChartParts, read: int) -> str:
    left = parts.charts - read
    return f"{left} of {parts.charts} charts" if left > 1 else f"one of {parts.charts} charts"


def _sheets(book: Book) -> Iterator[tuple[str, Sequence[Any], str]]:
    for sheet in book.native.worksheets:
        yield sheet.title, _charts(sheet), "sheet"
    for sheet in book.native.chartsheets:
        yield sheet.title, _charts(sheet), "chart sheet"


def _charts(holder: Any) -> list[Any]:
    """Return the charts of a sheet, or those that a chart combines: openpyxl has no public name for either."""
    return list(getattr(holder, "_charts", ()))


def _place(sheet: str, native: Any, kind: str) -> str:
    corner = getattr(getattr(native, "anchor", None), "_from", None)
    if kind != "sheet" or corner is None:
        return f"{kind} '{sheet}'"
    return f"sheet '{sheet}', chart at {letters(corner.col)}{corner.row + 1}"


def _chart(book: Book, sheet: str, native: Any, place: str, alternative: str) -> DrawnChart:
    parts = _charts(native) or [native]
    first = getattr(getattr(parts[0], "y_axis", None), "axId", None)
    main = next((part for part in parts if part.tagname in ("barChart", "bar3DChart")), parts[0])
    primary = getattr(main, "y_axis", None)
    first = getattr(primary, "axId", first)
    if main.tagname.startswith("area") and not getattr(main, "axId", True):
        primary = None  # the reader loses the axes of areas
    series: list[DrawnSeries] = []
    second = None
    for part in parts:
        axis = getattr(part, "y_axis", None)
        beside = axis is not None and axis.axId != first
        if beside and second is None:
            second = axis
        series += [_series(book, sheet, part, item, beside=beside) for item in part.ser]
    return DrawnChart(
        place,
        _title(book, native.title),
        tuple(series),
        _axis(book, primary),
        _axis(book, second),
        _axis(book, getattr(main, "x_axis", None)),
        alternative,
        sheet=sheet,
    )


def _completed(book: Book, sheet: str, chart: DrawnChart, parts: Sequence[SeriesPart]) -> DrawnChart:
    """Return a chart with what its reader leaves out: labels of other rows, transparency, axes of areas."""
    if len(parts) != len(chart.series):
        return chart
    both = list(zip(chart.series, parts, strict=True))
    primary = next((part.axes for drawn, part in both if drawn.kind == "bars"), parts[0].axes if parts else ())
    series = []
    for drawn_series, part in both:
        text = part.label_cells
        completed = replace(
            drawn_series,
            labels_apart=bool(text) and _rows(book, sheet, text) != _rows(book, sheet, drawn_series.where),
            labels_from=text,
            see_through=part.see_through,
            secondary=part.axes != primary if drawn_series.kind == "area" else drawn_series.secondary,
        )
        series.append(completed)
    from openpyxl.chart.axis import NumericAxis

    axis: Any = next((part.value_axis for part in parts if part.value_axis is not None), None)
    read = None if axis is None or chart.primary is not None else NumericAxis.from_tree(axis)
    return replace(chart, series=tuple(series), primary=chart.primary or _axis(book, read))


def _rows(book: Book, sheet: str, text: str) -> list[tuple[int, int]] | None:
    blocks = _blocks(book, sheet, text)
    return None if blocks is None else [(block.top, block.bottom) for block in blocks]


def _series(book: Book, sheet: str, part: Any, item: Any, *, beside: bool) -> DrawnSeries:
    drawn = item.yVal if part.tagname == "scatterChart" else item.val
    named = item.xVal if part.tagname == "scatterChart" else item.cat
    values, where = _numbers(book, sheet, drawn)
    texts, place = _texts(book, sheet, named)
    return DrawnSeries(
        _name(book, sheet, item.tx),
        _KINDS.get(part.tagname, "other"),
        texts,
        values,
        beside,
        where,
        getattr(part, "grouping", None) in _STACKED,
        _left_out(book, sheet, where, place),
        _before(book, sheet, where, place, item.tx),
        place if _shifted(book, sheet, where, place) else "",
    )


def _blocks(book: Book, sheet: str, text: str | None) -> list[CellRange] | None:
    return None if not text else parse_reference(text, book.names, sheet)


def _held(book: Book, blocks: Sequence[CellRange]) -> list[Any]:
    size = sum((block.bottom - block.top + 1) * (block.right - block.left + 1) for block in blocks)
    if size > _MOST_CELLS:
        raise ValueError("too many cells")
    return [book.value(place) for block in blocks for place in cells_in(block)]


def _numbers(book: Book, sheet: str, source: Any) -> tuple[tuple[float | None, ...], str]:
    """Return the numbers of a series: of its cells, which are newer than what the chart remembers of them."""
    if source is None:
        return (), ""
    reference = getattr(source, "numRef", None)
    blocks = _blocks(book, sheet, reference.f if reference is not None else None)
    if reference is not None and blocks is not None and all(book.sheet(block.sheet) for block in blocks):
        values = _held(book, blocks)
        return tuple(float(value) if isinstance(value, int | float) else None for value in values), reference.f
    cache = reference.numCache if reference is not None else source.numLit
    return _remembered(cache), reference.f if reference is not None else ""


def _remembered(cache: Any) -> tuple[float | None, ...]:
    if cache is None:
        return ()
    size = int(getattr(cache, "ptCount", None) or 0)
    values: list[float | None] = [None] * min(max(size, *(point.idx + 1 for point in cache.pt), 0), _MOST_CELLS)
    for point in cache.pt:
        values[point.idx] = float(point.v)
    return tuple(values)


def _texts(book: Book, sheet: str, source: Any) -> tuple[tuple[str, ...], str]:
    if source is None:
        return (), ""
    for kind, text in (("strRef", "strCache"), ("numRef", "numCache"), ("multiLvlStrRef", "multiLvlStrCache")):
        reference = getattr(source, kind, None)
        if reference is None:
            continue
        blocks = _blocks(book, sheet, reference.f)
        if blocks is not None and all(book.sheet(block.sheet) for block in blocks):
            if kind == "multiLvlStrRef":  # of several columns the last names the rows
                blocks = [block._replace(left=block.right) for block in blocks]
            return tuple(label_text(value) or "" for value in _held(book, blocks)), reference.f
        cache = getattr(reference, text, None)
        return tuple(str(point.v) for point in getattr(cache, "pt", None) or ()), reference.f
    written = getattr(source, "strLit", None) or getattr(source, "numLit", None)
    return tuple(str(point.v) for point in getattr(written, "pt", None) or ()), ""


def _left_out(book: Book, sheet: str, values: str, labels: str) -> tuple[str, ...]:
    """Return the labels of rows that go on below the cells of a series, up to a Total row or a blank one."""
    blocks, named = _blocks(book, sheet, values), _blocks(book, sheet, labels)
    if not blocks or not named or len(blocks) != 1 or len(named) != 1 or blocks[0].left != blocks[0].right:
        return ()
    texts = []
    for row in range(blocks[0].bottom + 1, blocks[0].bottom + _MOST_BELOW):
        label = label_text(book.value((named[0].sheet, row, named[0].right)))
        value = book.value((blocks[0].sheet, row, blocks[0].left))
        if label is None or not label.strip() or may_be_total(label) or not isinstance(value, int | float):
            break
        texts.append(label)
    return tuple(texts)


def _before(book: Book, sheet: str, values: str, labels: str, name: Any) -> tuple[str, ...]:
    """Return the labels of rows above the cells of a series: with a number, and not the heading that names it."""
    blocks, named = _blocks(book, sheet, values), _blocks(book, sheet, labels)
    if not blocks or not named or len(blocks) != 1 or len(named) != 1 or blocks[0].left != blocks[0].right:
        return ()
    texts: list[str] = []
    for row in range(blocks[0].top - 1, max(0, blocks[0].top - _MOST_BELOW), -1):
        label = label_text(book.value((named[0].sheet, row, named[0].right)))
        value = book.value((blocks[0].sheet, row, blocks[0].left))
        heading = book.value((blocks[0].sheet, row - 1, blocks[0].left)) is None  # a year may head a column of numbers
        if label is None or not label.strip() or may_be_total(label) or heading or not isinstance(value, int | float):
            break
        texts.insert(0, label)
    named_by = _blocks(book, sheet, name.strRef.f) if name is not None and name.strRef is not None else None
    above = named_by is not None and any(block.bottom >= blocks[0].top - len(texts) for block in named_by)
    return () if above else tuple(texts)


def _shifted(book: Book, sheet: str, values: str, labels: str) -> bool:
    """Whether values and categories are cells of one sheet, as many, and of rows that are not the same."""
    blocks, named = _blocks(book, sheet, values), _blocks(book, sheet, labels)
    if not blocks or not named or len(blocks) != 1 or len(named) != 1 or blocks[0].sheet != named[0].sheet:
        return False
    (own,), (their,) = blocks, named
    upright = own.left == own.right and own.top < own.bottom
    size = (
        (own.bottom - own.top, their.bottom - their.top)
        if upright
        else (own.right - own.left, their.right - their.left)
    )
    apart = abs(own.top - their.top) if upright else abs(own.left - their.left)
    # Far apart they are two tables that may well have their rows in common.
    return size[0] == size[1] > 0 and 0 < apart <= _NEAR_ROWS


def _name(book: Book, sheet: str, source: Any) -> str:
    if source is None:
        return ""
    if source.strRef is not None:
        blocks = _blocks(book, sheet, source.strRef.f)
        if blocks is not None and all(book.sheet(block.sheet) for block in blocks):
            return " ".join(str(value) for value in _held(book, blocks) if value is not None)
        return " ".join(str(point.v) for point in getattr(source.strRef.strCache, "pt", None) or ())
    return str(source.v or "")


def _axis(book: Book, axis: Any) -> DrawnAxis | None:
    if axis is None:
        return None
    scaling = axis.scaling
    code = str(getattr(getattr(axis, "numFmt", None), "formatCode", "") or "")
    return DrawnAxis(
        _title(book, axis.title),
        scaling.min,
        scaling.max,
        scaling.logBase is not None,
        "%" in code,
        not axis.delete,
        axis.tagname == "dateAx",
    )


def _title(book: Book, title: Any) -> str:
    text = getattr(title, "tx", None)
    if text is None:
        return ""
    if text.rich is not None:
        texts = (run.t for line in text.rich.p or () for run in line.r or ())
        return " ".join(text for text in texts if text and text != "None").strip()  # its reader's word for no text
    return _name(book, "", text) if text.strRef is not None else ""


#: Endings of workbooks whose charts can be read.
BOOKS = frozenset({".xlsx", ".xlsm", ".xltx", ".xltm"})
#: How many sheets that cannot be read are named.
_MOST_TOLD = 3
_MOST_ROWS = 20_000  # of a sheet that people make by hand
_MOST_SHEETS = 500  # whose tables are looked for


@dataclass(frozen=True)
class AuditedBook:
    """What a workbook holds for the review.

    Attributes
    ----------
    book
    found
        The tables with percents or running sums.
    charts
    remarks
        What was not read, and what there was nothing to check in.
    """

    book: Book
    found: tuple[BookTable, ...]
    charts: tuple[DrawnChart, ...]
    remarks: tuple[Note, ...]


def _cropped(sheets: Sequence[BookSheet], cells: str, source_name: str) -> list[BookSheet]:
    """Return the first sheet that has a table in a range, with nothing outside; else the first with anything there."""
    cropped_sheets = [cropped for sheet in sheets if (cropped := sheet.cropped(cells)).cells]
    if not cropped_sheets:
        raise SourceError(f"'{source_name}' has nothing at cells {cells}")
    return [next((sheet for sheet in cropped_sheets if _has_checks(book_tables(sheet, ""))), cropped_sheets[0])]


def _has_checks(tables: Sequence[BookTable]) -> bool:
    return any(table.table.rows or table.stated for table in tables)


def audit_book(path: Path, opening: ReadSettings) -> AuditedBook:
    """Read a workbook for the review.

    Raises
    ------
    SourceError
        If it cannot be read, or has no sheet that was named.
    """
    book = read_book(path, str(path))
    names = [sheet.name for sheet in book.sheets]
    texts = names if not opening.sheet or opening.sheet == ("*",) else list(opening.sheet)
    for name in texts:
        if name not in names:
            raise unknown(SourceError, f"'{path}' has no sheet '{name}'", name, names, label="its sheets are")
    several = len(texts) > 1
    sheets = [sheet for sheet in book.sheets if sheet.name in texts]
    if opening.cells is not None:
        sheets = _cropped(sheets, opening.cells, str(path))
    tables = [
        table
        for sheet in sheets[:_MOST_SHEETS]
        if sheet.rows <= _MOST_ROWS
        for table in book_tables(sheet, f"sheet '{sheet.name}'" if several else "")
    ]
    charts, unread = book_charts(book, path)
    if opening.cells is not None or len(sheets) < len(book.sheets):
        charts = _drawn_from(book, charts, sheets, opening.cells)
        unread = unread if opening.cells is None else []
    look = "look at it yourself"
    notes = [Note("unread-chart", f"{item}: it was not reviewed", "note", look) for item in unread]
    logs = [sheet.name for sheet in sheets if sheet.rows > _MOST_ROWS]
    if logs:
        what = (
            f"{quoted(logs)} {'has' if len(logs) == 1 else 'have'} more than {_MOST_ROWS:,} rows, as a log: the cells "
        )
        notes.append(Note("long-sheet", f"{what}were not worked out again", "note", "review it with by= and count="))
    if len(sheets) > _MOST_SHEETS:
        first = sheets[_MOST_SHEETS].name
        what = f"{len(sheets) - _MOST_SHEETS:,} of {len(sheets):,} sheets were not looked at, from '{first}' on"
        notes.append(Note("unread-sheets", what, "note", "name those in question with sheet="))
    if book.unread:
        text = listed(list(book.unread), most=_MOST_TOLD)
        what = f"formulas without a saved result cannot be worked out here: {text}"
        notes.append(Note("unread-formula", what, "note", "open the workbook, save it, and review it again"))
    if not charts and not _has_checks(tables):
        what = "there is no chart, and no table of frequencies with percents or running sums beside them"
        fix = "name the columns: --by, --count, --percent-column, --cumulative-column"
        notes.append(Note("nothing-to-check", what, "note", fix))
    return AuditedBook(book, tuple(tables), tuple(charts), tuple(notes))
