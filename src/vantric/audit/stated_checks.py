"""What a sheet says besides the relations of its columns: totals, means, parts of wholes, shares, ranks, classes."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from vantric.audit.relations import (
    FEWEST,
    LONGEST,
    MOST_COLUMNS,
    NOISE,
    NOT_ADDED,
    CheckedRelations,
    ColumnRelation,
    StatedRows,
    StatedSheet,
    Told,
    candidates,
    cell_of_relation,
    holding_rows,
    named_places,
    read_rows,
    stated_relations,
    tolerance,
    wrong_cell,
    wrong_relations,
)
from vantric.base.lazily import compiled
from vantric.core.numbers.number_format import listed, number_text, one_line
from vantric.core.review.finding import Finding, error, warning

#: A total is at least so much of what it should be.
_LEAST = 0.3
#: Headings of a whole, and of what is a part of it.
_WHOLE = compiled(
    r"^(?:made|produced|output|inspected|checked|tested|fired|offered|orders?|calls|received|input|admissions|visits|shipped|geprüft|gefertigt|produziert)\b",
    re.IGNORECASE,
)
_PART = compiled(
    r"^(?:good|ok|accepted|passed|failed|rejects?|rejected|defects?|defective|scrap|answered|abandoned|reworked?|returned"
    r"|late|broken|faulty|gut|ausschuss)\b",
    re.IGNORECASE,
)
_SHARE = compiled(r"^(?:share|percent(?:age)?|%|anteil|part|quota|cuota)\b(?!.*\b(?:of|von|de)\b)", re.IGNORECASE)
_RANK = compiled(r"^(?:rank|rang|platz|position|pos\.?)$", re.IGNORECASE)
_CLASS = compiled(r"^(?:abc[ -]?)?(?:class|klasse|classe|clase|category abc|abc)$", re.IGNORECASE)


def check_relations(sheet: StatedSheet) -> CheckedRelations:
    """Find what columns and rows of totals are of others, and where they are not.

    A relation that holds in at least three rows and in most is taken for meant; it names the rows in which it fails.
    One that fits nowhere is not guessed. Cells are right if they are the exact value as far as they, and what they are
    worked out from, are rounded.
    """
    if not 0 < len(sheet.columns) <= MOST_COLUMNS or not 2 <= len(sheet.labels) <= LONGEST:
        return CheckedRelations(())
    rows = read_rows(sheet)
    relations = stated_relations(rows)
    wrong_relations(rows, relations)
    checked = bool(relations) | _wrong_totals(rows, relations) | _wrong_means(rows)
    checked |= _texts(rows) | _parts(rows) | _shares(rows) | _ranks(rows) | _classes(rows)
    # Percents that are multiplied by a column are weights of it, and no shares of its sum.
    weights = {place for relation in relations.values() if relation.kind == "product" for place in relation.operands}
    explained = frozenset(sheet.columns[place].name for place in weights | set(relations))
    return CheckedRelations(tuple(_one_a_cause(_of_inputs(rows, relations))), explained, checked)


#: Labels of a summary that a list must have, as a share; how far a summary may be off and still be meant as one.
_SAME_LABELS, _NEAR_ENOUGH = 0.7, 0.5


def summary_differs(summary: StatedSheet, column: str, labels: Sequence[str]) -> list[Finding]:
    """Hold a sheet of counts against a list of records in the same workbook, whose labels it counts.

    Parameters
    ----------
    summary
        The sheet of counts.
    column, labels
        The heading of a column of the list, and its labels.
    """
    records = Counter(label.strip() for label in labels if label.strip())
    rows = read_rows(summary)
    names = {summary.labels[row].strip(): row for row in np.flatnonzero(rows.is_data).tolist()}
    shared = [name for name in names if name in records]
    for place, counts in enumerate(summary.columns):
        says = {name: rows.values[row, place] for name, row in names.items()}
        whole = all(np.isfinite(value) and value == int(value) >= 0 for value in says.values())
        if (
            len(shared) < FEWEST
            or len(shared) < _SAME_LABELS * len(names)
            or not whole
            or NOT_ADDED.search(counts.name)
        ):
            continue
        wrong = [name for name in {**says, **records} if says.get(name, 0) != records.get(name, 0)]
        total, counted_total = int(sum(says.values())), sum(records.values())
        if not wrong:
            return []
        if abs(total - counted_total) > _NEAR_ENOUGH * counted_total or len(wrong) > _NEAR_ENOUGH * len(records) + 1:
            continue  # it counts something else, or other records
        each = [
            f"'{one_line(name, longest=30)}' {records.get(name, 0)}, not {int(says.get(name, 0))}" for name in wrong
        ]
        return [
            warning(
                "summary-differs",
                message=f"{summary.where}{summary.heading(place)} says {total:,} and the list beside it has "
                f"{counted_total:,} records of '{one_line(column)}': {listed(each, most=3)}",
                fix="count the list again: a range that stops short, or records that came later",
                where=summary.place(names.get(wrong[0], 0), place),
            )
        ]
    return []


def _of_inputs(rows: StatedRows, relations: dict[int, ColumnRelation]) -> list[Told]:
    """Return what was found, with one finding for a cell that a Total row and a relation agree on.

    A column whose total is off by as much as one of its cells would have to change for a relation to hold.
    """
    causes = list(rows.told_cells)
    totals = [item for item in causes if item.finding.code == "wrong-total" and len(item.columns) == 1]
    for total in totals:
        (column,), (last,) = total.columns, total.rows
        off = rows.values[last, column] - float(np.nansum(np.where(rows.is_data, rows.values[:, column], 0.0)))
        for item in list(causes):
            relation = next(
                (item_relation for item_relation in relations.values() if item_relation.scope == item.columns), None
            )
            if relation is None or column not in relation.operands or len(item.rows) != 1 or item.rows == total.rows:
                continue
            (row,) = item.rows
            if not _holds_with(rows, relation, row, column, rows.values[row, column] + off):
                continue
            cell = wrong_cell(rows, row, column, float(rows.values[row, column] + off))
            message = (
                f"{rows.sheet.where}{rows.sheet.heading(column)} of {named_places(rows, [row])} says {cell.says} and "
                f"should be {cell.should}: the total and {rows.sheet.heading(relation.target)} agree on it"
            )
            fix = "look the number up, and correct it"
            causes = [other for other in causes if other is not item and other is not total]
            causes.append(
                Told(
                    error("wrong-relation", message=message, fix=fix, where=cell.place, cells=[cell]),
                    frozenset([row, last]),
                    relation.scope | {column},
                    -1,
                )
            )
            break
    return causes


def _holds_with(rows: StatedRows, relation: ColumnRelation, row: int, column: int, value: float) -> bool:
    """Whether a relation holds in a row if one of its cells had another value."""
    values = rows.values[[row]].copy()
    values[0, column] = value
    changed = replace(rows, values=values, slack=rows.slack[[row]])
    same = (other for other in candidates(changed, relation.target) if other.words == relation.words)
    return any(abs(values[0, relation.target] - other.value[0]) <= tolerance(changed, other)[0] for other in same)


def _one_a_cause(findings: Sequence[Told]) -> list[Finding]:
    """Return one finding for one cause: what follows from a wrong cell is not said again.

    Two are of one cause if one is about no rows but those of the other, and they have a column in common.
    """
    first_told: list[Told] = []
    for item in sorted(findings, key=lambda item: item.weight):
        if not any(item.rows <= other.rows and item.columns & other.columns for other in first_told):
            first_told.append(item)
    return [item.finding for item in first_told]


def _wrong_totals(rows: StatedRows, relations: dict[int, ColumnRelation]) -> bool:
    """Check every column of the rows of totals; whether there was one to check."""
    checked = False
    for row in rows.totals:
        for column, place in enumerate(rows.sheet.columns):
            says = rows.values[row, column]
            if not np.isfinite(says):
                continue
            relation = relations.get(column)
            if relation is not None and relation.kind in ("ratio", "change", "row share", "group share", "difference"):
                checked |= _total_of_relation(rows, relation, row)
            elif not NOT_ADDED.search(place.name) and (relation is None or relation.kind != "mean"):
                if (
                    relation is not None
                    and relation.kind == "sum"
                    and abs(says - relation.value[row]) <= tolerance(rows, relation)[row]
                ):
                    checked = True  # what is wrong in the column above it is told already
                else:
                    checked |= _total_of_rows(rows, row, column, relation)
    return checked


def _total_of_relation(rows: StatedRows, relation: ColumnRelation, row: int) -> bool:
    """Check a ratio, or a difference, in a row of totals: it is that of the totals, and no mean."""
    says, should = rows.values[row, relation.target], relation.value[row]
    both_signs = any(
        item.finding.code == "two-directions" and item.columns == relation.scope for item in rows.told_cells
    )
    off = min(abs(says - should), abs(says + should)) if both_signs else abs(says - should)
    if not np.isfinite(should) or off <= 1.2 * tolerance(rows, relation)[row]:
        return bool(np.isfinite(should))
    of_data = rows.values[rows.is_data, relation.target]
    mean = float(np.nanmean(of_data)) if np.isfinite(of_data).any() else np.nan
    name = one_line(rows.sheet.columns[relation.target].name, longest=30)
    label = one_line(rows.sheet.labels[row], longest=30)
    cell = cell_of_relation(rows, relation, row)
    if relation.kind != "difference" and abs(says - mean) <= 2 * tolerance(rows, relation)[row]:
        message = (
            f"{rows.sheet.where}'{name}' of '{label}' says {cell.says}, the mean of the rows, and should be "
            f"{cell.should}: rows of unequal size have no plain mean"
        )
        fix = f"work it out from the totals: {relation.words}"
    else:
        message = (
            f"{rows.sheet.where}'{name}' of '{label}' says {cell.says} and should be {cell.should}: {relation.words}"
        )
        fix = f"work it out again as {relation.words}"
    finding = error("wrong-relation", message=message, fix=fix, where=cell.place, cells=[cell])
    rows.tell(finding, [row], relation.scope, 2)
    return True


def _total_of_rows(rows: StatedRows, row: int, column: int, relation: ColumnRelation | None) -> bool:
    """Check the sum of a column in a row of totals: of all rows, or of those since the total before."""
    says, values = rows.values[row, column], rows.values[:, column]
    data = np.where(rows.is_data & np.isfinite(values), values, 0.0)
    every, sums = float(data.sum()), _inner_sums(rows, data, row)
    off = float(rows.slack[:, column].sum()) * (rows.slack[row, column] < 0.5) + NOISE * max(abs(says), 1.0)
    if relation is not None:  # the sum of what the rows should say
        is_known, holds = holding_rows(rows, relation)
        data = np.where(is_known & ~holds, relation.value, data)
        if abs(says - float(data.sum())) <= off + 1.5 * float(tolerance(rows, relation)[is_known].sum()):
            return True
    if any(abs(says - total) <= off + rows.slack[row, column] * 0.999 for total in (*sums, every) if total):
        return True
    near = [total for total in (*sums, every) if total and _LEAST <= abs(says / total) <= 1 / _LEAST]
    if not near or data.min() < 0:  # a number of another kind: a mean, a target
        return False
    again = every + float(sum(values[total] for total in rows.totals if total < row and np.isfinite(values[total])))
    of_all = rows.totals[-1] == row
    should = every if of_all else min(filter(None, (*sums, every)), key=lambda total: abs(says - total))
    cell = wrong_cell(rows, row, column, should)
    label, name = one_line(rows.sheet.labels[row], longest=30), one_line(rows.sheet.columns[column].name, longest=30)
    why = (
        "it adds the subtotals again"
        if again != every and abs(says - again) <= off + 0.5
        else "it is not the sum of its rows"
    )
    rows.tell(
        error(
            "wrong-total",
            message=f"{rows.sheet.where}{rows.sheet.places[row]} ('{label}'): '{name}' says {cell.says} and should be "
            f"{cell.should}: {why}",
            fix="add the rows up again",
            where=cell.place,
            cells=[cell],
        ),
        [row],
        [column],
        1,
    )
    return True


def _inner_sums(rows: StatedRows, data: NDArray[np.float64], row: int) -> list[float]:
    """Return what a row of totals may add up: the rows down to it since any before, or those under it as their head."""
    if rows.totals[0] == 0:
        end = next((total for total in rows.totals if total > row), len(data))
        return [float(data[row + 1 : end].sum())]
    starts = [0, *(total + 1 for total in rows.totals if total + 1 < row)]
    return [float(data[start:row].sum()) for start in starts]


def _wrong_means(rows: StatedRows) -> bool:
    """Check rows of means: of the rows, without their total."""
    for row in rows.means:
        for column in range(len(rows.sheet.columns)):
            says, values = rows.values[row, column], rows.values[:, column]
            data = values[rows.is_data & np.isfinite(values)]
            off = rows.slack[row, column] + NOISE * max(abs(says), 1.0)
            if not np.isfinite(says) or len(data) < 2 or abs(says - data.mean()) <= off:
                continue
            with_totals = np.append(data, [values[total] for total in rows.totals if np.isfinite(values[total])])
            if len(with_totals) > len(data) and abs(says - with_totals.mean()) <= off:
                cell = wrong_cell(rows, row, column, float(data.mean()))
                rows.tell(
                    error(
                        "wrong-relation",
                        message=f"{rows.sheet.where}{rows.sheet.places[row]}: the mean of {rows.sheet.heading(column)} "
                        f"says {cell.says} and should be {cell.should}: it takes the Total row in",
                        fix="take the mean of the rows without their total",
                        where=cell.place,
                        cells=[cell],
                    ),
                    [row],
                    [column],
                    2,
                )
    return bool(rows.means)


def _texts(rows: StatedRows) -> bool:
    """Find text among the numbers of a column: sums leave it out."""
    for column, cells in enumerate(rows.sheet.columns):
        odd = [
            row
            for row, (value, text) in enumerate(zip(cells.values, cells.texts, strict=True))
            if value is None and text.strip() and any(sign.isdigit() for sign in text) and rows.is_data[row]
        ]
        if odd and 2 * len(odd) < len(cells.values):
            rows.tell(
                warning(
                    "text-not-summed",
                    message=f"{rows.sheet.where}'{one_line(cells.name)}' holds text in {named_places(rows, odd)}: "
                    f"'{one_line(cells.texts[odd[0]])}' is no number, and sums leave it out",
                    fix="write the number as a number",
                    where=rows.sheet.place(odd[0], column),
                ),
                odd,
                [column],
                0,
            )
            return True
    return False


def _parts(rows: StatedRows) -> bool:
    """Find parts that exceed their whole: more good pieces than were made."""
    names = [column.name.strip() for column in rows.sheet.columns]
    added = [
        place
        for place, column in enumerate(rows.sheet.columns)
        if not column.percents and not NOT_ADDED.search(names[place])
    ]
    wholes = [place for place in added if _WHOLE.match(names[place])]
    parts = [place for place in added if _PART.match(names[place])]
    if len(wholes) != 1 or not parts:
        return False
    whole = rows.values[:, wholes[0]]
    for part in parts:
        with np.errstate(invalid="ignore"):
            beyond = rows.is_data & (rows.values[:, part] > whole)
            within = rows.is_data & (rows.values[:, part] <= whole)
        if 0 < beyond.sum() <= 0.25 * (beyond.sum() + within.sum()):
            numbers = np.flatnonzero(beyond).tolist()
            first = numbers[0]
            rows.tell(
                error(
                    "part-exceeds-whole",
                    message=f"{rows.sheet.where}{rows.sheet.heading(part)} is more than "
                    f"{rows.sheet.heading(wholes[0])} "
                    f"in {named_places(rows, numbers)}: "
                    f"{rows.sheet.text(first, part)} of "
                    f"{rows.sheet.text(first, wholes[0])}",
                    fix="look up both numbers: one of them is wrong, or they are of different days or units",
                    where=rows.sheet.place(first, part),
                ),
                numbers,
                [part, wholes[0]],
                0,
            )
    return True


def _shares(rows: StatedRows) -> bool:
    """Find shares that add up to more than a whole, where nothing beside them says of what they are."""
    has_shares = False
    for column, cells in enumerate(rows.sheet.columns):
        values = rows.values[rows.is_data, column]
        if not _SHARE.match(cells.name.strip()) or not np.isfinite(values).all() or len(values) < FEWEST:
            continue
        has_shares = True
        scale = 100.0 if cells.percents or values.max() > 1.5 else 1.0
        total, off = float(values.sum()), float(rows.slack[rows.is_data, column].sum())
        if len(rows.sheet.columns) == 1 and scale + off + scale / 200 < total < 2 * scale:
            rows.tell(
                warning(
                    "shares-beyond-100",
                    message=f"{rows.sheet.where}{rows.sheet.heading(column)} adds up to "
                    f"{number_text(round(100 * total / scale, 1))}%: shares of one whole add up to 100%",
                    fix="say what they are shares of, if one may have several; else look for a row that is counted "
                    "twice",
                    where=rows.sheet.place(int(np.flatnonzero(rows.is_data)[0]), column),
                ),
                [-1],
                [column],
                3,
            )
    return has_shares


def _ranks(rows: StatedRows) -> bool:
    """Find ranks that are not those of any column beside them."""
    for column, cells in enumerate(rows.sheet.columns):
        ranks = rows.values[rows.is_data, column]
        if not _RANK.match(cells.name.strip()) or not np.isfinite(ranks).all() or len(ranks) < FEWEST:
            continue
        best: tuple[int, int, list[int]] | None = None
        for other in range(len(rows.sheet.columns)):
            values = rows.values[rows.is_data, other]
            if other == column or not np.isfinite(values).all() or NOT_ADDED.search(rows.sheet.columns[other].name):
                continue
            above, level = (values[None] > values[:, None]).sum(1), (values[None] == values[:, None]).sum(1)
            wrong = np.flatnonzero((ranks < above + 1) | (ranks > above + level)).tolist()
            if best is None or len(wrong) < best[0]:
                best = (len(wrong), other, wrong)
        if best is not None and 0 < best[0] <= 0.5 * len(ranks):
            numbers = np.flatnonzero(rows.is_data)[best[2]].tolist()
            name = one_line(rows.sheet.columns[best[1]].name)
            rows.tell(
                warning(
                    "wrong-rank",
                    message=f"{rows.sheet.where}{rows.sheet.heading(column)} is not the rank of '{name}' in "
                    f"{named_places(rows, numbers)}",
                    fix=f"rank the rows by '{name}' again: the largest first",
                    where=rows.sheet.place(numbers[0], column),
                ),
                numbers,
                [column],
                3,
            )
        return best is not None
    return False


def _classes(rows: StatedRows) -> bool:
    """Find classes A, B and C that do not follow the cumulative percent."""
    running = [
        place
        for place, column in enumerate(rows.sheet.columns)
        if re.search(r"cum|kum|running|acumul|cumul|laufend", column.name, re.IGNORECASE)
    ]
    for cells in rows.sheet.classes:
        letters = np.array([text.strip().upper() for text in cells.texts])
        places = np.flatnonzero(rows.is_data)
        if not _CLASS.match(cells.name.strip()) or not running or not set(letters[places]) <= {"A", "B", "C", "D"}:
            continue
        order = places[np.argsort(rows.values[places, running[0]], kind="stable")].tolist()
        highest = np.maximum.accumulate([ord(letters[row]) for row in order])
        wrong = [row for row, most in zip(order, highest.tolist(), strict=True) if ord(letters[row]) < most]
        odd = _odd_class(letters, order) if wrong else []
        if odd:
            rows.tell(
                warning(
                    "wrong-class",
                    message=f"{rows.sheet.where}'{one_line(cells.name)}' does not follow "
                    f"{rows.sheet.heading(running[0])} in {named_places(rows, odd)}",
                    fix="give the classes again: A up to the first cutoff, then B, then C",
                    where=rows.sheet.places[odd[0]],
                ),
                odd,
                [-1],
                3,
            )
        return True
    return False


def _odd_class(letters: NDArray[np.str_], order: Sequence[int]) -> list[int]:
    """Return the fewest rows without which the classes follow: the longest row of classes that do is left."""
    best: list[tuple[int, int]] = []
    for number, row in enumerate(order):
        before = [
            length for place, length in enumerate(item[0] for item in best) if letters[order[place]] <= letters[row]
        ]
        best.append((1 + max(before, default=0), number))
    in_order, want, last = set(), max(length for length, _ in best), "Z"
    for length, number in reversed(best):
        if length == want and letters[order[number]] <= last:
            in_order.add(number)
            want, last = want - 1, str(letters[order[number]])
    return [row for number, row in enumerate(order) if number not in in_order]
