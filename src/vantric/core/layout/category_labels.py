"""The labels of the category axis: wrapped, slanted, vertical or thinned; periods short, with their year once below."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import TYPE_CHECKING

from vantric.base.lazily import compiled, dataclass
from vantric.core.layout.plan import TextMark
from vantric.core.layout.text_layout import (
    ASCENT,
    DESCENT,
    SMALLEST_SHARE,
    Sizes,
    TextWriter,
    broken,
    fitted,
    line_height,
    text_height,
    wrapped,
)
from vantric.core.numbers.number_format import one_line

if TYPE_CHECKING:
    from vantric.core.numbers.amounts import Floats

#: A label of more lines is read less easily than a slanted one.
_MOST_LINES = 3
#: Pixels between the names of neighbors.
_BETWEEN = 6.0
_WIDE_SLOT = 88.0  # pixels of a 1280 x 800 picture
_MOST_HEIGHT = 0.3  # of the picture
_LONGEST = 120  # signs looked at; more never fit
#: Degrees: less steep than this would take more width.
_SLANT = 40.0


@dataclass(frozen=True)
class CategoryLabels:
    """How the labels are set, and the height they take; every `stride`-th is there."""

    lines: tuple[tuple[str, ...], ...]
    rotation: float
    stride: int
    height: float
    size: float

    def marks(
        self, centers: Floats, top: float, writer: TextWriter, written: Sequence[tuple[str, bool]] = ()
    ) -> list[TextMark]:
        """Return the labels with their upper ends at height `top`; `written` has the role of each."""
        size = self.size
        if self.rotation:
            return self._turned(centers, top, size, writer, written)
        return [
            writer.line(
                line, x, top - ASCENT * size - row * line_height(size), size, _role(written, place), ha="center"
            )
            for place, (x, lines) in enumerate(zip(centers.tolist(), self.lines, strict=True))
            for row, line in enumerate(lines)
        ]

    def _turned(
        self, centers: Floats, top: float, size: float, writer: TextWriter, written: Sequence[tuple[str, bool]]
    ) -> list[TextMark]:
        """Let each label end under its bar; its middle line points at the bar's center."""
        turn = math.radians(self.rotation)
        middle = (ASCENT - DESCENT) / 2 * size
        shift, drop = middle * math.sin(turn), ASCENT * size * math.cos(turn)
        return [
            writer.line(
                lines[0], x + shift, top - drop, size, _role(written, place), ha="right", rotation=self.rotation
            )
            for place, (x, lines) in enumerate(zip(centers.tolist(), self.lines, strict=True))
            if place % self.stride == 0 and lines and lines[0]
        ]


def _role(written: Sequence[tuple[str, bool]], place: int) -> str:
    return written[place][0] if written else "category"


def letter_sizes(sizes: Sizes) -> list[float]:
    """Return the sizes that names may have, the largest first: none smaller than can be read."""
    return [share * sizes.label for share in (1.0, 0.94, 0.88, SMALLEST_SHARE)]


def set_labels(
    labels: Sequence[str], centers: Floats, slot: float, height: float, sizes: Sizes, writer: TextWriter
) -> CategoryLabels:
    """Choose how the labels of categories `slot` apart are set in a picture of the given height.

    Lines are broken at spaces while every word fits its slot, in smaller letters if need be, and in wide slots anyhow.
    Else labels are slanted, or vertical where slanted ones would touch, in smaller letters where these keep them whole,
    and cut short to three tenths of the height. Where even small vertical ones would touch, every second, third ... is
    left out.
    """
    plain = [one_line(label, longest=_LONGEST) for label in labels]
    level = _level(plain, slot, sizes, writer)
    if level is not None:
        return level
    pairs = [_turned(plain, centers, slot, _MOST_HEIGHT * height, size, writer) for size in letter_sizes(sizes)]
    whole = [category_labels for category_labels, cut in pairs if category_labels.stride == 1 and not cut]
    every = [category_labels for category_labels, _ in pairs if category_labels.stride == 1]
    return [*whole[:1], *every[:1], pairs[-1][0]][0]


