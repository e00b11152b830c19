"""The two scales of a combination chart, from the reach of what is on them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from vantric.core.axes import ScalePair, align
from vantric.core.axes.options import Limits, Pair, Policy, Scaling
from vantric.core.axes.side import checked_side
from vantric.core.axes.single import single_scale
from vantric.core.charting.barplaces import Arrangement, bar_places
from vantric.core.charting.references import Reference
from vantric.core.charting.series import FROM_ZERO, Bars, Series
from vantric.core.composing.axischoice import Sides
from vantric.core.numbers.shown import digits_text
from vantric.errors import ChartError, ScaleError

_AXES = ("primary", "secondary")


def scales_of(
    series: Sequence[Series], sides: Sides, look: Scaling, categories: Sequence[str], *, how: Arrangement,
    references: Sequence[Reference],
) -> ScalePair:  # fmt: skip
    """Return the aligned scales.

    Raises
    ------
    ChartError
        For zero or less on a log axis, naming series and category.
    ScaleError
        For options that conflict.
    """
    _check_log(series, look, categories, how)
    zero = tuple(_zero(series, axis, look) for axis in _AXES)
    ranges = [_range(series, axis, references, how, zero=shows) for axis, shows in zip(_AXES, zero, strict=True)]
    if not sides.two:
        return _one(series, ranges[0], zero[0], look)
    whole = tuple(_is_whole(series, axis, how, look) for axis in _AXES)
    found = _two(series, sides, look, ranges, zero, whole)
    scales = zip((found.primary, found.secondary), ranges, zero, look.zeros, strict=True)
    below = tuple(scale.kind == "linear" and scale.lower < 0 <= reach[0] and wish is None and not shows
                  for scale, reach, shows, wish in scales)  # fmt: skip
    if any(below):  # no axis runs below zero for values that do not
        zero = tuple(shows or sinks for shows, sinks in zip(zero, below, strict=True))
        ranges = [
            (min(low, 0.0), high) if shows else (low, high) for (low, high), shows in zip(ranges, zero, strict=True)
        ]
        return _two(series, sides, look, ranges, zero, whole)
    return found


def _is_whole(series: Sequence[Series], axis: str, how: Arrangement, look: Scaling) -> bool:
    """Whether an axis shows stacks to 100 %, and nothing beyond them: it ends there."""
    own = [one for one in series if one.secondary == (axis == "secondary")]
    bars = all(isinstance(one, Bars) and how.mode(one) == "percent" and one.unit == "%" for one in own)
    return bool(own) and bars and not getattr(look, "totals", False)


def _two(
    series: Sequence[Series],
    sides: Sides,
    look: Scaling,
    ranges: Sequence[Pair],
    zero: Sequence[bool],
    whole: Sequence[bool],
) -> ScalePair:
    """Return the scales of two axes that each have series."""
    policy: Policy = look.policy or ("grid" if look.primary_log != look.secondary_log else sides.policy)
    units = {one.unit for one in series if one.unit}
    if policy == "common" and len(units) > 1:
        shown = " and ".join(f"'{unit}'" for unit in sorted(units)[:2])
        raise ScaleError(f"one common scale and two units ({shown}) conflict: take policy grid, or give one unit")
    from_zero = [reach for reach, shows in zip(ranges, zero, strict=True) if shows]
    low, high = (not any(reach[0] < 0 for reach in from_zero)), (not any(reach[1] > 0 for reach in from_zero))
    limits = [_on_the_floor(*one, low=low, high=high) for one in zip(ranges, zero, look.limits, strict=True)]
    limits = [
        (ends[0] if ends else None, 100.0) if full and (ends is None or ends[1] is None) and reach[1] <= 100.0 else ends
        for ends, full, reach in zip(limits, whole, ranges, strict=True)
    ]
    fixed = (limits[0], limits[1]) if policy == "grid" else look.limits
    return align(ranges[0], ranges[1], _scaling(look, policy=policy, limits=fixed, zeros=(zero[0], zero[1])))


def _scaling(look: Scaling, *, policy: Policy, limits: tuple[Limits, Limits], zeros: tuple[bool, bool],
             logs: tuple[bool, bool] | None = None) -> Scaling:  # fmt: skip
    """Return what is wanted of both axes, with what the series on them decide."""
    first, second = look.logs if logs is None else logs
    return Scaling(
        policy=policy, primary_limits=limits[0], secondary_limits=limits[1], primary_log=first, secondary_log=second,
        primary_zero=zeros[0], secondary_zero=zeros[1], meet=look.meet if policy == look.policy else None,
        headroom=look.headroom, clip=look.clip,
    )  # fmt: skip


def _on_the_floor(reach: tuple[float, float], zero: bool, limits: Limits, *, low: bool, high: bool) -> Limits:
    """Fix the lower end at zero where nothing is below it, so that bars are on the axis; the upper end likewise."""
    bottom, top = limits or (None, None)
    if zero and low and bottom is None and reach[0] == 0 < reach[1]:
        bottom = 0.0
    if zero and high and top is None and reach[1] == 0 > reach[0]:
        top = 0.0
    return None if bottom is None and top is None else (bottom, top)


def _one(series: Sequence[Series], reach: tuple[float, float], zero: bool, look: Scaling) -> ScalePair:
    """Return one scale for a chart without a secondary axis."""
    if look.secondary_log or look.secondary_limits is not None or look.policy in ("proportional", "grid") or look.meet:
        raise ScaleError("the secondary axis has no series; put one on it, or leave its options out")
    log, limits = look.primary_log, look.primary_limits
    plain = align(
        reach, reach, _scaling(look, policy="common", limits=(limits, limits), zeros=(zero, zero), logs=(log, log))
    )
    if not all(value == int(value) for one in series for value in one.values if value == value):
        return plain
    side = checked_side(0, reach, kind="log" if log else "linear", zero=zero, limits=limits, clip=look.clip)
    scale = single_scale(side, look.headroom, whole=True)  # no tick at half a piece
    return replace(plain, primary=scale, secondary=scale)


def _zero(series: Sequence[Series], axis: str, look: Scaling) -> bool:
    at = _AXES.index(axis)
    if look.logs[at]:
        return False
    wished = look.zeros[at]
    if wished is not None:
        return wished
    return any(one.kind in FROM_ZERO for one in series if one.secondary == (axis == "secondary"))


def _range(
    series: Sequence[Series], axis: str, references: Sequence[Reference], how: Arrangement, *, zero: bool
) -> tuple[float, float]:
    """Return the lowest and the highest value of an axis, stacks and references included."""
    own = [one for one in series if one.secondary == (axis == "secondary")]
    values = [value for one in own if not isinstance(one, Bars) for value in one.values]
    bars = [one for one in own if isinstance(one, Bars)]
    for place in bar_places(bars, how):
        values += place.high.tolist()
    values += [end for one in references if one.axis == axis for end in one.ends]
    there = np.array([value for value in values if value == value])
    if not len(there):
        return 0.0, 1.0
    low, high = float(there.min()), float(there.max())
    if any(how.mode(one) == "percent" for one in bars) and 99.999 < high < 100.001:
        high = max(100.0, *(end for one in references if one.axis == axis for end in one.ends), 100.0)
    return (min(low, 0.0), max(high, 0.0)) if zero else (low, high)


def _check_log(series: Sequence[Series], look: Scaling, categories: Sequence[str], how: Arrangement) -> None:
    for at, axis in enumerate(_AXES):
        if not look.logs[at]:
            continue
        own = [one for one in series if one.secondary == bool(at)]
        for one in own:
            for label, value in zip(categories, one.values, strict=True):
                if value <= 0:
                    held = f"series '{one.name}' holds {digits_text(value)} at '{label}'"
                    fix = f"take a linear {axis} axis, or leave that category out"
                    raise ChartError(f"a log axis shows values above zero only, and {held}; {fix}")
        places = bar_places([one for one in own if isinstance(one, Bars)], how)
        if any(place.stack is not None for place in places):
            raise ChartError("stacked bars do not add up on a log axis; take a linear one, or group the bars")
