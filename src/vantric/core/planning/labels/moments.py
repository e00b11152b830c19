"""Marked dates: a line across the frame, with its name beside it."""

from __future__ import annotations

from collections.abc import Iterator

from vantric.core.charting.chart import Chart
from vantric.core.charting.moments import Moment
from vantric.core.planning.frame.field import Field
from vantric.core.planning.frame.furniture import rule
from vantric.core.planning.labels.places import Places
from vantric.core.planning.lettering import Pen, Sizes
from vantric.core.planning.measure import ASCENT
from vantric.core.planning.plan import PathMark, TextMark

_HEIGHTS = 12


def moment_rules(chart: Chart, field: Field) -> list[PathMark]:
    """Return the lines."""
    frame, found = field.frame, []
    for one in chart.moments:
        at = float(field.along(one.place))
        ends = (frame.left, at, frame.right, at) if field.horizontal else (at, frame.bottom, at, frame.top)
        found.append(rule(*ends, "reference"))
    return found


def moment_text(
    one: Moment, field: Field, places: Places, pen: Pen, sizes: Sizes
) -> TextMark | None:  # fmt: skip
    """Write the name of a marked date beside its line in the first free place; None if there is none."""
    candidates = list(_options(one, field, pen, sizes))
    chosen = places.first_free(((mark.box, None) for mark in candidates), apart=sizes.px(2))
    return None if chosen is None else candidates[chosen]


def _options(one: Moment, field: Field, pen: Pen, sizes: Sizes) -> Iterator[TextMark]:
    size, apart, frame = sizes.label, sizes.px(4), field.frame
    at, length = float(field.along(one.place)), pen.width(one.text, size, bold=True)
    for step in range(_HEIGHTS):
        if field.horizontal:
            start = frame.right - apart - length - step * (frame.right - frame.left) / _HEIGHTS
            yield pen.line(one.text, start, at + apart, size, "reference-text", bold=True)
            continue
        y = frame.top - apart - ASCENT * size - step * (frame.top - frame.bottom) / _HEIGHTS
        if at + apart + length <= frame.right:
            yield pen.line(one.text, at + apart, y, size, "reference-text", bold=True)
        if at - apart - length >= frame.left:
            yield pen.line(one.text, at - apart, y, size, "reference-text", ha="right", bold=True)
