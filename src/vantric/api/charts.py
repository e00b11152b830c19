"""The chart of a result: what the function and the command share."""

from __future__ import annotations

from dataclasses import replace

from vantric.api.chart import Chart, PanelChart
from vantric.core import charting, composing
from vantric.core.charting import Wish
from vantric.core.composing import TallyWish
from vantric.core.counting import Comparison, Crosstab, ParetoTable, Tally
from vantric.core.inference import certainty_of
from vantric.report.chartsentence import chart_sentence
from vantric.report.comparisonsentence import comparison_sentence
from vantric.report.sentence import pareto_sentence


def chart_of(
    result: ParetoTable | Comparison, wish: Wish, *, panels: bool = False
) -> charting.Chart | charting.PanelChart:
    """Return the chart of a table, its panels, or the chart of a comparison, with what it shows in words."""
    if isinstance(result, Comparison):
        return composing.comparison_chart(result, wish, description=comparison_sentence(result))
    description = pareto_sentence(result)
    if panels:
        return composing.strata_panels(result, wish, description=description)
    if result.within:
        return composing.drill_panels(result, wish, description=description)
    if not wish.intervals:
        return composing.pareto_chart(result, wish, description=description)
    sure = certainty_of(result)
    spreads = {row.category: (row.low, row.high, row.even_low, row.even_high) for row in sure.rows}
    said = f"{description} {sure.sentence()}"
    if wish.note is True:
        about = "intervals of all shares at once (Goodman 1965)"
        wish = replace(wish, note="; ".join(filter(None, (composing.chart_note(result, wish), about))))
    return composing.pareto_chart(result, wish, description=said, spreads=spreads)


def tallied_chart(found: Tally | Crosstab, wish: TallyWish) -> charting.Chart:
    """Return the chart of a tally or a two-way table, with what it shows in words."""
    made = composing.tally_chart(found, wish) if isinstance(found, Tally) else composing.crosstab_chart(found, wish)
    shown = f" ({made.primary_title})" if made.primary_title else ""
    return replace(made, description=f"{made.title}{shown}: {chart_sentence(made)}")


def public_chart(chart: charting.Chart | charting.PanelChart) -> Chart | PanelChart:
    """Return the form of a chart that users hold."""
    return PanelChart.of(chart) if isinstance(chart, charting.PanelChart) else Chart.of(chart)
