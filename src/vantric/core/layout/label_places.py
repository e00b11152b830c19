"""Finding free places for labels among marks, lines and other labels, and the leaders to them."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from itertools import pairwise
from typing import TYPE_CHECKING, Any

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.layout.plan import Box, PathMark, TextMark

if TYPE_CHECKING:
    from vantric.core.numbers.amounts import Floats

_WIDTH, _HEIGHT = 48.0, 32.0  # of a cell
_MANY_CELLS = 3  # in one direction: of more, a box is kept by columns or rows
_CLEAR = 1.5  # pixels between a label and a line: half of what a line is wide

_Cell = tuple[int, int]
_Segment = tuple[float, float, float, float]


class TakenPlaces:
    """What is taken so far, kept by cells of the picture so that a look-up meets its neighbors only.

    Parameters
    ----------
    bounds
        What labels must stay inside.
    """

    def __init__(self, bounds: Box) -> None:
        self._bounds = bounds
        self._boxes: dict[_Cell, list[tuple[Box, object]]] = {}
        # Boxes that are many cells high or wide are kept by their columns or rows alone.
        self._high: dict[int, list[tuple[Box, object]]] = {}
        self._wide: dict[int, list[tuple[Box, object]]] = {}
        self._segments: dict[_Cell, list[_Segment]] = {}
        self._labels: dict[_Cell, list[Box]] = {}
        self._journal: list[list[Any]] = []

    def now(self) -> int:
        """Return a moment that `back_to` goes back to."""
        return len(self._journal)

    def back_to(self, moment: int) -> None:
        """Free whatever was taken since a moment."""
        while len(self._journal) > moment:
            self._journal.pop().pop()

    def _put(self, cells: dict[Any, list[Any]], cell: _Cell | int, what: object) -> None:
        values = cells.setdefault(cell, [])
        values.append(what)
        self._journal.append(values)

    def take(self, box: Box, owner: object = None) -> None:
        """Mark a rectangle as taken; labels of the same `owner` may be on it."""
        columns, rows = _columns(box), _rows(box)
        if len(rows) > _MANY_CELLS and len(columns) <= len(rows):
            for column in columns:
                self._put(self._high, column, (box, owner))
        elif len(columns) > _MANY_CELLS:
            for row in rows:
                self._put(self._wide, row, (box, owner))
        else:
            for cell in _cells(box):
                self._put(self._boxes, cell, (box, owner))

    def take_path(self, xs: Floats, ys: Floats) -> None:
        """Mark a polyline as taken."""
        for start, end in pairwise(zip(xs.tolist(), ys.tolist(), strict=True)):
            self.take_segment(*start, *end)

    def take_segment(self, x0: float, y0: float, x1: float, y1: float) -> None:
        """Mark a straight line as taken."""
        segment = (x0, y0, x1, y1)
        for cell in _along(segment):
            self._put(self._segments, cell, segment)

    def free(self, box: Box, owner: object = None) -> bool:
        """Whether nothing that is taken, but what has the same `owner` or one of several, touches the rectangle."""
        if not box.within(self._bounds):
            return False
        left, bottom, right, top = box
        wide = (left - _CLEAR, bottom - _CLEAR, right + _CLEAR, top + _CLEAR)
        columns, rows = _columns(wide), _rows(wide)
        mine = owner if isinstance(owner, frozenset) else () if owner is None else (owner,)
        if self._high and any(_touched(self._high.get(column, ()), box, mine) for column in columns):
            return False
        if self._wide and any(_touched(self._wide.get(row, ()), box, mine) for row in rows):
            return False
        return self._cells_free(box, wide, [(column, row) for column in columns for row in rows], mine)

    def _cells_free(self, box: Box, wide: _Segment, cells: Sequence[_Cell], mine: Collection[object]) -> bool:
        left, bottom, right, top = box
        boxes, segments = self._boxes, self._segments
        for cell in cells:
            for (x0, y0, x1, y1), holder in boxes.get(cell, ()):
                if left < x1 and x0 < right and bottom < y1 and y0 < top and holder not in mine:
                    return False
            for segment in segments.get(cell, ()):
                if crosses(wide, *segment):
                    return False
        return True

    def first_free(self, candidates: Iterable[tuple[Box, object]], *, apart: float = 0.0) -> int | None:
        """Return the number of the first (box, owner) candidate that is free, and take it; None if none is.

        Of what is placed later it is kept `apart` along x.
        """
        for number, (box, owner) in enumerate(candidates):
            if self.free(box, owner):
                self.take_label(box, apart=apart)
                return number
        return None

    def take_label(self, box: Box, *, apart: float = 0.0) -> None:
        """Mark the place of a label as taken, for labels and for leaders."""
        self.take(Box(box.left - apart, box.bottom, box.right + apart, box.top))
        for cell in _cells(box):
            self._put(self._labels, cell, box)

    def open_line(self, x0: float, y0: float, x1: float, y1: float) -> bool:
        """Whether a straight line meets no label."""
        segment = (x0, y0, x1, y1)
        return not any(crosses(box, *segment) for cell in _along(segment) for box in self._labels.get(cell, ()))


def _touched(boxes: Iterable[tuple[Box, object]], box: Box, mine: Collection[object]) -> bool:
    """Whether one of the boxes that are taken, but those of mine, shares more than an edge with a box."""
    left, bottom, right, top = box
    for (x0, y0, x1, y1), holder in boxes:
        if left < x1 and x0 < right and bottom < y1 and y0 < top and holder not in mine:
            return True
    return False


def shows_ends(box: Box, bars: Sequence[Box], *, horizontal: bool) -> bool:
    """Whether a label on bars leaves their ends to be seen."""
    return all(
        not box.overlaps(bar)
        or (
            bar.left < box.left and box.right < bar.right
            if horizontal
            else bar.bottom < box.bottom and box.top < bar.top
        )
        for bar in bars
    )


def _columns(box: _Segment) -> range:
    return range(int(box[0] // _WIDTH), int(box[2] // _WIDTH) + 1)


def _rows(box: _Segment) -> range:
    return range(int(box[1] // _HEIGHT), int(box[3] // _HEIGHT) + 1)


def _cells(box: _Segment) -> Iterator[_Cell]:
    rows = _rows(box)
    for column in _columns(box):
        for row in rows:
            yield column, row


def _along(segment: _Segment) -> Iterator[_Cell]:
    """Yield the cells that a straight line runs through: column by column, the rows that it crosses there."""
    x0, y0, x1, y1 = segment if segment[0] <= segment[2] else (*segment[2:], *segment[:2])
    first, last = int(x0 // _WIDTH), int(x1 // _WIDTH)
    slope = (y1 - y0) / (x1 - x0) if x1 > x0 else 0.0
    for column in range(first, last + 1):
        start = y0 if column == first else y0 + slope * (column * _WIDTH - x0)
        end = y1 if column == last else y0 + slope * ((column + 1) * _WIDTH - x0)
        low, high = (start, end) if start <= end else (end, start)
        for row in range(int((low - 1e-6) // _HEIGHT), int((high + 1e-6) // _HEIGHT) + 1):
            yield column, row


def crosses(box: _Segment, x0: float, y0: float, x1: float, y1: float) -> bool:
    """Whether a straight line meets the rectangle: they are parted along no axis, nor across the line."""
    left, bottom, right, top = box
    if (x0 < left and x1 < left) or (x0 > right and x1 > right):
        return False
    if (y0 < bottom and y1 < bottom) or (y0 > top and y1 > top):
        return False
    dx, dy = x1 - x0, y1 - y0
    sides = (
        dx * (bottom - y0) - dy * (left - x0),
        dx * (bottom - y0) - dy * (right - x0),
        dx * (top - y0) - dy * (left - x0),
        dx * (top - y0) - dy * (right - x0),
    )
    return min(sides) <= 0 <= max(sides)


_GAP = 2.0  # pixels between a leader and its label


@dataclass(frozen=True)
class PlacedLabel:
    """A label in its place, the line that leads to it where it is apart, and whose it is."""

    text: TextMark
    leader: PathMark | None = None
    number: int = -1


def place_with_leader(
    places: TakenPlaces, marks: Iterable[TextMark], start: Callable[[Box], tuple[float, float]], *, apart: float
) -> PlacedLabel | None:
    """Take the first free place to which a leader meets no other label; None if there is none.

    `start` tells where the leader of a label begins.
    """
    for mark in marks:
        anchor = start(mark.box)
        end = _nearest(mark.box, anchor)
        if places.free(mark.box) and places.open_line(*anchor, *end):
            places.take_label(mark.box, apart=apart)
            places.take_segment(*anchor, *end)
            return PlacedLabel(mark, PathMark(np.array([anchor[0], end[0]]), np.array([anchor[1], end[1]]), "leader"))
    return None


def _nearest(box: Box, anchor: tuple[float, float]) -> tuple[float, float]:
    """Return the point just outside a box that is nearest to the anchor."""
    x = min(max(anchor[0], box.left - _GAP), box.right + _GAP)
    y = min(max(anchor[1], box.bottom - _GAP), box.top + _GAP)
    if box.left < x < box.right:
        x = min(max(x, box.left + 0.25 * box.width), box.right - 0.25 * box.width)
    return x, y


def shifted(mark: TextMark, dx: float, dy: float) -> TextMark:
    """Return a text moved by so much."""
    left, bottom, right, top = mark.box
    box = Box(left + dx, bottom + dy, right + dx, top + dy)
    return TextMark(
        mark.text, mark.x + dx, mark.y + dy, mark.size, mark.role, mark.ha, mark.bold, mark.rotation, box, mark.halo
    )


def mirrored(mark: TextMark, bar: Box, *, horizontal: bool) -> TextMark:
    """Return a label of a bar that hangs down: where it would be if the bar stood, turned over."""
    if horizontal:
        return shifted(mark, bar.left + bar.right - mark.box.right - mark.box.left, 0.0)
    return shifted(mark, 0.0, bar.bottom + bar.top - mark.box.top - mark.box.bottom)


def end_of(bar: Box, label: Box, *, horizontal: bool, down: bool, within: bool) -> tuple[float, float]:
    """Return the point of a bar to which a label is led."""
    x, y = (bar.left + bar.right) / 2, (bar.bottom + bar.top) / 2
    if within:
        return (x, bar.top if label.bottom > y else bar.bottom) if horizontal else (bar.right, y)
    if horizontal:
        return (bar.left if down else bar.right), y
    return x, (bar.bottom if down else bar.top)
