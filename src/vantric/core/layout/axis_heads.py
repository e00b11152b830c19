"""What stands above the axes and beside the rows: titles with samples, classes with brackets, columns of text."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.charts.chart import Chart, ClassMark
from vantric.core.layout.legend import Entry, Legend, Samples, draw_sample, entries
from vantric.core.layout.plan import PathMark, TextMark, point_role
from vantric.core.layout.text_layout import Sizes, TextWriter, fitted
from vantric.core.layout.titles import PlotArea
from vantric.core.numbers.number_format import readable, text_line

#: Pixels of a 1280 x 800 picture: between two names, and between a sample and its name.
_APART, _BESIDE = 20.0, 6.0
#: Pixels of a 1280 x 800 picture: between the frame and the first column, and between two columns.
_COLUMNS_BEFORE, _COLUMNS_APART = 18.0, 14.0
_MOST_COLUMNS = 0.45  # of the picture: wider columns leave the marks no room, and are left out
_QUIET = "column-quiet"  # the one role whose texts are not semibold
#: Between two texts of classes.
_CLASSES_APART = 12.0
#: The end of a bracket, and between it and the frame.
_HOOK, _OVER = 5.0, 3.5


@dataclass(frozen=True)
class HeadPart:
    """One name above an axis: the title of the axis, or a series with its sample."""

    text: str
    role: str
    entry: Entry | None = None


def head_parts(chart: Chart) -> tuple[list[HeadPart], list[HeadPart]]:
    """Return the names above the primary and above the secondary axis."""
    named = [entry for entry in entries(chart) if entry.series is not None] if chart.legend == "above" else []
    if chart.is_cumulative:  # a Pareto chart: title, brackets and colors say what bars and line are
        lines = {id(series) for series in chart.marked}
        named = [entry for entry in named if chart.totals and id(entry.series) not in lines]
        named += [entry for entry in entries(chart) if entry.kind in ("interval", "band")] if not chart.totals else []
    primary, secondary = (
        _side(chart, [entry for entry in named if _is_secondary(entry) == side], is_secondary=side)
        for side in (False, True)
    )
    return primary, secondary


def _is_secondary(entry: Entry) -> bool:
    return entry.series is not None and entry.series.secondary


def _side(chart: Chart, named: Sequence[Entry], *, is_secondary: bool) -> list[HeadPart]:
    title = text_line(chart.secondary_title if is_secondary else chart.primary_title)
    if is_secondary and not chart.secondary_axis:
        return []
    pareto_line = is_secondary and chart.is_cumulative
    if len(named) == 1 and not pareto_line and named[0].kind not in ("interval", "band"):
        return [HeadPart(title or readable(named[0].name), text_role(named[0]), named[0])]
    head = [HeadPart(title, "line-title" if pareto_line else "axis-title")] if title else []
    return [*head, *(HeadPart(readable(entry.name), text_role(entry), entry) for entry in named)]


def text_role(entry: Entry) -> str:
    """Return what the name of a series is, for the theme: its text has its color."""
    name = entry.role.partition(":")[0]
    if name in ("quiet", "interval", "band", "bar", "under") or name.startswith("strong"):
        return "legend"
    return point_role(entry.role, "-value")


def parts_width(parts: Sequence[HeadPart], sizes: Sizes, writer: TextWriter) -> float:
    """Return the width of names in one row."""
    widths = [_width(part, sizes, writer) for part in parts]
    return sum(widths) + sizes.px(_APART) * max(len(widths) - 1, 0)


def _width(part: HeadPart, sizes: Sizes, writer: TextWriter) -> float:
    sample = sizes.px(part.entry.width + _BESIDE) if part.entry else 0.0
    return sample + writer.width(part.text, sizes.axis_title, bold=True)


def set_parts(
    parts: Sequence[HeadPart], left: float, right: float, baseline: float, sizes: Sizes, writer: TextWriter
) -> Legend:
    """Set names in one row from `left`; what does not fit is cut short."""
    out, size, x = Samples(), sizes.axis_title, left
    for part in parts:
        if part.entry is not None:
            width = sizes.px(part.entry.width)
            draw_sample(out, part.entry, x, baseline + 0.33 * size, width, sizes)
            x += width + sizes.px(_BESIDE)
        text = fitted(part.text, size, True, max(right - x + 0.5, 0.0), writer.measure)
        if text:
            out.texts.append(writer.line(text, x, baseline, size, part.role, bold=True))
        x += writer.width(text, size, bold=True) + sizes.px(_APART)
    return out.legend(0.0)


@dataclass(frozen=True)
class ClassHead:
    """The text of a class with where it begins, and how it is written."""

    mark: ClassMark
    text: str
    x: float


def class_heads(
    classes: Sequence[ClassMark], field: PlotArea, left: float, right: float, sizes: Sizes, writer: TextWriter
) -> list[ClassHead] | None:
    """Return the texts of classes in one row between `left` and `right`; None if they do not fit."""
    for words in _wordings(classes):
        placed = _in_row(classes, words, field, left, right, sizes, writer)
        if placed is not None:
            return placed
    return None


def _wordings(classes: Sequence[ClassMark]) -> Iterator[list[str]]:
    """Yield how the classes may be written, the fullest first."""
    yield [" · ".join((mark.name, mark.size, mark.share)) for mark in classes]
    yield [
        " · ".join((mark.name, mark.size, mark.share) if mark.rank == 1 else (mark.name, mark.share))
        for mark in classes
    ]
    yield [" · ".join((mark.name, mark.share)) for mark in classes]
    yield [" · ".join((mark.size, mark.share)) if mark.rank == 1 else "" for mark in classes]


def _in_row(
    classes: Sequence[ClassMark],
    words: Sequence[str],
    field: PlotArea,
    left: float,
    right: float,
    sizes: Sizes,
    writer: TextWriter,
) -> list[ClassHead] | None:
    size, gap = class_size(sizes), sizes.px(_CLASSES_APART)
    widths = [writer.width(text, size, bold=mark.rank > 0) for mark, text in zip(classes, words, strict=True)]
    end, placed = left, []
    for mark, text, width in zip(classes, words, widths, strict=True):
        if not text:
            continue
        start, stop = (float(place) for place in field.along(np.array([mark.start, mark.end], dtype=np.float64)))
        wished = (start + stop - width) / 2 if mark.rank else start + gap / 2
        x = max(wished, end)
        if mark.rank and x > start + gap and x + width > stop and x > wished:
            x = max(end, min(x, stop - width))
        placed.append(ClassHead(mark, text, x))
        end = x + width + gap
    return placed if placed and end - gap <= right else None


def class_size(sizes: Sizes) -> float:
    """Return the size of the texts of classes."""
    return 1.07 * sizes.body


def class_texts(heads: Sequence[ClassHead], baseline: float, sizes: Sizes, writer: TextWriter) -> list[TextMark]:
    """Return the texts of classes above a vertical chart."""
    return [
        writer.line(
            head.text,
            head.x,
            baseline,
            class_size(sizes),
            "class-name" if head.mark.rank else "class-text",
            bold=head.mark.rank > 0,
        )
        for head in heads
    ]


def brackets(classes: Sequence[ClassMark], field: PlotArea, sizes: Sizes) -> list[PathMark]:
    """Return a bracket for each class that a cutoff takes in: above a vertical chart, beside a horizontal one."""
    hook, over, marks = sizes.px(_HOOK), sizes.px(_OVER), []
    if field.horizontal and sizes.is_narrow:  # title and wash say it
        return []
    for mark in classes:
        if not mark.rank and not field.horizontal:
            continue
        start, stop = (float(place) for place in field.along(np.array([mark.start, mark.end], dtype=np.float64)))
        inset = min(sizes.px(2), abs(stop - start) / 4)
        role = "bracket" if mark.rank else "bracket-rest"
        if field.horizontal:
            foot = field.frame.right + sizes.px(12)
            edge, ends = foot + hook, (start - inset, stop + inset)
        else:
            foot = field.frame.top + over
            edge, ends = foot + hook, (start + inset, stop - inset)
        across, along = np.array([foot, edge, edge, foot]), np.array([ends[0], ends[0], ends[1], ends[1]])
        marks.append(PathMark(across, along, role) if field.horizontal else PathMark(along, across, role))
    return marks


def side_lines(mark: ClassMark, *, several: bool) -> tuple[tuple[str, str, bool], ...]:
    """Return the lines of a class beside a horizontal chart: text, role, and whether it is bold."""
    bold = "class-name" if mark.rank else "class-text"
    if several:
        return (f"{mark.name} · {mark.size}", bold, True), (mark.share, "class-text", False)
    return (mark.name, bold, mark.rank > 0), (f"{mark.size} · {mark.share}", bold, False)


def side_width(chart: Chart, sizes: Sizes, writer: TextWriter) -> float:
    """Return the width of the column of classes beside a horizontal chart; zero without classes."""
    if not chart.classes or sizes.is_narrow:
        return 0.0
    several = sum(mark.rank > 0 for mark in chart.classes) > 1
    widths = [
        writer.width(text, sizes.body, bold=bold)
        for mark in chart.classes
        for text, _, bold in side_lines(mark, several=several)
    ]
    return max(widths) + sizes.px(12 + _HOOK + 9)


def side_texts(chart: Chart, field: PlotArea, sizes: Sizes, writer: TextWriter) -> list[TextMark]:
    """Return the texts of classes beside a horizontal chart, each in the middle of its bracket."""
    texts: list[TextMark] = []
    if sizes.is_narrow:
        return texts
    several = sum(mark.rank > 0 for mark in chart.classes) > 1
    x, step, lowest = field.frame.right + sizes.px(12 + _HOOK + 9), 1.3 * sizes.body, np.inf
    for mark in chart.classes:
        middle = float(field.along((mark.start + mark.end) / 2))
        lines = side_lines(mark, several=several)
        top = middle + step / 2
        if top + sizes.body > lowest:  # two low classes: the second would be on the first
            top = lowest - sizes.body
        for row, (text, role, bold) in enumerate(lines):
            texts.append(writer.middle(text, x, top - row * step, sizes.body, role, bold=bold))
        lowest = top - step * (len(lines) - 1) - sizes.body / 2
    return texts


def _column_widths(chart: Chart, sizes: Sizes, writer: TextWriter) -> list[float]:
    return [
        max(
            writer.width(column.title, sizes.tick, bold=True),
            *(
                writer.width(text, sizes.body, bold=column.role_of(row) != _QUIET)
                for row, text in enumerate(column.texts)
            ),
        )
        for column in chart.columns
    ]


def columns_width(chart: Chart, width: float, sizes: Sizes, writer: TextWriter) -> float:
    """Return the width of the columns of text with what parts them from the frame; zero where there is no room."""
    if not chart.columns:
        return 0.0
    widths = _column_widths(chart, sizes, writer)
    needed = sum(widths) + sizes.px(_COLUMNS_BEFORE + _COLUMNS_APART * (len(widths) - 1))
    return needed if needed <= _MOST_COLUMNS * width else 0.0


def column_texts(chart: Chart, width: float, field: PlotArea, sizes: Sizes, writer: TextWriter) -> list[TextMark]:
    """Return the texts of the columns, each to the right edge of its column, under its title."""
    if not columns_width(chart, width, sizes, writer):
        return []
    marks, centers = [], field.centers().tolist()
    edge = field.frame.right + sizes.px(_COLUMNS_BEFORE)
    for column, wide in zip(chart.columns, _column_widths(chart, sizes, writer), strict=True):
        edge += wide
        above = field.frame.top + sizes.px(8)
        marks.append(writer.line(column.title, edge, above, sizes.tick, "column", ha="right", bold=True))
        for row, (y, text) in enumerate(zip(centers, column.texts, strict=True)):
            role = column.role_of(row)
            if text:
                marks.append(writer.middle(text, edge, y, sizes.body, role, ha="right", bold=role != _QUIET))
        edge += sizes.px(_COLUMNS_APART)
    return marks
