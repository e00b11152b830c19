"""How sure a ranking is, as data and as lines."""

from __future__ import annotations

import textwrap
from collections.abc import Iterable
from dataclasses import asdict
from typing import Any

from vantric.core.inference import Certainty
from vantric.core.numbers.shown import distinct_lines
from vantric.report.cells import Cells
from vantric.report.grid import grid_lines
from vantric.report.paretodata import whole

COLUMNS = ("low", "high", "lowest_rank", "highest_rank", "chance", "even_low", "even_high")


def certainty_object(sure: Certainty) -> dict[str, Any]:
    """Return the JSON object of how sure a ranking is; percents are of the records."""
    return {
        "method": "Goodman 1965; parametric bootstrap of the multinomial",
        "level": sure.level,
        "resamples": sure.resamples,
        "start": sure.start,
        "rows": [{name: whole(value) for name, value in asdict(row).items()} for row in sure.rows],
        "sentence": sure.sentence(),
    }


def with_certainty(
    head: list[str], rows: list[list[Any]], sure: Certainty
) -> tuple[list[str], list[list[Any]]]:  # fmt: skip
    """Return rows with the columns of certainty behind them; empty beside a row that stands for several categories."""
    known = {row.category: [whole(getattr(row, name)) for name in COLUMNS] for row in sure.rows}
    at = head.index("category")
    nothing: list[Any] = [None] * len(COLUMNS)
    return [*head, *COLUMNS], [[*row, *known.get(row[at], nothing)] for row in rows]


def certainty_lines(sure: Certainty, *, width: int) -> list[str]:
    """Return intervals, ranks and chances as lines for a terminal, and what can be said in one sentence."""
    cells = certainty_cells(sure)
    return [*grid_lines(cells.head, cells.rows, width=width), "", *_wrapped([sure.sentence()], width)]


def certainty_cells(sure: Certainty) -> Cells:
    """Return intervals, ranks and chances as people read them."""
    level = f"{100 * sure.level:g} %"
    head = ("Category", f"Percent, {level}", "Rank", "Vital")
    names = distinct_lines([row.category for row in sure.rows])
    rows = [
        (name, f"{row.low:.1f} to {row.high:.1f}", _ranks(row.lowest_rank, row.highest_rank), _chance(row.chance))
        for name, row in zip(names, sure.rows, strict=True)
    ]
    return Cells(head, tuple(rows), (), frozenset({0}))


def _wrapped(texts: Iterable[str], width: int) -> list[str]:
    return [line for text in texts for line in textwrap.wrap(text, width)]


def _ranks(low: int, high: int) -> str:
    return str(low) if low == high else f"{low} to {high}"


def _chance(chance: float | None) -> str:
    if chance is None:
        return "–"
    if 0 < chance < 0.01 or 0.99 < chance < 1:  # never shown as certain
        return "< 1 %" if chance < 0.5 else "> 99 %"
    return f"{100 * chance:.0f} %"
