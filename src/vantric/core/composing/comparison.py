"""From a comparison to its chart: paired bars, each side in percent of its own total or as rates."""

from __future__ import annotations

from dataclasses import replace
from itertools import accumulate

from vantric.core.axes import common
from vantric.core.charting.chart import Bars, Chart, Line
from vantric.core.charting.wish import Wish
from vantric.core.counting.comparison import Comparison
from vantric.core.numbers.shown import distinct_lines, one_line
from vantric.errors import ChartError

_PLAIN = Wish()


def comparison_chart(found: Comparison, wish: Wish = _PLAIN, *, description: str = "") -> Chart:
    """Return the chart of a comparison.

    Bars stand in pairs in the order of before, and both cumulative lines on the one scale of the bars.

    Raises
    ------
    ChartError
        If the points are to stand at the edges of the bars: a pair has no edge of its own.
    """
    if wish.points == "edge":
        raise ChartError("in a comparison points stand over the bars: leave points='edge' out")
    say, style, rates = wish.wording.say, wish.wording.style, found.exposures is not None
    origin = found.before.origin
    subject = one_line(origin.by) if origin.by else ""
    sides: list[tuple[str, list[float]]] = [
        (found.before_name, [float(row.before) if rates else row.before_percent for row in found.rows]),
        (found.after_name, [float(row.after) if rates else row.after_percent for row in found.rows]),
    ]
    running = say("cumulative rate") if rates else say("cumulative percent")
    tops = [float(table.total) if rates else 100.0 for table in (found.before, found.after)]
    names = distinct_lines([name for name, _ in sides])
    wish.check_colors([*names, *(f"{running}, {name}" for name in names)])
    bars, lines = [], []
    for number, ((_, values), name, top) in enumerate(zip(sides, names, tops, strict=True)):
        labels = style.amounts(values, most_decimals=2) if rates else [style.percents(value) for value in values]
        shown = tuple(label if value else "" for label, value in zip(labels, values, strict=True))
        own = wish.colors.get(name, "")
        bars.append(
            Bars(
                name,
                tuple(values),
                shown if wish.labels != "none" else (),
                role=("quiet", "strong")[number],
                colors=(own,) * len(values) if own else (),
            )
        )
        sums = [min(value, top) for value in accumulate(values)]
        title, role = f"{running}, {name}", ("line-2", "line")[number]
        color = wish.colors.get(title)
        lines.append(Line(title, (*sums[:-1], top), role=f"{role}:{color}" if color else role))
    per = f"{say('rate')} ({one_line(found.unit)})" if rates else say("own total")
    return Chart(
        categories=tuple(distinct_lines(found.categories)),
        series=(*bars, *(lines if wish.cumulative != "none" else ())),
        scales=common(_highest(wish, tops, sides)),
        title=_own(wish.title, _title(found, subject, wish)),
        subtitle=found.base() if wish.subtitle is None else wish.subtitle,
        note=_note(found, wish),
        category_title=_own(wish.category_title, subject[:1].upper() + subject[1:]),
        primary_title=_own(wish.primary_title, per),
        primary_unit="" if rates else style.percent,
        secondary_axis=False,
        description=description,
        **wish.looks(),
    )


def _highest(wish: Wish, tops: list[float], sides: list[tuple[str, list[float]]]) -> float:
    """Return what the scale must reach: the totals, or without lines the tallest bar."""
    return max(tops) if wish.cumulative != "none" else max(max(values) for _, values in sides)


def _title(found: Comparison, subject: str, wish: Wish) -> str:
    named = subject[:1].upper() + subject[1:] or wish.wording.say("frequency")
    before, after = one_line(found.before_name), one_line(found.after_name)
    return wish.wording.say("before and after", subject=named, before=before, after=after)


def _note(found: Comparison, wish: Wish) -> str:
    if not isinstance(wish.note, bool):
        return wish.note
    if not wish.note:
        return ""
    notes = [wish.wording.note(replace(table.origin, within=None)) for table in (found.before, found.after)]
    return "; ".join(dict.fromkeys(part for note in notes for part in note.split("; ") if part))


def _own(wished: str | None, plain: str) -> str:
    return plain if wished is None else wished
