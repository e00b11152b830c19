"""The arithmetic of a sheet made elsewhere, worked out again."""

from __future__ import annotations

from bisect import bisect
from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction
from functools import partial
from itertools import accumulate, pairwise

from vantric.audit.causes import COMMON, Cause, Slip, base_slips, causes
from vantric.audit.sheets import (
    KINDS,
    Kind,
    Shares,
    SheetColumnCells,
    SheetRow,
    SheetTable,
    SplitRows,
    scaled,
    split_rows,
)
from vantric.audit.total_checks import (
    FREQUENCY,
    ROUNDED,
    ExpectedColumn,
    blanks,
    cell_of,
    end_findings,
    misplaced,
    of_total,
    total_findings,
    wrong_totals,
)
from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import Provenance
from vantric.core.counts.relabeling import is_missing_code, is_rest
from vantric.core.counts.tally import make_tally
from vantric.core.numbers.label_order import own_order
from vantric.core.numbers.number_format import counted, digits_text, listed, one_line, quoted
from vantric.core.review.finding import Finding, WrongCell, error, warning
from vantric.core.review.labels import nothing_first, several_labels
from vantric.core.review.spellings import near_labels, plain_spelling

#: How many rows a message names before it says how many more there are.
_MOST = 3


def not_sorted(table: SheetTable, body: Sequence[SheetRow]) -> list[Finding]:
    """Find rows that are not in descending order under a cumulative column; the rest stands last.

    Rows of an order of their own, such as months or answers on a scale, may have a running sum in that order.
    """
    rows = list(body)
    while rows and (is_rest(rows[-1].label) or is_missing_code(rows[-1].label)):
        rows.pop()
    order = own_order([row.label for row in rows])
    if order == "yes" or not (table.has("cumulative") or table.has("running")):
        return []
    for before, after in pairwise(rows):
        if (after.count or 0) > (before.count or 0):
            return [
                warning(
                    "not-sorted",
                    message=f"{table.where}{_named(after)} is larger than the row before it: a Pareto table is in "
                    "descending order",
                    fix="sort all columns together by frequency, the rest last",
                    where=after.place,
                )
            ]
    return []


def repeated_labels(table: SheetTable, parted: SplitRows) -> list[Finding]:
    """Find labels that stand in several rows: one category is ranked as two."""
    values: dict[tuple[object, ...], list[SheetRow]] = {}
    ends = [total.before for total in parted.totals if total.kind == "subtotal"]
    for number, row in enumerate(parted.body):
        if row.label.strip():
            # One name in two groups, or above two subtotals, is two categories.
            values.setdefault((plain_spelling(row.label), *row.group, bisect(ends, number)), []).append(row)
    again = [rows for rows in values.values() if len(rows) > 1]
    if not again:
        return []
    text = "; ".join(
        f"{quoted([rows[0].label])} in {listed([row.place for row in rows], most=4)}" for rows in again[:_MOST]
    )
    more = f"; and {len(again) - _MOST} labels more" if len(again) > _MOST else ""
    return [
        warning(
            "repeated-label",
            message=f"{table.where}one category stands in several rows, each ranked for itself: {text}{more}",
            fix="add the rows of one category up to one row, and rank again",
            where=again[0][1].place,
        )
    ]


def label_findings(table: SheetTable, body: Sequence[SheetRow]) -> list[Finding]:
    """Return what there is to say of the labels of a sheet, as of those of any tally."""
    rows = [(row.label, row.count) for row in body if row.count is not None and row.count >= 0 and row.label.strip()]
    if not rows:
        return []
    groups = [(label, int(count) if count.denominator == 1 else float(count)) for label, count in rows]
    tally = make_tally(groups, Provenance(by=table.by or None, ready=True, input_rows=len(rows)))
    findings = [*near_labels(tally), *several_labels(tally), *nothing_first(tally)]
    return [replace(finding, message=f"{table.where}{finding.message}") for finding in findings]


def negative_counts(table: SheetTable, body: Sequence[SheetRow]) -> list[Finding]:
    """Find frequencies below zero: nothing occurs less than never."""
    below = [row for row in body if row.count is not None and row.count < 0]
    if not below:
        return []
    return [
        error(
            "negative-count",
            message=f"{table.where}the frequency is negative in {listed([_named(row) for row in below], most=_MOST)}",
            fix="find out what was meant: a correction belongs to the category that it corrects",
            where=below[0].place,
            cells=[
                WrongCell(row.place, one_line(row.label), "frequency", str(float(row.count or 0)), "zero or more")
                for row in below
            ],
        )
    ]


def _named(row: SheetRow) -> str:
    return f"{row.place} ('{one_line(row.label, longest=40)}')"


