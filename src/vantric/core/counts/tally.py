"""A tally: categories with their frequencies and their spread, and what was missing."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, NamedTuple, Unpack

from vantric.core.counts.provenance import Missing, Provenance, counted_noun, says_how_many
from vantric.core.messages.message import Capital, Joined, Message
from vantric.core.numbers.amounts import Amounts, Number, Raw
from vantric.core.numbers.number_format import one_line, without_unit
from vantric.core.results import Rows, TableResult
from vantric.errors import CountError, RankError

if TYPE_CHECKING:
    from vantric.core.charts import Chart
    from vantric.typing import TallyChartOptions


_DIGITS = 11  # behind the first: sums of squares of floats, in whatever order, agree in more


class Moments(NamedTuple):
    """Of the records of one category.

    Attributes
    ----------
    records
        How many there are.
    squares
        Sum over them of the square of what each has in the category.
    crossed
        Sum over them of what each has in the category times what it has in all categories.
    """

    records: int = 0
    squares: float = 0.0
    crossed: float = 0.0


NOTHING = Moments()


@dataclass(frozen=True)
class Spread:
    """How the amounts of a tally are spread over its records.

    Attributes
    ----------
    categories
        Category -> the moments of its records.
    records
        How many records have a label.
    whole
        Sum over them of the square of what each has in all categories.
    missing
        The moments of the records without a label.
    """

    categories: Mapping[str, Moments]
    records: int
    whole: float
    missing: Moments = NOTHING

    def of(self, category: str) -> Moments:
        """Return the moments of a category; of one without a record, nothing."""
        return self.categories.get(category, NOTHING)

    def with_missing(self, label: str) -> Spread:
        """Return the spread with what had no label as a category."""
        moments = {**self.categories, label: self.missing}
        return Spread(moments, self.records + self.missing.records, self.whole + self.missing.squares)


class RecordGroup(NamedTuple):
    """Records that are alike: the category of each of their labels, how many they are, the sum of their squares."""

    labels: tuple[str | None, ...]
    records: int
    squares: float


def spread_of(parts: Iterable[RecordGroup]) -> Spread:
    """Return the spread of records; each has its whole amount in each of its labels, twice if it names one twice."""
    values: dict[str | None, list[list[float]]] = {}
    wholes: list[float] = []
    records = 0
    # Each record has its whole amount in each of its labels, so a record of two labels counts in both.
    for labels, number, squares in parts:
        valid = [label for label in labels if label is not None and label.strip()]
        size = len(valid)
        if valid:
            records += number
            # Of all labels together a record of three labels has three times its amount.
            wholes.append(squares * size * size)
        for label in dict.fromkeys(valid) if valid else (None,):
            times = valid.count(label) if label is not None else 1
            heaps = values.setdefault(label, [[], [], []])
            heaps[0].append(number)
            heaps[1].append(squares * times * times)
            # What a category and the whole have in common, for the variance of its share.
            heaps[2].append(squares * times * max(size, 1))
    moments = {
        label: Moments(int(sum(numbers)), _sum(two), _sum(three)) for label, (numbers, two, three) in values.items()
    }
    missing = moments.pop(None, NOTHING)
    return Spread({str(label): moment for label, moment in moments.items()}, records, _sum(wholes), missing)


def spread_of_lots(lots: Iterable[Mapping[str | None, float]]) -> Spread:
    """Return the spread of lots, each with what it has in every category; without a label under None."""
    values: dict[str | None, list[list[float]]] = {}
    wholes: list[float] = []
    for lot in lots:
        whole = math.fsum(amount for label, amount in lot.items() if label is not None)
        if any(label is not None for label in lot):
            wholes.append(whole * whole)
        for label, amount in lot.items():
            heaps = values.setdefault(label, [[], []])
            heaps[0].append(amount * amount)
            heaps[1].append(amount * (amount if label is None else whole))
    moments = {
        label: Moments(len(squares), _sum(squares), _sum(crossed)) for label, (squares, crossed) in values.items()
    }
    missing = moments.pop(None, NOTHING)
    return Spread({str(label): moment for label, moment in moments.items()}, len(wholes), _sum(wholes), missing)


@dataclass(frozen=True)
class Repeats:
    """The counts of a sheet by its columns: by how much its mix varies from one to the next.

    Attributes
    ----------
    over
        What the columns are, such as the name of a column of months; empty if it has no name.
    counts
        Category -> its count in each column.
    """

    over: str
    counts: Mapping[str, tuple[float, ...]]

    @property
    def columns(self) -> int:
        """How many columns there are."""
        return len(next(iter(self.counts.values()), ()))


def joined(spreads: Iterable[Spread]) -> Spread:
    """Return the spread of several parts that have no record in common."""
    parts = list(spreads)
    names = dict.fromkeys(name for part in parts for name in part.categories)
    moments = {name: _added([part.of(name) for part in parts]) for name in names}
    missing = _added([part.missing for part in parts])
    return Spread(moments, sum(part.records for part in parts), _sum([part.whole for part in parts]), missing)


def single(moments: Mapping[str, Moments]) -> Spread:
    """Return the spread of records that have one label each."""
    plain = {name: Moments(moment.records, moment.squares, moment.squares) for name, moment in moments.items()}
    whole = _sum([item.squares for item in plain.values()])
    return Spread(plain, sum(item.records for item in plain.values()), whole)


def _added(moments: list[Moments]) -> Moments:
    return Moments(
        sum(moment.records for moment in moments),
        _sum([moment.squares for moment in moments]),
        _sum([moment.crossed for moment in moments]),
    )


def _sum(values: list[float]) -> float:
    """Return a sum that does not depend on the order in which an engine took the records."""
    try:
        total = math.fsum(values)
    except OverflowError:  # squares of the largest floats
        return math.inf
    # Rounded, so that two engines that add up in different orders agree.
    return float(f"{total:.{_DIGITS}e}") if math.isfinite(total) else math.inf


MISSING_LABEL = "(missing)"


@dataclass(frozen=True, slots=True)
class TallyRow:
    """One category of a tally, with its percent of the whole."""

    category: str
    frequency: Number
    count: Number
    percent: float


@dataclass(frozen=True, eq=False, repr=False)
class Tally(Rows[TallyRow], TableResult):
    """Categories and how often each occurred; made by `vantric.tally`.

    Each of its `rows` has `category`, `frequency`, `count` and `percent`, the most frequent first.

    Two tallies are equal when they hold the same categories with the same frequencies and the same missing, in
    whatever order and from whatever source.

    Attributes
    ----------
    categories : tuple of str, length n
    frequency : Amounts of length n
        Sum of count times weight of each category's records; or a rate.
    missing : Missing
    origin : Origin
    counts : Amounts of length n or None
        The plain counts, where the frequency is weighted or a rate; None where it is the count.
    exposure : Amounts of length n or None
        What a rate was divided by.
    sequence : tuple of str or None
        The order in which the categories were given: that of their first records, or of the levels of an ordered
        column, which may name categories without a record. None if the source has none or it was not asked for.
    arranged
        Whether the categories are shown in the order in which they are, not by frequency.
    spread : Spread or None
        How the frequency is spread over the records, where one may stand for several occurrences or have several
        labels. None where every occurrence is a record of its own, or where that is not known (`Origin.ready`).
    repeats : Repeats or None
        Of a sheet of several columns: the count of each.
    """

    _kind = "tally"
    # What the library itself needs of a tally, and no user: not in `dir()`.
    _inner = frozenset({"labeled_rows", "plain_counts", "arranged", "places"})

    categories: tuple[str, ...]
    frequency: Amounts
    missing: Missing
    origin: Provenance
    counts: Amounts | None = None
    exposure: Amounts | None = None
    sequence: tuple[str, ...] | None = None
    arranged: bool = False
    spread: Spread | None = None
    repeats: Repeats | None = None

    def places(self) -> list[int]:
        """Return the places of the categories as they are shown: the most frequent first, or as they are arranged."""
        if self.arranged:
            return list(range(len(self.categories)))
        from vantric.core.counts.ranking import ranked_places

        return ranked_places(self.frequency, self.categories)

    @property
    def rows(self) -> tuple[TallyRow, ...]:
        """A row a category, as they are shown: the most frequent first, or as they are arranged."""
        values, counts = self.frequency.values(), self.plain_counts.values()
        whole = self.frequency.total_units
        shares = self.frequency.plain_percents(whole) if whole else [0.0] * len(values)
        return tuple(TallyRow(self.categories[n], values[n], counts[n], shares[n]) for n in self.places())

    @property
    def total(self) -> Number:
        """Frequency of all valid records together."""
        return self.frequency.total

    @property
    def records(self) -> Number:
        """How many occurrences have a label: the sum of the counts."""
        return self.plain_counts.total

    @property
    def plain_counts(self) -> Amounts:
        """How often each category occurred, whatever it weighs."""
        return self.frequency if self.counts is None else self.counts

    @property
    def labeled_rows(self) -> int:
        """How many records have a label; fewer than the mentions where a record has several."""
        return self.origin.input_rows - int(self.missing.records)

    @property
    def unit(self) -> str:
        """What the frequency is in: records, the count column's name, a weight, a rate."""
        return self.origin.unit

    def as_dict(self) -> dict[str, Number]:
        """Return category -> frequency."""
        return dict(zip(self.categories, self.frequency.values(), strict=True))

    def base(self) -> Joined:
        """Return the base of every percent: ``"231 records, 9 with a blank “defect”"``."""
        origin = self.origin
        base = base_words(self.records, origin)
        if origin.counted == "mentions":
            rows = Message("counted", number=origin.input_rows, unit=Message("records", count=origin.input_rows))
            base = Message("part of", part=base, whole=rows)
        if origin.weight and not origin.per:
            amount = Message("counted", number=self.total, unit=origin.unit_text())
            base = Message("amount of", amount=amount, records=base)
        if origin.per:
            base = Message("rate of", unit=Capital(origin.unit_text()), records=base)
        blank, missing = origin.blank(), self.missing.records
        counted_in = Message("counted without", number=origin.missing_as, label=blank) if origin.missing_as else ""
        left_out = Message("without", number=missing, label=blank) if missing else ""
        return Joined((base, counted_in, left_out), ", ")

    def sentence(self) -> str:
        """Return the base, and the largest categories, in one sentence."""
        sentence: str = self._of_kind().sentence(self)
        return sentence

    def to_frame(self, percent_of: str | None = None) -> Any:
        """Return category, frequency and percent as a frame, the most frequent first.

        Where cells hold several labels, percents are of ``"mentions"``, or on request of ``"records"``. The frame is
        of the library that the data came in, else of one that is installed.
        """
        return self._of_kind().to_frame(self, percent_of=percent_of)

    def chart(self, **options: Unpack[TallyChartOptions]) -> Chart:
        """Return the bars of the tally, the most frequent first, or its shares as one bar."""
        chart: Chart = self._of_kind().public_chart(self, **options)
        return chart

    def _key(self) -> tuple[Any, ...]:
        # Equal whatever the order of the categories.
        counts = None if self.counts is None else frozenset(zip(self.categories, self.counts.values(), strict=True))
        return frozenset(self.as_dict().items()), self.missing, counts

    def __eq__(self, other: object) -> bool:
        return self._key() == other._key() if isinstance(other, Tally) else NotImplemented

    def __hash__(self) -> int:
        return hash(self._key())

    def __repr__(self) -> str:
        leading = sorted(self.as_dict().items(), key=lambda item: (-item[1], item[0]))[:5]
        text = ", ".join(f"{label!r}: {frequency}" for label, frequency in leading)
        more = f", and {len(self.categories) - 5} more" if len(self.categories) > 5 else ""
        return f"<Tally of {self.base()}: {text}{more}>"


