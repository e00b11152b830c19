"""``vantric.pareto_chart`` and ``vantric.read_chart``."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Any, Unpack

from vantric.api.chart import Chart, PanelChart
from vantric.api.chartoptions import CHART_OPTIONS, ChartOptions, read_wish
from vantric.api.charts import chart_of, public_chart
from vantric.api.functions import pareto
from vantric.api.options import AnalysisOptions
from vantric.core import counting
from vantric.errors import VantricError
from vantric.options import read_options


class _Everything(AnalysisOptions, ChartOptions, total=False):
    """What is counted, how the table is made, and how its chart looks."""

    panels: bool


def pareto_chart(data: Any, by: str | None = None, **options: Unpack[_Everything]) -> Chart | PanelChart:
    """Return the Pareto chart of a table, or of anything that `pareto` takes.

    Bars show frequencies on the primary axis, a line the cumulative percent on the secondary. The total and 100 percent
    are one height, so that the line starts at the top of the first bar.

    Parameters
    ----------
    data
        A ParetoTable (then only the options of the chart are given), or data as for `pareto`.
    by
        As for `pareto`.
    orientation : str
        ``"vertical"``, or ``"horizontal"``: categories from the top downward.
    points : str
        Whether the line's points stand over the ``"center"`` of the bars or at their right ``"edge"``, the line from
        the origin.
    labels, label_place : str
        What is written at the bars, ``"frequency"``, ``"percent"`` or ``"none"``, and whether ``"above"`` or
        ``"inside"``.
    cumulative : str
        What the line shows: ``"percent"``, ``"frequency"`` or ``"none"``.
    legend : str
        ``"above"``, ``"below"``, ``"right"`` or ``"none"``.
    theme : str
        ``"light"``, ``"dark"`` or ``"print"``.
    size : pair of float or str
        Width and height in pixels: ``(1280, 800)`` or ``"1280x800"``.
    title, subtitle, category_title, primary_title, secondary_title, unit : str
        In place of what the table says; empty for none.
    note : bool or str
        The small line at the foot: source, period, filter, merges and folds.
    colors : mapping of str to str
        Category or series -> its color, as ``#rrggbb`` or by its CSS name; see `category_colors`.
    words : mapping of str to str
        The fixed words in another language: see `vantric.WORDS`.
    thousands, decimal, decimals, before_number, after_number, percent_sign : str (decimals: int)
        The signs of numbers, and the currency before or after amounts.
    si : bool
        Whether amounts are written with a prefix of the International System of Units: 150 k.
    intervals : bool
        Whether each bar of a table of counts has the interval of its share, and the band is drawn in which the bars
        would lie if all categories were equally likely; see `ParetoTable.certainty`.
    panels : bool
        Whether the strata of a split are set side by side, each in percent of its own total; else each bar is stacked.
        A drill-down always is.
    **options
        As for `pareto`.

    Returns
    -------
    Chart or PanelChart

    Raises
    ------
    VantricError
        As for `pareto`; and for a look that is none, or a color of something that is not in the chart.
    """
    given = read_options(options, _Everything)
    panels = given.pop("panels", False)
    look = {name: given.pop(name) for name in CHART_OPTIONS if name in given}
    wish = read_wish(look)
    if isinstance(data, counting.ParetoTable):
        if by is not None or given:
            raise VantricError("a Pareto table is counted already: leave by and the other options out")
        table: counting.ParetoTable = data
    else:
        table = pareto(data, by, **given)
    chart = public_chart(chart_of(table, wish, panels=panels))
    if not isinstance(data, str | Path):
        return chart
    return chart.kept_by(partial(_keep, str(data), by, given, {**look, "panels": panels}))


def _keep(data: str, by: str | None, given: dict[str, Any], look: dict[str, Any], target: Path) -> bytes:
    from vantric.api.keeping import kept_pareto_chart

    return kept_pareto_chart(data, by, given, look, target)


def read_chart(
    path: str | Path, *, allow_source: bool = False, timeout: float | None = None, memory: int | None = None,
    allow_functions: bool = False,
) -> Chart | PanelChart:  # fmt: skip
    """Return the chart that a chart file describes, made anew of its source.

    Parameters
    ----------
    path
        A TOML or JSON file, as ``vantric ... --save-chart`` and `Chart.save` write it, or written by hand. Its sources
        are seen from its own folder.
    allow_source
        Whether it may read the URL of a database, or files that do not lie beside it.
    timeout, memory, allow_functions
        As for `tally`.

    Raises
    ------
    VantricError
        If the file holds what no chart has, with the line or key; or as the function that makes such a chart.
    """
    from vantric.api.keeping import drawn_file
    from vantric.api.reach import Reach
    from vantric.chartfile.reading import read_chart_file

    file = Path(path)
    limits = {"timeout": timeout, "memory": memory, "allow_functions": allow_functions}
    reach = Reach(file.parent, allow_source=allow_source, limits=limits)
    return public_chart(drawn_file(read_chart_file(file), reach, look={}))