_FIX = "add the frequencies up and divide each sum by the total"


def running_slips(
    parted: SplitRows,
    column: SheetColumnCells,
    right: Sequence[Fraction],
    percents: SheetColumnCells | None,
    wrong: Sequence[int],
) -> Iterator[Slip]:
    """Yield the slips of a column of running sums.

    Parameters
    ----------
    parted
    column
        Cumulative percents or cumulative frequencies.
    right
        What each cell should be.
    percents
        The column that may have been added up: percents in the scale of the column.
    wrong
        Which cells are wrong.
    """
    own = _own(parted, column, right)
    sums = list(accumulate(own))
    if percents is not None:
        values = _values(percents)
        if values is not None:
            factor = column.scale / percents.scale
            fractions = list(accumulate(factor * value for value in values))
            # Rounded percents add up to 100 as far as their decimals allow; more than 0.6% off they were wrong.
            off = abs(fractions[-1] - right[-1]) > Fraction(6, 1000) * abs(right[-1])
            words = "a running sum of wrong percents" if off else "a running sum of rounded percents"
            if fractions != list(right):
                yield Slip(words, _FIX, lambda index: fractions[index], single=not off)
            yield Slip("the percent of its own row again", _FIX, lambda index: factor * values[index])
    yield Slip("the percent of its own row again", _FIX, lambda index: own[index])
    yield Slip("a sum in which its own row is not yet", _FIX, lambda index: sums[index] - own[index])
    yield Slip("added up from the last row upward", _FIX, lambda index: sums[-1] - sums[index] + own[index])
    whole = sums[-1]
    # A Total row at the top is the first thing that a running sum takes in.
    for total in parted.totals:
        if total.kind == "total" and total.before == 0:
            yield Slip("a sum that begins with the Total row", _FIX, lambda index: sums[index] + whole)
    order = sorted(range(len(own)), key=lambda index: -own[index])
    sorted_sums = dict(zip(order, accumulate(own[index] for index in order), strict=True))
    yield Slip(
        "the sum of the rows in descending order, and they are not sorted",
        "sort all columns together",
        lambda index: sorted_sums[index],
    )
    yield Slip(
        "the sum of two rows only: the percent of its own row and of the one before",
        _FIX,
        lambda index: own[index] + own[index - 1] if index else own[index],
    )
    yield from _from_a_row_on(parted, column, right, own, wrong)


def _own(parted: SplitRows, column: SheetColumnCells, right: Sequence[Fraction]) -> list[Fraction]:
    return [value - before for value, before in zip(right, [Fraction(), *right], strict=False)]


def _values(column: SheetColumnCells) -> list[Fraction] | None:
    values = [cell.value if cell is not None else None for cell in column.cells]
    return None if any(value is None for value in values) else [value for value in values if value is not None]


def _shifted(right: Sequence[Fraction], first: int, off: Fraction, place: int) -> Fraction | None:
    return right[place] + off if place >= first else None


def _from_a_row_on(
    parted: SplitRows,
    column: SheetColumnCells,
    right: Sequence[Fraction],
    own: Sequence[Fraction],
    wrong: Sequence[int],
) -> Iterator[Slip]:
    """Yield a sum that is off by one amount from some row on: a row left out or added twice."""
    # Looked for at the first wrong rows only: all after them follow from the same slip.
    for first in wrong[:50]:
        cell = column.cells[first]
        if cell is None or cell.value is None:
            continue
        off = cell.value - right[first]
        slack = column.slack(first)
        place = parted.body[first].place
        words = f"off by {digits_text(float(off), digits=3)} from {place} on"
        for row, portion in zip(parted.body, own, strict=True):
            if portion and abs(off + portion) <= slack:
                words = f"a sum in which the row '{one_line(row.label, longest=30)}' is missing from {place} on"
                break
            if portion and abs(off - portion) <= slack:
                words = f"a sum in which the row '{one_line(row.label, longest=30)}' is twice from {place} on"
                break
        yield Slip(words, _FIX, partial(_shifted, right, first, off))


#: How many rows or runs of rows a message lists.
_MOST_PLACES = 6
_RUNNING = "add the frequencies up, and divide each sum by the total"


@dataclass(frozen=True)
class Correction:
    """What a wrong cell should hold.

    Attributes
    ----------
    kind
        Its column: ``"count"`` of a row of totals, ``"percent"``, ``"cumulative"``, ``"running"``.
    row, place
        The row and the cell, in words.
    label, column, says
        The category of its row, the heading of its column, and what it says.
    value
    """

    kind: str
    row: str
    place: str
    label: str
    column: str
    says: str
    value: Fraction


