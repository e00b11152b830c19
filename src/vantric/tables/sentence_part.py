"""What a Pareto table shows, in one sentence that can be read out."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.counts.cutoff import Cutoff, fewest_to_change
from vantric.core.counts.tally import base_words
from vantric.core.numbers.number_format import counted, listed, number_text, one_line, percent_text, readable

if TYPE_CHECKING:
    from vantric.core.counts import ParetoTable

_LONGEST_NAME = 60


def pareto_sentence(table: ParetoTable) -> str:
    """Return base, cutoff with its rule, the vital few by name, ties, folds, merges and what was left out."""
    cut = table.cutoff
    said = _without_cut(table) if cut is None else _with_cut(table, cut)
    parts = [said, *_classes(table), *_folded(table), *_counted_in(table), *_merged(table), *_left_out(table)]
    return "; ".join(parts) + "."


def _base(table: ParetoTable) -> str:
    """Return what the percents are of, in words."""
    origin = table.origin
    records = base_words(table.tally.records, origin)
    if origin.per:
        return f"the rates in {readable(origin.unit)} ({records})"
    return f"{number_text(table.total)} {readable(origin.unit)} ({records})" if origin.weight else records


def _with_cut(table: ParetoTable, cut: Cutoff) -> str:
    base, number = _base(table), f"{number_text(cut.percent)} %"
    if table.size == 1 and cut.count:
        return _only_one(table, base)
    reached = percent_text(cut.cumulative_percent, marks=(cut.percent,))
    of_all = counted(table.size, "category", "categories")
    names = listed([_name(label) for label in cut.categories])
    if not cut.count:
        first = percent_text(float(table.percents[0]), marks=(cut.percent,))
        return f"Of {base}, no category stays within the cutoff of {number}: {_name(table.categories[0])} has {first}"
    if table.ties_rule == "include" and cut.tied:
        return _with_ties_taken_in(
            cut, f"Of {base}, {reached} belong to {number_text(cut.count)} of {of_all} ({names})"
        )
    if cut.count == table.size and cut.rule == "reach":
        every = "both categories" if table.size == 2 else f"all {of_all}"
        said = f"Of {base}, it takes {every} to reach the cutoff of {number}"
    elif cut.count == 1:
        does = "reaches" if cut.rule == "reach" else "stays within"
        said = f"Of {base}, {reached} belong to one of {of_all}, {names}, which alone {does} the cutoff of {number}"
    else:
        does = "the fewest that reach" if cut.rule == "reach" else "the most that stay within"
        said = f"Of {base}, {reached} belong to {number_text(cut.count)} of {of_all} ({names}), {does}"
        said += f" the cutoff of {number}"
    if cut.tied:
        verb = "is" if len(cut.tied) == 1 else "are"
        said += (
            f", though {listed([_name(label) for label in cut.tied], most=4)} {verb} as frequent as the last of them"
        )
    return said


def _with_ties_taken_in(cut: Cutoff, said: str) -> str:
    leading = cut.count - len(cut.tied)
    does = "reach" if cut.rule == "reach" else "stay within"
    if leading == 1:
        does = "reaches" if cut.rule == "reach" else "stays within"
    verb = "is" if len(cut.tied) == 1 else "are"
    tied = listed([_name(label) for label in cut.tied], most=4)
    return (
        f"{said}: {number_text(leading)} {does} the cutoff of {number_text(cut.percent)} %, and {tied} {verb} taken "
        "in, as frequent as the last of them"
    )


def _only_one(table: ParetoTable, base: str) -> str:
    verb = "belongs" if table.total == 1 else "belong"
    which = "The" if table.total == 1 else "All"
    return f"{which} {base} {verb} to one category, {_name(table.categories[0])}"


def _without_cut(table: ParetoTable) -> str:
    base = _base(table)
    if table.size == 1:
        return _only_one(table, base)
    first = int(table.ranked[0])
    names, frequency = table.tally.categories, table.tally.frequency
    share = float(frequency.take(table.ranked[:1]).percents(frequency.total_units)[0])
    leading = f"{_name(names[first])} with {percent_text(share)}"
    tied = next((group for group in table.ties if group[0] == names[first]), ())
    if tied:
        leading = f"{listed([_name(label) for label in tied])} with {percent_text(share)} each"
    said = f"Of {base} in {counted(table.size, 'category', 'categories')}, the largest share has {leading}"
    return f"{said}; {_middle(table)}" if table.ordering in {"given", "listed"} and table.size > 2 else said


def _middle(table: ParetoTable) -> str:
    """Return where the middle of the records is in an order that means something."""
    running = table.cumulative_percents.tolist()
    at = next(place for place, value in enumerate(running) if value >= 50 - 1e-9)
    if abs(running[at] - 50) <= 1e-9:
        after = next(place for place in range(at + 1, len(running)) if running[place] > running[at])
        return f"the middle lies between {_name(table.categories[at])} and {_name(table.categories[after])}"
    return f"the middle one falls on {_name(table.categories[at])}"


def _classes(table: ParetoTable) -> list[str]:
    """Say what the further cutoffs of an ABC analysis take in."""
    found = []
    for cut in table.cutoffs[1:]:
        reached = percent_text(cut.cumulative_percent, marks=(cut.percent,))
        does = "reach" if cut.rule == "reach" else "stay within"
        does = (does + "es" if does == "reach" else "stays within") if cut.count == 1 else does
        found.append(f"{number_text(cut.count)} {does} {number_text(cut.percent)} % ({reached})")
    return found


def _folded(table: ParetoTable) -> list[str]:
    rest = table.rest
    if rest is None:
        return []
    held = counted(len(rest.categories), "small category", "small categories")
    verb = "is" if len(rest.categories) == 1 else "are"
    return [f"{held} with {percent_text(rest.percent)} {verb} folded into {_name(rest.label)}"]


def _counted_in(table: ParetoTable) -> list[str]:
    number, origin = table.origin.missing_as, table.origin
    if not number:
        return []
    verb = "is" if number == 1 else "are"
    return [f"{base_words(number, origin)} without {one_line(origin.without_words())} {verb} counted as “(missing)”"]


def _merged(table: ParetoTable) -> list[str]:
    merged = sum(remark.code == "merged-spellings" for remark in table.origin.remarks)
    found = []
    if merged:
        found.append(f"{counted(merged, 'label')} {'takes' if merged == 1 else 'take'} in other spellings")
    if any(remark.code == "total-row" for remark in table.origin.remarks):
        found.append("a Total row is left out")
    return found


def _left_out(table: ParetoTable) -> list[str]:
    missing = table.missing.records
    if not missing:
        return []
    verb = "is" if missing == 1 else "are"
    lacking = one_line(table.origin.without_words())
    return [f"{base_words(missing, table.origin)} without {lacking} {verb} left out{_could_change(table)}"]


def _could_change(table: ParetoTable) -> str:
    """Say how many of the missing labels could change the vital few, at worst."""
    least, missing = fewest_to_change(table), table.missing
    if least is None:
        return ""
    if least > missing.frequency:
        return f", whose {'label' if missing.records == 1 else 'labels'} could not change the vital few"
    if table.origin.weight:
        unit = readable(table.origin.unit)
        amounts = f"{number_text(least)} of their {number_text(missing.frequency)} {unit}"
        return f", and labels for {amounts} could change the vital few"
    if missing.frequency == 1:
        return ", whose label could change the vital few"
    every = "all" if least == missing.frequency else "any" if least == 1 else ""
    some = f"{every} of them" if every == "all" else "any one of them" if every else f"{number_text(least)} of them"
    return f", and {some} could change the vital few"


def _name(label: str) -> str:
    return f"“{one_line(label, longest=_LONGEST_NAME)}”"