def base_words(amount: Number, origin: Provenance) -> Message:
    """Return ``"231 records"``, or the amount in the unit that was counted."""
    if origin.unit_name and not origin.weight:
        return Message("counted", number=amount, unit=one_line(origin.unit_name))
    if origin.quantity == "" and not origin.count:
        return Message("total amount", number=amount)
    if origin.count or origin.counted != "records" or origin.quantity:
        column = without_unit(origin.count or "")
        if origin.clock is not None:
            column = column or origin.count or ""
        elif origin.quantity and origin.count and origin.quantity not in origin.count:
            column = origin.count
        unit: Any = origin.counted_unit
        if unit == "mentions":
            unit = Message("mentions", count=amount)
        elif says_how_many(unit):
            unit, column = Message("occurrences", count=amount), ""
        else:
            unit = counted_noun(unit)
        written = origin.amount_text(amount)
        return Message("counted", number=written, unit=f"{unit} ({column})" if column else unit)
    if isinstance(amount, int) or amount.is_integer():
        return Message("counted", number=amount, unit=Message("records", count=amount))
    return Message("total amount", number=amount)


def make_tally(groups: Iterable[tuple[str | None, Raw]], origin: Provenance) -> Tally:
    """Return the tally of (label, frequency) groups; equal labels are added up.

    A label that is None or blank is missing. The amounts must have been checked (`parse_amount`).
    """
    labels: list[str] = []
    amounts: list[Raw] = []
    missing: list[Raw] = []
    for label, amount in groups:
        if label is None or not label.strip():
            missing.append(amount)
        else:
            labels.append(label)
            amounts.append(amount)
    # Most sources give every label once: adding up is for the others.
    if len(set(labels)) < len(labels):
        labels, amounts = _added_up(labels, amounts)
    left_out = Amounts.of(missing).total
    return Tally(tuple(labels), Amounts.of(amounts), Missing(left_out, left_out), origin)


