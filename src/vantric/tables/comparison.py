"""A comparison as data, tables, lines for a terminal, and sentences: the verdict first, then the totals."""

from __future__ import annotations

import textwrap
from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from vantric.core.counts import Comparison
from vantric.core.messages.formatter import PLAIN, Formatter
from vantric.core.messages.message import Joined, Label, List, Message, Shown, Written, interval, level_text
from vantric.core.numbers.number_format import (
    digits_text,
    distinct_lines,
    ends_texts,
    number_text,
    number_texts,
    one_line,
    percent_text,
)
from vantric.core.review import Finding
from vantric.errors import RankError
from vantric.tables.table import (
    NOTHING,
    Column,
    Kind,
    Table,
    as_integer,
    grid_lines,
    kind_of,
    percents,
    six_digits,
    table_title,
    wrapped,
)

if TYPE_CHECKING:
    from vantric.core.counts import Comparison, ParetoTable
    from vantric.core.counts.comparison import Change
    from vantric.core.statistics.changes import CategoryChange, Changes

#: A name in a sentence is cut beyond this.
_LONGEST = 60
#: Categories that the sentence names.
_MOST_NAMED = 3
#: Shares that differ by less are equal.
_NOISE = 1e-9


def comparison_sentence(comparison: Comparison) -> Joined:
    """Return which changes are significant, the totals, what is new and gone, and what the records count as."""
    from vantric.core.statistics.changes import changes_of

    try:
        changes = changes_of(comparison)
    except RankError as reason:  # the numbers hold without a test
        return Joined([Message("changes unknown", reason=str(reason)), *_totals(comparison, None)])
    return Joined([*_verdict(comparison, changes), *_totals(comparison, changes), changes.counted])


def _verdict(comparison: Comparison, changes: Changes) -> list[Message]:
    from vantric.core.messages.message import PValue

    beyond = changes.beyond
    if len(comparison) == 1 and changes.measure == "percent_points":
        return [Message("one share")]
    if not beyond and changes.mix_differs:
        return [Message("only the mix changed", p=PValue(changes.mix_p))]
    if not beyond:
        return [Message("no change"), *_could_be_found(changes)]
    rows = {row.category: row for row in comparison.rows}
    named = [_changed(comparison, rows[change.category], change, changes) for change in beyond[:_MOST_NAMED]]
    if len(beyond) > _MOST_NAMED:
        return [*named, Message("more changes", count=len(beyond), named=_MOST_NAMED)]
    every = len(beyond) == len(comparison)
    return [*named, Message("all changed" if every else "changed", count=len(beyond))]


def _could_be_found(changes: Changes) -> list[Message]:
    """Say what could have been found: few records find no change, however large it is."""
    from vantric.core.statistics.sample import rounded

    could = changes.could_be
    if could is None:
        return []
    if not could.is_possible or could.change is None:
        first, second = (Written(rounded(side)) for side in could.sides)
        return [Message("no outcome could be found", first=first, second=second)]
    label = Label(could.category, _LONGEST)
    if changes.measure == "rate_ratio":
        return [Message("ratio would be found", label=label, ratio=Written(_two_digits(could.change)))]
    return [Message("points would be found", label=label, points=Written(digits_text(could.change, digits=2)))]


def _changed(comparison: Comparison, row: Change, change: CategoryChange, changes: Changes) -> Message:
    label, level = Label(row.category, _LONGEST), level_text(changes.level)
    if changes.measure == "rate_ratio":
        before, after = ends_texts(float(row.before), float(row.after))
        verb = "rate rose" if float(row.after) > float(row.before) else "rate fell"
        ends = {"before": Written(before), "after": Written(after), "unit": comparison.after.origin.per or ""}
        return Message(f"{verb}{_how(change)}", label=label, **ends, **_ratio(change, level))
    before, after = _percents(row.before_percent, row.after_percent)
    points = _between(*sorted((abs(change.low), abs(change.high or 0.0))))
    verb = "share rose" if row.percent_points > 0 else "share fell"
    return Message(verb, label=label, before=Written(before), after=Written(after), level=level, range=points)


def _how(change: CategoryChange) -> str:
    """Return which message says how many times what it was a rate is."""
    if change.estimate is None:
        return ""
    return ", at least" if change.high is None else ", times"


