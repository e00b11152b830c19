"""Planned and achieved of a source: measures ranked by their differences, and the bars that show them."""

from __future__ import annotations

import math
from dataclasses import replace

from vantric.core.charting import Series
from vantric.core.charting.options import CombinationLook
from vantric.core.composing import gap_series
from vantric.core.counting import Measures
from vantric.core.counting.gap import gap_of
from vantric.core.counting.remark import Remark
from vantric.core.numbers.shown import quoted


def with_gap(
    measures: Measures, sides: tuple[str, str], look: CombinationLook, *, ranked: bool, unit: str
) -> tuple[Measures, list[Series]]:  # fmt: skip
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
        measures, categories=tuple(order), names=names, values=(*found, *more), units=(unit, unit, unit, "%"),
        about=gap.sentence(), origin=origin,
    )  # fmt: skip
    return made, gap_series(gap, order, look, unit=unit)
