"""A comparison as data and as cells."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, Any

from vantric.core.numbers.shown import distinct_lines, number_text, number_texts, one_line, percent_text
from vantric.core.reviewing import Finding
from vantric.errors import RankError
from vantric.reports.cells import Cells
from vantric.reports.comparisonsentence import comparison_sentence
from vantric.reports.local import Fixed
from vantric.reports.table import six_digits, whole

if TYPE_CHECKING:
    from vantric.core.counting import Comparison, ParetoTable
    from vantric.core.inference.changes import CategoryChange, Changes

CHANCE = Fixed("Chance")
COLUMNS = (
    "category", "before", "after", "before_percent", "after_percent", "before_rank", "after_rank", "change",
    "percent_points", "rank_change", "share", "before_count", "after_count",
)  # fmt: skip
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
        "rows": [dict(zip([*COLUMNS, *SURE], row, strict=True)) for row in comparison_rows(found)[1]],
        "sentence": comparison_sentence(found),
        "findings": [finding.to_dict() for finding in findings],
    }


def changes_known(found: Comparison) -> Changes | None:
    """Return how sure the changes are; None where that cannot be said."""
    from vantric.core.inference.changes import changes_of

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


def comparison_rows(found: Comparison) -> tuple[list[str], list[list[Any]]]:
    """Return head and rows as plain values."""
    rows = [[whole(getattr(row, name)) for name in COLUMNS] for row in found.rows]
    return [*COLUMNS, *SURE], [[*row, *sure] for row, sure in zip(rows, _sure(found), strict=True)]


def comparison_cells(found: Comparison) -> Cells:
    """Return the cells of a comparison as people read them; frequencies are rates where exposures are given."""
    before, after = one_line(found.before_name, longest=16), one_line(found.after_name, longest=16)
    decimals = 4 if found.exposures else 6
    rows = found.rows
    moved = _signed(number_texts([abs(row.change) for row in rows], most_decimals=decimals), [r.change for r in rows])
    columns = [
        distinct_lines(found.categories),
        number_texts([row.before for row in rows], most_decimals=decimals),
        number_texts([row.after for row in rows], most_decimals=decimals),
        moved,
        [percent_text(row.before_percent) for row in rows],
        [percent_text(row.after_percent) for row in rows],
        [_points(row.percent_points) for row in rows],
        [_ranks(row.before_rank, row.after_rank) for row in rows],
        ["–" if row.share is None else _share(row.share) for row in rows],
    ]
    head = [Fixed("Category"), before, after, Fixed("Change"), f"% {before}", f"% {after}",
            *map(Fixed, ("Points", "Rank", "Share of change"))]  # fmt: skip
    changes = changes_known(found)
    if changes is not None:
        points = changes.measure == "percent_points"
        columns += [
            [_limits(row, points) for row in changes.rows],
            [Fixed("beyond" if row.beyond_chance else "within") for row in changes.rows],
        ]
        head += [Fixed(f"{'Points' if points else 'Ratio'}, {100 * changes.level:g} %"), CHANCE]
    totals = [
        "" if found.exposures else number_text(value)
        for value in (found.before.total, found.after.total, abs(found.change))
    ]
    totals[2] = _signed([totals[2]], [found.change])[0] if totals[2] else ""
    total = [Fixed("Total"), *totals, "100.0 %", "100.0 %", "", "", "100.0 %" if found.change else "–"]
    if changes is not None:
        total += ["", ""] if changes.total is None else [
            _limits(changes.total, points), Fixed("beyond" if changes.total.beyond_chance else "within")
        ]  # fmt: skip
    return Cells(tuple(head), tuple(zip(*columns, strict=True)), tuple(total), frozenset({0}))


def _limits(row: CategoryChange, points: bool) -> str:
    """Return an interval as people read it."""
    if points:
        return f"{_point(row.low)} to {_point(row.high or 0.0)}"
    return f"{row.low:.2f} or more" if row.high is None else f"{row.low:.2f} to {row.high:,.2f}"


def _point(value: float) -> str:
    text = f"{abs(value):.1f}"
    return text if text == "0.0" else f"{'+' if value > 0 else '−'}{text}"


def _signed(texts: list[str], values: list[Any]) -> list[str]:
    signs = ("+" if value > 0 else "−" if value < 0 else "" for value in values)
    return [sign + text for sign, text in zip(signs, texts, strict=True)]


def _share(value: float) -> str:
    return percent_text(abs(value)) if value >= 0 else f"−{percent_text(-value)}"


def _points(value: float) -> str:
    size = abs(value)
    return _signed([f"{size:.1f}" if size >= 0.05 else number_text(size, most_decimals=3)], [value])[0]


def _ranks(before: int | None, after: int | None) -> str:
    return f"{'–' if before is None else before} → {'–' if after is None else after}"


def comparison_notes(found: Comparison) -> list[str]:
    """Return the bases of both sides, and where they come from."""
    notes = [table.origin.note() for table in (found.before, found.after)]
    return [*found.base().split("; ", 1), *dict.fromkeys(filter(None, notes))]
