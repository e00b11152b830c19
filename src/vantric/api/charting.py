"""``vantric.pareto_chart`` and ``vantric.read_chart``."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any, Unpack

from vantric.api.counting import pareto
from vantric.api.kinds import kind_named
from vantric.core import counting
from vantric.core.charting import Chart, PanelChart
from vantric.core.charting.options import ParetoLook
from vantric.errors import VantricError
from vantric.options import known_options, split_options
from vantric.options.holding import unknown_option
from vantric.options.showing import shows
from vantric.sources.options import Analysis, Counting, FileReading, Opening

if TYPE_CHECKING:
    from vantric.api.keywords import ParetoChartOptions, ReadChartOptions


@shows(Counting, Opening, Analysis, ParetoLook)
def pareto_chart(data: Any, by: str | None = None, **options: Unpack[ParetoChartOptions]) -> Chart | PanelChart:
    """Return the Pareto chart of a table, or of anything that `pareto` takes.

    Bars show frequencies on the primary axis, a line the cumulative percent on the secondary. The total and 100 percent
    are one height, so that the line starts at the top of the first bar.

    Parameters
    ----------
    data
        A ParetoTable (then only the options of the chart are given), or data as for `pareto`.
    by
        As for `pareto`.

    Returns
    -------
    Chart or PanelChart

    Raises
    ------
    VantricError
        As for `pareto`; and for a color of something that is not in the chart.
    """
    looks = known_options(ParetoLook)
    known = known_options(Counting, Opening, Analysis, ParetoLook)
    strange = next((name for name in options if name not in known), None)
    if strange is not None:
        raise unknown_option(strange, known)
    [look] = split_options({name: value for name, value in options.items() if name in looks}, ParetoLook)
    rest: Any = {name: value for name, value in options.items() if name not in looks}
    if not isinstance(data, counting.ParetoTable):
        data = pareto(data, by, **rest)
    elif by is not None or rest:
        raise VantricError("a Pareto table is counted already: leave by and the other options out")
    return kind_named("pareto").drawn_chart(data, look, data._recipe and data._recipe.with_parts(chart=look))


@shows(FileReading)
def read_chart(path: str | Path, **options: Unpack[ReadChartOptions]) -> Chart | PanelChart:
    """Return the chart that a chart file describes, made again from its source.

    Parameters
    ----------
    path
        A TOML or JSON file, as ``vantric ... --save-chart`` and `Chart.save` write it, or written by hand. Its sources
        are seen from its own folder.

    Raises
    ------
    VantricError
        If the file holds something that no chart has, with the line or key; or as the function that makes such a chart.
    """
    from vantric.api.chartfiles import made_of_file
    from vantric.api.reach import Reach
    from vantric.chartfile.reading import read_chart_file

    [reading] = split_options(options, FileReading)
    file = Path(path)
    found = read_chart_file(file)
    made = made_of_file(found, Reach(file.parent, reading))
    return made.chart._made_by(made.recipe)._told_by(made.told)
