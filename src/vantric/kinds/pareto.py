"""A Pareto table as a section: views with values, percents and intervals, and what its page cuts anew."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from fractions import Fraction
from functools import cache
from math import lcm
from typing import TYPE_CHECKING, Any, TypeAlias

from vantric.core import composition
from vantric.core.charts.settings import LabelKind, ParetoLook
from vantric.core.composition.pareto import worded
from vantric.core.counts import ParetoTable
from vantric.core.numbers.number_format import counted, distinct_lines, number_text, percent_text, readable
from vantric.errors import RankError
from vantric.kinds.appearance import ready, shaped
from vantric.kinds.notes_part import base_of, notes_of, upper_first
from vantric.kinds.spreads_part import spreads_from
from vantric.output.sections import Recut, Section, View
from vantric.tables.localize import Fixed, Local
from vantric.tables.pareto import pareto_tables, table_notes
from vantric.tables.parts_part import parts_words, vital_of
from vantric.tables.sentence_part import pareto_sentence

if TYPE_CHECKING:
    from vantric.core.charts import Chart, PanelChart
    from vantric.core.review import Finding
    from vantric.core.statistics import Certainty

#: Returns the chart of a table under a look.
Draw: TypeAlias = Callable[[Any, Any], Any]
_MOST_SURE = 400  # categories whose intervals a page shows
_MOST_RECUT = 5000


def pareto_section(
    table: ParetoTable,
    look: ParetoLook,
    findings: Iterable[Finding] = (),
    *,
    draw: Draw,
    chart: Chart | PanelChart | None = None,
) -> Section:
    """Return a Pareto table as a section.

    Parameters
    ----------
    table
    look
        Of its chart.
    findings
        What the review says.
    draw
        Returns its chart under a look.
    chart
        The chart, if it is drawn already.
    """
    table = worded(table, look.wording.say("rest label"))

    @cache
    def sure() -> Certainty | None:
        return None if len(table) > _MOST_SURE else _certainty(table)

    @cache
    def first() -> Chart | PanelChart:
        return draw(table, look) if chart is None else chart

    sentence = pareto_sentence(table)
    if table.strata is not None:
        sentence = " ".join(filter(None, (sentence, parts_words(table.strata, vital_of(table)))))
    return Section(
        kind="pareto",
        title=composition.chart_title(table, look),
        sentence=sentence,
        base=upper_first(base_of(table.tally, look)),
        views=cache(lambda: _views(table, look, first(), sure(), draw)),
        grids=cache(lambda: pareto_tables(table, sure())),
        findings=tuple(findings),
        notes=notes_of(table, table_notes(table)),
        recut=cache(lambda: recut_of(table)),
        live=table,
    ).in_language(Local.of(look.wording))


def _certainty(table: ParetoTable) -> Certainty | None:
    """Return how sure the ranking is; None where that is not known."""
    from vantric.core.statistics import certainty_of

    try:
        return certainty_of(table)
    except RankError:
        return None


def _views(
    table: ParetoTable, look: ParetoLook, first: Chart | PanelChart, sure: Certainty | None, draw: Draw
) -> tuple[View, ...]:
    tips = _tips(table, look, sure)
    if look.panels or table.within:
        return (View("values", first),)
    if table.strata is not None:
        return (View("values", first, tips),)
    if not isinstance(look.labels, str) or look.intervals:
        return (View("intervals" if look.intervals else "values", first, tips),)
    name = "percents" if look.labels == "percent" else "values"
    views = [View(name, first, tips)]
    other = "percents" if name == "values" else "values"
    kind: LabelKind = "percent" if other == "percents" else "value"
    views.append(View(other, draw(table, replace(look, labels=kind)), tips))
    if sure is not None:
        look = ready(look)
        description = f"{pareto_sentence(table)} {sure.sentence()}"
        made = composition.pareto_chart(table, look, description=description, spreads=spreads_from(table, sure))
        views.append(View("intervals", shaped(made, look), tips))
    return tuple(views)


def _tips(table: ParetoTable, look: ParetoLook, sure: Certainty | None) -> tuple[str, ...]:
    """Return what a page says of each row: exact values, more digits than the table has."""
    known = {} if sure is None else {row.category: (row.low, row.high) for row in sure.rows}
    names, local = distinct_lines(table.categories), Local.of(look.wording)
    unit, found = readable(table.origin.unit), []
    unit = look.wording.say("records") if unit == "records" else unit
    what, marks = "Rate" if table.origin.per else "Frequency", [float(cut.percent) for cut in table.cutoffs]
    for name, label, row in zip(names, table.categories, table.rows, strict=True):
        said = [(Fixed(what), f"{local.number(number_text(row.frequency))} {unit}")]
        if table.tally.counts is not None:
            said.append((Fixed("Count"), local.number(number_text(row.count))))
        share = local.joined(percent_text(row.percent, decimals=3), "of", number_text(table.total))
        said.append((Fixed("Percent"), share))
        if label in known and sure is not None:
            ends = [
                number_text(end, most_decimals=4) if sure.measure == "rate" else percent_text(end)
                for end in known[label]
            ]
            said.append((Fixed(f"{100 * sure.level:g} % interval"), local.joined(ends[0], "to", ends[1])))
        running = local.number(percent_text(row.cumulative_percent, decimals=3, marks=marks))
        said.append((Fixed("Cumulative"), f"{local.number(number_text(row.cumulative_frequency))}, {running}"))
        if row.rank is None and table.rest is not None:
            said.append((Fixed("Holds"), counted(len(table.rest.categories), "category", "categories")))
        else:
            said.append((Fixed("Rank"), local.joined(str(row.rank), "of", str(table.size))))
        found.append("\n".join([name, *(f"{local.word(head)}: {text}" for head, text in said)]))
    return tuple(found)


def recut_of(table: ParetoTable) -> Recut | None:
    """Return what a page cuts the table anew from; None where there is no cutoff, or there are several."""
    cut = table.cutoff
    if cut is None or len(table.cuts) > 1 or table.size > _MOST_RECUT or table.within:
        return None
    amounts = table.tally.frequency.take(table.order)
    if amounts.exact:
        units = [int(one) for one in amounts.plain()]
        total = int(table.tally.frequency.total_units)
    else:
        parts = [Fraction(one) for one in [*amounts.plain(), float(table.tally.frequency.total_units)]]
        scale = lcm(*(part.denominator for part in parts))
        *units, total = (int(part * scale) for part in parts)
    named = {int(place): at for at, place in enumerate(table.order)}
    places = [named[int(place)] for place in table.named]
    return Recut(
        percent=str(cut.percent),
        units=tuple(units),
        total=total,
        labels=tuple(distinct_lines([table.tally.categories[at] for at in table.order.tolist()])),
        places=tuple(places),
        tied=tuple(table.tied_after(count) for count in range(table.size + 1)),
        rule=table.rule,
        include=table.ties_rule == "include",
        slack=not amounts.exact,
    )
