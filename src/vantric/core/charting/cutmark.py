"""The cut-off: its lines where it cuts, and what it cuts beside it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from vantric.core.charting.chart import CutMark
from vantric.core.charting.furniture import rule
from vantric.core.charting.lettering import Pen, Sizes
from vantric.core.charting.measure import ASCENT, DESCENT
from vantric.core.charting.places import Places
from vantric.core.charting.plan import Box, PathMark, TextMark


def cut_rules(
    cut: CutMark, level: float, xs: NDArray[np.float64], ys: NDArray[np.float64], frame: Box
) -> list[PathMark]:
    """Return the cut-off's lines.

    One runs at its level from the secondary axis to where the cumulative line crosses it, one from there on down
    between the last category inside and the first outside.

    Parameters
    ----------
    level
        Height of the cut-off.
    xs, ys : ndarray of shape (n,)
        The points of the cumulative line.
    """
    border = boundary(cut, xs, frame)
    rules = [rule(min(crossing(level, xs, ys), border), level, frame.right, level, "cut")]
    if cut.count < len(xs):
        rules.append(rule(border, frame.bottom, border, level, "cut"))
    return rules


def boundary(cut: CutMark, xs: NDArray[np.float64], frame: Box) -> float:
    """Return where the vital few end, halfway between two bars."""
    return frame.left + frame.width * cut.count / len(xs)


def crossing(level: float, xs: NDArray[np.float64], ys: NDArray[np.float64]) -> float:
    """Return where the line first reaches a level; infinity if it begins above it."""
    if ys[0] >= level:
        return float("inf")
    after = int(np.argmax(ys >= level))
    share = (level - ys[after - 1]) / (ys[after] - ys[after - 1])
    return float(xs[after - 1] + share * (xs[after] - xs[after - 1]))


def cut_text(
    cut: CutMark, level: float, xs: NDArray[np.float64], ys: NDArray[np.float64], frame: Box, places: Places,
    pen: Pen, sizes: Sizes,
) -> TextMark | None:  # fmt: skip
    """Write what the cut-off cuts beside its line, in the first free place; None if there is none."""
    size, gap = sizes.label, sizes.px(8)
    below, above = level - gap - ASCENT * size, level + gap + DESCENT * size
    border, cross = boundary(cut, xs, frame), crossing(level, xs, ys)
    candidates = [
        pen.line(cut.text, border + gap, below, size, "cut-text", bold=True),
        pen.line(cut.text, frame.right - gap, below, size, "cut-text", ha="right", bold=True),
        pen.line(cut.text, min(cross, border) - 2 * gap, above, size, "cut-text", ha="right", bold=True),
        pen.line(cut.text, frame.left + gap, above, size, "cut-text", bold=True),
    ]
    chosen = places.first_free((mark.box, None) for mark in candidates)
    return None if chosen is None else candidates[chosen]
