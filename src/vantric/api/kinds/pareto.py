"""Pareto tables."""

from __future__ import annotations

import textwrap
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from vantric.api.kinds.kind import Kind, Parts
from vantric.core import counting
from vantric.core.charting.options import ParetoLook
from vantric.core.charting.wording import PLAIN_WORDING
from vantric.core.composing.worded import worded
from vantric.core.counting.folding import REST_LABEL
from vantric.core.numbers.once import remembered
from vantric.core.reviewing import Finding, review_pareto
from vantric.options.showing import shows
from vantric.reports.local import Local
from vantric.reports.paretotable import pareto_object, pareto_tables
from vantric.reports.sentence import pareto_sentence
from vantric.reports.table import Table
from vantric.sources.options import Analysis, Counting, Opening
from vantric.sources.tallying.ranking import rank

if TYPE_CHECKING:
    from vantric.core.counting import ParetoTable
    from vantric.core.inference import Certainty, Concentration


def make(data: Any, opening: Opening, parts: Parts) -> ParetoTable:
    """Return the Pareto table of a source."""
    return rank(data, parts["analysis"], parts["counting"], opening)


def _sure(table: ParetoTable, look: ParetoLook) -> Certainty | None:
    if not look.intervals:
        return None
    from vantric.core.inference import certainty_of

    return remembered(table, "_sure", lambda: certainty_of(table))


def _dense(table: ParetoTable, look: ParetoLook) -> Concentration | None:
    if not look.concentration:
        return None
    from vantric.core.inference import concentration_of

    return remembered(table, "_dense", lambda: concentration_of(table))


def tables(table: ParetoTable, look: ParetoLook, local: Local) -> Sequence[Table]:
    """Return it, and the tables of a drill-down."""
    rest = local.tongue.chart.get("rest label", REST_LABEL)
    return pareto_tables(worded(table, rest), _sure(table, look), limits=False)


def data(table: ParetoTable, look: ParetoLook, findings: Any) -> dict[str, Any]:
    """Return its JSON object."""
    return pareto_object(table, findings, _sure(table, look), _dense(table, look))


def view(table: ParetoTable, look: ParetoLook, findings: Sequence[Finding], **terminal: Any) -> str:
    """Return it for a terminal, with how sure and how concentrated it is."""
    from vantric.reports.certaintydata import certainty_lines
    from vantric.reports.terminal import pareto_view

    sure, dense, width = _sure(table, look), _dense(table, look), terminal["width"]
    more = [] if sure is None else ["", *certainty_lines(sure, width=width)]
    more += [] if dense is None else ["", *textwrap.wrap(dense.sentence(), width)]
    wording = PLAIN_WORDING if look.language == "en" else look.wording
    return pareto_view(table, findings, **terminal, wording=wording) + "".join(f"{line}\n" for line in more)


def chart(table: ParetoTable, look: ParetoLook) -> Any:
    """Return its chart."""
    from vantric.api.chartsof import chart_of_table

    return chart_of_table(table, look)


def section(table: ParetoTable, look: ParetoLook, findings: Any, *, chart: Any = None) -> Any:
    """Return what is handed over of it."""
    from vantric.api.handing.paretosections import pareto_section

    return pareto_section(table, look, findings, chart=chart)


def _html(table: ParetoTable) -> str:
    from vantric.reports.tablehtml import pareto_html

    return pareto_html(table)


def certainty(table: ParetoTable, **how: Any) -> Any:
    """Return how sure the ranking is."""
    from vantric.api.certainties import Certainty
    from vantric.core.inference import certainty_of

    return Certainty.of(certainty_of(table, **how))


def concentration(table: ParetoTable, **how: Any) -> Any:
    """Return how concentrated the frequencies are."""
    from vantric.api.certainties import Concentration
    from vantric.core.inference import concentration_of

    return Concentration.of(concentration_of(table, **how))


shows(ParetoLook)(counting.ParetoTable.chart)

KIND = Kind(
    name="pareto", options={"counting": Counting, "analysis": Analysis, "chart": ParetoLook}, titled="Pareto table",
    make=make, origin=lambda table: table.origin, review=review_pareto, sentence=pareto_sentence, tables=tables,
    data=data, view=view, chart=chart, section=section, notebook=_html, floats=("percent", "cumulative_percent"),
    styled=True, verbs={"certainty": certainty, "concentration": concentration},
)  # fmt: skip
