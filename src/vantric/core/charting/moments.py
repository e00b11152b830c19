"""Marked dates on an axis of calendar periods: when a measure was taken."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

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
class Moment:
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
