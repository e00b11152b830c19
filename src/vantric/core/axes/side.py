"""One side of a pair: the range of its data, what is wanted of it, and its scale where it stands by itself."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction
from typing import Literal, TypeAlias

from vantric.base.lazily import dataclass
from vantric.core.axes.scale import MOST_TICKS, ONE, Scale, as_float, nice_step, ticks_between, typed
from vantric.core.numbers.number_format import digits_text
from vantric.errors import ScaleError

_NAMES = ("primary", "secondary")
#: Beyond it the difference of two ends may pass the largest float.
_LARGEST = 1.5e308
_NOISE = 1e-11  # of an end
_LIMITS = tuple[float | None, float | None] | None
#: Whether an axis shows zero, need not, or must not.
ZeroRule: TypeAlias = Literal["shown", "free", "hidden"]


@dataclass(frozen=True)
class Side:
    """One side, checked.

    Attributes
    ----------
    name
        ``"primary"`` or ``"secondary"``.
    low, high
        The range of its data; with zero, where it is included; in decades on a log side.
    log
        Whether it is a log side.
    zero
        Whether zero is included; if not, the axis of a linear side never shows it.
    fixed
        The limits that are fixed, lower and upper; in decades on a log side.
    clipped
        Whether they cut data off.
    hidden
        Whether zero is kept off by a wish.
    base
        What the nice steps of a linear side are multiples of.
    """

    name: str
    low: float
    high: float
    log: bool
    zero: bool
    fixed: tuple[float | None, float | None] = (None, None)
    clipped: bool = False
    hidden: bool = False
    base: Fraction = ONE

    @property
    def span(self) -> float:
        """From the one end of the data to the other."""
        return self.high - self.low

    def free_ends(self) -> tuple[bool, bool]:
        """Return which data ends get headroom: those that are neither fixed nor zero."""
        return (
            self.fixed[0] is None and (self.log or self.low != 0),
            self.fixed[1] is None and (self.log or self.high != 0),
        )


def checked_side(
    which: int,
    data: tuple[float, float],
    *,
    kind: str,
    zero: ZeroRule,
    limits: _LIMITS,
    clip: bool,
    base: Fraction = ONE,
) -> Side:
    """Return a side, or raise `ScaleError` for what cannot be scaled.

    A range that reaches over zero includes it, whatever the rule.
    """
    name = _NAMES[which]
    low, high = _range(data, name, "data")
    log = kind == "log"
    fixed = _fixed(limits, name)
    if log:
        worst = min(value for value in (low, high, *fixed) if value is not None)
        if worst <= 0:
            raise ScaleError(f"a log axis shows values above zero only, and the {name} side holds {digits_text(worst)}")
        fixed = tuple(None if end is None else math.log10(end) for end in fixed)  # type: ignore[assignment]
        low, high = math.log10(low), math.log10(high)
        low, high = _apart(low, high, 0.5, fixed)
        side = Side(name, low, high, log=True, zero=False, fixed=fixed)
    else:
        includes = zero == "shown" or _reaches_zero(low, high, fixed)
        if includes and zero == "hidden":
            raise ScaleError(_zero_inside(name, low, high, fixed))
        if includes:
            low, high = min(low, 0.0), max(high, 0.0)
            if low == high:
                high = 1.0
        else:
            low, high = _apart(low, high, abs(low) * 0.05 or 1.0, fixed)
        side = Side(name, low, high, log=False, zero=includes, fixed=fixed, hidden=zero == "hidden", base=base)
    return _within_limits(side, clip)


def _reaches_zero(low: float, high: float, fixed: tuple[float | None, float | None]) -> bool:
    """Whether the axis runs over zero: where a limit is fixed, that end counts and not the data's."""
    lower, upper = fixed
    return (low if lower is None else lower) <= 0 <= (high if upper is None else upper)


def _zero_inside(name: str, low: float, high: float, fixed: tuple[float | None, float | None]) -> str:
    what, ends = ("data", (low, high)) if low <= 0 <= high else ("limits", fixed)
    text = " to ".join(digits_text(low if end is None else end) for end in ends)
    return (
        f"{name}_zero=False and the {what} of the {name} side conflict: they run from {text}, and zero is among them; "
        f"leave {name}_zero out"
    )


def _range(data: tuple[float, float], name: str, what: str) -> tuple[float, float]:
    try:
        low, high = (float(value) for value in data)
    except (TypeError, ValueError):
        raise ScaleError(f"the {what} of the {name} side are two numbers, lower and upper, not {data}") from None
    if not (math.isfinite(low) and math.isfinite(high)):
        raise ScaleError(f"the {what} of the {name} side are not finite: {low} and {high}")
    if low > high:
        text = f"{digits_text(low)} is above {digits_text(high)}"
        raise ScaleError(f"the {what} of the {name} side run downward: {text}; exchange them")
    if max(abs(low), abs(high)) > _LARGEST:
        raise ScaleError(
            f"the {what} of the {name} side are too large for an axis: {digits_text(low)} and {digits_text(high)}"
        )
    return low, high