def _ratio(change: CategoryChange, level: Written) -> dict[str, Any]:
    if change.estimate is None:
        return {}
    if change.high is None:
        return {"level": level, "low": Written(digits_text(change.low, digits=3))}
    ratio, low, high = map(_two_digits, (change.estimate, change.low, change.high))
    return {"ratio": Written(ratio), "level": level, "range": interval(low, high)}


def _two_digits(value: float) -> str:
    return f"{value:.2f}" if 0.005 <= value < 10 or not value else digits_text(value, digits=3)


def _totals(comparison: Comparison, changes: Changes | None) -> list[Message]:
    rates = comparison.exposures is not None
    before, after = float(comparison.before.total), float(comparison.after.total)
    what = "all rates" if rates else "total"
    first, second = one_line(comparison.before_name), one_line(comparison.after_name)
    arguments: dict[str, Any] = {"unit": comparison.before.origin.unit_text()}
    sentences = []
    if abs(after - before) <= _NOISE * max(before, after):
        sentences.append(Message(f"{what} the same", amount=Written(_whole(before, before, rates)[0]), **arguments))
    else:
        ends = dict(zip(("before", "after"), map(Written, _whole(before, after, rates)), strict=True))
        verb = "rose" if after > before else "fell"
        by = {} if rates or not before else {"percent": Written(f"{abs(100 * (after - before) / before):,.1f}%")}
        kind = f"{what} {verb} by" if by else f"{what} {verb}"
        sentences.append(Message(kind, first=first, second=second, **arguments, **ends, **by))
        if changes is not None and changes.total is not None:
            verdict = "significant" if changes.total.beyond_chance else "not significant"
            how = _how(changes.total).removeprefix(", ") or "rate"
            sentences.append(Message(f"{how}, {verdict}", **_ratio(changes.total, level_text(changes.level))))
    fresh = sum(row.before_rank is None and row.after_rank is not None for row in comparison.rows)
    gone = sum(row.after_rank is None and row.before_rank is not None for row in comparison.rows)
    return [
        *sentences,
        *(Message("only in", count=number, side=side) for number, side in ((fresh, second), (gone, first)) if number),
    ]


def _between(low: float, high: float) -> Shown:
    """Return an interval of percentage points."""
    ends = [percent_text(end).removesuffix("%") for end in (low, high)]
    if ends[0] == ends[1]:
        ends = list(ends_texts(low, high, digits=2))
    return interval(ends[0], ends[1])


def _whole(number: float, other: float, rates: bool) -> tuple[str, str]:
    """Return two totals as they are written, with more digits where they would look the same."""
    texts = [number_text(value, most_decimals=4 if rates else 6) for value in (number, other)]
    return (texts[0], texts[1]) if texts[0] != texts[1] or number == other else ends_texts(number, other, digits=8)


def _percents(value: float, other: float) -> tuple[str, str]:
    """Return two percents with one decimal, or as many as tell them apart."""
    texts = percent_text(value), percent_text(other)
    if texts[0] != texts[1]:
        return texts
    ends = ends_texts(value, other)
    return f"{ends[0]}%", f"{ends[1]}%"


#: Columns of the CSV and keys of the JSON: they keep their names.
COLUMNS = (
    "category",
    "before",
    "after",
    "before_percent",
    "after_percent",
    "before_rank",
    "after_rank",
    "change",
    "percent_points",
    "rank_change",
    "share",
    "before_count",
    "after_count",
)
#: How sure each change is; what `low` and `high` are of, is in `changes.measure`.
SURE = ("low", "high", "p", "p_adjusted", "beyond_chance")
PERCENTS = frozenset({"before_percent", "after_percent", "percent_points", "share"})


def comparison_object(comparison: Comparison, findings: Iterable[Finding]) -> dict[str, Any]:
    """Return the JSON object of a comparison."""
    origin = comparison.before.origin
    return {
        "format": "vantric/comparison",
        "version": 1,
        "by": origin.by,
        "unit": comparison.unit,
        "before": _side(
            comparison.before, comparison.before_name, comparison.exposures[0] if comparison.exposures else None
        ),
        "after": _side(
            comparison.after, comparison.after_name, comparison.exposures[1] if comparison.exposures else None
        ),
        "change": as_integer(comparison.change),
        "changes": _changes_object(comparison),
        "rows": Table((), _data(comparison)).records(),
        "sentence": comparison_sentence(comparison),
        "findings": [finding.to_dict() for finding in findings],
    }


