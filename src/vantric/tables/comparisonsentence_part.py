"""What changed, in sentences that can be read out: the verdict first, then the totals."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.numbers.number_format import digits_text, ends_texts, number_text, one_line, percent_text, readable
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts import Comparison
    from vantric.core.counts.comparison import Change
    from vantric.core.statistics.changes import CategoryChange, Changes

_LONGEST = 60
_MOST_NAMED = 3
_NOISE = 1e-9


def comparison_sentence(found: Comparison) -> str:
    """Return what changed beyond chance, the totals, what is new and gone, and what the records count as."""
    from vantric.core.statistics.changes import changes_of

    try:
        changes = changes_of(found)
    except RankError as reason:
        return (
            ". ".join(_sentences([f"whether a change is beyond chance is not known: {reason}", *_plain(found)])) + "."
        )
    said = [_verdict(found, changes), *_plain(found, changes), changes.counted]
    return ". ".join(_sentences(said)) + "."


def _sentences(parts: list[str]) -> list[str]:
    return [f"{part[:1].upper()}{part[1:]}" for part in parts if part]


def _verdict(found: Comparison, changes: Changes) -> str:
    from vantric.core.statistics.phrases import p_words

    beyond = changes.beyond
    if len(found) == 1 and changes.measure == "percent_points":
        return "there is one category: its share cannot change; give what each side was counted in to compare rates"
    if not beyond and changes.mix_differs:
        return f"the mix differs ({p_words(changes.mix_p)}), but no single category can be named"
    if not beyond:
        return "within chance: no category changed beyond it"
    rows = {row.category: row for row in found.rows}
    named = [_named(found, rows[one.category], one, changes) for one in beyond[:_MOST_NAMED]]
    more = len(beyond) - _MOST_NAMED
    if more > 0:
        others = "category" if more == 1 else "categories"
        return f"beyond chance: {'; '.join(named)}; and {number_text(more)} {others} more"
    if len(beyond) == len(found):
        return f"{'; '.join(named)}; all beyond chance"
    return f"{'; '.join(named)}{',' if len(named) == 1 else '; all'} beyond chance; nothing else did"


def _named(found: Comparison, row: Change, change: CategoryChange, changes: Changes) -> str:
    name, level = f"“{one_line(row.category, longest=_LONGEST)}”", f"{100 * changes.level:g} % interval"
    if changes.measure == "rate_ratio":
        before, after = ends_texts(float(row.before), float(row.after))
        verb = "rose" if float(row.after) > float(row.before) else "fell"
        return f"{name} {verb} from {before} to {after} {_per(found)}{_ratio(change, level)}"
    before, after = _percents(row.before_percent, row.after_percent)
    verb = "rose" if row.percent_points > 0 else "fell"
    low, high = sorted((abs(change.low), abs(change.high or 0.0)))
    return f"{name} {verb} from {before} to {after} of its side's total ({level} of the change {_between(low, high)})"


def _ratio(change: CategoryChange, level: str) -> str:
    if change.estimate is None:
        return ""
    if change.high is None:
        return f" ({level} of after as a multiple of before: {digits_text(change.low, digits=3)} or more)"
    ends = [_two_digits(one) for one in (change.estimate, change.low, change.high)]
    what = "of" if change.estimate < 1 else "times"
    return f", to {ends[0]} {what} what it was ({level} {ends[1]} to {ends[2]})"


def _two_digits(value: float) -> str:
    return f"{value:.2f}" if 0.005 <= value < 10 or not value else digits_text(value, digits=3)


def _plain(found: Comparison, changes: Changes | None = None) -> list[str]:
    rates = found.exposures is not None
    before, after = float(found.before.total), float(found.after.total)
    what = f"the rate of all categories in {readable(found.unit)}" if rates else f"the total in {readable(found.unit)}"
    if abs(after - before) <= _NOISE * max(before, after):
        said = f"{what} is {_whole(before, before, rates)[0]} on both sides"
    else:
        ends = _whole(before, after, rates)
        said = f"{what} {'rose' if after > before else 'fell'} from {ends[0]} ({one_line(found.before_name)})"
        said += f" to {ends[1]} ({one_line(found.after_name)})"
        said += f" ({abs(100 * (after - before) / before):.1f} %)" if before and not rates else ""
        total = changes.total if changes else None
        if total is not None:
            said += _ratio(total, f"{100 * changes.level:g} % interval" if changes else "")
            said += ", beyond chance" if total.beyond_chance else ", within chance"
    fresh = sum(row.before_rank is None and row.after_rank is not None for row in found.rows)
    gone = sum(row.after_rank is None and row.before_rank is not None for row in found.rows)
    parts = [said]
    parts += (
        [
            f"{number_text(fresh)} {'category is' if fresh == 1 else 'categories are'} only in"
            f" {one_line(found.after_name)}"
        ]
        if fresh
        else []
    )
    parts += (
        [
            f"{number_text(gone)} {'category is' if gone == 1 else 'categories are'} only in"
            f" {one_line(found.before_name)}"
        ]
        if gone
        else []
    )
    return ["; ".join(parts)]


def _per(found: Comparison) -> str:
    """Return what rates are per: ``"per 1,000 pieces"``."""
    return found.after.origin.per or ""


def _between(low: float, high: float) -> str:
    """Return an interval of percent points."""
    ends = [percent_text(end).removesuffix(" %") for end in (low, high)]
    if ends[0] == ends[1]:
        ends = list(ends_texts(low, high, digits=2))
    return f"{ends[0]} to {ends[1]} percent points"


def _whole(one: float, other: float, rates: bool) -> tuple[str, str]:
    """Return two totals as they are written, with more digits where they would look the same."""
    texts = [number_text(value, most_decimals=4 if rates else 6) for value in (one, other)]
    return (texts[0], texts[1]) if texts[0] != texts[1] or one == other else ends_texts(one, other, digits=8)


def _percents(one: float, other: float) -> tuple[str, str]:
    """Return two percents with one decimal, or as many as tell them apart."""
    texts = percent_text(one), percent_text(other)
    if texts[0] != texts[1]:
        return texts
    ends = ends_texts(one, other)
    return f"{ends[0]} %", f"{ends[1]} %"
