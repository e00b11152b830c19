"""Which columns hold labels, how one cell holds several, and which family a label belongs to."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any, NamedTuple

from vantric.base.safe_files import content_of, reason_of
from vantric.core.counts.ordering import read_names
from vantric.core.counts.provenance import Note
from vantric.core.counts.relabeling import Relabeling
from vantric.core.counts.tally import RecordGroup, Spread, spread_of
from vantric.core.numbers.amounts import Raw
from vantric.core.totals.row_sums import Cell
from vantric.counting.total_questions import (
    Derived,
    amount_text,
    left_out_note,
    question,
    warnings_on,
    with_outcome,
)
from vantric.errors import ColumnError, SourceError, unknown_column
from vantric.reading.headings import label_text
from vantric.reading.records import Records
from vantric.reading.settings import CountSettings

#: Of two columns one may equal the other by chance: no total is looked for among fewer than three.
_FEWEST = 3
_MOST_ROWS = 2_000  # by which columns are compared


def columns_of(texts: Sequence[str], records: Records) -> tuple[str, ...]:
    """Return the columns that names and ranges mean, each once; a column of that very name wins.

    Raises
    ------
    ColumnError
        If there is no such column, or a range ends before it begins.
    """
    names = records.names()
    values: dict[str, None] = {}
    for text in texts:
        for name in [text] if text in names else _meant(text, names, records.place):
            values[name] = None
    return _without_totals(tuple(values), records)


def _without_totals(names: tuple[str, ...], records: Records) -> tuple[str, ...]:
    """Return the columns of a range without those that are derived from the others, and those that the user names."""
    rules = records.rules
    named = [name for name in names if rules.leaves_out(name)]
    for name in named:
        records.remark(Note("left-out", f"{records.place}: column '{name}' is left out, as leave_out says"))
    if rules.keep_totals or len(names) < _FEWEST:
        return tuple(name for name in names if name not in named)
    from vantric.core.totals.derived_columns import derived_columns  # for ranges alone

    cells = _first_cells(names, records)
    derived = [
        Derived("column", name, sum(cell for cell in cells[name] if cell is not None), verdict)
        for name, verdict in derived_columns(names, list(cells.values())).items()
        if name not in named
    ]
    questions, warned = with_outcome(derived, "ask"), with_outcome(derived, "warn")
    if questions and rules.keep_totals is None:
        left = {entry.label for entry in derived if entry not in warned}
        without, whole = (
            sum(cell for name in names if name not in out for cell in cells[name] if cell is not None)
            for out in (left, set[str]())
        )
        raise question(records.place, questions, (amount_text(without), amount_text(whole)))
    for note in (
        *warnings_on(records.place, warned),
        *left_out_note(records.place, [entry for entry in derived if entry not in warned], "column"),
    ):
        records.remark(note)
    out = {*named, *(entry.label for entry in derived if entry not in warned)}
    return tuple(name for name in names if name not in out)


def _first_cells(names: Sequence[str], records: Records) -> dict[str, list[Cell]]:
    """Return the cells of columns in the first records as exact amounts."""
    every, rows = records.names(), records.head(_MOST_ROWS)
    return {
        name: records.unnoted().exact_amounts(name, [row[every.index(name)] for row in rows], counted=False)
        for name in names
    }


def _meant(text: str, names: Sequence[str], place: str) -> list[str]:
    first, sign, last = (part.strip() for part in text.partition(":"))
    if sign and first in names and last in names:
        start, stop = names.index(first), names.index(last)
        if stop < start:
            raise ColumnError(f"{place}: column '{last}' stands before '{first}': write {last}:{first}")
        return list(names[start : stop + 1])
    parts = read_names(text) if "," in text else ()
    if len(parts) > 1:
        return [name for part in parts for name in ([part] if part in names else _meant(part, names, place))]
    wrong = next((part for part in (first, last) if sign and part and part not in names), text)
    raise unknown_column(wrong if sign else text, names, place)


def paired(records: Records, counting: CountSettings) -> tuple[Records, CountSettings]:
    """Return the records with the pairs that several columns of labels make, if `by` names several, and its name."""
    if counting.by is None or counting.by in records.names() or "," not in counting.by:
        return records, counting
    columns = [part.strip() for part in read_names(counting.by)]
    records, name = records.with_pairs(columns)
    return records, replace(counting, by=name)


def resolved(counting: CountSettings, records: Records) -> CountSettings:
    """Return what is counted with every column by its name; `added` are the columns of a count of several."""
    if counting.by_columns:
        counting = replace(counting, by_columns=columns_of(counting.by_columns, records))
    if counting.count is None or counting.count in records.names():
        return counting
    texts = (counting.count,) if isinstance(counting.count, str) else counting.count
    columns = columns_of(texts, records)
    if len(columns) == 1:
        return replace(counting, count=columns[0])
    label = texts[0] if len(texts) == 1 and ":" in texts[0] else " + ".join(columns)
    return replace(counting, count=label, added=columns)


_LARGEST = 200_000_000  # bytes


def read_families(path: Path) -> dict[str, str]:
    """Return label -> family of a CSV file with a header line, a JSON object or a TOML table.

    Raises
    ------
    SourceError
        If the file cannot be read, is none of these, or gives one label two families.
    """
    if path.suffix.casefold() == ".csv":
        return _from_csv(_text(path, "families"), path)
    return read_pairs(path, "families", "label and family in pairs")


def read_pairs(path: Path, what: str, needed: str) -> dict[str, str]:
    """Return the pairs of text of a TOML table or a JSON object, or raise `SourceError`.

    Parameters
    ----------
    path
        The file.
    what, needed
        What it should hold, and in which form, for the message.
    """
    import json
    import tomllib

    text, ending = _text(path, what), path.suffix.casefold()
    try:
        pairs: Any = tomllib.loads(text) if ending == ".toml" else json.loads(text)
    except RecursionError:
        raise SourceError(f"'{path}' is nested too deeply for {what}") from None
    except ValueError as error:
        raise SourceError(f"'{path}' is not valid {ending[1:].upper() or 'JSON'}: {error}") from None
    if isinstance(pairs, dict) and len(pairs) == 1 and isinstance(next(iter(pairs.values())), dict):
        pairs = next(iter(pairs.values()))  # a TOML table with a name
    if not isinstance(pairs, dict) or not all(isinstance(value, str) for value in pairs.values()):
        raise SourceError(f"'{path}' gives no {what}: it needs {needed}")
    return pairs


def _text(path: Path, what: str) -> str:
    try:
        return content_of(path, _LARGEST).decode("utf-8-sig")
    except FileNotFoundError:
        raise SourceError(f"there is no file '{path}' of {what}") from None
    except UnicodeDecodeError:
        raise SourceError(f"cannot read the {what} in '{path}': it is not in UTF-8; save it so") from None
    except (OSError, RuntimeError) as error:
        raise SourceError(f"cannot read the {what} in '{path}': {reason_of(error)}") from None


def _from_csv(text: str, path: Path) -> dict[str, str]:
    families: dict[str, str] = {}
    try:
        rows = list(csv.reader(io.StringIO(text, newline="")))
    except csv.Error as error:
        raise SourceError(f"'{path}': {error}; a label and its family are two short texts") from None
    for line, row in enumerate(rows, 1):
        if not row:
            continue
        if len(row) != 2:
            raise SourceError(f"'{path}', line {line}: {len(row)} columns; label and family are two")
        label, family = row[0], label_text(row[1].strip()) or ""
        if line == 1 or not family:
            continue
        if families.setdefault(label, family) != family:
            raise SourceError(f"'{path}', line {line}: '{label}' has two families, '{families[label]}' and '{family}'")
    return families


class LabelCell(NamedTuple):
    """A label or None, its records, what their counts and their counts times weights add up to, and the squares."""

    label: str | None
    rows: int
    counted: Raw
    amount: Raw
    squares: float


def split_cells(cells: Iterable[LabelCell], separator: str | None) -> Iterable[LabelCell]:
    """Yield a cell for each label in it; a label that a cell names twice counts once."""
    for cell in cells:
        if cell.label is None or separator is None:
            yield cell
            continue
        labels = list(dict.fromkeys(filter(None, (piece.strip() for piece in cell.label.split(separator)))))
        if not labels:
            yield cell._replace(label=None)
        for piece in labels:
            yield cell._replace(label=piece)


def spread_over(cells: Iterable[LabelCell], counting: CountSettings, rename: Relabeling) -> Spread:
    """Return how the amounts of cells, each with all of its labels under their new names, are spread over records."""
    parts = []
    for cell in cells:
        labels = [split_cell.label for split_cell in split_cells([cell], counting.separator)]
        named = tuple(None if label is None else rename(label) for label in labels)
        parts.append(RecordGroup(named, cell.rows, cell.squares))
    return spread_of(parts)