def changes_known(comparison: Comparison) -> Changes | None:
    """Return how sure the changes are; None where that cannot be arguments."""
    from vantric.core.statistics.changes import changes_of

    try:
        return changes_of(comparison)
    except RankError:  # the table is shown without a test
        return None


def _changes_object(comparison: Comparison) -> dict[str, Any] | None:
    changes = changes_known(comparison)
    if changes is None:
        return None
    total = changes.total
    return {
        "measure": changes.measure,
        "level": changes.level,
        "method": "Przyborowski and Wilenski 1940; Clopper and Pearson 1934; Bonferroni"
        if total
        else "Fisher 1934; Newcombe 1998; Bonferroni",
        "beyond_chance": [row.category for row in changes.beyond],
        "mix": {"p": six_digits(changes.mix_p), "beyond_chance": changes.mix_differs},
        "total": total
        and {
            "ratio": six_digits(total.estimate),
            "low": six_digits(total.low),
            "high": six_digits(total.high),
            "p": six_digits(total.p),
            "beyond_chance": total.beyond_chance,
        },
        "family": changes.family,
        "could_be_found": changes.could_be
        and {
            "category": changes.could_be.category,
            "possible": changes.could_be.is_possible,
            "change": six_digits(changes.could_be.change),
        },
        "counted": changes.counted,
    }


def _sure(comparison: Comparison) -> list[list[Any]]:
    changes = changes_known(comparison)
    if changes is None:
        return [[None] * len(SURE) for _ in comparison.categories]
    return [[six_digits(getattr(row, name)) for name in SURE] for row in changes.rows]


def _side(table: ParetoTable, name: str, exposure: Any) -> dict[str, Any]:
    return {
        "name": name,
        "source": table.origin.source,
        "where": table.origin.where,
        "records": as_integer(table.tally.records),
        "total": as_integer(table.total),
        "missing": {"records": as_integer(table.missing.records), "frequency": as_integer(table.missing.frequency)},
        "exposure": exposure,
    }


def _data(comparison: Comparison) -> tuple[Column, ...]:
    """Return the columns that programs read."""
    sure = list(zip(*_sure(comparison), strict=True)) or [()] * len(SURE)
    columns = [(name, [getattr(row, name) for row in comparison.rows]) for name in COLUMNS]
    columns += [(name, list(values)) for name, values in zip(SURE, sure, strict=True)]
    return tuple(Column("", values, key=name) for name, values in columns)


def comparison_table(comparison: Comparison) -> Table:
    """Return a comparison, a row a category; frequencies are rates where exposures are given."""
    before, after = one_line(comparison.before_name, longest=16), one_line(comparison.after_name, longest=16)
    data, rows = _data(comparison), comparison.rows
    exact = {column.key: [as_integer(value) for value in column.values] for column in data}
    totals = ["", "", ""]
    if not comparison.exposures:
        totals = [
            number_text(value) for value in (comparison.before.total, comparison.after.total, abs(comparison.change))
        ]
        totals[2] = _signed([totals[2]], [comparison.change])[0]

    def amounts(values: Sequence[Any]) -> list[str]:
        return number_texts(values, most_decimals=4 if comparison.exposures else 6)

    def column(label: str, name: str, texts: Sequence[str], total: str, kind: Kind | None = None) -> Column:
        return Column(label, exact[name], texts, kind or kind_of(exact[name]), total=total)

    changes = amounts([abs(row.change) for row in rows])
    columns = [
        column(Message("category"), "category", distinct_lines(comparison.categories), Message("total label"), "text"),
        column(before, "before", amounts([row.before for row in rows]), totals[0]),
        column(after, "after", amounts([row.after for row in rows]), totals[1]),
        column(Message("change"), "change", _signed(changes, [row.change for row in rows]), totals[2]),
        column(f"% {before}", "before_percent", percents(exact["before_percent"]), "100.0%", "percent"),
        column(f"% {after}", "after_percent", percents(exact["after_percent"]), "100.0%", "percent"),
        column(Message("points"), "percent_points", [_points(row.percent_points) for row in rows], ""),
        _in_words(Message("rank"), [_ranks(row.before_rank, row.after_rank) for row in rows]),
        column(
            Message("share of change"),
            "share",
            [_share(row.share) for row in rows],
            "100.0%" if comparison.change else NOTHING,
            "percent",
        ),
    ]
    labels = tuple(distinct_lines(comparison.categories))
    return Table(
        (*columns, *_change_columns(comparison)),
        data,
        keyed=0,
        labels=labels,
        caption=comparison_sentence(comparison),
        notes=tuple(comparison_notes(comparison)),
    )


