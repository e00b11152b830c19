"""The series of a combination chart from the columns of a source."""

from __future__ import annotations

import math
from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, TypeAlias

from vantric.core.charts import KINDS, Series
from vantric.core.charts.settings import CombinationLook
from vantric.core.composition import gap_series
from vantric.core.counts import Measures
from vantric.core.counts.gap import gap_of
from vantric.core.counts.provenance import Remark
from vantric.core.numbers.number_format import quoted
from vantric.counting.combining import Combining, combine
from vantric.errors import ChartError, unknown
from vantric.options import known_options
from vantric.options.migrations import synonym
from vantric.reading.settings import Categories, Opening


def with_gap(
    measures: Measures, sides: tuple[str, str], look: CombinationLook, *, ranked: bool, unit: str
) -> tuple[Measures, list[Series]]:
    """Return planned and achieved with difference and percent, and their bars.

    Parameters
    ----------
    measures
        Hold both sides.
    sides
        What was planned, and what was achieved.
    look
        How numbers are written.
    ranked
        Whether the largest difference comes first.
    unit
        What both are in.
    """
    planned, achieved = ([math.nan if value is None else float(value) for value in measures[name]] for name in sides)
    gap = gap_of(measures.categories, planned, achieved, sides)
    rows = {row.category: row for row in gap.rows}
    order = [*rows, *gap.missing] if ranked and not measures.period else list(measures.categories)
    at = [measures.categories.index(label) for label in order]
    found = [tuple(measures[name][place] for place in at) for name in sides]
    more = [
        tuple(getattr(rows[label], name) if label in rows else None for label in order)
        for name in ("difference", "percent")
    ]
    remarks = measures.origin.remarks
    if gap.missing:
        verb = "has" if len(gap.missing) == 1 else "have"
        remarks = (*remarks, Remark("one-side-only", f"{quoted(gap.missing)} {verb} only one of {quoted(sides)}"))
    origin = replace(measures.origin, remarks=remarks)
    names = (*sides, "difference", f"percent of {sides[0]}")
    made = replace(
        measures,
        categories=tuple(order),
        names=names,
        values=(*found, *more),
        units=(unit, unit, unit, "%"),
        about=gap.sentence(),
        origin=origin,
    )
    return made, gap_series(gap, order, look, unit=unit)


FOR_LABELS = 0.2  # of the length of the axis: what is written behind the bars of planned and achieved
#: Option -> value.
Said: TypeAlias = dict[str, Any]


@dataclass(frozen=True)
class Combined:
    """Measures, and what is drawn of them.

    Attributes
    ----------
    measures
    series
        In the order they are drawn and named.
    section
        The section of a chart file that says so.
    """

    measures: Measures
    series: tuple[Series, ...]
    section: Mapping[str, Any]