@dataclass(frozen=True)
class CheckedSheet:
    """A sheet worked out again: the findings, and what the wrong cells should hold."""

    findings: tuple[Finding, ...]
    corrections: tuple[Correction, ...] = ()


def check_sheet(table: SheetTable) -> list[Finding]:
    """Work a Pareto table out again; return one finding a cause, with every cell that is wrong for it.

    A cell is right if it is the exact value, rounded as far as it is written. Rows of totals are checked and not
    counted; percents may be written as shares of 1, each column in its own way.
    """
    return list(check_and_correct(table).findings)


def check_and_correct(table: SheetTable) -> CheckedSheet:
    """Work a Pareto table out again, and return what each cell should say beside the findings."""
    table = replace(table, where=f"{table.where}: " if table.where else "")
    parted = split_rows(table.rows)
    rows, whole = parted.body, parted.whole
    # What the labels and counts are is said first: all percents rest on them.
    about = [*negative_counts(table, rows), *repeated_labels(table, parted), *label_findings(table, rows)]
    if not rows or whole <= 0:
        return CheckedSheet(tuple(about))
    columns = [_wanted(table, parted, kind) for kind in KINDS if table.has(kind)]
    findings = [*misplaced(table, parted), *wrong_totals(table, parted)]
    percent = next((expected_column for expected_column in columns if expected_column.kind == "percent"), None)
    all_findings: list[Finding] = []
    # What one column explains is not said again of the next.
    for column in columns:
        all_findings += _columns(table, parted, column, percent, all_findings)
    findings += all_findings
    findings += [
        finding for expected_column in columns for finding in total_findings(table, parted, expected_column, findings)
    ]
    findings += [finding for expected_column in columns for finding in blanks(table, parted, expected_column)]
    findings += end_findings(table, parted, columns, findings)
    findings += not_sorted(table, rows)
    return CheckedSheet((*about, *findings), _corrections(parted, columns, findings))


def _corrections(
    parted: SplitRows, expected: Sequence[ExpectedColumn], findings: Sequence[Finding]
) -> tuple[Correction, ...]:
    """Return the right value of every cell that was found wrong; what is perhaps of another base is left as it is."""
    if not any(finding.cells for finding in findings):
        return ()
    right: dict[tuple[str, str], tuple[str, SheetRow, Fraction]] = {}
    for expected_column in expected:
        rows = [
            *zip(parted.body, expected_column.right, strict=True),
            *((total.row, of_total(total, expected_column)) for total in parted.totals),
        ]
        for row, value in rows:
            cell = row.cell(expected_column.kind)
            if value is not None:
                right[cell.place if cell is not None else row.place, expected_column.name] = (
                    expected_column.kind,
                    row,
                    value,
                )
    for total in parted.totals:
        right[total.row.place, FREQUENCY] = "count", total.row, total.wanted
    corrections = []
    for finding in findings:
        # Percents of another base may be right: nothing is written over them.
        for wrong in finding.cells if finding.code != "other-base" else ():
            correction = right.get((wrong.place, wrong.column))
            if correction is not None:
                kind, row, value = correction
                corrections.append(
                    Correction(kind, row.place, wrong.place, wrong.label, wrong.column, wrong.says, value)
                )
    return tuple(dict.fromkeys(corrections))


def _wanted(table: SheetTable, parted: SplitRows, kind: Kind) -> ExpectedColumn:
    counts = [row.count or Fraction() for row in parted.body]
    amounts = tuple(counts if kind == "percent" else accumulate(counts))
    column = SheetColumnCells(tuple(row.cell(kind) for row in parted.body))
    if kind == "running":
        return ExpectedColumn(kind, table.name(kind), column, Shares(amounts, Fraction(1)))
    # Of several possible bases that one is meant of which the fewest cells are wrong.
    fits: list[tuple[int, int, ExpectedColumn]] = []
    bases = (table.base,) if table.base and kind == "percent" else (parted.whole, table.base, *table.stated)
    for base in dict.fromkeys(filter(None, bases)):
        shares = Shares(amounts, base)
        expected_column = ExpectedColumn(kind, table.name(kind), scaled(column, shares), shares)
        fits.append((-len(expected_column.wrong), len(fits), expected_column))
    # Of equal ones the first: the sum of the rows.
    return max(fits, key=lambda fit: (fit[0], -fit[1]))[2]


