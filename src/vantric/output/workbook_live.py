"""A live Pareto table: typed counts on one sheet, the ranked table and its chart on another, all else formulas.

Only functions of the open standard OpenDocument 1.3, part 4 (OpenFormula, small group), which every reader knows.
Ties stand in the order of the typed rows, which is the natural order of the labels.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from vantric.base.lazily import dataclass
from vantric.core.messages.formatter import Formatter
from vantric.core.messages.message import Message, Written
from vantric.core.numbers.number_format import distinct_lines, one_line
from vantric.output.workbook_sheets import PERCENT as PERCENT_FORM
from vantric.output.workbook_sheets import WorkbookSheet, WorkbookWriter, amount_form, decimals_in, half_up, place
from vantric.rendering.themes import LIGHT
from vantric.tables.table import Column

if TYPE_CHECKING:
    from vantric.core.counts import ParetoTable

#: Where things are on the sheet of the table, counted from zero.
CUT_ROW, HEAD_ROW, FIRST = 2, 4, 5
#: Columns of the ranked table.
RANK, LABEL, FREQUENCY, PERCENT, RUNNING, RUNNING_PERCENT, CLASS = range(7)
#: A longer unit is cut: a sheet has no room for it.
_LONGEST_UNIT = 60
TYPED_FIRST = 3  # first row of the typed counts
#: Columns of the sheet of typed counts.
TYPED_LABEL, TYPED_VALUE, TYPED_RANK, BESIDE = range(4)


@dataclass(frozen=True)
class LiveLayout:
    """What formulas need to know of a table.

    Attributes
    ----------
    counts
        The name of the sheet of counts.
    ranked
        How many leading rows are in the order of their frequency; those behind stay where they are.
    rows
        How many there are in all.
    ordered
        Whether the rows are ranked at all.
    cuts
        How many cutoffs there are.
    rule, include
        As in a Pareto table.
    held
        Whether the last row is the rest, which has no class.
    slack
        Within which share of the total a running sum meets a cutoff.
    """

    counts: str
    ranked: int
    rows: int
    ordered: bool
    cuts: int
    rule: str
    include: bool
    held: bool
    slack: float

    @property
    def total(self) -> str:
        """The cell of the total."""
        return place(FIRST + self.rows, FREQUENCY, fixed=True)

    def typed(self, column: int, first: int = 0, last: int | None = None) -> str:
        """Return cells of the sheet of counts."""
        end = self.ranked - 1 if last is None else last
        cells = [place(TYPED_FIRST + row, column, fixed=True) for row in (first, end)]
        return f"'{self.counts}'!{cells[0]}:{cells[1]}"

    def one(self, column: int, row: int) -> str:
        """Return one cell of the sheet of counts."""
        return f"'{self.counts}'!{place(TYPED_FIRST + row, column)}"


def rank(layout: LiveLayout, row: int) -> str:
    """Return the rank of a typed count: how many are larger, and equal ones above it; nothing for an empty cell."""
    own, first = place(TYPED_FIRST + row, TYPED_VALUE), place(TYPED_FIRST, TYPED_VALUE, fixed=True)
    last = place(TYPED_FIRST + layout.ranked - 1, TYPED_VALUE, fixed=True)
    above = place(TYPED_FIRST + row, TYPED_VALUE)
    return f'=IFERROR(RANK({own},{first}:{last})+COUNTIF({first}:{above},{own})-1,"")'


def rank_here(layout: LiveLayout, row: int) -> str:
    """Return the rank of a row of a table that is not in the order of its frequency; equal ones have one rank."""
    last = FIRST + layout.rows - layout.held - 1
    rows = f"{place(FIRST, FREQUENCY, fixed=True)}:{place(last, FREQUENCY, fixed=True)}"
    return f"=RANK({place(FIRST + row, FREQUENCY)},{rows})"


def looked_up(layout: LiveLayout, row: int, column: int, otherwise: str, *, key: str = "") -> str:
    """Return what is typed for the category of a rank; of a row that stays, what is typed for it.

    `key` is in front of the cell of the rank on another sheet than that of the table.
    """
    if not layout.ordered or row >= layout.ranked:
        return f"={layout.one(column, row)}"
    position = f"MATCH({key}{place(FIRST + row, RANK)},{layout.typed(TYPED_RANK)},0)"
    return f"=IFERROR(INDEX({layout.typed(column)},{position}),{otherwise})"


def percent(layout: LiveLayout, row: int, of: int) -> str:
    """Return the share of a cell of a row in the total; nothing where nothing is counted."""
    return f'=IF({layout.total}=0,"",{place(FIRST + row, of)}/{layout.total})'


def running(row: int) -> str:
    """Return the running sum of a row."""
    own = place(FIRST + row, FREQUENCY)
    return f"={place(FIRST + row - 1, RUNNING)}+{own}" if row else f"={own}"


def classes(layout: LiveLayout, row: int) -> str:
    """Return the class of a row: A for the vital few, B, C ... beyond each cutoff."""
    if layout.held and row == layout.rows - 1:
        return '=""'
    text = f'"{chr(65 + layout.cuts)}"'
    for index in reversed(range(layout.cuts)):
        text = f'IF({_inside(layout, row, index)},"{chr(65 + index)}",{text})'
    return f'=IF({layout.total}=0,"",{text})'


def _inside(layout: LiveLayout, row: int, index: int) -> str:
    cut, slack = place(CUT_ROW, 1 + index, fixed=True), f"{layout.slack:.0E}".replace("E-0", "E-")
    if layout.rule == "within":
        meets = f"{place(FIRST + row, RUNNING)}<=({cut}+{slack})*{layout.total}"
    else:
        before = place(FIRST + row - 1, RUNNING) if row else "0"
        meets = f"{before}<({cut}-{slack})*{layout.total}"
    if not layout.include or not row or row >= layout.ranked:
        return meets
    tied = f"{place(FIRST + row, FREQUENCY)}={place(FIRST + row - 1, FREQUENCY)}"
    return f'OR({meets},AND({tied},{place(FIRST + row - 1, CLASS)}="{chr(65 + index)}"))'


def headline(layout: LiveLayout, size: int, unit: str, decimals: int, local: Formatter) -> str:
    """Return what the table shows, in words that follow its cells; a text in a formula has at most 255 characters."""
    shares, last = place(FIRST, CLASS, fixed=True), place(FIRST + layout.rows - 1, CLASS, fixed=True)
    first, end = place(FIRST, FREQUENCY, fixed=True), place(FIRST + layout.rows - 1, FREQUENCY, fixed=True)
    part = f'SUMIF({shares}:{last},"A",{first}:{end})/{layout.total}'
    nearly = local.text(Message("more than", number=Written("99.9")))
    percent = f'IF(AND({part}<1-1E-12,ROUND({part},3)=1),"{nearly}",ROUND(100*{part},1))'
    expressions = (f'COUNTIF({shares}:{last},"A")', percent, f"ROUND({layout.total},{decimals})")
    gaps = dict(zip(("count", "percent", "total"), _GAPS, strict=True))
    text = local.say("live headline", all=size, unit=unit[:_LONGEST_UNIT], **gaps).replace('"', '""')
    for gap, expression in zip(_GAPS, expressions, strict=True):
        text = text.replace(gap, f'"&{expression}&"')
    nothing = local.say("nothing counted")
    return f'=IF({layout.total}=0,"{nothing}","{text}")'.replace('""&', "").replace('&""', "")


#: What stands for expressions in a text until it is cut there.
_GAPS = ("\x01", "\x02", "\x03")
_INPUT = {"bg_color": LIGHT.ground, "border": 1, "border_color": LIGHT.color("grid")}
_SMALL = 1_000_000  # a total up to which a cutoff within 1E-9 of it is exact for whole numbers
#: More rows would be slow to rank again at every edit.
MOST_LIVE = 10_000


@dataclass(frozen=True)
class LiveSource:
    """What is typed beside the labels.

    Attributes
    ----------
    columns
        Counts by stratum; or count and exposure of a rate; or counts that are only shown.
    formula
        Of a frequency, from the cells of its row; empty where the frequency is typed itself.
    """

    columns: tuple[Column, ...] = ()
    formula: str = ""


@dataclass(frozen=True)
class LiveTable:
    """A table as its sheets hold it.

    Attributes
    ----------
    table
    layout
    typed : tuple of int
        For each typed row, which row of the table it is.
    form
        The number format of the frequencies.
    sheet
        The sheet of the table.
    labels
        The labels of the rows, in the table's order.
    unit
        What frequencies are in.
    source
        What is typed.
    """

    table: ParetoTable
    layout: LiveLayout
    typed: tuple[int, ...]
    form: str
    sheet: WorkbookSheet
    labels: tuple[str, ...]
    unit: str
    source: LiveSource = LiveSource()

    def part(self, number: int, row: int) -> str:
        """Return what a row has in a stratum, as the expression of a formula."""
        layout, column = self.layout, BESIDE + number
        return looked_up(layout, row, column, "0", key=f"'{self.sheet.name}'!").removeprefix("=")


def can_live(table: ParetoTable) -> bool:
    """Whether a table can work itself out again: its numbers are exact in a cell, and ranking them is quick."""
    largest = max(abs(float(table.total)), *(abs(float(item)) for item in table.frequency.values()))
    return len(table) <= MOST_LIVE and largest < 2**53 and not table.within


def live_sheets(book: WorkbookWriter, table: ParetoTable, title: str, style: Any, *, alone: bool = True) -> LiveTable:
    """Write the sheet of the table and the sheet of its counts."""
    sheet = book.sheet(Message("pareto label") if alone else title)
    layout = _layout(
        table, book.free(Message("counts") if alone else Message("counts of", subject=table.origin.by or title))
    )
    labels = tuple(distinct_lines(table.categories))
    amounts = [*table.frequency.values(), table.total]
    form = amount_form(amounts, style.prefix, style.suffix, most=4 if table.origin.per else 6)
    live = LiveTable(table, layout, _typed_order(table), form, sheet, labels, table.origin.unit_text(), _source(table))
    _table(live, title)
    _counts(book, live)
    return live


def _what(table: ParetoTable, unit: str) -> Message | str:
    measure = table.origin.measure
    return Message("with unit", name=measure, unit=unit) if isinstance(measure, Message) else measure


def _source(table: ParetoTable) -> LiveSource:
    """Return what is typed: the parts of a frequency where they add up to it, else the frequency itself."""
    values = table.frequency.values()
    if table.strata is not None:
        parts = table.strata_rows()
        columns = tuple(
            Column(name, [part[index] for part in parts], ())
            for index, name in enumerate(distinct_lines(table.strata.columns))
        )
        if all(abs(sum(part) - value) <= 1e-12 * abs(value) for part, value in zip(parts, values, strict=True)):
            return LiveSource(columns, "=SUM({first}:{last})")
        return LiveSource(columns)
    if table.tally.counts is None:
        return LiveSource()
    counts = Column(Message("count"), table.counts.values(), ())
    if not table.origin.per or table.tally.exposure is None or table.rest is not None:
        return LiveSource((counts,))
    exposure = Column(Message("exposure"), table.in_rows(table.tally.exposure).values(), ())
    units = next(
        (
            round(value * base / count, 9)
            for value, base, count in zip(values, exposure.values, counts.values, strict=True)
            if count
        ),
        0.0,
    )
    items = [units * count / base if base else 0 for count, base in zip(counts.values, exposure.values, strict=True)]
    if all(abs(item - value) <= 1e-12 * abs(value) for item, value in zip(items, values, strict=True)):
        return LiveSource((counts, exposure), f"=IF({{1}}=0,0,{units:.15g}*{{0}}/{{1}})")
    return LiveSource((counts,))


def _layout(table: ParetoTable, counts: str) -> LiveLayout:
    rows, rest = len(table), int(table.rest is not None)
    ordered = table.ordering == "frequency"
    whole = table.tally.frequency.exact and table.tally.frequency.scale == 0
    slack = 1e-9 if not whole or table.total <= _SMALL else 1e-13
    return LiveLayout(
        counts,
        rows - rest - table.pinned if ordered else rows,
        rows,
        ordered,
        len(table.cuts),
        table.rule,
        table.ties_rule == "include",
        bool(rest),
        slack,
    )


def _typed_order(table: ParetoTable) -> tuple[int, ...]:
    """Return the rows of the table as they are typed: the ranked ones in natural label order, the others behind."""
    rows = list(range(len(table)))
    if table.ordering != "frequency":
        return tuple(rows)
    from vantric.core.numbers.label_order import natural_places

    stay = table.pinned + int(table.rest is not None)
    ranked = rows[: len(rows) - stay]
    return (*natural_places(table.categories, ranked), *rows[len(rows) - stay :])


def frequencies(table: ParetoTable) -> list[Any]:
    """Return the frequencies as they are typed; floats that tie are written alike, or their ranks would differ."""
    values = list(table.frequency.values())
    if table.frequency.exact or table.ordering != "frequency":
        return values
    tied = {label: group for group in table.ties for label in group}
    first: dict[tuple[str, ...], Any] = {}
    for index, label in enumerate(table.categories):
        if label in tied:
            values[index] = first.setdefault(tied[label], values[index])
    return values


def _counts(book: WorkbookWriter, live: LiveTable) -> None:
    """Write the sheet of the typed counts."""
    sheet, table, typed = book.sheet(live.layout.counts), live.table, live.source
    subject: str = one_line(table.origin.by) if table.origin.by else Message("categories only")
    sheet.text(0, 0, Message("counts head", subject=subject), bold=True, font_size=14)
    sheet.text(1, 0, Message("type counts"), font_color=LIGHT.color("note"))
    heads = [
        Message("category"),
        _what(table, live.unit),
        Message("rank"),
        *(item.label for item in typed.columns),
    ]
    sheet.headings(TYPED_FIRST - 1, heads)
    values = frequencies(table)
    ranks = _ranks(live, values)
    for row, index in enumerate(live.typed):
        line = TYPED_FIRST + row
        sheet.text(line, 0, live.labels[index])
        if typed.formula:
            cells = [place(line, BESIDE + number) for number in range(len(typed.columns))]
            sheet.formula(
                line,
                1,
                typed.formula.format(*cells, first=cells[0], last=cells[-1]),
                values[index],
                num_format=live.form,
            )
        else:
            sheet.value(line, 1, values[index], num_format=live.form, **_INPUT)
        if live.layout.ordered and row < live.layout.ranked:
            sheet.formula(line, 2, rank(live.layout, row), ranks[row])
        for number, column in enumerate(typed.columns):
            form = {"num_format": amount_form(list(column.values))}
            sheet.value(line, BESIDE + number, column.values[index], **form, **(_INPUT if typed.formula else {}))
    if typed.formula:
        _check_input(sheet, len(live.typed), BESIDE, BESIDE + len(typed.columns) - 1)
    else:
        _check_input(sheet, len(live.typed), 1, 1)
    sheet.widths([(name, live.labels if not place else ()) for place, name in enumerate(heads)])


def _check_input(sheet: WorkbookSheet, rows: int, first: int, last: int) -> None:
    sheet.page.data_validation(
        TYPED_FIRST,
        first,
        TYPED_FIRST + rows - 1,
        last,
        {
            "validate": "decimal",
            "criteria": ">=",
            "value": 0,
            "ignore_blank": True,
            "error_title": sheet.book.local.say("a count"),
            "error_message": sheet.book.local.say("a count is"),
        },
    )


def _ranks(live: LiveTable, values: Sequence[Any]) -> list[int]:
    """Return the ranks of the typed rows: their formulas' values."""
    typed = [values[position] for position in live.typed[: live.layout.ranked]]
    order = sorted(range(len(typed)), key=lambda position: -typed[position])
    ranks = [0] * len(typed)
    for place_, index in enumerate(order, 1):
        ranks[index] = place_
    return ranks


