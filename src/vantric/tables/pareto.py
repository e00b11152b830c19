"""A Pareto table: its tables, its JSON object, the lines under it, and the one sentence that can be read out."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict, replace
from functools import partial
from typing import TYPE_CHECKING, Any

from vantric.core.counts.cutoff import Cutoff, fewest_to_change
from vantric.core.counts.tally import base_words
from vantric.core.messages.message import Joined, Label, List, Message, Percent, Written, labels, level_text
from vantric.core.numbers.number_format import distinct_lines, number_text, one_line
from vantric.core.review import Finding
from vantric.tables.table import (
    Column,
    Table,
    amounts_in,
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
_MOST_FOLDED = 4  # categories of the rest that are named


def pareto_sentence(table: ParetoTable) -> Joined:
    """Return base, cutoff with its rule, the vital few by name, ties, folds, merges and what was left out."""
    cut = table.cutoff
    sentences = _without_cut(table) if cut is None else _with_cut(table, cut)
    more = [*_classes(table), *_folded(table), *_counted_in(table), *_merged(table), *_left_out(table)]
    return Joined([*sentences, *more])


def _base(table: ParetoTable) -> Message:
    """Return what the percents are of."""
    origin = table.origin
    records = base_words(table.tally.records, origin)
    if origin.per:
        return Message("rates of", unit=origin.unit_text(), records=records)
    if origin.weight:
        amount = Message("counted", number=table.total, unit=origin.unit_text())
        return Message("amount with records", amount=amount, records=records)
    return records


def _categories(table: ParetoTable) -> Message:
    return Message("categories", count=table.size)


def _share(cut: Cutoff) -> Percent:
    return Percent(cut.cumulative_percent, (cut.percent,))


def _level(cut: Cutoff) -> Written:
    return Written(f"{number_text(cut.percent)}%")


def _with_cut(table: ParetoTable, cut: Cutoff) -> list[Message]:
    names, level = labels(cut.categories, longest=_LONGEST_NAME), _level(cut)
    arguments = {"base": _base(table), "categories": _categories(table), "share": _share(cut), "cutoff": level}
    # Nothing to rank: every other sentence would sound foolish.
    if table.size == 1 and cut.count:
        return [_only_one(table)]
    # Under the rule "within" even the first category may be too large.
    if not cut.count:
        first = Percent(table.shares[0], (cut.percent,))
        label = Label(table.categories[0], _LONGEST_NAME)
        return [Message("none within", cutoff=level, base=arguments["base"], label=label, share=first)]
    if table.ties_rule == "include" and cut.tied:
        tied = {"count": len(cut.tied), "cutoff": level, "number": cut.count - len(cut.tied), "labels": _tied(cut)}
        taken_in = Message(f"ties taken in, {cut.rule}", **tied)
        return [
            Message("vital few with ties", count=cut.count, labels=names, **arguments),
            taken_in,
        ]
    # Cutting off all categories cuts off nothing, and is arguments so.
    if cut.count == table.size and cut.rule == "reach":
        every = "both needed" if table.size == 2 else "all needed"
        first_sentence = Message(every, **arguments)
    elif cut.count == 1:
        first_sentence = Message(f"one vital, {cut.rule}", labels=names, **arguments)
    else:
        first_sentence = Message(f"vital few, {cut.rule}", count=cut.count, labels=names, **arguments)
    return [first_sentence, *([Message("tied", count=len(cut.tied), labels=_tied(cut))] if cut.tied else [])]


def _tied(cut: Cutoff) -> List:
    return labels(cut.tied, most=4, longest=_LONGEST_NAME)


def _only_one(table: ParetoTable) -> Message:
    return Message("only one category", label=Label(table.categories[0], _LONGEST_NAME), base=_base(table))


def _without_cut(table: ParetoTable) -> list[Message]:
    if table.size == 1:
        return [_only_one(table)]
    first = table.ranking.places[0]
    names, frequency = table.tally.categories, table.tally.frequency
    share = Percent(frequency.take([first]).plain_percents(frequency.total_units)[0])
    tied = next((group for group in table.ties if group[0] == names[first]), ())
    leading = labels(tied or names[first : first + 1], longest=_LONGEST_NAME)
    kind = "largest shares" if tied else "largest share"
    sentence = Message(kind, labels=leading, share=share, base=_base(table), categories=_categories(table))
    # Where the order means something, so does its middle.
    return [sentence, *([_middle(table)] if table.ordering in {"given", "listed"} and table.size > 2 else [])]


def _middle(table: ParetoTable) -> Message:
    """Return where the middle of the records is in an order that means something."""
    running = table.cumulative_shares
    # As exact as percents are that were added up.
    index = next(place for place, value in enumerate(running) if value >= 50 - 1e-9)
    label = Label(table.categories[index], _LONGEST_NAME)
    if abs(running[index] - 50) <= 1e-9:
        after = next(place for place in range(index + 1, len(running)) if running[place] > running[index])
        return Message("middle between", label=label, other=Label(table.categories[after], _LONGEST_NAME))
    return Message("middle", label=label)


def _classes(table: ParetoTable) -> list[Message]:
    """Say what the further cutoffs of an ABC analysis take in."""
    return [
        Message(f"class, {cut.rule}", count=cut.count, cutoff=_level(cut), share=_share(cut))
        for cut in table.cutoffs[1:]
    ]


def _folded(table: ParetoTable) -> list[Message]:
    rest = table.rest
    if rest is None:
        return []
    label = Label(rest.label, _LONGEST_NAME)
    return [Message("folded", count=len(rest.categories), share=Percent(rest.percent), label=label)]


def _counted_in(table: ParetoTable) -> list[Message]:
    number, origin = table.origin.missing_as, table.origin
    if not number:
        return []
    return [Message("counted as missing", count=number, records=base_words(number, origin), label=origin.blank())]


def _merged(table: ParetoTable) -> list[Message]:
    codes = [remark.code for remark in table.origin.remarks]
    merged = codes.count("merged-spellings")
    sentences = [Message("spellings merged", count=merged)] if merged else []
    return [*sentences, *([Message("total row left out")] if "total-row" in codes else [])]


def _left_out(table: ParetoTable) -> list[Message]:
    missing = table.missing.records
    if not missing:
        return []
    records = base_words(missing, table.origin)
    return [Message("left out", count=missing, records=records, label=table.origin.blank()), *_could_change(table)]


def _could_change(table: ParetoTable) -> list[Message]:
    """Say how many of the missing labels could change the vital few, at worst."""
    least, missing = fewest_to_change(table), table.missing
    if least is None:
        return []
    # Even if all of them had one label, nothing would change.
    if least > missing.frequency:
        return [Message("could not change", count=missing.records)]
    if table.origin.weight:
        amounts = {"number": least, "total": missing.frequency}
        return [Message("amount could change", **amounts, unit=table.origin.unit_text())]
    if missing.frequency == 1:
        return [Message("one could change")]
    if least == missing.frequency:
        return [Message("all could change")]
    if least == 1:
        return [Message("any could change")]
    return [Message("some could change", number=least, total=missing.frequency)]


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
    some = partial(numbers, most_decimals=4) if table.origin.per is not None else amounts_in(table.origin.clock)
    names = row_names(table)
    rank = Column(Message("rank"), [row.rank for row in rows], words, kind_of([row.rank for row in rows]), key="rank")
    category = Column(Message("category"), names, names, "text", total=Message("total label"))
    frequency = _frequency(table)
    plain = table.counts.values()
    count = Column(Message("count"), plain, None, kind_of(plain), key="count", total=table.tally.records)
    percent = Column(Message("percent"), table.shares, None, "percent", key="percent", total="100.0%")
    running = table.cumulative.values()
    cumulative = Column(Message("cumulative frequency"), running, some, kind_of(running), key="cumulative_frequency")
    marked = partial(percents, marks=[cut.percent for cut in table.cutoffs])
    share = Column(Message("cumulative percent"), table.cumulative_shares, marked, "percent", key="cumulative_percent")
    classes = Column(Message("class"), [row.abc for row in rows], words, "text", key="abc")
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
        return Column(
            table.origin.measure,
            values,
            amounts_in(table.origin.clock),
            kind_of(values),
            key="frequency",
            total=table.total,
        )
    texts = numbers([*values, table.total], most_decimals=4)[:-1]  # rates do not add up; their sum has their decimals
    return Column(Message("rate"), values, texts, kind_of(values), key="frequency")


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
            Message("with level", name=Message(name), level=level_text(sure.level)),
            [limits[label][index] if label in limits else None for label in table.categories],
            form,
            "number" if rates else "percent",
            view="intervals",
        )
        for index, name in enumerate(("low", "high"))
    ]


def row_names(table: ParetoTable) -> list[str]:
    """Return the labels of the rows in one line each; the rest says how many it holds."""
    names = distinct_lines(table.categories)
    if table.rest:
        names[-1] = Message("rest row", name=names[-1], count=len(table.rest.categories))
    return names


def table_notes(table: ParetoTable) -> list[str]:
    """Return source, period, filter, merges and folds, the cutoffs, and what is arguments of the bases."""
    cuts = [
        Message("cutoff note", cutoff=_level(cut), rule=cut.rule, count=cut.count, all=table.size, share=_share(cut))
        for cut in table.cutoffs
    ]
    return [note for note in (table_note(table), *cuts) if note]


def table_notes_beyond(table: ParetoTable) -> list[str]:
    """Return what the head of a view does not say: the folds, and what rates are."""
    mixed = table.origin.per and table.tally.exposure is not None and len(set(table.tally.exposure.values())) > 1
    return [note for note in (fold_words(table), Message("rates do not add up") if mixed else "") if note]


def cut_line(cut: Cutoff, size: int) -> Message:
    """Return ``"80% reached by 3 of 9 categories: 83.5%"``, ``"80%: 2 of 9 categories within: 71.2%"``."""
    return Message(f"cut line {cut.rule}", cutoff=_level(cut), count=cut.count, all=size, percent=_share(cut))


def table_note(table: ParetoTable) -> Joined:
    """Return source, period, filter, merges and folds in one line."""
    return Joined((table.origin.note(), fold_words(table)), "; ")


def fold_words(table: ParetoTable) -> str:
    """Return what the rest holds, in words; nothing if nothing is folded."""
    rest = table.rest
    if rest is None:
        return ""
    label, number = one_line(rest.label), len(rest.categories)
    if number > _MOST_FOLDED:
        return Message("rest", rest=label, number=number)
    return Message("rest named", rest=label, number=number, labels=labels(rest.categories))


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
