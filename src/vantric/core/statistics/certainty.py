"""How sure a ranking is: intervals of all shares, ranks, the first, chances to be vital, evenness, records needed."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, Literal

import numpy as np
from numpy.typing import NDArray

from vantric.core.messages.message import Joined, Label, List, Message, PValue, Written, chance_text, labels
from vantric.core.results import DataResult
from vantric.core.statistics.intervals import binomial_limits, rate_intervals, share_intervals
from vantric.core.statistics.ranks import Evenness, even_band, evenness_of, first_against_second, rank_ranges
from vantric.core.statistics.sample import Basis, Sample, rounded, sample_of
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts.pareto_table import ParetoTable
    from vantric.core.statistics.sample import Floats

#: The level of all intervals.
_LEVEL = 0.95
_SURE = 95  # percent: chances are known in whole ones


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
    chance
        That it is one of the vital few, from 0 to 1; None where the table has no cutoff.
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
    chance: float | None
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
    resamples, start
        How often shares were drawn for the chances, and what the random numbers began with.
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
    needed
        How many records like these would name the same vital few with a chance of 95%, where they are not sure;
        None where they are, or where no number would.
    rest
        Of folded categories together: low and high.
    declared
        Whether the categories were fixed beforehand; else the limits do not cover labels first found in these data.
    apart
        The categories that stand at the end by wish: a rest is never the most frequent.
    """

    rows: tuple[CertaintyRow, ...]
    level: float
    resamples: int
    start: int
    records: float
    measure: Literal["percent", "rate"]
    basis: Basis
    effective: float
    counted: str
    first_p: float
    vital: int | None
    evenness: Evenness
    needed: int | None
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
        """Whether every category is inside or outside the vital few with a chance of 95%."""
        few = self.vital or 0
        pairs = ((row, place < few) for place, row in enumerate(self.rows) if row.chance is not None)
        return all(_percent(row) >= _SURE if inside else _percent(row) <= 100 - _SURE for row, inside in pairs)

    def to_frame(self) -> Any:
        """Return a row a category as a frame."""
        return self._of_kind().to_frame(self)

    def sentence(self) -> Joined:
        """Return what can be said, in words that can be read out."""
        return _sentences(self)


def _sentences(sure: Certainty) -> Joined:
    """Return what can be said of a ranking."""
    nothing = _nothing(sure)
    said = nothing or [_first(sure), *_even(sure), *_vital_sentences(sure), *_needed(sure)]
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


def _vital_sentences(sure: Certainty) -> list[Message]:
    few = sure.vital
    if few is None:
        return []
    if not few:
        return [Message("no category within")]
    inside = [row for row in sure.rows[:few] if _percent(row) >= _SURE]
    open_ = [row for row in sure.rows[:few] if _percent(row) < _SURE]
    outside = [row for row in sure.rows[few:] if _percent(row) > 100 - _SURE]
    if not open_ and not outside:
        if few == len(sure.rows):
            return [Message("both reach") if few == 2 else Message("all reach", count=few)]
        return [Message("vital few are sure", sure=Written(f"{_SURE}%"), other=Written(f"{100 - _SURE}%"))]
    return [
        _how_many(len(inside), few),
        *([Message("open inside", chances=_chances(open_))] if open_ else []),
        *([Message("open outside", chances=_chances(outside))] if outside else []),
    ]


def _percent(row: CertaintyRow) -> int:
    return round(100 * (row.chance or 0.0))


def _how_many(inside: int, few: int) -> Message:
    sure = Written(f"{_SURE}%")
    if inside == few:
        return Message("every vital sure", count=few, sure=sure)
    if not inside:
        return Message("no vital sure", few=few, sure=sure)
    return Message("some vital sure", count=inside, few=few, sure=sure)


def _chances(rows: list[CertaintyRow]) -> List:
    named = [Message("label with", label=Label(row.category), value=chance_text(row.chance or 0)) for row in rows]
    return List(tuple(named), most=4)


def _needed(sure: Certainty) -> list[Message]:
    if sure.vital is None or sure.settled or not sure.vital:
        return []
    if sure.needed is not None:
        return [Message("records needed", records=Written(rounded(sure.needed)), sure=Written(f"{_SURE}%"))]
    return [] if sure.measure == "rate" or len(sure.rows) > 1_000 else [Message("no records enough")]


