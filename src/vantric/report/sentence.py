"""What a Pareto table shows, in one sentence that can be read out."""

from __future__ import annotations

from vantric.core.counting import Cutoff, ParetoTable
from vantric.core.counting.tally import base_words
from vantric.core.numbers.shown import counted, listed, number_text, one_line, percent_text, with_article

_LONGEST_NAME = 60


def pareto_sentence(table: ParetoTable) -> str:
    """Return base, cut-off with its rule, the vital few by name, ties and what was left out, as one sentence."""
    base = base_words(table.total, table.origin)
    cut = table.cutoff
    said = _without_cut(table, base) if cut is None else _with_cut(table, cut, base)
    return f"{said}{_left_out(table)}."


def _with_cut(table: ParetoTable, cut: Cutoff, base: str) -> str:
    number = f"{number_text(cut.percent)} %"
    reached = percent_text(cut.cumulative_percent, marks=(cut.percent,))
    of_all = counted(len(table), "category", "categories")
    names = listed([_name(label) for label in cut.categories])
    if len(table) == 1:
        return _only_one(table, base)
    if cut.count == 1:
        said = f"Of {base}, {reached} belong to one of {of_all}, {names}, which alone reaches the cut-off of {number}"
    elif cut.count == len(table):
        every = "both categories" if len(table) == 2 else f"all {of_all}"
        said = f"Of {base}, it takes {every} to reach the cut-off of {number}"
    else:
        said = f"Of {base}, {reached} belong to {number_text(cut.count)} of {of_all} ({names})"
        said += f", the fewest that reach the cut-off of {number}"
    if cut.tied:
        verb = "is" if len(cut.tied) == 1 else "are"
        tied = listed([_name(label) for label in cut.tied], most=4)
        said += f", though {tied} {verb} as frequent as the last of them"
    return said


def _only_one(table: ParetoTable, base: str) -> str:
    verb = "belongs" if table.total == 1 else "belong"
    which = "The" if table.total == 1 else "All"
    return f"{which} {base} {verb} to one category, {_name(table.categories[0])}"


def _without_cut(table: ParetoTable, base: str) -> str:
    leading = f"{_name(table.categories[0])} with {percent_text(float(table.percents[0]))}"
    tied = next((group for group in table.ties if group[0] == table.categories[0]), ())
    if len(table) == 1:
        return _only_one(table, base)
    if tied:
        leading = f"{listed([_name(label) for label in tied])} with {percent_text(float(table.percents[0]))} each"
    return f"Of {base} in {counted(len(table), 'category', 'categories')}, the largest share has {leading}"


def _left_out(table: ParetoTable) -> str:
    missing = table.missing.records
    if not missing:
        return ""
    label = with_article(one_line(table.origin.by)) if table.origin.by else "a label"
    verb = "is" if missing == 1 else "are"
    return f"; {base_words(missing, table.origin)} without {label} {verb} left out"


def _name(label: str) -> str:
    return f"“{one_line(label, longest=_LONGEST_NAME)}”"
