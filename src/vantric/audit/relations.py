"""The relations that the columns of a sheet state, found by fit over most rows, and the rows in which they fail."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from itertools import permutations
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from vantric.audit.column_roles import SheetColumn
from vantric.audit.sheets import decimals_of, group_totals
from vantric.base.lazily import compiled
from vantric.core.counts.relabeling import is_rest
from vantric.core.numbers.number_format import listed, number_text, one_line
from vantric.core.review.finding import Finding, WrongCell, error, note, says_percent, says_running
from vantric.core.totals.label_kinds import is_loose, is_strong, statistic_of

Floats: TypeAlias = NDArray[np.float64]
#: Rows that fit, below which a relation may be chance; the share of rows that must; their digits together.
FEWEST, _MOST_ROWS, _DIGITS = 3, 0.6, 4.0
#: Columns and rows of a sheet; what is longer or wider is a log, or is not read by people.
MOST_COLUMNS, LONGEST = 40, 2_000
NOISE = 1e-9
_MOST_DECIMALS, _LARGEST = 15, 1e15
#: What a ratio is multiplied by, and how that is said.
_SCALES = ((100.0, " in percent"), (1.0, ""), (1e3, " per 1,000"), (1e6, " per million"))
_NAMED = 4  # rows that a message names
#: Columns beside a result, up to which it may be of any three of them.
_MOST_OF_THREE = 8
#: What the headings of results say.
_SAYS = {
    "difference": r"deviation|differ|\bdiff\b|variance|change|delta|abweichung|differenz|écart|scostament|diferenc"
    r"|\bgap\b|balance|\bnet\b|left|remain",
    "sum": r"total|closing|stock|bestand|\bsum\b|\ball\b|gesamt|summe|somme|suma|totale|insgesamt",
    "product": r"amount|cost|value|total|points|punkte|\boee\b|\brpn\b|risk|rpz"
    r"|betrag|kosten|montant|importe|importo|wert",
    "ratio": r"rate|%|ppm|dpmo|percent|\bper\b|yield|ratio|quote|level|share|anteil|taux|tasa|quota|utili[sz]ation"
    r"|average|mean|\bpro\b",
    "change": r"change|growth|%|veränderung|variation|variazione|variación|trend",
    "row share": r"%|percent|share|anteil|part|quota",
    "group share": r"%|percent|share|anteil|part|quota",
    "index": r"index|indice|índice|=\s*100",
    "step": r"change|growth|increase|delta|Δ|previous|prior|veränderung|zuwachs|wachstum|évolution|variation|variación",
    "mean": r"mean|average|\bavg\b|mittel|durchschnitt|moyenne|media|promedio",
}
#: Labels that name the group whose subtotal they are.
_SUBTOTAL = compiled(r"(?:sub[- ]?total|zwischensumme|sous[- ]total|subtotale)\b", re.IGNORECASE)
#: Headings of what does not add up over rows.
NOT_ADDED = compiled(
    r"cum|kum|running|acumul|laufend|price|rate\b|%|percent|ratio|mean|average|\bavg\b|median|index|year|rank|target|\bper\b|level|yield|preis|quote|mittel|score"
    r"|temperature|°|grade|class|\bno\b|\bnr\b|\bid\b|number of weeks|share|anteil",
    re.IGNORECASE,
)


@dataclass(frozen=True)
class StatedSheet:
    """A sheet of a row a label.

    Attributes
    ----------
    by
        The heading of the labels.
    labels, places
        The label of each row, and what messages call the row.
    columns
        Its columns of numbers.
    classes
        Its other columns of text.
    where
        What messages call the sheet, with a colon behind it; empty where it is clear.
    cell
        Return where the cell of a row and a column of numbers is.
    groups
        What each row stands in: a kiln, beside defects; empty where rows are in no groups.
    borrowed
        Whether the label of a row is that of its group; empty as `groups`.
    """

    by: str
    labels: tuple[str, ...]
    places: tuple[str, ...]
    columns: tuple[SheetColumn, ...]
    classes: tuple[SheetColumn, ...] = ()
    where: str = ""
    cell: Callable[[int, int], str] | None = None
    groups: tuple[tuple[str, ...], ...] = ()
    borrowed: tuple[bool, ...] = ()

    def heading(self, column: int) -> str:
        """Return the heading of a column of numbers, as messages write it."""
        return f"'{one_line(self.columns[column].name, longest=30)}'"

    def text(self, row: int, column: int) -> str:
        """Return a cell as it is written."""
        return self.columns[column].texts[row].strip()

    def place(self, row: int, column: int) -> str:
        """Return where a cell is, in words."""
        return self.places[row] if self.cell is None else self.cell(row, column)


@dataclass(frozen=True, eq=False)
class ColumnRelation:
    """What a column may be of others: its value in every row, and by how much rounding may put it off.

    `scope` is which columns it is of, with the target; `words` say it.
    """

    kind: str
    target: int
    operands: tuple[int, ...]
    words: str
    value: Floats
    slack: Floats

    @property
    def scope(self) -> frozenset[int]:
        """The columns that it relates."""
        return frozenset((self.target, *self.operands))


@dataclass(frozen=True)
class CheckedRelations:
    """What was found: findings, the columns that a relation explains, and whether there was anything to check."""

    findings: tuple[Finding, ...]
    explained: frozenset[str] = frozenset()
    checked: bool = False


@dataclass(frozen=True, eq=False)
class Told:
    """A finding, the rows and columns that it is about, and how near it is to the slip itself: 0 is nearest."""

    finding: Finding
    rows: frozenset[int]
    columns: frozenset[int]
    weight: int


@dataclass
class StatedRows:
    """A sheet as arrays: what rows are, the numbers, and half of the last digit of each; `blocks` are its groups."""

    sheet: StatedSheet
    values: Floats
    slack: Floats
    is_data: NDArray[np.bool_]
    totals: list[int]
    means: list[int]
    blocks: tuple[NDArray[np.bool_], ...] = ()
    told_cells: list[Told] = field(default_factory=list)

    def tell(self, finding: Finding, rows: Sequence[int], columns: Iterable[int], weight: int) -> None:
        """Add what was found, with the cells that it is about."""
        self.told_cells.append(Told(finding, frozenset(rows), frozenset(columns), weight))


def read_rows(sheet: StatedSheet) -> StatedRows:
    """Return a sheet as arrays."""
    size = len(sheet.labels)
    values, slack = np.full((size, len(sheet.columns)), np.nan), np.zeros((size, len(sheet.columns)))
    for place, column in enumerate(sheet.columns):
        for row, (value, text) in enumerate(zip(column.values, column.texts, strict=True)):
            if value is not None:
                values[row, place] = float(value)
                slack[row, place] = 0.5 * 10.0 ** -min(decimals_of(text), _MOST_DECIMALS)
    values = np.where(abs(values) < _LARGEST, values, np.nan)  # what is larger has no digits left to be compared
    totals = _total_rows(sheet, values)
    means = [row for row, label in enumerate(sheet.labels) if statistic_of(label) == "mean"]
    others = {row for row, label in enumerate(sheet.labels) if statistic_of(label) and row not in totals}
    is_data = np.array(
        [row not in totals and row not in others and bool(label.strip()) for row, label in enumerate(sheet.labels)]
    )
    return StatedRows(sheet, values, slack, is_data, totals, means, _row_blocks(sheet, is_data, totals))


def _row_blocks(sheet: StatedSheet, is_data: NDArray[np.bool_], totals: Sequence[int]) -> tuple[NDArray[np.bool_], ...]:
    """Return the rows of each group of a sheet of several: those of one kiln, or those down to the next subtotal."""
    ends = np.searchsorted(totals, np.arange(len(is_data)))
    names = list(zip(sheet.groups or [()] * len(is_data), ends.tolist(), strict=True))
    each = [np.array([name == other for other in names]) & is_data for name in dict.fromkeys(names)]
    blocks = tuple(block for block in each if block.any())
    return blocks if 1 < len(blocks) < is_data.sum() else ()


def _total_rows(sheet: StatedSheet, values: Floats) -> list[int]:
    """Return the rows that a label calls totals, and those that may be and add up the rows since the last."""
    of_groups = {
        place for column in sheet.columns for place in group_totals(sheet.borrowed, column.values, sheet.labels)
    }
    totals: list[int] = []
    added = [place for place, column in enumerate(sheet.columns) if not NOT_ADDED.search(column.name)]
    since = 0
    for row, label in enumerate(sheet.labels):
        may_be = is_loose(label) and not is_rest(label) and row - since > 1
        sums = np.nansum(values[since:row], axis=0) if may_be else None
        is_sum = (
            sums is not None
            and bool(added)
            and all(abs(values[row, place] - sums[place]) <= NOISE * max(1.0, abs(sums[place])) for place in added)
        )
        if (
            row in of_groups
            or is_strong(label)
            or _SUBTOTAL.match(label.strip())
            or is_sum
            or (may_be and row == len(sheet.labels) - 1)
        ):
            totals.append(row)
            since = row + 1
    return totals


def stated_relations(rows: StatedRows) -> dict[int, ColumnRelation]:
    """Return the relation of each column that has one, from the right: results stand behind what they are of."""
    names = [column.name for column in rows.sheet.columns]
    order = sorted(range(len(names)), key=lambda place: (not _says_result(names[place]), -place))
    relations: dict[int, ColumnRelation] = {}
    scopes: list[frozenset[int]] = []
    inputs: set[int] = set()
    for target in order:
        if target in inputs and not _says_result(names[target]):  # what others are of is no result itself
            continue
        of_it = {place for place, relation in relations.items() if target in relation.operands}
        fits = [
            (share, bool(re.search(_SAYS[relation.kind], names[target], re.IGNORECASE)), -number, relation)
            for number, relation in enumerate(candidates(rows, target))
            if not any(relation.scope <= scope or scope <= relation.scope for scope in scopes)
            and not of_it & set(relation.operands)
            and (share := _fit(rows, relation, supported=bool(re.search(_SAYS[relation.kind], names[target], re.I))))
            > 0
        ]
        if fits:
            best = max(fits, key=lambda fit: fit[:3])[3]
            relations[target] = best
            inputs.update(best.operands)
            scopes.append(best.scope)
    return relations


def _says_result(name: str) -> bool:
    return any(re.search(words, name, re.IGNORECASE) for words in _SAYS.values())


def candidates(rows: StatedRows, target: int) -> Iterator[ColumnRelation]:
    """Yield what a column may be of the others, the plainest first."""
    values, slack = rows.values, rows.slack
    names = [f"'{one_line(column.name, longest=30)}'" for column in rows.sheet.columns]
    others = [place for place in range(len(names)) if place != target]
    for first, second in permutations(others, 2):
        a, b, da, db = values[:, first], values[:, second], _exact(slack[:, first]), _exact(slack[:, second])
        pair = (first, second)
        yield ColumnRelation("difference", target, pair, f"{names[first]} less {names[second]}", a - b, da + db)
        if first < second:
            scale, words = _unit_of(rows, target, pair), f"{names[first]} times {names[second]}"
            yield ColumnRelation("product", target, pair, words, scale * a * b, scale * (abs(b) * da + abs(a) * db))
        with np.errstate(divide="ignore", invalid="ignore"):
            ratio = np.where(b != 0, a / b, np.nan)
            off = (da + abs(ratio) * db) / np.where(b != 0, abs(b), np.nan)
            for scale, unit in _SCALES:
                yield ColumnRelation(
                    "ratio", target, pair, f"{names[first]} over {names[second]}{unit}", scale * ratio, scale * off
                )
            words = f"the change from {names[second]} to {names[first]} in percent"
            for scale in (100.0, 1.0):
                yield ColumnRelation("change", target, pair, words, scale * (ratio - 1), scale * off)
    if len(others) <= _MOST_OF_THREE:
        yield from _of_three(rows, target, others, names)
    yield from _of_group(rows, target, others, names)
    yield from _of_rows_above(rows, target, others, names)
    for block in _blocks(rows, target):
        part, rounding = values[:, block], _exact(slack[:, block])
        whole = part.sum(axis=1)
        sum_words = f"the sum of {_named([names[place] for place in block])}"
        yield ColumnRelation("sum", target, tuple(block), sum_words, whole, rounding.sum(axis=1))
        if len(block) > 1:
            mean = f"the mean of {_named([names[place] for place in block])}"
            yield ColumnRelation("mean", target, tuple(block), mean, whole / len(block), rounding.mean(axis=1))
        with np.errstate(divide="ignore", invalid="ignore"):
            for place in block if len(block) > 1 else ():
                share = np.where(whole != 0, values[:, place] / whole, np.nan)
                words = f"{names[place]} as a share of its row"
                for scale in (100.0, 1.0):
                    yield ColumnRelation("row share", target, tuple(block), words, scale * share, np.zeros(len(share)))


def _of_three(rows: StatedRows, target: int, others: Sequence[int], names: Sequence[str]) -> Iterator[ColumnRelation]:
    """Yield what a column may be of three others: a stock that goes on, or a product such as a risk number."""
    values, slack = rows.values, rows.slack
    for first, second, third in permutations(others, 3):
        a, b, c = (values[:, place] for place in (first, second, third))
        scope = (first, second, third)
        if first < second:
            off = sum((_exact(slack[:, place]) for place in scope), np.zeros(len(a)))
            words = f"{names[first]} plus {names[second]} less {names[third]}"
            yield ColumnRelation("sum", target, scope, words, a + b - c, off)
        if first < second < third:
            words = f"{names[first]} times {names[second]} times {names[third]}"
            scale = _unit_of(rows, target, scope)
            yield ColumnRelation(
                "product", target, scope, words, scale * a * b * c, _rounded(rows, scope, scale * a * b * c)
            )


def _of_group(rows: StatedRows, target: int, others: Sequence[int], names: Sequence[str]) -> Iterator[ColumnRelation]:
    """Yield what a column may be of the rows of its group: shares of it, running sums, and these in percent."""
    column = rows.sheet.columns[target]
    runs, shares = says_running(column.name), column.percents or says_percent(column.name)
    if not rows.blocks or not (runs or shares or re.search(_SAYS["group share"], column.name, re.IGNORECASE)):
        return
    for place in others:
        amounts = np.full((2, len(rows.is_data)), np.nan)  # of the row, or of the rows down to it; of the group
        for block in rows.blocks:
            values = rows.values[block, place]
            amounts[:, block] = np.cumsum(values) if runs else values, np.full(len(values), values.sum())
        words = f"the running sum of {names[place]}" if runs else names[place]
        with np.errstate(divide="ignore", invalid="ignore"):
            share = amounts[0] / amounts[1]
        share[rows.totals] = 1.0
        zero = np.zeros(len(share))
        if runs:
            yield ColumnRelation("group share", target, (place,), f"{words} in its group", amounts[0], zero)
        for scale in (100.0, 1.0):
            yield ColumnRelation(
                "group share", target, (place,), f"{words} as a share of its group", scale * share, zero
            )


def _of_rows_above(
    rows: StatedRows, target: int, others: Sequence[int], names: Sequence[str]
) -> Iterator[ColumnRelation]:
    """Yield what a column may be of the rows above: an index of the first, or the change since the one before."""
    heading, data = rows.sheet.columns[target].name, np.flatnonzero(rows.is_data)
    meant = [kind for kind in ("index", "step") if re.search(_SAYS[kind], heading, re.IGNORECASE)]
    for place in others if meant and len(data) > 1 else ():
        values, off = rows.values[:, place], _exact(rows.slack[:, place])
        before, slack = np.full((2, len(values)), np.nan)
        before[data[1:]], slack[data[1:]] = values[data[:-1]], off[data[:-1]]
        with np.errstate(divide="ignore", invalid="ignore"):
            over_first, since = values / values[data[0]], values / before - 1
            each = abs(since + 1) * (off / abs(values) + slack / abs(before))
            name, over = names[place], off / abs(values[data[0]])
        kinds = [("index", f"{name} over that of the first row", s * over_first, s * over) for s in (100.0, 1.0)]
        kinds += [("step", f"the change of {name} since the row before", s * since, s * each) for s in (100.0, 1.0)]
        kinds.append(("step", f"{name} less that of the row before", values - before, off + slack))
        for kind, words, value, rounding in kinds:
            if kind in meant:
                yield ColumnRelation(kind, target, (place,), words, value, rounding)


def _unit_of(rows: StatedRows, target: int, operands: Sequence[int]) -> float:
    """Return what a product is multiplied by where percents are among it: 40% of 8 is 3.2."""
    percents = [column.percents for column in rows.sheet.columns]
    return 100.0 ** (percents[target] - sum(percents[place] for place in operands))


def _rounded(rows: StatedRows, operands: Sequence[int], product: Floats) -> Floats:
    """Return by how much a product is off through the rounding of what it is of."""
    with np.errstate(divide="ignore", invalid="ignore"):
        each = [_exact(rows.slack[:, place]) / abs(rows.values[:, place]) for place in operands]
        off = abs(product) * sum(each, np.zeros(len(product)))
    return np.nan_to_num(off, nan=0.0, posinf=0.0)


def _named(names: Sequence[str]) -> str:
    return listed(names, most=4) if len(names) <= 4 else f"{names[0]} to {names[-1]}"


def _exact(slack: Floats) -> Floats:
    """Return the rounding of operands: whole numbers are counts, which are not rounded."""
    return np.where(slack >= 0.5, 0.0, slack)


def _blocks(rows: StatedRows, target: int) -> Iterator[list[int]]:
    """Yield runs of columns beside a column, of two or more, that may add up to it."""
    size, percents = len(rows.sheet.columns), [column.percents for column in rows.sheet.columns]
    last = next((place for place in range(target, 0, -1) if not (percents[target] and percents[place - 1])), 0)
    for end in dict.fromkeys((target, last)):  # percents of a row stand side by side, behind what they are of
        for start in range(end - 1):
            yield list(range(start, end))
    for end in range(target + 3, size + 1):
        yield list(range(target + 1, end))
    every = [place for place in range(size) if place != target and not NOT_ADDED.search(rows.sheet.columns[place].name)]
    if len(every) > 2 and (every[-1] != target - 1 or every[0] != 0) and max(every) < target:
        yield every


def _fit(rows: StatedRows, relation: ColumnRelation, *, supported: bool) -> float:
    """Return in which share of the rows a relation holds; 0 where that may be chance."""
    is_known, holds = holding_rows(rows, relation)
    if relation.kind == "difference" and supported:  # of income and of costs what is favorable has one sign
        away = abs(abs(rows.values[:, relation.target]) - abs(relation.value))
        turned = is_known & ~holds & (away <= tolerance(rows, relation))
        holds = holds | turned if 1 < turned.sum() <= holds.sum() else holds
    number, right = int(is_known.sum()), int(holds.sum())
    if not number or right < 2:
        return 0.0
    says, off = abs(rows.values[holds, relation.target]), 2 * tolerance(rows, relation)[holds]
    digits = float(np.log10(np.maximum(says / np.maximum(off, 1e-12), 1.0)).sum())
    if digits < _DIGITS / (2 if supported else 1):
        return 0.0
    if right == number:
        return 1.0 if right >= FEWEST or supported else 0.0
    enough = right >= FEWEST or (supported and number == FEWEST)
    return right / number if enough and right >= _MOST_ROWS * number else 0.0


def holding_rows(rows: StatedRows, relation: ColumnRelation) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Return in which rows of data a relation can be looked at, and in which it holds."""
    says = rows.values[:, relation.target]
    is_known = rows.is_data & np.isfinite(says) & np.isfinite(relation.value)
    with np.errstate(invalid="ignore"):
        return is_known, is_known & (abs(says - relation.value) <= tolerance(rows, relation))


