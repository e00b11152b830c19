"""What is marked on a chart beside its series: lines and bands at values of an axis, and dates."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date, timedelta
from typing import Any, Literal, TypeAlias, get_args

from vantric.base.lazily import dataclass
from vantric.core.charts.series import Axis, Series
from vantric.core.numbers.number_format import quoted
from vantric.core.numbers.parsing import read_number, read_range
from vantric.core.numbers.periods import parse_day, period_start
from vantric.errors import ChartError, OptionError
from vantric.options import NOTHING, Options, option

#: What a reference may be in place of a value.
Average: TypeAlias = Literal["mean", "median"]


class Mark(Options, kw_only=False):
    """A date with a name: a new glaze, a repaired kiln."""

    day: str = option(NOTHING, "The date, as 2026-05-12.")
    text: str = option("", "What was done.")

    def __post_init__(self) -> None:
        """Check the date."""
        super().__post_init__()
        self.date  # noqa: B018

    @property
    def date(self) -> date:
        """The date.

        Raises
        ------
        ChartError
            If it is none.
        """
        try:
            return parse_day(self.day)
        except ValueError as reason:
            raise ChartError(f"a mark {reason}") from None


def read_mark(text: str) -> Mark:
    """Read ``2026-05-12=New glaze``."""
    day, _, words = text.partition("=")
    return Mark(day.strip(), words.strip())


@dataclass(frozen=True)
class DateMark:
    """A line across the category axis.

    Attributes
    ----------
    place
        Where it is, in categories from the first: 0 is before the first, 1 between it and the second.
    text
        What is beside it.
    """

    place: float
    text: str


class Reference(Options, kw_only=False):
    """A line at a value of one axis, or a band between two: a target, a limit."""

    value: float | Average = option(
        NOTHING, "The value it is drawn at; mean or median: that of the one series of its axis."
    )
    upto: float | None = option(None, "The other end of a band; none for a line.")
    text: str = option("", "What is written beside it.")
    axis: Axis = option("primary", "Whose value it is.")

    def __post_init__(self) -> None:
        """Check that an average is a line."""
        super().__post_init__()
        if isinstance(self.value, str) and self.upto is not None:
            raise ChartError(f"a band has two values: {self.value} is one line")

    @property
    def level(self) -> float:
        """The value it is drawn at; NaN before an average is worked out."""
        return math.nan if isinstance(self.value, str) else self.value

    @property
    def ends(self) -> tuple[float, float]:
        """Its lower and upper end; the same for a line."""
        other = self.level if self.upto is None else self.upto
        return min(self.level, other), max(self.level, other)


def read_reference(text: str) -> Reference:
    """Read ``600``, ``mean``, ``5@secondary=Limit``, ``150000:180000=Plan``.

    Raises
    ------
    ChartError, OptionError
        If it is not written like this.
    """
    place, _, words = text.partition("=")
    value, sign, axis = place.partition("@")
    if sign and axis.strip() not in ("primary", "secondary"):
        raise ChartError(f"a reference is at the primary or the secondary axis, not at '{axis.strip()}'")
    side: Any = axis.strip() or "primary"
    if value.strip() in get_args(Average):
        return Reference(value.strip(), None, words.strip(), side)  # type: ignore[arg-type]
    try:
        ends: tuple[Any, Any] = read_range(value) if ":" in value else (read_number(value), None)
    except OptionError:
        forms = "a value such as 600, mean, median, or a band such as 4:6"
        raise OptionError(f"a reference is {forms}; '{value.strip()}' is none of these", value=text) from None
    return Reference(*ends, words.strip(), side)


def worked_out(
    references: Sequence[Reference], series: Sequence[Series], text_of: Callable[[str, float, bool], str]
) -> tuple[Reference, ...]:
    """Return references with averages worked out.

    Parameters
    ----------
    references
    series
        As they are drawn: an average is that of the one series of its axis that is no running sum.
    text_of
        Returns what an average is called: from its kind, its value, and whether it is in percent.

    Raises
    ------
    ChartError
        If several series, or none, could be meant.
    """
    return tuple(_worked_out(item, series, text_of) if isinstance(item.value, str) else item for item in references)


def _worked_out(
    reference: Reference, series: Sequence[Series], text_of: Callable[[str, float, bool], str]
) -> Reference:
    kind = str(reference.value)
    own = [item for item in series if item.secondary == (reference.axis == "secondary")]
    if len(own) != 1:
        names = quoted([item.name for item in own]) if own else "no series"
        raise ChartError(
            f"the {kind} is that of one series, and the {reference.axis} axis has {names}; give the value instead"
        )
    values = [value for value in own[0].values if value == value]
    if not values:
        raise ChartError(f"series '{own[0].name}' has no values, and so no {kind}; leave the reference out")
    from statistics import fmean, median  # slow to load

    value = fmean(values) if kind == "mean" else median(values)
    text = reference.text or text_of(kind, value, own[0].unit == "%")
    return replace(reference, value=value, text=text)


def date_place(day: date, labels: Sequence[str], period: str) -> float:
    """Return where a day is along periods, in categories from the first.

    Raises
    ------
    ChartError
        If it is within none of them.
    """
    starts = [period_start(label) for label in labels]
    after = _next_start(starts[-1], period)
    if not starts[0] <= day < after:
        raise ChartError(f"{day} is not within the periods, {labels[0]} to {labels[-1]}: leave its mark out")
    index = max(place for place, start in enumerate(starts) if start <= day)
    end = starts[index + 1] if index + 1 < len(starts) else after
    return index + (day - starts[index]).days / max((end - starts[index]).days, 1)


def _next_start(start: date, period: str) -> date:
    """Return the day after a period."""
    if period in ("day", "week"):
        return start + timedelta(days=1 if period == "day" else 7)
    months = {"month": 1, "quarter": 3, "year": 12}[period]
    year, month = divmod(start.year * 12 + start.month - 1 + months, 12)
    return date(min(year, date.max.year), month + 1, 1)
