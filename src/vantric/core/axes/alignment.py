"""Two value axes that agree."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from functools import partial
from typing import TYPE_CHECKING, TypeAlias

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.axes.grid import grid_scales
from vantric.core.axes.scale import ONE, Scale, linear_scale, nice_step, ticks_between, typed
from vantric.core.axes.scaling import AXES, Pair, Policy, Scaling
from vantric.core.axes.side import Side, ZeroRule, checked_side, limits_of, single_scale
from vantric.core.numbers.number_format import digits_text
from vantric.core.results import TableResult
from vantric.errors import ScaleError

if TYPE_CHECKING:
    from vantric.core.charts import Chart

#: Two heights that differ by less, as a share of the height, are one.
_MEETING = 1e-9
_PLAIN = Scaling()
Bases: TypeAlias = tuple[Fraction, Fraction]
_PLAIN_BASES: Bases = (ONE, ONE)


@dataclass(frozen=True)
class ScalePair(TableResult):
    """A primary and a secondary scale, and what their alignment promises; made by `vantric.align`.

    Attributes
    ----------
    primary, secondary : Scale
    policy
        How they are aligned: ``"grid"``, ``"proportional"``, ``"common"`` or ``"separate"``.
    coverage
        For each side, the span of its data (zero where it is included) over the span of its limits; in decades on a log
        side.
    shared_ticks
        Whether every tick of each side meets a tick of the other.
    clipped
        For each side, whether its limits cut data off.
    fixed
        For each side, whether a limit other than zero was fixed.
    """

    primary: Scale
    secondary: Scale
    policy: str
    coverage: tuple[float, float]
    shared_ticks: bool
    clipped: tuple[bool, bool] = (False, False)
    fixed: tuple[bool, bool] = (False, False)

    _kind = "scales"

    def chart(self) -> Chart:
        """Return the chart of two empty axes."""
        chart: Chart = self._of_kind().public_chart(self)
        return chart


def align(
    primary: tuple[float, float],
    secondary: tuple[float, float],
    scaling: Scaling = _PLAIN,
    zeros: tuple[ZeroRule, ZeroRule] | None = None,
    bases: Bases = _PLAIN_BASES,
) -> ScalePair:
    """Scale two value axes together.

    Parameters
    ----------
    primary, secondary
        The ranges of the data, lower and upper, in the units of each side.
    scaling
        The policy, ``"grid"`` if none is given, or ``"proportional"`` if `meet` is; fixed limits; logarithmic sides;
        whether each side shows zero, which it does if nothing is said; headroom beyond each data end that is neither
        zero nor fixed.
    zeros
        Whether each side shows zero where `scaling` does not say it: ``"shown"`` if not given; ``"free"`` for a side
        that need not. A side that is free does not show it, and a range over zero always includes it.
    bases
        For each side what its nice steps are multiples of: 60 for times in minutes that are shown in hours.

    Raises
    ------
    ScaleError
        For a range that runs downward, is not finite, or is not above zero on a log side; and for options that
        conflict: the message says which two.

    Notes
    -----
    The grid is an optimum over all pairs of nice steps; see ``docs/axes.md`` for the method and its sources.
    """
    check_wishes(scaling)
    text, hidden = "shown", "hidden"
    rules = [
        rule if wish is None else text if wish else hidden
        for wish, rule in zip(scaling.zeros, zeros or (text, text), strict=True)
    ]
    pair, sides = _aligned((primary, secondary), scaling, rules, bases)  # type: ignore[arg-type]
    # What a user wished must be true of the scales, whichever policy made them.
    _check_held(pair, sides, scaling)
    fixed = [any(end not in (None, 0.0) for end in limits or ()) for limits in scaling.limits]
    return replace(pair, fixed=(fixed[0], fixed[1]))


def check_wishes(scaling: Scaling) -> None:
    """Raise `ScaleError` for two options of which one would be without effect."""
    policy = scaling.policy
    if scaling.meet is not None and policy not in (None, "proportional"):
        raise ScaleError(f"meet and policy='{policy}' conflict: two values meet under policy='proportional' only")
    for name, log, zero in zip(AXES, scaling.logs, scaling.zeros, strict=True):
        if log and zero:
            raise ScaleError(f"{name}_zero and {name}_log conflict: zero has no place on a log axis")
        if zero is False and policy_of(scaling) == "proportional":
            raise ScaleError(f"{name}_zero=False and policy='proportional' conflict: zero and zero are one height")
    if policy == "common" and set(scaling.zeros) == {True, False}:
        raise ScaleError("primary_zero and secondary_zero conflict: one common scale shows zero or does not")
    if scaling.clip and scaling.limits == (None, None):
        raise ScaleError("clip is for fixed limits; give primary_limits or secondary_limits, or leave clip out")


def policy_of(scaling: Scaling) -> Policy:
    """Return how two axes are aligned: as it is said, or as the other options mean."""
    return scaling.policy or ("proportional" if scaling.meet else "grid")


def _aligned(
    data: tuple[Pair, Pair], scaling: Scaling, zeros: Sequence[ZeroRule], bases: Bases
) -> tuple[ScalePair, Sequence[Side]]:
    """Return the scales, and the sides as they were scaled."""
    policy, limits, headroom = policy_of(scaling), scaling.limits, scaling.headroom
    if policy == "common":
        return _common(data, scaling, zeros, bases[0])
    sides = [
        checked_side(
            place,
            data[place],
            # Zero and zero can only be one height where both are shown.
            kind="log" if scaling.logs[place] else "linear",
            zero="shown" if policy == "proportional" else zeros[place],
            limits=limits[place],
            clip=scaling.clip,
            base=bases[place],
        )
        for place in (0, 1)
    ]
    if policy == "proportional":
        return _meeting(sides[0], sides[1], scaling.meet or (data[0][1], data[1][1]), headroom), sides
    if policy == "grid":
        left, right, coverage = grid_scales(sides[0], sides[1], headroom)
        return ScalePair(left, right, "grid", coverage, True, (sides[0].clipped, sides[1].clipped)), sides
    left, right = (single_scale(side, headroom) for side in sides)
    return _pair(left, right, "separate", (sides[0], sides[1])), sides


def _check_held(pair: ScalePair, sides: Sequence[Side], scaling: Scaling) -> None:
    """Raise `ScaleError` where the scales do not hold what was wanted of them."""
    for side, scale in zip(sides, (pair.primary, pair.secondary), strict=True):
        if not (side.log or side.zero) and scale.lower <= 0 <= scale.upper:
            cause = "the headroom" if pair.policy != "common" else "the common scale"
            raise ScaleError(
                f"{side.name}_zero=False and {cause} conflict: the {side.name} axis would run from "
                f"{digits_text(scale.lower)} to {digits_text(scale.upper)}; fix its lower limit, or leave it out"
                # Halves, since the difference of two floats may pass the largest one.
            )
        slack = _MEETING * (scale.upper / 2 - scale.lower / 2)
        low, high = (10**side.low, 10**side.high) if side.log else (side.low, side.high)
        if not side.log and not (scale.lower - slack <= low and high <= scale.upper + slack):
            other = AXES[1 - AXES.index(side.name)]
            raise ScaleError(
                f"the limits of the {other} side and the range of the {side.name} side conflict under "
                f"policy='{pair.policy}': the {side.name} axis would end at {digits_text(scale.upper)}"
            )
    if scaling.headroom != _PLAIN.headroom and not any(end for side in sides for end in side.free_ends()):
        raise ScaleError("headroom and the fixed limits conflict: no end of the data is free; leave one of them out")


def _common(
    data: tuple[Pair, Pair], scaling: Scaling, zeros: Sequence[ZeroRule], base: Fraction
) -> tuple[ScalePair, Sequence[Side]]:
    """Return one scale for both sides."""
    if scaling.primary_log != scaling.secondary_log:
        raise ScaleError("one common scale and two kinds of axis conflict: give both sides the same kind")
    if None not in scaling.limits and scaling.primary_limits != scaling.secondary_limits:
        raise ScaleError("one common scale and different limits on its two sides conflict: give the limits once")
    order: tuple[ZeroRule, ...] = ("hidden", "shown", "free")  # a wish comes before what the series need
    rule = next(rule for rule in order if rule in zeros) if True not in scaling.zeros else "shown"
    checked = partial(
        checked_side,
        kind="log" if scaling.primary_log else "linear",
        limits=scaling.primary_limits or scaling.secondary_limits,
        clip=scaling.clip,
        base=base,
    )
    for place in (0, 1):  # each by itself, so that the message names the side
        checked(place, data[place], zero=rule)
    union = min(data[0][0], data[1][0]), max(data[0][1], data[1][1])
    whole = checked(0, union, zero=rule)
    scale = single_scale(whole, scaling.headroom)
    part_rule: ZeroRule = "shown" if whole.zero else rule
    parts = checked(0, data[0], zero=part_rule), checked(1, data[1], zero=part_rule)
    return _pair(scale, scale, "common", parts), (whole, replace(whole, name=AXES[1]))


def _meeting(primary: Side, secondary: Side, meet: tuple[float, float], headroom: float) -> ScalePair:
    """Align two linear scales so that the values of `meet` are one height, and so are zero and zero."""
    if primary.log or secondary.log:
        raise ScaleError("policy='proportional' and a log side conflict: zero has no place on a log axis")
    for value in meet:
        if not (math.isfinite(value) and value != 0):
            raise ScaleError(f"proportional axes meet at values other than zero, not at {value:g}")
    if meet[0] * meet[1] < 0:
        raise ScaleError(f"meet={meet} conflicts with zero on zero: one value is above it and one below")
    ratio = meet[1] / meet[0]
    if not math.isfinite(ratio) or ratio == 0:
        raise ScaleError(f"meet={meet} is too uneven for an axis")
    fixed = tuple(
        _one_end(own, None if other is None else other / ratio, which)
        for own, other, which in zip(primary.fixed, secondary.fixed, ("lower", "upper"), strict=True)
    )
    low = min(primary.low, secondary.low / ratio, meet[0])
    high = max(primary.high, secondary.high / ratio, meet[0])
    both = Side("primary", low, high, log=False, zero=True, fixed=(fixed[0], fixed[1]))
    lower, upper = limits_of(both, headroom)
    scales = [
        _up_to(lower, upper, meet[0], primary.base),
        _up_to(lower * ratio, upper * ratio, meet[1], secondary.base),
    ]
    return _pair(scales[0], scales[1], "proportional", (primary, secondary))


def _one_end(own: float | None, other: float | None, which: str) -> float | None:
    if own is not None and other is not None and not math.isclose(own, other, rel_tol=_MEETING, abs_tol=1e-300):
        raise ScaleError(f"the {which} limits of the two sides conflict: under meet they are not one height")
    return own if own is not None else other


def _up_to(lower: float, upper: float, meet: float, base: Fraction) -> Scale:
    """Return a scale whose ticks are between zero's side and the meeting value, none beyond it."""
    bottom, top = typed(lower), typed(upper)
    bottom, top = (bottom, min(top, typed(meet))) if meet > 0 else (max(bottom, typed(meet)), top)
    step = nice_step(bottom, top, base=base)
    return Scale(lower, upper, ticks_between(bottom, top, step), float(step))


