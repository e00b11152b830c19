"""A chart of a workbook as it is: its series with the cells that they draw, and its axes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, TypeAlias

DrawnKind: TypeAlias = Literal["bars", "line", "area", "points", "pie", "other"]


@dataclass(frozen=True)
class DrawnAxis:
    """An axis.

    Attributes
    ----------
    title
    lower, upper
        Its fixed limits; None where the program chooses them.
    log
    percent
        Whether its numbers are shown as percents: 1 as 100 %.
    shown
        Whether it is drawn; one that is not scales its series all the same.
    """

    title: str = ""
    lower: float | None = None
    upper: float | None = None
    log: bool = False
    percent: bool = False
    shown: bool = True


@dataclass(frozen=True)
class DrawnSeries:
    """A series.

    Attributes
    ----------
    name
    kind
    categories, values
        What its cells hold; None where a cell holds no number.
    secondary
        Whether it is on the secondary axis.
    where
        The cells of its values: ``"Pareto!$B$2:$B$5"``.
    stacked
        Whether it stands on the series before it.
    left_out
        Labels of rows that its table goes on with, below the cells that are drawn.
    labels_from, labels_apart
        The cells that the texts at its marks are taken from, and whether these are other rows than its own.
    """

    name: str
    kind: DrawnKind
    categories: tuple[str, ...]
    values: tuple[float | None, ...]
    secondary: bool = False
    where: str = ""
    stacked: bool = False
    left_out: tuple[str, ...] = ()
    labels_from: str = ""
    labels_apart: bool = False


@dataclass(frozen=True)
class DrawnChart:
    """A chart of a workbook.

    Attributes
    ----------
    place
        Where it is: ``"sheet 'Pareto', the chart at F2"``.
    title
    series
    primary, secondary, category
        Its axes; None where there is none.
    alternative
        Its text alternative.
    told
        The codes of what was found in the table that it draws: one cause is one finding.
    """

    place: str
    title: str
    series: tuple[DrawnSeries, ...]
    primary: DrawnAxis | None = None
    secondary: DrawnAxis | None = None
    category: DrawnAxis | None = None
    alternative: str = ""
    told: frozenset[str] = frozenset()

    def draws(self, sheet: str) -> bool:
        """Whether any series draws cells of a sheet."""
        names = (one.where.lstrip("(").rpartition("!")[0] for one in self.series)
        return any(name.strip("'").replace("''", "'") == sheet for name in names)
