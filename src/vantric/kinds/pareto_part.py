"""Pareto tables."""

from __future__ import annotations

import textwrap
from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from vantric.core import composition, counts
from vantric.core.charts.settings import ParetoLook
from vantric.core.charts.wording import PLAIN_WORDING
from vantric.core.composition.pareto import worded
from vantric.core.counts.folding_part import REST_LABEL
from vantric.core.numbers.caching import remembered
from vantric.core.review import Finding, review_pareto
from vantric.counting.ranking_part import rank
from vantric.kinds.appearance import ready, shaped
from vantric.kinds.kind import Kind, Parts
from vantric.options.signatures import shows
from vantric.reading.settings import Analysis, Counting, Opening
from vantric.tables.localize import Local
from vantric.tables.pareto import pareto_object, pareto_tables
from vantric.tables.parts_part import parts_words, vital_of
from vantric.tables.sentence_part import pareto_sentence
from vantric.tables.table import Table

if TYPE_CHECKING:
    from vantric.core.counts import ParetoTable
    from vantric.core.statistics import Certainty, Concentration


def make(data: Any, opening: Opening, parts: Parts) -> ParetoTable:
    """Return the Pareto table of a source."""
    return rank(data, parts["analysis"], parts["counting"], opening)


def _sure(table: ParetoTable, look: ParetoLook) -> Certainty | None:
    if not look.intervals:
        return None
    from vantric.core.statistics import certainty_of

    return remembered(table, "_sure", lambda: certainty_of(table))


def _dense(table: ParetoTable, look: ParetoLook) -> Concentration | None:
    if not look.concentration:
        return None
    from vantric.core.statistics import concentration_of

    return remembered(table, "_dense", lambda: concentration_of(table))


def tables(table: ParetoTable, look: ParetoLook, local: Local) -> Sequence[Table]:
    """Return it, and the tables of a drill-down."""
    rest = local.tongue.chart.get("rest label", REST_LABEL)
    return pareto_tables(worded(table, rest), _sure(table, look), limits=False)


def data(table: ParetoTable, look: ParetoLook, findings: Any) -> dict[str, Any]:
    """Return its JSON object."""
    return pareto_object(table, findings, _sure(table, look), _dense(table, look))


def view(table: ParetoTable, look: ParetoLook, *, findings: Sequence[Finding], **terminal: Any) -> str:
    """Return it for a terminal, with how sure and how concentrated it is."""
    from vantric.tables.certaintydata_part import certainty_lines
    from vantric.tables.pareto_terminal import pareto_view

    sure, dense, width = _sure(table, look), _dense(table, look), terminal["width"]
    more = [] if sure is None else ["", *certainty_lines(sure, width=width)]
    more += [] if dense is None else ["", *textwrap.wrap(dense.sentence(), width)]
    wording = PLAIN_WORDING if look.language == "en" else look.wording
    return pareto_view(table, findings, **terminal, wording=wording) + "".join(f"{line}\n" for line in more)


def chart(table: ParetoTable, look: ParetoLook) -> Any:
    """Return its chart, or its panels."""
    table = worded(table, look.wording.say("rest label"))
    look, description = ready(look), pareto_sentence(table)
    if table.strata is not None:
        description = " ".join(filter(None, (description, parts_words(table.strata, vital_of(table)))))
    dense = _dense(table, look)
    if dense is not None:
        description = f"{description} {dense.sentence()}"
    known = _spreads(table, look) if look.intervals else None
    if known is not None:
        description = f"{description} {known.sentence}"
        if look.note is True:
            look = replace(look, note="; ".join(filter(None, (composition.chart_note(table, look), known.note))))
    panels = None if known is None else known.panels
    if look.panels:
        return composition.strata_panels(table, look, description=description, spreads=panels)
    if table.within:
        return composition.drill_panels(table, look, description=description, spreads=panels)
    spreads = panels[0] if panels else None
    return shaped(composition.pareto_chart(table, look, description=description, spreads=spreads), look)


def _spreads(table: ParetoTable, look: ParetoLook) -> Any:
    from vantric.kinds.spreads_part import spreads_of  # for intervals only

    return spreads_of(table, look)


def section(table: ParetoTable, look: ParetoLook, findings: Any, *, chart: Any = None) -> Any:
    """Return what is handed over of it."""
    from vantric.kinds.pareto import pareto_section

    return pareto_section(table, look, findings, draw=KIND.chart, chart=chart)


def _html(table: ParetoTable) -> str:
    from vantric.output.tablehtml_part import pareto_html

    return pareto_html(table)


def certainty(table: ParetoTable, **how: Any) -> Certainty:
    """Return how sure the ranking is."""
    from vantric.core.statistics import certainty_of

    return certainty_of(table, **how)


def concentration(table: ParetoTable, **how: Any) -> Concentration:
    """Return how concentrated the frequencies are."""
    from vantric.core.statistics import concentration_of

    return concentration_of(table, **how)


shows(ParetoLook)(counts.ParetoTable.chart)

KIND = Kind(
    name="pareto",
    options={"counting": Counting, "analysis": Analysis, "chart": ParetoLook},
    make=make,
    origin=lambda table: table.origin,
    review=review_pareto,
    sentence=pareto_sentence,
    tables=tables,
    data=data,
    view=view,
    chart=chart,
    section=section,
    notebook=_html,
    floats=("percent", "cumulative_percent"),
    styled=True,
    compared=lambda table: table.tally,
    verbs={"certainty": certainty, "concentration": concentration},
)
