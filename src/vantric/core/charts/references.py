"""What is marked on a chart beside its series: lines and bands at values of an axis, and dates."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

from vantric.core.charts.series import Axis
from vantric.core.numbers.parsing import read_number, read_range
from vantric.core.numbers.periods import parse_day
from vantric.errors import ChartError
from vantric.options import NOTHING, Options, option


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

    value: float = option(NOTHING, "The value it is drawn at.")
    upto: float | None = option(None, "The other end of a band; none for a line.")
    text: str = option("", "What is written beside it.")
    axis: Axis = option("primary", "Whose value it is.")

    @property
    def ends(self) -> tuple[float, float]:
        """Its lower and upper end; the same for a line."""
        other = self.value if self.upto is None else self.upto
        return min(self.value, other), max(self.value, other)


def read_reference(text: str) -> Reference:
    """Read ``600``, ``5@secondary=Limit``, ``150000:180000=Plan``.

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
    ends: tuple[Any, Any] = read_range(value) if ":" in value else (read_number(value), None)
    return Reference(*ends, words.strip(), side)