def _level(labels: Sequence[str], slot: float, sizes: Sizes, writer: TextWriter) -> CategoryLabels | None:
    """Return level labels in as many lines as they need; None if they need too many."""
    for size in letter_sizes(sizes):
        if slot < 1.6 * line_height(size):
            continue
        lines = _wrapped_all(labels, slot - _BETWEEN, size, writer) or _wrapped_beside(labels, slot, size, writer)
        if lines:
            return _in_lines(lines, size)
    if slot >= sizes.px(_WIDE_SLOT):
        size = sizes.label
        room = slot - _BETWEEN
        return _in_lines(tuple(broken(label, size, False, room, _MOST_LINES, writer.measure) for label in labels), size)
    return None


def _in_lines(lines: tuple[tuple[str, ...], ...], size: float) -> CategoryLabels:
    rows = max(map(len, lines))
    return CategoryLabels(lines, 0.0, 1, (rows - 1) * line_height(size) + text_height(size), size)


def _turned(
    labels: Sequence[str], centers: Floats, slot: float, room: float, size: float, writer: TextWriter
) -> tuple[CategoryLabels, bool]:
    """Return slanted or vertical labels of one size, and whether any is cut short."""
    slanted = slot * math.sin(math.radians(_SLANT)) >= text_height(size)
    rotation = _SLANT if slanted else 90.0
    stride = 1 if slanted else max(1, math.ceil((text_height(size) + 1) / slot))
    turned = tuple(
        (_turned_text(label, x, size, room, rotation, writer),) if place % stride == 0 else ()
        for place, (label, x) in enumerate(zip(labels, centers.tolist(), strict=True))
    )
    cut = any(line and line[0] != label for line, label in zip(turned, labels, strict=True))
    longest = max(writer.width(line[0], size) for line in turned if line)
    sin, cos = math.sin(math.radians(rotation)), math.cos(math.radians(rotation))
    return CategoryLabels(turned, rotation, stride, longest * sin + (ASCENT + DESCENT) * size * cos, size), cut


def _turned_text(label: str, x: float, size: float, room: float, rotation: float, writer: TextWriter) -> str:
    """Cut a label to what fits below the axis and, slanted, to the left of its bar."""
    turn = math.radians(rotation)
    longest = (room - ASCENT * size * math.cos(turn)) / math.sin(turn)
    if math.cos(turn) > 1e-9:
        longest = min(longest, (x - size) / math.cos(turn))
    return fitted(label, size, False, longest, writer.measure)


def _wrapped_all(
    labels: Sequence[str], room: float, size: float, writer: TextWriter
) -> tuple[tuple[str, ...], ...] | None:
    every = []
    for label in labels:
        lines = wrapped(label, size, False, room, writer.measure)
        if lines is None or len(lines) > _MOST_LINES:
            return None
        every.append(lines)
    return tuple(every)


def _wrapped_beside(
    labels: Sequence[str], slot: float, size: float, writer: TextWriter
) -> tuple[tuple[str, ...], ...] | None:
    """Return names in lines of which some are wider than a slot, where neighbors are apart all the same."""
    lines = []
    for label in labels:
        longest = max((writer.width(word, size) for word in label.split()), default=0.0)
        rows = wrapped(label, size, False, max(slot - _BETWEEN, longest), writer.measure)
        if rows is None or len(rows) > _MOST_LINES:
            return None
        lines.append(rows)
    widths = [max((writer.width(line, size) for line in rows), default=0.0) for rows in lines]
    apart = all((width + after) / 2 + _BETWEEN <= slot for width, after in pairwise(widths))
    return tuple(lines) if apart and max(widths[0], widths[-1]) <= slot else None


MOST_BESIDE = 0.3  # of the picture, beside a horizontal chart


@dataclass(frozen=True)
class SideLabels:
    """How the labels beside a horizontal chart are set, and the width they take; every `stride`-th is there."""

    lines: tuple[tuple[str, ...], ...]
    stride: int
    width: float
    size: float

    def marks(
        self, centers: Floats, right: float, writer: TextWriter, written: Sequence[tuple[str, bool]] = ()
    ) -> list[TextMark]:
        """Return the labels with their right ends at `right`, each about the middle of its bar."""
        step, marks = line_height(self.size), []
        for place, (y, lines) in enumerate(zip(centers.tolist(), self.lines, strict=True)):
            if place % self.stride:
                continue
            top = y + (len(lines) - 1) * step / 2
            marks += [
                writer.middle(
                    line,
                    right,
                    top - row * step,
                    self.size,
                    _role(written, place),
                    ha="right",
                    bold=bool(written) and written[place][1],
                )
                for row, line in enumerate(lines)
                if line
            ]
        return marks


