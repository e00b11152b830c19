"""Bars in percent: of what is stacked in a category, of each category, of each series, or of all."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from vantric.core.charting.barplaces import Arrangement
from vantric.core.charting.options import Base
from vantric.core.charting.series import Bars, Series
from vantric.core.numbers.arrays import Floats
from vantric.errors import ChartError


def in_percent(series: Sequence[Series], how: Arrangement, of: Base | None) -> set[str]:
    """Return the names of the series that are drawn in percent: those of one stack, or all bars of one unit."""
    bars = [one for one in series if isinstance(one, Bars)]
    if of is not None:
        unit = bars[0].unit if bars else ""
        return {one.name for one in bars if one.unit == unit}
    wanted = [one for one in bars if how.mode(one) == "percent"]
    heaps = [_stack(one) for one in wanted]
    return {one.name for one, heap in zip(wanted, heaps, strict=True) if heaps.count(heap) > 1}


def percent_values(series: Sequence[Series], names: set[str], of: Base | None) -> list[Series]:
    """Return the series, those named in percent of their base.

    Raises
    ------
    ChartError
        For a value below zero: it is no part of a whole.
    """
    key: Callable[[Series], Any] = _stack if of is None else _axis
    parts = [one for one in series if one.name in names]
    wholes: dict[Any, Floats] = {}
    for one in parts:
        values = np.nan_to_num(np.array(one.values))
        if (values < 0).any():
            raise ChartError(
                f"series '{one.name}' holds values below zero, which are not parts of 100 %; stack the bars"
            )
        wholes[key(one)] = wholes.get(key(one), np.zeros(len(values))) + values
    return [_shares(one, wholes[key(one)], of) if one.name in names else one for one in series]


def _shares(one: Series, whole: Floats, of: Base | None) -> Series:
    values = np.array(one.values)
    base = np.nansum(values) if of == "column" else whole.sum() if of == "all" else whole
    share = 100 * values / np.where(base == 0, np.nan, base)
    return replace(one, values=tuple(share.tolist()), unit="%")


def _axis(one: Series) -> Any:
    return one.secondary


def _stack(one: Series) -> Any:
    return one.axis, one.stack if isinstance(one, Bars) else ""