@dataclass(frozen=True)
class Combination:
    """What is drawn of a source's columns.

    Attributes
    ----------
    axis
        The category axis.
    series : tuple of (kind, what)
        In the order they are drawn and named.
    secondary
        Series on the secondary axis, by name or as they were written.
    options
        Series -> option -> value.
    """

    axis: Categories
    series: tuple[tuple[str, str], ...]
    secondary: tuple[str, ...] = ()
    options: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)

    def work_out(self, data: Any, opening: Opening, look: CombinationLook) -> Combined:
        """Return the measures, the series made of them, and the section of a chart file that says so.

        Raises
        ------
        VantricError
            If the source cannot be read, or a series is named that there is not.
        """
        if self.axis.sides:
            return self._gap(data, opening, look)
        wanted = tuple(text for _, text in self.series)
        twice = next((text for place, text in enumerate(wanted) if text in wanted[:place]), None)
        if twice is not None:
            raise ChartError(f"'{twice}' is drawn twice; rename one of them: '{twice}=NAME'")
        measures, names = combine(data, Combining(self.axis, wanted, self._stacked(look)), opening)
        units = dict(zip(measures.names, measures.units, strict=True))
        options = self._options(names, units)
        own = {names[text]: str(said.get("unit", "")) for text, said in options.items()}
        measures = replace(measures, units=tuple(own[name] for name in measures.names))
        made = [_series(kind, names[text], measures[names[text]], options[text]) for kind, text in self.series]
        entries = [{"kind": kind, "what": text, **self._said(text, names)} for kind, text in self.series]
        return Combined(measures, tuple(made), {**self.axis.changed(), "series": entries})

    def _stacked(self, look: CombinationLook) -> tuple[str, ...]:
        """Return the series of bars that stand on each other, as they were written."""
        if look.together not in ("stacked", "percent"):
            return ()
        return tuple(text for kind, text in self.series if kind == "bars")

    def _gap(self, data: Any, opening: Opening, look: CombinationLook) -> Combined:
        """Return planned and achieved with their differences, ranked by these, and the series that show them."""
        if self.series or self.secondary:
            raise ChartError("planned and actual are drawn as bars of their own: leave bars, line and the others out")
        measures, names = combine(data, Combining(self.axis, self.axis.sides), opening)
        called = {**{name: name for name in names.values()}, **names}
        said = {_known(name, called, "given options"): own for name, own in self.options.items()}
        strange = next((option for own in said.values() for option in own if option != "unit"), None)
        if strange is not None:
            raise ChartError(f"planned and actual have a unit and no other options, not {strange}")
        sides = names[self.axis.sides[0]], names[self.axis.sides[1]]
        known = dict(zip(measures.names, measures.units, strict=True))
        units = [str(own["unit"]) for own in said.values()] + [known[name] for name in sides]
        found, made = with_gap(
            measures, sides, look, ranked=self.axis.order is None, unit=next(filter(None, units), "")
        )
        entries = [{"kind": "bars", "what": name, **own} for name, own in self.options.items()]
        return Combined(found, tuple(made), {**self.axis.changed(), "series": entries})

    def shown(self, look: CombinationLook, said: Container[str]) -> CombinationLook:
        """Return the look of the chart; of a gap, horizontal and overlaid where the user says nothing else."""
        if not self.axis.sides:
            return look
        for name in ("together", "transpose", "percent_of", "secondary_together", "totals"):
            if name in said:
                raise ChartError(f"planned and actual have bars of their own: leave {name} out")
        orientation = look.orientation if "orientation" in said else "horizontal"
        room = look.headroom if "headroom" in said else FOR_LABELS
        return replace(look, together="overlaid", orientation=orientation, headroom=room)

    def _options(self, names: Mapping[str, str], units: Mapping[str, str]) -> dict[str, Said]:
        """Return what the user wrote for each series -> its options, with those that follow from it."""
        found = {}
        for _, text in self.series:
            own = self._said(text, names)
            if units[names[text]]:
                own = {"unit": units[names[text]], **own}
            found[text] = own
        return found

    def _said(self, text: str, names: Mapping[str, str]) -> Said:
        """Return the options that the user gives for a series, by its name or as it was written."""
        called = {**{name: name for name in names.values()}, **names}
        second = {_known(name, called, "named for the secondary axis") for name in self.secondary}
        own: Said = {}
        for name, said in self.options.items():
            if _known(name, called, "given options") == names[text]:
                own.update(said)
        if second:
            own["axis"] = "secondary" if names[text] in second else "primary"
        return own


def _known(name: str, called: Mapping[str, str], what: str) -> str:
    if name not in called:
        message = f"there is no series '{name}', which is {what}"
        raise unknown(ChartError, message, name, [*called, *called.values()])
    return called[name]


def _series(kind: str, name: str, values: Sequence[Any], options: Mapping[str, Any]) -> Series:
    made = KINDS[kind]
    known = known_options(made)
    for option in options:
        if option not in known:
            said = synonym(option, known)
            message = f"{kind} '{name}' have no option '{option}'"
            if said:
                raise ChartError(f"{message}; use {said}", value=option, known=known, hint=f"use {said}")
            raise unknown(ChartError, message, option, known)
    return made(name, tuple(values), **options)
