"""From a Pareto table to its chart."""

from __future__ import annotations

from vantric.core.charting.chart import Bars, Chart, CutMark, Line
from vantric.core.counting.cutoff import Cutoff
from vantric.core.counting.paretotable import ParetoTable
from vantric.core.numbers.shown import counted, distinct_lines, number_text, number_texts, one_line, percent_text


def pareto_chart(table: ParetoTable, *, description: str = "") -> Chart:
    """Return the chart of a Pareto table.

    Bars show the frequencies on the primary axis and a line the cumulative percent on the secondary; the total and
    100 percent are one height.
    """
    origin, cut = table.origin, table.cutoff
    frequencies = table.frequency.values()
    marks = [cut.percent for cut in table.cutoffs]
    shown = [percent_text(value, marks=marks) for value in table.cumulative_percents.tolist()]
    subject = one_line(origin.by) if origin.by else ""
    whole = all(isinstance(value, int) for value in frequencies)
    unit = one_line(table.tally.unit) if whole or origin.count or origin.counted != "records" else ""
    return Chart(
        categories=tuple(distinct_lines(table.categories)),
        series=(
            Bars(
                "Frequency",
                tuple(table.frequency.floats().tolist()),
                labels=tuple(number_texts(frequencies)),
                strong=cut.count if cut else None,
            ),
            Line("Cumulative percent", tuple(table.cumulative_percents.tolist()), labels=tuple(shown)),
        ),
        meet=(float(table.total), 100.0),
        title=f"Pareto chart of {subject}" if subject else "Pareto chart",
        subtitle=table.tally.base(),
        note=origin.note(),
        category_title=subject[:1].upper() + subject[1:],
        primary_title=f"Frequency ({unit})" if unit else "Frequency",
        secondary_title=f"Cumulative percent of {number_text(table.total)} {unit}".rstrip(),
        secondary_unit="%",
        total_text=f"Total {number_text(table.total)}",
        whole=whole,
        cut=_cut_mark(cut, len(table)) if cut else None,
        description=description,
    )


def _cut_mark(cut: Cutoff, categories: int) -> CutMark:
    return CutMark(
        value=float(cut.percent),
        count=cut.count,
        level_text=f"{number_text(cut.percent)} %",
        text=cut_words(cut, categories),
    )


def cut_words(cut: Cutoff, categories: int) -> str:
    """Return what a cut-off cuts: ``"3 of 9 categories: 83.5 %"``."""
    reached = percent_text(cut.cumulative_percent, marks=(cut.percent,))
    return f"{number_text(cut.count)} of {counted(categories, 'category', 'categories')}: {reached}"
