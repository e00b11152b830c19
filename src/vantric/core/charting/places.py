"""Finding free places for labels among marks, lines and other labels."""

from __future__ import annotations

from collections.abc import Iterable

from vantric.core.charting.plan import Box

_CELL = 48.0


class Places:
    """What is taken so far, kept by columns of the picture so that a look-up meets its neighbours only.

    Parameters
    ----------
    bounds
        What labels must stay inside.
    """

    def __init__(self, bounds: Box) -> None:
        self._bounds = bounds
        self._boxes: dict[int, list[tuple[Box, object]]] = {}
        self._segments: dict[int, list[tuple[float, float, float, float]]] = {}

    def take(self, box: Box, owner: object = None) -> None:
        """Mark a rectangle as taken; labels of the same `owner` may stand on it."""
        for column in _columns(box.left, box.right):
            self._boxes.setdefault(column, []).append((box, owner))

    def take_segment(self, x0: float, y0: float, x1: float, y1: float) -> None:
        """Mark a straight line as taken."""
        for column in _columns(min(x0, x1), max(x0, x1)):
            self._segments.setdefault(column, []).append((x0, y0, x1, y1))

    def free(self, box: Box, owner: object = None) -> bool:
        """Whether nothing that is taken, but what has the same `owner`, touches the rectangle."""
        if not box.within(self._bounds):
            return False
        for column in _columns(box.left, box.right):
            for taken, holder in self._boxes.get(column, ()):
                if (owner is None or holder != owner) and box.overlaps(taken):
                    return False
            if any(crosses(box, *segment) for segment in self._segments.get(column, ())):
                return False
        return True

    def first_free(self, candidates: Iterable[tuple[Box, object]], *, apart: float = 0.0) -> int | None:
        """Return the number of the first (box, owner) candidate that is free, and take it; None if none is.

        Of what is placed later it is kept `apart` along x.
        """
        for number, (box, owner) in enumerate(candidates):
            if self.free(box, owner):
                self.take(Box(box.left - apart, box.bottom, box.right + apart, box.top))
                return number
        return None


def _columns(left: float, right: float) -> range:
    return range(int(left // _CELL), int(right // _CELL) + 1)


def crosses(box: Box, x0: float, y0: float, x1: float, y1: float) -> bool:
    """Whether a straight line passes through the rectangle (Liang and Barsky's clipping, 1984)."""
    start, end = 0.0, 1.0
    dx, dy = x1 - x0, y1 - y0
    for step, room in ((-dx, x0 - box.left), (dx, box.right - x0), (-dy, y0 - box.bottom), (dy, box.top - y0)):
        if step == 0:
            if room < 0:
                return False
        elif step < 0:
            start = max(start, room / step)
        else:
            end = min(end, room / step)
        if start > end:
            return False
    return True