def tolerance(rows: StatedRows, relation: ColumnRelation) -> Floats:
    """Return by how much a cell may differ from what a relation says: its last digit, and those that it is of."""
    return np.asarray(rows.slack[:, relation.target] + relation.slack + NOISE * np.maximum(abs(relation.value), 1.0))


def wrong_relations(rows: StatedRows, relations: dict[int, ColumnRelation]) -> None:
    """Report relations that hold in most rows, with the rows in which they do not."""
    for target, relation in sorted(relations.items()):
        is_known, holds = holding_rows(rows, relation)
        wrong = np.flatnonzero(is_known & ~holds).tolist()
        least = (
            f"{rows.sheet.where}{rows.sheet.heading(target)} is {relation.words} in {int(holds.sum())} of "
            f"{int(is_known.sum())} rows"
        )
        turned = [row for row in wrong if _slip(rows, relation, row)] if relation.kind == "difference" else []
        if len(turned) > 1:
            message = (
                f"{least}, and {_slip(rows, relation, turned[0])} in {named_places(rows, turned)}: is a larger "
                "value favorable in some of them, and unfavorable in others?"
            )
            fix, where = "say in the heading which sign is favorable", rows.sheet.place(turned[0], target)
            rows.tell(note("two-directions", message=message, fix=fix, where=where), turned, relation.scope, 2)
            wrong = [row for row in wrong if row not in turned]
        if wrong:
            there = _slip(rows, relation, wrong[0])
            finding = error(
                "wrong-relation",
                message=f"{least}, and not in {named_places(rows, wrong)}: {_says(rows, relation, wrong[0])}"
                + (f", there it is {there}" if there else ""),
                fix=f"work it out again as {relation.words}",
                where=rows.sheet.place(wrong[0], target),
                cells=[cell_of_relation(rows, relation, row) for row in wrong],
            )
            rows.tell(finding, wrong, relation.scope, 2)