def _pair(left: Scale, right: Scale, policy: str, sides: tuple[Side, Side]) -> ScalePair:
    coverage = tuple(_coverage(scale, side) for scale, side in zip((left, right), sides, strict=True))
    shared, clipped = left is right or _ticks_meet(left, right), (sides[0].clipped, sides[1].clipped)
    return ScalePair(left, right, policy, (coverage[0], coverage[1]), shared, clipped)


def _coverage(scale: Scale, side: Side) -> float:
    lower, upper = scale.lower, scale.upper
    if side.log:
        lower, upper = math.log10(lower), math.log10(upper)
    return (side.high / 2 - side.low / 2) / (upper / 2 - lower / 2)


def proportional(
    primary: float,
    secondary: float,
    *,
    headroom: float = 0.05,
    whole: tuple[bool, bool] = (False, False),
    bases: Bases = _PLAIN_BASES,
) -> ScalePair:
    """Align two scales from zero so that `primary` and `secondary` are one height, and so are zero and zero.

    For a Pareto chart `primary` is the total and `secondary` 100 percent: a point of the cumulative line then
    is exactly as high as its cumulative frequency reads on the primary axis, and the first point is the top
    of the first bar.

    Parameters
    ----------
    primary, secondary
        The pair of values that meet, in the units of each side; above zero.
    headroom
        Share of the height left free above the meeting values, from 0 to below 1.
    whole
        For each side, whether only whole steps make sense.
    bases
        For each side what its nice steps are multiples of.

    Returns
    -------
    ScalePair
        Each side with its own nice ticks, none above its meeting value.

    Raises
    ------
    ScaleError
        If a value is not above zero and finite, or the headroom leaves no height.
    """
    for value in (primary, secondary):
        if not (math.isfinite(value) and value > 0):
            raise ScaleError(f"proportional axes meet at values above zero, not at {value:g}")
    if not 0 <= headroom < 1:
        raise ScaleError(f"headroom is a share of the height from 0 to below 1, not {headroom}")
    left = linear_scale(0, primary, upper=_with_headroom(primary, headroom), whole=whole[0], base=bases[0])
    right = linear_scale(0, secondary, upper=_with_headroom(secondary, headroom), whole=whole[1], base=bases[1])
    return ScalePair(left, right, "proportional", (1 - headroom, 1 - headroom), _ticks_meet(left, right))


def common(upper: float, *, headroom: float = 0.05, whole: bool = False, base: Fraction = ONE) -> ScalePair:
    """Return one scale from zero for both sides, with nice ticks up to `upper`; see `proportional`.

    Raises
    ------
    ScaleError
        If `upper` is not above zero and finite, or the headroom leaves no height.
    """
    pair = proportional(upper, upper, headroom=headroom, whole=(whole, whole), bases=(base, base))
    return replace(pair, policy="common")


def _with_headroom(value: float, headroom: float) -> float:
    upper = value / (1 - headroom)
    if not math.isfinite(upper):
        raise ScaleError(f"{value} is too large for an axis with headroom")
    return upper


def _ticks_meet(left: Scale, right: Scale) -> bool:
    if len(left.ticks) != len(right.ticks):
        return False
    return bool(np.allclose(left.fraction(left.ticks), right.fraction(right.ticks), rtol=_MEETING, atol=_MEETING))
