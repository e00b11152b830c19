"""The Pareto table: categories ranked and accumulated, with their cutoff."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any, Unpack

from vantric.base.lazily import cached_property
from vantric.core.counts.cutoff import Cutoff, crossing_at, leading_count
from vantric.core.counts.ordering import REST_LABEL
from vantric.core.counts.provenance import Missing, Provenance
from vantric.core.counts.ranking import RankedAmounts, rank_descending
from vantric.core.counts.tally import Tally
from vantric.core.numbers.amounts import Amounts, Number
from vantric.core.numbers.number_format import counted
from vantric.core.results import Rows, TableResult

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from vantric.core.charts import Chart, PanelChart
    from vantric.core.counts.crosstab import Crosstab
    from vantric.core.statistics import Certainty, Concentration
    from vantric.typing import ParetoTableChartOptions


@dataclass(frozen=True, slots=True)
class ParetoRow:
    """One category of a Pareto table; `percent` and `cumulative_percent` are exact, not rounded.

    The rest has no `rank` and no `abc`. `rank` is by frequency, whatever the order of the rows.
    """

    rank: int | None
    category: str
    frequency: Number
    count: Number
    percent: float
    cumulative_frequency: Number
    cumulative_percent: float
    abc: str | None


@dataclass(frozen=True)
class RestRow:
    """The small categories, folded into one row.

    Attributes
    ----------
    label
        What the row is called.
    categories
        What it holds, the most frequent first.
    frequency, count, percent
        What they add up to.
    """

    label: str
    categories: tuple[str, ...]
    frequency: Number
    count: Number
    percent: float


@dataclass(frozen=True, eq=False, repr=False)
class ParetoTable(Rows[ParetoRow], TableResult):
    """Categories in order, with running sums, cutoffs and perhaps a rest; made by `vantric.pareto`.

    Each of its `rows` has `rank`, `category`, `frequency`, `count`, `percent`, `cumulative_frequency`,
    `cumulative_percent` and `abc`; `rest` holds what was folded. Columns are arrays; rows are made
    when they are asked for.

    Attributes
    ----------
    tally : Tally
        What was counted.
    ranking : Ranking
        The categories in descending order of frequency.
    arranged : ndarray of shape (n,) or None
        Places of the categories in the table's order, those that are folded too; None for the order of frequency.
    ordering
        ``"frequency"``, ``"given"``, ``"label"`` or ``"listed"``.
    cuts, rule, ties_rule
        The cutoffs in percent and how they are decided.
    folded
        Places of the categories in the rest.
    rest_label
        What the rest is called.
    pinned
        How many categories are pinned to the end.
    strata : Crosstab or None
        The frequencies by a second column; its rows are the categories of the tally, in its order.
    within : tuple of (str, ParetoTable)
        The tables of a drill-down: within each of the vital few, that of the next column.
    """

    _kind = "pareto"
    _inner = frozenset(
        {
            "arranged",
            "cumulative_shares",
            "cuts",
            "folded",
            "in_rows",
            "named",
            "order",
            "pinned",
            "places",
            "ranked",
            "ranking",
            "rest_label",
            "rule",
            "shares",
            "tie_starts",
            "tied_after",
            "ties_rule",
        }
    )

    tally: Tally
    ranking: RankedAmounts
    arranged: NDArray[np.intp] | None = None
    ordering: str = "frequency"
    cuts: tuple[Number, ...] = ()
    rule: str = "reach"
    ties_rule: str = "exclude"
    folded: list[int] = field(default_factory=list)
    rest_label: str = REST_LABEL
    pinned: int = 0
    strata: Crosstab | None = None
    within: tuple[tuple[str, ParetoTable], ...] = ()

    @property
    def _is_plain(self) -> bool:
        """Whether it is short and in the order of frequency: lists are quicker than NumPy is loaded."""
        return self.ranking.is_short and self.arranged is None and not len(self.folded)

    @property
    def places(self) -> list[int]:
        """`order` as a list."""
        if self.arranged is None:
            return self.ranking.places
        places: list[int] = self.arranged.tolist()
        return places

    @property
    def ranked(self) -> NDArray[np.intp]:
        """Places of the categories in descending order of frequency, ties in natural label order."""
        return self.ranking.order

    @property
    def tie_starts(self) -> NDArray[np.intp]:
        """Where the runs of equal frequency start in `ranked`."""
        return self.ranking.starts

    @property
    def order(self) -> NDArray[np.intp]:
        """Places of the categories in the table's order, those that are folded too."""
        return self.ranked if self.arranged is None else self.arranged

    @cached_property
    def named(self) -> NDArray[np.intp]:
        """Places of the categories that keep their names, in the table's order."""
        import numpy as np

        return self.order if not len(self.folded) else self.order[~np.isin(self.order, self.folded)]

    @cached_property
    def categories(self) -> tuple[str, ...]:
        """The labels of the rows, in order; the rest is the last."""
        if not len(self.folded):
            return self._labels(0, self.size)
        return (*map(self.tally.categories.__getitem__, self.named.tolist()), self.rest_label)

    @cached_property
    def frequency(self) -> Amounts:
        """Frequencies of the rows."""
        if self._is_plain:
            return self.tally.frequency.take(self.ranking.places)
        if self.arranged is None and not self.folded:
            return self.ranking.in_order
        return self.in_rows(self.tally.frequency)

    @cached_property
    def counts(self) -> Amounts:
        """Plain counts of the rows."""
        return self.frequency if self.tally.counts is None else self.in_rows(self.tally.counts)

    def in_rows(self, amounts: Amounts) -> Amounts:
        """Return amounts of the tally's categories as those of the rows: the rest is the sum of what it holds."""
        if not len(self.folded):
            return amounts.take(self.places if self._is_plain else self.order)
        import numpy as np

        named = amounts.take(self.named)
        rest = amounts.take(self.folded).total_units
        if named.units.dtype.kind == "O":
            return Amounts([*named.units.tolist(), rest], amounts.scale)
        return Amounts(np.append(named.units, rest), amounts.scale)

    @cached_property
    def cumulative(self) -> Amounts:
        """Cumulative frequencies; the last is exactly the total."""
        amounts = self.frequency.cumulative()
        if not amounts.exact and len(self.folded):
            return Amounts([*amounts.plain()[:-1], float(self.tally.frequency.total_units)])
        return amounts

    @cached_property
    def percents(self) -> NDArray[np.float64]:
        """Each frequency in percent of the total."""
        return self.frequency.percents(self.tally.frequency.total_units)

    @cached_property
    def cumulative_percents(self) -> NDArray[np.float64]:
        """Cumulative percents; the last is exactly 100."""
        return self.cumulative.percents(self.tally.frequency.total_units)

    @cached_property
    def shares(self) -> list[float]:
        """`percents` as a list."""
        if self._is_plain:
            return self.frequency.plain_percents(self.tally.frequency.total_units)
        shares: list[float] = self.percents.tolist()
        return shares

    @cached_property
    def cumulative_shares(self) -> list[float]:
        """`cumulative_percents` as a list."""
        if self._is_plain:
            return self.cumulative.plain_percents(self.tally.frequency.total_units)
        shares: list[float] = self.cumulative_percents.tolist()
        return shares

    @property
    def total(self) -> Number:
        """Frequency of all valid records together."""
        return self.tally.total

    @property
    def missing(self) -> Missing:
        """What was left out because it had no label."""
        return self.tally.missing

    @property
    def origin(self) -> Provenance:
        """Where the counts come from."""
        return self.tally.origin

    @property
    def size(self) -> int:
        """How many categories there are, those in the rest too."""
        return len(self.ranking.labels)

    @cached_property
    def cutoffs(self) -> tuple[Cutoff, ...]:
        """The cutoffs, ascending; empty if there is none."""
        return tuple(map(self._decided, self.cuts))

    @property
    def cutoff(self) -> Cutoff | Any:
        """The first cutoff, or None."""
        return self.cutoffs[0] if self.cutoffs else None

    @cached_property
    def rest(self) -> RestRow | None:
        """The small categories together; None if none was folded."""
        if not len(self.folded):
            return None
        frequency, counts = self.tally.frequency.take(self.folded), self.tally.plain_counts.take(self.folded)
        names = tuple(map(self.tally.categories.__getitem__, self.folded))
        return RestRow(self.rest_label, names, frequency.total, counts.total, float(self.percents[-1]))

    def strata_rows(self) -> list[list[Number]]:
        """Return for each row its frequency in each stratum; empty lists if there are none."""
        if self.strata is None:
            return [[] for _ in range(len(self))]
        strata = self.strata
        places = {label: row for row, label in enumerate(strata.categories)}
        named = [[places.get(label)] for label in self.categories[: len(self) - bool(self.rest)]]
        numbers = [[places.get(label) for label in self.rest.categories]] if self.rest else []
        return [strata.sum_of([row for row in rows if row is not None]) for rows in (*named, *numbers)]

    @cached_property
    def ranks(self) -> NDArray[np.intp]:
        """The rank by frequency of each category of the tally, from 1."""
        import numpy as np

        ranks = np.empty(len(self.ranked), dtype=np.intp)
        ranks[self.ranked] = np.arange(1, len(self.ranked) + 1)
        return ranks

    @cached_property
    def rows(self) -> tuple[ParetoRow, ...]:
        """The table row by row."""
        rest = [None] if len(self.folded) else []
        ranks = range(1, 1 + self.size) if self._is_plain else self.ranks[self.named].tolist()
        columns = zip(
            [*ranks, *rest],
            self.categories,
            self.frequency.values(),
            self.counts.values(),
            self.shares,
            self.cumulative.values(),
            self.cumulative_shares,
            [*self._classes(), *rest],
            strict=True,
        )
        return tuple(ParetoRow(*values) for values in columns)

    def _classes(self) -> list[str | None]:
        """Return A for the vital few, B, C ... for what is between and beyond the cutoffs; None without one."""
        inside = [cut.count for cut in self.cutoffs]
        if not inside:
            return [None] * (self.size - len(self.folded))
        folded = set(self.folded)
        named = (number for number, place in enumerate(self.places) if place not in folded)
        return [chr(65 + bisect_right(inside, number)) for number in named]

    @cached_property
    def ties(self) -> tuple[tuple[str, ...], ...]:
        """Groups of categories that tie in frequency, in natural label order."""
        return self.ranking.tied()

    @cached_property
    def rank_changes(self) -> tuple[tuple[str, int, int], ...]:
        """(category, rank by frequency, rank by count) where the two differ, though no tie explains it."""
        if self.tally.counts is None:
            return ()
        order, starts = rank_descending(self.tally.counts, self.tally.categories)
        plain, weighed = _spans(order, starts), _spans(self.ranked, self.tie_starts)
        moved = (plain[1] < weighed[0]) | (plain[0] > weighed[1])
        places = [place for place in self.ranked.tolist() if moved[place]]
        return tuple((self.tally.categories[p], int(weighed[0][p]), int(plain[0][p])) for p in places)

    def __len__(self) -> int:
        return self.size - len(self.folded) + bool(len(self.folded))

    def _decided(self, percent: Number) -> Cutoff:
        cumulative = self.cumulative
        total = self.tally.frequency.total_units  # known by now, of many that were sorted
        if len(self.folded):
            cumulative = self.tally.frequency.take(self.places if self._is_plain else self.order).cumulative()
        count = leading_count(cumulative, total, percent, self.rule)
        tied, included = self.tied_after(count), self.ties_rule == "include"
        inside = count + (tied if included else 0)
        reached = cumulative.take(list(range(max(inside - 1, 0), inside))).plain_percents(total)
        return Cutoff(
            percent=percent,
            rule=self.rule,
            count=inside,
            cumulative_percent=reached[0] if inside else 0.0,
            crossing=crossing_at(cumulative, total, percent),
            tied_count=tied,
            ties_included=included,
            _labels=self._labels,
        )

    def _labels(self, start: int, end: int) -> tuple[str, ...]:
        """Return the categories from one place to another in the table's order."""
        places = self.places if self._is_plain else self.order[start:end].tolist()
        return tuple(map(self.tally.categories.__getitem__, places[start:end] if self._is_plain else places))

    def tied_after(self, count: int) -> int:
        """Return how many follow the first `count` and tie with the last of them; pinned ones are apart."""
        if not count or count > self.size - self.pinned:
            return 0
        if self.arranged is None:
            return self.ranking.end_of(count) - count
        import numpy as np

        rank = self.ranks[self.order[count - 1]] - 1
        run_end = int(self.tie_starts[int(np.searchsorted(self.tie_starts, rank, side="right"))])
        after = self.order[count : self.size - self.pinned]
        return int(np.searchsorted(self.ranks[after], run_end, side="right"))

    def certainty(self, *, level: float = 0.95, start: int = 1) -> Certainty:
        """Return how sure the ranking of the table is.

        Parameters
        ----------
        level
            The chance that all intervals hold at once, and that all ranges of ranks do.
        start
            What the random numbers begin with: the same gives the same, with the same NumPy.

        Returns
        -------
        Certainty
            Its `rows` have `low` and `high` around the percent (C. J. Clopper and E. S. Pearson, 1934, for all
            categories at once) or around the rate (F. Garwood, 1936), `lowest_rank` and `highest_rank`, `vital`:
            whether it is sure to be one of the vital few, not one, or open; and `even_low` and `even_high`: where the
            bar of this rank would be if all categories were equally likely. `first_p`, `evenness`, `settled` and
            `effective` say whether the first is the first, whether there are vital few at all, whether all of them are
            known, and how many records tell as much. `sentence()` says it in words; docs/certainty.md has every method.

        Raises
        ------
        RankError
            For weights that came added up, one row per category: which records they are made of is not known.
        """
        certainty: Certainty = self._of_kind().verbs["certainty"](self, level=level, start=start)
        return certainty

    def concentration(self, *, level: float = 0.95) -> Concentration:
        """Return how concentrated the frequencies are: the effective number of categories, and Gini, with intervals.

        Parameters
        ----------
        level
            The chance, at least, that an interval holds its number.

        Raises
        ------
        RankError
            For rates, and for weights that came added up.
        """
        concentration: Concentration = self._of_kind().verbs["concentration"](self, level=level)
        return concentration

    def sentence(self) -> str:
        """Return what the table shows in one sentence that can be read out."""
        sentence: str = self._of_kind().sentence(self)
        return sentence

    def to_frame(self) -> Any:
        """Return the rows as a frame, in the columns of the contract, percents unrounded.

        Columns of the strata are behind them; the tables of a drill-down follow, named in the column `within`. The
        frame is of the library that the data came in, else of one that is installed.
        """
        return self._of_kind().to_frame(self)

    def chart(self, **options: Unpack[ParetoTableChartOptions]) -> Chart | PanelChart:
        """Return the Pareto chart of the table; see `vantric.pareto_chart`."""
        chart: Chart | PanelChart = self._of_kind().public_chart(self, **options)
        return chart

    def _key(self) -> tuple[Any, ...]:
        counts = None if self.tally.counts is None else tuple(self.counts.values())
        rest = self.rest.categories if self.rest else ()
        return self.categories, tuple(self.frequency.values()), counts, self.missing, self.cutoffs, rest, self.within

    def __eq__(self, other: object) -> bool:
        return self._key() == other._key() if isinstance(other, ParetoTable) else NotImplemented

    def __hash__(self) -> int:
        return hash(self._key())

    def __repr__(self) -> str:
        cut = self.cutoff
        few = f"; {cut.percent}% reached by {cut.count}" if cut else ""
        named = counted(self.size, "category", "categories")
        more = ", ..." if len(self) > 3 else ""
        return f"<ParetoTable of {named}, {self.tally.base()}{few}: {', '.join(self.categories[:3])}{more}>"


def localize(table: ParetoTable, name: str) -> ParetoTable:
    """Return a table whose rest is called as a language says, where the user gave it no name of its own."""
    if name == REST_LABEL or table.rest_label != REST_LABEL or name in table.tally.categories:
        return table
    within = tuple((label, localize(inner, name)) for label, inner in table.within)
    return replace(table, rest_label=name, within=within)


def _spans(order: NDArray[np.intp], starts: NDArray[np.intp]) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Return for each place the first and the last rank that its tie covers."""
    import numpy as np

    lengths = np.diff(starts)
    first, last = np.empty(len(order), dtype=np.intp), np.empty(len(order), dtype=np.intp)
    first[order] = np.repeat(starts[:-1] + 1, lengths)
    last[order] = np.repeat(starts[1:], lengths)
    return first, last