def _in_words(label: str, texts: Sequence[str], total: str = "") -> Column:
    return Column(label, texts, texts, "text", total=total, right=True)


def _change_columns(comparison: Comparison) -> list[Column]:
    """Return how sure each change is, in words; nothing where that cannot be arguments."""
    changes = changes_known(comparison)
    if changes is None:
        return []
    points, total = changes.measure == "percent_points", changes.total
    head = Message("with level", name=Message("points" if points else "ratio"), level=level_text(changes.level))
    return [
        _in_words(
            head, [_limits(row, points) for row in changes.rows], "" if total is None else _limits(total, points)
        ),
        _in_words(Message("verdict"), [_chance(row) for row in changes.rows], "" if total is None else _chance(total)),
    ]


def _chance(row: CategoryChange) -> str:
    return Message("significant" if row.beyond_chance else "no evidence")


def _limits(row: CategoryChange, points: bool) -> str:
    """Return an interval as people read it."""
    if points:
        return interval(_point(row.low), _point(row.high or 0.0))
    low = f"{row.low:,.2f}"
    return Message("or more", low=Written(low)) if row.high is None else interval(low, f"{row.high:,.2f}")


def _point(value: float) -> str:
    text = f"{abs(value):.1f}"
    return text if text == "0.0" else f"{'+' if value > 0 else '−'}{text}"


def _signed(texts: list[str], values: list[Any]) -> list[str]:
    signs = ("+" if value > 0 else "−" if value < 0 else "" for value in values)
    return [sign + text for sign, text in zip(signs, texts, strict=True)]


def _share(value: float | None) -> str:
    if value is None:
        return NOTHING
    return percent_text(abs(value)) if value >= 0 else f"−{percent_text(-value)}"


def _points(value: float) -> str:
    size = abs(value)
    return _signed([f"{size:.1f}" if size >= 0.05 else number_text(size, most_decimals=3)], [value])[0]


def _ranks(before: int | None, after: int | None) -> str:
    ends = [NOTHING if rank is None else Shown(Written(number_text(rank))) for rank in (before, after)]
    return Joined(ends, " → ")


def comparison_notes(comparison: Comparison) -> list[str]:
    """Return the bases of both sides, and where they come from."""
    notes = [table.origin.note() for table in (comparison.before, comparison.after)]
    return [*comparison.base().parts, *dict.fromkeys(filter(None, notes))]


#: Signs of a name that are left in a narrow terminal.
_SHORTEST_NAME = 12
#: Columns that a narrow terminal goes without, the first one first.
_LEAVES_FIRST = ("share of change", "rank", "points", "change")


def comparison_view(comparison: Comparison, *, width: int, local: Formatter = PLAIN) -> list[str]:
    """Return a comparison as lines for a terminal; columns it has no room for are named under it."""
    by = comparison.before.origin.by
    title = local.text(table_title("comparison", by or ""))
    table, gone = _narrowed(comparison_table(comparison), width)
    shown_table = table.in_language(local)
    lines = grid_lines(shown_table.heads(), shown_table.shown_rows(), width=width, left=shown_table.left)
    left_out = [Message("not shown", names=List(tuple(gone)))] if gone else []
    notes = [*comparison_notes(comparison), *left_out]
    stated = wrapped(notes, width, local)
    texts = textwrap.wrap(local.text(comparison_sentence(comparison)), width)
    return [title, *stated[:2], "", *lines, *stated[2:], "", *texts]


def _narrowed(table: Table, width: int) -> tuple[Table, list[str]]:
    """Leave out columns until the others fit beside a short name."""
    from rich.cells import cell_len  # for terminals only

    gone: list[str] = []
    columns = table.columns
    for name in ("", *map(Message, _LEAVES_FIRST)):
        gone += [column.label for column in columns if column.label == name]
        columns = tuple(column for column in columns if column.label not in gone)
        fixed = sum(max(map(cell_len, (column.label, column.total_text, *column.texts))) + 2 for column in columns[1:])
        if fixed + _SHORTEST_NAME <= width:
            break
    return replace(table, columns=columns), gone