def make_weighted_tally(groups: Iterable[tuple[str | None, Raw, Raw]], origin: Provenance) -> Tally:
    """Return the tally of (label, count, count x weight) groups; the plain counts stay beside the frequency."""
    values = list(groups)
    weighed = make_tally(((label, amount) for label, _, amount in values), origin)
    plain = make_tally(((label, count) for label, count, _ in values), origin)
    missing = Missing(plain.missing.records, weighed.missing.frequency)
    return replace(weighed, counts=plain.frequency, missing=missing)


def with_missing_category(tally: Tally) -> Tally:
    """Count what has no label as the category "(missing)"; a tally that misses nothing stays as it is.

    Raises
    ------
    CountError
        If "(missing)" is a label already.
    """
    missing = tally.missing
    if not missing.records and not missing.frequency:
        return tally
    if MISSING_LABEL in tally.categories:
        raise CountError(f"'{MISSING_LABEL}' is a label already: missing labels cannot be counted under the same name")
    counts = None if tally.counts is None else tally.counts.joined(missing.records)
    return replace(
        tally,
        categories=(*tally.categories, MISSING_LABEL),
        frequency=tally.frequency.joined(missing.frequency),
        counts=counts,
        missing=Missing(),
        origin=replace(tally.origin, missing_as=missing.records),
        sequence=None if tally.sequence is None else (*tally.sequence, MISSING_LABEL),
        spread=None if tally.spread is None else tally.spread.with_missing(MISSING_LABEL),
    )


