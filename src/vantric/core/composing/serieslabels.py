"""What is written at the marks of a series: values or percents, in as many decimals as tell something."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from vantric.core.charting.barplaces import BarPlace
from vantric.core.charting.series import Area, Bars, Series
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.style import NumberStyle

_DIGITS = 3  # of the largest value, at least
_MOST_MORE = 3  # decimals beyond those, for the smallest value


def labeled(
    series: Series, raw: Series, every: Sequence[Series], style: NumberStyle, styles: Sequence[NumberStyle]
) -> Series:
    """Return a series with the texts of its labels.

    Parameters
    ----------
    series
        As it is drawn.
    raw
        As it was given: before it was stacked to 100 %.
    every
        All series as they were given.
    style, styles
        The number signs of the chart, and of its two axes.
    """
    look = series.labels
    if not isinstance(look, str):
        return series
    if look == "none" or (look == "auto" and isinstance(series, Area)):
        return replace(series, labels=())
    own = series.style or styles[1 if series.secondary else 0]
    if look in ("auto", "value"):
        texts = value_texts(series.values, own, percent=series.unit == "%")
    else:
        texts = [own.percents(value) if value == value else "" for value in _shares(raw, every, look)]
    if isinstance(series, Bars) and (series.stack or series.unit == "%"):
        texts = ["" if value == 0 else text for text, value in zip(texts, series.values, strict=True)]
    return replace(series, labels=tuple(texts), if_room=look == "auto")


def _shares(series: Series, every: Sequence[Series], of: str) -> list[float]:
    """Return a series in percent of itself, of all like it in each category, or of all of them."""
    values = np.array(series.values)
    alike = [one for one in every if one.kind == series.kind and one.secondary == series.secondary]
    table = np.nan_to_num(np.array([one.values for one in alike]))
    if of == "percent of series":
        whole = np.nansum(values)
    else:
        whole = table.sum(axis=0) if of == "percent of category" else table.sum()
    with np.errstate(divide="ignore", invalid="ignore"):
        found = 100 * values / whole
    return [float(value) if math.isfinite(value) else math.nan for value in found]


def value_texts(values: Sequence[float], style: NumberStyle, *, percent: bool = False) -> list[str]:
    """Return the texts of values; empty where one is missing."""
    there = [value for value in values if value == value]
    if percent and style.decimals is None:
        return [style.percents(value) if value == value else "" for value in values]
    if percent:
        return [style.amount(value) + style.percent_sign if value == value else "" for value in values]
    sizes = [abs(value) for value in there if value]
    decimals = max(0, _DIGITS - 1 - _power(max(sizes))) if sizes else 0
    if sizes:  # the smallest is not rounded away
        decimals = max(decimals, min(decimals + _MOST_MORE, -_power(min(sizes)) + 1))
    plain: list[Number] = [int(value) if value == int(value) and abs(value) < 1e15 else value for value in there]
    texts = iter(style.amounts([_rounded(value, decimals) for value in plain], most_decimals=min(decimals, 12)))
    return [next(texts) if value == value else "" for value in values]


def _power(size: float) -> int:
    return math.floor(math.log10(size))


def _rounded(value: Number, decimals: int) -> Number:
    if isinstance(value, int) or decimals > 12:
        return value
    found = round(value, decimals)
    return int(found) if found == int(found) else found


def stack_totals(places: Sequence[BarPlace], style: NumberStyle) -> tuple[tuple[str, ...], ...]:
    """Return the total of each stack, category by category."""
    stacks: dict[int, list[BarPlace]] = {}
    for place in places:
        if place.stack is not None:
            stacks.setdefault(place.stack, []).append(place)
    found = []
    for number in sorted(stacks):
        sums = sum(np.nan_to_num(place.high - place.low) for place in stacks[number])
        found.append(tuple(value_texts(np.asarray(sums).tolist(), style)))
    return tuple(found)