#: Draws x categories that are held at once: 40 MB.
_MOST_CELLS = 5_000_000
#: Jeffreys' prior of a multinomial.
_PRIOR = 0.5
#: Shares that differ by less are equal.
_EVEN = 1e-12
#: A member is settled at this chance, which is drawn so often, and looked for in so many doublings.
_SETTLED, _SETTLING, _MOST_SETTLING = 0.95, 400, 1_000
#: More records than this will not be read; fewer draws of wide tables are enough.
_MOST_RECORDS, _SETTLING_CELLS = 2**40, 40_000


def draws_for(size: int, most: int = 10_000) -> int:
    """Return how often shares of so many categories are drawn."""
    return max(100, min(most, _MOST_CELLS // size))


def vital_chances(sample: Sample, cut: float, rule: str, rng: np.random.Generator, *, most: int = 10_000) -> Floats:
    """Return the chance of each category to be one of the vital few.

    Parameters
    ----------
    sample
        Of k categories, the largest first.
    cut
        The cutoff in percent.
    rule
        ``"reach"`` or ``"within"``.
    rng
        Where the draws come from.
    most
        How many draws at most.

    Returns
    -------
    ndarray of float, shape (k,)
        Equal frequencies have equal chances.

    Notes
    -----
    Shares are drawn from their posterior under H. Jeffreys' prior (Proc. R. Soc. A 186, 1946): Dirichlet, 1/2 for each
    category; rates from gamma, 1/2. In a draw a category is vital if its share is at least the one at which the
    descending sum reaches the cutoff.
    """
    size = len(sample.values)
    draws = draws_for(size, most)
    if sample.exposure is None:
        shares = rng.standard_gamma(sample.alike() + _PRIOR, size=(draws, size))
    else:
        shares = rng.standard_gamma(sample.independent() + _PRIOR, size=(draws, size))
        shares *= sample.design / sample.exposure
    inside = shares >= last_inside(shares, cut, rule)[:, None]
    return _averaged(inside.mean(axis=0), sample)


def last_inside(shares: Floats, cut: float, rule: str) -> Floats:
    """Return in each draw the smallest share that is inside the cutoff; above all where none is."""
    ordered = np.sort(shares, axis=1)[:, ::-1]
    running = np.cumsum(ordered, axis=1)
    limit = cut / 100 * running[:, -1:]
    if rule == "reach":
        inside = (running < limit * (1 - _EVEN)).sum(axis=1) + 1
    else:
        inside = (running <= limit * (1 + _EVEN)).sum(axis=1)
    inside = np.minimum(inside, shares.shape[1])
    last = ordered[np.arange(len(ordered)), np.maximum(inside - 1, 0)]
    return np.where(inside > 0, last, np.inf)


def _averaged(chances: Floats, sample: Sample) -> Floats:
    """Return chances averaged over categories of which exactly the same is known."""
    columns = np.stack([sample.values, sample.design, *([] if sample.exposure is None else [sample.exposure])], axis=1)
    if sample.exposure is None:
        columns = columns[:, :1]
    _, inverse = np.unique(columns, axis=0, return_inverse=True)
    inverse = inverse.reshape(-1)
    return np.asarray(np.bincount(inverse, chances)[inverse] / np.bincount(inverse)[inverse])


def settling_records(sample: Sample, cut: float, rule: str, seed: int) -> int | None:
    """Return how many records like these would name the same vital few with a chance of 95%; None if none would.

    Parameters
    ----------
    sample
        Of k categories, the largest first; its shares are taken for the true ones.
    cut, rule
        The cutoff.
    seed
        What the draws begin with; the same for every number of records that is tried.

    Notes
    -----
    Tables are drawn from a multinomial with the observed shares; the number is doubled until 95 of 100 tables agree,
    and then bisected to within a tenth. Records that stand for several occurrences are counted as they come.
    """
    if sample.exposure is not None or len(sample.values) > _MOST_SETTLING or sample.effective > _MOST_RECORDS:
        return None
    shares = sample.values / sample.total
    vital = _vital(shares[None, :], cut, rule)[0]
    if len(np.unique(shares[vital])) and np.any(np.isin(shares[vital], shares[~vital])):
        return None  # a tie at the cutoff stays one
    inside = float(shares[vital].sum())
    least = float(shares[vital].min()) if vital.any() else 0.0
    gaps = (inside - cut / 100, inside - least - cut / 100)
    if min(map(abs, gaps)) < 1e-9:
        return None  # the sum is on the cutoff itself

    draws = max(_SETTLING // 2, min(_SETTLING, _SETTLING_CELLS // len(shares)))

    def agreed(records: int) -> bool:
        tables = np.random.default_rng(seed).multinomial(records, shares, size=draws).astype(np.float64)
        same = (_vital(tables, cut, rule) == vital).all(axis=1)
        return bool(same.mean() >= _SETTLED)

    most = max(2, int(sample.effective))
    while not agreed(most):
        most *= 2
        if most > _MOST_RECORDS:
            return None
    least_known = most // 2 if most > sample.effective else 1
    while most - least_known > max(1, most // 10):
        middle = (most + least_known) // 2
        most, least_known = (middle, least_known) if agreed(middle) else (most, middle)
    return round(most * sample.records / sample.effective)


def _vital(tables: Floats, cut: float, rule: str) -> NDArray[np.bool_]:
    return np.asarray(tables >= last_inside(tables, cut, rule)[:, None])


def certainty_of(table: ParetoTable, *, level: float = 0.95, resamples: int = 10_000, start: int = 1) -> Certainty:
    """Work out how sure the ranking of a table is.

    Parameters
    ----------
    table
        In the order of frequency or any other; folded categories are taken one by one, and together.
    level
        The chance that all intervals hold at once, and that all ranges of ranks do; above 0 and below 1.
    resamples
        How often shares are drawn for the chances, at most; fewer of very many categories.
    start
        What the random numbers begin with: the same gives the same, with the same NumPy.

    Raises
    ------
    RankError
        For amounts that came added up and are no counts; for options out of range.

    Notes
    -----
    Shares: `share_intervals`; rates: `rate_intervals`; ranks: `rank_ranges`; the first: `first_against_second`;
    chances: `vital_chances`; evenness: `evenness_of`, `even_band`; records needed: `settling_records`. Records are
    taken for independent of each other: where one cause makes many records at once the truth is less sure.
    """
    if not 0 < level < 1:
        raise RankError(f"a level of certainty is between 0 and 1, such as 0.95, not {level}")
    if resamples < 100:
        raise RankError(f"chances need at least 100 draws, not {resamples}")
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
    chances = None if cut is None else vital_chances(sample, float(cut.percent), cut.rule, rng, most=resamples)
    band = even_band(sample, level, rng)
    rows = _rows(table, sample, (low * scale, high * scale), rank_ranges(sample, level), chances, band)
    certainty = Certainty(
        rows,
        level,
        draws_for(size, resamples),
        start,
        sample.records,
        "percent" if sample.exposure is None else "rate",
        sample.basis,
        sample.effective,
        sample.words(tally.origin.amount_unit),
        first_against_second(sample if not apart else sample.take(np.flatnonzero(~np.isin(names, apart)))),
        None if cut is None else cut.count,
        evenness_of(sample, rng),
        None,
        _rest(table, sample, each, extra),
        _declared(table),
        apart,
    )
    if cut is None or certainty.settled:
        return certainty
    needed = settling_records(sample, float(cut.percent), cut.rule, start)
    return replace(certainty, needed=needed)


def _rows(
    table: ParetoTable,
    sample: Sample,
    limits: tuple[NDArray[np.float64], NDArray[np.float64]],
    ranks: tuple[NDArray[np.intp], NDArray[np.intp]],
    chances: NDArray[np.float64] | None,
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
            chance=None if chances is None else float(chances[place]),
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
    """Whether the categories were named before the records were seen: listed, as columns, or with a row of zero."""
    origin = table.origin
    fixed = table.ordering == "listed" or origin.counted == "occurrences" or origin.ready
    return fixed or any(not value for value in table.tally.frequency.plain())
