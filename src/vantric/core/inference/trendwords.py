"""Trends in words that can be read to someone without statistics."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.inference.controlchart import BEYOND
from vantric.core.inference.words import named, p_words
from vantric.core.numbers.shown import counted, listed, one_line

if TYPE_CHECKING:
    from vantric.core.inference.trends import CategoryTrend, Trends

_MOST = 3


def trend_words(found: Trends) -> str:
    """Return which categories have a trend, the signals, partial periods, and what the records count as."""
    parts = [_trends(found), _signals(found), _partial(found), _basis(found), found.counted]
    return ". ".join(f"{part[:1].upper()}{part[1:]}" for part in parts if part) + "."


def _trends(found: Trends) -> str:
    whole = len(found.periods) - (len(found.partial) if found.measure == "frequency" else 0)
    over = f"over {counted(whole, 'whole ' + found.period if found.partial else found.period)}"
    if found.reason:
        return f"whether there is a trend cannot be said: {found.reason}"
    tested = [row for row in found.rows if row.slope is not None]
    beyond = found.beyond
    if not beyond:
        what = f"{named(tested[0].category)} has no trend" if len(tested) == 1 else "no category has a trend"
        return f"{over}, {what} beyond chance"
    told = listed([_change(row, found.period) for row in beyond], most=_MOST)
    return f"{over}, beyond chance: {told}{'' if len(beyond) == len(tested) else '; no other has a trend'}"


def _change(row: CategoryTrend, period: str) -> str:
    slope = row.slope
    assert slope is not None
    assert row.p_adjusted is not None
    if slope.change is None or slope.low is None or slope.high is None:
        return f"{named(row.category)} changes ({p_words(row.p_adjusted)})"
    verb = "rises" if slope.change > 1 else "falls"
    ends = sorted(abs(100 * (one - 1)) for one in (slope.low, slope.high))
    size = abs(100 * (slope.change - 1))
    return (
        f"{named(row.category)} {verb} by {_size(size)} % a {period} "
        f"(95 % interval {_size(ends[0])} to {_size(ends[1])} %, {p_words(row.p_adjusted)})"
    )


def _size(value: float) -> str:
    return f"{value:.1f}" if value < 10 else f"{value:.0f}"


def _signals(found: Trends) -> str:
    told = []
    for row in found.rows:
        beyond = [found.periods[at] for at, rule in row.chart.signals if rule == BEYOND]
        runs = [found.periods[at] for at, rule in row.chart.signals if rule != BEYOND]
        parts = [f"{listed(beyond, most=_MOST)} beyond the limits of chance"] if beyond else []
        parts += [f"nine or more in a row on one side up to {runs[-1]}"] if runs else []
        if parts:
            told.append(f"{named(row.category)}: {', '.join(parts)}")
    if told:
        return f"signals: {'; '.join(told)}"
    charted = any(row.chart.center is not None for row in found.rows)
    return "no period is beyond the limits of chance" if charted else ""


def _partial(found: Trends) -> str:
    if not found.partial:
        return ""
    verb = "is a partial period" if len(found.partial) == 1 else "are partial periods"
    out = " and left out of trend and limits" if found.measure == "frequency" else ""
    return f"{listed([one_line(label) for label in found.partial])} {verb}{out}"


def _basis(found: Trends) -> str:
    if found.measure != "frequency":
        return ""
    return f"what each {found.period} was counted in is not known: a trend may be one of the work done"
