"""How sure a ranking is: intervals of all shares, ranks, the first, chances to be vital, evenness, records needed."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from vantric.core.statistics.certaintyresult_part import Certainty, CertaintyRow
from vantric.core.statistics.evenness_part import even_band, evenness_of
from vantric.core.statistics.intervals import binomial_limits, rate_intervals, share_intervals
from vantric.core.statistics.ranks import first_against_second, rank_ranges
from vantric.core.statistics.sample import Sample, sample_of
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts.pareto_table import ParetoTable


Floats = NDArray[np.float64]
_MOST_CELLS = 5_000_000
_PRIOR = 0.5
_EVEN = 1e-12
_SETTLED, _SETTLING, _MOST_SETTLING = 0.95, 400, 1_000
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
    known = np.stack([sample.values, sample.design, *([] if sample.exposure is None else [sample.exposure])], axis=1)
    if sample.exposure is None:
        known = known[:, :1]
    _, inverse = np.unique(known, axis=0, return_inverse=True)
    inverse = inverse.reshape(-1)
    return np.asarray(np.bincount(inverse, chances)[inverse] / np.bincount(inverse)[inverse])


def settling_records(sample: Sample, cut: float, rule: str, seed: int) -> int | None:
    """Return how many records like these would name the same vital few with a chance of 95 %; None if none would.

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
    rng = np.random.default_rng(start)
    low, high = share_intervals(sample, each) if sample.exposure is None else rate_intervals(sample, each)
    scale = 100.0 if sample.exposure is None else units
    cut = None if table.pinned else table.cutoff  # a category at the end has no place among the leading ones
    chances = None if cut is None else vital_chances(sample, float(cut.percent), cut.rule, rng, most=resamples)
    band = even_band(sample, level, rng)
    rows = _rows(table, sample, (low * scale, high * scale), rank_ranges(sample, level), chances, band)
    found = Certainty(
        rows,
        level,
        draws_for(size, resamples),
        start,
        sample.records,
        "percent" if sample.exposure is None else "rate",
        sample.basis,
        sample.effective,
        sample.words(tally.origin.amount_unit),
        first_against_second(sample),
        None if cut is None else cut.count,
        evenness_of(sample, rng),
        None,
        _rest(table, sample, each, extra),
        _declared(table),
    )
    if cut is None or found.settled:
        return found
    needed = settling_records(sample, float(cut.percent), cut.rule, start)
    return replace(found, needed=needed)


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
            category=tally.categories[at],
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
        for place, at in enumerate(table.ranked.tolist())
    )


def _units(table: ParetoTable, sample: Sample) -> float:
    """Return how many units of the exposure rates are per."""
    if sample.exposure is None:
        return 1.0
    at = int(np.argmax(sample.values))
    rates = table.tally.frequency.floats()
    return float(rates[at] * sample.exposure[at] / sample.values[at])


def _rest(table: ParetoTable, sample: Sample, level: float, extra: int) -> tuple[float, float] | None:
    """Return the interval of the folded categories together, in percent."""
    if not extra or sample.exposure is not None:
        return None
    held = np.isin(table.ranked, table.folded)
    share, trials = float(sample.values[held].sum()) / sample.total, float(sample.sizes[held].min())
    low, high = binomial_limits(share * trials, trials, 1 - (1 - level) / len(held))
    return 100 * float(low), 100 * float(high)


def _declared(table: ParetoTable) -> bool:
    """Whether the categories were named before the records were seen: listed, as columns, or with a row of zero."""
    origin = table.origin
    fixed = table.ordering == "listed" or origin.counted == "occurrences" or origin.ready
    return fixed or any(not value for value in table.tally.frequency.plain())
