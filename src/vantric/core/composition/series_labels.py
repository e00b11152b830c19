"""What is written at the marks of a series: values or percents, in as many decimals as tell something."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from vantric.core.charts.bar_places import BarPlace
from vantric.core.charts.series import Area, Bars, Series
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.number_format import NumberStyle, decimals_of, with_unit

_DIGITS = 3  # of the largest value, at least
_OWN = 3  # decimals that values were given with: shown as they are
_MOST_MORE = 3  # decimals beyond the least, for the smallest value and for those that are near each other
#: Beyond so many decimals a float shows its own rounding.
_MOST_DECIMALS = 12
_MANY = 24  # values, which are distinguished; of more, the axis shows enough
_NOISE = 1e-9  # of a value: a difference that is none


def with_labels(
    series: Series, raw: Series, every: Sequence[Series], style: NumberStyle, styles: Sequence[NumberStyle]
) -> Series:
    """Return a series with the texts of its labels.

    Parameters
    ----------
    series
        As it is drawn.
    raw
        As it was given: before it was stacked to 100%.
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
        texts = value_texts(series.values, own, percent=series.unit == "%", short=True)
    else:
        texts = [own.percents(value) if value == value else "" for value in _shares(raw, every, look)]
    if isinstance(series, Bars) and (series.stack or series.unit == "%"):
        texts = ["" if value == 0 else text for text, value in zip(texts, series.values, strict=True)]
    return replace(series, labels=tuple(texts), if_room=look == "auto")


def _shares(series: Series, every: Sequence[Series], of: str) -> list[float]:
    """Return a series in percent of itself, of all like it in each category, or of all of them."""
    values = np.array(series.values)
    alike = [item for item in every if item.kind == series.kind and item.secondary == series.secondary]
    table = np.nan_to_num(np.array([item.values for item in alike]))
    if of == "percent of series":
        whole = np.nansum(values)
    else:
        whole = table.sum(axis=0) if of == "percent of category" else table.sum()
    with np.errstate(divide="ignore", invalid="ignore"):
        percents = 100 * values / whole
    return [float(value) if math.isfinite(value) else math.nan for value in percents]


def value_texts(
    values: Sequence[float], style: NumberStyle, *, percent: bool = False, short: bool = False
) -> list[str]:
    """Return the texts of values; empty where one is missing; `short` ones of large numbers are in thousands or more.

    They have the decimals that the values have; where these are many, as many as tell the values apart.
    """
    there = [_whole(value) for value in values if value == value]
    if percent and style.decimals is None:
        decimals = _percent_decimals(there)
        return [style.percents(value, decimals=decimals) if value == value else "" for value in values]
    if short and not percent and style.is_shortened(there):
        shortened = iter(style.short(there))
        return [next(shortened) if value == value else "" for value in values]
    sign = style.percent_unit if percent else ""
    decimals = _decimals(style.scaled(there), _DIGITS, short=style.si)
    texts = iter(style.amounts(there, most_decimals=decimals))
    return [with_unit(next(texts), sign) if value == value else "" for value in values]


def _whole(value: float) -> Number:
    return int(value) if value == math.floor(value) and abs(value) < 1e15 else value


def _percent_decimals(values: Sequence[Number]) -> int:
    """Return the decimals of percents: none if they are whole, else one, or more that tell them apart."""
    return _apart(values, 1, _MOST_MORE) if any(map(decimals_of, values)) else 0


def _decimals(values: Sequence[Number], digits: int, *, short: bool) -> int:
    """Return how many decimals values are written with: their own, or fewer that tell enough, as `short` ones have."""
    own = max(map(decimals_of, values), default=0)
    sizes = [abs(value) for value in values if value]
    if (own <= _OWN and not short) or not sizes:
        return own
    least = max(0, digits - 1 - _power(max(sizes)))
    smallest = max(least, min(least + _MOST_MORE, 1 - _power(min(sizes))))  # it is not rounded away
    return min(_apart(values, smallest, least + _MOST_MORE), own, _MOST_DECIMALS)


def _apart(values: Sequence[Number], least: int, most: int) -> int:
    """Return with how many decimals values that differ are written differently; `most` if with none."""
    for decimals in range(least, most) if len(values) <= _MANY else ():
        shown_numbers: dict[float, Number] = {}
        if all(
            math.isclose(shown_numbers.setdefault(round(value, decimals), value), value, rel_tol=_NOISE)
            for value in values
        ):
            return decimals
    return max(least, most) if len(values) <= _MANY else least


def _power(size: float) -> int:
    return math.floor(math.log10(size))


def stack_totals(
    bars: Sequence[Bars], places: Sequence[BarPlace], styles: Sequence[NumberStyle]
) -> tuple[tuple[str, ...], ...]:
    """Return the total of each stack, category by category, in the style of its axis."""
    stacks: dict[int, list[BarPlace]] = {}
    style: dict[int, NumberStyle] = {}
    for bar, place in zip(bars, places, strict=True):
        if place.stack is not None:
            stacks.setdefault(place.stack, []).append(place)
            style[place.stack] = styles[1 if bar.secondary else 0]
    stack_totals = []
    for number in sorted(stacks):
        sums = sum(np.nan_to_num(place.high - place.low) for place in stacks[number])
        stack_totals.append(tuple(value_texts(np.asarray(sums).tolist(), style[number], short=True)))
    return tuple(stack_totals)