def _columns(
    table: SheetTable, parted: SplitRows, column: ExpectedColumn, percent: ExpectedColumn | None, before: list[Finding]
) -> list[Finding]:
    """Return a finding a cause of what is wrong in a column; what follows from wrong percents joins their finding."""
    wrong = column.wrong
    if not wrong or (column.kind == "cumulative" and wrong == (len(column.amounts) - 1,) and column.nearly(wrong[0])):
        return []  # how it ends is said for itself
    slips: list[Slip] = []
    if column.kind != "percent":
        slips += running_slips(parted, column.column, column.right, percent.column if percent else None, wrong)
    if column.kind != "running":
        slips += base_slips(parted, column.amounts, column.column, wrong, column.base)
    plain = (
        _RUNNING if column.kind != "percent" else f"divide by {digits_text(float(column.base))}, the sum of the rows"
    )
    findings = []
    for cause in causes(column.column, wrong, slips, plain):
        finding = _finding(table, parted, column, cause, claims=_says_all(parted, column, percent))
        same = next((index for index, other in enumerate(before) if _is_same(other, cause)), None)
        if same is None:
            findings.append(finding)
        else:
            before[same] = replace(before[same], cells=(*before[same].cells, *finding.cells))
    return findings


def _is_same(finding: Finding, cause: Cause) -> bool:
    """Whether a cause is that of a finding of another column."""
    follows = cause.words == "a running sum of wrong percents" and finding.code in ("wrong-percent", "other-base")
    return bool(cause.words) and (follows or cause.words in finding.message)


def _finding(table: SheetTable, parted: SplitRows, column: ExpectedColumn, cause: Cause, *, claims: bool) -> Finding:
    rows = [parted.body[place] for place in cause.places]
    cells = [
        cell_of(row, table, column.kind, column.right[place]) for place, row in zip(cause.places, rows, strict=True)
    ]
    code = "wrong-percent" if column.kind == "percent" else "wrong-cumulative"
    reasons = list(dict.fromkeys(cell.why for row in rows if (cell := row.cell(column.kind)) and cell.why))
    formulas = f" ({listed(reasons, most=2)})" if reasons else ""
    heading = table.heading(column.kind)
    if len(rows) == 1:
        wrong_cell = cells[0]
        why = f": {cause.words or _digits_swapped(wrong_cell)}".removesuffix(": ")
        text = f"{heading} says {wrong_cell.says} and should be {wrong_cell.should}"
        message = f"{rows[0].place} ('{wrong_cell.label}'): {text}{why}"
    else:
        places = _places([row.place for row in rows])
        first = f"{cells[0].place} says {cells[0].says} and should be {cells[0].should}"
        message = f"{heading} is wrong in {counted(len(rows), 'row')}, {places}"
        message += f": {cause.words}; {first}" if cause.words else f"; {first}"
    make, fix = error, cause.fix
    # All cells of one base, and no claim to be of the sum: a warning, no error.
    if cause.words.startswith(COMMON) and len(rows) == len(parted.body) and not claims:
        make, code = warning, "other-base"
        message = f"{heading} is of another base than the sum of the rows: {cause.words}; of what?"
        fix = "state the base beside the percents with percent_base, or divide by the sum of the rows"
    return make(
        code, message=f"{table.where}{message}{formulas}", fix=fix, where=f"{rows[0].place}, {heading}", cells=cells
    )


def _says_all(parted: SplitRows, column: ExpectedColumn, percent: ExpectedColumn | None) -> bool:
    """Whether a column claims to end at 100%: in a row of totals, as a running sum, or by percents that do."""
    if column.kind == "cumulative" and percent is not None and not percent.wrong:
        return True
    totals = [total.row.cell(column.kind) for total in parted.totals]
    last = parted.body[-1].cumulative
    claims = [cell.value for cell in (*totals, last) if cell is not None and cell.value is not None]
    return any(abs(value - column.column.scale) <= ROUNDED * column.column.scale for value in claims)


def _digits_swapped(cell: WrongCell) -> str:
    """Return what explains a cell that has the digits of the right number in another order."""
    says, should = cell.says.replace(".", ""), cell.should.replace(".", "")
    same = len(says) > 1 and sorted(says) == sorted(should[: len(says)]) and says != should[: len(says)]
    return "two digits changed places" if same else ""


def _places(places: Sequence[str]) -> str:
    """Return places in words, neighboring rows as a range: ``"rows 2-6"``."""
    numbers = [place.rpartition(" ")[2] for place in places]
    kind = places[0].rpartition(" ")[0]
    if not all(number.isdigit() for number in numbers) or len({place.rpartition(" ")[0] for place in places}) > 1:
        return listed(list(places), most=_MOST_PLACES)
    runs: list[list[int]] = []
    for number in map(int, numbers):
        if runs and number == runs[-1][-1] + 1:
            runs[-1].append(number)
        else:
            runs.append([number])
    texts = [str(run[0]) if len(run) == 1 else f"{run[0]}-{run[-1]}" for run in runs]
    return f"{kind}s {listed(texts, most=_MOST_PLACES)}"