def _fixed(limits: _LIMITS, name: str) -> tuple[float | None, float | None]:
    if limits is None:
        return None, None
    lower, upper = limits
    for end in (lower, upper):
        if end is not None and not math.isfinite(end):
            raise ScaleError(f"a limit of the {name} side is not finite: {end}")
    if lower is not None and upper is not None and lower == upper:
        raise ScaleError(
            f"the limits of the {name} side are one value, {digits_text(lower)}; give two, or leave one out"
        )
    if lower is not None and upper is not None and lower > upper:
        raise ScaleError(
            f"the limits of the {name} side run downward: {digits_text(lower)} is not below {digits_text(upper)}"
        )
    return None if lower is None else float(lower), None if upper is None else float(upper)


def _apart(low: float, high: float, by: float, fixed: tuple[float | None, float | None]) -> tuple[float, float]:
    """Give equal ends some room, but where they are fixed; ends that differ by float noise are equal."""
    if high - low > _NOISE * max(abs(low), abs(high)):
        return low, high
    return low - (by if fixed[0] is None else 0.0), high + (by if fixed[1] is None else 0.0)


def _within_limits(side: Side, clip: bool) -> Side:
    """Refuse limits that cut data off, or cut the data where that is allowed."""
    lower, upper = side.fixed
    low = side.low if lower is None else max(side.low, lower)
    high = side.high if upper is None else min(side.high, upper)
    if (low, high) == (side.low, side.high):
        return side
    ends = " to ".join(digits_text(10**end if side.log else end) for end in (side.low, side.high))
    if not clip:
        raise ScaleError(
            f"the limits of the {side.name} side cut its data off, which run from {ends}; widen them, or allow it "
            "with clip=True"
        )
    if low >= high:
        raise ScaleError(f"the limits of the {side.name} side hold none of its data, which run from {ends}; move them")
    return replace(side, low=low, high=high, zero=side.zero and low <= 0 <= high, clipped=True)


#: Below so many decades, ticks at 2 and 5 stand between the powers of ten.
_FEW_DECADES = 3.0


def limits_of(side: Side, headroom: float) -> tuple[float, float]:
    """Return the limits of one side: what is fixed, else the data with headroom; in decades on a log side."""
    below, above = (headroom if free else 0.0 for free in side.free_ends())
    low = side.low if side.fixed[0] is None else side.fixed[0]
    high = side.high if side.fixed[1] is None else side.fixed[1]
    height = (high / 2 - low / 2) / (1 - below - above) * 2
    return low - below * height, high + above * height


def single_scale(side: Side, headroom: float, *, whole: bool = False) -> Scale:
    """Return a scale for one side: nice steps, or decades with 2 and 5 between them where there are few.

    Parameters
    ----------
    side
        The range and what is wanted of it.
    headroom
        Share of the height left free beyond each data end that is neither zero nor fixed.
    whole
        Whether only whole steps make sense.
    """
    lower, upper = limits_of(side, headroom)
    if side.log:
        return log_scale(lower, upper)
    bottom, top = typed(lower), typed(upper)
    step = nice_step(bottom, top, whole=whole, base=side.base)
    return Scale(lower, upper, ticks_between(bottom, top, step), as_float(step))


def log_scale(lower: float, upper: float) -> Scale:
    """Return a log scale between two powers of ten, given as decades.

    Several decades: ticks at each, or at every k-th where there are many; few: at 1, 2 and 5; less than one: the nice
    steps of a linear axis, at their places on this one.
    """
    low, high = 10**lower, 10**upper
    decades = upper - lower
    first, last = math.floor(lower), math.ceil(upper)
    if decades >= _FEW_DECADES:
        every = max(1, math.ceil(decades / MOST_TICKS))
        exponents = [power for power in range(first, last + 1) if power % every == 0]
        ticks = _inside([float(f"1e{power}") for power in exponents], low, high)
        minor = [float(f"{m}e{power}") for power in range(first, last + 1) for m in (2, 5)] if every == 1 else []
        return Scale(low, high, ticks, float(every), "log", _inside(minor, low, high))
    fine = [float(f"{m}e{power}") for power in range(first - 1, last + 1) for m in (1, 2, 5)]
    ticks = _inside(fine, low, high)
    if len(ticks) < 3:
        bottom, top = Fraction(repr(low)), Fraction(repr(high))
        ticks = ticks_between(bottom, top, nice_step(bottom, top))
    return Scale(low, high, ticks, 0.0, "log")


def _inside(values: list[float], low: float, high: float) -> tuple[float, ...]:
    slack = 1e-12
    return tuple(value for value in values if low * (1 - slack) <= value <= high * (1 + slack))
