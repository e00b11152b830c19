"""Findings over units: several on one axis, and marks on an axis of another unit."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from vantric.core.numbers.shown import one_line, quoted
from vantric.core.reviewing.finding import Finding, warning

if TYPE_CHECKING:
    from vantric.core.charting import Chart

_SAME = {
    "percent": "%", "pct": "%", "per cent": "%", "pcs": "pieces", "pc": "pieces", "piece": "pieces", "hours": "h",
    "hour": "h",
    "hrs": "h", "hr": "h", "minutes": "min", "minute": "min", "mins": "min", "€": "eur", "euro": "eur", "euros": "eur",
    "$": "usd", "£": "gbp", "tonnes": "t", "tons": "t", "ton": "t", "days": "d", "day": "d", "records": "", "count": "",
}  # fmt: skip
_PERCENT_MARK = re.compile(r"\d\s*%|\bpercent|\bcut.?off|\bpareto|80\s*/\s*20", re.IGNORECASE)
_USUAL = (80.0, 0.8)


def plain_unit(unit: str) -> str:
    """Return a unit in one of its spellings."""
    low = " ".join(unit.casefold().split()).strip(".")
    return _SAME.get(low, low)


def several_units(chart: Chart) -> list[Finding]:
    """Find series of different units on one axis: equal heights are then unlike things."""
    for side in ("primary", "secondary"):
        on = [one for one in chart.series if one.secondary == (side == "secondary") and one.name not in chart.guides]
        units = {plain_unit(one.unit): one for one in on if plain_unit(one.unit)}
        stacked = chart.mode_of(side) in ("stacked", "percent")
        bars = {plain_unit(one.unit) for one in on if one.kind == "bars"}
        if len(units) < 2 or (stacked and len(bars) > 1):  # then the stack is what is wrong
            continue
        names = quoted([f"{one_line(one.name, longest=30)} ({one.unit})" for one in units.values()])
        return [
            warning(
                "several-units",
                message=f"series of different units share the {side} axis: {names}",
                fix="put one of them on the other axis (secondary=, --secondary), or into a chart of its own",
                where=f"{side} axis",
            )
        ]
    return []


def marks_on_wrong_axis(chart: Chart) -> list[Finding]:
    """Find a mark in percent on an axis that counts: 80 % drawn at a count of 80."""
    found = []
    for one in chart.references:
        own = [series for series in chart.series if series.secondary == (one.axis == "secondary")]
        unit = chart.primary_unit if one.axis == "primary" else chart.secondary_unit
        in_percent = unit == "%" or any(series.unit == "%" for series in own)
        elsewhere = any(series.unit == "%" for series in chart.series if series not in own)
        says = bool(_PERCENT_MARK.search(one.text)) or (not one.text.strip() and one.value in _USUAL)
        if in_percent or not elsewhere or not says or one.upto is not None:
            continue
        other = "secondary" if one.axis == "primary" else "primary"
        shown = f" (“{one_line(one.text, longest=40)}”)" if one.text else ""
        found.append(
            warning(
                "mark-on-wrong-axis",
                message=f"the mark at {one.value:g}{shown} is on the "
                f"{one.axis} axis, which shows no percents: it cuts at a count of {one.value:g}",
                fix=f"draw it on the {other} axis: {one.value:g}@{other}",
                where=f"{one.axis} axis",
            )
        )
    return found
