"""A comparison as data and as cells."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Any

from vantric.core.numbers.number_format import distinct_lines, number_text, number_texts, one_line, percent_text
from vantric.core.review import Finding
from vantric.errors import RankError
from vantric.tables.comparisonsentence_part import comparison_sentence
from vantric.tables.localize import Fixed, joined, with_level
from vantric.tables.table import NOTHING, Column, Kind, Table, kind_of, percents, six_digits, whole

if TYPE_CHECKING:
    from vantric.core.counts import Comparison, ParetoTable
    from vantric.core.statistics.changes import CategoryChange, Changes

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


def comparison_object(found: Comparison, findings: Iterable[Finding]) -> dict[str, Any]:
    """Return the JSON object of a comparison."""
    origin = found.before.origin
    return {
        "format": "vantric/comparison",
        "version": 1,
        "by": origin.by,
        "unit": found.unit,
        "before": _side(found.before, found.before_name, found.exposures[0] if found.exposures else None),
        "after": _side(found.after, found.after_name, found.exposures[1] if found.exposures else None),
        "change": whole(found.change),
        "changes": _changes_object(found),
        "rows": Table((), _data(found)).records(),
        "sentence": comparison_sentence(found),
        "findings": [finding.to_dict() for finding in findings],
    }


def changes_known(found: Comparison) -> Changes | None:
    """Return how sure the changes are; None where that cannot be said."""
    from vantric.core.statistics.changes import changes_of

    try:
        return changes_of(found)
    except RankError:
        return None


def _changes_object(found: Comparison) -> dict[str, Any] | None:
    changes = changes_known(found)
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
        "counted": changes.counted,
    }


def _sure(found: Comparison) -> list[list[Any]]:
    changes = changes_known(found)
    if changes is None:
        return [[None] * len(SURE) for _ in found.categories]
    return [[six_digits(getattr(row, name)) for name in SURE] for row in changes.rows]


def _side(table: ParetoTable, name: str, exposure: Any) -> dict[str, Any]:
    return {
        "name": name,
        "source": table.origin.source,
        "where": table.origin.where,
        "records": whole(table.tally.records),
        "total": whole(table.total),
        "missing": {"records": whole(table.missing.records), "frequency": whole(table.missing.frequency)},
        "exposure": exposure,
    }


def _data(found: Comparison) -> tuple[Column, ...]:
    """Return the columns that programs read."""
    sure = list(zip(*_sure(found), strict=True)) or [()] * len(SURE)
    columns = [(name, [getattr(row, name) for row in found.rows]) for name in COLUMNS]
    columns += [(name, list(values)) for name, values in zip(SURE, sure, strict=True)]
    return tuple(Column("", values, key=name) for name, values in columns)


def comparison_table(found: Comparison) -> Table:
    """Return a comparison, a row a category; frequencies are rates where exposures are given."""
    before, after = one_line(found.before_name, longest=16), one_line(found.after_name, longest=16)
    data, rows = _data(found), found.rows
    exact = {column.key: [whole(value) for value in column.values] for column in data}
    totals = ["", "", ""]
    if not found.exposures:
        totals = [number_text(value) for value in (found.before.total, found.after.total, abs(found.change))]
        totals[2] = _signed([totals[2]], [found.change])[0]

    def amounts(values: Sequence[Any]) -> list[str]:
        return number_texts(values, most_decimals=4 if found.exposures else 6)

    def column(label: str, name: str, texts: Sequence[str], total: str, kind: Kind | None = None) -> Column:
        return Column(label, exact[name], texts, kind or kind_of(exact[name]), total=total)

    changes = amounts([abs(row.change) for row in rows])
    columns = [
        column(Fixed("Category"), "category", distinct_lines(found.categories), Fixed("Total"), "text"),
        column(before, "before", amounts([row.before for row in rows]), totals[0]),
        column(after, "after", amounts([row.after for row in rows]), totals[1]),
        column(Fixed("Change"), "change", _signed(changes, [row.change for row in rows]), totals[2]),
        column(f"% {before}", "before_percent", percents(exact["before_percent"]), "100.0 %", "percent"),
        column(f"% {after}", "after_percent", percents(exact["after_percent"]), "100.0 %", "percent"),
        column(Fixed("Points"), "percent_points", [_points(row.percent_points) for row in rows], ""),
        _in_words(Fixed("Rank"), [_ranks(row.before_rank, row.after_rank) for row in rows]),
        column(
            Fixed("Share of change"),
            "share",
            [_share(row.share) for row in rows],
            "100.0 %" if found.change else NOTHING,
            "percent",
        ),
    ]
    labels = tuple(distinct_lines(found.categories))
    return Table(
        (*columns, *_change_columns(found)),
        data,
        keyed=0,
        labels=labels,
        caption=comparison_sentence(found),
        notes=tuple(comparison_notes(found)),
    )


def _in_words(label: str, texts: Sequence[str], total: str = "") -> Column:
    return Column(label, texts, texts, "text", total=total, right=True)


def _change_columns(found: Comparison) -> list[Column]:
    """Return how sure each change is, in words; nothing where that cannot be said."""
    changes = changes_known(found)
    if changes is None:
        return []
    points, total = changes.measure == "percent_points", changes.total
    name = with_level("Points" if points else "Ratio", changes.level)
    return [
        _in_words(
            name, [_limits(row, points) for row in changes.rows], "" if total is None else _limits(total, points)
        ),
        _in_words(Fixed("Chance"), [_chance(row) for row in changes.rows], "" if total is None else _chance(total)),
    ]


def _chance(row: CategoryChange) -> str:
    return Fixed("beyond" if row.beyond_chance else "within")


def _limits(row: CategoryChange, points: bool) -> str:
    """Return an interval as people read it."""
    if points:
        return joined(_point(row.low), "to", _point(row.high or 0.0))
    low = f"{row.low:.2f}"
    if row.high is None:
        return Fixed.of(f"{low} or more", lambda local: f"{local.number(low)} or more")
    return joined(low, "to", f"{row.high:,.2f}")


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
    ends = ["–" if rank is None else number_text(rank) for rank in (before, after)]
    return Fixed.of(" → ".join(ends), lambda local: " → ".join(map(local.number, ends)))


def comparison_notes(found: Comparison) -> list[str]:
    """Return the bases of both sides, and where they come from."""
    notes = [table.origin.note() for table in (found.before, found.after)]
    return [*found.base().split("; ", 1), *dict.fromkeys(filter(None, notes))]
