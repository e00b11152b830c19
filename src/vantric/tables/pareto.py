"""A Pareto table: its tables, its JSON object, the lines under it, and the one sentence that can be read out."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict, replace
from functools import partial
from typing import TYPE_CHECKING, Any

from vantric.core.counts.cutoff import Cutoff, fewest_to_change
from vantric.core.counts.tally import base_words
from vantric.core.numbers.number_format import (
    counted,
    distinct_lines,
    listed,
    number_text,
    one_line,
    percent_text,
    quoted,
    readable,
)
from vantric.core.review import Finding
from vantric.tables.localize import FixedText, with_level
from vantric.tables.table import (
    Column,
    Table,
    as_integer,
    kind_of,
    numbers,
    percents,
    single_numbers,
    words,
)

if TYPE_CHECKING:
    from vantric.core.counts import Cutoff, ParetoTable
    from vantric.core.statistics import Certainty, Concentration

#: A name in a sentence is cut beyond this.
_LONGEST_NAME = 60


def pareto_sentence(table: ParetoTable) -> str:
    """Return base, cutoff with its rule, the vital few by name, ties, folds, merges and what was left out."""
    cut = table.cutoff
    sentence = _without_cut(table) if cut is None else _with_cut(table, cut)
    parts = [sentence, *_classes(table), *_folded(table), *_counted_in(table), *_merged(table), *_left_out(table)]
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
    # Nothing to rank: every other sentence would sound foolish.
    if table.size == 1 and cut.count:
        return _only_one(table, base)
    reached = percent_text(cut.cumulative_percent, marks=(cut.percent,))
    of_all = counted(table.size, "category", "categories")
    names = listed([_name(label) for label in cut.categories])
    # Under the rule "within" even the first category may be too large.
    if not cut.count:
        first = percent_text(float(table.percents[0]), marks=(cut.percent,))
        return f"Of {base}, no category stays within the cutoff of {number}: {_name(table.categories[0])} has {first}"
    if table.ties_rule == "include" and cut.tied:
        return _with_ties_taken_in(
            cut, f"Of {base}, {reached} belong to {number_text(cut.count)} of {of_all} ({names})"
        )
    # Cutting off all categories cuts off nothing, and is said so.
    if cut.count == table.size and cut.rule == "reach":
        every = "both categories" if table.size == 2 else f"all {of_all}"
        text = f"Of {base}, it takes {every} to reach the cutoff of {number}"
    elif cut.count == 1:
        does = "reaches" if cut.rule == "reach" else "stays within"
        text = f"Of {base}, {reached} belong to one of {of_all}, {names}, which alone {does} the cutoff of {number}"
    else:
        does = "the fewest that reach" if cut.rule == "reach" else "the most that stay within"
        text = f"Of {base}, {reached} belong to {number_text(cut.count)} of {of_all} ({names}), {does}"
        text += f" the cutoff of {number}"
    if cut.tied:
        verb = "is" if len(cut.tied) == 1 else "are"
        text += (
            f", though {listed([_name(label) for label in cut.tied], most=4)} {verb} as frequent as the last of them"
        )
    return text


def _with_ties_taken_in(cut: Cutoff, text: str) -> str:
    leading = cut.count - len(cut.tied)
    does = "reach" if cut.rule == "reach" else "stay within"
    if leading == 1:
        does = "reaches" if cut.rule == "reach" else "stays within"
    verb = "is" if len(cut.tied) == 1 else "are"
    tied = listed([_name(label) for label in cut.tied], most=4)
    return (
        f"{text}: {number_text(leading)} {does} the cutoff of {number_text(cut.percent)} %, and {tied} {verb} taken "
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
    text = f"Of {base} in {counted(table.size, 'category', 'categories')}, the largest share has {leading}"
    # Where the order means something, so does its middle.
    return f"{text}; {_middle(table)}" if table.ordering in {"given", "listed"} and table.size > 2 else text


def _middle(table: ParetoTable) -> str:
    """Return where the middle of the records is in an order that means something."""
    running = table.cumulative_percents.tolist()
    # As exact as percents are that were added up.
    index = next(place for place, value in enumerate(running) if value >= 50 - 1e-9)
    if abs(running[index] - 50) <= 1e-9:
        after = next(place for place in range(index + 1, len(running)) if running[place] > running[index])
        return f"the middle lies between {_name(table.categories[index])} and {_name(table.categories[after])}"
    return f"the middle one falls on {_name(table.categories[index])}"


def _classes(table: ParetoTable) -> list[str]:
    """Say what the further cutoffs of an ABC analysis take in."""
    classes = []
    for cut in table.cutoffs[1:]:
        reached = percent_text(cut.cumulative_percent, marks=(cut.percent,))
        does = "reach" if cut.rule == "reach" else "stay within"
        does = (does + "es" if does == "reach" else "stays within") if cut.count == 1 else does
        classes.append(f"{number_text(cut.count)} {does} {number_text(cut.percent)} % ({reached})")
    return classes


def _folded(table: ParetoTable) -> list[str]:
    rest = table.rest
    if rest is None:
        return []
    text = counted(len(rest.categories), "small category", "small categories")
    verb = "is" if len(rest.categories) == 1 else "are"
    return [f"{text} with {percent_text(rest.percent)} {verb} folded into {_name(rest.label)}"]


def _counted_in(table: ParetoTable) -> list[str]:
    number, origin = table.origin.missing_as, table.origin
    if not number:
        return []
    verb = "is" if number == 1 else "are"
    return [f"{base_words(number, origin)} without {one_line(origin.without_words())} {verb} counted as “(missing)”"]


def _merged(table: ParetoTable) -> list[str]:
    merged = sum(remark.code == "merged-spellings" for remark in table.origin.remarks)
    texts = []
    if merged:
        texts.append(f"{counted(merged, 'label')} {'takes' if merged == 1 else 'take'} in other spellings")
    if any(remark.code == "total-row" for remark in table.origin.remarks):
        texts.append("a Total row is left out")
    return texts


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
    # Even if all of them had one label, nothing would change.
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


def pareto_tables(
    table: ParetoTable, sure: Certainty | None = None, path: tuple[str, ...] = (), *, limits: bool = True
) -> tuple[Table, ...]:
    """Return the table, with its certainty if it is known, and the tables of a drill-down."""
    own_table = pareto_table(table, sure, limits=limits)
    title = f"{one_line(path[-1])}: {one_line(table.origin.by or '')}" if path else ""
    inner = [item for name, pareto_table in table.within for item in pareto_tables(pareto_table, None, (*path, name))]
    return (replace(own_table, path=path, title=title), *inner)


def pareto_table(table: ParetoTable, sure: Certainty | None = None, *, limits: bool = True) -> Table:
    """Return a Pareto table; the vital few are its strong rows, the rest is last; `limits` are shown beside."""
    rows = table.rows
    # Rates have more decimals than people write; four are enough to compare them.
    some = partial(numbers, most_decimals=4) if table.origin.per is not None else numbers
    names = row_names(table)
    rank = Column(FixedText("Rank"), [row.rank for row in rows], words, kind_of([row.rank for row in rows]), key="rank")
    category = Column(FixedText("Category"), names, names, "text", total=FixedText("Total"))
    frequency = _frequency(table)
    plain = table.counts.values()
    count = Column(FixedText("Count"), plain, None, kind_of(plain), key="count", total=table.tally.records)
    percent = Column(FixedText("Percent"), table.percents.tolist(), None, "percent", key="percent", total="100.0 %")
    running = table.cumulative.values()
    cumulative = Column(FixedText("Cumulative frequency"), running, some, kind_of(running), key="cumulative_frequency")
    marked = partial(percents, marks=[cut.percent for cut in table.cutoffs])
    share = Column(
        FixedText("Cumulative percent"), table.cumulative_percents.tolist(), marked, "percent", key="cumulative_percent"
    )
    classes = Column(FixedText("Class"), [row.abc for row in rows], words, "text", key="abc")
    strata = _strata(table)
    columns = (
        rank,
        category,
        frequency,
        *([] if table.tally.counts is None else [count]),
        *strata,
        percent,
        cumulative,
        share,
        classes,
        *([] if sure is None or not limits else _limits(table, sure)),
    )
    # Data keep the plain labels and every column, whatever people are shown.
    label = replace(category, values=table.categories, key="category")
    data = (rank, label, frequency, count, percent, cumulative, share, classes, *strata)
    if sure is not None:
        from vantric.tables.statements import certainty_columns

        data = (*data, *certainty_columns(table.categories, sure))
    inside = table.cutoff.count if table.cutoff else 0
    return Table(
        columns,
        data,
        keyed=1,
        labels=tuple(distinct_lines(table.categories)),
        strong=min(inside, len(table)),
        last=bool(table.rest) + table.pinned,
        notes=(table.tally.base(), *table_notes(table)),
    )


def _frequency(table: ParetoTable) -> Column:
    values = table.frequency.values()
    if table.origin.per is None:
        return Column(FixedText("Frequency"), values, None, kind_of(values), key="frequency", total=table.total)
    texts = numbers([*values, table.total], most_decimals=4)[:-1]  # rates do not add up; their sum has their decimals
    return Column(FixedText("Rate"), values, texts, kind_of(values), key="frequency")


def _strata(table: ParetoTable) -> list[Column]:
    if table.strata is None:
        return []
    rows, below = table.strata_rows(), table.strata.column_totals.values()
    columns = []
    for index, name in enumerate(table.strata.columns):
        values = [row[index] for row in rows]
        total = number_text(below[index])
        columns.append(Column(one_line(name), values, single_numbers, kind_of(values), key=name, total=total))
    return columns


def _limits(table: ParetoTable, sure: Certainty) -> list[Column]:
    """Return the limits of each share, or rate, as two columns that a page shows with the intervals."""
    limits = {row.category: (row.low, row.high) for row in sure.rows}
    if table.rest is not None and sure.rest is not None:
        limits[table.rest.label] = sure.rest
    # Each interval is in what its bar shows.
    rates = sure.measure == "rate"
    form = partial(numbers, most_decimals=4) if rates else percents
    return [
        Column(
            with_level(name, sure.level),
            [limits[label][index] if label in limits else None for label in table.categories],
            form,
            "number" if rates else "percent",
            view="intervals",
        )
        for index, name in enumerate(("Low", "High"))
    ]


def row_names(table: ParetoTable) -> list[str]:
    """Return the labels of the rows in one line each; the rest says how many it holds."""
    names = distinct_lines(table.categories)
    if table.rest:
        name, number = names[-1], len(table.rest.categories)
        english = f"{name} ({counted(number, 'category', 'categories')})"
        names[-1] = FixedText.of(english, lambda local: f"{name} ({local.number(number_text(number))})")
    return names


def table_notes(table: ParetoTable) -> list[str]:
    """Return source, period, filter, merges and folds, the cutoffs, and what is said of the bases."""
    notes = [table_note(table)]
    for cut in table.cutoffs:
        text = cut_line(cut.rule, cut.count, table.size)
        reached = percent_text(cut.cumulative_percent, marks=(cut.percent,))
        notes.append(f"Cutoff {number_text(cut.percent)} % ({cut.rule}): {text}, {reached}")
    return [note for note in notes if note]


def table_notes_beyond(table: ParetoTable) -> list[str]:
    """Return what the head of a view does not say: the folds, and what rates are."""
    notes = [fold_words(table)]
    if table.origin.per and table.tally.exposure is not None and len(set(table.tally.exposure.values())) > 1:
        notes.append("Rates with different bases do not add up: percents are of the sum of the rates.")
    return [note for note in notes if note]


def cut_line(rule: str, count: int, size: int) -> str:
    """Return ``"reached by 3 of 9 categories"``, ``"2 of 9 categories stay within"``."""
    of_all = f"{number_text(count)} of {counted(size, 'category', 'categories')}"
    if rule == "reach":
        return f"reached by {of_all}"
    return f"{of_all} {'stays' if count == 1 else 'stay'} within"


def table_note(table: ParetoTable) -> str:
    """Return source, period, filter, merges and folds in one line."""
    return "; ".join(filter(None, (table.origin.note(), fold_words(table))))


def fold_words(table: ParetoTable) -> str:
    """Return what the rest holds, in words; nothing if nothing is folded."""
    rest = table.rest
    if rest is None:
        return ""
    number = counted(len(rest.categories), "smallest category", "smallest categories")
    text = f"“{one_line(rest.label)}” holds the {number}"
    return text if len(rest.categories) > 4 else f"{text}: {quoted(rest.categories)}"


def pareto_object(
    table: ParetoTable, findings: Iterable[Finding], sure: Certainty | None = None, dense: Concentration | None = None
) -> dict[str, Any]:
    """Return the JSON object of a Pareto table."""
    cutoffs, origin, rest = [_cutoff_object(cut) for cut in table.cutoffs], table.origin, table.rest
    mapping = {
        "format": "vantric/pareto",
        "version": 1,
        "source": origin.source,
        "where": origin.where,
        "by": origin.by,
        "count": origin.count,
        "weight": origin.weight,
        **_more(table),
        "order": list(table.categories) if table.ordering == "listed" else table.ordering,
        "input_rows": origin.input_rows,
        "records": as_integer(table.tally.records),
        "total": as_integer(table.total),
        "missing": _missing_object(table),
        "rows": _rows(table),
        "rest": rest
        and {
            "label": rest.label,
            "holds": len(rest.categories),
            "categories": list(rest.categories),
            "frequency": as_integer(rest.frequency),
            "count": as_integer(rest.count),
            "percent": as_integer(rest.percent),
        },
        "cutoffs": cutoffs,
        "cutoff": cutoffs[0] if cutoffs else None,
        **_within(table),
        "findings": [finding.to_dict() for finding in findings],
    }
    return mapping | _said_of(table, sure, dense)


def _said_of(table: ParetoTable, sure: Certainty | None, dense: Concentration | None) -> dict[str, Any]:
    """Return what a JSON object says of the parts, and how sure and how concentrated the table is."""
    statements: dict[str, Any] = {}
    if table.strata is not None:
        from vantric.tables.statements import parts_object, vital_of

        statements |= parts_object(table.strata, vital_of(table))
    if dense is not None:
        statements |= {"concentration": {**asdict(dense), "sentence": dense.sentence()}}
    if sure is not None:
        from vantric.tables.statements import certainty_object

        statements |= {"certainty": certainty_object(sure)}
    return statements


def _missing_object(table: ParetoTable) -> dict[str, Any]:
    """Return what is missing, and the least frequency of it that could change the vital few."""
    mapping = {"records": as_integer(table.missing.records), "frequency": as_integer(table.missing.frequency)}
    if not table.missing.records:
        return mapping
    least = fewest_to_change(table)
    return {**mapping, "could_change": None if least is None or least > table.missing.frequency else as_integer(least)}


def _more(table: ParetoTable) -> dict[str, Any]:
    """Return what only some tables have: a period, a part, rates, strata."""
    origin, mapping = table.origin, dict[str, Any]()
    if origin.days:
        mapping["days"] = list(origin.days)
    if origin.within:
        mapping["within"] = origin.within
    if origin.missing_as:
        mapping["missing_as_category"] = as_integer(origin.missing_as)
    if origin.per:
        mapping["per"] = origin.per
    if table.strata is not None:
        mapping |= {"split": table.strata.split, "strata": list(table.strata.columns)}
    return mapping


def _rows(table: ParetoTable) -> list[dict[str, Any]]:
    own_table, strata = pareto_table(table), table.strata
    wide = 0 if strata is None else len(strata.columns)
    rows = replace(own_table, data=own_table.data[: len(own_table.data) - wide]).records()
    if strata is not None:
        for row, parts in zip(rows, table.strata_rows(), strict=True):
            row["strata"] = [as_integer(part) for part in parts]
    if table.tally.exposure is not None and not table.rest:
        for row, value in zip(rows, table.in_rows(table.tally.exposure).values(), strict=True):
            row["exposure"] = as_integer(value)
    return rows


def _within(table: ParetoTable) -> dict[str, Any]:
    if not table.within:
        return {}
    return {"drill": [{"category": name, "table": pareto_object(inner, ())} for name, inner in table.within]}


def _cutoff_object(cut: Cutoff) -> dict[str, Any]:
    return {
        "percent": as_integer(cut.percent),
        "rule": cut.rule,
        "count": cut.count,
        "categories": list(cut.categories),
        "cumulative_percent": as_integer(cut.cumulative_percent),
        "tied": list(cut.tied),
    }