def _slip(rows: StatedRows, relation: ColumnRelation, row: int) -> str:
    """Return what a wrong cell is instead, if it is another relation of the same columns."""
    says = rows.values[row, relation.target]
    for other in candidates(rows, relation.target):
        is_other = set(other.operands) == set(relation.operands) and other.words != relation.words
        if is_other and abs(says - other.value[row]) <= tolerance(rows, other)[row]:  # NaN is never near
            return other.words
    return ""


def named_places(rows: StatedRows, numbers: Sequence[int]) -> str:
    """Return rows in words, with their labels."""
    named = [f"{rows.sheet.places[row]} ('{one_line(rows.sheet.labels[row], longest=30)}')" for row in numbers]
    return listed(named, most=_NAMED)


def _says(rows: StatedRows, relation: ColumnRelation, row: int) -> str:
    cell = cell_of_relation(rows, relation, row)
    return f"it says {cell.says} and should be {cell.should}"


def cell_of_relation(rows: StatedRows, relation: ColumnRelation, row: int) -> WrongCell:
    """Return a cell with what it says, and what its relation says."""
    return wrong_cell(rows, row, relation.target, float(relation.value[row]))


def wrong_cell(rows: StatedRows, row: int, column: int, should: float) -> WrongCell:
    """Return a cell with what it says and what it should say."""
    cells = rows.sheet.columns[column]
    decimals = max(decimals_of(cells.texts[row]), 0)
    return WrongCell(
        rows.sheet.place(row, column),
        one_line(rows.sheet.labels[row], longest=40),
        one_line(cells.name),
        cells.texts[row].strip(),
        _as_written(should, decimals) + ("%" if "%" in cells.texts[row] else ""),
    )


def _as_written(value: float, decimals: int) -> str:
    """Return a number with as many decimals as a cell, and one more where it is just between two."""
    more = decimals + (abs(abs(value) * 10**decimals % 1 - 0.5) < NOISE)
    return number_text(round(value, more) or 0.0, most_decimals=more)
