"""Findings over units: several on one axis, and marks on an axis of another unit."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from vantric.core.numbers.number_format import one_line, quoted
from vantric.core.review.finding import Finding, warning

if TYPE_CHECKING:
    from vantric.core.charts import Chart

_SAME = {
    "percent": "%",
    "pct": "%",
    "per cent": "%",
    "pcs": "pieces",
    "pc": "pieces",
    "piece": "pieces",
    "hours": "h",
    "hour": "h",
    "hrs": "h",
    "hr": "h",
    "minutes": "min",
    "minute": "min",
    "mins": "min",
    "€": "eur",
    "euro": "eur",
    "euros": "eur",
    "$": "usd",
    "£": "gbp",
    "tonnes": "t",
    "tons": "t",
    "ton": "t",
    "days": "d",
    "day": "d",
    "records": "",
    "count": "",
}
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
    """Find a mark in percent on an axis that counts: 80 % drawn at a count of 80, as a mark or as a level line."""
    marks = [(one.value, one.text, one.axis == "secondary") for one in chart.references if one.upto is None]
    marks += [
        (one.values[0], one.name, one.secondary)
        for one in chart.series
        if one.kind == "line" and len(one.values) > 1 and len(set(one.values)) == 1 and not one.unit
    ]
    found = []
    for value, text, secondary in marks:
        own = [one for one in chart.series if one.secondary == secondary]
        unit = chart.secondary_unit if secondary else chart.primary_unit
        in_percent = unit == "%" or any(one.unit == "%" for one in own)
        elsewhere = any(one.unit == "%" for one in chart.series if one not in own)
        says = bool(_PERCENT_MARK.search(text)) or (not text.strip() and value in _USUAL)
        if not in_percent and elsewhere and says:
            found.append(_on_wrong_axis(value, text, secondary=secondary))
    return found


def _on_wrong_axis(value: float, text: str, *, secondary: bool) -> Finding:
    side, other = ("secondary", "primary") if secondary else ("primary", "secondary")
    shown = f" (“{one_line(text, longest=40)}”)" if text else ""
    return warning(
        "mark-on-wrong-axis",
        message=f"the mark at {value:g}{shown} is on the {side} axis, which shows no percents: it cuts at a count of "
        f"{value:g}",
        fix=f"draw it on the {other} axis: {value:g}@{other}",
        where=f"{side} axis",
    )
