"""How sure a ranking is: intervals of all shares, ranks, the first, the vital few, evenness."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

import numpy as np
from numpy.typing import NDArray

from vantric.base.lazily import dataclass
from vantric.core.messages.message import Joined, Label, Message, PValue, labels, level_text
from vantric.core.results import DataResult
from vantric.core.statistics.ranks import (
    NOT,
    OPEN,
    SURE,
    Evenness,
    even_band,
    evenness_of,
    first_against_second,
    pairs_of,
    rank_ranges,
    vital_few,
)
from vantric.core.statistics.sample import Basis, Sample, binomial_limits, rate_intervals, sample_of, share_intervals
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts.pareto_table import ParetoTable

#: The level of all intervals.
_LEVEL = 0.95

#: Categories of one state that are named.
_MOST_NAMED = 4

Vital = Literal["sure", "open", "not"]
_STATES: dict[int, Vital] = {SURE: "sure", OPEN: "open", NOT: "not"}


@dataclass(frozen=True)
class CertaintyRow:
    """What is known of one category.

    Attributes
    ----------
    category
        Its label.
    percent, low, high
        Its percent, and the interval around it, which holds at once with all others. Of a rate, `low` and `high` are
        rates.
    rank, lowest_rank, highest_rank
        Its rank, and between which ranks it may be: 1 is the most frequent.
    vital
        Whether it is ``"sure"`` to be one of the vital few, ``"not"`` one, or ``"open"``; None where the table has no
        cutoff, and of rates.
    even_low, even_high
        Between which percents the bar of this rank would be if all categories were equally likely; None of rates, and
        of more than a thousand categories.
    """

    category: str
    percent: float
    low: float
    high: float
    rank: int
    lowest_rank: int
    highest_rank: int
    vital: Vital | None
    even_low: float | None
    even_high: float | None


@dataclass(frozen=True)
class Certainty(DataResult):
    """How sure the ranking of a table is.

    Attributes
    ----------
    rows
        A row a category, the most frequent first.
    level
        Of all intervals and ranges.
    start
        What the random numbers began with.
    records
        How many records there are; occurrences where the counts came added up.
    measure
        What intervals are of: ``"percent"`` or ``"rate"``.
    basis
        ``"records"``: each occurrence is a record. ``"clustered"``: a record stands for several. ``"ready"``: the
        counts came added up, and each occurrence is taken for a record.
    effective
        How many independent records tell as much.
    counted
        The same in words; empty for plain records.
    first_p
        The p-value of the most frequent against the second; 1 for one category.
    vital
        How many categories, from the first, are the vital few; None without a cutoff.
    evenness
        The test whether all may be equally likely.
    rest
        Of folded categories together: low and high.
    declared
        Whether the categories were fixed beforehand; else the limits do not cover labels first found in these data.
    apart
        The categories that stand at the end by wish: a rest is never the most frequent.
    """

    rows: tuple[CertaintyRow, ...]
    level: float
    start: int
    records: float
    measure: Literal["percent", "rate"]
    basis: Basis
    effective: float
    counted: str
    first_p: float
    vital: int | None
    evenness: Evenness
    rest: tuple[float, float] | None
    declared: bool
    apart: tuple[str, ...] = ()

    _kind = "certainty"

    @property
    def first_is_sure(self) -> bool:
        """Whether the most frequent category is significantly more frequent than the second."""
        return self.first_p <= 1 - _LEVEL

    @property
    def settled(self) -> bool:
        """Whether it is known of every category whether it is one of the vital few."""
        return all(row.vital in ("sure", "not") for row in self.rows)

    def to_frame(self) -> Any:
        """Return a row a category as a frame."""
        return self._of_kind().to_frame(self)

    def sentence(self) -> Joined:
        """Return what can be said, in words that can be read out."""
        return _sentences(self)


def _sentences(sure: Certainty) -> Joined:
    """Return what can be said of a ranking."""
    nothing = _nothing(sure)
    if nothing:
        return Joined(nothing)
    said = [_first(sure), *_even(sure), *_vital_sentence(sure)]
    unseen = not sure.declared and len(sure.rows) > 1
    return Joined([*said, sure.counted, *([Message("only these categories")] if unseen else [])])


def _nothing(sure: Certainty) -> list[Message]:
    if len(sure.rows) == 1:
        return [Message("nothing is ranked", label=Label(sure.rows[0].category))]
    if sure.records < 2 or sure.effective < 1.5:
        return [Message("one record")]
    return []


def _first(sure: Certainty) -> Message:
    ranked = [row for row in sure.rows if row.category not in sure.apart]
    if len(ranked) < 2:
        return Message("nothing is ranked", label=Label(ranked[0].category if ranked else sure.rows[0].category))
    first, second = ranked[:2]
    of = "rate" if sure.measure == "rate" else "frequency"
    pair = {"label": Label(first.category), "other": Label(second.category), "p": PValue(sure.first_p)}
    if sure.first_is_sure:
        return Message(f"first by {of} is sure", **pair)
    if first.percent == second.percent:
        tied = [row.category for row in ranked if row.percent == first.percent]
        return Message(f"first by {of} is tied", labels=labels(tied, most=4))
    return Message(f"first by {of} is open", **pair)


def _even(sure: Certainty) -> list[Message]:
    if sure.evenness.p <= 1 - _LEVEL:
        return []
    return [Message("rates may be even" if sure.measure == "rate" else "all may be even", p=PValue(sure.evenness.p))]


def _vital_sentence(sure: Certainty) -> list[Message]:
    """Return which categories are sure to be among the vital few, which are not, and which are open."""
    if sure.vital is not None and sure.measure == "rate":
        return [Message("vital few of rates")]
    states = {state: [row.category for row in sure.rows if row.vital == state] for state in ("sure", "not", "open")}
    level = level_text(sure.level)
    none_sure = not states["sure"]
    clauses = {
        state: Message(
            "vital none" if state == "not" and none_sure else f"vital {state}",
            labels=labels(names, most=_MOST_NAMED),
            count=len(names),
        )
        for state, names in states.items()
        if names
    }
    sides = " and ".join(state for state in clauses if state != "open")
    if not sides:
        return [Message("vital few: all open", level=level)] if clauses else []
    ending = "" if "open" in clauses else ", none open"
    return [Message(f"vital few: {sides}{ending}", level=level, **clauses)]


def certainty_of(table: ParetoTable, *, level: float = 0.95, start: int = 1) -> Certainty:
    """Work out how sure the ranking of a table is.

    Parameters
    ----------
    table
        In the order of frequency or any other; folded categories are taken one by one, and together.
    level
        The chance that all intervals hold at once, and that all ranges of ranks do; above 0 and below 1.
    start
        What the random numbers begin with: the same gives the same, with the same NumPy.

    Raises
    ------
    RankError
        For amounts that came added up and are no counts; for options out of range.

    Notes
    -----
    Shares: `share_intervals`; rates: `rate_intervals`; ranks: `rank_ranges`; the first: `first_against_second`;
    the vital few: `vital_few`; evenness: `evenness_of`, `even_band`. Records are taken for independent of each other:
    where one cause makes many records at once the truth is less sure.
    """
    if not 0 < level < 1:
        raise RankError(f"a level of certainty is between 0 and 1, such as 0.95, not {level}")
    tally, order = table.tally, table.ranked
    extra = 1 if len(table.folded) else 0
    size = len(order)
    each = 1 - (1 - level) * size / (size + extra)
    sample = sample_of(tally, each)
    units = _units(table, sample)
    sample = sample.take(order)
    apart = table.categories[len(table) - bool(table.rest) - table.pinned :] if table.pinned else ()
    names = [tally.categories[place] for place in order.tolist()]
    rng = np.random.default_rng(start)
    low, high = share_intervals(sample, each) if sample.exposure is None else rate_intervals(sample, each)
    scale = 100.0 if sample.exposure is None else units
    cut = None if table.pinned else table.cutoff  # a category at the end has no place among the leading ones
    pairs = pairs_of(sample)
    states = None
    if cut is not None and sample.exposure is None:  # of rates no calibrated statement is known
        states = vital_few(sample, float(cut.percent), cut.rule, level, pairs)
    band = even_band(sample, level, rng)
    rows = _rows(table, sample, (low * scale, high * scale), rank_ranges(sample, level, pairs), states, band)
    return Certainty(
        rows,
        level,
        start,
        sample.records,
        "percent" if sample.exposure is None else "rate",
        sample.basis,
        sample.effective,
        sample.words(tally.origin),
        first_against_second(sample if not apart else sample.take(np.flatnonzero(~np.isin(names, apart)))),
        None if cut is None else cut.count,
        evenness_of(sample, rng),
        _rest(table, sample, each, extra),
        _declared(table),
        apart,
    )


def _rows(
    table: ParetoTable,
    sample: Sample,
    limits: tuple[NDArray[np.float64], NDArray[np.float64]],
    ranks: tuple[NDArray[np.intp], NDArray[np.intp]],
    states: NDArray[np.int8] | None,
    band: tuple[NDArray[np.float64], NDArray[np.float64]] | None,
) -> tuple[CertaintyRow, ...]:
    tally = table.tally
    percents = tally.frequency.take(table.ranked).percents(tally.frequency.total_units)
    return tuple(
        CertaintyRow(
            category=tally.categories[position],
            percent=float(percents[place]),
            low=float(limits[0][place]),
            high=float(limits[1][place]),
            rank=place + 1,
            lowest_rank=int(ranks[0][place]),
            highest_rank=int(ranks[1][place]),
            vital=None if states is None else _STATES[int(states[place])],
            even_low=None if band is None else 100 * float(band[0][place]),
            even_high=None if band is None else 100 * float(band[1][place]),
        )
        for place, position in enumerate(table.ranked.tolist())
    )


def _units(table: ParetoTable, sample: Sample) -> float:
    """Return how many units of the exposure rates are per."""
    if sample.exposure is None:
        return 1.0
    index = int(np.argmax(sample.values))
    rates = table.tally.frequency.floats()
    return float(rates[index] * sample.exposure[index] / sample.values[index])


def _rest(table: ParetoTable, sample: Sample, level: float, extra: int) -> tuple[float, float] | None:
    """Return the interval of the folded categories together, in percent."""
    if not extra or sample.exposure is not None:
        return None
    is_folded = np.isin(table.ranked, table.folded)
    share, trials = float(sample.values[is_folded].sum()) / sample.total, float(sample.sizes[is_folded].min())
    low, high = binomial_limits(share * trials, trials, 1 - (1 - level) / len(is_folded))
    return 100 * float(low), 100 * float(high)


def _declared(table: ParetoTable) -> bool:
    """Whether the categories were named before the records were seen: listed, or in a sheet or counts that came ready.

    A row of zero alone does not: it may be left of a longer log.
    """
    return table.ordering == "listed" or table.origin.counted == "occurrences" or table.origin.ready