def _table(live: LiveTable, title: str) -> None:
    """Write the sheet of the table."""
    sheet, table, layout = live.sheet, live.table, live.layout
    sheet.text(0, 0, title, bold=True, font_size=14)
    if layout.cuts:
        sheet.formula(
            1,
            0,
            headline(layout, table.size, sheet.book.local.text(live.unit), decimals_in(live.form), sheet.book.local),
            _headline(live),
        )
        sheet.text(CUT_ROW, 0, Message("cutoff" if layout.cuts == 1 else "cutoffs"))
        for index, cut in enumerate(table.cuts):
            sheet.value(CUT_ROW, 1 + index, cut / 100, num_format="0.##%", **_INPUT)
    named = ("percent", "cumulative frequency", "cumulative percent", *(["class"] if layout.cuts else []))
    heads = [Message("rank"), Message("category"), _what(table, live.unit), *map(Message, named)]
    sheet.headings(HEAD_ROW, heads, frozenset({LABEL, CLASS}))
    values = frequencies(table)
    for index, row in enumerate(table.rows):
        _row(live, index, row, values[index])
    end = FIRST + layout.rows
    sheet.text(end, LABEL, Message("total label"), bold=True, top=1)
    first, last = place(FIRST, FREQUENCY), place(end - 1, FREQUENCY)
    sheet.formula(end, FREQUENCY, f"=SUM({first}:{last})", table.total, bold=True, top=1, num_format=live.form)
    sheet.widths([(name, live.labels if number == LABEL else ()) for number, name in enumerate(heads)])
    _guard_percents(live)


