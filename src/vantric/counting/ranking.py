"""A source becomes a Pareto table, drilled down if wanted, or the comparison of two of its parts."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from vantric.base.lazily import dataclass
from vantric.core.counts import Comparison, compare
from vantric.core.counts.relabeling import Relabeling, relabeling
from vantric.core.counts.tally import Tally
from vantric.core.numbers.amounts import Raw
from vantric.core.numbers.number_format import one_line
from vantric.counting.cells import LabelCell, resolved, spread_over
from vantric.counting.count_records import count_source, cross
from vantric.counting.exposures import exposures_of, exposures_within
from vantric.counting.occurrences import is_sheet, spread_by_lot
from vantric.counting.tallies import (
    Groups,
    finished_tally,
    first_labels,
    frequencies,
    grouped,
    naming,
    origin_of,
    seen_labels,
    stand_for_several,
    total_search_of,
)
from vantric.counting.total_rows import without_totals
from vantric.engines.materialize import materialized
from vantric.engines.opening import with_records
from vantric.errors import ColumnError, CountError
from vantric.reading.headings import label_text
from vantric.reading.records import Records
from vantric.reading.settings import ComparisonSettings, CountSettings, CrosstabSettings, ParetoSettings, ReadSettings

if TYPE_CHECKING:
    from vantric.core.counts import ParetoTable


def rank(data: Any, analysis: ParetoSettings, counting: CountSettings, opening: ReadSettings) -> ParetoTable:
    """Read, count, rank, accumulate, and mark the cutoff.

    Raises
    ------
    VantricError
        If the data cannot be read or counted, or there is nothing to rank.
    """
    from vantric.core.counts.pareto import pareto

    original, data = data, materialized(data)  # what can be read once is read twice
    # The order given needs the labels in the order of the records, which costs a scan.
    counting = replace(counting, in_order=counting.in_order or analysis.order == "given")
    if analysis.drill:
        return _drilled(data, analysis, counting, opening)
    if analysis.split_columns:
        from vantric.counting.count_records import crossed

        strata = crossed(data, counting, opening, CrosstabSettings(split_columns=analysis.split_columns))
        return pareto(strata.tally(), analysis, strata=strata)
    if analysis.split:
        strata = cross(data, counting, opening, split=analysis.split, period=analysis.period)
        # Ranked by all parts together, so that every part has the same order.
        return pareto(strata.tally(), analysis, strata=strata)
    tally = count_source(data, counting, opening, columns=data is not original)
    return pareto(tally if analysis.per is None else _rated(tally, data, analysis, counting, opening), analysis)


def _rated(tally: Tally, data: Any, analysis: ParetoSettings, counting: CountSettings, opening: ReadSettings) -> Tally:
    from vantric.core.counts.measures import rated
    from vantric.counting.exposures import exposure_of

    # Where `by` was left out, the one column that can be counted was found.
    settings = replace(counting, by=counting.by or tally.origin.by)
    exposure, name, notes = exposure_of(data, settings, opening, analysis.per)
    tally = replace(tally, origin=replace(tally.origin, remarks=(*tally.origin.remarks, *notes)))
    return rated(tally, exposure, units=analysis.per_units, of=analysis.per_name or name)


def _drilled(data: Any, analysis: ParetoSettings, counting: CountSettings, opening: ReadSettings) -> ParetoTable:
    from vantric.core.counts.pareto import pareto

    levels = drill_levels(data, analysis.drill, counting, opening)
    order = analysis.order if isinstance(analysis.order, str) else "frequency"
    # A folded rest or a pinned row is meant for the first table, not for each one in it.
    below = replace(analysis, order=order, last=(), keep=None, fold_below=None)

    def at(path: tuple[str, ...]) -> ParetoTable:
        table = pareto(levels.tally_at(path), below if path else analysis)
        if len(path) + 1 == len(levels.columns):
            return table
        # Only the vital few are taken apart: that is what a drill-down is for.
        vital = table.cutoff.categories if table.cutoff else table.categories
        inner = [(name, (*path, name)) for name in vital]
        return replace(
            table, within=tuple((name, at(deeper)) for name, deeper in inner if levels.tally_at(deeper).categories)
        )

    return at(())


def compare_sources(
    sources: Sequence[Any], sides: ComparisonSettings, counting: CountSettings, opening: ReadSettings
) -> Comparison:
    """Return the comparison of one source's parts, or of two sources.

    Raises
    ------
    VantricError
        If the sources cannot be read, or the options do not fit their number.
    """
    if len(sources) > 2:
        raise CountError(f"before and after are two sources at most; {len(sources)} are given")
    compare = _parts if len(sources) == 1 else _two
    return compare([materialized(source) for source in sources], sides, counting, opening)


def _parts(
    sources: Sequence[Any], sides: ComparisonSettings, counting: CountSettings, opening: ReadSettings
) -> Comparison:
    if sides.before_column or sides.after_column:
        return _columns(sources[0], sides, counting, opening)
    split, before, after = sides.split, sides.before, sides.after
    if split is None or before is None or after is None:
        raise CountError(
            "one source is divided by a column: give split=, before= and after=, or before_column= and "
            "after_column=, or two sources"
        )
    if sides.period and sides.per is not None:
        raise CountError("rates of two periods need their exposures as numbers of two sources: leave period or per out")
    table = cross(sources[0], counting, opening, split=split, period=sides.period)
    first, second = table.column(before), table.column(after)
    exposures, of, notes = exposures_within(sources[0], opening, sides.per, split, (before, after))
    tallies = replace(first, origin=replace(first.origin, remarks=(*first.origin.remarks, *notes))), second
    name = sides.per_name or of
    return compare(*tallies, names=(before, after), exposures=exposures, units=sides.per_units, of=name)


def _columns(data: Any, sides: ComparisonSettings, counting: CountSettings, opening: ReadSettings) -> Comparison:
    """Compare two columns of counts of one source."""
    columns = sides.before_column, sides.after_column
    if not all(columns):
        raise CountError("two columns are compared: give before_column= and after_column=")
    if sides.split or sides.period or counting.count or counting.weight or counting.by_columns:
        raise CountError("before_column and after_column hold the counts: leave split, period, count and weight out")
    before, after = (count_source(data, replace(counting, count=str(column)), opening) for column in columns)
    names = (sides.before or str(columns[0]), sides.after or str(columns[1]))
    exposures, of = exposures_of((data, data), opening, sides.per) if sides.per is not None else (None, "")
    sides_ = [
        replace(tally, origin=replace(tally.origin, count=None, counted="occurrences")) for tally in (before, after)
    ]
    return compare(*sides_, names=names, exposures=exposures, units=sides.per_units, of=sides.per_name or of)


def _two(
    sources: Sequence[Any], sides: ComparisonSettings, counting: CountSettings, opening: ReadSettings
) -> Comparison:
    if sides.period is not None:
        raise CountError("a period divides a column of one source: leave it out, or give one source and split")
    if sides.split is not None:
        raise CountError("two sources are before and after already: leave split= out")
    before, after = (count_source(source, counting, opening) for source in sources)
    exposures, of = exposures_of(tuple(sources), opening, sides.per)
    names, name = (sides.before or "Before", sides.after or "After"), sides.per_name or of
    return compare(before, after, names=names, exposures=exposures, units=sides.per_units, of=name)


#: The name of the outer level of a drill-down that has no column.
FAMILY = "family"


@dataclass(frozen=True)
class _Cell:
    labels: tuple[str | None, ...]
    rows: int
    counted: Raw
    amount: Raw
    squares: float
    lot: Any = None


@dataclass(frozen=True)
class DrillLevels:
    """The records grouped by every column of a drill-down.

    Attributes
    ----------
    columns
        From the widest to the narrowest.
    tally_at
        ``tally_at(path)``: the tally of the column below the labels chosen so far; of the first for ``()``.
    """

    columns: tuple[str, ...]
    tally_at: Callable[[tuple[str, ...]], Tally]


def drill_levels(data: Any, columns: Sequence[str], counting: CountSettings, opening: ReadSettings) -> DrillLevels:
    """Group any data that have columns for a drill-down.

    With families, a first column ``"family"`` that the data lack is the family of the second column's labels.
    """
    names = tuple(columns)
    if len(names) < 2 or len(set(names)) < len(names):
        raise ColumnError("a drill-down names two columns or more, each once, from the widest to the narrowest")
    if counting.by or counting.by_columns or counting.unique or counting.separator:
        raise ColumnError("drill names the columns itself: leave by, by_columns, unique and separator out")
    # The family of a label is a column that only the file of families has.
    by_family = counting.families is not None and names[0] == FAMILY
    keys = list(names[1:] if by_family else names)
    stated = replace(counting, by=keys[0])
    column_names = [*stated.columns(), *keys]

    def work(records: Records) -> DrillLevels:
        settings = resolved(stated, records)
        search = replace(total_search_of(settings), by=keys[0])

        def labels(levels: DrillLevels) -> list[str | None]:
            return seen_labels(levels.tally_at(()), settings)

        return without_totals(
            records, search, lambda left: _levels(left, keys, settings, names, by_family=by_family), labels
        )

    return with_records(data, opening, list(dict.fromkeys(column_names)), work)


def _levels(
    records: Records, keys: list[str], counting: CountSettings, names: tuple[str, ...], *, by_family: bool
) -> DrillLevels:
    size = len(keys)
    cells = [
        _Cell(tuple(map(label_text, values[:size])), rows, count, amount, squares, *values[size:])
        for *values, rows, count, amount, squares in grouped(records, [*keys, *filter(None, [counting.lot])], counting)
    ]
    paths = [(None if None in cell.labels else cell.labels, cell.rows) for cell in cells]
    ready = not counting.lot and is_sheet(records, keys, counting, paths)
    remarks = list(records.remarks)
    if by_family:
        cells, more = _with_family(cells, counting)
        remarks += more.remarks
    elif counting.merge_spellings or counting.families is not None or counting.rename:
        cells, more = _renamed(cells, counting)
        remarks += more.remarks
    origin = origin_of(records, counting, sum(cell.rows for cell in cells), remarks)
    # The labels have their new names already.
    seconds = replace(counting, families=None, rename={}, in_order=False)

    def tally_at(path: tuple[str, ...]) -> Tally:
        # Grouped once by all columns; every level is a sum over these groups.
        here = [cell for cell in cells if cell.labels[: len(path)] == path]
        level = len(path)
        groups: Groups = [(cell.labels[level], cell.counted, cell.amount) for cell in here]
        within = [f"{name} is {one_line(label)}" for name, label in zip(names, path, strict=False)]
        about = replace(
            origin,
            by=names[level],
            within=" and ".join(within) or None,
            input_rows=sum(cell.rows for cell in here),
            grouped=by_family and not level,
            remarks=tuple(remarks) if not level else (),
        )
        order = first_labels((label for label, *_ in groups), Relabeling({})) if counting.in_order else None
        plain = [LabelCell(cell.labels[level], cell.rows, cell.counted, cell.amount, cell.squares) for cell in here]
        spread, about = None, replace(about, ready=ready)
        if counting.lot:
            lots = ((cell.lot, cell.rows, cell.counted, cell.amount, cell.squares) for cell in here)
            labeled = zip((cell.labels[level] for cell in here), lots, strict=True)
            spread = spread_by_lot(((label, *lot) for label, lot in labeled), seconds, Relabeling({}))
        elif not ready and stand_for_several(seconds):
            spread = spread_over(plain, seconds, Relabeling({}))
        return finished_tally(groups, about, seconds, order, spread)

    return DrillLevels(names, tally_at)


def _with_family(cells: list[_Cell], counting: CountSettings) -> tuple[list[_Cell], Relabeling]:
    """Put the family of the first label before it; where spellings are merged, the labels are merged too."""
    is_renamed = counting.merge_spellings or counting.rename
    cells, merged = _renamed(cells, replace(counting, families=None)) if is_renamed else (cells, None)
    # Named after spellings are merged, or a family would be asked for each of them.
    amounts = frequencies((cell.labels[0], cell.amount) for cell in cells)
    families = relabeling(amounts, merge_spellings=False, families=naming(counting)["families"])
    placed = [
        replace(cell, labels=(None if cell.labels[0] is None else families(cell.labels[0]), *cell.labels))
        for cell in cells
    ]
    notes = (*(merged.remarks if merged else ()), *families.remarks)
    return placed, Relabeling({}, notes)


def _renamed(cells: list[_Cell], counting: CountSettings) -> tuple[list[_Cell], Relabeling]:
    """Give the labels of the last column their new names."""
    rename = relabeling(frequencies((cell.labels[-1], cell.amount) for cell in cells), **naming(counting))
    named = [
        replace(cell, labels=(*cell.labels[:-1], None if cell.labels[-1] is None else rename(cell.labels[-1])))
        for cell in cells
    ]
    return named, rename
