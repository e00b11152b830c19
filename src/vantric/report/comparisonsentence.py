"""What changed, in one sentence that can be read out."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.numbers.shown import number_text, one_line, readable

if TYPE_CHECKING:
    from vantric.core.counting import Comparison
    from vantric.core.counting.comparison import Change

_LONGEST = 60


def comparison_sentence(found: Comparison) -> str:
    """Return the totals, the change, and which categories rose and fell the most."""
    rates = found.exposures is not None
    before, after = found.before.total, found.after.total
    what = f"The rate of all categories in {readable(found.unit)}" if rates else f"The total in {readable(found.unit)}"
    if not found.change:
        said = f"{what} is {_number(before, rates)} on both sides"
    else:
        verb = "rose" if found.change > 0 else "fell"
        share = f" ({abs(100 * found.change / before):.1f} %)" if before else ""
        said = f"{what} {verb} from {_number(before, rates)} ({one_line(found.before_name)})"
        said += f" to {_number(after, rates)} ({one_line(found.after_name)}){share}"
    parts = [said]
    risen, fallen = (_most(found, direction) for direction in (1, -1))
    if fallen is not None:
        parts.append(f"the largest fall has {_named(fallen, rates)}")
    if risen is not None:
        parts.append(f"the largest rise has {_named(risen, rates)}")
    fresh = sum(row.before_rank is None and row.after_rank is not None for row in found.rows)
    gone = sum(row.after_rank is None and row.before_rank is not None for row in found.rows)
    parts += [f"{number_text(fresh)} {'is' if fresh == 1 else 'are'} new"] if fresh else []
    parts += [f"{number_text(gone)} {'is' if gone == 1 else 'are'} gone"] if gone else []
    return "; ".join(parts) + "."


def _most(found: Comparison, direction: int) -> Change | None:
    moved = [row for row in found.rows if row.change * direction > 0]
    return max(moved, key=lambda row: row.change * direction, default=None)


def _named(row: Change, rates: bool) -> str:
    name = one_line(row.category, longest=_LONGEST)
    return f"“{name}”, from {_number(row.before, rates)} to {_number(row.after, rates)}"


def _number(value: float, rates: bool) -> str:
    return number_text(value, most_decimals=4 if rates else 6)
