"""Where marks should be, and what numbers should say: worked out again, by other means than the planner's."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Sequence

import vantric as vt
from vantric.core.planning import Plan

_SLACK = 0.75  # pixels
_NUMBER = re.compile(r"-?(?:\d{1,3}(?:,\d{3})+|\d+)(?:\.(\d+))?(?:e([+-]\d+))?")
_SI = {"p": -12, "n": -9, "µ": -6, "m": -3, "k": 3, "M": 6, "G": 9, "T": 12, "P": 15}


def read_back(text: str, *, si: bool = False) -> tuple[float, float]:
    """Return the number that a text shows, and half of its last digit."""
    found = _NUMBER.search(text)
    assert found is not None, text
    minus = -1 if "-" in text[: found.start()] else 1
    power = int(found[2] or 0)
    if si:
        behind = text[found.end() :].strip()[:1]
        power += _SI.get(behind, 0)
    plain = minus * float(found[0].replace(",", "")) * (10 ** (power - int(found[2] or 0)))
    return plain, 0.5 * 10.0 ** (power - len(found[1] or ""))


def misread(chart: vt.Chart, *, si: bool = False) -> Iterator[str]:
    """Yield every number at a mark or a tick that is farther from its value than half of its last digit."""
    for one in chart.series:
        for text, value in zip(one.texts, one.values, strict=False):
            if text and value == value:
                shown, half = read_back(text, si=si)
                if abs(shown - value) > half * (1 + 1e-6) + 1e-9 * abs(value):
                    yield f"'{one.name}' says {text} of {value!r}"
    plan = chart.plan()
    ticks = {mark.text for mark in plan.texts if mark.role == "tick"}
    known = [*chart.scales.primary.ticks, *chart.scales.secondary.ticks]
    for text in ticks:
        shown, half = read_back(text, si=si)
        if not any(abs(shown - value) <= half * (1 + 1e-6) + 1e-9 * abs(value) for value in known):
            yield f"a tick says {text}"


def misplaced(chart: vt.Chart) -> Iterator[str]:
    """Yield every bar and every point that is not where its value says."""
    plan = chart.plan()
    yield from _points(chart, plan)
    yield from _bars(chart, plan)


def _height(chart: vt.Chart, plan: Plan, secondary: bool, value: float) -> float:
    """Return where a value is along its axis, in pixels."""
    scale = chart.scales.secondary if secondary else chart.scales.primary
    low, high = scale.lower, scale.upper
    if scale.kind == "log":
        share = 0.0 if value <= 0 else math.log(value / low) / math.log(high / low)
    else:
        share = (value - low) / (high - low)
    share = min(max(share, 0.0), 1.0)
    left, bottom, right, top = plan.frame
    return left + share * (right - left) if plan.horizontal else bottom + share * (top - bottom)


def _middle(chart: vt.Chart, plan: Plan, at: int) -> float:
    left, bottom, right, top = plan.frame
    count = len(chart.categories)
    if plan.horizontal:
        return top - (at + 0.5) * (top - bottom) / count
    centers = plan.centers.tolist()
    width = (right - left) / count if chart.legend != "ends" else centers[1] - centers[0] if count > 1 else right - left
    return left + (at + 0.5) * width if chart.legend != "ends" else centers[at]


def _points(chart: vt.Chart, plan: Plan) -> Iterator[str]:
    marked = [one for one in chart.series if one.kind != "bars"]
    for one, points in zip(marked, plan.point_sets, strict=True):
        for at, value in enumerate(one.values):
            if value != value:
                continue
            along, up = _middle(chart, plan, at), _height(chart, plan, one.axis == "secondary", value)
            x, y = (up, along) if plan.horizontal else (along, up)
            if abs(points.xs[at] - x) > _SLACK or abs(points.ys[at] - y) > _SLACK:
                yield f"'{one.name}' at {at}: {points.xs[at]:.1f}, {points.ys[at]:.1f} and not {x:.1f}, {y:.1f}"


def _bars(chart: vt.Chart, plan: Plan) -> Iterator[str]:
    bars = [one for one in chart.series if one.kind == "bars"]
    count = len(chart.categories)
    sums: dict[tuple[object, ...], list[float]] = {}
    for number, one in enumerate(bars):
        secondary = one.axis == "secondary"
        together = (chart.secondary_together or chart.together) if secondary else chart.together
        stacked = one.stack or together in ("stacked", "percent")
        for at, value in enumerate(one.values):
            edge = plan.bars.edges[number * count + at].tolist()
            if value != value:
                if _long(edge, plan) > _SLACK:
                    yield f"'{one.name}' at {at} is missing and has a bar"
                continue
            key = (secondary, one.stack if stacked else number, at, value < 0)
            before = sums.setdefault(key, [0.0])[0] if stacked else 0.0
            sums[key] = [before + value]
            ends = sorted((_height(chart, plan, secondary, before), _height(chart, plan, secondary, before + value)))
            drawn = [edge[0], edge[2]] if plan.horizontal else [edge[1], edge[3]]
            if any(abs(a - b) > _SLACK for a, b in zip(ends, drawn, strict=True)):
                yield f"'{one.name}' at {at}: {drawn} and not {ends}"
            middle, half = _middle(chart, plan, at), _slot(chart, plan) / 2
            across = [edge[1], edge[3]] if plan.horizontal else [edge[0], edge[2]]
            if across[0] < middle - half - _SLACK or across[1] > middle + half + _SLACK:
                yield f"'{one.name}' at {at} leaves its category"


def _slot(chart: vt.Chart, plan: Plan) -> float:
    centers: Sequence[float] = plan.centers.tolist()
    if len(centers) > 1:
        return abs(centers[1] - centers[0])
    return plan.frame.height if plan.horizontal else plan.frame.width


def _long(edge: Sequence[float], plan: Plan) -> float:
    return edge[2] - edge[0] if plan.horizontal else edge[3] - edge[1]
