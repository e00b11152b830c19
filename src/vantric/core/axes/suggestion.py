"""Which series belongs on which axis."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping

from vantric.base.arithmetic import own_arithmetic
from vantric.base.lazily import dataclass
from vantric.core.axes.scaling import Policy
from vantric.core.numbers.number_format import listed, number_text, one_line
from vantric.errors import ScaleError

_LEAST = 0.1  # of the height


@dataclass(frozen=True)
class Suggestion:
    """Where each series goes, and why.

    Attributes
    ----------
    primary, secondary : tuple of str
        The names of the series on each side; the secondary may be empty.
    policy
        ``"grid"`` for two axes; ``"common"`` for one.
    reason
        One sentence.
    reach
        Series -> the share of the height it would use on one scale with all the others, zero included.
    """

    primary: tuple[str, ...]
    secondary: tuple[str, ...]
    policy: Policy
    reason: str
    reach: Mapping[str, float]


@own_arithmetic
def suggest_axes(series: Mapping[str, Iterable[float]], *, units: Mapping[str, str] | None = None) -> Suggestion:
    """Say which series belongs on which axis.

    Units decide first: different units never share an axis, and series of one unit always do. Where no unit is given,
    reach decides: a series that would use less than a tenth of the height beside the others is put on the secondary
    axis.

    Parameters
    ----------
    series
        Name -> its values; missing ones (None, NaN) are passed over.
    units
        Name -> its unit; all are alike where none is given.

    Raises
    ------
    ScaleError
        If there is no series, one holds no number, or there are more than two units.
    """
    if not series:
        raise ScaleError("there is no series to put on an axis")
    ends = {name: _ends(name, values) for name, values in series.items()}
    named = dict(units or {})
    strange = [name for name in named if name not in ends]
    if strange:
        raise ScaleError(f"there is no series '{strange[0]}', which is given a unit")
    reach = _reach(ends)
    kinds = list(dict.fromkeys(named.get(name, "") for name in ends))
    if len(kinds) > 2:
        text = listed([f"'{one_line(kind)}'" if kind else "none" for kind in kinds])
        raise ScaleError(f"{len(kinds)} units ({text}) need more than two axes: draw them in two charts")
    if len(kinds) == 2:
        first = tuple(name for name in ends if named.get(name, "") == kinds[0])
        second = tuple(name for name in ends if named.get(name, "") == kinds[1])
        item, other = (f"in {kind}" if kind else "without a unit" for kind in kinds)
        reason = f"{_names(second)} {_is(second)} {other} and {_names(first)} {_is(first)} {item}"
        reason += ": different units share no axis."
        return Suggestion(first, second, "grid", reason, reach)
    if kinds[0]:
        reason = f"one unit ({one_line(kinds[0])}) is one scale."
        return Suggestion(tuple(ends), (), "common", reason, reach)
    small = tuple(name for name in ends if reach[name] < _LEAST)
    large = tuple(name for name in ends if name not in small)
    if not small or not large:
        least = min(reach, key=lambda name: reach[name])
        reach_kept = f"even {_names((least,))} keeps {_percent(reach[least])} of the height"
        reason = f"one unit and like reach share one scale: {reach_kept}."
        return Suggestion(tuple(ends), (), "common", reason, reach)
    most = ("at most " if len(small) > 1 else "") + _percent(max(reach[name] for name in small))
    reason = f"{_names(small)} would use {most} of the height beside {_names(large)}: less than a tenth."
    return Suggestion(large, small, "grid", reason, reach)


def _ends(name: str, values: Iterable[float]) -> tuple[float, float]:
    numbers = [float(value) for value in values if value is not None and not math.isnan(float(value))]
    if not numbers:
        raise ScaleError(f"series '{name}' holds no number")
    if not all(map(math.isfinite, numbers)):
        raise ScaleError(f"series '{name}' holds a number that is not finite")
    return min(numbers), max(numbers)


def _reach(ends: Mapping[str, tuple[float, float]]) -> dict[str, float]:
    low = min(0.0, *(end[0] for end in ends.values()))
    high = max(0.0, *(end[1] for end in ends.values()))
    whole = high - low or 1.0
    return {name: (max(end[1], 0.0) - min(end[0], 0.0)) / whole for name, end in ends.items()}


def _names(names: tuple[str, ...]) -> str:
    return listed([f"“{one_line(name, longest=40)}”" for name in names], most=4)


def _is(names: tuple[str, ...]) -> str:
    return "is" if len(names) == 1 else "are"


def _percent(share: float) -> str:
    return f"{number_text(round(100 * share, 1))}%"
