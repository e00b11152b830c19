"""The cutoffs: their lines where they cut, and what they cut beside them."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from vantric.core.charting.chart import CutMark
from vantric.core.numbers.arrays import Floats
from vantric.core.planning.frame.field import Field, rule
from vantric.core.planning.labels.places import Places
from vantric.core.planning.lettering import Pen, Sizes
from vantric.core.planning.measure import ASCENT, DESCENT
from vantric.core.planning.plan import PathMark, TextMark


def cut_rules(cut: CutMark, level: float, xs: Floats, ys: Floats, field: Field) -> list[PathMark]:
    """Return the cutoff's lines.

    One runs at its level from the secondary axis to where the cumulative line crosses it, one from there on to the
    category axis between the last category inside and the first outside.

    Parameters
    ----------
    level
        Where the cutoff is along the value axes.
    xs, ys : ndarray of shape (n,)
        The points of the cumulative line.
    """
    frame, border = field.frame, boundary(cut, field)
    if field.horizontal:
        down, parts = -crossing(level, -ys, xs), 0 < cut.count < field.count
        ends = [*([down] if np.isfinite(down) else []), *([border] if parts else [])]
        across = [rule(frame.left, border, level, border, "cut")] if parts else []
        return [rule(level, min(ends, default=frame.bottom), level, frame.top, "cut"), *across]
    rules = [rule(min(crossing(level, xs, ys), border), level, frame.right, level, "cut")]
    if 0 < cut.count < field.count:
        rules.append(rule(border, frame.bottom, border, level, "cut"))
    return rules


def boundary(cut: CutMark, field: Field) -> float:
    """Return where the vital few end along the category axis, halfway between two bars."""
    return float(field.along(min(cut.count, field.count)))


def crossing(level: float, xs: Floats, ys: Floats) -> float:
    """Return where a rising line first reaches a level; infinity if it begins above it."""
    if ys[0] >= level:
        return float("inf")
    after = int(np.argmax(ys >= level))
    share = (level - ys[after - 1]) / (ys[after] - ys[after - 1])
    return float(xs[after - 1] + share * (xs[after] - xs[after - 1]))


def cut_text(
    cut: CutMark, level: float, xs: Floats, ys: Floats, field: Field, places: Places, pen: Pen, sizes: Sizes
) -> TextMark | None:
    """Write what the cutoff cuts beside its line, in the first free place; None if there is none."""
    options = _horizontal_options if field.horizontal else _upright_options
    candidates = list(options(cut, level, xs, ys, field, pen, sizes))
    chosen = places.first_free((mark.box, None) for mark in candidates)
    return None if chosen is None else candidates[chosen]


def _upright_options(
    cut: CutMark, level: float, xs: Floats, ys: Floats, field: Field, pen: Pen, sizes: Sizes
) -> Iterator[TextMark]:
    size, gap, frame = sizes.label, sizes.px(8), field.frame
    below, above = level - gap - ASCENT * size, level + gap + DESCENT * size
    border, cross = boundary(cut, field), crossing(level, xs, ys)
    yield pen.line(cut.text, border + gap, below, size, "cut-text", bold=True)
    yield pen.line(cut.text, frame.right - gap, below, size, "cut-text", ha="right", bold=True)
    yield pen.line(cut.text, min(cross, border) - 2 * gap, above, size, "cut-text", ha="right", bold=True)
    yield pen.line(cut.text, frame.left + gap, above, size, "cut-text", bold=True)


def _horizontal_options(
    cut: CutMark, level: float, xs: Floats, ys: Floats, field: Field, pen: Pen, sizes: Sizes
) -> Iterator[TextMark]:
    size, gap, frame = sizes.label, sizes.px(8), field.frame
    border = boundary(cut, field)
    below, above = border - gap - ASCENT * size, border + gap + DESCENT * size
    yield pen.line(cut.text, level - gap, below, size, "cut-text", ha="right", bold=True)
    yield pen.line(cut.text, level - gap, above, size, "cut-text", ha="right", bold=True)
    top = frame.top - gap - ASCENT * size
    yield pen.line(cut.text, level + gap, top, size, "cut-text", bold=True)
    yield pen.line(cut.text, level - gap, top, size, "cut-text", ha="right", bold=True)
    for step in range(1, 12):
        down = border - gap - ASCENT * size - step * field.slot
        yield pen.line(cut.text, level - gap, down, size, "cut-text", ha="right", bold=True)