def _added_up(labels: list[str], amounts: list[Raw]) -> tuple[list[str], list[Raw]]:
    heaps: dict[str, list[Raw]] = {}
    for label, amount in zip(labels, amounts, strict=True):
        heaps.setdefault(label, []).append(amount)
    return list(heaps), [exact_sum(heap) for heap in heaps.values()]


def exact_sum(amounts: list[Raw]) -> Raw:
    """Return the sum: exact for ints and Decimals, correctly rounded once a float is among them."""
    # Decimals stay decimals: a float could not hold a sum of money.
    heap = Amounts.of(amounts)
    return heap.total if not heap.exact or heap.scale == 0 else heap.decimal_total()


def without_zeros(tally: Tally) -> Tally:
    """Return the tally without the categories that never occurred."""
    numbers = [place for place, units in enumerate(tally.frequency.plain()) if units]
    if len(numbers) == len(tally.categories):
        return tally

    def taken(amounts: Amounts | None) -> Amounts | None:
        if amounts is None:
            return None
        units = amounts.plain()
        return Amounts([units[place] for place in numbers], amounts.scale)

    frequency = taken(tally.frequency)
    assert frequency is not None
    names = tuple(tally.categories[place] for place in numbers)
    labels = None if tally.sequence is None else tuple(name for name in tally.sequence if name in set(names))
    return replace(
        tally,
        categories=names,
        frequency=frequency,
        counts=taken(tally.counts),
        exposure=taken(tally.exposure),
        sequence=labels,
    )


def check_rankable(tally: Tally) -> None:
    """Raise `RankError` if a tally holds nothing to rank, saying what it lacks."""
    # From the likeliest cause to the last: each message says what to look at.
    where = tally.origin.source or "the data"
    label = f"'{tally.origin.by}'" if tally.origin.by else "the labels"
    if not tally.origin.input_rows and tally.origin.where:
        raise RankError(f"{where}: no record meets the condition: {tally.origin.where}")
    if not tally.categories and not tally.missing.records and not tally.origin.input_rows:
        raise RankError(f"{where} holds no records: there is nothing to count")
    if not tally.categories:
        raise RankError(f"{where}: {label} is empty in every record: there is nothing to rank")
    if tally.frequency.is_zero:
        raise RankError(f"{where}: all frequencies are zero: there is nothing to rank")
