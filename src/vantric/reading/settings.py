"""What the user says of a source: how to open it, and what to count in it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import field, replace
from pathlib import Path
from time import monotonic
from typing import Any, Literal, TypeAlias

from vantric.base.lazily import dataclass
from vantric.core.counts.ordering import Measured, RankSettings, read_names
from vantric.core.numbers.periods import Period
from vantric.errors import ColumnError, CountError, OptionError, unknown_column
from vantric.options import NOTHING, Options, known_options, option
from vantric.reading.headings import same_name

Missing: TypeAlias = Literal["exclude", "category"]
Rows: TypeAlias = Literal["records", "totals"]
CombinationOrder: TypeAlias = Literal["given", "label", "frequency", "calendar"] | tuple[str, ...] | None


def one_name(text: str) -> str:
    """Return a name as it is typed, a comma in it too."""
    return text


@dataclass(frozen=True)
class Limits:
    """What reading may take.

    Attributes
    ----------
    memory
        Of the engine that reads files, in MB; what is larger spills to disk.
    until
        When its time is over, by `time.monotonic`; None if it may take as long as it takes.
    """

    memory: int = 320
    until: float | None = None


class ReadingLimits(Options, section="The source"):
    """What reading a source may take."""

    timeout: float | None = option(
        None,
        "How many seconds reading the source may take.",
        metavar="SECONDS",
        above=0,
        below=1e7,
        places="command python",
    )
    memory: int | None = option(
        None,
        "How many MB the engine that reads files may take before it spills to disk.",
        metavar="MB",
        least=64,
        most=1_000_000,
        places="command python",
    )
    allow_functions: bool = option(
        False,
        "A condition on a file may call any function of the engine; the file is then read in a process of its own.",
        places="command python",
    )


class FileReading(ReadingLimits, section="The source"):
    """What a chart file may read."""

    allow_source: bool = option(
        False, "A chart file may read a URL, or files that are not beside it.", places="command python"
    )


class RecordFilter(Options, section="The source"):
    """Which records of a source are read."""

    where: str | None = option(None, "A standard SQL condition that records must meet.", metavar="SQL")
    sheet: tuple[str, ...] = option(
        (),
        "The sheet of a workbook, several of one shape, or * for all; the first with a table if not given.",
        metavar="NAME",
        read=one_name,
    )
    cells: str | None = option(
        None, "Where the table is in a sheet, such as A3:K9; its first row names the columns.", metavar="RANGE"
    )
    encoding: str | None = option(
        None,
        "The encoding of a text file that is not UTF-8, such as cp1250; found by its bytes if not given.",
        metavar="NAME",
    )
    header: bool | None = option(
        None, "Whether the first row names the columns; they are called A, B, C if it does not."
    )
    visible_only: bool = option(False, "Leave out hidden and filtered rows of a sheet.")
    table: str | None = option(None, "The table of a database or of a cluster.", metavar="NAME")
    query: str | None = option(None, "The query of a database whose result is read.", metavar="SQL")

    def __post_init__(self) -> None:
        """Say where rows of a frame are chosen, as a mask or a function does it."""
        condition: Any = self.where
        if condition is not None and not isinstance(condition, str | bytes):
            kind = type(condition).__name__
            raise OptionError(
                f"where is a condition in SQL, as text, for files and databases; not a {kind}: choose the rows of a "
                "frame before, as in data[mask]"
            )
        super().__post_init__()


class CellRules(Options, section="How cells are read"):
    """What cells mean, where they do not say it themselves."""

    read_numbers: str | None = option(
        None, "How numbers are written, by example: 1.234,56 or 1,234.56.", metavar="EXAMPLE"
    )
    read_dates: str | None = option(
        None, "How dates are written, by example: 31/12/2026 or 12/31/2026.", metavar="EXAMPLE"
    )
    na: tuple[str, ...] = option((), "A code that means missing, such as NA.", metavar="CODE", read=one_name)
    keep_totals: bool | None = option(
        None, "Count what is derived from other rows, columns or sheets; the opposite leaves out what may be, too."
    )
    leave_out: tuple[str, ...] = option(
        (),
        "A label whose rows are not counted; also a column of a range, or a sheet.",
        metavar="LABEL",
        read=one_name,
    )
    fill_down: tuple[str, ...] = option(
        (), "A column whose label holds for the blank cells below it.", metavar="COL", read=read_names
    )

    def leaves_out(self, label: str) -> bool:
        """Whether the user leaves out what has a label."""
        return any(same_name(label, name) for name in self.leave_out)


class ReadSettings(CellRules, ReadingLimits, RecordFilter):
    """How a source is opened."""

    def asked(self) -> str | None:
        """Return the first option that is given and needs a file or a database, or None."""
        return next(iter(name for name in self.changed() if name not in CELLS), None)

    def rules(self) -> CellRules:
        """Return how cells are read."""
        return CellRules(**{name: getattr(self, name) for name in CELLS})

    def is_plain(self) -> bool:
        """Whether all records of a table are wanted, its cells as they are."""
        return _OF_ANY_TABLE.issuperset(self.changed())

    def for_file(self) -> ReadSettings:
        """Return what says which records are read, without what reading may take."""
        return replace(self, timeout=None, memory=None, allow_functions=False)

    def limits(self) -> Limits:
        """Return the limits of a reading that begins now."""
        until = None if self.timeout is None else monotonic() + self.timeout
        return Limits(until=until) if self.memory is None else Limits(self.memory, until)


CELLS: tuple[str, ...] = tuple(known_options(CellRules))
#: Options that say nothing of which records and cells there are.
_OF_ANY_TABLE = frozenset(("read_numbers", "read_dates", "keep_totals", "leave_out", "timeout", "memory"))


#: What can be answered where a row or a column may be a total.
TOTALS: tuple[tuple[str, object], ...] = (("keep_totals", False), ("keep_totals", True))


def read_families_option(text: str) -> Mapping[str, str] | Path:
    """Return the path of a file of families, or the families of a few labels: ``Crack=Firing,Chip=Handling``."""
    if "=" not in text or Path(text).exists():
        return Path(text)
    pairs = [part.rpartition("=") for part in read_names(text)]
    wrong = next((part for part in pairs if not (part[0].strip() and part[2].strip())), None)
    if wrong is not None:
        raise OptionError(f"families are a file, or pairs such as Crack=Firing,Chip=Handling, not '{text}'", value=text)
    return {label.strip(): family.strip() for label, _, family in pairs}


class CountSettings(Options, section="What is counted"):
    """What is counted.

    Attributes
    ----------
    in_order
        Whether the order of the first records is wanted.
    added
        The columns that `count` names, where it names several.
    """

    by: str | None = option(
        None, "The column whose labels are counted; several, as in kiln,defect, make pairs.", metavar="COL"
    )
    count: str | tuple[str, ...] | None = option(
        None,
        "The column that says how many occurrences a record stands for; several, or a range such as Jan:Mar, are "
        "added up.",
        metavar="COL",
    )
    by_columns: tuple[str, ...] = option(
        (), "Columns that are categories themselves, as in a check sheet.", metavar="COL,COL", read=read_names
    )
    weight: str | None = option(None, "The column that says what one occurrence weighs: cost, minutes.", metavar="COL")
    unit: str | None = option(
        None,
        "What is counted or added up, in the plural: defects, tiles, EUR; the column's name if not given.",
        metavar="TEXT",
    )
    separator: str | None = option(None, "The delimiter between several labels in one cell.", metavar="CHARACTER")
    unique: str | None = option(None, "A column of units: each unit counts once in a category.", metavar="COL")
    lot: str | None = option(
        None,
        "A column of lots: the rows of a lot are one record in what is said of how sure a result is; give it where one "
        "cause makes many rows.",
        metavar="COL",
    )
    rows: Rows | None = option(
        None,
        "What a row is, in what is said of how sure a result is: records, or totals of occurrences that came added "
        "up; found out if not given.",
        flag="--rows-are",
    )
    merge_spellings: bool = option(False, "Merge labels that differ only in case, spaces or Unicode form.")
    families: Mapping[str, str] | Path | None = option(
        None,
        "A file that maps labels to families: CSV, JSON or TOML; or a few pairs, LABEL=FAMILY,LABEL=FAMILY.",
        metavar="FILE",
        read=read_families_option,
    )
    rename: Mapping[str, str] = option(
        {}, "A label under another name; several under one name are one category.", metavar="OLD=NEW"
    )
    missing: Missing = option("exclude", "Leave out records without a label, or count them as (missing).")
    date: str | None = option(None, "A column of dates: results state its first and its last day.", metavar="COL")
    in_order: bool = field(default=False)
    added: tuple[str, ...] = field(default=())

    def __post_init__(self) -> None:
        """Check how the options fit together."""
        several: object = self.by
        if isinstance(several, list | tuple):  # columns of labels that make pairs
            object.__setattr__(self, "by", ",".join(map(str, several)))
        super().__post_init__()
        if self.weight and (self.by_columns or self.unique):
            raise ColumnError("a weight is for records: leave by_columns and unique out")
        if self.by_columns and (self.by or self.count or self.separator or self.unique):
            raise ColumnError("by_columns names the categories itself: leave by, count, separator and unique out")
        if self.lot and (self.by_columns or self.unique or self.rows):
            raise ColumnError("the rows of a lot are one record: leave by_columns, unique and rows out")
        if self.unique and self.count:
            raise ColumnError("unique counts units and count adds up occurrences: give one of them")
        if self.separator is not None and not self.separator.strip():
            raise ColumnError("the separator between labels is a delimiter such as ';', not a space")

    def columns(self, *more: str | None) -> list[str]:
        """Return the columns that must be there; a count, and the columns in place of one of labels, may be ranges."""
        counts = (self.count,) if self.count is None or isinstance(self.count, str) else self.count
        ranges = [ColumnRange(name) for name in (*counts, *self.by_columns) if name is not None]
        by = ColumnRange(self.by) if self.by is not None and "," in self.by else self.by
        return [
            *(name for name in (by, self.weight, self.unique, self.lot, self.date, *more) if name is not None),
            *ranges,
        ]


class RateUnits(Options, section="Rates"):
    """What rates are per."""

    per_units: float = option(1, "How many units a rate is per: 100 for rates per 100 pieces.", metavar="N", above=0)
    per_name: str | None = option(None, "What rates are per, in place of the column's name.", metavar="NAME")


class Divisor(Options, section="Rates"):
    """What frequencies are divided by."""

    per: float | str | Mapping[str, float] | None = option(
        None,
        "Divide by a number, by a column that is added up by category, or by a number a category: rates.",
        metavar="COL|NUMBER",
    )


class Rates(RateUnits, Divisor):
    """Rates in place of frequencies."""


class SplitSettings(Options, section="Parts"):
    """How a tally is divided further."""

    split: str | None = option(None, "A second column: each category in parts.", metavar="COL")
    period: Period | None = option(None, "The calendar period of a split column of dates.")
    split_columns: tuple[str, ...] = option(
        (),
        "In place of split: columns that are the parts, as months across a sheet; a range such as Jan:Mar will do.",
        metavar="COL,COL",
        read=read_names,
    )
    drill: tuple[str, ...] = option(
        (),
        "In place of by: the first column, then the next within each of its vital few.",
        metavar="COL,COL",
        read=read_names,
    )


class ParetoSettings(SplitSettings, Rates, RankSettings):
    """How a Pareto table is made of what was counted."""

    def __post_init__(self) -> None:
        """Refuse what does not fit together, before anything is read."""
        super().__post_init__()
        if self.period and not self.split:
            raise ColumnError("a period divides a column of dates: name the column with split")
        if self.split_columns and (self.split or self.period or self.drill or self.per is not None):
            raise ColumnError("split_columns are the parts: leave split, period, drill and per out")
        if self.drill and (self.split or self.per is not None):
            raise ColumnError("a drill-down has no split and no rates: leave them out")
        if self.split and self.per is not None:
            raise ColumnError("rates cannot be split: leave split or per out")


def read_span(text: str) -> tuple[str, str]:
    """Return the two ends of ``2025-01:2025-06``, or raise `OptionError`; either may be empty."""
    first, colon, last = text.partition(":")
    if not colon or ":" in last or not first + last:
        raise OptionError(f"a baseline is two periods, such as 2025-01:2025-06; '{text}' is not", value=text)
    return first.strip(), last.strip()


class TrendSettings(RateUnits, section="Over time"):
    """What is looked at over the periods, and how."""

    period: Period = option("month", "The calendar period of the column of dates that date names.")
    split_columns: tuple[str, ...] = option(
        (),
        "In place of date: columns that are the periods, such as Jan:Dec.",
        metavar="COL,COL",
        read=read_names,
    )
    categories: tuple[str, ...] = option(
        (), "A category to look at; the vital few if none is named.", metavar="LABEL", flag="--category", read=one_name
    )
    measure: Measured | None = option(
        None, "frequency, rate (of what per says), or percent of the records of each period; rate if per is given."
    )
    per: float | str | Mapping[str, float] | None = option(
        None,
        "What each period is divided by, for rates: a column that is added up by period, a number, or a number a "
        "period.",
        metavar="COL|NUMBER",
    )
    baseline: tuple[str, ...] = option(
        (),
        "The first and the last period that center lines and control limits are of, such as 2025-01:2025-06; an end "
        "that is left empty is that of the periods.",
        metavar="FIRST:LAST",
        read=read_span,
    )

    def __post_init__(self) -> None:
        """Check how the options fit together."""
        super().__post_init__()
        if self.baseline and len(self.baseline) != 2:
            raise ColumnError("a baseline is two periods, the first and the last, such as 2025-01:2025-06")
        if self.measure == "rate" and self.per is None:
            raise ColumnError("rates are per something: give per, a column or a number")
        if self.per is not None and self.measure not in (None, "rate"):
            raise ColumnError(f"per is for rates, and measure is {self.measure}: leave one of them out")


class CrosstabSettings(Options, section="Parts"):
    """The second column of a two-way table."""

    split: str | None = option(None, "A second column: a two-way table.", metavar="COL")
    split_columns: tuple[str, ...] = option(
        (),
        "Columns that are the labels of the second variable, as months across "
        "a sheet; a range such as Jan:Mar will do.",
        metavar="COL,COL",
        read=read_names,
    )


class ComparisonSettings(RateUnits, section="Before and after"):
    """What is before and what after."""

    split: str | None = option(None, "Of one source: the column that separates before from after.", metavar="COL")
    before: str | None = option(None, "What split holds before, or the name of the first source.", metavar="LABEL")
    after: str | None = option(None, "What split holds after, or the name of the second source.", metavar="LABEL")
    groups: tuple[str, ...] | None = option(
        None, "The same two labels of split in one option: before, then after.", metavar="LABEL,LABEL", read=read_names
    )
    before_column: str | None = option(
        None, "Of one source: the column of counts before; a range is added up.", metavar="COL"
    )
    after_column: str | None = option(None, "Of one source: the column of counts after.", metavar="COL")
    period: Period | None = option(None, "The calendar period of a split column of dates; before and after name two.")
    per: float | str | tuple[float | str, ...] | None = option(
        None, "What each side is divided by, for rates: a column, or two numbers.", metavar="COL|N,N"
    )

    def __post_init__(self) -> None:
        """Take the two labels that are given together."""
        super().__post_init__()
        if self.groups is None:
            return
        if len(self.groups) != 2:
            raise CountError(f"groups are two labels of split, before and after; {len(self.groups)} are given")
        for name, label in zip(("before", "after"), self.groups, strict=True):
            if getattr(self, name) not in (None, label):
                raise CountError("groups are before and after: leave these out")
            object.__setattr__(self, name, label)


def read_categories_order(text: str) -> str | tuple[str, ...]:
    """Return the order of a combination chart, or the categories of a listed one; ``value`` means ``frequency``."""
    return "frequency" if text == "value" else read_names(text) if "," in text else text


class CategorySettings(Options, section="What is drawn"):
    """The category axis of columns that are set side by side."""

    x: str = option(NOTHING, "The column of categories or dates.", metavar="COL")
    period: Period | None = option(None, "The calendar period of a column of dates; every one appears.")
    order: CombinationOrder = option(
        None,
        "given, label, value (descending by the first series), calendar, or every "
        "category in its order; if not given, numbers ascend and text is as given.",
        metavar="ORDER",
        read=read_categories_order,
    )
    planned: str | None = option(
        None,
        "With actual, in place of other series: what was to be. The largest differences come first.",
        metavar="COL",
    )
    actual: str | None = option(None, "With planned: what was.", metavar="COL")

    def __post_init__(self) -> None:
        """Check that planned and actual come together."""
        super().__post_init__()
        if (self.planned is None) != (self.actual is None):
            lacking, there = ("planned", "actual") if self.planned is None else ("actual", "planned")
            raise ColumnError(f"{there} is set beside {lacking}: name both columns")
        if self.planned is not None and self.planned == self.actual:
            raise ColumnError(f"planned and actual are both '{self.planned}'; name two columns")

    @property
    def sides(self) -> tuple[str, ...]:
        """What was planned and what came of it; empty where other series are drawn."""
        return (self.planned, self.actual) if self.planned is not None and self.actual is not None else ()


class ColumnRange(str):
    """What may name several columns: ``Jan:Mar``, ``scrap,rework``; any other text that is wanted names one column."""


def check_columns(column_names: Sequence[str], names: Sequence[str], where: str) -> None:
    """Raise `ColumnError` for the first wanted column that is not known, or that is several where one is wanted."""
    for name in column_names:
        if name in names:  # a column of that very name wins, whatever signs are in it
            continue
        texts = [name] if "," not in name else read_names(name)
        parts = [part.strip() for text in texts for part in text.split(":") if part.strip()]
        if len(parts) < 2 or not any(part in names for part in parts):
            raise unknown_column(name, names, where)
        for part in parts:
            if part not in names:
                raise unknown_column(part, names, where)
        if not isinstance(name, ColumnRange):
            # Without this, whatever groups by the name fails in its own way, engine by engine.
            raise ColumnError(f"'{name}' is several columns of {where} where one is wanted; name one", value=name)


def plain_names(column_names: Sequence[str]) -> list[str]:
    """Return the wanted columns that are names for sure, and no ranges: by these a header is known."""
    return [name for name in column_names if ":" not in name and "," not in name]
