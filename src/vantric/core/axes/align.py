"""Two value axes that agree."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from vantric.core.axes.scale import Scale, linear_scale
from vantric.errors import ScaleError

_MEETING = 1e-9


@dataclass(frozen=True)
class ScalePair:
    """A primary and a secondary scale, and what their alignment promises.

    Attributes
    ----------
    primary, secondary : Scale
    policy
        How they are aligned: ``"proportional"`` or ``"common"``.
    coverage
        For each side, the span of its data (zero included) over the span of its limits.
    shared_ticks
        Whether every tick of each side meets a tick of the other.
    """

    primary: Scale
    secondary: Scale
    policy: str
    coverage: tuple[float, float]
    shared_ticks: bool


def proportional(
    primary: float, secondary: float, *, headroom: float = 0.05, whole: tuple[bool, bool] = (False, False)
) -> ScalePair:
    """Align two scales from zero so that `primary` and `secondary` are one height, and so are zero and zero.

    For a Pareto chart `primary` is the total and `secondary` 100 percent: a point of the cumulative line then
    stands exactly as high as its cumulative frequency reads on the primary axis, and the first point is the top
    of the first bar.

    Parameters
    ----------
    primary, secondary
        The pair of values that meet, in the units of each side; above zero.
    headroom
        Share of the height left free above the meeting values, from 0 to below 1.
    whole
        For each side, whether only whole steps make sense.

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
            raise ScaleError(f"proportional axes meet at values above zero, not at {value}")
    if not 0 <= headroom < 1:
        raise ScaleError(f"headroom is a share of the height from 0 to below 1, not {headroom}")
    left = linear_scale(0, primary, upper=_with_headroom(primary, headroom), whole=whole[0])
    right = linear_scale(0, secondary, upper=_with_headroom(secondary, headroom), whole=whole[1])
    shared = _ticks_meet(left, right)
    return ScalePair(left, right, "proportional", (1 - headroom, 1 - headroom), shared)


def common(upper: float, *, headroom: float = 0.05, whole: bool = False) -> ScalePair:
    """Return one scale from zero for both sides, with nice ticks up to `upper`; see `proportional`.

    Raises
    ------
    ScaleError
        If `upper` is not above zero and finite, or the headroom leaves no height.
    """
    pair = proportional(upper, upper, headroom=headroom, whole=(whole, whole))
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
