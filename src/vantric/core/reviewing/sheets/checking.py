"""The arithmetic of a sheet made elsewhere, worked out again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import accumulate

from vantric.core.numbers.shown import counted, digits_text, listed
from vantric.core.reviewing.finding import Finding, WrongCell, error, warning
from vantric.core.reviewing.sheets.bases import COMMON, base_slips
from vantric.core.reviewing.sheets.causes import Cause, Slip, causes
from vantric.core.reviewing.sheets.columns import Column, scaled
from vantric.core.reviewing.sheets.ends import FREQUENCY, blanks, ends, misplaced, of_total, totals_say, wrong_totals
from vantric.core.reviewing.sheets.order import negative_counts, not_sorted, of_labels, repeated_labels
from vantric.core.reviewing.sheets.parting import Parted, part
from vantric.core.reviewing.sheets.running import running_slips
from vantric.core.reviewing.sheets.table import KINDS, Kind, SheetRow, SheetTable
from vantric.core.reviewing.sheets.wanted import ROUNDED, Wanted, cell_of

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
class Checked:
    """A sheet worked out again: the findings, and what the wrong cells should hold."""

    findings: tuple[Finding, ...]
    corrections: tuple[Correction, ...] = ()


def check_sheet(table: SheetTable) -> list[Finding]:
    """Work a Pareto table out again; return one finding a cause, with every cell that is wrong for it.

    A cell is right if it is the exact value, rounded as far as it is written. Rows of totals are checked and not
    counted; percents may be written as shares of 1, each column in its own way.
    """
    return list(checked(table).findings)


def checked(table: SheetTable) -> Checked:
    """Work a Pareto table out again, and return what each cell should say beside the findings."""
    table = replace(table, where=f"{table.where}: " if table.where else "")
    parted = part(table.rows)
    rows, whole = parted.body, parted.whole
    about = [*negative_counts(table, rows), *repeated_labels(table, rows), *of_labels(table, rows)]
    if not rows or whole <= 0:
        return Checked(tuple(about))
    wanted = [_wanted(table, parted, kind) for kind in KINDS if table.has(kind)]
    found = [*misplaced(table, parted), *wrong_totals(table, parted)]
    percent = next((one for one in wanted if one.kind == "percent"), None)
    told: list[Finding] = []
    for one in wanted:
        told += _columns(table, parted, one, percent, told)
    found += told
    found += [finding for one in wanted for finding in totals_say(table, parted, one, found)]
    found += [finding for one in wanted for finding in blanks(table, parted, one)]
    found += ends(table, parted, wanted, found)
    found += not_sorted(table, rows)
    return Checked((*about, *found), _corrections(parted, wanted, found))


def _corrections(parted: Parted, wanted: Sequence[Wanted], found: Sequence[Finding]) -> tuple[Correction, ...]:
    """Return the right value of every cell that was found wrong; what is perhaps of another base is left as it is."""
    right: dict[tuple[str, str], tuple[str, SheetRow, Fraction]] = {}
    for one in wanted:
        rows = [
            *zip(parted.body, one.right, strict=True),
            *((total.row, of_total(total, one)) for total in parted.totals),
        ]
        for row, value in rows:
            cell = row.cell(one.kind)
            if value is not None:
                right[cell.place if cell is not None else row.place, one.name] = one.kind, row, value
    for total in parted.totals:
        right[total.row.place, FREQUENCY] = "count", total.row, total.wanted
    made = []
    for finding in found:
        for wrong in finding.cells if finding.code != "other-base" else ():
            known = right.get((wrong.place, wrong.column))
            if known is not None:
                kind, row, value = known
                made.append(Correction(kind, row.place, wrong.place, wrong.label, wrong.column, wrong.says, value))
    return tuple(dict.fromkeys(made))


def _wanted(table: SheetTable, parted: Parted, kind: Kind) -> Wanted:
    counts = [row.count or Fraction() for row in parted.body]
    amounts = counts if kind == "percent" else list(accumulate(counts))
    column = Column(tuple(row.cell(kind) for row in parted.body))
    if kind == "running":
        return Wanted(kind, table.name(kind), column, tuple(amounts), tuple(amounts), Fraction(1))
    fits: list[tuple[int, int, Wanted]] = []
    bases = (table.base,) if table.base and kind == "percent" else (parted.whole, table.base, *table.stated)
    for base in dict.fromkeys(filter(None, bases)):
        shares = [amount / base for amount in amounts]
        tried = scaled(column, shares)
        one = Wanted(
            kind, table.name(kind), tried, tuple(tried.scale * share for share in shares), tuple(amounts), base
        )
        fits.append((-len(one.wrong()), len(fits), one))
    return max(fits, key=lambda fit: (fit[0], -fit[1]))[2]


def _columns(
    table: SheetTable, parted: Parted, one: Wanted, percent: Wanted | None, before: list[Finding]
) -> list[Finding]:
    """Return a finding a cause of what is wrong in a column; what follows from wrong percents joins their finding."""
    wrong = one.wrong()
    if not wrong or (one.kind == "cumulative" and wrong == [len(one.right) - 1] and one.nearly(wrong[0])):
        return []  # how it ends is said for itself
    slips: list[Slip] = []
    if one.kind != "percent":
        slips += running_slips(parted, one.column, one.right, percent.column if percent else None, wrong)
    if one.kind != "running":
        slips += base_slips(parted, one.amounts, one.column, wrong, one.base)
    plain = _RUNNING if one.kind != "percent" else f"divide by {digits_text(float(one.base))}, the sum of the rows"
    found = []
    for cause in causes(one.column, wrong, slips, plain):
        finding = _finding(table, parted, one, cause, claims=_says_all(parted, one, percent))
        same = next((at for at, other in enumerate(before) if _is_same(other, cause)), None)
        if same is None:
            found.append(finding)
        else:
            before[same] = replace(before[same], cells=(*before[same].cells, *finding.cells))
    return found


def _is_same(finding: Finding, cause: Cause) -> bool:
    """Whether a cause is that of a finding of another column."""
    follows = cause.words == "a running sum of wrong percents" and finding.code in ("wrong-percent", "other-base")
    return bool(cause.words) and (follows or cause.words in finding.message)


def _finding(table: SheetTable, parted: Parted, one: Wanted, cause: Cause, *, claims: bool) -> Finding:
    rows = [parted.body[at] for at in cause.places]
    cells = [cell_of(row, table, one.kind, one.right[at]) for at, row in zip(cause.places, rows, strict=True)]
    code = "wrong-percent" if one.kind == "percent" else "wrong-cumulative"
    reasons = list(dict.fromkeys(cell.why for row in rows if (cell := row.cell(one.kind)) and cell.why))
    formulas = f" ({listed(reasons, most=2)})" if reasons else ""
    heading = table.heading(one.kind)
    if len(rows) == 1:
        said = cells[0]
        why = f": {cause.words or _digits_swapped(said)}".removesuffix(": ")
        message = f"{rows[0].place} ('{said.label}'): {heading} says {said.says} and should be {said.should}{why}"
    else:
        places = _places([row.place for row in rows])
        first = f"{cells[0].place} says {cells[0].says} and should be {cells[0].should}"
        message = f"{heading} is wrong in {counted(len(rows), 'row')}, {places}"
        message += f": {cause.words}; {first}" if cause.words else f"; {first}"
    make, fix = error, cause.fix
    if cause.words.startswith(COMMON) and len(rows) == len(parted.body) and not claims:
        make, code = warning, "other-base"
        message = f"{heading} is of another base than the sum of the rows: {cause.words}; of what?"
        fix = "state the base beside the percents (--percent-base), or divide by the sum of the rows"
    return make(
        code, message=f"{table.where}{message}{formulas}", fix=fix, where=f"{rows[0].place}, {heading}", cells=cells
    )


def _says_all(parted: Parted, one: Wanted, percent: Wanted | None) -> bool:
    """Whether a column claims to end at 100 %: in a row of totals, as a running sum, or by percents that do."""
    if one.kind == "cumulative" and percent is not None and not percent.wrong():
        return True
    totals = [total.row.cell(one.kind) for total in parted.totals]
    last = parted.body[-1].cumulative
    claims = [cell.value for cell in (*totals, last) if cell is not None and cell.value is not None]
    return any(abs(value - one.column.scale) <= ROUNDED * one.column.scale for value in claims)


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
    shown = [str(run[0]) if len(run) == 1 else f"{run[0]}-{run[-1]}" for run in runs]
    return f"{kind}s {listed(shown, most=_MOST_PLACES)}"
