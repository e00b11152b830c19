"""Which series is on which axis: as the user says, or as units and reach suggest."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass, replace

from vantric.core.axes import Suggestion, suggest_axes
from vantric.core.charts.bar_places import Arrangement
from vantric.core.charts.references import Reference
from vantric.core.charts.series import Bars, Series
from vantric.core.counts.provenance import Remark
from vantric.core.numbers.number_format import listed, one_line
from vantric.errors import ChartError


@dataclass(frozen=True)
class Sides:
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
    remarks: tuple[Remark, ...] = ()
    raw: tuple[Series, ...] = ()

    @property
    def two(self) -> bool:
        """Whether there is a secondary axis."""
        return any(one.secondary for one in self.series)

    def on(self, axis: str) -> list[Series]:
        """Return the series of an axis."""
        return [one for one in self.series if one.secondary == (axis == "secondary")]

    def unit(self, axis: str) -> str:
        """Return the one unit of an axis; empty if there are several or none."""
        units = {one.unit for one in self.on(axis)}
        return units.pop() if len(units) == 1 else ""


def choose_sides(
    series: Sequence[Series], how: Arrangement, *, percent: Set[str] = frozenset(), references: Sequence[Reference] = ()
) -> Sides:
    """Put each series on an axis; those named in `percent` will be in percent.

    Raises
    ------
    ChartError
        If every series, or a reference alone, is on the secondary axis.
    ScaleError
        If there are more than two units to choose for.
    """
    units = {one.name: one.unit for one in series}
    series = [replace(one, unit="%") if one.name in percent else one for one in series]
    if any(one.axis for one in series):
        if all(one.secondary for one in series):
            raise ChartError("every series is on the secondary axis; leave one at least on the primary")
        found = Sides(tuple(replace(one, axis=one.axis or "primary") for one in series))
    else:
        found = _suggested(series, how)
    raw = tuple(replace(one, unit=units[one.name]) if one.name in percent else one for one in found.series)
    if not found.two and any(one.axis == "secondary" for one in references):
        raise ChartError("the secondary axis has no series, but a reference; put a series on it too")
    return replace(found, raw=raw)


def _suggested(series: Sequence[Series], how: Arrangement) -> Sides:
    """Let units and reach decide; bars of one stack stay together."""
    heaps: dict[str, list[Series]] = {}
    for one in sorted(series, key=lambda one: not isinstance(one, Bars)):  # bars are on the primary axis if they can
        stacked = isinstance(one, Bars) and (one.stack or how.mode(one) != "grouped")
        key = f"stack {one.stack}" if isinstance(one, Bars) and stacked else f"= {one.name}"
        heaps.setdefault(key, []).append(one)
    if len(heaps) == 1:
        return Sides(tuple(replace(one, axis="primary") for one in series))
    names = {key: listed([one.name for one in heap], most=3) for key, heap in heaps.items()}
    if all(isinstance(one, Bars) and not one.unit and _counts(one) for one in series):  # counts are of one unit
        return Sides(tuple(replace(one, axis="primary") for one in series))
    values = {names[key]: _summed(heap) for key, heap in heaps.items()}
    units = {names[key]: heap[0].unit for key, heap in heaps.items()}
    bars = {names[key] for key, heap in heaps.items() if isinstance(heap[0], Bars)}
    said, right = _bars_first(values, units, bars)
    other = {one.name for key, heap in heaps.items() if names[key] in right for one in heap}
    placed = tuple(replace(one, axis="secondary" if one.name in other else "primary") for one in series)
    if not other:
        return Sides(placed)
    shown = listed([f"“{one_line(one.name, longest=40)}”" for one in series if one.name in other], most=4)
    stated = f"the secondary axis was chosen for {shown}: {said.reason.rstrip('.')}"
    return Sides(placed, (Remark("axis-chosen", stated),))


def _bars_first(
    values: Mapping[str, Sequence[float]], units: Mapping[str, str], bars: Set[str]
) -> tuple[Suggestion, Set[str]]:
    """Return what is suggested, and who goes to the secondary axis: no bars beside lines because they are small."""
    said = suggest_axes(values, units=units)
    small = set(said.secondary)
    if any(units.values()) or not bars & small or bars == set(values):
        return said, small
    if bars <= small:  # the large ones give way
        return said, set(values) - small
    rest = {name: numbers for name, numbers in values.items() if name not in bars & small}
    said = suggest_axes(rest)
    return said, set(said.secondary)


def _counts(one: Series) -> bool:
    return all(value >= 0 and value == int(value) for value in one.values if value == value)


def _summed(heap: Sequence[Series]) -> list[float]:
    if len(heap) == 1:
        return list(heap[0].values)
    columns = zip(*(one.values for one in heap), strict=True)
    return [sum(value for value in column if value == value) for column in columns]
