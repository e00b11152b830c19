"""A tally as a sample: its frequencies, how many independent records tell as much, and intervals of all at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import inf
from typing import TYPE_CHECKING, Any, Literal

import numpy as np
from numpy.typing import NDArray

from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import Provenance, named_unit
from vantric.core.messages.message import Message, Written
from vantric.core.numbers.number_format import number_text, one_line
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts.tally import Repeats, Spread, Tally

Floats = NDArray[np.float64]
Basis = Literal["records", "clustered", "ready"]
_EQUAL = 1e-9  # relative: records of one size
#: Sums of weights are off by their floats.
_NEAR = 1e-9
_FAR = 10.0  # standard errors: beyond any level that is asked for
#: By so much fewer, occurrences count as many as they are in words.
_HARDLY = 0.05
_FEW = 10  # records of a category, below which their sizes say little of those to come


@dataclass(frozen=True, eq=False)
class Sample:
    """Frequencies as a sample of records.

    Attributes
    ----------
    values : ndarray of float, shape (k,)
        What the records of each category add up to: records, occurrences or weights.
    sizes : ndarray of float, shape (k,)
        For the share of each category: how many independent records tell as much.
    design : ndarray of float, shape (k,)
        By how much one record weighs, category by category: sum of squares over sum; 1 for plain records.
    effective
        How many independent records tell as much as all together.
    records
        How many records there are.
    basis
        ``"records"``: each occurrence is a record. ``"clustered"``: records stand for several, or have several labels.
        ``"ready"``: the counts came added up, and each occurrence is taken for a record of its own.
    exposure : ndarray of float, shape (k,), or None
        What rates are per.
    crossed : ndarray of float, shape (k,), or None
        The sum over the records of what each adds to the category times what it adds to all; None where a record is of
        one category, so that it is the sum of squares.
    freedom
        With how many degrees of freedom it is known how uneven the records are; infinite where they are alike.
    over
        What the columns of a sheet are, whose mix varies more than independent occurrences would; empty if unnamed.
    """

    values: Floats
    sizes: Floats
    design: Floats
    effective: float
    records: float
    basis: Basis
    exposure: Floats | None = None
    crossed: Floats | None = None
    freedom: float = inf
    over: str = ""

    @property
    def total(self) -> float:
        """All values together."""
        return float(self.values.sum())

    @property
    def clustered(self) -> bool:
        """Whether records stand for several occurrences."""
        return self.basis == "clustered"

    def independent(self) -> Floats:
        """Return each value as the number of independent records that tell as much about it alone."""
        return self.values / self.design

    def known_design(self, error: float) -> Floats:
        """Return by how much one record weighs in a test at a level, where that is estimated from few: see t."""
        return self.design / spread_known(self.freedom, error)

    def alike(self) -> Floats:
        """Return the values scaled down so that they add up to the effective number of records."""
        return self.values * (self.effective / self.total) if self.total else self.values

    def take(self, order: NDArray[np.intp]) -> Sample:
        """Return the sample in another order."""
        each = ("values", "sizes", "design", "exposure", "crossed")
        columns = {name: getattr(self, name) for name in each}
        return replace(self, **{name: column[order] for name, column in columns.items() if column is not None})

    def parts(self) -> Floats:
        """Return values, sums of squares and crossed sums, shape (3, k): added up, they are those of sums."""
        squares = self.values * self.design
        return np.stack([self.values, squares, squares if self.crossed is None else self.crossed])

    def size_of_sums(self, sums: Floats, level: float) -> Floats:
        """Return how many independent records tell as much about the shares of several categories together.

        Parameters
        ----------
        sums : ndarray of float, shape (3, m)
            Sums of `parts`.
        level
            Of an interval of one share.

        Returns
        -------
        ndarray of float, shape (m,)
            As `sample_of` for one category. The square of what a record adds to several is not known: at most what it
            adds to them times what it adds to all.
        """
        share = np.clip(sums[0] / self.total, 0.0, 1.0)
        squares = sums[1] if self.crossed is None else sums[2]
        variance = (squares - 2 * share * sums[2]) / self.total**2 + share**2 / self.effective
        inside = (share > 0) & (share < 1) & (variance > 0)
        own = np.where(inside, share * (1 - share) / np.where(inside, variance, 1.0), self.effective)
        return np.minimum(own, self.effective) * spread_known(self.freedom, 1 - level)

    def words(self, origin: Provenance) -> str:
        """Return in words what the records are, how much they tell, and that they are taken as independent."""
        amount, unit = round(self.total), origin.amount_unit
        effective = Written(rounded(self.effective))
        if self.total <= 1:
            return ""
        if self.basis == "ready":
            noun = Message("occurrences") if unit == "records" else named_unit(unit)
            if self.effective > self.total * (1 - _HARDLY):
                return Message("taken as independent", number=amount, unit=noun)
            over = Message("from one to the next", name=one_line(self.over)) if self.over else Message("from columns")
            times = Written(rounded(self.total / self.effective))
            return Message("mix varies", number=amount, unit=noun, over=over, times=times, effective=effective)
        if self.basis == "records" or self.effective >= self.records * (1 - _EQUAL):
            return "" if origin.lot else Message("if independent")
        counted = Message("counted", number=amount, unit=named_unit(unit))
        if origin.lot:
            return Message("lots count as", count=round(self.records), amount=counted, effective=effective)
        return Message("records count as", count=round(self.records), amount=counted, effective=effective)


def rounded(number: float) -> str:
    """Return a number in words with three digits at most: it is known no better."""
    if number < 10:
        return number_text(max(round(number, 1), 0.1), most_decimals=1)
    step = 10 ** max(0, len(str(int(number))) - 3)
    return number_text(int(round(number / step) * step))


def sample_of(tally: Tally, level: float | None = None) -> Sample:
    """Return a tally as a sample.

    Parameters
    ----------
    tally
        Of records, of occurrences, of weights or of rates.
    level
        Of the intervals that the effective sizes are for: few records of unequal size know their own spread badly.
        None if there will be no intervals.

    Raises
    ------
    RankError
        If nothing can be said: amounts that came added up and are no counts, sums out of range, no records.

    Notes
    -----
    The effective size of a share is p (1 - p) over its variance, that of a ratio of sums over records (J. N. K. Rao and
    A. J. Scott, Ann. Statist. 12, 1984), times the squared ratio of the normal quantile to that of t (E. L. Korn and B.
    I. Graubard, Survey Methodology 24, 1998), never above the square of the sum over the sum of squares (L. Kish,
    "Survey Sampling", 1965). A category of fewer than ten records, or all but ten of them, is taken to be as uneven as
    the most uneven one, and more so the fewer they are: one without a record twice. Records of equal size are as many
    as they are.
    """
    rates = tally.exposure is not None
    amounts = tally.plain_counts if rates and tally.origin.weight is None else tally.frequency
    values = amounts.floats()
    exposure = tally.exposure.floats() if tally.exposure is not None else None
    if exposure is not None and tally.origin.weight is not None:
        values = values * exposure
    if not np.isfinite(values).all() or (exposure is not None and not np.isfinite(exposure).all()):
        raise RankError("how sure this is cannot be said: a number is out of range")
    if not values.sum() > 0:
        raise RankError("how sure this is cannot be said: all frequencies are zero")
    if tally.spread is not None:
        return clustered_sample(values, tally.categories, tally.spread, level, exposure)
    ready = tally.origin.ready
    whole = bool(np.all(values == np.floor(values))) and tally.origin.quantity is None
    if not whole or (ready and tally.origin.weight is not None):
        raise RankError(
            "how sure this is can be said of records only: these amounts came added up, and how many records they are "
            "made of is not known"
        )
    if ready:
        tables = [] if tally.repeats is None else [tally.repeats]
        return occurrences(values, tally.categories, tables, level, exposure)
    total = float(values.sum())
    every = np.full(len(values), total)
    return Sample(values, every, np.ones(len(values)), total, total, "records", exposure)


def occurrences(
    values: Floats,
    names: Sequence[str],
    repeats: Sequence[Repeats],
    level: float | None = None,
    exposure: Floats | None = None,
) -> Sample:
    """Return counts that came added up as a sample: each occurrence is a record, as far as the columns bear that out.

    Parameters
    ----------
    values : ndarray of float, shape (k,)
        The counts.
    names
        Of the categories.
    repeats
        The counts of one sheet, or of each of several, column by column.
    level
        Of the intervals that the effective sizes are for.

    Notes
    -----
    Where the mix varies from column to column by phi times as much as that of independent occurrences (chi-square of
    homogeneity over its degrees of freedom), they count as N / phi (J. N. K. Rao and A. J. Scott, JASA 76, 1981; P.
    McCullagh and J. A. Nelder, "Generalized Linear Models", 1989), a category as N / max(phi, sqrt(phi own phi)), with
    the squared ratio of the normal quantile to that of t with max(df / 2, columns - 1) degrees of freedom.
    """
    total = float(values.sum())
    factor, each, freedom = _dispersion(names, repeats)
    factor_known = 1.0 if level is None else spread_known(freedom, (1 - level) / len(values))
    over = repeats[0].over if repeats else ""
    sizes = total / each * factor_known
    return Sample(values, sizes, each, total / factor, total, "ready", exposure, None, freedom, over)


def _dispersion(names: Sequence[str], repeats: Sequence[Repeats]) -> tuple[float, Floats, float]:
    """Return by how much more the mix varies than independent occurrences: of all, of each category, and how sure."""
    statistic = degrees = 0.0
    columns, own, spare = 0, np.zeros(len(names)), 0.0
    for sheet in repeats:
        table = np.array([sheet.counts.get(name, ()) or (0.0,) * sheet.columns for name in names], dtype=np.float64)
        table = table[:, table.sum(axis=0) > 0]
        some = table.sum(axis=1) > 0
        if min(table.shape[1], int(some.sum())) < 2 or not np.isfinite(table).all():
            continue
        by_column = table.sum(axis=0)
        share = table.sum(axis=1, keepdims=True) / by_column.sum()
        away = (table - share * by_column) ** 2 / np.maximum(share * by_column, 1e-300)
        statistic += float(away[some].sum())
        degrees += (int(some.sum()) - 1) * (len(by_column) - 1)
        own += np.where(some, away.sum(axis=1) / np.maximum(1 - share[:, 0], 1e-9), 0.0)
        spare += len(by_column) - 1
        columns = max(columns, len(by_column))
    if not degrees:
        return 1.0, np.ones(len(names)), inf
    factor = max(1.0, statistic / degrees)
    each = np.maximum(factor, np.sqrt(factor * np.maximum(own / spare, 1.0)))
    freedom = max(degrees / 2, columns - 1.0) if each.max() > 1 else inf
    return factor, each, freedom


def clustered_sample(
    values: Floats, names: tuple[str, ...], spread: Spread, level: float | None = None, exposure: Floats | None = None
) -> Sample:
    """Return values of categories whose records stand for several occurrences as a sample; see `sample_of`."""
    moments = [spread.of(name) for name in names]
    records, squares, crossed = (
        np.array([moment[index] for moment in moments], dtype=np.float64) for index in range(3)
    )
    if not np.isfinite([*squares, *crossed, spread.whole]).all() or spread.whole < np.finfo(np.float64).tiny:
        raise RankError("how sure this is cannot be said: the squares of the amounts are out of range")
    total = float(values.sum())
    count, kish = float(spread.records), total * total / spread.whole
    several = bool(np.any(crossed > squares * (1 + _EQUAL)))
    design = np.where(values > 0, squares / np.where(values > 0, values, 1.0), 0.0)
    if not several and kish >= count * (1 - _EQUAL):  # records of one size
        return Sample(
            values,
            np.full(len(values), count),
            np.full(len(values), total / count),
            count,
            count,
            "records" if total == count else "clustered",
            exposure,
        )
    most = float(design.max())
    unknown = (records < _FEW) | (values <= 0)
    design = np.where(unknown, most * (1 + 1 / np.maximum(records, 1)), design)
    share = values / total
    variance = (squares - 2 * share * crossed + share**2 * spread.whole) / total**2
    inside = (share > 0) & (share < 1) & (variance > 0)
    own = np.where(inside, share * (1 - share) / np.where(inside, variance, 1.0), kish)
    sizes = np.minimum(own, kish)
    sizes = np.where(unknown, np.minimum(sizes, total / design), sizes)
    others = np.maximum(count - records, 0)  # as badly known if they are few
    likewise = total / (most * (1 + 1 / np.maximum(others, 1)))
    sizes = np.where(others < _FEW, np.minimum(sizes, likewise), sizes)
    factor = 1.0 if level is None else spread_known(count - 1, (1 - level) / len(values))
    effective, both = min(kish, count), crossed if several else None
    return Sample(values, sizes * factor, design, effective, count, "clustered", exposure, both, count - 1)


def spread_known(freedom: float, error: float) -> float:
    """Return by how much fewer records tell as much where their spread is estimated: a squared ratio, normal to t."""
    from scipy.special import ndtri, stdtrit

    if freedom == inf or freedom < 1:
        return 1.0
    tail = 1 - error / 2
    top: Any = ndtri(tail) / stdtrit(freedom, tail)
    return min(1.0, float(top) ** 2)


def share_intervals(sample: Sample, level: float = 0.95) -> tuple[Floats, Floats]:
    """Return intervals that hold all shares at once, with a chance of at least `level`.

    Parameters
    ----------
    sample
        Of k categories that were fixed beforehand.
    level
        The chance, from above 0 to below 1.

    Returns
    -------
    low, high : ndarray of float, shape (k,)
        Shares from 0 to 1.

    Notes
    -----
    C. J. Clopper and E. S. Pearson, Biometrika 26, 1934, for each share, at the level that Bonferroni's inequality
    asks for; of records that stand for several occurrences, with the effective size (`sample_of`).
    """
    sizes = sample.sizes
    return binomial_limits(sample.values / sample.total * sizes, sizes, 1 - (1 - level) / len(sizes))


def binomial_limits(hits: Any, trials: Any, level: float) -> tuple[Floats, Floats]:
    """Return the exact limits of a share, hits of trials: C. J. Clopper and E. S. Pearson, Biometrika 26, 1934."""
    from scipy.special import betaincinv

    x, n = np.broadcast_arrays(np.asarray(hits, dtype=np.float64), np.asarray(trials, dtype=np.float64))
    tail = (1 - level) / 2
    none, all_ = x <= 0, x >= n * (1 - _NEAR)
    low = np.where(none, 0.0, betaincinv(np.where(none, 1.0, x), np.where(none, 1.0, n - x + 1), tail))
    high = np.where(all_, 1.0, betaincinv(np.where(all_, 1.0, x + 1), np.where(all_, 1.0, n - x), 1 - tail))
    return _wide(low, x, n, -1.0), _wide(high, x, n, 1.0)


def _wide(limit: Floats, x: Floats, n: Floats, side: float) -> Floats:
    """Return limits with those of so many trials that the quantile has no digits left: ten standard errors away."""
    lost = ~np.isfinite(limit)
    if not lost.any():
        return limit
    share = np.divide(x, n, out=np.zeros_like(x), where=n > 0)
    away = share + side * _FAR * np.sqrt(share * (1 - share) / np.maximum(n, 1.0))
    return np.where(lost, np.clip(away, 0.0, 1.0), limit)


def rate_intervals(sample: Sample, level: float = 0.95) -> tuple[Floats, Floats]:
    """Return intervals that hold all rates at once, per one of the exposure.

    Notes
    -----
    F. Garwood, Biometrika 28, 1936, at the level that Bonferroni's inequality asks for; of records that stand for
    several occurrences, each count divided by the sum of the squares over the sum.
    """
    from scipy.special import gammaincinv

    assert sample.exposure is not None
    counts = sample.independent()
    tail = (1 - level) / (2 * len(counts))
    some = counts > 0
    low = np.where(some, gammaincinv(np.where(some, counts, 1.0), tail), 0.0)
    high = gammaincinv(counts + 1, 1 - tail)
    scale = sample.design / sample.exposure
    return low * scale, high * scale
