"""Labels that are led to their marks by a thin line, where there is no place beside them."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np

from vantric.core.planning.labels.places import Places
from vantric.core.planning.plan import Box, PathMark, TextMark

_GAP = 2.0  # pixels between a leader and its label


@dataclass(frozen=True)
class Placed:
    """A label in its place, the line that leads to it where it is apart, whether it has a plate, and whose it is."""

    text: TextMark
    leader: PathMark | None = None
    plate: bool = False
    number: int = -1


def led(
    places: Places, marks: Iterable[TextMark], start: Callable[[Box], tuple[float, float]], *, apart: float
) -> Placed | None:  # fmt: skip
    """Take the first free place to which a leader meets no other label; None if there is none.

    `start` tells where the leader of a label begins.
    """
    for mark in marks:
        anchor = start(mark.box)
        end = _nearest(mark.box, anchor)
        if places.free(mark.box) and places.open_line(*anchor, *end):
            places.take_label(mark.box, apart=apart)
            places.take_segment(*anchor, *end)
            return Placed(mark, PathMark(np.array([anchor[0], end[0]]), np.array([anchor[1], end[1]]), "leader"))
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
        mark.text, mark.x + dx, mark.y + dy, mark.size, mark.role, mark.ha, mark.bold, mark.rotation, box
    )  # fmt: skip
