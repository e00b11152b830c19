"""Where marks should be, and what numbers should say: worked out again, by other means than the planner's."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

import numpy as np

import vantric as vt
from vantric.core.axes import Scale
from vantric.core.layout import Plan

_SLACK = 0.75  # pixels
_NUMBER = re.compile(r"-?(?:\d{1,3}(?:,\d{3})+|\d+)(?:\.(\d+))?(?:e([+-]\d+))?")
#: Letters of short amounts.
_SHORT = {"k": 3, "M": 6, "bn": 9}
_SI = {"p": -12, "n": -9, "µ": -6, "m": -3, "k": 3, "M": 6, "G": 9, "T": 12, "P": 15}


def read_back(text: str, *, si: bool = False) -> tuple[float, float]:
    """Return the number that a text shows, and half of its last digit."""
    found = _NUMBER.search(text)
    assert found is not None, text
    minus = -1 if "-" in text[: found.start()] else 1
    power = int(found[2] or 0)
    letters = re.match(r"k|M|bn", text[found.end() :])
    if letters and not si:
        power += _SHORT[letters[0]]
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


def unaligned(chart: vt.Chart, wishes: Mapping[str, Any]) -> Iterator[str]:
    """Yield every promise of the two value axes that the drawn scales break, and every wish without effect."""
    pair = chart.scales
    sides = (
        {"primary": pair.primary, "secondary": pair.secondary} if chart.secondary_axis else {"primary": pair.primary}
    )
    linear = [scale for scale in sides.values() if scale.kind == "linear"]
    zeros = [float(scale.fraction(0.0)) for scale in linear if scale.lower <= 0 <= scale.upper]
    if pair.policy != "separate" and len(zeros) == 2 and abs(zeros[0] - zeros[1]) > 1e-9:
        yield f"the zeros are at {zeros[0]:.3f} and {zeros[1]:.3f} of the height"
    if pair.policy == "grid":
        heights = [np.asarray(scale.fraction(scale.ticks)) for scale in sides.values()]
        if len(heights[0]) != len(heights[1]) or np.abs(heights[0] - heights[1]).max() > 1e-9:
            yield "the ticks of the two sides do not meet"
    clear = []
    ends = [wishes.get(f"{side}_limits") for side in sides]
    below = any(reach(chart, side)[0] < 0 for side in sides) or any(end and (end[0] or 0) < 0 for end in ends)
    for side, scale in sides.items():
        low, high = reach(chart, side)
        slack = 1e-9 * (scale.upper - scale.lower)
        if not (scale.lower - slack <= low and high <= scale.upper + slack) and not wishes.get("clip"):
            yield f"the {side} axis cuts its data off"
        if scale.kind == "linear" and low >= 0 > scale.lower and not below:
            yield f"the {side} axis runs below zero, and its data do not"
        mode = (chart.secondary_together or chart.together) if side == "secondary" else chart.together
        ends_at = wishes.get(f"{side}_limits")
        clear.append(_clear_ends(scale, low, high, wishes.get("headroom", 0.05), ends_at, percent=mode == "percent"))
    # under proportional and common scales one side may end below the other: the headroom is that of the higher
    held = (
        [all(ends) for ends in clear]
        if pair.policy in ("grid", "separate")
        else [any(e) for e in zip(*clear, strict=True)]
    )
    if not all(held) and not wishes.get("clip"):
        yield f"a free end lies on the frame: {clear}"
    yield from _ignored(chart, sides, wishes)


def _clear_ends(
    scale: Scale, low: float, high: float, headroom: float, limits: Any, *, percent: bool
) -> tuple[bool, bool]:
    """Whether the lower and the upper end of the data have their headroom, or need none: zero, fixed, or full."""
    shares = [float(share) for share in scale.fraction([low, high])]
    fixed = limits or (None, None)
    whole = percent and scale.upper == 100  # the axis of stacks to 100% ends there
    zero = scale.kind == "linear" and scale.lower <= 0 <= scale.upper
    return (
        fixed[0] is not None or (zero and low >= 0) or shares[0] >= headroom * (1 - 1e-3) - 1e-9,
        fixed[1] is not None or whole or (zero and high <= 0) or 1 - shares[1] >= headroom * (1 - 1e-3) - 1e-9,
    )


def _ignored(chart: vt.Chart, sides: Mapping[str, Scale], wishes: Mapping[str, Any]) -> Iterator[str]:
    """Yield every option of the axes that the scales do not hold; one of a side that is not there is refused."""
    if wishes.get("policy", chart.scales.policy) != chart.scales.policy:
        yield f"the policy is {chart.scales.policy}"
    for side in ("primary", "secondary"):
        scale = sides.get(side)
        own = {name: wishes[f"{side}_{name}"] for name in ("zero", "log", "limits") if f"{side}_{name}" in wishes}
        if scale is None:
            if own.get("zero") is not None or own.get("log") or own.get("limits"):
                yield f"there is no {side} axis, and nobody said so"
            continue
        if "zero" in own and (scale.kind == "linear" and scale.lower <= 0 <= scale.upper) != own["zero"]:
            yield f"{side}_zero is without effect"
        if own.get("log") and scale.kind != "log":
            yield f"{side}_log is without effect"
        for end, wish in zip((scale.lower, scale.upper), own.get("limits", (None, None)), strict=True):
            if wish is not None and abs(end - wish) > 1e-9 * (scale.upper - scale.lower):
                yield f"{side}_limits are without effect"
    meet = wishes.get("meet")
    if meet and abs(float(sides["primary"].fraction(meet[0])) - float(sides["secondary"].fraction(meet[1]))) > 1e-9:
        yield "meet is without effect"


def reach(chart: vt.Chart, side: str) -> tuple[float, float]:
    """Return the lowest and the highest value of an axis as it is drawn: stacks, lines and references."""
    own = [one for one in chart.series if (one.axis == "secondary") == (side == "secondary")]
    bars = [one for one in own if one.kind == "bars"]
    values = [value for one in own if one.kind != "bars" for value in one.values if value == value]
    together = (chart.secondary_together or chart.together) if side == "secondary" else chart.together
    stacks: dict[tuple[Any, ...], float] = {}
    for number, one in enumerate(bars):
        stacked = bool(one.stack) or together in ("stacked", "percent")
        for place, value in enumerate(one.values):
            if value == value:
                key = (one.stack if stacked else number, place, value < 0)
                stacks[key] = stacks.get(key, 0.0) + value if stacked else value
    values += stacks.values()
    values += [end for one in chart.references if one.axis == side for end in one.ends]
    return (min(values), max(values)) if values else (0.0, 1.0)


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
