"""``vantric.gap`` and ``vantric.relate``: two series side by side."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, fields, replace
from typing import TYPE_CHECKING, Any, Unpack

from vantric.api.chartsof import chart_of_series
from vantric.api.combinations import FOR_LABELS
from vantric.api.drawables import Chart
from vantric.api.frames import frame_of
from vantric.api.verbs import Result
from vantric.cleaning import escaped
from vantric.core import counting, inference
from vantric.core.charting.options import CombinationLook
from vantric.core.charting.series import Points
from vantric.core.composing import gap_series
from vantric.core.counting import gap_of
from vantric.core.inference import relation_of
from vantric.core.numbers.periods import Period
from vantric.core.numbers.shown import number_text, one_line
from vantric.errors import RankError
from vantric.options import split_options
from vantric.options.showing import shows
from vantric.reports.cells import Cells
from vantric.reports.documents import Plain
from vantric.reports.tablehtml import table_html

if TYPE_CHECKING:
    from vantric.api.keywords import MeasuresChartOptions


@dataclass(frozen=True)
class Gap(Result, counting.Gap):
    """Planned and achieved, the largest difference first; made by `vantric.gap`."""

    def to_dict(self) -> Plain:
        """Return names, rows and the sentence as plain values."""
        return {"names": list(self.names), "rows": [asdict(row) for row in self.rows], "sentence": self.sentence()}

    @shows(CombinationLook)
    def chart(self, **options: Unpack[MeasuresChartOptions]) -> Chart:
        """Return the bars of planned and achieved, the largest difference first; what is below the plan stands out."""
        said = {"orientation": "horizontal", "headroom": FOR_LABELS, **options, "together": "overlaid"}
        [look] = split_options(said, CombinationLook)
        labels = [row.category for row in self.rows]
        made = chart_of_series(labels, gap_series(self, labels, look), look)
        return Chart.of(replace(made, description=f"{self.sentence()} {made.description}"))

    def to_frame(self) -> Any:
        """Return a row a category as a frame, the largest difference first."""
        return frame_of(
            [one.name for one in fields(counting.GapRow)], [list(asdict(row).values()) for row in self.rows]
        )

    def _repr_html_(self) -> str:
        head = ("Category", *self.names, "Difference", "Percent", "Share")
        return table_html(
            _cells(head, [tuple(asdict(row).values()) for row in self.rows]).table(), caption=self.sentence()
        )


@dataclass(frozen=True)
class Relation(Result, inference.Relation):
    """Whether two series go together; made by `vantric.relate`."""

    def to_dict(self) -> Plain:
        """Return every number and the sentence as plain values."""
        return {**asdict(self), "sentence": self.sentence()}

    def _repr_html_(self) -> str:
        return f"<p>{escaped(self.sentence())}</p>"


def _cells(head: Sequence[str], rows: Sequence[Sequence[Any]]) -> Cells:
    shown = tuple(tuple(_shown(value) for value in row) for row in rows)
    return Cells(tuple(map(one_line, head)), shown, (), frozenset({0}))


def _shown(value: Any) -> str:
    if value is None:
        return "–"
    return number_text(value, most_decimals=4) if isinstance(value, (int, float)) else one_line(str(value))


def gap(
    planned: Any,
    achieved: Any,
    *,
    categories: Sequence[str] | None = None,
    names: Sequence[str] = ("planned", "achieved"),
) -> Gap:
    """Set planned and achieved side by side, the largest difference first.

    Parameters
    ----------
    planned, achieved
        Numbers, None or NaN where one is missing; or mappings of category to number.
    categories
        What the numbers are of; not for mappings.
    names
        What the two are called.

    Returns
    -------
    Gap
        Its `rows` have `category`, `planned`, `achieved`, `difference`, `percent` (achieved of planned, with its base
        beside it) and `share` of all differences. `sentence()` says the largest.

    Raises
    ------
    RankError
        If the two do not fit together, or no category has both values.
    """
    if isinstance(planned, Mapping) != isinstance(achieved, Mapping):
        raise RankError("give planned and achieved in one form: two mappings, or two lists with categories")
    if isinstance(planned, Mapping):
        labels = list(dict.fromkeys((*planned, *achieved)))
        planned, achieved = ([side.get(label) for label in labels] for side in (planned, achieved))
    else:
        labels = list(categories) if categories is not None else [str(n) for n, _ in enumerate(planned, start=1)]
    first, second = names
    sides = _values(planned, first), _values(achieved, second)
    found = gap_of([str(label) for label in labels], *sides, (first, second))
    return Gap(found.rows, found.names, found.missing)


def relate(
    one: Any, other: Any, *, names: Sequence[str] = ("the one", "the other"), level: float = 0.95,
    in_time: bool = False, period: Period | None = None,
) -> Relation:  # fmt: skip
    """Say whether two series go together, and how sure that is.

    Parameters
    ----------
    one, other
        As many numbers each, pair by pair; None or NaN where one is missing.
    names
        What they are called.
    level
        Of the intervals.
    in_time
        Whether the pairs follow each other in time: then their changes are related, since two trends, and two series
        of one season, always seem related.
    period
        How far apart they are in time: ``"day"``, ``"week"``, ``"month"``, ``"quarter"`` or ``"year"``; implies
        `in_time`.

    Returns
    -------
    Relation
        Its `verdict` (``"related"``, ``"not shown"`` or ``"cannot be said"``) with `p`; `n`, `pearson` and `spearman`
        with their intervals; and the `caution` that must be said with them. docs/certainty.md has the methods.

    Raises
    ------
    RankError
        If they are not as many, or fewer than three pairs have both values.
    """
    first, second = names
    found = relation_of(
        _values(one, first), _values(other, second), names=(first, second), level=level, in_time=in_time,
        period=period,
    )  # fmt: skip
    return Relation(**{each.name: getattr(found, each.name) for each in fields(found)})


def _values(values: Any, name: str) -> tuple[float, ...]:
    return Points(name, values).values