def set_side_labels(
    labels: Sequence[str], slot: float, width: float, sizes: Sizes, writer: TextWriter, *, bold: bool = False
) -> SideLabels:
    """Choose how the labels beside a horizontal chart are set, `slot` apart in a picture of the given width.

    They are broken into as many lines as their bars are high, no wider than three tenths of the picture, in smaller
    letters where bars are low; where bars are lower than even those, every second, third ... is left out.
    """
    room, every = MOST_BESIDE * width, letter_sizes(sizes)
    size = next((value for value in every if text_height(value) + 1 <= slot), every[-1])
    stride = max(1, math.ceil((text_height(size) + 1) / slot))
    most = max(1, min(_MOST_LINES, math.floor((slot - sizes.px(4) - text_height(size)) / line_height(size)) + 1))
    lines = tuple(
        broken(one_line(label, longest=_LONGEST), size, bold, room, most, writer.measure) if place % stride == 0 else ()
        for place, label in enumerate(labels)
    )
    widest = max(writer.width(line, size, bold=bold) for rows in lines for line in rows)
    return SideLabels(lines, stride, widest, size)


#: A period as the code writes it: year, month, day, week or quarter.
_PARTS = compiled(r"(\d{4})(?:-(\d{2})(?:-(\d{2}))?|-W(\d{2})|-Q(\d))?")
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


@dataclass(frozen=True)
class _CalendarDate:
    """A period taken apart; what it has not is zero."""

    year: int
    month: int = 0
    day: int = 0
    week: int = 0
    quarter: int = 0


def _moment(label: str) -> _CalendarDate:
    match = _PARTS.fullmatch(label)
    if not match:
        return _CalendarDate(0)
    return _CalendarDate(*(int(part or 0) for part in match.groups()))


@dataclass(frozen=True)
class PeriodLabels:
    """How the labels are set, and the height they take.

    Attributes
    ----------
    fine, coarse
        (number of the category, text) of what is in the upper and the lower row.
    height
        Of both rows.
    """

    fine: tuple[tuple[int, str], ...]
    coarse: tuple[tuple[int, str], ...]
    height: float
    size: float

    def marks(
        self, centers: Floats, top: float, writer: TextWriter, written: Sequence[tuple[str, bool]] = ()
    ) -> list[TextMark]:
        """Return the labels with their upper ends at height `top`; the lower row is quiet."""
        size = self.size
        rows = ((self.fine, 0.0, "category"), (self.coarse, line_height(size), "category-quiet"))
        return [
            writer.line(text, float(centers[index]), top - ASCENT * size - drop, size, role, ha="center")
            for row, drop, role in rows
            for index, text in row
        ]


#: Whether a date has a label.
_Chosen = Callable[[_CalendarDate], bool]
#: The label of a date.
_Words = Callable[[_CalendarDate], str]
#: Which periods are named, what they are called, and what is once below them.
_Level = tuple[_Chosen, _Words, _Words]


def _every(part: str, count: int) -> _Chosen:
    """Return what chooses every so many of a part that counts from 1."""
    return lambda moment: (getattr(moment, part) - 1) % count == 0


def _levels(period: str, months: Sequence[str]) -> list[_Level]:
    """Return how labels may be set, from the finest to the coarsest."""

    def year(moment: _CalendarDate) -> str:
        return str(moment.year)

    def named(moment: _CalendarDate) -> str:
        return months[moment.month - 1]

    def nothing(moment: _CalendarDate) -> str:
        return ""

    def month_and_year(moment: _CalendarDate) -> str:
        return f"{named(moment)} {moment.year}"

    def years(count: int, first: _Chosen) -> _Level:
        return (lambda moment: moment.year % count == 0 and first(moment)), year, nothing

    coarsest = [years(count, _starts_year) for count in (1, 2, 5, 10, 20, 50, 100)]
    if period == "year":
        return coarsest
    if period == "quarter":
        return [(_every("quarter", 1), lambda moment: f"Q{moment.quarter}", year), *coarsest]
    if period == "week":
        weeks = [(_every("week", count), (lambda moment: f"W{moment.week}"), year) for count in (1, 2, 4, 13, 26)]
        return [*weeks, *coarsest]
    by_month = [(_first_day(_every("month", count)), named, year) for count in (1, 3, 6)]
    if period == "month":
        return [*by_month, *coarsest]
    days = [(_not_last(_every("day", count), count), _day, month_and_year) for count in (1, 2, 7, 14)]
    return [*days, *by_month, *coarsest]


