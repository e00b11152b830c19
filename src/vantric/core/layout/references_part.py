"""The lines of cutoffs and references, and their names: a target, a limit, what a cutoff takes in."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from vantric.core.charts.chart import Chart, CutMark
from vantric.core.charts.references import Reference
from vantric.core.layout.label_places import Places, shows_ends
from vantric.core.layout.lettering_part import Pen, Sizes
from vantric.core.layout.plan import Box, PathMark, RectMarks, TextMark
from vantric.core.layout.text_layout import ASCENT, DESCENT
from vantric.core.layout.titles import Field, rule
from vantric.core.numbers.arrays_part import Floats


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


def _levels(chart: Chart, one: Reference, field: Field) -> tuple[float, float]:
    """Return where its lower and upper end are along the value axes."""
    scale = chart.scales.secondary if one.axis == "secondary" else chart.scales.primary
    low, high = field.up(np.clip(scale.fraction(np.array(one.ends)), 0.0, 1.0)).tolist()
    return low, high


def reference_rules(chart: Chart, field: Field) -> list[PathMark]:
    """Return the lines; a band has one at either end."""
    frame, found = field.frame, []
    for one in chart.references:
        for at in dict.fromkeys(_levels(chart, one, field)):
            ends = (at, frame.bottom, at, frame.top) if field.horizontal else (frame.left, at, frame.right, at)
            found.append(rule(*ends, "reference" if one.upto is None else "band-edge"))
    return found


def reference_bands(chart: Chart, field: Field) -> RectMarks:
    """Return what is between the two ends of each band."""
    frame, edges = field.frame, []
    for one in chart.references:
        if one.upto is not None:
            low, high = _levels(chart, one, field)
            horizontal = (low, frame.bottom, high, frame.top)
            edges.append(horizontal if field.horizontal else (frame.left, low, frame.right, high))
    return RectMarks(np.array(edges, dtype=np.float64).reshape(-1, 4), ("band",) * len(edges))


def reference_text(
    chart: Chart, one: Reference, field: Field, places: Places, pen: Pen, sizes: Sizes, bars: Sequence[Box]
) -> TextMark | None:
    """Write the name of a reference beside its line in the first free place, on bars if need be; None if none is."""
    candidates = list(_options(chart, one, field, pen, sizes))
    chosen = places.first_free(((mark.box, None) for mark in candidates), apart=sizes.px(4))
    if chosen is None and bars:
        every: object = frozenset(range(len(bars)))
        candidates = [mark for mark in candidates if shows_ends(mark.box, bars, horizontal=field.horizontal)]
        chosen = places.first_free(((mark.box, every) for mark in candidates), apart=sizes.px(4))
    return None if chosen is None else candidates[chosen]


def _options(chart: Chart, one: Reference, field: Field, pen: Pen, sizes: Sizes) -> Iterator[TextMark]:
    size, gap, frame = sizes.label, sizes.px(5), field.frame
    low, high = _levels(chart, one, field)
    if field.horizontal:
        for step in range(12):
            y = frame.top - gap - ASCENT * size - step * field.slot / 2
            yield pen.line(one.text, high + gap, y, size, "reference-text", bold=True)
            yield pen.line(one.text, low - gap, y, size, "reference-text", ha="right", bold=True)
        return
    heights = [high + gap + DESCENT * size, low - gap - ASCENT * size]
    if one.upto is not None:
        heights = [high - gap - ASCENT * size, *heights]
    for start in _starts(frame.left + gap, frame.right - gap, field.slot, pen.width(one.text, size, bold=True)):
        for y in heights:
            yield pen.line(one.text, start, y, size, "reference-text", bold=True)


def _starts(left: float, right: float, slot: float, width: float) -> Floats:
    """Return where a text may begin, from the right end of the line to the left."""
    last = right - width
    steps = np.arange(0.0, max(last - left, 0.0) + 1e-9, max(slot / 2, 24.0))
    return np.maximum(last - steps, left)
