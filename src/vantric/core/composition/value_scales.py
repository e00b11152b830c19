"""Which series is on which axis, as the user says or as units and reach suggest, and the two scales that follow."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence, Set
from dataclasses import replace
from fractions import Fraction
from typing import Any

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.axes import ScalePair, Suggestion, align, suggest_axes
from vantric.core.axes.alignment import Bases, check_wishes, policy_of
from vantric.core.axes.scaling import Limits, Pair, Scaling
from vantric.core.axes.side import ZeroRule, checked_side, single_scale
from vantric.core.charts.bar_places import Arrangement, bar_places
from vantric.core.charts.references import Reference
from vantric.core.charts.series import FROM_ZERO, Axis, Bars, Series
from vantric.core.counts.provenance import Note
from vantric.core.numbers.number_format import clock_step, digits_text, listed, one_line
from vantric.errors import ChartError, ScaleError
from vantric.options import known_options


@dataclass(frozen=True)
class AxisChoice:
    """The series, each on its axis.

    Attributes
    ----------
    series
        All of them.
    remarks
        What was decided for the user.
    raw
        The series in their own units, before they are in percent.
    """

    series: tuple[Series, ...]
    remarks: tuple[Note, ...] = ()
    raw: tuple[Series, ...] = ()

    @property
    def two(self) -> bool:
        """Whether there is a secondary axis."""
        return any(series.secondary for series in self.series)

    def on(self, axis: str) -> list[Series]:
        """Return the series of an axis."""
        return [series for series in self.series if series.secondary == (axis == "secondary")]

    def unit(self, axis: str) -> str:
        """Return the one unit of an axis; empty if there are several or none."""
        units = {series.unit for series in self.on(axis)}
        return units.pop() if len(units) == 1 else ""


def choose_sides(
    series: Sequence[Series], how: Arrangement, *, percent: Set[str] = frozenset(), references: Sequence[Reference] = ()
) -> AxisChoice:
    """Put each series on an axis; those named in `percent` will be in percent.

    Raises
    ------
    ChartError
        If every series, or a reference alone, is on the secondary axis.
    ScaleError
        If there are more than two units to choose for.
    """
    units = {item.name: item.unit for item in series}
    series = [replace(item, unit="%") if item.name in percent else item for item in series]
    if any(item.axis for item in series):
        if all(item.secondary for item in series):
            raise ChartError("every series is on the secondary axis; leave one at least on the primary")
        choice = AxisChoice(tuple(replace(item, axis=item.axis or "primary") for item in series))
    else:
        choice = _suggested(series, how)
    raw = tuple(replace(item, unit=units[item.name]) if item.name in percent else item for item in choice.series)
    if not choice.two and any(reference.axis == "secondary" for reference in references):
        raise ChartError("the secondary axis has no series, but a reference; put a series on it too")
    return replace(choice, raw=raw)


def _suggested(series: Sequence[Series], how: Arrangement) -> AxisChoice:
    """Let units and reach decide; bars of one stack stay together."""
    heaps: dict[str, list[Series]] = {}
    for item in sorted(
        series, key=lambda entry: not isinstance(entry, Bars)
    ):  # bars are on the primary axis if they can
        stacked = isinstance(item, Bars) and (item.stack or how.mode(item) != "grouped")
        key = f"stack {item.stack}" if isinstance(item, Bars) and stacked else f"= {item.name}"
        heaps.setdefault(key, []).append(item)
    if len(heaps) == 1:
        return AxisChoice(tuple(replace(entry, axis="primary") for entry in series))
    names = {key: listed([entry.name for entry in heap], most=3) for key, heap in heaps.items()}
    if all(isinstance(entry, Bars) and not entry.unit and _counts(entry) for entry in series):  # counts are of one unit
        return AxisChoice(tuple(replace(entry, axis="primary") for entry in series))
    values = {names[key]: _summed(heap) for key, heap in heaps.items()}
    units = {names[key]: heap[0].unit for key, heap in heaps.items()}
    bars = {names[key] for key, heap in heaps.items() if isinstance(heap[0], Bars)}
    suggestion, right = _bars_first(values, units, bars)
    other = {entry.name for key, heap in heaps.items() if names[key] in right for entry in heap}
    placed = tuple(replace(entry, axis="secondary" if entry.name in other else "primary") for entry in series)
    if not other:
        return AxisChoice(placed)
    text = listed([f"“{one_line(entry.name, longest=40)}”" for entry in series if entry.name in other], most=4)
    stated = f"the secondary axis was chosen for {text}: {suggestion.reason.rstrip('.')}"
    return AxisChoice(placed, (Note("axis-chosen", stated),))


def _bars_first(
    values: Mapping[str, Sequence[float]], units: Mapping[str, str], bars: Set[str]
) -> tuple[Suggestion, Set[str]]:
    """Return what is suggested, and who goes to the secondary axis: no bars beside lines because they are small."""
    suggestion = suggest_axes(values, units=units)
    small = set(suggestion.secondary)
    if any(units.values()) or not bars & small or bars == set(values):
        return suggestion, small
    if bars <= small:  # the large ones give way
        return suggestion, set(values) - small
    rest = {name: numbers for name, numbers in values.items() if name not in bars & small}
    suggestion = suggest_axes(rest)
    return suggestion, set(suggestion.secondary)


def _counts(series: Series) -> bool:
    return all(value >= 0 and value == int(value) for value in series.values if value == value)


def _summed(heap: Sequence[Series]) -> list[float]:
    if len(heap) == 1:
        return list(heap[0].values)
    columns = zip(*(series.values for series in heap), strict=True)
    return [sum(value for value in column if value == value) for column in columns]


AXES: tuple[Axis, Axis] = ("primary", "secondary")
#: Where stacks of percents end.
_FULL = 100.0
_ZERO_COST = 1 / 3  # of the height, at most, for zero on one of two axes whose series do not need it
_PLAIN_HEADROOM = Scaling().headroom


def scales_of(
    series: Sequence[Series],
    sides: AxisChoice,
    look: Scaling,
    categories: Sequence[str],
    *,
    how: Arrangement,
    references: Sequence[Reference],
) -> ScalePair:
    """Return the aligned scales.

    Raises
    ------
    ChartError
        For zero or less on a log axis, naming series and category.
    ScaleError
        For options that conflict.
    """
    check_wishes(look)
    _check_log(series, look, categories, how)
    ranges = [_range(series, axis, references, how) for axis in AXES]
    rules = [_zero_rule(series, axis, look, reach, two=sides.two) for axis, reach in zip(AXES, ranges, strict=True)]
    whole = tuple(_is_whole(series, axis, how, look) for axis in AXES)
    bases = _base(series, "primary", ranges[0], look), _base(series, "secondary", ranges[1], look)
    first: ScaleError | None = None
    for zeros in _relaxed(rules):  # as little zero as need be
        try:
            if not sides.two:
                return _one(series, ranges[0], zeros[0], look, bases[0])
            return _two(series, look, ranges, zeros, whole, bases)
        except ScaleError as error:  # the first wish that fails is the user's, the later ones are ours
            first = first or error
    assert first is not None
    raise first


def _base(series: Sequence[Series], axis: Axis, reach: Pair, look: Scaling) -> Fraction:
    """Return what the steps of an axis are multiples of: hours, where all its series are times of some hours."""
    units = {item.unit for item in series if item.secondary == (axis == "secondary")}
    clock = getattr(look, "clock", None) or (units.pop() if len(units) == 1 else None)
    return clock_step(clock, max(reach[1], 0.0) - min(reach[0], 0.0))


def _relaxed(rules: Sequence[ZeroRule]) -> Iterator[tuple[ZeroRule, ZeroRule]]:
    """Yield the rules of both axes, then those with zero on the axes that need not show it, the secondary first."""
    primary, secondary = ([rule, "shown"] if rule == "free" else [rule] for rule in rules)
    for zero in primary:
        for other in secondary:
            yield zero, other  # type: ignore[misc]


def _is_whole(series: Sequence[Series], axis: str, how: Arrangement, look: Scaling) -> bool:
    """Whether an axis shows stacks to 100%, and nothing beyond them: it ends there."""
    own = [item for item in series if item.secondary == (axis == "secondary")]
    bars = all(isinstance(item, Bars) and how.mode(item) == "percent" and item.unit == "%" for item in own)
    return bool(own) and bars and not getattr(look, "totals", False)


def _two(
    series: Sequence[Series],
    look: Scaling,
    ranges: Sequence[Pair],
    zeros: tuple[ZeroRule, ZeroRule],
    whole: Sequence[bool],
    bases: Bases,
) -> ScalePair:
    """Return the scales of two axes that each have series."""
    policy = policy_of(look)
    units = {item.unit for item in series if item.unit}
    if policy == "common" and len(units) > 1:
        text = " and ".join(f"'{unit}'" for unit in sorted(units)[:2])
        raise ScaleError(f"one common scale and two units ({text}) conflict: take policy grid, or give one unit")
    if policy != "grid":
        return align(ranges[0], ranges[1], _scaling(look), zeros, bases)
    linear = [
        (low, high) if log or (rule != "shown" and not low <= 0 <= high) else (min(low, 0.0), max(high, 0.0))
        for (low, high), rule, log in zip(ranges, zeros, look.logs, strict=True)
    ]
    from_zero = [reach for reach in linear if reach[0] <= 0 <= reach[1]]
    # Where nothing hangs below zero on either side, both axes begin there and no headroom is lost.
    floor, ceiling = (not any(reach[0] < 0 for reach in from_zero)), (not any(reach[1] > 0 for reach in from_zero))
    limits = [
        _ended(_on_the_floor(reach, ends, low=floor, high=ceiling), look, full=full and reach[1] <= _FULL)
        for reach, ends, full in zip(linear, look.limits, whole, strict=True)
    ]
    scaling = _scaling(look, primary_limits=limits[0], secondary_limits=limits[1])
    return align(ranges[0], ranges[1], scaling, zeros, bases)


def _scaling(look: Scaling, **changes: Any) -> Scaling:
    """Return what is wanted of both axes, without the other options of a look."""
    return Scaling(**{name: getattr(look, name) for name in known_options(Scaling)} | changes)


def _ended(limits: Limits, look: Scaling, *, full: bool) -> Limits:
    """End the axis of stacks to 100% there, where nothing else is wanted."""
    if not full or (limits and limits[1] is not None) or look.headroom != _PLAIN_HEADROOM:
        return limits
    return limits[0] if limits else None, _FULL


def _on_the_floor(reach: Pair, limits: Limits, *, low: bool, high: bool) -> Limits:
    """Fix the lower end at zero where nothing is below it, so that bars are on the axis; the upper end likewise."""
    bottom, top = limits or (None, None)
    if low and bottom is None and reach[0] == 0 <= reach[1]:
        bottom = 0.0
    if high and top is None and reach[1] == 0 > reach[0]:
        top = 0.0
    return None if bottom is None and top is None else (bottom, top)


def _one(series: Sequence[Series], reach: Pair, zero: ZeroRule, look: Scaling, base: Fraction) -> ScalePair:
    """Return one scale for a chart without a secondary axis."""
    changed = _scaling(look).changed()
    for name in ("secondary_log", "secondary_limits", "secondary_zero", "meet", "policy"):
        if name in changed and changed[name] != "common":
            raise ScaleError(f"the secondary axis has no series, but {name}; put one on it, or leave its options out")
    log, limits = look.primary_log, look.primary_limits
    scaling = _scaling(look, policy="common", secondary_limits=limits, secondary_log=log)
    plain = align(reach, reach, scaling, (zero, zero), (base, base))
    if not all(value == int(value) for item in series for value in item.values if value == value):
        return plain
    rule: ZeroRule = "shown" if look.primary_zero else zero
    side = checked_side(0, reach, kind="log" if log else "linear", zero=rule, limits=limits, clip=look.clip, base=base)
    scale = single_scale(side, look.headroom, whole=True)  # no tick at half a piece
    return replace(plain, primary=scale, secondary=scale)


def _zero_rule(series: Sequence[Series], axis: Axis, look: Scaling, reach: Pair, *, two: bool) -> ZeroRule:
    """Return whether an axis shows zero: as is wished, as its series need it, or beside another where it is cheap."""
    place = AXES.index(axis)
    wish = look.zeros[place]
    if look.logs[place]:
        return "free"
    if wish is not None:
        return "shown" if wish else "hidden"
    own = [item for item in series if item.secondary == (axis == "secondary")]
    if any(item.kind in FROM_ZERO for item in own):
        return "shown"
    return "shown" if two and _zero_is_cheap(reach, look.limits[place]) else "free"


def _zero_is_cheap(reach: Pair, limits: Limits) -> bool:
    """Whether zero costs at most a third of the height, and no limit keeps it off."""
    lower, upper = limits or (None, None)
    low, high = reach[0] if lower is None else lower, reach[1] if upper is None else upper
    if low > 0:
        return lower is None and low <= _ZERO_COST * high
    return high >= 0 or (upper is None and high >= _ZERO_COST * low)


def _range(
    series: Sequence[Series],
    axis: str,
    references: Sequence[Reference],
    how: Arrangement,
) -> Pair:
    """Return the lowest and the highest value of an axis, stacks and references included."""
    own = [item for item in series if item.secondary == (axis == "secondary")]
    values = [value for item in own if not isinstance(item, Bars) for value in item.values]
    bars = [item for item in own if isinstance(item, Bars)]
    for place in bar_places(bars, how):
        values += place.high.tolist()
    values += [end for reference in references if reference.axis == axis for end in reference.ends]
    there = np.array([value for value in values if value == value])
    if not len(there):
        return 0.0, 1.0
    low, high = float(there.min()), float(there.max())
    if any(how.mode(bar) == "percent" for bar in bars) and 99.999 < high < 100.001:
        # Rounded percents of a stack add up to 100 but for a hair.
        high = max(100.0, *(end for reference in references if reference.axis == axis for end in reference.ends), 100.0)
    return low, high


def _check_log(series: Sequence[Series], look: Scaling, categories: Sequence[str], how: Arrangement) -> None:
    for index, axis in enumerate(AXES):
        if not look.logs[index]:
            continue
        own = [entry for entry in series if entry.secondary == bool(index)]
        for item in own:
            for label, value in zip(categories, item.values, strict=True):
                if value <= 0:
                    text = f"series '{item.name}' holds {digits_text(value)} at '{label}'"
                    fix = f"take a linear {axis} axis, or leave that category out"
                    raise ChartError(f"a log axis shows values above zero only, and {text}; {fix}")
        places = bar_places([entry for entry in own if isinstance(entry, Bars)], how)
        if any(place.stack is not None for place in places):
            raise ChartError("stacked bars do not add up on a log axis; take a linear one, or group the bars")
