"""``vantric.trend``: categories over calendar periods."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Unpack

from vantric.kinds import kind_named
from vantric.options.signatures import shows
from vantric.reading.settings import Counting, Opening, Trending

if TYPE_CHECKING:
    from vantric.api.keywords import TrendOptions
    from vantric.core.statistics import Trend


@shows(Counting, Opening, Trending)
def trend(data: Any, by: str | None = None, **options: Unpack[TrendOptions]) -> Trend:
    """Say which categories rise or fall over calendar periods, and draw them with limits of chance.

    Parameters
    ----------
    data, by
        As for `tally`; data that have columns, one of them with dates (`date`).

    Returns
    -------
    Trend
        Its `rows` have a category each: its `chart` with center line, limits and signals, its `slope` and whether that
        is `beyond_chance`. `sentence()` says it in words; docs/certainty.md has the methods.

    Raises
    ------
    VantricError
        As for `tally`; and if no column of dates is named, or rates have no exposure.

    Examples
    --------
    >>> import vantric as vt
    >>> log = {"defect": ["Pinhole"] * 8, "date": [f"2026-0{month}-15" for month in (1, 2, 2, 3, 3, 4, 4, 4)]}
    >>> vt.trend(log, "defect", date="date").sentence().partition(".")[0]
    'Over 4 months, “Pinhole” has no trend beyond chance'
    """
    made: Trend = kind_named("trend").made(data, {**options, "by": by})
    return made