def _day(moment: _CalendarDate) -> str:
    return str(moment.day)


def _first_day(is_labeled: _Chosen) -> _Chosen:
    return lambda moment: moment.day <= 1 and is_labeled(moment)


def _not_last(is_labeled: _Chosen, count: int) -> _Chosen:
    """Return what passes over the last days of a month, which are too near to the first of the next."""
    return lambda moment: is_labeled(moment) and (count == 1 or moment.day < 29)


def _starts_year(moment: _CalendarDate) -> bool:
    return moment.month in (0, 1) and moment.day in (0, 1) and moment.week in (0, 1) and moment.quarter in (0, 1)


def set_period_labels(
    labels: Sequence[str], period: str, months: Sequence[str], slot: float, sizes: Sizes, writer: TextWriter
) -> PeriodLabels:
    """Choose the finest labels that are apart; what is once below them is left out where it would touch."""
    size, gap = sizes.label, sizes.px(9)
    moments = [_moment(label) for label in labels]
    fine: list[tuple[int, str]] = []
    coarse: list[tuple[int, str]] = []
    for is_labeled, name, below in _levels(period, months):
        numbers = [index for index, moment in enumerate(moments) if is_labeled(moment)]
        fine = [(index, name(moments[index])) for index in numbers]
        if len(fine) < min(2, len(labels)) or not _apart(fine, slot, size, gap, writer):
            continue
        coarse, last = [], ""
        for number in numbers:
            text = below(moments[number])
            if text and text != last:
                stated = coarse and moments[coarse[-1][0]].year == moments[number].year
                coarse.append((number, text.removesuffix(f" {moments[number].year}") if stated else text))
            last = text
        break
    else:
        stride = max(1, math.ceil((writer.width(labels[0], size) + gap) / slot))
        fine, coarse = [(index, labels[index]) for index in range(0, len(labels), stride)], []
    coarse = _thinned(coarse, slot, size, gap, writer)
    rows = 2 if coarse else 1
    return PeriodLabels(tuple(fine), tuple(coarse), (rows - 1) * line_height(size) + text_height(size), size)


def _apart(row: Sequence[tuple[int, str]], slot: float, size: float, gap: float, writer: TextWriter) -> bool:
    widths = {text: writer.width(text, size) for _, text in row}
    return all(
        (after - index) * slot >= (widths[text] + widths[other]) / 2 + gap
        for (index, text), (after, other) in pairwise(row)
    )


def _thinned(
    row: Sequence[tuple[int, str]], slot: float, size: float, gap: float, writer: TextWriter
) -> list[tuple[int, str]]:
    """Leave out what would touch the one after it: a year that ends as the axis begins."""
    pairs: list[tuple[int, str]] = []
    for index, text in reversed(row):
        width = writer.width(text, size)
        if not pairs or (pairs[-1][0] - index) * slot >= (width + writer.width(pairs[-1][1], size)) / 2 + gap:
            pairs.append((index, text))
    return pairs[::-1]


def side_period_labels(labels: Sequence[str], period: str, months: Sequence[str]) -> list[str]:
    """Return the labels beside a horizontal chart: the year, or the month of a day, where it changes."""
    side_period_labels, last = [], None
    for label in labels:
        moment = _moment(label)
        head = (moment.year, moment.month if period == "day" else 0)
        year = "" if head == last else f" {moment.year}"
        if period == "month":
            text = f"{months[moment.month - 1]}{year}"
        elif period == "quarter":
            text = f"Q{moment.quarter}{year}"
        elif period == "week":
            text = f"W{moment.week}{year}"
        elif period == "day":
            text = str(moment.day) + (f" {months[moment.month - 1]} {moment.year}" if year else "")
        else:
            text = label
        side_period_labels.append(text)
        last = head
    return side_period_labels