def _row(live: LiveTable, index: int, row: Any, value: Any) -> None:
    sheet, layout, line = live.sheet, live.layout, FIRST + index
    if layout.ordered and index < layout.ranked:
        sheet.value(line, RANK, index + 1)
    elif row.rank is not None and not layout.ordered:
        larger = sum(other > value for other in live.table.frequency.values()[: layout.rows - layout.held])
        sheet.formula(line, RANK, rank_here(layout, index), larger + 1)
    label, amount = (looked_up(layout, index, column, otherwise) for column, otherwise in ((0, '""'), (1, "0")))
    sheet.formula(line, LABEL, label, live.labels[index])
    sheet.formula(line, FREQUENCY, amount, value, num_format=live.form)
    sheet.formula(line, PERCENT, percent(layout, index, FREQUENCY), row.percent / 100, num_format=PERCENT_FORM)
    sheet.formula(line, RUNNING, running(index), row.cumulative_frequency, num_format=live.form)
    sheet.formula(
        line,
        RUNNING_PERCENT,
        percent(layout, index, RUNNING),
        row.cumulative_percent / 100,
        num_format=PERCENT_FORM,
    )
    if layout.cuts:
        sheet.formula(line, CLASS, classes(layout, index), row.abc or "")


def _guard_percents(live: LiveTable) -> None:
    """Have percents shown with more decimals where fewer would claim 0 or 100; the vital few stand out."""
    sheet, end = live.sheet, FIRST + live.layout.rows - 1
    fine = live.sheet.book.book.add_format({"num_format": "0.0000%"})
    for column in (PERCENT, RUNNING_PERCENT):
        own = place(FIRST, column)
        near = f"=AND(ISNUMBER({own}),{own}>0,{own}<1-1E-12,OR(ROUND({own},3)=0,ROUND({own},3)=1))"
        sheet.page.conditional_format(FIRST, column, end, column, {"type": "formula", "criteria": near, "format": fine})
    if live.layout.cuts:
        strong = live.sheet.book.book.add_format({"bold": True})
        criteria = f'=${place(FIRST, CLASS)}="A"'
        sheet.page.conditional_format(
            FIRST, RANK, end, CLASS, {"type": "formula", "criteria": criteria, "format": strong}
        )


def _headline(live: LiveTable) -> str:
    table, cut = live.table, live.table.cutoff
    assert cut is not None
    share = half_up(cut.cumulative_percent, 1)
    total = half_up(float(table.total), decimals_in(live.form))
    nearly = cut.cumulative_percent < 100 and share == 100
    percent: Any = Message("more than", number=Written("99.9")) if nearly else Written(f"{share:.15g}")
    arguments = {
        "count": cut.count,
        "all": table.size,
        "total": Written(f"{total:.15g}"),
        "unit": live.sheet.book.local.text(live.unit)[:_LONGEST_UNIT],
    }
    return live.sheet.book.local.say("live headline", percent=percent, **arguments)
