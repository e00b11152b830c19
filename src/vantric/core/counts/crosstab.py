"""A two-way table: categories by the labels of a second column."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import product
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal, NamedTuple, Unpack

from vantric.base.lazily import cached_property
from vantric.core.counts.provenance import Missing, Provenance
from vantric.core.counts.ranking import rank_descending
from vantric.core.counts.tally import MISSING_LABEL, Repeats, Spread, Tally, exact_sum, joined, single, without_zeros
from vantric.core.numbers.amounts import Amounts, Number, Raw
from vantric.core.numbers.label_order import in_label_order
from vantric.core.numbers.number_format import one_line
from vantric.core.results import Rows, TableResult
from vantric.errors import CountError, RankError, unknown

if TYPE_CHECKING:
    from typing import BinaryIO

    import numpy as np
    from numpy.typing import NDArray

    from vantric.core.charts import Chart
    from vantric.core.counts.comparison import Comparison
    from vantric.typing import TallyChartOptions

Base = Literal["row", "column", "all"]

#: Cells of a table by which its columns are held against each other.
_MOST_REPEATED = 200_000


@dataclass(frozen=True, slots=True)
class CrosstabRow:
    """One category of a two-way table: its frequency at each label of the split, and its total."""

    category: str
    frequencies: dict[str, Number]
    total: Number


@dataclass(frozen=True, eq=False, repr=False)
class Crosstab(Rows[CrosstabRow], TableResult):
    """Frequencies of every pair of a category and a label of the split; made by `vantric.crosstab`.

    Each of its `rows` has `category`, `frequencies` (by label) and `total`.

    Attributes
    ----------
    categories : tuple of str, length r
        In descending order of their totals, ties in natural label order.
    columns : tuple of str, length c
        The labels of the split, in natural order.
    frequency : Amounts of length r x c
        Row by row; zero for pairs that do not occur.
    split
        The column of the split.
    missing : Missing
        Records that lack either label.
    origin : Origin
    counts : Amounts of length r x c or None
        The plain counts, where the frequency is weighted.
    sequence : tuple of str or None
        The categories in the order of their first records, if it was asked for.
    column_missing : tuple of Missing, length c
        Records that have the label of each column and lack a category; empty if that is not known.
    spreads : tuple of Spread, length c
        How the frequency of each column is spread over its records; empty where every occurrence is a record.
    period
        The calendar period that the columns are, in order; empty if they are none.
    partial
        The first and the last of them, where the records do not fill it.
    """

    _kind = "tally"
    # Frames and charts are worked out by the kind; this one name is for the core alone.
    _inner = frozenset({"sum_of"})

    categories: tuple[str, ...]
    columns: tuple[str, ...]
    frequency: Amounts
    split: str
    missing: Missing
    origin: Provenance
    counts: Amounts | None = None
    sequence: tuple[str, ...] | None = None
    column_missing: tuple[Missing, ...] = ()
    spreads: tuple[Spread, ...] = ()
    period: str = ""
    partial: tuple[str, ...] = ()

    @cached_property
    def _units(self) -> NDArray[Any]:
        return self._in_rows(self.frequency)

    @property
    def rows(self) -> tuple[CrosstabRow, ...]:
        """A row a category, in descending order of their totals."""
        cells = zip(self.categories, self.frequencies(), self.row_totals.values(), strict=True)
        return tuple(CrosstabRow(name, dict(zip(self.columns, row, strict=True)), total) for name, row, total in cells)

    @cached_property
    def row_totals(self) -> Amounts:
        """The total of each category; exact for integers and decimals."""
        return Amounts(self._units.sum(axis=1), self.frequency.scale)

    @cached_property
    def column_totals(self) -> Amounts:
        """The total of each label of the split."""
        return Amounts(self._units.sum(axis=0), self.frequency.scale)

    def sum_of(self, rows: list[int]) -> list[Number]:
        """Return the frequencies of several categories together, one a column."""
        return Amounts(self._units[rows].sum(axis=0), self.frequency.scale).values()

    @property
    def total(self) -> Number:
        """Frequency of all valid records together."""
        return self.frequency.total

    def frequencies(self) -> list[list[Number]]:
        """Return the frequencies row by row."""
        values, width = self.frequency.values(), len(self.columns)
        return [values[place : place + width] for place in range(0, len(values), width)]

    def percents(self, of: Base = "all") -> NDArray[np.float64]:
        """Return the frequencies in percent.

        Parameters
        ----------
        of
            The base: each cell's ``"row"``, its ``"column"``, or ``"all"``.

        Returns
        -------
        ndarray of shape (r, c)
            NaN where the base is zero.
        """
        import numpy as np

        if of == "all":
            base: NDArray[Any] = np.array(self.frequency.total_units, dtype=object)
        else:
            base = self.row_totals.units[:, None] if of == "row" else self.column_totals.units[None, :]
        # Python's integers: 100 times a count may pass 64 bits.
        units, bases = np.broadcast_arrays(self._units.astype(object), base.astype(object))
        flat = [100 * unit / whole if whole else np.nan for unit, whole in zip(units.flat, bases.flat, strict=True)]
        return np.array(flat, dtype=np.float64).reshape(self._units.shape)

    def transposed(self) -> Crosstab:
        """Return the table with categories and split exchanged."""
        recipe = self._recipe and self._of_kind().verbs["exchanged"](self)
        return self._turned()._made_by(recipe)

    def compare(
        self,
        before: str,
        after: str,
        *,
        per: Sequence[float] | None = None,
        per_units: float = 1,
        per_name: str = "units",
    ) -> Comparison:
        """Set two columns side by side; see `vantric.compare`.

        Parameters
        ----------
        before, after
            Labels of the split.
        per
            What each was counted in, as two numbers: rates are compared then.
        per_units, per_name
            Rates are per so many, of what.
        """
        comparison: Comparison = self._of_kind().verbs["compare"](self, before, after, per, per_units, per_name)
        return comparison

    def to_frame(self, percent_of: Base | None = None) -> Any:
        """Return frequencies, or percents of a base, as a frame: a row a category, a column a label."""
        return self._of_kind().verbs["crosstab_frame"](self, percent_of)

    def to_dict(self, percent_of: Base = "all") -> dict[str, Any]:
        """Return the object that ``vantric tally --split ... --format json`` prints."""
        mapping: dict[str, Any] = self._of_kind().to_dict(self, percent_of=percent_of)
        return mapping

    def save(  # type: ignore[override]
        self,
        target: str | Path | BinaryIO,
        percent_of: Base | None = None,
        *,
        format: str = "",
        slide_tables: bool = False,
    ) -> Path | None:
        """Write the table by the path's ending, or into an open file; see `Tally.save`.

        `percent_of` is what its percents are of.
        """
        kind, how = self._of_kind(), {"slide_tables": slide_tables, "percent_of": percent_of}
        path: Path | None = kind.save(self, target, format=format, **how)
        return path

    def chart(self, **options: Unpack[TallyChartOptions]) -> Chart:
        """Return the bars of the table: a place a row, a series a column."""
        chart: Chart = self._of_kind().public_chart(self, **options)
        return chart

    def _turned(self) -> Crosstab:
        turned = replace(self.origin, by=self.split, split=self.origin.by)
        plain = self.frequency if self.counts is None else self.counts
        groups = [
            Pair(label, category, count, amount)
            for (category, label), count, amount in zip(
                product(self.categories, self.columns), plain.values(), self.frequency.values(), strict=True
            )
        ]
        crosstab = make_crosstab(groups, self.missing, self.origin.by or "", turned, weighted=self.counts is not None)
        # Turned, each row becomes a column and has the spread of its cells.
        if not self.spreads:
            return crosstab
        rows = (
            {label: spread.of(name) for label, spread in zip(self.columns, self.spreads, strict=True)}
            for name in crosstab.columns
        )
        return replace(crosstab, spreads=tuple(map(single, rows)))

    def tally(self) -> Tally:
        """Return the totals of the categories as a tally."""
        return Tally(
            self.categories,
            self.row_totals,
            self.missing,
            self.origin,
            self._row_counts(),
            sequence=self.sequence,
            spread=joined(self.spreads) if self.spreads else None,
            repeats=self._repeats(),
        )

    def _repeats(self) -> Repeats | None:
        """Return the counts of a table that came added up, column by column."""
        if not self.origin.ready or len(self.columns) < 2 or len(self._units.flat) > _MOST_REPEATED:
            return None
        rows = {name: tuple(map(float, row)) for name, row in zip(self.categories, self.frequencies(), strict=True)}
        return Repeats("" if self.split == "column" else self.split, rows)

    def column(self, label: str) -> Tally:
        """Return one column as a tally of its own, without what it does not hold.

        Raises
        ------
        CountError
            If there is no such label.
        """
        if label not in self.columns:
            raise unknown(CountError, f"'{self.split}' has no '{label}'", label, self.columns)
        index = self.columns.index(label)
        frequency = Amounts(self._units[:, index], self.frequency.scale)
        counts = None if self.counts is None else Amounts(self._in_rows(self.counts)[:, index], self.counts.scale)
        origin = replace(self.origin, within=f"{self.split} is {one_line(label)}", split=None)
        missing = self.column_missing[index] if self.column_missing else Missing()
        spread = self.spreads[index] if self.spreads else None
        return without_zeros(Tally(self.categories, frequency, missing, origin, counts, spread=spread))

    def _in_rows(self, amounts: Amounts) -> NDArray[Any]:
        return amounts.units.reshape(len(self.categories), len(self.columns))

    def _row_counts(self) -> Amounts | None:
        return None if self.counts is None else Amounts(self._in_rows(self.counts).sum(axis=1), self.counts.scale)

    def _key(self) -> tuple[Any, ...]:
        return self.categories, self.columns, tuple(self.frequency.values()), self.missing, self.split

    def __eq__(self, other: object) -> bool:
        return self._key() == other._key() if isinstance(other, Crosstab) else NotImplemented

    def __hash__(self) -> int:
        return hash(self._key())

    def __repr__(self) -> str:
        shape = f"{len(self.categories)} x {len(self.columns)}"
        return f"<Crosstab of {self.origin.by} by {self.split}, {shape}, {self.tally().base()}>"


class Pair(NamedTuple):
    """What the records with one pair of labels add up to."""

    category: str | None
    label: str | None
    counted: Raw
    amount: Raw


def make_crosstab(
    groups: Iterable[Pair],
    missing: Missing | None,
    split: str,
    origin: Provenance,
    *,
    columns: Sequence[str] | None = None,
    weighted: bool = False,
    sequence: tuple[str, ...] | None = None,
) -> Crosstab:
    """Return the two-way table of pairs.

    Parameters
    ----------
    groups
        Pairs may come several times; one that lacks a label is missing.
    missing
        What is missing, if it is known.
    split
        The column of the second labels.
    origin
        Where the pairs come from.
    columns
        The second labels in order, those that do not occur too; in natural order if not given.
    weighted
        Whether counts and amounts differ.
    sequence
        The categories in the order of their first records.

    Raises
    ------
    RankError
        If no record has both labels.
    """
    cells, without = _in_cells(groups)
    if not cells:
        place = f"{origin.source or 'the data'}: no record"
        raise RankError(f"{place} has both '{origin.by}' and '{split}': there is nothing to count")
    if columns is None:
        columns = _in_order({label for _, label in cells})
    names = in_label_order({category for category, _ in cells})
    sums = {pair: exact_sum([item.amount for item in heap]) for pair, heap in cells.items()}
    totals = Amounts.of(
        # Ranked by exact totals: a float could turn two of them round.
        [exact_sum([sums[name, label] for label in columns if (name, label) in sums]) for name in names]
    )
    order, _ = rank_descending(totals, names)
    ranked = [names[place] for place in order.tolist()]
    every = list(product(ranked, columns))
    counts = None
    if weighted:
        plain = {pair: exact_sum([item.counted for item in heap]) for pair, heap in cells.items()}
        counts = Amounts.of([plain.get(pair, 0) for pair in every])
    # Where records without a label are counted as a category of their own, none is missing.
    in_columns = (
        () if missing is not None else tuple(_left_out(p for p in without if p.label == label) for label in columns)
    )
    return Crosstab(
        tuple(ranked),
        tuple(columns),
        Amounts.of([sums.get(pair, 0) for pair in every]),
        split,
        missing if missing is not None else _left_out(without),
        origin,
        counts,
        sequence,
        in_columns,
    )


def _in_cells(groups: Iterable[Pair]) -> tuple[dict[tuple[str, str], list[Pair]], list[Pair]]:
    cells: dict[tuple[str, str], list[Pair]] = {}
    without: list[Pair] = []
    for pair in groups:
        category, label = pair.category, pair.label
        # A record that lacks one of the two labels cannot stand in any cell.
        if category is None or label is None or not category.strip() or not label.strip():
            without.append(pair)
        else:
            cells.setdefault((category, label), []).append(pair)
    return cells, without


def _in_order(labels: set[str]) -> list[str]:
    # What is missing stands last, whatever its letters.
    return [*in_label_order(labels - {MISSING_LABEL}), *(labels & {MISSING_LABEL})]


def _left_out(pairs: Iterable[Pair]) -> Missing:
    found_pairs = list(pairs)
    return Missing(
        Amounts.of([p.counted for p in found_pairs]).total, Amounts.of([p.amount for p in found_pairs]).total
    )
