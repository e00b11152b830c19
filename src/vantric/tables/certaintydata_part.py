"""How sure a ranking is, as data and as lines."""

from __future__ import annotations

import textwrap
from collections.abc import Iterable, Sequence
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

from vantric.core.numbers.number_format import distinct_lines, ends_texts, number_text, percent_text
from vantric.core.statistics.phrases import chance_words
from vantric.tables.grid_part import grid_lines
from vantric.tables.localize import Fixed, joined, with_level
from vantric.tables.table import Column, Table, six_digits, text_table, whole

if TYPE_CHECKING:
    from vantric.core.statistics import Certainty

CERTAINTY_COLUMNS = ("low", "high", "lowest_rank", "highest_rank", "chance", "even_low", "even_high")


def certainty_object(sure: Certainty) -> dict[str, Any]:
    """Return the JSON object of how sure a ranking is; `low` and `high` are of what `measure` says."""
    shares = "Clopper and Pearson 1934, Bonferroni" if sure.measure == "percent" else "Garwood 1936, Bonferroni"
    even = sure.evenness
    return {
        "method": f"{shares}; ranks by Holm 1979; chances from Dirichlet 1/2",
        "level": sure.level,
        "resamples": sure.resamples,
        "start": sure.start,
        "measure": sure.measure,
        "basis": sure.basis,
        "records": whole(sure.records),
        "effective_records": six_digits(sure.effective),
        "declared": sure.declared,
        "first": {"p": six_digits(sure.first_p), "beyond_chance": sure.first_is_sure},
        "evenness": {
            "chi_square": six_digits(even.statistic),
            "degrees": even.degrees,
            "p": six_digits(even.p),
            "simulated": even.simulated,
        },
        "settled": sure.settled if sure.vital is not None else None,
        "records_needed": sure.needed,
        "rest": None if sure.rest is None else {"low": six_digits(sure.rest[0]), "high": six_digits(sure.rest[1])},
        "rows": [{name: _stated(name, value) for name, value in asdict(row).items()} for row in sure.rows],
        "sentence": sure.sentence(),
    }


def _stated(name: str, value: Any) -> Any:
    """Return a value with no more digits than it bears: a chance from draws has two, a limit six."""
    if not isinstance(value, float) or name == "percent":
        return whole(value)
    return round(value, 2) if name == "chance" else six_digits(value)


def certainty_columns(labels: Sequence[str], sure: Certainty) -> list[Column]:
    """Return the columns of certainty; empty beside a row that stands for several categories."""
    known = {row.category: [_stated(name, getattr(row, name)) for name in CERTAINTY_COLUMNS] for row in sure.rows}
    nothing: list[Any] = [None] * len(CERTAINTY_COLUMNS)
    if sure.rest is not None:
        nothing[:2] = map(six_digits, sure.rest)
    rows = [known.get(label, nothing) for label in labels]
    return [Column("", [row[at] for row in rows], key=name, as_is=True) for at, name in enumerate(CERTAINTY_COLUMNS)]


def certainty_lines(sure: Certainty, *, width: int) -> list[str]:
    """Return intervals, ranks and chances as lines for a terminal, and what can be said in one sentence."""
    table = certainty_table(sure)
    return [*grid_lines(table.heads(), table.shown_rows(), width=width), "", *_wrapped([sure.sentence()], width)]


def certainty_table(sure: Certainty) -> Table:
    """Return intervals, ranks and chances as people read them."""
    rates = sure.measure == "rate"
    interval = with_level("Rate" if rates else "Percent", sure.level)
    head = (Fixed("Category"), interval, Fixed("Rank"), Fixed("Chance to be vital"))
    labels = distinct_lines([row.category for row in sure.rows])
    rows = [
        (
            name,
            _limits(row.low, row.high, rates),
            _ranks(row.lowest_rank, row.highest_rank),
            "–" if row.chance is None else _chance(row.chance),
        )
        for name, row in zip(labels, sure.rows, strict=True)
    ]
    return text_table(head, rows, caption=sure.sentence())


def _wrapped(texts: Iterable[str], width: int) -> list[str]:
    return [line for text in texts for line in textwrap.wrap(text, width)]


def _ranks(low: int, high: int) -> str:
    return number_text(low) if low == high else joined(number_text(low), "to", number_text(high))


def _chance(chance: float) -> str:
    """Return a chance in whole percent; what is before the number stays English."""
    said, sign, number = chance_words(chance).rpartition("r ")
    return Fixed.of(f"{said}{sign}{number}", lambda local: f"{said}{sign}{local.number(number)}")


def _limits(low: float, high: float, rates: bool) -> str:
    """Return an interval: percents with one decimal, rates with three digits."""
    if rates:
        ends = list(ends_texts(low, high, digits=3))
    else:
        ends = [percent_text(end).removesuffix(" %") for end in (low, high)]
    return joined(ends[0], "to", ends[1])
