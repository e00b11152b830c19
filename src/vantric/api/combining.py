"""The series of a combination chart from the columns of a source: what the function and the command share."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from vantric.api.combinationoptions import colored
from vantric.core import charting, composing
from vantric.core.charting import KINDS, Series
from vantric.core.composing import CombinationWish
from vantric.core.counting import Measures
from vantric.errors import ChartError, nearest
from vantric.report.chartsentence import chart_sentence
from vantric.sources import Opening
from vantric.sources.tallying.combining import Combining, combine

#: The options of a series that can be said by its name.
SERIES_OPTIONS = (
    "labels", "unit", "label_place", "color", "width", "marker", "marker_size", "pattern", "order", "bridge", "stack",
    "style",
)  # fmt: skip


@dataclass(frozen=True)
class Combination:
    """What is drawn of a source's columns.

    Attributes
    ----------
    x, period, order
        See `Combining`.
    series : tuple of (kind, what)
        In the order they are drawn and named.
    secondary
        Series on the secondary axis, by name or as they were written.
    options
        Series -> option -> value.
    """

    x: str
    series: tuple[tuple[str, str], ...]
    secondary: tuple[str, ...] = ()
    period: str | None = None
    order: str = "given"
    options: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)

    def work_out(self, data: Any, opening: Opening) -> tuple[Measures, list[Series]]:
        """Return the measures and the series made of them.

        Raises
        ------
        VantricError
            If the source cannot be read, or a series is named that there is not.
        """
        wanted = tuple(text for _, text in self.series)
        twice = next((text for place, text in enumerate(wanted) if text in wanted[:place]), None)
        if twice is not None:
            raise ChartError(f"'{twice}' is drawn twice; rename one of them: '{twice}=NAME'")
        measures, names = combine(data, Combining(self.x, wanted, self.period, self.order), opening)
        called = {**{name: name for name in names.values()}, **names}
        second = {_known(name, called, "put on the secondary axis") for name in self.secondary}
        options: dict[str, dict[str, Any]] = {}
        for name, said in self.options.items():
            options.setdefault(_known(name, called, "given options"), {}).update(said)
        found = []
        for kind, text in self.series:
            name = names[text]
            own = options.get(name, {})
            if text.strip().startswith("percent:"):
                own = {"unit": "%", **own}
            if second:
                own = {**own, "axis": "secondary" if name in second else "primary"}
            found.append(_series(kind, name, measures[name], own))
        return measures, found


def _known(name: str, called: Mapping[str, str], what: str) -> str:
    if name not in called:
        hint = nearest(name, called) or f"; there are: {', '.join(dict.fromkeys(called.values()))}"
        raise ChartError(f"there is no series '{name}', which is {what}{hint}")
    return called[name]


def _series(kind: str, name: str, values: Sequence[Any], options: Mapping[str, Any]) -> Series:
    made = KINDS[kind]
    for option in options:
        if option not in (*SERIES_OPTIONS, "axis") or (option == "stack" and kind != "bars"):
            known = [one for one in SERIES_OPTIONS if one != "stack" or kind == "bars"]
            hint = nearest(option, known) or f"; there are: {', '.join(known)}"
            raise ChartError(f"{kind} '{name}' have no option '{option}'{hint}")
    return colored(made(name, tuple(values), **options))


def combined_chart(measures: Measures, series: Sequence[Series], wish: CombinationWish) -> charting.Chart:
    """Return the chart of series made of measures, with where they come from and what it shows in words."""
    wording, origin = wish.wording, measures.origin
    base = wording.counted(origin.input_rows - measures.missing, origin)
    if measures.missing:
        lacking = wording.say("without", number=wording.style.plain(measures.missing), label=wording.lacking(origin))
        base = f"{base}, {lacking}"
    said = replace(wish, subject=wish.subject or measures.by, period=measures.period)
    chart = composing.combination_chart(measures.categories, series, said, base=base, source=wording.note(origin))
    remarks = (*origin.remarks, *chart.remarks)
    return replace(chart, description=chart_sentence(chart), remarks=remarks)
