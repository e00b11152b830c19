"""Planned and achieved as bars: what is below the plan and what is not are series of their own."""

from __future__ import annotations

import math
from collections.abc import Sequence

from vantric.core.charts.series import Bars, Series, composed
from vantric.core.charts.settings import CombinationLook
from vantric.core.counts.gap import Gap, GapRow
from vantric.core.numbers.number_format import readable

_IN_FRONT = 0.55  # of the planned bar


def gap_series(gap: Gap, categories: Sequence[str], look: CombinationLook, *, unit: str = "") -> list[Series]:
    """Return the planned bars, and narrower ones in front of them: those below the plan apart from the others.

    Each has the difference, and the percent with its base, as its label.
    """
    rows = {row.category: row for row in gap.rows}
    planned, achieved = gap.names
    own = [rows.get(label) for label in categories]
    under = [row is not None and row.difference < 0 for row in own]
    texts = ["" if row is None else _text(row, look) for row in own]

    bar = composed(Bars, planned, [row.planned if row else math.nan for row in own], "none", unit=unit, role="quiet")
    made: list[Series] = [bar]
    for low, words, role in ((True, "below plan", "under"), (False, "not below plan", "strong")):
        here = [row is not None and is_low == low for row, is_low in zip(own, under, strict=True)]
        if any(here):
            made.append(
                composed(
                    Bars,
                    look.wording.say(words, name=readable(achieved)),
                    [row.achieved if row and shown else math.nan for row, shown in zip(own, here, strict=True)],
                    tuple(text if shown else "" for text, shown in zip(texts, here, strict=True)),
                    unit=unit,
                    role=role,
                    bar_width=_IN_FRONT,
                    pattern="hatched" if low else None,
                    label_place="beside",
                )
            )
    return made


def _text(row: GapRow, look: CombinationLook) -> str:
    """Return the difference with its sign, and the percent with its base."""
    style = look.style
    size = style.amount(abs(row.difference))
    signed = size if not row.difference else f"{'-' if row.difference < 0 else '+'}{size}"
    if row.percent is None:
        return signed
    marks = () if not row.difference else (100.0,)
    whole = {"percent": style.percents(row.percent, marks), "base": style.amount(row.planned)}
    return f"{signed}: {look.wording.say('percent with base', **whole)}"
